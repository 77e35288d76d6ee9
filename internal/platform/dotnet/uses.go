package dotnet

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/dotnet/msbuild"
)

// Kinds of uses of MAUI and Xamarin.Forms; "" is a name for all platforms.
const (
	useApple   = "apple"   // a name for iOS alone
	useAndroid = "android" // a name for Android alone
)

// text is a string of C#, and attribute the value of an attribute that is no binding.
const (
	text      = `@?"((?:[^"\\\n]|\\.)*)"`
	attribute = `\s*=\s*["']([^"'{]*)["']`
	names     = `([A-Za-z_][\w.]*)`
)

// uses are by the alias of a face, or by its own name.
var uses = []platform.Use{
	{Languages: xamlOnly, Pattern: lazy.Regexp(`<Setter\s+Property\s*=\s*["'](?:\w+\.)?FontFamily["']\s+Value` + attribute)},
	{Languages: xamlOnly, Pattern: lazy.Regexp(`<Setter\s+Value` + attribute + `\s+Property\s*=\s*["'](?:\w+\.)?FontFamily["']`)},
	{Languages: xamlOnly, Pattern: lazy.Regexp(`\bFontFamily` + attribute)},
	{Languages: xamlOnly, Pattern: lazy.Regexp(`<\w[\w:]*\.FontFamily\s*>\s*([^<>\s][^<>]*?)\s*</`)},
	{Languages: xamlOnly, Pattern: lazy.Regexp(`<\w[\w:]*\.FontFamily\s*>\s*<x:String\s*>\s*([^<>\s][^<>]*?)\s*</`)},
	{Languages: xamlOnly, Pattern: lazy.Regexp(`<Setter\s+Property\s*=\s*["'](?:\w+\.)?FontFamily["']\s*>\s*<Setter\.Value>\s*(?:<x:String\s*>)?\s*([^<>\s][^<>]*?)\s*</`)},
	{Languages: xamlOnly, Named: true, Pattern: lazy.Regexp(`\bFontFamily\s*=\s*["']\{(?:Static|Dynamic)Resource\s+(\w+)\s*\}["']`)},
	{Languages: xamlOnly, Named: true, Pattern: lazy.Regexp(`<Setter\s+Property\s*=\s*["'](?:\w+\.)?FontFamily["']\s+Value\s*=\s*["']\{(?:Static|Dynamic)Resource\s+(\w+)\s*\}["']`)},
	{Languages: xamlOnly, Kind: useApple, Pattern: lazy.Regexp(`<On\s+Platform\s*=\s*["'](?:iOS|MacCatalyst)["']\s+Value\s*=\s*["']([A-Za-z][^"'{#/]*-[^"'{#/]*)["']`)},
	{Languages: xamlOnly, Kind: useAndroid, Pattern: lazy.Regexp(`<On\s+Platform\s*=\s*["']Android["']\s+Value\s*=\s*["']([^"'{]*\.(?i:ttf|otf)(?:#[^"']*)?)["']`)},
	{Languages: sharpOnly, Pattern: lazy.Regexp(`\bFontFamily\s*=\s*` + text)},
	{Languages: sharpOnly, Pattern: lazy.Regexp(`\bFontFamilyProperty\s*,\s*` + text)},
	{Languages: sharpOnly, Pattern: lazy.Regexp(`\.FontFamily\s*\(\s*` + text)},
	{Languages: sharpOnly, Pattern: lazy.Regexp(`\bFont\.OfSize\s*\(\s*` + text)},
	{Languages: sharpOnly, Named: true, Pattern: lazy.Regexp(`\bFontFamily\s*=\s*` + names + `\s*[,;}\n]`)},
	{Languages: sharpOnly, Named: true, Pattern: lazy.Regexp(`\bFontFamilyProperty\s*,\s*` + names + `\s*\)`)},
}

// exportedAlias is the name that an attribute gives an embedded font.
var (
	exportedAlias = lazy.Regexp(`\bExportFont\s*\([^()]*\bAlias\s*=\s*"([^"\\\n]+)"`)
	exported      = lazy.Regexp(`\bExportFont\s*\(\s*"([^"\\\n]+)"(?:[^()]*\bAlias\s*=\s*"([^"\\\n]+)")?`)
)

// aliased turns the proposal of an answer into the alias that the app gives that face, and judges names
// that are nearly an alias. Files and their aliases come in pairs.
func aliased(q platform.Question, a platform.Answer, pairs [][2]string) platform.Answer {
	if a.Fault == platform.Fine {
		return a
	}
	var aliases []string
	for _, p := range pairs {
		if p[1] == "" {
			continue
		}
		aliases = append(aliases, p[1])
		for _, f := range q.Faces {
			if path.Base(f.File) == p[0] && (f.ID() == a.Instead || p[0] == q.Typed || strings.TrimSuffix(p[0], path.Ext(p[0])) == q.Typed) {
				a.Instead, a.Cure = p[1], platform.Choose(p[1], nil)
				return a
			}
		}
	}
	if near := platform.Nearest(q.Typed, aliases); near != "" && a.Fault == platform.UnknownFace {
		a.Instead, a.Cure = near, platform.Choose(near, nil)
	}
	return a
}

