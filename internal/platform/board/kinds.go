package board

import (
	"path"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/pixel"
	"notaria/internal/platform"
	"notaria/internal/platform/board/storage"
)

var (
	includesU8g2  = lazy.Regexp(`(?m)^[ \t]*#[ \t]*include[ \t]*[<"](?:[\w./-]*/)?(?:U8g2lib|u8g2)\.h[>"]`)
	asksLVGL      = lazy.Regexp(`(?mi)^[^#;\n]*\blvgl(?:/lvgl)?\b`)
	asksU8g2      = lazy.Regexp(`(?mi)^[^#;\n]*\bU8g2\b`)
	showsStorage  = lazy.Regexp(`"storage"\s*:\s*\[`)
	sources       = []*language.Language{language.CPlus, language.ObjectiveC} // headers count as the latter
	scripts       = []*language.Language{language.JavaScript}
	budgetOption  = platform.Option{Key: optBudget, Kind: platform.KindWord, Help: `the bytes of flash that all roles may take, such as "48000"; more is an error`}
	wordsAreDrawn = `\s*\((?:[^;"\n]*,)?\s*(?:u8?)?"((?:[^"\n\\]|\\.)*)"`
	roleInC       = platform.Use{Languages: sources, Kind: useRole, Pattern: lazy.Regexp(`\bAPP_TYPE_([A-Z]\w*)`)}
	lacksNothing  = "a character that a pixel font does not have is not drawn"
	colourIsDrawn = "the colour is the one that is drawn with"
	noOutline     = "pixels have no outline"
	lineIsDrawn   = "each line is placed by code; the header gives the font's own"
)

// sourceAndHeader are what most forms are.
func sourceAndHeader(symbol string) []string { return []string{symbol + ".c", symbol + ".h"} }

var lvgl = kind{
	name:  "lvgl",
	title: "LVGL",
	next:  `#include "HEADER", and build again`,
	ways:  []platform.Showing{platform.Way("C", "app_type_style_{member}(label);"), platform.Way("C, as a font", "lv_obj_set_style_text_font(label, APP_TYPE_{constant}, 0);")},
	word:  "lvgl",
	shows: func(f string, raw []byte) bool {
		switch path.Base(f) {
		case "platformio.ini", "idf_component.yml":
			return asksLVGL.Match(raw)
		case "lv_conf.h":
			return true
		}
		return includesLVGL.Match(language.CPlus.Blank(raw))
	},
	depths: pixel.Depths,
	last:   0x10FFFF,
	write: func(s *site, f *pixel.Font, symbol, include string) (map[string][]byte, error) {
		return f.LVGL(symbol, include, s.opt.Yes(optCompressed) && f.Depth < 8) // LVGL unpacks no other
	},
	files:  sourceAndHeader,
	header: "lvgl.h", flash: "lvgl",
	short: map[string]string{
		platform.PartCoordinates: "", platform.PartFixed: "", platform.PartLine: "", platform.PartTracking: "", platform.PartColour: "", platform.PartSmooth: "",
		platform.PartOutline: noOutline, platform.PartFallback: lacksNothing,
	},
	uses: []platform.Use{roleInC, {Languages: sources, Kind: useFont, Pattern: lazy.Regexp(`\bLV_FONT_DECLARE\s*\(\s*(\w+)\s*\)`)},
		{Languages: sources, Kind: useFont, Pattern: lazy.Regexp(`text_font\s*\([^;()]*&\s*(\w+)`)}, {Languages: sources, Kind: useText, Pattern: lazy.Regexp(`\blv_(?:label|textarea|checkbox|dropdown|roller|msgbox|list)_(?:set_(?:text(?:_static)?|options|placeholder_text)|add_\w+)` + wordsAreDrawn)}},
}

var u8g2 = kind{
	name:  "u8g2",
	title: "U8g2",
	next:  `#include "HEADER", and build again`,
	ways:  []platform.Showing{platform.Way("C++", "u8g2.setFont(APP_TYPE_{constant});")},
	word:  "8g2",
	shows: func(f string, raw []byte) bool {
		switch path.Base(f) {
		case "platformio.ini", "idf_component.yml":
			return asksU8g2.Match(raw)
		}
		return includesU8g2.Match(language.CPlus.Blank(raw))
	},
	depths: []int{1},
	last:   0xFFFE,
	write: func(_ *site, f *pixel.Font, symbol, _ string) (map[string][]byte, error) {
		return f.U8G2(symbol)
	},
	files:  sourceAndHeader,
	header: "u8g2.h", flash: "u8g2",
	short: map[string]string{
		platform.PartCoordinates: "", platform.PartFixed: "", platform.PartTracking: "", platform.PartSmooth: "", platform.PartLine: lineIsDrawn,
		platform.PartColour: colourIsDrawn, platform.PartOutline: noOutline, platform.PartFallback: lacksNothing,
	},
	uses: []platform.Use{roleInC, {Languages: sources, Kind: useText, Pattern: lazy.Regexp(`\b(?:drawStr(?:X2)?|drawUTF8(?:X2)?|DrawStr(?:X2)?|DrawUTF8(?:X2)?|(?i:u8g2|board|display|oled|lcd|screen)\w*\s*\.\s*print(?:ln)?)` + wordsAreDrawn)}},
}

