package trim

import (
	"encoding/binary"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// varies are the tables of a variable font; hints are those of its instructions, which were made for the default.
var (
	varies = []string{"fvar", "gvar", "avar", "cvar", "HVAR", "VVAR", "MVAR", "STAT"}
	hints  = []string{"fpgm", "prep", "cvt ", "hdmx", "VDMX", "LTSH"}
)

// Pin gives the tables of a static font: a variable one at a place of its design space, in the axes' own units; an axis that is not
// named stays at its default. CFF 2 becomes CFF. Instructions and hints go, for they were made for the default.
func Pin(f *sfnt.Font, at map[string]float64) (map[string][]byte, error) {
	axes, instances, err := f.Variations()
	if err != nil {
		return nil, err
	}
	if len(axes) == 0 || !f.Has("glyf") && !f.Has("CFF2") {
		return nil, fault.Form("expected a variable font with outlines (glyf or CFF2), found another")
	}
	if err := inside(axes, at); err != nil {
		return nil, err
	}
	if colr, err := f.Table("COLR"); err == nil && sfnt.Word(colr, 0) >= 1 && len(colr) >= 34 && binary.BigEndian.Uint32(colr[30:]) != 0 {
		return nil, fault.Form("expected colours that do not vary, found a table COLR with variations, which cannot be pinned here")
	}
	base, err := f.Paths()
	if err != nil {
		return nil, err
	}
	paths, err := base.At(f, at)
	if err != nil {
		return nil, err
	}
	tables, err := f.Tables()
	if err != nil {
		return nil, err
	}
	if f.Has("glyf") {
		err = pinGlyphs(paths, tables)
	} else if head, wrong := f.Head(); wrong == nil {
		var described face.Face
		if described, err = Described(f, at, ""); err == nil {
			err = pinCFF2(paths, tables, described.PostScript, int(head.UnitsPerEm))
		}
	} else {
		err = wrong
	}
	if err != nil {
		return nil, err
	}
	if err := pinHeights(f, paths.Count(), at, tables); err != nil {
		return nil, err
	}
	if err := pinLayout(f, paths.Count(), at, tables); err != nil {
		return nil, err
	}
	if err := pinMetrics(f, at, tables); err != nil {
		return nil, err
	}
	if err := pinNames(f, axes, instances, at, tables); err != nil {
		return nil, err
	}
	for _, tag := range append(append(slices.Clone(varies), hints...), sources...) {
		delete(tables, tag)
	}
	delete(tables, "DSIG")
	tables["gasp"] = sfnt.GaspBytes()
	return tables, nil
}

// inside refuses a place outside of a font's design space: an axis that it does not have, or a value beyond its range.
func inside(axes []sfnt.Axis, at map[string]float64) error {
	var known []string
	ranges := map[string]sfnt.Axis{}
	for _, a := range axes {
		known, ranges[a.Tag] = append(known, fmt.Sprintf("%s from %g to %g", a.Tag, a.Min, a.Max)), a
	}
	for _, tag := range slices.Sorted(maps.Keys(at)) {
		if a, ok := ranges[tag]; !ok || !(at[tag] >= a.Min && at[tag] <= a.Max) {
			return fault.Form("expected a place on the font's axes (%s), found %s = %g", strings.Join(known, ", "), tag, at[tag])
		}
	}
	return nil
}

// Described is what a font says of itself when it is renamed, or pinned at a place if it is a variable one: its names, weight, width,
// slant and measures. No outline is looked at.
func Described(f *sfnt.Font, at map[string]float64, rename string) (face.Face, error) {
	tables, err := f.Tables()
	if err != nil {
		return face.Face{}, err
	}
	if rename != "" {
		if tables, err = renamed(f, rename, false); err != nil {
			return face.Face{}, err
		}
		if f, err = rebuilt(tables); err != nil {
			return face.Face{}, err
		}
	}
	if at != nil {
		axes, instances, err := f.Variations()
		if err != nil {
			return face.Face{}, err
		}
		if len(axes) == 0 {
			return face.Face{}, fault.Form("expected a variable font, found one without axes")
		}
		if err := inside(axes, at); err != nil {
			return face.Face{}, err
		}
		if err := pinMetrics(f, at, tables); err != nil {
			return face.Face{}, err
		}
		if err := pinNames(f, axes, instances, at, tables); err != nil {
			return face.Face{}, err
		}
		for _, tag := range append(slices.Clone(varies), sources...) {
			delete(tables, tag)
		}
		if f, err = rebuilt(tables); err != nil {
			return face.Face{}, err
		}
	}
	described, _, err := face.Read(f, face.Options{})
	return described, err
}

// pinGlyphs writes glyf, loca and hmtx with each point where the place moves it.
func pinGlyphs(paths *sfnt.Paths, tables map[string][]byte) error {
	var glyf, loca, hmtx []byte
	drawn := 0
	for g := range paths.Count() {
		loca = binary.BigEndian.AppendUint32(loca, uint32(len(glyf)))
		data, left, err := pinned(paths, g, &drawn)
		if err != nil {
			return fmt.Errorf("glyph %d: %w", g, err)
		}
		glyf = append(glyf, data...)
		glyf = append(glyf, make([]byte, -len(data)&3)...)
		hmtx = binary.BigEndian.AppendUint16(hmtx, uint16(paths.AdvanceOf(g)))
		hmtx = binary.BigEndian.AppendUint16(hmtx, uint16(left))
	}
	loca = binary.BigEndian.AppendUint32(loca, uint32(len(glyf)))
	head, hhea := slices.Clone(tables["head"]), slices.Clone(tables["hhea"])
	if len(head) < 54 || len(hhea) < 36 {
		return fault.Form("expected tables head and hhea, found none")
	}
	head[50], head[51] = 0, 1
	binary.BigEndian.PutUint16(hhea[34:], uint16(paths.Count()))
	tables["glyf"], tables["loca"], tables["hmtx"], tables["head"], tables["hhea"] = glyf, loca, hmtx, head, hhea
	return paths.Varied()
}

// pinned is one glyph, and its left edge.
func pinned(paths *sfnt.Paths, g int, drawn *int) (data []byte, left int, err error) {
	raw := paths.Data(g)
	if len(raw) < 10 {
		return nil, 0, nil
	}
	_, _, moves, err := paths.Moved(g)
	if err != nil {
		return nil, 0, err
	}
	origin := [2]float32{}
	if n := len(moves) - 4; n >= 0 {
		origin[0] = moves[n][0]
	}
	if simple, ok := sfnt.Simple(raw); ok {
		simple.Instructions = nil
		i := 0
		for c := range simple.Contours {
			contour := slices.Clone(simple.Contours[c])
			for k := range contour {
				if i < len(moves) {
					contour[k].X += int16(math.Round(float64(moves[i][0] - origin[0])))
					contour[k].Y += int16(math.Round(float64(moves[i][1])))
				}
				i++
			}
			simple.Contours[c] = contour
		}
		data, err = simple.Bytes()
	} else {
		data, err = pinnedParts(paths, g, raw, moves, origin, drawn)
	}
	if err == nil && len(data) >= 10 {
		left = int(int16(binary.BigEndian.Uint16(data[2:])))
	}
	return data, left, err
}

// Further flags of parts (OpenType, glyf).
const (
	partPlaced = 1 << 1 // by numbers, and not by points
	partHints  = 1 << 8
)

// pinnedParts is a composite glyph whose parts are where the place moves them; its box is that of what is drawn.
func pinnedParts(paths *sfnt.Paths, g int, raw []byte, moves [][2]float32, origin [2]float32, drawn *int) ([]byte, error) {
	out := slices.Clone(raw[:10])
	at := 10
	for i := 0; at+6 <= len(raw); i++ {
		flags := sfnt.Word(raw, at)
		var dx, dy int
		size := 2
		if flags&partWords != 0 {
			size, dx, dy = 4, int(int16(sfnt.Word(raw, at+4))), int(int16(sfnt.Word(raw, at+6)))
		} else {
			dx, dy = int(int8(raw[at+4])), int(int8(raw[at+5]))
		}
		scale := partSize(flags) - size
		if at+4+size+scale > len(raw) {
			return nil, fault.Form("expected parts inside of the glyph, found its end")
		}
		written := flags &^ partHints
		args := raw[at+4 : at+4+size]
		if flags&partPlaced != 0 && i < len(moves)-4 {
			dx += int(math.Round(float64(moves[i][0] - origin[0])))
			dy += int(math.Round(float64(moves[i][1])))
			written |= partWords
			args = binary.BigEndian.AppendUint16(binary.BigEndian.AppendUint16(nil, uint16(dx)), uint16(dy))
		}
		out = binary.BigEndian.AppendUint16(out, uint16(written))
		out = append(append(append(out, raw[at+2:at+4]...), args...), raw[at+4+size:at+4+size+scale]...)
		at += 4 + size + scale
		if flags&partMore == 0 {
			break
		}
	}
	path, err := paths.Outline(g)
	if err != nil {
		return nil, err
	}
	if *drawn += len(path); *drawn > 8*mostCompared {
		return nil, fault.Form("expected composite glyphs of at most %d million segments together, found more", 8*mostCompared>>20)
	}
	box := [4]float64{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	for _, s := range path {
		for _, p := range s.P[:max(1, int(s.Op))] {
			x, y := float64(p[0]), float64(p[1])
			box = [4]float64{min(box[0], x), min(box[1], y), max(box[2], x), max(box[3], y)}
		}
	}
	for k, v := range box {
		if math.IsInf(v, 0) {
			v = 0
		}
		binary.BigEndian.PutUint16(out[2+2*k:], uint16(int16(math.Round(v))))
	}
	return out, nil
}

// every marks all glyphs.
func every(glyphs int) []bool {
	all := make([]bool, glyphs)
	for g := range all {
		all[g] = true
	}
	return all
}

// pinLayout writes GSUB, GPOS and GDEF for the place.
func pinLayout(f *sfnt.Font, glyphs int, at map[string]float64, tables map[string][]byte) error {
	cut := layout.NewCut(every(glyphs))
	gdef := tables["GDEF"]
	var store []byte
	if sfnt.Word(gdef, 2) >= 3 && len(gdef) >= 18 {
		store = sfnt.From(gdef, int(binary.BigEndian.Uint32(gdef[14:])))
	}
	delta, place, err := f.Stored(store, at)
	if err != nil {
		return err
	}
	cut.Pin(delta, place)
	for _, tag := range []string{"GSUB", "GPOS", "GDEF"} {
		b, ok := tables[tag]
		switch {
		case !ok:
			continue
		case tag == "GDEF":
			b, err = cut.Definitions(b)
		default:
			b, err = cut.Layout(tag, b)
		}
		if tables[tag] = b; err != nil {
			return err
		}
	}
	return nil
}

// pinHeights changes how far glyphs move the pen downwards (OpenType, VVAR and vmtx).
func pinHeights(f *sfnt.Font, glyphs int, at map[string]float64, tables map[string][]byte) error {
	vvar, vmtx, vhea := tables["VVAR"], slices.Clone(tables["vmtx"]), tables["vhea"]
	if len(vvar) < 24 || len(vhea) < 36 {
		return nil
	}
	delta, _, err := f.Stored(sfnt.From(vvar, int(binary.BigEndian.Uint32(vvar[4:]))), at)
	if err != nil {
		return err
	}
	var rows []byte
	if place := int(binary.BigEndian.Uint32(vvar[8:])); place != 0 {
		rows = sfnt.From(vvar, place)
	}
	for g := range min(glyphs, sfnt.Word(vhea, 34)) {
		if 4*g+4 > len(vmtx) {
			break
		}
		outer, inner := 0, g
		if rows != nil {
			outer, inner = layout.Mapped(rows, g)
		}
		height := float64(sfnt.Word(vmtx, 4*g)) + delta(outer, inner)
		binary.BigEndian.PutUint16(vmtx[4*g:], uint16(min(max(math.Round(height), 0), 0xffff)))
	}
	tables["vmtx"] = vmtx
	return nil
}

// measures are the values that MVAR changes: the table, and the place in it (OpenType, MVAR, value tags).
var measures = map[string]struct {
	table string
	at    int
}{
	"hasc": {"OS/2", 68}, "hdsc": {"OS/2", 70}, "hlgp": {"OS/2", 72}, "hcla": {"OS/2", 74}, "hcld": {"OS/2", 76}, "xhgt": {"OS/2", 86}, "cpht": {"OS/2", 88},
	"sbxs": {"OS/2", 10}, "sbys": {"OS/2", 12}, "sbxo": {"OS/2", 14}, "sbyo": {"OS/2", 16}, "spxs": {"OS/2", 18}, "spys": {"OS/2", 20}, "spxo": {"OS/2", 22}, "spyo": {"OS/2", 24},
	"strs": {"OS/2", 26}, "stro": {"OS/2", 28}, "undo": {"post", 8}, "unds": {"post", 10}, "hcrs": {"hhea", 18}, "hcrn": {"hhea", 20}, "hcof": {"hhea", 22},
}

// pinMetrics changes the measures of the font, and says what its weight, its width and its slant are now.
func pinMetrics(f *sfnt.Font, at map[string]float64, tables map[string][]byte) error {
	for _, tag := range []string{"OS/2", "post", "hhea", "head"} {
		tables[tag] = slices.Clone(tables[tag])
	}
	mvar := tables["MVAR"]
	if len(mvar) >= 12 {
		delta, _, err := f.Stored(sfnt.From(mvar, sfnt.Word(mvar, 10)), at)
		if err != nil {
			return err
		}
		size := sfnt.Word(mvar, 6)
		for i := range sfnt.Word(mvar, 8) {
			r := sfnt.From(mvar, 12+i*size)
			if len(r) < 8 || size < 8 {
				break
			}
			if m, ok := measures[string(r[:4])]; ok && m.at+2 <= len(tables[m.table]) {
				b := tables[m.table][m.at:]
				binary.BigEndian.PutUint16(b, uint16(int16(binary.BigEndian.Uint16(b))+int16(math.Round(delta(sfnt.Word(r, 4), sfnt.Word(r, 6))))))
			}
		}
	}
	if os2 := tables["OS/2"]; len(os2) >= 8 {
		if w, ok := at["wght"]; ok {
			binary.BigEndian.PutUint16(os2[4:], uint16(min(max(math.Round(w), 1), 1000)))
		}
		if w, ok := at["wdth"]; ok {
			binary.BigEndian.PutUint16(os2[6:], uint16(widthClass(w)))
		}
	}
	if post := tables["post"]; len(post) >= 8 {
		if s, ok := at["slnt"]; ok {
			binary.BigEndian.PutUint32(post[4:], uint32(int32(math.Round(s*65536))))
		}
	}
	return nil
}

// widthClass is the class that is nearest to a width in percent (OpenType, OS/2, usWidthClass).
func widthClass(percent float64) int {
	best, least := 5, math.Inf(1)
	for i, w := range []float64{50, 62.5, 75, 87.5, 100, 112.5, 125, 150, 200} {
		if d := math.Abs(w - percent); d < least {
			best, least = i+1, d
		}
	}
	return best
}

// pinNames gives the font the names of the place: those of the instance that its maker has there, or the weight in a word or a number.
func pinNames(f *sfnt.Font, axes []sfnt.Axis, instances []sfnt.Instance, at map[string]float64, tables map[string][]byte) error {
	names, err := f.Names()
	if err != nil {
		return err
	}
	family := names.Get(sfnt.NameTypoFamily)
	if family == "" {
		family = names.Get(sfnt.NameFamily)
	}
	style, postscript := styleAt(names, axes, instances, at)
	if postscript == "" {
		prefix := names.Get(25)
		if prefix == "" {
			prefix = squeezed(family)
		}
		postscript = prefix + "-" + squeezed(style)
	}
	if own := names.Get(sfnt.NamePostScript); postscript == own { // one name for two fonts that differ would mean either
		prefix, _, _ := strings.Cut(own, "-")
		postscript = prefix + "-" + squeezed(strings.Join(axisWords(axes, at, true), ""))
	}
	bold, italic := style == "Bold" || style == "Bold Italic", strings.HasSuffix(style, "Italic") || strings.HasSuffix(style, "Oblique")
	old, oldStyle := family, map[[2]bool]string{{}: "Regular", {true, false}: "Bold", {false, true}: "Italic", {true, true}: "Bold Italic"}[[2]bool{bold, italic}]
	if style != "Regular" && style != "Bold" && style != "Italic" && style != "Bold Italic" {
		old = strings.TrimSpace(family + " " + strings.TrimSuffix(strings.TrimSuffix(style, "Italic"), "Oblique"))
	}
	own := map[uint16]string{sfnt.NameFamily: old, sfnt.NameStyle: oldStyle, 3: postscript, sfnt.NameFull: strings.TrimSpace(family + " " + style), sfnt.NamePostScript: postscript,
		sfnt.NameTypoFamily: family, sfnt.NameTypoStyle: style}
	var list sfnt.Names
	for _, r := range names {
		if own[r.ID] == "" && r.ID != 25 && r.ID < 256 {
			list = append(list, r)
		}
	}
	for id, v := range own {
		list = append(list, sfnt.NameRecord{Platform: sfnt.PlatformWindows, Encoding: 1, Language: 0x409, ID: id, Value: v})
	}
	b, err := list.Bytes()
	if err != nil {
		return err
	}
	tables["name"] = b
	linked(tables, bold, italic, style == "Regular")
	return nil
}

// styleAt is the style at a place, and its PostScript name if the font gives one.
func styleAt(names sfnt.Names, axes []sfnt.Axis, instances []sfnt.Instance, at map[string]float64) (style, postscript string) {
	for _, i := range instances {
		same := true
		for k, a := range axes {
			v, ok := at[a.Tag]
			if !ok {
				v = a.Default
			}
			same = same && k < len(i.Coordinates) && math.Abs(i.Coordinates[k]-v) < 1.0/4096
		}
		if same && names.Get(i.NameID) != "" {
			if i.PostScriptID >= 256 { // below are names of the font as a whole
				postscript = names.Get(i.PostScriptID)
			}
			return names.Get(i.NameID), postscript
		}
	}
	words := axisWords(axes, at, false)
	if len(words) == 0 {
		return "Regular", ""
	}
	return strings.Join(words, " "), ""
}

// axisWords are the axes of a place as words of a style: wght650. A weight that has a word is that word, and defaults are left out,
// unless all are wanted.
func axisWords(axes []sfnt.Axis, at map[string]float64, all bool) (words []string) {
	for _, a := range axes {
		v, ok := at[a.Tag]
		if !ok {
			v = a.Default
		}
		word := face.WeightWord(int(v))
		switch {
		case all:
			words = append(words, fmt.Sprintf("%s%g", a.Tag, v))
		case a.Tag == "wght" && v == 400:
		case a.Tag == "wght" && float64(int(v)) == v && word != "":
			words = append(words, strings.NewReplacer("Extral", "ExtraL", "Extrab", "ExtraB", "Semib", "SemiB").Replace(strings.ToUpper(word[:1])+word[1:]))
		case a.Tag == "wght" || v != a.Default:
			words = append(words, fmt.Sprintf("%s%g", a.Tag, v))
		}
	}
	return words
}

// squeezed is a name as a PostScript name can hold it: letters and digits of ASCII; -6.5 becomes m6p5.
func squeezed(s string) string {
	digit := func(i int) bool { return i >= 0 && i < len(s) && s[i] >= '0' && s[i] <= '9' }
	var out []byte
	for i, c := range []byte(s) {
		switch {
		case c >= '0' && c <= '9' || c >= 'A' && c <= 'Z' || c >= 'a' && c <= 'z':
			out = append(out, c)
		case c == '-' && digit(i+1):
			out = append(out, 'm')
		case c == '.' && digit(i-1) && digit(i+1):
			out = append(out, 'p')
		}
	}
	return string(out)
}

// linked says in OS/2 and in head which of the four styles of a family the font is.
func linked(tables map[string][]byte, bold, italic, regular bool) {
	set := func(b []byte, at int, bit uint16, on bool) {
		if at+2 > len(b) {
			return
		}
		v := binary.BigEndian.Uint16(b[at:]) &^ bit
		if on {
			v |= bit
		}
		binary.BigEndian.PutUint16(b[at:], v)
	}
	os2, head := tables["OS/2"], tables["head"]
	set(os2, 62, 1, italic)
	set(os2, 62, 1<<5, bold)
	set(os2, 62, 1<<6, regular)
	set(head, 44, 1, bold)
	set(head, 44, 2, italic)
}
