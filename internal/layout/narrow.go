package layout

import (
	"encoding/binary"
	"math"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// A Narrowing makes a design space smaller: some axes stay at their defaults and go, others keep a part of their range around the
// default, in which the font is what it was.
type Narrowing []AxisLimit

// An AxisLimit is what becomes of one axis. Values are normalized, from -1 to 1, after avar has bent them.
type AxisLimit struct {
	Gone      bool
	Low, High float64 // of an axis that stays: where its range ends now; Low is at most 0, High at least 0
}

// A Tent is the part of an axis on which something changes: nothing at its start, all at its peak, nothing at its end.
type Tent struct{ Start, Peak, End float64 }

// A Region is a part of the new design space, with how much of a change counts there.
type Region struct {
	Tents []Tent // of the axes that stay
	Scale float64
}

// mostRegions is how many regions can take the place of one.
const mostRegions = 256

// Kept is how many axes stay.
func (n Narrowing) Kept() (count int) {
	for _, a := range n {
		if !a.Gone {
			count++
		}
	}
	return count
}

// Regions are what becomes of a region: none where nothing of it is inside of the new space. Where a tent is cut by the end of a range,
// two regions take its place.
func (n Narrowing) Regions(old []Tent) []Region {
	list := []Region{{Scale: 1}}
	for i, limit := range n {
		t := Tent{}
		if i < len(old) {
			t = old[i]
		}
		parts, scales := limit.cut(t)
		if limit.Gone && len(parts) > 0 {
			continue
		}
		var next []Region
		for _, r := range list {
			for k, p := range parts {
				next = append(next, Region{append(slices.Clone(r.Tents), p), r.Scale * scales[k]})
			}
		}
		if list = next; len(list) == 0 || len(list) > mostRegions {
			return nil // a region of so many tents is no font's
		}
	}
	return list
}

// cut is what becomes of a tent; a tent that does not hold, or has no peak, is for the whole axis (OpenType, variation regions).
func (a AxisLimit) cut(t Tent) (parts []Tent, scales []float64) {
	if t.Peak == 0 || t.Start > t.Peak || t.Peak > t.End || t.Start < 0 && t.End > 0 {
		return []Tent{{}}, []float64{1}
	}
	if a.Gone {
		return nil, nil // nothing of it is at the default
	}
	if t.Peak < 0 { // the same on the other side
		parts, scales = AxisLimit{Low: -a.High, High: -a.Low}.cut(Tent{-t.End, -t.Peak, -t.Start})
		for i, p := range parts {
			parts[i] = Tent{-p.End, -p.Peak, -p.Start}
		}
		return parts, scales
	}
	top := a.High
	at := func(v float64) float64 { return v / top }
	switch {
	case top <= 0 || t.Start >= top:
		return nil, nil
	case t.Peak > top:
		return []Tent{{at(t.Start), 1, 1}}, []float64{(top - t.Start) / (t.Peak - t.Start)}
	case t.End <= top || t.Peak == top:
		return []Tent{{at(t.Start), at(t.Peak), min(1, at(t.End))}}, []float64{1}
	}
	return []Tent{{at(t.Start), at(t.Peak), 1}, {at(t.Peak), 1, 1}}, []float64{1, (t.End - top) / (t.End - t.Peak)}
}

// fixed is a number of the form 2.14.
func fixed(v float64) int { return int(math.Round(v * 16384)) }

// mostStoreRows bounds the values of a store.
const mostStoreRows = 4 << 20

// Store writes a store of variations for the new design space (OpenType, ItemVariationStore): rows keep their numbers.
func (n Narrowing) Store(b []byte) ([]byte, error) {
	if _, err := storeSize(b); err != nil {
		return nil, err
	}
	list := sfnt.From(b, int(u32(b, 2)))
	axes, count := sfnt.Word(list, 0), sfnt.Word(list, 2)
	if axes != len(n) {
		return nil, fault.Form("expected a store of %d axes, found one of %d", len(n), axes)
	}
	regions := &regionList{at: map[string]int{}}
	of := make([][]Region, count)
	for r := range count {
		old := make([]Tent, axes)
		for a := range axes {
			at := 4 + 6*(axes*r+a)
			old[a] = Tent{float64(i16(list, at)) / 16384, float64(i16(list, at+2)) / 16384, float64(i16(list, at+4)) / 16384}
		}
		of[r] = n.Regions(old)
	}
	root := &node{}
	root.u16(1)
	regionsNode := &node{}
	root.far(regionsNode)
	subtables, work := sfnt.Word(b, 6), 0
	root.u16(subtables)
	for i := range subtables {
		at := u32(b, 8+4*i)
		if at == 0 {
			root.far(nil)
			continue
		}
		d := sfnt.From(b, int(at))
		if work += sfnt.Word(d, 0) * max(1, sfnt.Word(d, 4)); work > mostStoreRows {
			return nil, fault.Form("expected a store of at most %d million values, found more", mostStoreRows>>20)
		}
		rows, err := rowsAnew(d, of, regions)
		if err != nil {
			return nil, err
		}
		root.far(rows)
	}
	regionsNode.u16(n.Kept(), len(regions.list))
	for _, r := range regions.list {
		regionsNode.b = append(regionsNode.b, r...)
	}
	return pack(root)
}

// A regionList gives regions their numbers.
type regionList struct {
	at   map[string]int
	list [][]byte
}

func (l *regionList) number(r Region) int {
	n := &node{}
	for _, t := range r.Tents {
		n.u16(fixed(t.Start), fixed(t.Peak), fixed(t.End))
	}
	if k, ok := l.at[string(n.b)]; ok {
		return k
	}
	l.at[string(n.b)] = len(l.list)
	l.list = append(l.list, n.b)
	return len(l.list) - 1
}

// A share is how much of an old column goes into a new one.
type share struct {
	column int
	scale  float64
}

// columnsAnew are the regions of a subtable's new columns, in order, and what goes into each.
func columnsAnew(d []byte, of [][]Region, regions *regionList) (order []int, shares map[int][]share) {
	shares = map[int][]share{}
	for c := range sfnt.Word(d, 4) {
		r := sfnt.Word(d, 6+2*c)
		if r >= len(of) {
			continue
		}
		for _, part := range of[r] {
			k := regions.number(part)
			if shares[k] == nil {
				order = append(order, k)
			}
			shares[k] = append(shares[k], share{c, part.Scale})
		}
	}
	return order, shares
}

// rowsAnew is a subtable of a store: what its columns become, and each row with the values of the new ones.
func rowsAnew(d []byte, of [][]Region, regions *regionList) (*node, error) {
	rows, columns := sfnt.Word(d, 0), sfnt.Word(d, 4)
	words, wide := sfnt.Word(d, 2)&0x7fff, sfnt.Word(d, 2)&0x8000 != 0
	order, shares := columnsAnew(d, of, regions)
	if rows*len(order) > mostStoreRows {
		return nil, fault.Form("expected a store of at most %d million values, found more", mostStoreRows>>20)
	}
	short, long := 1, 2
	if wide {
		short, long = 2, 4
	}
	size := rowSize(d)
	table := make([][]int, rows)
	for i := range rows {
		row := sfnt.From(d, 6+2*columns+i*size)
		for _, region := range order {
			sum := 0.0
			for _, s := range shares[region] {
				sum += s.scale * float64(cell(row, s.column, words, short, long))
			}
			table[i] = append(table[i], int(math.Round(sum)))
		}
	}
	return written(table, order, short, long), nil
}

// written is a subtable: columns of large values first, which have more bytes.
func written(table [][]int, order []int, short, long int) *node {
	var places, rest []int
	for k := range order {
		if slices.ContainsFunc(table, func(row []int) bool { return max(row[k], -row[k]-1) >= 1<<(8*short-1) }) {
			places = append(places, k)
		} else {
			rest = append(rest, k)
		}
	}
	large, flag := len(places), 0
	if long == 4 {
		flag = 0x8000
	}
	n := &node{}
	n.u16(len(table), large|flag, len(order))
	places = append(places, rest...)
	for _, k := range places {
		n.u16(order[k])
	}
	for _, row := range table {
		for i, k := range places {
			bytes := short
			if i < large {
				bytes = long
			}
			for s := bytes - 1; s >= 0; s-- {
				n.b = append(n.b, byte(row[k]>>(8*s)))
			}
		}
	}
	return n
}

// cell is a value of a row: the first columns are long, the others short.
func cell(row []byte, column, words, short, long int) int {
	at, size := long*column, long
	if column >= words {
		at, size = long*words+short*(column-words), short
	}
	if at+size > len(row) {
		return 0
	}
	switch size {
	case 1:
		return int(int8(row[at]))
	case 2:
		return int(int16(binary.BigEndian.Uint16(row[at:])))
	}
	return int(int32(binary.BigEndian.Uint32(row[at:])))
}

// condition is a condition of features that take the place of others (OpenType, ConditionTable format 1): nil where it always holds
// now; false where it never does.
func (n Narrowing) condition(c []byte) (*node, bool) {
	axis := sfnt.Word(c, 2)
	if len(c) < 8 || sfnt.Word(c, 0) != 1 || axis >= len(n) {
		return nil, false
	}
	low, high := float64(i16(c, 4))/16384, float64(i16(c, 6))/16384
	limit := n[axis]
	if limit.Gone {
		return nil, low <= 0 && high >= 0
	}
	low, high = max(low, limit.Low), min(high, limit.High)
	if low > high {
		return nil, false
	}
	scaled := func(v float64) float64 {
		switch {
		case v < 0 && limit.Low < 0:
			return v / -limit.Low
		case v > 0 && limit.High > 0:
			return v / limit.High
		}
		return 0
	}
	number := 0
	for _, a := range n[:axis] {
		if !a.Gone {
			number++
		}
	}
	out := &node{}
	out.u16(1, number, fixed(scaled(low)), fixed(scaled(high)))
	return out, true
}
