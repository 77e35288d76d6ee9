package pixel

import (
	"fmt"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/language"
)

// lvglMap is a range of codepoints: all of them, or a list (lv_font_fmt_txt_cmap_t).
type lvglMap struct {
	Start, Length, First, Count int
	List                        string // offsets from Start; "" for a dense range
	Name                        string // of the list
}

type lvglGlyph struct {
	At, Advance, Width, Height, X, Y int
	Rune                             string
}

type lvglData struct {
	Name, About      string
	Depth            int
	Line, Base       int
	Rows             []string
	Include          string // as in the project's sources; "" to look for it
	bytes            int
	Glyphs           []lvglGlyph
	Maps             []lvglMap
	Large            bool // some field is beyond the small form
	Under, Thickness int
	Packed, Filtered bool // the pixels are compressed; rows are the differences to the row above
	KernScale        int  // 1/16
	Pairs            *lvglPairs
	Classes          *lvglClasses
}

// Limits of LVGL's small form of a glyph's record (lv_font_fmt_txt_glyph_dsc_t). The large one,
// for which the library is built with LV_FONT_FMT_TXT_LARGE, holds all that a font can have here.
const (
	lvglSmallAt      = 1<<20 - 1
	lvglSmallAdvance = 1<<12 - 1
	lvglSmallSide    = 255
)

// LVGL is the font as a source and a header for LVGL 8 and 9, under the names of their files.
// Name must be an identifier of C. Include is how the project's sources name the library's header,
// "" to look for it. Compressed pixels need an option of the library, which the source checks.
func (f *Font) LVGL(name, include string, compressed bool) (map[string][]byte, error) {
	d, err := f.lvgl(name, compressed)
	if err != nil {
		return nil, err
	}
	d.Include = include
	return render(map[string]string{"lvgl.c": name + ".c", "lvgl.h": name + ".h"}, d)
}

// LVGLBytes is what the font takes in flash: pixels, records of glyphs of 8 bytes (16 in the large
// form), maps and kerning, as a chip of 32 bits has them.
func (f *Font) LVGLBytes(compressed bool) (int, error) {
	d, err := f.lvgl("font", compressed)
	if err != nil {
		return 0, err
	}
	return d.bytes, nil
}

// mostPackedDepth is the largest depth whose compressed pixels LVGL unpacks (lv_font_fmt_txt.c).
const mostPackedDepth = 4

// lvgl is what the templates show.
func (f *Font) lvgl(name string, compressed bool) (lvglData, error) {
	if err := f.valid(); err != nil {
		return lvglData{}, err
	}
	if compressed && f.Depth > mostPackedDepth {
		return lvglData{}, fault.Form("expected a depth of 1, 2 or 4 bits for compressed pixels, which is what LVGL unpacks, found %d", f.Depth)
	}
	d := lvglData{Name: name, Depth: f.Depth, Line: f.LineHeight(), Base: f.Descent, Maps: f.lvglMaps(name), Under: -max(1, f.Descent/2), Thickness: max(1, f.LineHeight()/18),
		About: language.CPlus.Comment(fmt.Sprintf("%s, %s pixels per em, lines of %d pixels, depth %d", f.Name, language.Number(f.Em), f.LineHeight(), f.Depth))}
	pack := f.pack
	if d.Packed = compressed; compressed {
		d.Filtered, pack = f.shorter()
	}
	var pixels []byte
	for _, g := range f.Glyphs {
		d.Large = d.Large || len(pixels) > lvglSmallAt || g.Advance > lvglSmallAdvance || g.Width > lvglSmallSide || g.Height > lvglSmallSide || g.X != int(int8(g.X)) || g.Y != int(int8(g.Y))
		d.Glyphs = append(d.Glyphs, lvglGlyph{len(pixels), g.Advance, g.Width, g.Height, g.X, g.Y, fmt.Sprintf("U+%04X", g.Rune)})
		pixels = append(pixels, pack(g)...)
	}
	if len(pixels) == 0 {
		pixels = []byte{0} // C has no empty arrays
	}
	d.Rows = rows(pixels)
	kern := f.lvglKerning(&d)
	record := 8
	if d.Large {
		record = 16
	}
	d.bytes = len(pixels) + record*(len(f.Glyphs)+1) + kern
	for _, m := range d.Maps {
		d.bytes += 20 + 2*m.Count
	}
	return d, nil
}

// dense is how many codepoints in a row are worth a range of their own.
const dense = 8

// lvglMaps groups the codepoints: runs as ranges, the others between them as lists. Glyphs
// are numbered from 1, in the order of their codepoints.
func (f *Font) lvglMaps(name string) []lvglMap {
	var out []lvglMap
	var loose []int // places of glyphs that stand alone
	flush := func() {
		for len(loose) > 0 {
			start, n := int(f.Glyphs[loose[0]].Rune), 0
			var list []string
			for n < len(loose) && int(f.Glyphs[loose[n]].Rune)-start <= 0xffff {
				list = append(list, fmt.Sprintf("0x%x", int(f.Glyphs[loose[n]].Rune)-start))
				n++
			}
			out = append(out, lvglMap{Start: start, Length: int(f.Glyphs[loose[n-1]].Rune) - start + 1, First: loose[0] + 1, Count: n, List: strings.Join(list, ", "), Name: fmt.Sprintf("%s_list_%d", name, len(out))})
			loose = loose[n:]
		}
	}
	for i := 0; i < len(f.Glyphs); {
		n := 1
		for i+n < len(f.Glyphs) && f.Glyphs[i+n].Rune == f.Glyphs[i].Rune+rune(n) && n < 0xffff {
			n++
		}
		if n >= dense {
			flush()
			out = append(out, lvglMap{Start: int(f.Glyphs[i].Rune), Length: n, First: i + 1})
		} else {
			for k := range n {
				loose = append(loose, i+k)
			}
		}
		i += n
	}
	flush()
	return out
}
