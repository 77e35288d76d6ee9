package sdl

import (
	"path"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

var (
	includesTTF = lazy.Regexp(`(?m)^\s*#\s*include\s*[<"](?:SDL2/)?SDL_ttf\.h[>"]`)
	opensTTF    = lazy.Regexp(`\bTTF_OpenFont\w*\s*\(`)
	callsTTF    = lazy.Regexp(`\bTTF_(?:OpenFont\w*|Init)\s*\(`)
	sources     = []*language.Language{language.CPlus}
)

var ttf = kind{
	title:    "SDL_ttf",
	next:     "call app_type_load(NULL, 1) after TTF_Init(), and build the game again",
	way:      platform.Way("C", `app_type_render(APP_TYPE_{member}, "07:40")`),
	language: language.CPlus,
	built:    true,
	colour:   platform.Colour.Bytes,
	upper:    true,
	names:    lazy.Words("ROLES"),
	short: map[string]string{
		platform.PartFallback: "a font that cannot be loaded is an error with its file",
		platform.PartTracking: "SDL_ttf does not space letters",
		platform.PartLine:     "SDL_ttf draws line after line; app_type_line gives the distance",
		platform.PartShadow:   "", platform.PartSmooth: "", platform.PartRoom: "",
	},
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
}

// SDL is the platform of SDL_ttf: folders whose sources include its header, the nearest upward with a build.
var SDL = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "sdl", Title: "SDL_ttf", Kind: platform.ByFile, Typed: `TTF_OpenFont("…", …)`,
		Minimum: "SDL 2 with SDL_ttf 2.0.15; C99 or C++",
		Gets:    "with CMake or a Makefile: the folder apptype with the fonts, and a loader with roles, outlines and shadows, whose errors name the file",
		Cannot:  []string{"tracking", "blurred shadows", "another font where a face is missing", "SDL 3"},
	},
	Names: platform.FileNames, Like: Love,
	Find: func(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
		// The header can be taken in through another one.
		shows := func(f string, clean []byte) bool {
			return (path.Ext(f) != ".hpp" || opensTTF.Match(clean)) && (includesTTF.Match(clean) || callsTTF.Match(clean))
		}
		return ttf.roots(tree, []string{"SDL_ttf.h", "TTF_"}, shows, func(f string) string { return platform.CRoot(tree, f) })
	},
}, In: func(tree platform.Tree, dir string, opt platform.Options) (platform.Site, error) {
	for _, f := range tree.Under(dir) {
		if language.Of(f) == language.CPlus && path.Ext(f) != ".hpp" {
			return ttf.site(tree, dir, f), nil
		}
	}
	return ttf.site(tree, dir, ""), nil
}}

// ending is that of the loader's source, which is both C and C++: that of the game's own.
func (s *site) ending() string {
	if s.kind.built && s.main != "" && path.Ext(s.main) != ".c" && path.Ext(s.main) != ".h" {
		return path.Ext(s.main)
	}
	return ".c"
}
