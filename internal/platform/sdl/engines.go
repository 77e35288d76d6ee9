package sdl

import (
	"path"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

var (
	importsPygame = lazy.Regexp(`(?m)^[ \t]*(?:import\s+pygame\b|from\s+pygame\b[\w.]*\s+import\b)`)
	callsLove     = lazy.Regexp(`\blove\.\w+`)
	python        = []*language.Language{language.Python}
	lua           = []*language.Language{language.Lua}
)

// pythonMember and luaMember are a role of a module that goes by another name.
var (
	pythonMember = lazy.Regexp(`^\.([A-Z]\w*)`)
	luaMember    = lazy.Regexp(`^(?:\.(\w+)|\s*\[\s*["']([\w-]+)["']\s*\])`)
)

var pygame = kind{
	title:    "pygame",
	next:     "import app_type; take the folder apptype along when you pack the game",
	way:      platform.Way("Python", `app_type.{member}.draw(surface, "07:40", (20, 40))`),
	language: language.Python,
	colour:   platform.Colour.Bytes,
	upper:    true,
	names:    lazy.Words("FOLDER ROLES report faces"),
	short: map[string]string{
		platform.PartFallback: "a font that cannot be loaded is an error with its file",
		platform.PartTracking: "pygame does not space letters",
		platform.PartShadow:   "", platform.PartSmooth: "", platform.PartRoom: "",
	},
	uses: []platform.Use{
		{Languages: python, Kind: usePath, Pattern: lazy.Regexp(`\b(?:font|freetype|ftfont)\.Font\s*\(\s*["']([^"'\n\\]*\.(?i:ttf|otf|ttc))["']`)},
		{Languages: python, Kind: usePath, Named: true, Pattern: lazy.Regexp(`\b(?:font|freetype|ftfont)\.Font\s*\(\s*([A-Za-z_][\w.]*)\s*,`)},
		{Languages: python, Kind: useSystem, Pattern: lazy.Regexp(`\bSysFont\s*\(\s*["']([^"'\n\\]*)["']`)},
		{Languages: python, Kind: useRole, Pattern: lazy.Regexp(`\bapp_type\.([A-Z]\w*)`)},
		{Languages: python, Kind: useName, Pattern: lazy.Regexp(`\bapp_type\.ROLES\s*\[\s*["']([\w-]+)["']`)},
		{Languages: python, Kind: useRole, Pattern: lazy.Regexp(`\bgetattr\s*\(\s*app_type\s*,\s*["'](\w+)["']`)},
		{Languages: python, Kind: useRole, List: true, Pattern: lazy.Regexp(`\bfrom\s+(?:[\w.]+\.)?app_type\s+import\s+([^()\n]+)`)},
		{Languages: python, Kind: useRole, List: true, Pattern: lazy.Regexp(`\bfrom\s+(?:[\w.]+\.)?app_type\s+import\s*\(([^()]+)\)`)},
		{Languages: python, Kind: useRole, Member: pythonMember, Pattern: lazy.Regexp(`\bimport\s+(?:[\w.]+\.)?app_type\s+as\s+(\w+)`)},
		{Languages: python, Kind: useRole, Member: pythonMember, Pattern: lazy.Regexp(`\bfrom\s+[\w.]+\s+import\s+(?:[^()\n]*,\s*)?app_type\s+as\s+(\w+)`)},
		{Languages: python, Kind: useRole, Member: pythonMember, Pattern: lazy.Regexp(`(?m)^\s*(\w+)\s*=\s*app_type\s*$`)},
	},
	files: func(*site) map[string]string { return map[string]string{"app_type.py": "app_type.py"} },
}

var love = kind{
	title:    "LÖVE",
	next:     `local apptype = require("apptype")`,
	way:      platform.Way("Lua", `apptype.{member}:draw("07:40", 20, 40)`),
	language: language.Lua,
	colour:   platform.Colour.Fractions,
	names:    lazy.Words("roles load report"),
	short: map[string]string{
		platform.PartFallback: "a font that cannot be loaded is an error with its file",
		platform.PartTracking: "LÖVE does not space letters",
		platform.PartShadow:   "", platform.PartSmooth: "", platform.PartRoom: "",
	},
	uses: []platform.Use{
		{Languages: lua, Kind: usePath, Pattern: lazy.Regexp(`\b(?:newFont|setNewFont|newRasterizer|newTrueTypeRasterizer)\s*\(\s*["']([^"'\n\\]*\.(?i:ttf|otf|ttc))["']`)},
		{Languages: lua, Kind: usePath, Named: true, Pattern: lazy.Regexp(`\b(?:newFont|setNewFont)\s*\(\s*([A-Za-z_][\w.]*)\s*[,)]`)},
		{Languages: lua, Kind: useRole, Pattern: lazy.Regexp(`\bapptype\.(\w+)`)},
		{Languages: lua, Kind: useName, Pattern: lazy.Regexp(`\bapptype\.roles\s*\[\s*["']([\w-]+)["']\s*\]`)},
		{Languages: lua, Kind: useRole, Pattern: lazy.Regexp(`\bapptype\s*\[\s*["']([\w-]+)["']\s*\]`)},
		{Languages: lua, Kind: useRole, Pattern: lazy.Regexp(`\brequire\s*\(?\s*["'](?:[\w.]+\.)?apptype["']\s*\)?\s*\.(\w+)`)},
		{Languages: lua, Kind: useRole, Member: luaMember, Pattern: lazy.Regexp(`\b(\w+)\s*=\s*require\s*\(?\s*["'](?:[\w.]+\.)?apptype["']\s*\)?`)},
		{Languages: lua, Kind: useRole, Member: luaMember, Pattern: lazy.Regexp(`\blocal\s+(\w+)\s*=\s*apptype\s`)},
	},
	files: func(*site) map[string]string { return map[string]string{"apptype.lua": folder + "/init.lua"} },
}

// Love is the platform of LÖVE: folders with a main.lua that calls it.
var Love = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "love", Title: "LÖVE", Kind: platform.ByFile, Typed: `love.graphics.newFont("…", …)`,
		Minimum: "LÖVE 11",
		Gets:    "the folder apptype with the fonts, and a loader with roles, outlines and shadows, whose errors name the file",
		Cannot:  []string{"tracking", "blurred shadows", "another font where a face is missing"},
	},
	Names: platform.FileNames,
	Find: func(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
		return love.roots(tree, []string{"love."}, func(f string, clean []byte) bool { return path.Base(f) == "main.lua" && callsLove.Match(clean) }, platform.Folder)
	},
}, In: love.in}

// Pygame is the platform of pygame: folders with Python that imports it.
var Pygame = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "pygame", Title: "pygame", Kind: platform.ByFile, Typed: `pygame.font.Font("…", …)`,
		Minimum: "pygame 2; Python 3.6",
		Gets:    "the folder apptype with the fonts, and a loader with roles, outlines and shadows, whose errors name the file",
		Cannot:  []string{"tracking", "blurred shadows", "another font where a face is missing"},
	},
	Names: platform.FileNames, Like: Love,
	Find: func(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
		return pygame.roots(tree, []string{"pygame"}, func(_ string, clean []byte) bool { return importsPygame.Match(clean) }, platform.Folder)
	},
}, In: pygame.in}
