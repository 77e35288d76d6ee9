package android

import (
	"bytes"
	"fmt"
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
	return append(out, weighted(s.Tree, s.Dir, known)...), nil
}

var composeFont = lazy.Regexp(`\bFont\s*\(\s*R(?:es)?\.font\.(\w+)\s*,\s*(?:weight\s*=\s*)?(FontWeight\.\w+)`)

// weighted are the fonts of Compose that code gives another weight than they have.
func weighted(tree platform.Tree, dir string, known []platform.Face) []platform.Flaw {
	var out []platform.Flaw
	for _, f := range tree.Under(dir) {
		if path.Ext(f) != ".kt" || platform.IsTest(f) {
			continue
		}
		raw, ok := tree.Glance(f, platform.MostSource)
		if !ok || !bytes.Contains(raw, []byte("FontWeight")) || platform.IsGenerated(raw) {
			continue
		}
		for _, m := range composeFont.FindAllSubmatchIndex(language.Kotlin.Blank(raw), mostFonts) {
			name, word := string(raw[m[2]:m[3]]), string(raw[m[4]:m[5]])
			weight, _, ok := platform.StyleWord(word)
			for _, one := range known {
				if base := path.Base(one.File); strings.TrimSuffix(base, path.Ext(base)) != name || path.Base(path.Dir(one.File)) != "font" || one.Variable {
					continue
				}
				if ok && max(weight-one.Weight, one.Weight-weight) >= 100 {
					right := fmt.Sprintf("FontWeight.W%d", min(max((one.Weight+50)/100*100, 100), 900))
					if plain := map[int]string{400: "Normal", 700: "Bold", 300: "Light", 500: "Medium"}[one.Weight]; plain != "" {
						right = "FontWeight." + plain
					}
					out = append(out, platform.Flaw{Kind: platform.Unlike, File: f, Line: 1 + bytes.Count(raw[:m[4]], []byte("\n")), Message: fmt.Sprintf("%s is given to %s, which is of weight %d", word, name, one.Weight),
						Cause: "Compose chooses among the fonts of a family by weight: this one shows where another was asked for", Cure: platform.Choose(right, nil), Mend: platform.Exchange(f, raw, m[4], m[5], right)})
				}
				break
			}
		}
	}
	return out
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
