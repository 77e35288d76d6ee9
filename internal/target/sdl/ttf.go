package sdl

import (
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/target"
)

// SDL is the platform of SDL_ttf.
type SDL struct{}

var (
	includesTTF = regexp.MustCompile(`(?m)^\s*#\s*include\s*[<"](?:SDL2/)?SDL_ttf\.h[>"]`)
	executable  = regexp.MustCompile(`(?i)\badd_executable\s*\(\s*([\w.${}-]+)`)
	// sourceList and objectList are a Makefile's lists on one line.
	sourceList = regexp.MustCompile(`(?m)^((SRCS?|SOURCES?|CSRCS?|CPPSRCS?)\s*[:+?]?=[^\n\\]*[^\n\\\s])[ \t]*\r?$`)
	objectList = regexp.MustCompile(`(?m)^((OBJS?|OBJECTS?)\s*[:+?]?=[^\n\\]*[^\n\\\s])[ \t]*\r?$`)
	sources    = []*language.Language{language.CPlus}
)

var ttf = kind{
	about: target.About{
		Name: "sdl", Title: "SDL_ttf", Kind: target.ByFile, Typed: `TTF_OpenFont("…", …)`,
		Minimum: "SDL 2 with SDL_ttf 2.0.15; C99 or C++",
		Cannot:  []string{"tracking", "blurred shadows", "another font where a face is missing", "SDL 3"},
	},
	title:    "SDL_ttf",
	next:     "call app_type_load(NULL, 1) after TTF_Init(), draw with app_type_render(APP_TYPE_ROLE, text), and build the game again",
	language: language.CPlus,
	upper:    true,
	names:    language.Set("ROLES"),
	short: map[string]string{
		target.PartFallback: "a font that cannot be loaded is an error with its file",
		target.PartTracking: "SDL_ttf does not space letters",
		target.PartLine:     "SDL_ttf draws line after line; app_type_line gives the distance",
		target.PartShadow:   "", target.PartSmooth: "", target.PartRoom: "",
	},
	whole: func(r target.Role) map[string]float64 { return map[string]float64{"size": r.Size} },
	uses: []target.Use{
		{Languages: sources, Kind: usePath, Pattern: regexp.MustCompile(`\bTTF_OpenFont(?:Index|DPI)?\s*\(\s*"([^"\n\\]*)"`)},
		{Languages: sources, Kind: useRole, Pattern: regexp.MustCompile(`\bAPP_TYPE_(\w+)`)},
	},
	files: func(s *site) map[string]string {
		files := map[string]string{"apptype.c": folder + "/apptype" + s.ending(), "apptype.h": folder + "/apptype.h"}
		if path.Base(s.build) == "CMakeLists.txt" {
			files["apptype.cmake"] = folder + "/apptype.cmake"
		} else if s.build != "" {
			files["apptype.mk"] = folder + "/apptype.mk"
		}
		return files
	},
	entries: (*site).buildEntries,
}

// About describes the platform.
func (SDL) About() target.About { return ttf.about }

// Type returns the file's name.
func (SDL) Type(faces []face.Face) []string { return typed(faces) }

// Sites finds the folders whose sources include SDL_ttf.h: the nearest upward with a build.
func (SDL) Sites(tree target.Tree, opt target.Options) ([]target.Site, error) {
	shows := func(f string, clean []byte) bool { return path.Ext(f) != ".hpp" && includesTTF.Match(clean) }
	return ttf.roots(tree, "SDL_ttf.h", shows, func(f string) string {
		for dir := target.Folder(f); ; dir = target.Folder(dir) {
			for _, base := range []string{"CMakeLists.txt", "Makefile"} {
				at := path.Join(dir, base)
				if !slices.Contains(tree.Named(base), at) {
					continue
				}
				if raw, err := tree.Read(at); err == nil && (base == "Makefile" || executable.Match(language.CMake.Blank(raw))) {
					return dir
				}
			}
			if dir == "" {
				return target.Folder(f)
			}
		}
	})
}

// SiteIn is the game in a folder.
func (SDL) SiteIn(tree target.Tree, dir string, opt target.Options) (target.Site, error) {
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

// findBuild finds the target of CMake, or the list of a Makefile, that the loader joins.
func (s *site) findBuild() {
	if !s.isC() {
		return
	}
	if at := s.Beside("CMakeLists.txt"); at != "" {
		if raw, err := s.Tree.Read(at); err == nil {
			if m := executable.FindSubmatch(language.CMake.Blank(raw)); m != nil {
				s.build, s.target = at, string(m[1])
				return
			}
		}
	}
	at := s.Beside("Makefile")
	if at == "" {
		return
	}
	raw, err := s.Tree.Read(at)
	if err != nil {
		return
	}
	clean := language.CMake.Blank(raw)
	for _, list := range []*regexp.Regexp{sourceList, objectList} {
		if m := list.FindSubmatch(clean); m != nil {
			s.build, s.line, s.list = at, string(m[1]), string(m[2])
			return
		}
	}
}

func (s *site) buildEntries() []edit.Entry {
	e := edit.Entry{File: s.build, Syntax: source.Lines{}.Name()}
	switch {
	case s.build == "":
		return nil
	case s.target != "":
		e.Place, e.Value = source.Last(), "include("+folder+"/apptype.cmake)"
	default:
		e.Place, e.Value = source.After(s.line), "include "+folder+"/apptype.mk"
	}
	return []edit.Entry{e}
}

// colour is as the loader's language writes it; white where a role has none.
func (s *site) colour(c *target.Colour) string {
	if c == nil {
		c = &target.Colour{R: 255, G: 255, B: 255, A: 255}
	}
	if s.kind.about.Name == "love" {
		f := c.Fraction()
		return fmt.Sprintf("%s, %s, %s, %s", language.Number(f[0]), language.Number(f[1]), language.Number(f[2]), language.Number(f[3]))
	}
	return fmt.Sprintf("%d, %d, %d, %d", c.R, c.G, c.B, c.A)
}
