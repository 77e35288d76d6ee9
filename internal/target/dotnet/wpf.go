package dotnet

import (
	"notaria/internal/face"
	"notaria/internal/lazy"
	"notaria/internal/target"
)

// WPF is the Windows Presentation Foundation.
type WPF struct{}

// WinUI is the Windows UI Library 3.
type WinUI struct{}

var wpf = kind{
	about: target.About{
		Name: "wpf", Title: "WPF", Kind: target.ByFamily, Typed: `/Assets/Fonts/#…`,
		Minimum: ".NET Core 3, with a project of the SDK's form",
		Cannot:  []string{"outlines", "tracking", "another font where a face is missing", "text that follows the reader's size", "families with # or a comma in their name"},
	},
	uses:      lazy.Regexp(`(?i)<UseWPF>\s*true\s*</UseWPF>`),
	namespace: "http://schemas.microsoft.com/winfx/2006/xaml/presentation",
	apps:      []string{"App.xaml"},
	item:      "Resource",
	address: func(s *desktop, rel, family string) string {
		return "pack://application:,,,/" + s.assembly + ";component/" + target.Folder(rel) + "/#" + family
	},
	styles:   xamlFile,
	template: "WpfType.xaml.tmpl",
	class:    "WpfType.cs.tmpl",
	short: map[string]string{
		target.PartOutline:  "text has no outline there; a FormattedText can be drawn as a geometry",
		target.PartShadow:   "",
		target.PartSmooth:   "",
		target.PartTracking: "WPF does not space letters",
		target.PartFallback: "a FontFamily of the app's own lists no other; WPF chooses what shows",
	},
	entries: mergedEntries,
}

var winui = kind{
	about: target.About{
		Name: "winui", Title: "WinUI 3", Kind: target.ByFamily, Typed: `ms-appx:///Assets/Fonts/File.ttf#…`,
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
		target.PartOutline:  "text has no outline there",
		target.PartLine:     "a TextBlock has it; controls have none",
		target.PartFallback: "a FontFamily names one font; the system chooses what shows where it is missing",
	},
	entries: mergedEntries,
}

// mergedEntries take the styles among the resources of the application.
func mergedEntries(s *desktop, _ target.Job, p *target.Plan) error {
	p.Entries = s.merged(p.Entries, s.kind.styles)
	return nil
}

// About describes the platform.
func (WPF) About() target.About { return wpf.about }

// Type returns the family inside the file: it stands behind # in an address.
func (WPF) Type(faces []face.Face) []string { return target.Families(faces) }

// Sites finds the projects that use WPF and have an application.
func (WPF) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	return wpf.sites(tree, opt)
}

// SiteIn is the project in a folder.
func (WPF) SiteIn(tree target.Tree, folder string, opt target.Options) (target.Site, error) {
	return wpf.siteIn(tree, folder, opt)
}

// About describes the platform.
func (WinUI) About() target.About { return winui.about }

// Type returns the family inside the file: it stands behind # in an address.
func (WinUI) Type(faces []face.Face) []string { return target.Families(faces) }

// Sites finds the projects that use WinUI and have an application.
func (WinUI) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	return winui.sites(tree, opt)
}

// SiteIn is the project in a folder.
func (WinUI) SiteIn(tree target.Tree, folder string, opt target.Options) (target.Site, error) {
	return winui.siteIn(tree, folder, opt)
}
