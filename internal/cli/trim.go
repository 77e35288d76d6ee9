package cli

import (
	"context"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/locale"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/subject"
	"notaria/internal/trim"
)

type trimOptions struct {
	characters, from, out string
	permitted, overwrite  bool
	at                    map[string]string
	languages, scripts    []string
	features              []string
	unhinted              bool
	rename                string
	axes                  []string
}

func (a *app) trim() *cobra.Command {
	var o trimOptions
	c := &cobra.Command{
		Use:   "trim FILE --out FILE [flags]",
		Short: "Write a font file with only the characters that are needed",
		Long: `Write a copy of a font file that has only some characters, with all that they can become:
ligatures, joined forms, alternates, marks, composed letters, and mirrored brackets between
letters that run from right to left. Its names stay, so that what is typed on every platform
stays. Kerning, positions of marks and features are kept for what is left.

--characters takes sets (digits, ascii, latin-1, latin-extended, greek, cyrillic,
punctuation, arrows), U+ expressions and text; --characters-from adds those of the strings
in a file or a folder: text, JSON, YAML, ARB, .strings, strings.xml, .po and others;
--languages the letters of languages, and --scripts all of scripts. Where strings, languages
or scripts say what is needed, ASCII and usual signs stay as well, for people type them.

--at makes a static font of a variable one, for systems and programs that take none: at the
values of its axes that you name, and at the default of the others. It has the names of the
instance that its maker has there, or of the weight, in a family with the others. --axes keeps
some axes of a variable font, whole or in part, and its default on the others.

A font whose maker forbids it (OS/2, fsType) is refused. One whose licence reserves its name
for unchanged copies is refused without --rename, which gives the copy another name, or
--permitted: you may, if its maker says so.`,
		Example: "  notaria trim type/SkerrySans-Bold.ttf --characters \"ascii €\" --out build/SkerrySans-Bold.woff2\n  notaria trim type/SkerrySans-Bold.ttf --characters-from app/src/main/res --out build/SkerrySans-Bold.ttf\n  notaria trim type/SkerrySans-Variable.ttf --at wght=650 --out type/SkerrySans-650.ttf",
		Args:    exactly(1, "a font file"),
		RunE:    func(c *cobra.Command, args []string) error { return a.runTrim(c.Context(), args[0], o) },
	}
	f := c.Flags()
	f.StringVar(&o.characters, "characters", "", "which `characters`: sets, U+ expressions and text")
	f.StringSliceVar(&o.languages, "languages", nil, "adds the letters of `languages` by their tags, such as de,pt-BR, and what people type in any")
	f.StringSliceVar(&o.scripts, "scripts", nil, "adds all characters of `scripts`, such as Greek, and what people type in any")
	f.StringVar(&o.from, "characters-from", "", "adds the characters of the strings in this `file or folder`")
	f.StringToStringVar(&o.at, "at", nil, "of a variable font: pin it at `values` of its axes, such as wght=650")
	f.BoolVar(&o.unhinted, "unhinted", false, "leave out the instructions for coarse screens (TrueType)")
	f.StringSliceVar(&o.features, "features", nil, "of the `features` that nobody gets without asking, such as smcp or ss01, keep these alone; \"\" for none")
	f.StringSliceVar(&o.axes, "axes", nil, "of a variable font: keep these `axes` alone, such as wght=400..700,opsz, and stay at the default on the others")
	f.StringVar(&o.out, "out", "", "the `file`: "+strings.Join(trim.Endings, ", "))
	f.StringVar(&o.rename, "rename", "", "give the copy this `family` name, where the licence reserves the font's own")
	f.BoolVar(&o.permitted, "permitted", false, "the maker allows a changed copy under the reserved name")
	f.BoolVar(&o.overwrite, "overwrite", false, "write over a file that Notaria did not write there last")
	return c
}

func (a *app) runTrim(ctx context.Context, name string, o trimOptions) error {
	ending := strings.ToLower(filepath.Ext(o.out))
	if !slices.Contains(trim.Endings, ending) {
		return wrongUse("trim: expected --out FILE with one of the endings %s, found %q", strings.Join(trim.Endings, ", "), o.out)
	}
	at, err := placeOf("trim", o.at)
	if err != nil {
		return err
	}
	wanted, asked, err := o.wanted()
	if err != nil {
		return err
	}
	haul, err := intake.Gather(ctx, []string{name}, intake.Options{})
	if err != nil {
		return err
	}
	if len(haul.Faces) != 1 {
		found := plural(len(haul.Faces), "face")
		if len(haul.Problems) > 0 {
			found += ": " + haul.Problems[0].Message
		}
		return &fault.Error{File: name, Expected: "a font file with one face", Found: found, Cure: "name one .ttf, .otf, .woff or .woff2; notaria names shows what is in a file"}
	}
	raw, err := haul.Faces[0].Plain()
	if err != nil {
		return err
	}
	wish := trim.Wish{Characters: wanted, Asked: asked, At: at, Ending: ending, Unhinted: o.unhinted, Features: o.features, Rename: o.rename}
	if wish.Axes, err = axesOf(o.axes); err != nil {
		return err
	}
	if wish.Axes != nil && at != nil {
		return wrongUse("trim: expected --at or --axes, found both: --at pins every axis")
	}
	f, err := trim.Open(raw, wish, trim.Words{Permitted: o.permitted, Licence: licencesBeside(name)})
	if err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	if err := a.write(ctx, o.overwrite, change.Output{Name: o.out, Data: f.Data()}); err != nil {
		return err
	}
	if a.json {
		return a.printJSON(document.NewTrim(o.out, f))
	}
	a.trimmed(o.out, f)
	return nil
}