// pairs are the files that the program registers, with their aliases.
func (s *mauiSite) pairs() [][2]string {
	var out [][2]string
	for _, a := range s.added {
		out = append(out, [2]string{a.File, a.Alias})
	}
	return out
}

// Flaws are fonts that the program registers and the project does not take in, and the other way.
func (s *mauiSite) Flaws([]platform.Face) ([]platform.Flaw, error) {
	var out []platform.Flaw
	if s.program == "" {
		return nil, nil
	}
	added := map[string]bool{}
	aliases := map[string]string{}
	for _, a := range s.added {
		added[a.File] = true
		if other, twice := aliases[a.Alias]; twice && a.Alias != "" && other != a.File {
			out = append(out, platform.Flaw{Kind: platform.WrongForm, File: s.program, Line: a.Line, Message: fmt.Sprintf("the alias %s is given to %s and to %s", face.Short(a.Alias), face.Short(other), face.Short(a.File)),
				Cause: "one of the two shows wherever the alias is named", Cure: "give each font an alias of its own"})
		}
		aliases[a.Alias] = a.File
		for _, f := range s.Tree.Named(a.File) {
			if rel, inside := s.Rel(f); inside && !s.takenBy("MauiFont", f) && !strings.HasPrefix(rel, "bin/") && !strings.HasPrefix(rel, "obj/") {
				out = append(out, platform.Flaw{Kind: platform.NotBuilt, File: s.program, Line: a.Line, Subject: f, Message: fmt.Sprintf("AddFont names %s, and no MauiFont of the project takes %s in", a.File, rel),
					Cause: "the file is on disk and not in the app", Cure: fmt.Sprintf(`write <MauiFont Include="%s" /> into %s, or enrol the file and register it`, strings.ReplaceAll(rel, "/", `\`), path.Base(s.file))})
			}
		}
	}
	commented, _ := s.inComments()
	for _, h := range s.held("MauiFont") {
		base := path.Base(h.File)
		if line := commented[base]; line > 0 {
			out = append(out, platform.Flaw{Kind: platform.OutOfPlace, File: s.program, Line: line, Means: []string{h.File}, Message: fmt.Sprintf("AddFont of %s stands in a comment", base),
				Cause: "the app does not know the font, and shows its own", Cure: "take the // in front of it away"})
		}
		if !added[base] && slices.Contains(s.Tree.Named(base), h.File) && !s.astray(base) && commented[base] == 0 {
			out = append(out, platform.Flaw{Kind: platform.NotNamed, File: h.File, Subject: h.File, Message: fmt.Sprintf("the project takes %s in, and ConfigureFonts does not add it", base),
				Cause: "a font is known to the app by AddFont alone", Cure: fmt.Sprintf("write fonts.AddFont(%q, \"…\") in %s, or enrol the file and register it", base, path.Base(s.program))})
		}
	}
	return out, nil
}

// astray says whether a call of AddFont that leads nowhere most likely means a file.
func (s *mauiSite) astray(base string) bool {
	return slices.ContainsFunc(s.added, func(a msbuild.Registered) bool {
		return len(s.Tree.Named(a.File)) == 0 && platform.Strayed(a.File, []string{base}) != ""
	})
}

var addFont = lazy.Regexp(`\bAddFont\s*\(\s*"([^"\\\n]+)"(?:\s*,\s*"([^"\\\n]+)")?`)

// inComments are calls of AddFont that stand in comments, of fonts that the project has: the file, the
// alias and the line of each.
func (s *mauiSite) inComments() (files map[string]int, aliases []string) {
	files = map[string]int{}
	raw, ok := s.Tree.Glance(s.program, platform.MostSource)
	if !ok {
		return files, nil
	}
	clean := language.CSharp.Blank(raw)
	for _, m := range addFont.FindAllSubmatchIndex(raw, mostExported) {
		name := string(raw[m[2]:m[3]])
		added := slices.ContainsFunc(s.added, func(a msbuild.Registered) bool { return a.File == name })
		if clean[m[0]] != ' ' || added || !slices.ContainsFunc(s.Tree.Named(name), func(f string) bool { return s.takenBy("MauiFont", f) }) {
			continue
		}
		files[name] = 1 + strings.Count(string(raw[:m[0]]), "\n")
		if m[4] >= 0 {
			aliases = append(aliases, string(raw[m[4]:m[5]]))
		}
	}
	return files, aliases
}

// exportsOf are the files that attributes of the solution export, with their aliases.
func exportsOf(tree platform.Tree) [][2]string {
	var out [][2]string
	seen := map[[2]string]bool{}
	for _, f := range tree.Under("") {
		if language.Of(f) != language.CSharp {
			continue
		}
		raw, ok := tree.Glance(f, platform.MostSource)
		if !ok || !bytes.Contains(raw, []byte("ExportFont")) {
			continue
		}
		for _, m := range exported.FindAllSubmatch(language.CSharp.Blank(raw), mostExported) {
			if pair := [2]string{string(m[1]), string(m[2])}; !seen[pair] {
				seen[pair], out = true, append(out, pair)
			}
		}
	}
	return out
}

// mostExported is how many fonts of one source are looked at.
const mostExported = 500
