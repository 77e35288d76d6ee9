package platform

import (
	"bytes"
	"fmt"
	"html"
	"path"
	"slices"
	"strings"
	"unicode/utf8"

	"notaria/internal/fault"
	"notaria/internal/language"
)

// Bounds of what is looked through for the strings of an app: characters are few, files
// can be many.
const (
	mostTextFile = 1 << 20
	mostAllTexts = 64 << 20
)

// texts are files that hold what an app shows, by their endings, all of it text.
var texts = []string{".properties", ".json", ".csv", ".tsv", ".po", ".txt", ".strings", ".xcstrings", ".arb", ".pot", ".xml", ".yaml", ".yml", ".ini", ".toml", ".md"}

// builds are files about an app, which it does not show; Notaria writes into some of them.
var builds = []string{"metadata.json", "platformio.ini", "idf_component.yml", "CMakeLists.txt", "Makefile", "package.json", "package-lock.json", "tsconfig.json"}

// AppCharacters are the characters in the strings of an app's sources and in its text
// files, each once, in the order of their codepoints: a few more than it shows, and none
// less, as far as they stand there. What Notaria generated is left out.
func AppCharacters(tree Tree, dir string) []rune {
	have := map[rune]bool{}
	all := 0
	for _, f := range tree.Under(dir) {
		if strings.HasPrefix(path.Base(f), "notaria.") || slices.Contains(builds, path.Base(f)) || path.Ext(f) == ".gradle" || path.Ext(f) == ".kts" || language.Of(f) == nil && !slices.Contains(texts, strings.ToLower(path.Ext(f))) {
			continue
		}
		raw, ok := tree.Glance(f, mostTextFile)
		if !ok || IsGenerated(raw) {
			continue
		}
		if all += len(raw); all > mostAllTexts {
			break
		}
		if text, shown := Wording(f, raw); shown {
			addRunes(have, []byte(text))
		}
	}
	return drawable(have)
}

// Bounds of what is looked through for all texts of a project.
const (
	mostEveryFile = 16 << 20
	mostEvery     = 512 << 20
)

// EveryCharacter are the characters beyond ASCII in all text files below a folder, whatever they are for, with escapes and entities
// read: what a copy of a font must keep, for which one too few is worse than many too many. Fonts and other binary files hold none.
func EveryCharacter(tree Tree, dir string) ([]rune, error) {
	have := map[rune]bool{}
	all := 0
	for _, f := range tree.Under(dir) {
		if LooksLikeFont(f) {
			continue
		}
		raw, ok := tree.Glance(f, mostEveryFile)
		raw = language.FromUTF16(raw)
		if !ok || bytes.IndexByte(raw[:min(len(raw), 8<<10)], 0) >= 0 || IsGenerated(raw) {
			continue
		}
		if all += len(raw); all > mostEvery {
			return nil, fault.Form("expected texts of at most %d MB in all, found more; name languages or scripts in place of the app's strings", mostEvery>>20)
		}
		addBeyond(have, string(raw))
		if bytes.IndexByte(raw, '\\') >= 0 || bytes.IndexByte(raw, '&') >= 0 {
			text, _ := Wording(f, raw)
			addBeyond(have, html.UnescapeString(text))
		}
	}
	return drawable(have), nil
}

// addBeyond adds the characters of a text that are not ASCII.
func addBeyond(have map[rune]bool, text string) {
	for _, r := range text {
		if r > 0x7F {
			have[r] = true
		}
	}
}

// addRunes adds the characters of a text.
func addRunes(have map[rune]bool, text []byte) {
	for _, r := range string(text) {
		have[r] = true
	}
}

// Atlas are the characters of a role that are drawn into its atlas: those that it asks for,
// and those of the app's strings where it wants them, as far as the face has them. A role
// that asks for none gets Latin and the app's strings.
func (r Role) Atlas(job Job, app func() []rune) ([]rune, error) {
	have := map[rune]bool{}
	for _, c := range r.Characters {
		have[c] = true
	}
	if r.Characters == nil {
		for c := ' '; c <= 0xFF; c++ {
			have[c] = c < 0x7F || c >= 0xA0
		}
	}
	if r.Characters == nil || r.AppStrings {
		for _, c := range app() {
			have[c] = true
		}
	}
	metrics, err := job.Metrics(r.Face.ID())
	if err != nil {
		return nil, err
	}
	var out []rune
	for c, yes := range have {
		if _, drawn := metrics.Advance(c); yes && drawn {
			out = append(out, c)
		}
	}
	slices.Sort(out)
	return out, nil
}

// AnswerCharacters judges a string of an app: whether any role's atlas has its characters.
func AnswerCharacters(typed string, have map[rune]bool) Answer {
	var lacks []string
	for _, r := range typed {
		if shown := fmt.Sprintf("%c (U+%04X)", r, r); r > ' ' && !have[r] && !language.Unseen(r) && r != utf8.RuneError && !slices.Contains(lacks, shown) {
			lacks = append(lacks, shown)
		}
	}
	if len(lacks) == 0 {
		return Answer{}
	}
	if len(lacks) > anyOfAtMost {
		lacks = append(lacks[:anyOfAtMost], "…")
	}
	return Answer{Fault: NoCharacter, Message: "no role's atlas has " + strings.Join(lacks, ", "),
		Cause: "an atlas holds the characters that the role asks for, as far as the face has them; the others are not drawn",
		Cure:  "add them to characters of the role in notaria.toml, or choose a face that has them"}
}
