package pixel

import (
	"bytes"
	"encoding/binary"
	"slices"
	"unicode/utf8"

	"notaria/internal/fault"
)

var (
	psf1Magic = []byte{0x36, 0x04}
	psf2Magic = []byte{0x72, 0xb5, 0x4a, 0x86}
)

// IsPSF says whether a file is a PC Screen Font of version 1 or 2, by its first bytes.
func IsPSF(data []byte) bool {
	return bytes.HasPrefix(data, psf1Magic) || bytes.HasPrefix(data, psf2Magic)
}

// psf is what both versions tell.
type psf struct {
	width, height, size, count int
	pictures, names            []byte // names is the table of codepoints, nil if there is none
	two                        bool
}

// ReadPSF reads a PC Screen Font, the kind of a Linux console. Such a font has no baseline: it is
// where its A ends, or else the bottom. Without a table of codepoints the places count.
func ReadPSF(data []byte) (*Font, error) {
	p, err := readPSF(data)
	if err != nil {
		return nil, err
	}
	row := (p.width + 7) / 8
	glyphs := make([]Glyph, p.count)
	for i := range glyphs {
		g := Glyph{Advance: p.width * Sub, Width: p.width, Height: p.height}
		picture := p.pictures[i*p.size:]
		for y := range p.height {
			for x := range p.width {
				g.Pix = append(g.Pix, picture[y*row+x/8]>>(7-x%8)&1)
			}
		}
		glyphs[i] = g.trim()
	}
	f := &Font{Depth: 1, Em: float64(p.height), Ascent: p.height}
	seen := map[rune]bool{}
	if p.names == nil {
		for i, g := range glyphs {
			g.Rune = rune(i)
			f.Glyphs = append(f.Glyphs, g)
		}
	} else {
		p.named(func(i int, r rune) {
			if seen[r] {
				return
			}
			seen[r] = true
			g := glyphs[i]
			g.Rune = r
			f.Glyphs = append(f.Glyphs, g)
		})
	}
	slices.SortStableFunc(f.Glyphs, func(a, b Glyph) int { return int(a.Rune) - int(b.Rune) })
	f.Glyphs = slices.CompactFunc(f.Glyphs, func(a, b Glyph) bool { return a.Rune == b.Rune })
	f.baseline()
	return f, f.valid()
}

func readPSF(data []byte) (psf, error) {
	var p psf
	var start int
	hasNames := false
	switch {
	case bytes.HasPrefix(data, psf2Magic) && len(data) >= 32:
		at := func(i int) int { return int(binary.LittleEndian.Uint32(data[4*i:])) }
		p = psf{width: at(7), height: at(6), size: at(5), count: at(4), two: true}
		start, hasNames = at(2), at(3)&1 != 0
	case bytes.HasPrefix(data, psf1Magic) && len(data) >= 4:
		p = psf{width: 8, height: int(data[3]), size: int(data[3]), count: 256}
		if data[2]&1 != 0 {
			p.count = 512
		}
		start, hasNames = 4, data[2]&6 != 0
	default:
		return p, fault.Form("expected a PSF file of version 1 or 2, found another")
	}
	const side = 4096
	if p.width < 1 || p.height < 1 || p.width > side || p.height > side || p.size < (p.width+7)/8*p.height || p.size > side*side || p.count < 1 || p.count > mostBDFGlyphs ||
		start < 0 || start > len(data) || p.count > (len(data)-start)/p.size || p.count > mostPixels/(p.width*p.height) {
		return p, fault.Form("expected %d pictures of %dx%d pixels in PSF, found the end of the file, or sizes that cannot be", p.count, p.width, p.height)
	}
	p.pictures = data[start : start+p.size*p.count]
	if hasNames {
		p.names = data[start+p.size*p.count:]
	}
	return p, nil
}

// named calls fn with the codepoints of each picture; sequences of several are passed over.
func (p psf) named(fn func(i int, r rune)) {
	b := p.names
	for i := 0; i < p.count && len(b) > 0; i++ {
		inSequence := false
		for len(b) > 0 {
			if p.two {
				c := b[0]
				if c == 0xFF || c == 0xFE {
					b = b[1:]
					if c == 0xFF {
						break
					}
					inSequence = true
					continue
				}
				r, n := utf8.DecodeRune(b)
				if b = b[n:]; !inSequence && (r != utf8.RuneError || n > 1) {
					fn(i, r)
				}
				continue
			}
			if len(b) < 2 {
				return
			}
			v := binary.LittleEndian.Uint16(b)
			if b = b[2:]; v == 0xFFFF {
				break
			}
			if inSequence = inSequence || v == 0xFFFE; !inSequence {
				fn(i, rune(v))
			}
		}
	}
}

// baseline puts the line where A ends.
func (f *Font) baseline() {
	a, ok := f.Glyph('A')
	if !ok {
		return
	}
	if a.Height == 0 {
		return
	}
	f.Ascent, f.Descent = f.Ascent-a.Y, a.Y
	for i := range f.Glyphs {
		f.Glyphs[i].Y -= a.Y
	}
}
