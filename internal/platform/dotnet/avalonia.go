package dotnet

import (
	"path"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

var avalonia = kind{
	title:     "Avalonia",
	uses:      lazy.Regexp(`<PackageReference\s[^>]*\b(?:Include|Update)\s*=\s*"Avalonia(?:\.Desktop|\.Themes\.\w+)?"`),
	namespace: "https://github.com/avaloniaui",
	apps:      []string{"App.axaml", "App.xaml"},
	item:      "AvaloniaResource",
	address: func(s *desktop, rel, family string) string {
		if s.opt.Word("fonts") == "collection" {
			return collectionOf(platform.Folder(rel)) + "#" + family
		}
		return "avares://" + s.assembly + "/" + platform.Folder(rel) + "#" + family
	},
	styles:   avaloniaStyles,
	way:      platform.Way("AXAML", `<TextBlock Classes="type-{role}" Text="07:40" />`),
	template: "AppType.axaml",
	class:    "AvaloniaType.cs",
	entries:  avaloniaEntries,
	short: map[string]string{
		platform.PartOutline:  "text has no outline there; a FormattedText can be drawn as a geometry",
		platform.PartFallback: "FontManagerOptions names what shows where a character is missing, for the whole app",
	},
}

const (
	avaloniaStyles = "AppType.axaml"
	collection     = "fonts:AppType" // the app's own font collection
)

// collectionOf is the name of the collection of a folder's fonts.
func collectionOf(folder string) string {
	if folder == desktopFolder {
		return collection
	}
	return collection + "-" + platform.FileBase(strings.ReplaceAll(folder, "/", "-"))
}

// Avalonia is the Avalonia platform: projects with its package and an application.
var Avalonia = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "avalonia", Title: "Avalonia", Kind: platform.ByFamily, Typed: `avares://App/Assets/Fonts#…`,
		Minimum: "Avalonia 11",
		Gets:    "Assets/Fonts, items where no wildcard takes them in, AppType.axaml with a style class for every control and a theme for a TextBlock for each role, taken in by App.axaml; AppType.cs, which also says what the app does not find; or a font collection made at the start",
		Cannot:  []string{"outlines", "another font where a face is missing", "text that follows the reader's size", "families with # or a comma in their name"},
		Options: []platform.Option{{Key: "fonts", Kind: platform.KindWord, Help: "address: each family by the address of its folder, if absent; collection: a font collection that the app makes when it starts"}},
	},
	Names: platform.Families, Find: avaloniaSites,
}, In: avalonia.siteIn}

func avaloniaSites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	if w := opt.Word("fonts"); w != "" && w != "address" && w != "collection" {
		return nil, platform.Refuse("Avalonia", `"address" or "collection" for fonts`, w, "correct it under [target.avalonia] in notaria.toml")
	}
	return avalonia.sites(tree, opt)
}

var oldAvalonia = lazy.Regexp(`<PackageReference\s[^>]*"Avalonia(?:\.Desktop)?"[^>]*\bVersion\s*=\s*"0\.`)

// avaloniaEntries take the styles into the application, behind the theme, and the font
// collection into its start.
func avaloniaEntries(s *desktop, entries []edit.Entry) ([]edit.Entry, error) {
	if oldAvalonia.MatchString(s.docs[s.file]) {
		return entries, platform.Refuse(s.file, "Avalonia 11 or later", "a version 0", "raise the version, or leave the app out: leave-out under [target.avalonia] in notaria.toml")
	}
	if s.app != "" {
		entries = append(entries, edit.Entry{File: s.app, Syntax: xmldoc.Elements{}.Name(),
			Place: edit.Place{Kind: xmldoc.KindNested, Name: "StyleInclude", Attribute: "Source", Path: []string{"Application.Styles"}},
			Value: "avares://" + s.assembly + "/" + avaloniaStyles})
	}
	if s.opt.Word("fonts") != "collection" {
		return entries, nil
	}
	file, line := s.builder()
	if file == "" {
		return entries, platform.Refuse(s.Path(), "a program that builds the app with .UsePlatformDetect() on a line of its own", "none in the project, nor in one that refers to it",
			"write the calls on lines of their own, or use fonts = \"address\" under [target.avalonia]")
	}
	entries = append(entries, edit.Entry{File: file, Syntax: source.Lines{}.Name(), Place: source.After(line), Value: ".WithAppType()"})
	return entries, nil
}

// builder finds the source that builds the app, in the project or in one that refers to
// it, and the line of its chain of calls that ours goes behind.
func (s *desktop) builder() (file, line string) {
	dirs := []string{s.Dir}
	for _, other := range s.files {
		if strings.Contains(strings.ReplaceAll(s.docs[other], `\`, "/"), "/"+path.Base(s.file)+`"`) {
			dirs = append(dirs, platform.Folder(other))
		}
	}
	for _, dir := range dirs {
		for _, f := range s.Tree.Under(dir) {
			if path.Ext(f) != ".cs" || path.Dir(f) != platform.Shown(dir) {
				continue
			}
			raw, err := s.Tree.Read(f)
			if err != nil || !strings.Contains(string(raw), "AppBuilder.Configure<") {
				continue
			}
			doc := edit.Document{File: f, Text: language.CSharp.Blank(raw)}
			for _, l := range []string{".UsePlatformDetect()", ".LogToTrace()", ".WithInterFont()"} {
				if source.HasLine(doc, l) {
					return f, l
				}
			}
		}
	}
	return "", ""
}
