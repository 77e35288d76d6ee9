package dotnet

import (
	"notaria/internal/edit"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

var wpf = kind{
	title:     "WPF",
	uses:      lazy.Regexp(`(?i)<UseWPF>\s*true\s*</UseWPF>`),
	namespace: "http://schemas.microsoft.com/winfx/2006/xaml/presentation",
	apps:      []string{"App.xaml"},
	item:      "Resource",
	address: func(s *desktop, rel, family string) string {
		return "pack://application:,,,/" + s.assembly + ";component/" + platform.Folder(rel) + "/#" + family
	},
	styles:   xamlFile,
	way:      xamlWay,
	template: "WpfType.xaml",
	class:    "WpfType.cs",
	short: map[string]string{
		platform.PartOutline:  "text has no outline there; a FormattedText can be drawn as a geometry",
		platform.PartShadow:   "",
		platform.PartSmooth:   "",
		platform.PartTracking: "WPF does not space letters",
		platform.PartFallback: "a FontFamily of the app's own lists no other; WPF chooses what shows",
	},
	entries: mergedEntries,
}

var winui = kind{
	title:     "WinUI 3",
	uses:      lazy.Regexp(`(?i)<UseWinUI>\s*true\s*</UseWinUI>`),
	namespace: "http://schemas.microsoft.com/winfx/2006/xaml/presentation",
	apps:      []string{"App.xaml"},
	item:      "Content",
	perFile:   true,
	address:   func(s *desktop, rel, family string) string { return "ms-appx:///" + rel + "#" + family },
	styles:    xamlFile,
	way:       xamlWay,
	template:  "WinUIType.xaml",
	class:     "WinUIType.cs",
	short: map[string]string{
		platform.PartOutline:  "text has no outline there",
		platform.PartLine:     "a TextBlock has it; controls have none",
		platform.PartFallback: "a FontFamily names one font; the system chooses what shows where it is missing",
	},
	entries: mergedEntries,
}

// mergedEntries take the styles among the resources of the application.
func mergedEntries(s *desktop, entries []edit.Entry) ([]edit.Entry, error) {
	return s.merged(entries, s.kind.styles), nil
}

// WPF is the Windows Presentation Foundation.
var WPF = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "wpf", Title: "WPF", Kind: platform.ByFamily, Typed: `/Assets/Fonts/#…`,
		Minimum: ".NET Core 3, with a project of the SDK's form",
		Gets:    "Assets/Fonts, items in the project file, AppType.xaml with styles for each role, merged in App.xaml whatever its resources look like; AppType.cs",
		Cannot:  []string{"outlines", "tracking", "another font where a face is missing", "text that follows the reader's size", "families with # or a comma in their name"},
	},
	Names: platform.Families, Find: wpf.sites,
}, In: wpf.siteIn}

// WinUI is the Windows UI Library 3.
var WinUI = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "winui", Title: "WinUI 3", Kind: platform.ByFamily, Typed: `ms-appx:///Assets/Fonts/File.ttf#…`,
		Minimum: "Windows App SDK 1",
		Gets:    "Assets/Fonts, items in the project file, AppType.xaml with styles for each role, merged in App.xaml whatever its resources look like; AppType.cs",
		Cannot:  []string{"outlines", "line heights of controls (of a TextBlock they are supported)", "another font where a face is missing", "families with # or a comma in their name"},
	},
	Names: platform.Families, Find: winui.sites,
}, In: winui.siteIn}

var xamlWay = platform.Way("XAML", `<TextBlock Style="{StaticResource {member}Type}" Text="07:40" />`)
