package subject

import (
	"cmp"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"notaria/internal/disk"
	"notaria/internal/fault"
	"notaria/internal/platform"
)

// Bounds of what is looked through for texts, in bytes, and of how many there may be.
const (
	mostWorded    = 4 << 20
	mostAllWorded = 256 << 20
	MostTexts     = 50_000
)

// Characters are those of the strings in a file, or in all files of a folder.
func Characters(root string) ([]rune, error) {
	var out []string
	err := walk(root, func(name string) bool { _, shown := platform.Wording(name, nil); return shown }, func(name string, raw []byte) {
		if !platform.IsGenerated(raw) {
			text, _ := platform.Wording(name, raw)
			out = append(out, string(platform.Characters(text))) // a few characters of much text
		}
	})
	return platform.Characters(out...), err
}

// Strings are the app's own strings in a file, or in all files of strings below a folder: each once, in
// the order of their codepoints.
func Strings(root string) ([]string, error) {
	have := map[string]bool{}
	err := walk(root, platform.IsStrings, func(name string, raw []byte) {
		text, _ := platform.Wording(name, raw)
		for _, l := range strings.Split(text, "\n") {
			if l = strings.TrimSpace(l); l != "" && len(have) <= MostTexts {
				have[l] = true
			}
		}
	})
	if err != nil {
		return nil, err
	}
	if len(have) == 0 {
		return nil, &fault.Error{File: root, Expected: "strings of an app", Found: "none", Cure: "name a file such as Localizable.strings, strings.xml, app_en.arb or messages.po, or the folder that holds it"}
	}
	out := make([]string, 0, len(have))
	for s := range have {
		out = append(out, s)
	}
	slices.Sort(out)
	return out, nil
}

// walk reads the files below a path that are asked for; the path itself, if it is a file, in any case.
// Hidden folders, and those of packages, are passed over.
func walk(root string, wanted func(name string) bool, use func(name string, raw []byte)) error {
	if info, err := os.Stat(root); err == nil && !info.IsDir() && !info.Mode().IsRegular() {
		return &fault.Error{File: root, Expected: "a file or a folder of strings", Found: disk.KindOf(info), Cure: "name the file itself"}
	}
	all := int64(0)
	return filepath.WalkDir(root, func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() && name != root && (strings.HasPrefix(d.Name(), ".") || d.Name() == "node_modules") {
			return cmp.Or(err, fs.SkipDir)
		}
		info, err := d.Info()
		if err != nil || !info.Mode().IsRegular() || name != root && (info.Size() > mostWorded || !wanted(name)) {
			return err
		}
		if all += info.Size(); all > mostAllWorded {
			return &fault.Error{File: root, Expected: "at most 256 MiB of files to look through", Found: "more", Cure: "name the file or the folder of the strings"}
		}
		raw, err := disk.ReadFile(name, mostAllWorded)
		if err == nil {
			use(name, raw)
		}
		return err
	})
}
