package android

import (
	"bytes"
	"fmt"
	"iter"
	"path"
	"strconv"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// variableAPI is the first version of Android that takes the axes of variable fonts (API reference,
// Typeface.Builder.setFontVariationSettings).
const variableAPI = 26

var (
	fontElement = lazy.Regexp(`<font\b([^<>]*)>`)
	attribute   = lazy.Regexp(`([\w:]+)\s*=\s*("[^"]*"|'[^']*')`)
	familyRoot  = lazy.Regexp(`<font-family\b`)
	badFolder   = lazy.Regexp(`/res/([fF]onts|Font|FONT)(?:-[\w-]+)?/`)
)

// Flaws are what is wrong with fonts and families that the module has by hand.
func (s *site) Flaws(known []platform.Face) ([]platform.Flaw, error) {
	faces := map[string]platform.Face{}
	for _, f := range known {
		faces[f.File] = f
	}
	var out []platform.Flaw
	for _, file := range s.Tree.Under(path.Join(s.Dir, "src")) {
		if m := badFolder.FindStringSubmatch(file); m != nil && platform.IsFont(file) {
			to := strings.Replace(file, "/res/"+m[1]+"/", "/res/font/", 1)
			out = append(out, platform.Flaw{Kind: platform.OutOfPlace, File: file, Subject: file, Message: fmt.Sprintf("%s is no folder of resources", path.Dir(file)),
				Cause: "the build stops: fonts are taken from res/font alone", Cure: "move it to " + path.Dir(to), Mend: platform.Mending{Moves: []platform.Move{{From: file, To: to}}}})
		}
		if f, ok := faces[file]; ok && path.Base(path.Dir(file)) == "font" {
			out = append(out, s.tooNew(file, f)...)
		}
		if path.Base(path.Dir(file)) == "font" && path.Ext(file) == ".xml" {
			raw, err := s.Tree.Read(file)
			if err != nil {
				return nil, err
			}
			if familyRoot.Match(raw) && !platform.IsGenerated(raw) {
				out = append(out, s.familyFlaws(file, raw, faces)...)
			}
		}
	}
	out = append(out, weighted(s.Tree, s.Dir, known)...)
	return append(out, unweighted(s.Tree, s.Dir, known)...), nil
}

var composeFont = lazy.Regexp(`\bFont\s*\(\s*R(?:es)?\.font\.(\w+)\s*,\s*(?:weight\s*=\s*)?(FontWeight\.\w+)`)

// sourcesWith are the sources in Kotlin that hold a word, but for tests and what was generated.
func sourcesWith(tree platform.Tree, dir, word string) iter.Seq2[string, []byte] {
	return func(yield func(string, []byte) bool) {
		for _, f := range tree.Under(dir) {
			if path.Ext(f) != ".kt" || platform.IsTest(f) {
				continue
			}
			if raw, ok := tree.Glance(f, platform.MostSource); ok && bytes.Contains(raw, []byte(word)) && !platform.IsGenerated(raw) && !yield(f, raw) {
				return
			}
		}
	}
}

// weighted are the fonts of Compose that code gives another weight than they have.
func weighted(tree platform.Tree, dir string, known []platform.Face) []platform.Flaw {
	var out []platform.Flaw
	for f, raw := range sourcesWith(tree, dir, "FontWeight") {
		for _, m := range composeFont.FindAllSubmatchIndex(language.Kotlin.Blank(raw), mostFonts) {
			name, word := string(raw[m[2]:m[3]]), string(raw[m[4]:m[5]])
			weight, _, ok := platform.StyleWord(word)
			one, there := fontResource(known, name)
			if ok && there && !one.Variable && max(weight-one.Weight, one.Weight-weight) >= 100 {
				right := composeWeight(one.Weight)
				out = append(out, platform.Flaw{Kind: platform.Unlike, File: f, Line: 1 + bytes.Count(raw[:m[4]], []byte("\n")), Message: fmt.Sprintf("%s is given to %s, which is of weight %d", word, name, one.Weight),
					Cause: "Compose chooses among the fonts of a family by weight: this one shows where another was asked for", Cure: platform.Choose(right, nil), Mend: platform.Exchange(f, raw, m[4], m[5], right)})
			}
		}
	}
	return out
}

var (
	composeFamily = lazy.Regexp(`\bFontFamily\s*\(`)
	composePlain  = lazy.Regexp(`\bFont\s*\(\s*R(?:es)?\.font\.(\w+)\s*(\))`)
)

// unweighted are the fonts of Compose that stand in one family without a weight and a slant: all are of weight 400 and
// upright then, and the first shows for all (API reference, androidx.compose.ui.text.font.Font).
func unweighted(tree platform.Tree, dir string, known []platform.Face) []platform.Flaw {
	var out []platform.Flaw
	for f, raw := range sourcesWith(tree, dir, "FontFamily") {
		clean, skeleton := language.Kotlin.Blank(raw), language.Kotlin.Skeleton(raw)
		for _, at := range composeFamily.FindAllIndex(clean, mostFonts) {
			if end := language.Closing(skeleton[:min(len(skeleton), at[1]+mostOfFamily)], at[1]-1); end > 0 {
				out = append(out, plainFonts(f, raw, clean[:end], at[1], known)...)
			}
		}
	}
	return out
}

// mostOfFamily is how long the call is that makes a family, in bytes.
const mostOfFamily = 8 << 10

// plainFonts judges one family, whose fonts are between a place and the end of the text.
func plainFonts(file string, raw, clean []byte, from int, known []platform.Face) []platform.Flaw {
	plain := composePlain.FindAllSubmatchIndex(clean[from:], mostFonts)
	if len(plain) < 2 {
		return nil
	}
	var out []platform.Flaw
	for _, m := range plain {
		name := string(clean[from+m[2] : from+m[3]])
		f, ok := fontResource(known, name)
		if !ok || f.Variable || f.Weight == 400 && f.Slant == face.Upright {
			continue
		}
		asks := []string{}
		if f.Weight != 400 {
			asks = append(asks, composeWeight(f.Weight))
		}
		if f.Slant != face.Upright {
			asks = append(asks, "style = FontStyle.Italic")
		}
		x := platform.Flaw{Kind: platform.NoWeight, File: file, Line: 1 + bytes.Count(clean[:from+m[0]], []byte("\n")), Message: fmt.Sprintf("%s stands in a family without its weight or slant", face.Short(name)),
			Cause: "a font without a weight counts as weight 400, upright: of several such ones Compose shows the first", Cure: "write " + string(clean[from+m[0]:from+m[4]]) + ", " + strings.Join(asks, ", ") + ")"}
		if imported(clean, asks) {
			x.Mend = platform.Exchange(file, raw, from+m[4], from+m[5], ", "+strings.Join(asks, ", ")+")")
		}
		out = append(out, x)
	}
	return out
}

// imported says whether a source knows the names that are written.
func imported(clean []byte, asks []string) bool {
	for _, a := range asks {
		of := "FontWeight"
		if strings.Contains(a, "FontStyle") {
			of = "FontStyle"
		}
		if !bytes.Contains(clean, []byte("import androidx.compose.ui.text.font."+of)) && !bytes.Contains(clean, []byte("import androidx.compose.ui.text.font.*")) {
			return false
		}
	}
	return true
}

// fontResource is the font of a resource's name.
func fontResource(known []platform.Face, name string) (platform.Face, bool) {
	for _, f := range known {
		if base := path.Base(f.File); strings.TrimSuffix(base, path.Ext(base)) == name && path.Base(path.Dir(f.File)) == "font" {
			return f, true
		}
	}
	return platform.Face{}, false
}

// composeWeight is how Compose writes a weight.
func composeWeight(weight int) string {
	if plain := map[int]string{400: "Normal", 700: "Bold", 300: "Light", 500: "Medium"}[weight]; plain != "" {
		return "FontWeight." + plain
	}
	return fmt.Sprintf("FontWeight.W%d", platform.Hundreds(weight))
}

func (s *site) tooNew(file string, f platform.Face) []platform.Flaw {
	if !f.Variable || s.minimum == 0 || s.minimum >= variableAPI {
		return nil
	}
	return []platform.Flaw{{Kind: platform.TooNew, File: file, Subject: file, Message: fmt.Sprintf("%s is a variable font, and minSdk is %d", path.Base(file), s.minimum),
		Cause: fmt.Sprintf("Android takes its axes from API %d: before, only its default style shows", variableAPI), Cure: fmt.Sprintf("take static files, or raise minSdk to %d", variableAPI)}}
}

// familyFlaws judges the file of a family: "Fonts in XML" of developer.android.com.
func (s *site) familyFlaws(file string, raw []byte, faces map[string]platform.Face) []platform.Flaw {
	var out []platform.Flaw
	for _, m := range fontElement.FindAllSubmatchIndex(raw, mostFonts) {
		line := 1 + bytes.Count(raw[:m[0]], []byte("\n"))
		attrs := map[string]string{}
		places := map[string][2]int{}
		for _, a := range attribute.FindAllSubmatchIndex(raw[m[2]:m[3]], mostFonts) {
			key := string(raw[m[2]+a[2] : m[2]+a[3]])
			attrs[key] = string(raw[m[2]+a[4]+1 : m[2]+a[5]-1])
			places[key] = [2]int{m[2] + a[4] + 1, m[2] + a[5] - 1}
		}
		if attrs["android:font"] != "" && attrs["app:font"] == "" && s.minimum > 0 && s.minimum < variableAPI {
			out = append(out, platform.Flaw{Kind: platform.TooNew, File: file, Line: line, Message: fmt.Sprintf("a font of the family has no app: attributes, and minSdk is %d", s.minimum),
				Cause: "android:font and its companions are read from API 26 on; before that the library reads app:font, and shows the system's font without it", Cure: "write app:font, app:fontStyle and app:fontWeight beside those of android:"})
		}
		out = append(out, s.attributeFlaws(file, raw, attrs, places, faces)...)
	}
	return out
}

// attributeFlaws compares what a font's element says with the font.
func (s *site) attributeFlaws(file string, raw []byte, attrs map[string]string, places map[string][2]int, faces map[string]platform.Face) []platform.Flaw {
	var out []platform.Flaw
	name := attrs["android:font"]
	if name == "" {
		name = attrs["app:font"]
	}
	f, known := faces[s.besideFamily(file, strings.TrimPrefix(name, "@font/"), faces)]
	for _, space := range []string{"android:", "app:"} {
		weight, slant := attrs[space+"fontWeight"], attrs[space+"fontStyle"]
		line, mend := placed(file, raw, places[space+"fontWeight"])
		if n, err := strconv.Atoi(weight); weight != "" && err != nil && !strings.HasPrefix(weight, "@") {
			x := platform.Flaw{Kind: platform.WrongForm, File: file, Line: line, Message: fmt.Sprintf("expected a number for %sfontWeight, found %q", space, face.Short(weight)), Cause: "the build stops", Cure: "write a number from 100 to 900"}
			if known {
				right := strconv.Itoa(f.Weight)
				x.Cure, x.Mend = platform.Choose(right, nil), mend(right)
			}
			out = append(out, x)
		} else if weight != "" && err == nil && known && !f.Variable && max(n-f.Weight, f.Weight-n) >= 100 {
			right := strconv.Itoa(f.Weight)
			out = append(out, platform.Flaw{Kind: platform.Unlike, File: file, Line: line, Message: fmt.Sprintf("%s is entered with weight %s, and is of weight %d", name, weight, f.Weight),
				Cause: "Android chooses among the fonts of a family by weight: this one shows where another was asked for", Cure: platform.Choose(right, nil), Mend: mend(right)})
		}
		line, mend = placed(file, raw, places[space+"fontStyle"])
		if slant != "" && slant != "normal" && slant != "italic" && !strings.HasPrefix(slant, "@") {
			out = append(out, platform.Flaw{Kind: platform.WrongForm, File: file, Line: line, Message: fmt.Sprintf("expected normal or italic for %sfontStyle, found %q", space, face.Short(slant)), Cause: "the build stops", Cure: "write normal or italic; a weight goes into fontWeight"})
		} else if slant != "" && known && (slant == "italic") != (f.Slant != face.Upright) {
			right := map[bool]string{true: "italic", false: "normal"}[f.Slant != face.Upright]
			out = append(out, platform.Flaw{Kind: platform.Unlike, File: file, Line: line, Message: fmt.Sprintf("%s is entered as %s, and is %s", name, slant, f.Slant),
				Cause: "Android chooses among the fonts of a family by slant", Cure: platform.Choose(right, nil), Mend: mend(right)})
		}
	}
	return out
}

// placed is the line of a value, and what exchanges it.
func placed(file string, raw []byte, at [2]int) (line int, mend func(text string) platform.Mending) {
	return 1 + bytes.Count(raw[:at[0]], []byte("\n")), func(text string) platform.Mending { return platform.Exchange(file, raw, at[0], at[1], text) }
}

// besideFamily is the file of a font resource, in the folder of a family first.
func (s *site) besideFamily(family, name string, faces map[string]platform.Face) string {
	for _, ext := range []string{".ttf", ".otf"} {
		for _, dir := range []string{path.Dir(family), path.Join(s.res, "font")} {
			if f := path.Join(dir, name+ext); faces[f].File != "" {
				return f
			}
		}
	}
	return ""
}
