package dotnet

import (
	"notaria/internal/face"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// WPF is the Windows Presentation Foundation.
type WPF struct{}

// WinUI is the Windows UI Library 3.
type WinUI struct{}

var wpf = kind{
	about: platform.About{
		Name: "wpf", Title: "WPF", Kind: platform.ByFamily, Typed: `/Assets/Fonts/#…`,
		Minimum: ".NET Core 3, with a project of the SDK's form",
		Cannot:  []string{"outlines", "tracking", "another font where a face is missing", "text that follows the reader's size", "families with # or a comma in their name"},
	},
	uses:      lazy.Regexp(`(?i)<UseWPF>\s*true\s*</UseWPF>`),
	namespace: "http://schemas.microsoft.com/winfx/2006/xaml/presentation",
	apps:      []string{"App.xaml"},
	item:      "Resource",
	address: func(s *desktop, rel, family string) string {
		return "pack://application:,,,/" + s.assembly + ";component/" + platform.Folder(rel) + "/#" + family
	},
	styles:   xamlFile,
	template: "WpfType.xaml.tmpl",
	class:    "WpfType.cs.tmpl",
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
	about: platform.About{
		Name: "winui", Title: "WinUI 3", Kind: platform.ByFamily, Typed: `ms-appx:///Assets/Fonts/File.ttf#…`,
		Minimum: "Windows App SDK 1",
		Cannot:  []string{"outlines", "line heights of controls (of a TextBlock they are supported)", "another font where a face is missing", "families with # or a comma in their name"},
	},
	uses:      lazy.Regexp(`(?i)<UseWinUI>\s*true\s*</UseWinUI>`),
	namespace: "http://schemas.microsoft.com/winfx/2006/xaml/presentation",
	apps:      []string{"App.xaml"},
	item:      "Content",
	perFile:   true,
	address:   func(s *desktop, rel, family string) string { return "ms-appx:///" + rel + "#" + family },
	styles:    xamlFile,
	template:  "WinUIType.xaml.tmpl",
	class:     "WinUIType.cs.tmpl",
	short: map[string]string{
		platform.PartOutline:  "text has no outline there",
		platform.PartLine:     "a TextBlock has it; controls have none",
		platform.PartFallback: "a FontFamily names one font; the system chooses what shows where it is missing",
	},
	entries: mergedEntries,
}

// mergedEntries take the styles among the resources of the application.
func mergedEntries(s *desktop, _ platform.Job, p *platform.Plan) error {
	p.Entries = s.merged(p.Entries, s.kind.styles)
	return nil
}

// About describes the platform.
func (WPF) About() platform.About { return wpf.about }

// Type returns the family inside the file: it stands behind # in an address.
func (WPF) Type(faces []face.Face) []string { return platform.Families(faces) }

// Sites finds the projects that use WPF and have an application.
func (WPF) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	return wpf.sites(tree, opt)
}

// SiteIn is the project in a folder.
func (WPF) SiteIn(tree platform.Tree, folder string, opt platform.Options) (platform.Site, error) {
	return wpf.siteIn(tree, folder, opt)
}

// About describes the platform.
func (WinUI) About() platform.About { return winui.about }

// Type returns the family inside the file: it stands behind # in an address.
func (WinUI) Type(faces []face.Face) []string { return platform.Families(faces) }

// Sites finds the projects that use WinUI and have an application.
func (WinUI) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	return winui.sites(tree, opt)
}

// SiteIn is the project in a folder.
func (WinUI) SiteIn(tree platform.Tree, folder string, opt platform.Options) (platform.Site, error) {
	return winui.siteIn(tree, folder, opt)
}
