package pixel

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"fmt"
	"math"
	"strings"
	"text/template"

	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

//go:embed *.tmpl
var texts embed.FS

var templates = lazy.Of(func() *template.Template { return template.Must(template.ParseFS(texts, "*.tmpl")) })

// The form of plain C: one array of bytes, numbers with the least significant byte first.
// The head is 20 bytes, each glyph's record 18, by codepoint, each pair's 8, by its codepoints;
// then the pixels, each glyph from a byte on, row by row from the top, the most significant
// bits first.
//
//	0  'N' 'P'        7  0
//	2  version, 1     8  ascent, pixels above the baseline (2 bytes)
//	3  bits a pixel  10  descent, pixels below it (2 bytes)
//	4  glyphs (3)    12  bytes in all (4)
//	                 16  pairs that are kerned (4)
//
//	0  codepoint (3)  6  left edge from the pen (2, signed)   12  height (2)
//	3  0              8  bottom edge from the baseline (2, signed)  14  place of its pixels,
//	4  advance (2)   10  width (2)                                     from the array's start (4)
//
//	0  left codepoint (3)   3  right codepoint (3)   6  1/16 pixel between them (2, signed)
const (
	cHead   = 20
	cRecord = 18
	cPair   = 8
)

// CBytes is the font in that form.
func (f *Font) CBytes() ([]byte, error) {
	if err := f.valid(); err != nil {
		return nil, err
	}
	var table, pixels []byte
	le := func(b []byte, v, n int) []byte {
		for range n {
			b, v = append(b, byte(v)), v>>8
		}
		return b
	}
	start := cHead + cRecord*len(f.Glyphs) + cPair*len(f.Kerns)
	for _, g := range f.Glyphs {
		if g.Advance > math.MaxUint16 { // sides and places are within the form's bounds
			return nil, fault.Form("U+%04X: expected an advance of at most 4095 pixels, found %d", g.Rune, g.Advance/Sub)
		}
		table = le(append(le(table, int(g.Rune), 3), 0), g.Advance, 2)
		table = le(le(le(le(table, g.X, 2), g.Y, 2), g.Width, 2), g.Height, 2)
		table = le(table, start+len(pixels), 4)
		pixels = append(pixels, f.pack(g)...)
	}
	for _, k := range f.Kerns {
		v := max(math.MinInt16, min(math.MaxInt16, k.Value))
		table = le(le(le(table, int(k.Left), 3), int(k.Right), 3), v, 2)
	}
	head := le([]byte{'N', 'P', 1, byte(f.Depth)}, len(f.Glyphs), 3)
	head = le(le(append(head, 0), f.Ascent, 2), f.Descent, 2)
	head = le(le(head, start+len(pixels), 4), len(f.Kerns), 4)
	return append(append(head, table...), pixels...), nil
}

// cData is what the templates of C show.
type cData struct {
	Name, Guard, About string
	Glyphs, Bytes      int
	Rows               []string
}

// C is the font as a source and a header, and the reader, under the names of their files. Name
// must be an identifier of C.
func (f *Font) C(name string) (map[string][]byte, error) {
	raw, err := f.CBytes()
	if err != nil {
		return nil, err
	}
	d := cData{Name: name, Guard: strings.ToUpper(name) + "_H", Glyphs: len(f.Glyphs), Bytes: len(raw),
		About: language.CPlus.Comment(fmt.Sprintf("%s, %s pixels per em, lines of %d pixels, depth %d", f.Name, language.Number(f.Em), f.LineHeight(), f.Depth))}
	d.Rows = rows(raw)
	return render(map[string]string{"font.c": name + ".c", "font.h": name + ".h", "pixel_font.h": "pixel_font.h"}, d)
}

// rows writes bytes as C has them, sixteen in a line.
func rows(raw []byte) []string {
	var out []string
	for len(raw) > 0 {
		n := min(16, len(raw))
		var row strings.Builder
		for i, b := range raw[:n] {
			if i > 0 {
				row.WriteByte(' ')
			}
			fmt.Fprintf(&row, "0x%02x,", b)
		}
		out, raw = append(out, row.String()), raw[n:]
	}
	return out
}

// Forms is the SHA-256 of the templates of all forms, in hex: what is written changes with them.
func Forms() string { return forms.Get() }

var forms = lazy.Of(func() string {
	sum := sha256.New()
	list, _ := texts.ReadDir(".") // they are embedded
	for _, f := range list {
		raw, _ := texts.ReadFile(f.Name())
		sum.Write(raw)
	}
	return hex.EncodeToString(sum.Sum(nil))
})

// render executes templates, each into its file.
func render(files map[string]string, data any) (map[string][]byte, error) {
	out := map[string][]byte{}
	for tmpl, file := range files {
		var b bytes.Buffer
		if err := templates.Get().ExecuteTemplate(&b, tmpl+".tmpl", data); err != nil {
			return nil, err
		}
		out[file] = b.Bytes()
	}
	return out, nil
}

// CName makes a name an identifier of C.
func CName(name string) string {
	s := language.Snake(language.Words(name))
	if len(s) > mostName {
		s = strings.TrimRight(s[:mostName], "_")
	}
	return language.CPlus.Member(s, "font_", nil)
}

// mostName is how long a name in code is at most: files are called so, too.
const mostName = 60
