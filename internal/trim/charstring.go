package trim

import (
	"cmp"
	"encoding/binary"
	"slices"
)

// A call of a subroutine in a charstring: the number that names it, and the operator behind it.
type call struct {
	from, to int // bytes of the two
	global   bool
	index    int
}

// A body is a charstring, or a subroutine, and its calls.
type body struct {
	bytes []byte // without what is behind its end
	calls []call
	// fonts are those under which a global one is run: what it calls of local ones depends on that.
	font   int
	uses   int
	forced bool // stands in the place of each of its calls
	number int  // its new one, -1 while it has none
	done   bool
}

// cffPrograms are the charstrings of the glyphs that stay, and the subroutines that several of them share.
type cffPrograms struct {
	glyphs, global [][]byte
	local          [][][]byte // by font
}

// mostProgram bounds the bytes of charstrings that are looked at, with those of subroutines each time that they are called.
const mostProgram = 64 << 20

// A reading runs charstrings as far as their calls and their hints ask for (5177).
type reading struct {
	t      *cffTable
	global map[int]*body
	local  []map[int]*body
	left   int
	font   int
	stems  int
	stack  int
	over   bool // an end of the glyph was met
}

// programs reads the glyphs that stay, and writes them: a subroutine that is called once stands in the place of its call.
func (t *cffTable) programs(kept []int) (*cffPrograms, error) {
	r := &reading{t: t, global: map[int]*body{}, left: mostProgram}
	for range t.fonts {
		r.local = append(r.local, map[int]*body{})
	}
	glyphs := make([]*body, len(kept))
	for i, g := range kept {
		r.font, r.stems, r.stack, r.over = t.which[g], 0, 0, false
		glyphs[i] = &body{font: r.font}
		if err := r.run(glyphs[i], t.glyphs[g], 0); err != nil {
			return nil, err
		}
	}
	return r.write(glyphs)
}

// mostNested is how deep calls go (5177, appendix B).
const mostNested = 10

// run goes through one charstring or subroutine.
func (r *reading) run(s *body, b []byte, depth int) error {
	if r.left -= len(b); depth > mostNested || r.left < 0 {
		return badCFF("charstrings that can be followed")
	}
	var calls []call
	pushed, value := -1, 0 // where the last number was pushed, -1 if what is last is none
	at := 0
	for at < len(b) && !r.over {
		v := b[at]
		from := at
		switch {
		case v == 28 || v >= 32:
			size := 1
			switch {
			case v == 28:
				size = 3
			case v == 255:
				size = 5
			case v >= 247:
				size = 2
			}
			if at+size > len(b) {
				return badCFF("a number inside of a charstring")
			}
			value = pushedValue(b[at : at+size])
			pushed, at = at, at+size
			r.stack++
			continue
		case v == 1 || v == 3 || v == 18 || v == 23: // stems
			r.stems, r.stack = r.stems+r.stack/2, 0
			at++
		case v == 19 || v == 20: // masks, with stems in front that have no operator
			r.stems, r.stack = r.stems+r.stack/2, 0
			at += 1 + (r.stems+7)/8
		case v == 10 || v == 29:
			if pushed < 0 || r.stack < 1 {
				return badCFF("calls by a number in front of them")
			}
			r.stack--
			at++
			c := call{from: pushed, to: at, global: v == 29}
			target, text, err := r.target(c.global, value, &c.index)
			if err != nil {
				return err
			}
			calls = append(calls, c)
			if err := r.run(target, text, depth+1); err != nil {
				return err
			}
		case v == 11: // return
			at++
			return s.keep(b[:at-1], calls, r.font)
		case v == 14: // end of the glyph
			at++
			if r.over = true; r.stack >= 4 {
				return badCFF("glyphs that are not made of two others")
			}
		case v == 12:
			if at+1 >= len(b) || b[at+1] < 34 || b[at+1] > 37 { // all but flex count with what is on the stack
				return badCFF("charstrings without arithmetic")
			}
			at, r.stack = at+2, 0
		default:
			at, r.stack = at+1, 0
		}
		if pushed = -1; at > len(b) || from == at {
			return badCFF("charstrings inside of their bytes")
		}
	}
	return s.keep(b[:at], calls, r.font)
}

func pushedValue(b []byte) int {
	switch v := int(b[0]); {
	case v == 28:
		return int(int16(binary.BigEndian.Uint16(b[1:])))
	case v == 255:
		return 1 << 20 // with a fraction: no number of a subroutine
	case v >= 251:
		return -(v-251)*256 - int(b[1]) - 108
	case v >= 247:
		return (v-247)*256 + int(b[1]) + 108
	default:
		return v - 139
	}
}

// bias is added to the number in a call (5177, 4.7).
func bias(count int) int {
	switch {
	case count < 1240:
		return 107
	case count < 33900:
		return 1131
	}
	return 32768
}

