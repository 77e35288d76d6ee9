package face

import (
	"bytes"
	"fmt"

	"notaria/internal/sfnt"
)

// NeedsMending says whether the face's PostScript name is missing, illegal,
// broken, or stored for the Macintosh alone.
func (f Face) NeedsMending() bool { return f.weak }

// Mends says whether mending a name cures the problem of this code.
func Mends(code string) bool {
	switch code {
	case "no-postscript-name", "bad-postscript-name", "broken-name", "mac-only-name":
		return true
	}
	return false
}

// firstLangTag is the first language number that stands for a tag of a format 1
// name table; such records cannot be written in format 0.
const firstLangTag = 0x8000

// Mend returns a copy of a plain font file whose PostScript name is name. All other
// names and tables stay as they are, except for a digital signature, which no longer
// holds.
func Mend(font []byte, name string) ([]byte, error) {
	if bad := IllegalPostScript(name); bad != "" || name == "" {
		return nil, fmt.Errorf("expected a legal PostScript name, found %q, which %s", name, bad)
	}
	file, err := sfnt.Open(bytes.NewReader(font), int64(len(font)))
	if err != nil {
		return nil, err
	}
	f := file.Font(0)
	old, err := f.Names()
	if err != nil {
		return nil, err
	}
	names := sfnt.Names{
		{ID: sfnt.NamePostScript, Platform: sfnt.PlatformMac, Value: name},
		{ID: sfnt.NamePostScript, Platform: sfnt.PlatformWindows, Encoding: 1, Language: 0x0409, Value: name},
	}
	for _, r := range old {
		if r.ID != sfnt.NamePostScript && r.Language < firstLangTag {
			names = append(names, r)
		}
	}
	tables, err := f.Tables()
	if err != nil {
		return nil, err
	}
	delete(tables, "DSIG")
	if tables["name"], err = names.Bytes(); err != nil {
		return nil, err
	}
	return sfnt.Build(tables)
}
