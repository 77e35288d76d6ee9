// Command gen makes languages.txt of the locale data of Unicode (CLDR, the files characters.json of cldr-misc-full, and languages.json of
// cldr-localenames-full): the letters that each language is written with, and what it is called in English. Its arguments are the folders
// main of both packages, and their version.
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"strconv"
	"strings"
	"unicode"
)

type characters struct {
	Main        string `json:"exemplarCharacters"`
	Auxiliary   string `json:"auxiliary"`
	Numbers     string `json:"numbers"`
	Punctuation string `json:"punctuation"`
}

func main() {
	if len(os.Args) != 4 {
		fmt.Fprintln(os.Stderr, "gen: expected the folders main of cldr-misc-full and of cldr-localenames-full, and their version")
		os.Exit(2)
	}
	if err := write(os.Args[1], os.Args[2], os.Args[3]); err != nil {
		fmt.Fprintln(os.Stderr, "gen:", err)
		os.Exit(1)
	}
}

func write(folder, english, version string) error {
	called, err := namesIn(filepath.Join(english, "en", "languages.json"))
	if err != nil {
		return err
	}
	names, err := os.ReadDir(folder)
	if err != nil {
		return err
	}
	sets := map[string]string{}
	for _, n := range names {
		raw, err := os.ReadFile(filepath.Join(folder, n.Name(), "characters.json"))
		if err != nil {
			return err
		}
		var doc struct {
			Main map[string]struct {
				Characters characters `json:"characters"`
			} `json:"main"`
		}
		if err := json.Unmarshal(raw, &doc); err != nil {
			return fmt.Errorf("%s: %w", n.Name(), err)
		}
		c := doc.Main[n.Name()].Characters
		line, err := line(c)
		if err != nil {
			return fmt.Errorf("%s: %w", n.Name(), err)
		}
		if line != "" {
			sets[n.Name()] = line
		}
	}
	var b bytes.Buffer
	fmt.Fprintf(&b, "# The letters of languages, from the Unicode Common Locale Data Repository %s. Copyright Unicode, Inc.; Unicode License v3.\n", version)
	fmt.Fprintf(&b, "# Made by go run ./internal/locale/gen; do not edit. A line: tag, letters, letters of foreign words, digits and punctuation, all in hex; name.\n")
	tags := make([]string, 0, len(sets))
	for tag := range sets {
		tags = append(tags, tag)
	}
	sort.Strings(tags)
	for _, tag := range tags {
		if parent := parentOf(tag, sets); parent == "" || sets[parent] != sets[tag] {
			fmt.Fprintf(&b, "%s\t%s\t%s\n", tag, sets[tag], nameOf(tag, called))
		}
	}
	return os.WriteFile("internal/locale/languages.txt", b.Bytes(), 0o644)
}

// namesIn are what languages are called, by their tags.
func namesIn(file string) (map[string]string, error) {
	raw, err := os.ReadFile(file)
	if err != nil {
		return nil, err
	}
	var doc struct {
		Main map[string]struct {
			Names struct{ Languages map[string]string } `json:"localeDisplayNames"`
		} `json:"main"`
	}
	err = json.Unmarshal(raw, &doc)
	return doc.Main["en"].Names.Languages, err
}

// nameOf is what a language is called: a variety without a name of its own by its language, with what is behind the tag.
func nameOf(tag string, called map[string]string) string {
	base, rest := tag, ""
	for called[base] == "" {
		i := strings.LastIndexByte(base, '-')
		if i < 0 {
			return tag
		}
		base, rest = base[:i], strings.TrimSpace(base[i+1:]+" "+rest)
	}
	if rest != "" {
		return called[base] + " (" + rest + ")"
	}
	return called[base]
}

// parentOf is the tag without its last part, if there is one like that.
func parentOf(tag string, sets map[string]string) string {
	for i := strings.LastIndexByte(tag, '-'); i > 0; i = strings.LastIndexByte(tag, '-') {
		if tag = tag[:i]; sets[tag] != "" {
			return tag
		}
	}
	return ""
}

func line(c characters) (string, error) {
	main, err := parse(c.Main)
	if err != nil || len(main) == 0 {
		return "", err
	}
	more, err := parse(c.Auxiliary)
	if err != nil {
		return "", err
	}
	marks, err := parse(c.Numbers)
	if err != nil {
		return "", err
	}
	punctuation, err := parse(c.Punctuation)
	if err != nil {
		return "", err
	}
	for r := range main { // the data has small letters alone
		for _, u := range strings.ToUpper(string(r)) {
			main[u] = true
		}
	}
	for r := range more {
		for _, u := range strings.ToUpper(string(r)) {
			more[u] = true
		}
	}
	for r := range punctuation {
		marks[r] = true
	}
	for r := range main {
		delete(more, r)
		delete(marks, r)
	}
	return ranges(main) + "\t" + ranges(more) + "\t" + ranges(marks), nil
}

// parse reads a set of UTS 35 (Unicode Sets): characters, ranges, strings in braces, escapes.
func parse(s string) (map[rune]bool, error) {
	out := map[rune]bool{}
	s = strings.TrimSuffix(strings.TrimPrefix(strings.TrimSpace(s), "["), "]")
	list := []rune(s)
	last, ranged := rune(-1), false
	for i := 0; i < len(list); i++ {
		r := list[i]
		switch {
		case unicode.IsSpace(r):
			last = -1
			continue
		case r == '{' || r == '}':
			last = -1
			continue
		case r == '-' && last >= 0 && i+1 < len(list):
			ranged = true
			continue
		case r == '[' || r == ']' || r == '&':
			return nil, fmt.Errorf("a set of sets: %s", s)
		case r == '\\' && i+1 < len(list):
			i++
			if r = list[i]; r == 'u' && i+4 < len(list) {
				n, err := strconv.ParseUint(string(list[i+1:i+5]), 16, 32)
				if err != nil {
					return nil, err
				}
				r, i = rune(n), i+4
			}
		}
		if ranged {
			for x := last; x <= r; x++ {
				out[x] = true
			}
			last, ranged = -1, false
			continue
		}
		out[r], last = true, r
	}
	return out, nil
}

// ranges writes a set: 61-7A C4.
func ranges(set map[rune]bool) string {
	list := make([]rune, 0, len(set))
	for r := range set {
		if !unicode.Is(unicode.Cf, r) || r == 0x200c || r == 0x200d {
			list = append(list, r)
		}
	}
	slices.Sort(list)
	var out []string
	for i := 0; i < len(list); {
		k := i
		for k+1 < len(list) && list[k+1] == list[k]+1 {
			k++
		}
		if k == i {
			out = append(out, fmt.Sprintf("%X", list[i]))
		} else {
			out = append(out, fmt.Sprintf("%X-%X", list[i], list[k]))
		}
		i = k + 1
	}
	return strings.Join(out, " ")
}