// target is the subroutine of a call.
func (r *reading) target(global bool, value int, index *int) (*body, []byte, error) {
	list, bodies := r.t.global, r.global
	if !global {
		list, bodies = r.t.fonts[r.font].local, r.local[r.font]
	}
	i := value + bias(len(list))
	if *index = i; i < 0 || i >= len(list) {
		return nil, nil, badCFF("calls of subroutines that are there")
	}
	s := bodies[i]
	if s == nil {
		s = &body{font: r.font, number: -1}
		bodies[i] = s
	}
	s.uses++
	return s, list[i], nil
}

// keep keeps what was read of a charstring. One that is read in another way at another call, for it depends on the hints or the
// font, is not understood.
func (s *body) keep(b []byte, calls []call, font int) error {
	if !s.done {
		s.bytes, s.calls, s.done = b, calls, true
		return nil
	}
	if len(s.bytes) != len(b) || len(s.calls) != len(calls) {
		return badCFF("subroutines that do the same at each call")
	}
	for i, c := range calls {
		if s.calls[i] != c {
			return badCFF("subroutines that do the same at each call")
		}
		if !c.global && s.font != font {
			s.forced = true // its local ones are others
		}
	}
	return nil
}

// write numbers the subroutines that stay, the most used first, and writes all.
func (r *reading) write(glyphs []*body) (*cffPrograms, error) {
	r.sites(glyphs)
	out := &cffPrograms{local: make([][][]byte, len(r.t.fonts))}
	sets := append([]map[int]*body{r.global}, r.local...)
	lists := make([][]*body, len(sets))
	for k, set := range sets {
		lists[k] = numbered(set)
	}
	w := &writing{r: r, counts: make([]int, len(sets))}
	for k := range lists {
		w.counts[k] = len(lists[k])
	}
	for _, g := range glyphs {
		b, err := w.text(g, g.font, 0)
		if err != nil {
			return nil, err
		}
		out.glyphs = append(out.glyphs, b)
	}
	for k, list := range lists {
		for _, s := range list {
			b, err := w.text(s, s.font, 0)
			if err != nil {
				return nil, err
			}
			if b = append(b, 11); k == 0 {
				out.global = append(out.global, b)
			} else {
				out.local[k-1] = append(out.local[k-1], b)
			}
		}
	}
	return out, nil
}

// sites counts where subroutines are called from: glyphs, and subroutines that are called themselves, each once.
func (r *reading) sites(glyphs []*body) {
	all := glyphs
	for _, set := range append([]map[int]*body{r.global}, r.local...) {
		for _, s := range set {
			s.uses = 0
			all = append(all[:len(all):len(all)], s)
		}
	}
	for _, s := range all {
		for _, c := range s.calls {
			if target := r.of(c, s.font); target != nil {
				target.uses++
			}
		}
	}
}

// of is the subroutine that a call means, in a font.
func (r *reading) of(c call, font int) *body {
	if c.global {
		return r.global[c.index]
	}
	return r.local[font][c.index]
}

// numbered are the subroutines of a list that stay, the most used first: those whose text is shorter where it stands by itself, and
// called, than in the place of each call. A call takes some two and a half bytes, and a subroutine three beside its own.
func numbered(set map[int]*body) (list []*body) {
	order := make([]int, 0, len(set))
	for i, s := range set {
		if s.number = -1; !s.forced && 2*s.uses*len(s.bytes) > 5*s.uses+2*len(s.bytes)+6 {
			order = append(order, i)
		}
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Or(cmp.Compare(set[b].uses, set[a].uses), cmp.Compare(a, b)) })
	for k, i := range order {
		set[i].number = k
		list = append(list, set[i])
	}
	return list
}

// A writing writes bodies with the new numbers of subroutines.
type writing struct {
	r      *reading
	counts []int // of subroutines: the global ones, then those of each font
	left   int
}

// mostWritten is how long all charstrings may become.
const mostWritten = 64 << 20

// text is a body as it is written, in a font.
func (w *writing) text(s *body, font, depth int) ([]byte, error) {
	if w.left += len(s.bytes); depth > mostNested || w.left > mostWritten {
		return nil, badCFF("charstrings that can be written")
	}
	var out []byte
	at := 0
	for _, c := range s.calls {
		out = append(out, s.bytes[at:c.from]...)
		at = c.to
		target := w.r.of(c, font)
		if target == nil {
			return nil, badCFF("calls of subroutines that are there")
		}
		if target.number < 0 {
			b, err := w.text(target, font, depth+1)
			if err != nil {
				return nil, err
			}
			out = append(out, b...)
			continue
		}
		count, operator := w.counts[0], byte(29)
		if !c.global {
			count, operator = w.counts[1+font], 10
		}
		out = append(push(out, target.number-bias(count)), operator)
	}
	return append(out, s.bytes[at:]...), nil
}

// push writes a whole number of a charstring.
func push(out []byte, v int) []byte {
	switch {
	case v >= -107 && v <= 107:
		return append(out, byte(v+139))
	case v >= 108 && v <= 1131:
		return append(out, byte((v-108)>>8+247), byte(v-108))
	case v >= -1131 && v <= -108:
		return append(out, byte((-v-108)>>8+251), byte(-v-108))
	}
	return binary.BigEndian.AppendUint16(append(out, 28), uint16(v))
}
