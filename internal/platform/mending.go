package platform

import (
	"bytes"
	"path"
	"strings"
	"unicode"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
)

// A Mending is what cures a flaw without harm: nothing else of a file changes.
type Mending struct {
	Edits   []Edit       `json:"edits,omitempty"`
	Entries []edit.Entry `json:"entries,omitempty"` // that manifests should hold
	Moves   []Move       `json:"moves,omitempty"`
}

// Empty says that nothing is known that cures the flaw.
func (m Mending) Empty() bool { return len(m.Edits)+len(m.Entries)+len(m.Moves) == 0 }

// An Edit exchanges the bytes From to To of a file, which hold Old.
type Edit struct {
	File string `json:"file"`
	splice.Edit
	Old string `json:"old"`
}

// A Move gives a file another name, or another folder.
type Move struct {
	From string `json:"from"`
	To   string `json:"to"`
}

// Exchange is the mending that writes a text in the place of bytes of a file. It is empty where the
// text holds what strings, attributes or style sheets of any language would have to escape.
func Exchange(file string, whole []byte, from, to int, text string) Mending {
	if text == "" || !plainText(text, escaped[path.Ext(file)]) || strings.ContainsAny(text, meant[path.Ext(file)]) || from < 0 || to > len(whole) || from > to {
		return Mending{}
	}
	return Mending{Edits: []Edit{{file, splice.Replace(from, to, text), string(whole[from:to])}}}
}

// OnLine is Exchange for a text that stands once on a line of a document, 1-based.
func OnLine(file string, whole []byte, line int, old, text string) Mending {
	at := 0
	for n := 1; n < line; n++ {
		i := bytes.IndexByte(whole[at:], '\n')
		if i < 0 {
			return Mending{}
		}
		at += i + 1
	}
	end := len(whole)
	if i := bytes.IndexByte(whole[at:], '\n'); i >= 0 {
		end = at + i
	}
	if i := bytes.Index(whole[at:end], []byte(old)); old != "" && i >= 0 && bytes.Count(whole[at:end], []byte(old)) == 1 {
		return Exchange(file, whole, at+i, at+i+len(old), text)
	}
	return Mending{}
}

// Strayed is the font file among those that are there which a path most likely means: one of the same
// name, else of a name that is nearly the same; "" if it could be one of several.
func Strayed(named string, have []string) string {
	var same []string
	var bases []string
	named = strings.ReplaceAll(named, `\`, "/")
	for _, f := range have {
		if !LooksLikeFont(f) {
			continue
		}
		if strings.EqualFold(path.Base(f), path.Base(named)) {
			same = append(same, f)
		}
		bases = append(bases, path.Base(f))
	}
	if len(same) > 0 {
		if len(same) == 1 {
			return same[0]
		}
		return ""
	}
	near := Nearest(path.Base(named), bases)
	for _, f := range have {
		if near != "" && path.Base(f) == near {
			if same = append(same, f); len(same) > 1 {
				return ""
			}
		}
	}
	if len(same) == 1 {
		return same[0]
	}
	return ""
}

// escaped are signs that need no escape in files of an ending, beside those that need none anywhere.
var escaped = map[string]string{".xaml": ";", ".axaml": ";", ".cs": ";", ".csproj": "\\", ".kt": "="}

// meant are signs that mean something where a text can stand without quotes, in files of an ending.
var meant = map[string]string{".yaml": "#:!@,()", ".yml": "#:!@,()", ".css": "#:!@,()", ".scss": "#:!@,()", ".less": "#:!@,()", ".qss": "#:!@,()"}

// plainText says whether a text reads the same in strings of all languages; also holds further signs
// that do.
func plainText(s, also string) bool {
	for _, r := range s {
		if !unicode.IsLetter(r) && !unicode.IsMark(r) && !unicode.IsNumber(r) && !strings.ContainsRune(" -_./:#,@+()!"+also, r) {
			return false
		}
	}
	return true
}
