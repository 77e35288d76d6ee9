package subject

import (
	"cmp"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"unicode/utf8"

	"notaria/internal/disk"
	"notaria/internal/fault"
	"notaria/internal/phrases"
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

// A Text is one that is measured: one of the app's own strings with its key, or one that was given.
type Text struct {
	phrases.Phrase
	File string // as it was found; "" for a text that was given
}

// Phrases are the app's own strings in a file, or in all files of strings below a folder, in the order of their files and as they stand
// there; a string that an app has in several forms, such as a catalog and a list, is there once for each language.
func Phrases(root string) ([]Text, error) {
	have := map[phrases.Phrase]bool{}
	var out []Text
	err := walk(root, platform.IsStrings, func(name string, raw []byte) {
		for _, p := range phrases.Read(name, raw) {
			if !have[p] && len(out) <= MostTexts {
				have[p] = true
				out = append(out, Text{p, filepath.ToSlash(name)})
			}
		}
	})
	if err != nil {
		return nil, err
	}
	if len(out) == 0 {
		return nil, &fault.Error{File: root, Expected: "strings of an app", Found: "none", Cure: "name a file such as Localizable.strings, strings.xml, app_en.arb or messages.po, or the folder that holds it"}
	}
	return out, nil
}

// Once are texts each once, of whatever language, in the order of their codepoints.
func Once(list []Text) []Text {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b Text) int { return cmp.Compare(a.Text, b.Text) })
	return slices.CompactFunc(list, func(a, b Text) bool { return a.Text == b.Text })
}

// Longest are the longest of the app's own strings, each once, of whatever language.
func Longest(root string, most int) ([]Text, error) {
	list, err := Phrases(root)
	list = Once(list)
	slices.SortStableFunc(list, func(a, b Text) int { return utf8.RuneCountInString(b.Text) - utf8.RuneCountInString(a.Text) })
	return list[:min(len(list), most)], err
}

// Given are texts that are no strings of an app.
func Given(list []string) []Text {
	var out []Text
	for _, t := range list {
		out = append(out, Text{Phrase: phrases.Phrase{Text: t}})
	}
	return out
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
