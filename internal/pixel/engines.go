package pixel

import (
	"fmt"
	"image"
	"image/color"
	"strings"

	"notaria/internal/language"
)

// engineData is what the templates of game engines show.
type engineData struct {
	Name, About, Class, Package string
	Ascent, Line                int
	Width, Height               int
	Pixels                      string
	Chars, Kerns                []string
	Characters                  string // a literal
}

func (f *Font) engine(name string) engineData {
	d := engineData{Name: name, Class: language.Pascal(strings.Split(name, "_")), Ascent: f.Ascent, Line: f.LineHeight(),
		About: language.CommentText(fmt.Sprintf("%s, %s pixels per em, lines of %d pixels, depth %d", f.Name, language.Number(f.Em), f.LineHeight(), f.Depth))}
	return d
}

// Godot is the sheet as a bitmap font of Godot 3, one text resource that holds the picture, so that
// nothing has to be imported. Advances are in whole pixels there.
func (f *Font) Godot(name string) (map[string][]byte, error) {
	if err := f.valid(); err != nil {
		return nil, err
	}
	cells, width, height, err := f.layout()
	if err != nil {
		return nil, err
	}
	d := f.engine(name)
	d.Width, d.Height = width, height
	img := f.sheetImage(cells, width, height)
	var b strings.Builder
	for i := 3; i < len(img.Pix); i += 4 { // brightness and opacity of each pixel
		if i > 3 {
			b.WriteString(", ")
		}
		fmt.Fprintf(&b, "255, %d", img.Pix[i])
	}
	d.Pixels = b.String()
	for i, c := range cells {
		r := f.Glyphs[i].Rune
		if r > 0xFFFF {
			return nil, fmt.Errorf("U+%04X: expected characters up to U+FFFF for Godot 3: leave it out", r)
		}
		d.Chars = append(d.Chars, fmt.Sprintf("%d, 0, %d, %d, %d, %d, %d, %d, %d", r, c.X, c.Y, c.Width, c.Height, -c.Origin, f.Ascent-c.Baseline, pixels(f.Glyphs[i].Advance)))
	}
	for _, k := range f.Kerns {
		if v := (k.Value + Sub/2) >> 4; v != 0 { // it counts what is taken away
			d.Kerns = append(d.Kerns, fmt.Sprintf("%d, %d, %d", k.Left, k.Right, -v))
		}
	}
	return render(map[string]string{"godot.tres": name + ".tres"}, d)
}

// separator is the colour between the characters of LÖVE's form.
var separator = color.NRGBA{R: 255, B: 255, A: 255}

// Love is a line of characters as LÖVE reads them: apart by columns of a colour of their own, each
// as wide as it moves the pen. A module beside it loads it.
func (f *Font) Love(name string) (map[string][]byte, error) {
	if err := f.valid(); err != nil {
		return nil, err
	}
	cells, _, _, err := f.layout()
	if err != nil {
		return nil, err
	}
	if len(cells) == 0 {
		return nil, fmt.Errorf("expected characters for LÖVE, found none")
	}
	width := 1
	for _, c := range cells {
		width += c.Width + 1
	}
	if width > maxSheet {
		return nil, fmt.Errorf("expected a line of at most %d pixels for LÖVE, found %d: choose fewer characters, or a smaller size", maxSheet, width)
	}
	x, high := 1, cells[0].Height
	var characters strings.Builder
	for i := range cells { // the same cells, in one line
		cells[i].X, cells[i].Y = x, 0
		x += cells[i].Width + 1
		characters.WriteRune(f.Glyphs[i].Rune)
	}
	img := f.sheetImage(cells, width, high)
	for i, at := -1, 0; ; i++ {
		if i >= 0 {
			at = cells[i].X + cells[i].Width
		}
		for y := range high {
			img.SetNRGBA(at, y, separator)
		}
		if i == len(cells)-1 {
			break
		}
	}
	d := f.engine(name)
	d.Characters = language.Lua.Literal(characters.String())
	out, err := render(map[string]string{"love.lua": name + ".lua"}, d)
	if err != nil {
		return nil, err
	}
	out[name+"_line.png"], err = pngBytes(image.Image(img))
	return out, err
}

// LibGDX is the sheet with a class that loads it, in a package ("" for none).
func (f *Font) LibGDX(name, pkg string) (map[string][]byte, error) {
	out, err := f.Sheet(name)
	if err != nil {
		return nil, err
	}
	d := f.engine(name)
	d.Package = pkg
	code, err := render(map[string]string{"libgdx.java": "PixelFontLoader.java"}, d)
	if err != nil {
		return nil, err
	}
	for name, text := range code {
		out[name] = text
	}
	return out, nil
}
