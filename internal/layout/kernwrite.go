package layout

import (
	"encoding/binary"

	"notaria/internal/fault"
)

// numbers are those of 16 bits as fonts hold them.
type numbers []byte

func (b *numbers) u16(vs ...uint16) {
	for _, v := range vs {
		*b = binary.BigEndian.AppendUint16(*b, v)
	}
}

// A KernPair moves Right towards Left by Value font units (negative: closer).
type KernPair struct {
	Left, Right uint16 // glyph ids
	Value       int16
}

// KernBytes encodes pairs, sorted by Left then Right without doubles, as a GPOS
// table with one 'kern' feature for every script (PairPos format 1).
func KernBytes(pairs []KernPair) ([]byte, error) {
	var lefts []uint16
	sets := map[uint16]*numbers{}
	counts := map[uint16]uint16{}
	for i, p := range pairs {
		if i > 0 && (p.Left < pairs[i-1].Left || p.Left == pairs[i-1].Left && p.Right <= pairs[i-1].Right) {
			return nil, fault.Form("kern pairs: expected ascending order, found pair %d after a greater one", i)
		}
		if sets[p.Left] == nil {
			sets[p.Left] = &numbers{}
			lefts = append(lefts, p.Left)
		}
		sets[p.Left].u16(p.Right)
		sets[p.Left].u16(uint16(p.Value))
		counts[p.Left]++
	}
	n := uint16(len(lefts))
	var sub, body numbers
	coverageAt := 10 + 2*n
	sub.u16(1, coverageAt, 0x0004, 0, n) // ValueFormat1: XAdvance
	at := int(coverageAt) + 4 + 2*len(lefts)
	for _, l := range lefts {
		if at+len(body) > 0xffff {
			return nil, fault.Form("kern pairs: expected at most 65535 bytes, found more; use fewer pairs")
		}
		sub.u16(uint16(at + len(body)))
		body.u16(counts[l])
		body = append(body, *sets[l]...)
	}
	sub.u16(1, n)
	sub.u16(lefts...)
	sub = append(sub, body...)

	var scripts, features, lookups numbers
	scripts.u16(2)
	scripts = append(scripts, "DFLT"...)
	scripts.u16(14)
	scripts = append(scripts, "latn"...)
	scripts.u16(14)
	scripts.u16(4, 0, 0, 0xffff, 1, 0) // script: default language system only; it: feature 0
	features.u16(1)
	features = append(features, "kern"...)
	features.u16(8, 0, 1, 0)
	lookups.u16(1, 4, 2, 0, 1, 8)
	var b numbers
	b.u16(1, 0)
	b.u16(10, uint16(10+len(scripts)), uint16(10+len(scripts)+len(features)))
	return append(append(append(append(b, scripts...), features...), lookups...), sub...), nil
}