// placeOf is where --at pins a variable font, nil where it does not.
func placeOf(command string, said map[string]string) (map[string]float64, error) {
	if said == nil {
		return nil, nil
	}
	at := map[string]float64{}
	for tag, text := range said {
		v, err := strconv.ParseFloat(text, 64)
		if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
			return nil, wrongUse("%s: expected a number for %s in --at, found %q", command, tag, text)
		}
		at[tag] = v
	}
	return at, nil
}

// axesOf reads axes that stay: wght=400..700, or wght alone for all of it.
func axesOf(list []string) (map[string][2]float64, error) {
	if list == nil {
		return nil, nil
	}
	out := map[string][2]float64{}
	for _, one := range list {
		tag, text, some := strings.Cut(one, "=")
		r := [2]float64{math.Inf(-1), math.Inf(1)}
		if some {
			low, high, ok := strings.Cut(text, "..")
			var err1, err2 error
			r[0], err1 = strconv.ParseFloat(low, 64)
			r[1], err2 = strconv.ParseFloat(high, 64)
			if !ok || err1 != nil || err2 != nil {
				return nil, wrongUse("trim: expected an axis with its range for --axes, such as wght=400..700, found %q", one)
			}
		}
		out[tag] = r
	}
	return out, nil
}

// wanted are the characters that stay, nil for all; asked are those of them that are named, or are letters of the languages.
func (o trimOptions) wanted() (list, asked []rune, err error) {
	if o.characters == "" && o.from == "" && len(o.languages)+len(o.scripts) == 0 {
		if o.at != nil || o.unhinted || o.features != nil || o.rename != "" || o.axes != nil {
			return nil, nil, nil
		}
		return nil, nil, wrongUse("trim: expected --characters, --characters-from, --languages, --scripts, --at, --axes, --features, --rename or --unhinted")
	}
	c, err := registry.ParseCharacters(o.characters)
	if err != nil {
		return nil, nil, wrongUse("trim: %v, in --characters", err)
	}
	if asked, err = c.Runes(); err != nil {
		return nil, nil, wrongUse("trim: expected characters for --characters, found %v", err)
	}
	for _, tag := range o.languages {
		l, err := locale.Of(tag)
		if err != nil {
			return nil, nil, wrongUse("trim: %v, in --languages", err)
		}
		asked = append(slices.Clip(asked), l.Own...)
	}
	if o.from != "" {
		more, err := subject.Characters(o.from)
		if err != nil {
			return nil, nil, err
		}
		asked = append(slices.Clip(asked), more...)
	}
	all := registry.Characters{Text: string(asked), Languages: o.languages, Scripts: o.scripts, AppStrings: o.from != ""}
	if list, err = all.Kept(); err != nil {
		return nil, nil, wrongUse("trim: %v", err)
	}
	return list, asked, nil
}

// licencesBeside are the licences in the folder of a font.
func licencesBeside(name string) (all []byte) {
	for _, form := range []string{"*[Ll]icen[cs]e*", "*LICEN[CS]E*", "*OFL*", "COPYRIGHT*"} {
		list, _ := filepath.Glob(filepath.Join(filepath.Dir(name), form))
		for _, f := range list {
			if info, err := os.Stat(f); err == nil && info.Mode().IsRegular() && info.Size() < 1<<20 && !platform.LooksLikeFont(f) {
				b, _ := os.ReadFile(f)
				all = append(append(all, b...), '\n')
			}
		}
	}
	return all
}

// trimmed says what came of it.
func (a *app) trimmed(out string, f *trim.File) {
	a.Say("%s %s", a.Paint.Good("wrote"), a.Paint.Place(cell(filepath.ToSlash(out))))
	a.Say("      %s: %s, %d of %d glyphs, %d of %d bytes (%.1f %%)", cell(f.Face), plural(f.Characters, "character"), f.Glyphs[1], f.Glyphs[0], f.Bytes[1], f.Bytes[0], 100*float64(f.Bytes[1])/float64(max(1, f.Bytes[0])))
	if len(f.Lacks) > 0 {
		a.Note("%s never had %s", cell(f.Face), cell(strings.Join(f.Lacks, " ")))
	}
	if f.Held != "" {
		a.Note("glyphs keep their numbers, and layout tables are whole, for a table is not written anew here: %s", cell(f.Held))
	}
	if f.Reserved != "" {
		a.Note("%s its licence reserves the name %s for unchanged copies: keep the maker's permission", a.Paint.Warn("careful:"), cell(f.Reserved))
	}
}
