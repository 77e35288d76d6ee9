package sdl

import (
	"fmt"
	"path"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// SDL is the platform of SDL_ttf.
type SDL struct{}

var (
	includesTTF = lazy.Regexp(`(?m)^\s*#\s*include\s*[<"](?:SDL2/)?SDL_ttf\.h[>"]`)
	sources     = []*language.Language{language.CPlus}
)

var ttf = kind{
	about: platform.About{
		Name: "sdl", Title: "SDL_ttf", Kind: platform.ByFile, Typed: `TTF_OpenFont("…", …)`,
		Minimum: "SDL 2 with SDL_ttf 2.0.15; C99 or C++",
		Cannot:  []string{"tracking", "blurred shadows", "another font where a face is missing", "SDL 3"},
	},
	title:    "SDL_ttf",
	next:     "call app_type_load(NULL, 1) after TTF_Init(), draw with app_type_render(APP_TYPE_ROLE, text), and build the game again",
	language: language.CPlus,
	upper:    true,
	names:    lazy.Words("ROLES"),
	short: map[string]string{
		platform.PartFallback: "a font that cannot be loaded is an error with its file",
		platform.PartTracking: "SDL_ttf does not space letters",
		platform.PartLine:     "SDL_ttf draws line after line; app_type_line gives the distance",
		platform.PartShadow:   "", platform.PartSmooth: "", platform.PartRoom: "",
	},
	whole: func(r platform.Role) map[string]float64 { return map[string]float64{"size": r.Size} },
	uses: []platform.Use{
		{Languages: sources, Kind: usePath, Pattern: lazy.Regexp(`\bTTF_OpenFont(?:Index|DPI)?\s*\(\s*"([^"\n\\]*)"`)},
		{Languages: sources, Kind: usePath, Named: true, Pattern: lazy.Regexp(`\bTTF_OpenFont(?:Index|DPI)?\s*\(\s*([A-Za-z_]\w*)\s*,`)},
		{Languages: sources, Kind: useRole, Pattern: lazy.Regexp(`\bAPP_TYPE_(\w+)`)},
	},
	files: func(s *site) map[string]string {
		files := map[string]string{"apptype.c": folder + "/apptype" + s.ending(), "apptype.h": folder + "/apptype.h"}
		if path.Base(s.build.File) == "CMakeLists.txt" {
			files["apptype.cmake"] = folder + "/apptype.cmake"
		} else if s.build.File != "" {
			files["apptype.mk"] = folder + "/apptype.mk"
		}
		return files
	},
	entries: (*site).buildEntries,
}

// About describes the platform.
func (SDL) About() platform.About { return ttf.about }

// Type returns the file's name.
func (SDL) Type(faces []face.Face) []string { return typed(faces) }

// NamedAs says that files have the same names as in LÖVE.
func (SDL) NamedAs() platform.Platform { return Love{} }

// Sites finds the folders whose sources include SDL_ttf.h: the nearest upward with a build.
func (SDL) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	shows := func(f string, clean []byte) bool { return path.Ext(f) != ".hpp" && includesTTF.Match(clean) }
	return ttf.roots(tree, "SDL_ttf.h", shows, func(f string) string { return platform.CRoot(tree, f) })
}

// SiteIn is the game in a folder.
func (SDL) SiteIn(tree platform.Tree, dir string, opt platform.Options) (platform.Site, error) {
	dir = strings.TrimPrefix(dir, ".")
	for _, f := range tree.Under(dir) {
		if language.Of(f) == language.CPlus && path.Ext(f) != ".hpp" {
			return ttf.site(tree, dir, f), nil
		}
	}
	return ttf.site(tree, dir, ""), nil
}

// ending is that of the loader's source, which is both C and C++: that of the game's own.
func (s *site) ending() string {
	if s.isC() && s.main != "" && path.Ext(s.main) != ".c" && path.Ext(s.main) != ".h" {
		return path.Ext(s.main)
	}
	return ".c"
}

// findBuild finds the build that the loader joins.
func (s *site) findBuild() {
	if s.isC() {
		s.build = platform.FindCBuild(s.Base)
	}
}

func (s *site) buildEntries() []edit.Entry { return s.build.Entries(folder) }

// colour is as the loader's language writes it; white where a role has none.
func (s *site) colour(c *platform.Colour) string {
	if c == nil {
		c = &platform.Colour{R: 255, G: 255, B: 255, A: 255}
	}
	if s.kind.about.Name == "love" {
		f := c.Fraction()
		return fmt.Sprintf("%s, %s, %s, %s", language.Number(f[0]), language.Number(f[1]), language.Number(f[2]), language.Number(f[3]))
	}
	return fmt.Sprintf("%d, %d, %d, %d", c.R, c.G, c.B, c.A)
}
