package notary

import (
	"bytes"
	"errors"
	"io/fs"
	"path"
	"slices"
	"strings"

	"notaria/internal/change"
	"notaria/internal/edit"
	"notaria/internal/intake"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// ours says whether content is what Notaria wrote under an account of the ledger. The
// account alone is no proof, for anybody can write one: it must be the recorded content,
// and of a kind that Notaria writes, which is generated text with its mark, a font, or a
// licence beside the originals.
func (p *Project) ours(w registry.Written, content []byte) bool {
	if !recorded(w, content) {
		return false
	}
	if marked(content) {
		return true
	}
	if _, err := open(content); err == nil {
		return true
	}
	return len(w.Owners) == 0 && path.Dir(w.Path) == p.OriginalsFolder() && len(content) <= intake.MostText &&
		intake.IsLicence(w.Path[strings.LastIndexByte(w.Path, '-')+1:])
}

// marked says whether text has the mark of what Notaria generates.
func marked(content []byte) bool {
	return platform.IsGenerated(content)
}

// recorded says whether content is that of the ledger. Text may have come by version
// control, which can write it with other line ends.
func recorded(w registry.Written, content []byte) bool {
	is := func(sum string) bool { return sum == w.SHA256 || slices.Contains(w.Others, sum) }
	return is(change.Sum(content)) || isText(content) && is(change.Sum(unix(content)))
}

func isText(content []byte) bool { return bytes.IndexByte(content, 0) < 0 }

// unix is text with the line ends that Notaria writes.
func unix(text []byte) []byte { return bytes.ReplaceAll(text, []byte("\r\n"), []byte("\n")) }

// isDOS says whether text has the line ends of DOS and Windows, all of them.
func isDOS(text []byte) bool {
	n := bytes.Count(text, []byte("\n"))
	return n > 0 && n == bytes.Count(text, []byte("\r\n"))
}

// writeText writes text with the line ends that the file has already; text that differs
// in them alone is the same.
func writeText(set *change.Set, name string, text []byte) error {
	old, err := set.Read(name)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if isDOS(old) {
		text = bytes.ReplaceAll(unix(text), []byte("\n"), []byte("\r\n"))
	}
	return set.Write(name, text)
}

// couldWrite says whether an entry of the ledger is one that a platform can have written.
func (p *Project) couldWrite(e edit.Entry) bool {
	return platform.CouldWrite(e, p.syntaxes[e.Syntax], p.targets)
}