var espruino = kind{
	name:  "espruino",
	title: "Espruino",
	next:  `call require("app_type") once, and upload the app again`,
	ways:  []platform.Showing{platform.Way("JavaScript", "g.setFont{method}();")},
	word:  `"storage"`,
	shows: func(f string, raw []byte) bool {
		return path.Base(f) == "metadata.json" && showsStorage.Match(raw)
	},
	depths: []int{1, 2, 4},
	last:   0xFF,
	write: func(_ *site, f *pixel.Font, symbol, _ string) (map[string][]byte, error) {
		body, err := f.EspruinoMethod(symbol)
		return map[string][]byte{"": []byte(body)}, err
	},
	files:  func(string) []string { return nil },
	header: "espruino.js", flash: "espruino",
	short: map[string]string{
		platform.PartCoordinates: "", platform.PartFixed: "", platform.PartTracking: "", platform.PartSmooth: "", platform.PartLine: lineIsDrawn,
		platform.PartColour: colourIsDrawn, platform.PartOutline: noOutline, platform.PartFallback: lacksNothing,
	},
	uses: []platform.Use{
		{Languages: scripts, Kind: useRole, Pattern: lazy.Regexp(`\.setFont([A-Z]\w*)\s*\(`)},
		{Languages: scripts, Kind: useText, Pattern: lazy.Regexp(`\.drawString\s*\(\s*["']((?:[^"'\n\\]|\\.)*)["']`)},
	},
}

var display = kind{
	name:   "display",
	title:  "Display in C",
	next:   `#include "HEADER", and build again`,
	ways:   []platform.Showing{platform.Way("C", `pixel_text(APP_TYPE_{constant}, "07:40", x, y, put, display);`)},
	depths: pixel.Depths,
	last:   0x10FFFF,
	write: func(_ *site, f *pixel.Font, symbol, _ string) (map[string][]byte, error) {
		return f.C(symbol)
	},
	files:  func(symbol string) []string { return append(sourceAndHeader(symbol), "pixel_font.h") },
	header: "display.h", flash: "c",
	short: map[string]string{
		platform.PartCoordinates: "", platform.PartFixed: "", platform.PartTracking: "", platform.PartSmooth: "", platform.PartLine: lineIsDrawn,
		platform.PartColour: colourIsDrawn, platform.PartOutline: noOutline, platform.PartFallback: lacksNothing,
	},
	uses: []platform.Use{roleInC, {Languages: sources, Kind: useText, Pattern: lazy.Regexp(`\bpixel_text` + wordsAreDrawn)}},
}

// The platforms of small displays. A role's own name stands for a face in code.
var (
	LVGL = lvgl.platform(platform.About{
		Pixels: true,
		Name:   "lvgl", Title: "LVGL", Kind: platform.ByRole, Typed: "APP_TYPE_ROLE; notaria pixel writes NAME_16",
		Minimum: "LVGL 8; 9",
		Gets:    "ESP-IDF, PlatformIO, CMake and Makefiles: pictures of each role's characters in the library's form, in a height that is exact to the pixel, and a header that names them by role; a budget of flash",
		Cannot:  []string{"outlines", "shadows", "another font where a character is missing"},
		Options: []platform.Option{
			{Key: optInclude, Kind: platform.KindWord, Help: `the library's header as your sources name it, such as "lvgl/lvgl.h"; found in them, if absent`},
			{Key: optCompressed, Kind: platform.KindYesNo, Help: "compressed pixels, which need LV_USE_FONT_COMPRESSED; false if absent"},
			budgetOption,
		},
	}, nil)
	U8g2 = u8g2.platform(platform.About{
		Pixels: true,
		Name:   "u8g2", Title: "U8g2", Kind: platform.ByRole, Typed: "APP_TYPE_ROLE; notaria pixel writes NAME_16",
		Minimum: "U8g2 2.25",
		Gets:    "sketches of Arduino, PlatformIO and Makefiles: pictures of each role's characters in the library's form, in a height that is exact to the pixel, and a header that names them by role; a budget of flash",
		Cannot:  []string{"depths beyond 1 bit", "kerning", "outlines", "shadows", "another font where a character is missing"},
		Options: []platform.Option{budgetOption},
	}, LVGL)
	Espruino = espruino.platform(platform.About{
		Pixels: true,
		Name:   "espruino", Title: "Espruino", Kind: platform.ByRole, Typed: "setFontRole(); notaria pixel writes setFontName16()",
		Minimum: "Espruino 2v08",
		Gets:    "pictures of each role's characters in the form of Espruino, in a height that is exact to the pixel, and app_type.js, which names them by role; a budget of flash",
		Cannot:  []string{"depths beyond 4 bits", "characters beyond U+00FF", "kerning", "outlines", "shadows", "another font where a character is missing"},
		Options: []platform.Option{budgetOption},
	}, LVGL, storage.Syntax{})
	Display = display.platform(platform.About{
		Pixels: true,
		Name:   "display", Title: "a display in C", Kind: platform.ByRole, Typed: "APP_TYPE_ROLE; notaria pixel writes NAME_16",
		Minimum: "C99; GCC for AVR",
		Gets:    "any display in plain C: pictures of each role's characters with a small reader, in a height that is exact to the pixel, and a header that names them by role; a budget of flash",
		Cannot:  []string{"outlines", "shadows", "another font where a character is missing", "finding it: name it by [[site]]"},
		Options: []platform.Option{budgetOption},
	}, LVGL)
)
