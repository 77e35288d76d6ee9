package trim

import (
	"encoding/binary"
	"math"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// Flags of gvar (OpenType, gvar, and "Tuple variation store").
const (
	longOffsets   = 1 << 0
	sharedPoints  = 1 << 15
	tupleNumbers  = 0xfff
	ownPeak       = 1 << 15
	intermediate  = 1 << 14
	privatePoints = 1 << 13
	runZero       = 1 << 7
	runWords      = 1 << 6
	runMost       = 0x3f
	pointsMost    = 0x7f
)

// mostGvar bounds the bytes that are written.
const mostGvar = 256 << 20

// A gvarWriter writes the tuples of glyphs for a smaller design space; peaks that several have are written once.
type gvarWriter struct {
	space  layout.Narrowing
	axes   int
	shared []byte // of the old table
	peaks  map[string]int
	list   [][]byte
}

// narrowedGvar writes gvar for the new space: what is at none of its places goes, and what is cut by the end of a range is scaled.
func narrowedGvar(b []byte, space layout.Narrowing, glyphs int) ([]byte, error) {
	wrong := fault.Form("table gvar: expected version 1 with %d axes and %d glyphs, found another form", len(space), glyphs)
	if len(b) < 20 || sfnt.Word(b, 0) != 1 || sfnt.Word(b, 4) != len(space) || sfnt.Word(b, 12) > glyphs {
		return nil, wrong
	}
	count, flags := sfnt.Word(b, 12), sfnt.Word(b, 14)
	w := &gvarWriter{space: space, axes: len(space), shared: sfnt.From(b, int(binary.BigEndian.Uint32(b[8:]))), peaks: map[string]int{}}
	data := sfnt.From(b, int(binary.BigEndian.Uint32(b[16:])))
	place := func(i int) int {
		if flags&longOffsets != 0 {
			if at := sfnt.From(b, 20+4*i); len(at) >= 4 {
				return int(binary.BigEndian.Uint32(at))
			}
			return -1
		}
		if 22+2*i > len(b) {
			return -1
		}
		return 2 * sfnt.Word(b, 20+2*i)
	}
	var out []byte
	offsets := make([]byte, 0, 4*(count+1))
	for g := range count {
		offsets = binary.BigEndian.AppendUint32(offsets, uint32(len(out)))
		from, to := place(g), place(g+1)
		if from < 0 || from > to || to > len(data) {
			return nil, wrong
		}
		one, err := w.glyph(data[from:to])
		if err != nil {
			return nil, err
		}
		if out = append(out, one...); len(out)%2 != 0 {
			out = append(out, 0)
		}
		if len(out) > mostGvar {
			return nil, fault.Form("table gvar: expected at most %d MB of tuples, found more", mostGvar>>20)
		}
	}
	offsets = binary.BigEndian.AppendUint32(offsets, uint32(len(out)))
	kept := space.Kept()
	head := []byte{0, 1, 0, 0}
	for _, v := range []int{kept, len(w.list)} {
		head = binary.BigEndian.AppendUint16(head, uint16(v))
	}
	sharedAt := 20 + len(offsets)
	head = binary.BigEndian.AppendUint32(head, uint32(sharedAt))
	head = binary.BigEndian.AppendUint16(head, uint16(count))
	head = binary.BigEndian.AppendUint16(head, longOffsets)
	head = binary.BigEndian.AppendUint32(head, uint32(sharedAt+2*kept*len(w.list)))
	head = append(head, offsets...)
	for _, p := range w.list {
		head = append(head, p...)
	}
	return append(head, out...), nil
}

// A tuple is a change of a glyph: where it counts, and its packed points and deltas.
type tuple struct {
	flags int
	tents []layout.Tent
	data  []byte
}

// tuples reads those of a glyph, and the points that several share.
func (w *gvarWriter) tuples(b []byte) (list []tuple, points []byte, ok bool) {
	count := sfnt.Word(b, 0)
	body := sfnt.From(b, sfnt.Word(b, 2))
	if count&sharedPoints != 0 {
		n := packedPoints(body)
		if n < 0 {
			return nil, nil, false
		}
		points, body = body[:n], body[n:]
	}
	head := 4
	for range count & tupleNumbers {
		if head+4 > len(b) {
			return nil, nil, false
		}
		size, flags := sfnt.Word(b, head), sfnt.Word(b, head+2)
		head += 4
		var vectors [3][]byte // peak, start, end
		vectors[0] = sfnt.From(w.shared, 2*w.axes*(flags&tupleNumbers))
		read := func(k int) {
			vectors[k] = sfnt.From(b, head)
			head += 2 * w.axes
		}
		if flags&ownPeak != 0 {
			read(0)
		}
		if flags&intermediate != 0 {
			read(1)
			read(2)
		}
		if size > len(body) || len(vectors[0]) < 2*w.axes || flags&intermediate != 0 && len(vectors[2]) < 2*w.axes {
			return nil, nil, false
		}
		value := func(v []byte, a int) float64 { return float64(int16(sfnt.Word(v, 2*a))) / 16384 }
		t := tuple{flags: flags, data: body[:size]}
		for a := range w.axes {
			peak := value(vectors[0], a)
			tent := layout.Tent{Start: min(peak, 0), Peak: peak, End: max(peak, 0)}
			if flags&intermediate != 0 {
				tent.Start, tent.End = value(vectors[1], a), value(vectors[2], a)
			}
			t.tents = append(t.tents, tent)
		}
		list, body = append(list, t), body[size:]
	}
	return list, points, true
}

// glyph writes the tuples of one; nothing for one that does not vary any more. Data that does not hold moves nothing, as readers take it.
func (w *gvarWriter) glyph(b []byte) ([]byte, error) {
	if len(b) < 4 {
		return nil, nil
	}
	list, points, ok := w.tuples(b)
	if !ok {
		return nil, nil
	}
	var heads, data []byte
	count := 0
	for _, t := range list {
		for _, r := range w.space.Regions(t.tents) {
			body := t.data
			if r.Scale != 1 {
				if body, ok = scaled(t.data, t.flags&privatePoints != 0, r.Scale); !ok {
					continue
				}
			}
			heads = append(heads, w.head(t.flags&privatePoints, r.Tents, len(body))...)
			data = append(data, body...)
			count++
		}
	}
	if count == 0 {
		return nil, nil
	}
	if count > tupleNumbers || 4+len(heads) > 0xffff {
		return nil, fault.Form("table gvar: expected at most %d tuples of a glyph, found more", tupleNumbers)
	}
	if points != nil {
		count |= sharedPoints
	}
	out := binary.BigEndian.AppendUint16(nil, uint16(count))
	out = binary.BigEndian.AppendUint16(out, uint16(4+len(heads)))
	return append(append(append(out, heads...), points...), data...), nil
}

// head is the header of a tuple.
func (w *gvarWriter) head(flags int, tents []layout.Tent, size int) []byte {
	var peak, start, end []byte
	put := func(out []byte, v float64) []byte {
		return binary.BigEndian.AppendUint16(out, uint16(int16(math.Round(v*16384))))
	}
	plain := true
	for _, t := range tents {
		peak, start, end = put(peak, t.Peak), put(start, t.Start), put(end, t.End)
		plain = plain && t.Start == min(t.Peak, 0) && t.End == max(t.Peak, 0)
	}
	k, known := w.peaks[string(peak)]
	if !known && len(w.list) < tupleNumbers {
		k, known = len(w.list), true
		w.peaks[string(peak)], w.list = k, append(w.list, peak)
	}
	if known {
		flags |= k
	} else {
		flags |= ownPeak
	}
	if !plain {
		flags |= intermediate
	}
	out := binary.BigEndian.AppendUint16(nil, uint16(size))
	out = binary.BigEndian.AppendUint16(out, uint16(flags))
	if !known {
		out = append(out, peak...)
	}
	if !plain {
		out = append(append(out, start...), end...)
	}
	return out
}

// packedPoints is how many bytes packed numbers of points take; below 0 where they end too early.
func packedPoints(b []byte) int {
	if len(b) == 0 {
		return -1
	}
	n, at := int(b[0]), 1
	if n&0x80 != 0 {
		if len(b) < 2 {
			return -1
		}
		n, at = n&0x7f<<8|int(b[1]), 2
	}
	for n > 0 {
		if at >= len(b) {
			return -1
		}
		run := int(b[at])&pointsMost + 1
		size := 1
		if b[at]&0x80 != 0 {
			size = 2
		}
		at += 1 + run*size
		n -= run
	}
	if at > len(b) {
		return -1
	}
	return at
}

// scaled are packed deltas, each multiplied: runs stay what they are, for none becomes larger.
func scaled(data []byte, private bool, scale float64) ([]byte, bool) {
	out := slices.Clone(data)
	at := 0
	if private {
		if at = packedPoints(data); at < 0 {
			return nil, false
		}
	}
	for at < len(out) {
		run := int(out[at])
		n := run&runMost + 1
		at++
		switch {
		case run&runZero != 0 && run&runWords == 0:
			continue
		case run&runZero != 0 || at+n > len(out) || run&runWords != 0 && at+2*n > len(out):
			return nil, false
		case run&runWords != 0:
			for range n {
				v := float64(int16(binary.BigEndian.Uint16(out[at:])))
				binary.BigEndian.PutUint16(out[at:], uint16(int16(math.Round(v*scale))))
				at += 2
			}
		default:
			for range n {
				out[at] = byte(int8(math.Round(float64(int8(out[at])) * scale)))
				at++
			}
		}
	}
	return out, true
}
