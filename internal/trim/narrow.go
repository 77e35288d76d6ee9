package trim

import (
	"encoding/binary"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// A variable font can keep some of its axes, whole or in part, and stay at the default on the others: a file of one axis is often a
// third of one of five.

// Narrow gives the tables of a variable font with the axes that are named, each from one value to another around its default; on all
// other axes it stays at the default. Instructions go.
func Narrow(f *sfnt.Font, ranges map[string][2]float64) (map[string][]byte, error) {
	axes, instances, err := f.Variations()
	if err != nil {
		return nil, err
	}
	if len(axes) == 0 || !f.Has("gvar") {
		return nil, fault.Form("expected a variable font with outlines of TrueType (gvar), found another")
	}
	if colr, err := f.Table("COLR"); err == nil && sfnt.Word(colr, 0) >= 1 && len(colr) >= 34 && binary.BigEndian.Uint32(colr[30:]) != 0 {
		return nil, fault.Form("expected colours that do not vary, found a table COLR with variations, whose axes cannot be taken out here")
	}
	ranges = whole(axes, ranges)
	space, err := spaceOf(f, axes, ranges)
	if err != nil {
		return nil, err
	}
	tables, err := f.Tables()
	if err != nil {
		return nil, err
	}
	if err := unhint(f, tables); err != nil {
		return nil, err
	}
	maxp, err := f.Maxp()
	if err != nil {
		return nil, err
	}
	if tables["gvar"], err = narrowedGvar(tables["gvar"], space, int(maxp.NumGlyphs)); err != nil {
		return nil, err
	}
	if err := narrowedLayout(tables, space, int(maxp.NumGlyphs)); err != nil {
		return nil, err
	}
	tables["fvar"] = narrowedFvar(tables["fvar"], axes, instances, ranges)
	if b, ok := tables["avar"]; ok {
		if tables["avar"], err = narrowedAvar(b, axes, space, ranges); err != nil {
			return nil, err
		}
		if tables["avar"] == nil {
			delete(tables, "avar")
		}
	}
	for _, tag := range append([]string{"DSIG"}, sources...) {
		delete(tables, tag)
	}
	return tables, nil
}

// whole puts the ends of an axis where none are said.
func whole(axes []sfnt.Axis, ranges map[string][2]float64) map[string][2]float64 {
	out := maps.Clone(ranges)
	for _, a := range axes {
		if r, ok := out[a.Tag]; ok {
			if math.IsInf(r[0], -1) {
				r[0] = a.Min
			}
			if math.IsInf(r[1], 1) {
				r[1] = a.Max
			}
			out[a.Tag] = r
		}
	}
	return out
}

// spaceOf is the new design space.
func spaceOf(f *sfnt.Font, axes []sfnt.Axis, ranges map[string][2]float64) (layout.Narrowing, error) {
	space := make(layout.Narrowing, len(axes))
	known := map[string]bool{}
	var names []string
	for i, a := range axes {
		known[a.Tag] = true
		names = append(names, fmt.Sprintf("%s from %g to %g, the default %g", a.Tag, a.Min, a.Max, a.Default))
		r, kept := ranges[a.Tag]
		if space[i].Gone = !kept; !kept {
			continue
		}
		if !(r[0] >= a.Min && r[0] <= a.Default && r[1] >= a.Default && r[1] <= a.Max && r[0] < r[1]) {
			return nil, fault.Form("expected a part of the font's axis around its default (%s), found %g to %g", names[i], r[0], r[1])
		}
		for k, end := range []*float64{&space[i].Low, &space[i].High} {
			_, place, err := f.Stored(nil, map[string]float64{a.Tag: r[k]})
			if err != nil {
				return nil, err
			}
			*end = place[i]
		}
		space[i].Low, space[i].High = min(space[i].Low, 0), max(space[i].High, 0)
	}
	for _, tag := range slices.Sorted(maps.Keys(ranges)) {
		if !known[tag] {
			return nil, fault.Form("expected axes of the font (%s), found %q", strings.Join(names, "; "), tag)
		}
	}
	if space.Kept() == 0 {
		return nil, fault.Form("expected an axis that stays, found none; a static font is made with --at")
	}
	return space, nil
}

// narrowedLayout writes GSUB, GPOS, GDEF and MVAR for the new space.
func narrowedLayout(tables map[string][]byte, space layout.Narrowing, glyphs int) error {
	cut := layout.NewCut(every(glyphs))
	cut.Narrow(space)
	for tag, write := range map[string]func([]byte) ([]byte, error){
		"GSUB": func(b []byte) ([]byte, error) { return cut.Layout("GSUB", b) },
		"GPOS": func(b []byte) ([]byte, error) { return cut.Layout("GPOS", b) },
		"GDEF": cut.Definitions,
		"MVAR": func(b []byte) ([]byte, error) { return narrowedMVAR(b, space) },
		"HVAR": func(b []byte) ([]byte, error) { return narrowedAdvances(b, space, 3) },
		"VVAR": func(b []byte) ([]byte, error) { return narrowedAdvances(b, space, 4) },
	} {
		if b, ok := tables[tag]; ok {
			written, err := write(b)
			if err != nil {
				return err
			}
			tables[tag] = written
		}
	}
	return nil
}

// narrowedMVAR has the same records, and a store for the new space (OpenType, MVAR).
func narrowedMVAR(b []byte, space layout.Narrowing) ([]byte, error) {
	size, count := sfnt.Word(b, 6), sfnt.Word(b, 8)
	if len(b) < 12 || 12+size*count > len(b) || sfnt.Word(b, 10) == 0 {
		return b, nil
	}
	store, err := space.Store(sfnt.From(b, sfnt.Word(b, 10)))
	if err != nil {
		return nil, err
	}
	out := slices.Clone(b[:12+size*count])
	binary.BigEndian.PutUint16(out[10:], uint16(len(out)))
	return append(out, store...), nil
}

// narrowedAdvances has the same maps of glyphs to rows, and a store for the new space (OpenType, HVAR and VVAR).
func narrowedAdvances(b []byte, space layout.Narrowing, maps int) ([]byte, error) {
	head := 8 + 4*maps
	if len(b) < head {
		return nil, fault.Form("tables HVAR and VVAR: expected at least %d bytes, found %d", head, len(b))
	}
	store, err := space.Store(sfnt.From(b, int(binary.BigEndian.Uint32(b[4:]))))
	if err != nil {
		return nil, err
	}
	out := slices.Clone(b[:head])
	for k := range maps {
		at := int(binary.BigEndian.Uint32(b[8+4*k:]))
		if at == 0 {
			continue
		}
		one := sfnt.From(b, at)
		size := indexSize(one)
		if size == 0 {
			return nil, fault.Form("tables HVAR and VVAR: expected maps of glyphs inside of the table, found %d bytes", len(one))
		}
		binary.BigEndian.PutUint32(out[8+4*k:], uint32(len(out)))
		out = append(out, one[:size]...)
	}
	out = append(out, make([]byte, -len(out)&3)...)
	binary.BigEndian.PutUint32(out[4:], uint32(len(out)))
	return append(out, store...), nil
}

// indexSize is how long a map of glyphs to rows is (OpenType, DeltaSetIndexMap); 0 for one that does not hold.
func indexSize(b []byte) int {
	if len(b) < 6 {
		return 0
	}
	count, at := sfnt.Word(b, 2), 4
	if b[0] == 1 {
		count, at = int(binary.BigEndian.Uint32(b[2:])), 6
	}
	if size := at + count*(int(b[1]>>4&3)+1); count <= 1<<16 && size <= len(b) {
		return size
	}
	return 0
}

// narrowedFvar has the axes that stay, and the instances that are at the default on the others (OpenType, fvar).
func narrowedFvar(b []byte, axes []sfnt.Axis, instances []sfnt.Instance, ranges map[string][2]float64) []byte {
	put := func(out []byte, v float64) []byte {
		return binary.BigEndian.AppendUint32(out, uint32(int32(math.Round(v*65536))))
	}
	at, axisSize, size := sfnt.Word(b, 4), sfnt.Word(b, 10), sfnt.Word(b, 14)
	var records, places []byte
	kept, count := 0, 0
	for i, a := range axes {
		if r, ok := ranges[a.Tag]; ok {
			raw := b[at+i*axisSize:]
			records = put(put(put(append(records, raw[:4]...), r[0]), a.Default), r[1])
			records = append(records, raw[16:20]...)
			kept++
		}
	}
	named := size >= 6+4*len(axes)
	for i, in := range instances {
		raw := b[at+len(axes)*axisSize+i*size:]
		one := append([]byte(nil), raw[:4]...)
		inside := true
		for k, a := range axes {
			if r, ok := ranges[a.Tag]; ok {
				inside = inside && in.Coordinates[k] >= r[0] && in.Coordinates[k] <= r[1]
				one = put(one, in.Coordinates[k])
			} else {
				inside = inside && in.Coordinates[k] == a.Default
			}
		}
		if !inside {
			continue
		}
		if named {
			one = append(one, raw[4+4*len(axes):][:2]...)
		}
		places = append(places, one...)
		count++
	}
	instanceSize := 4 + 4*kept
	if named {
		instanceSize += 2
	}
	out := []byte{0, 1, 0, 0, 0, 16, 0, 2}
	for _, v := range []int{kept, 20, count, instanceSize} {
		out = binary.BigEndian.AppendUint16(out, uint16(v))
	}
	return append(append(out, records...), places...)
}

// narrowedAvar bends the axes that stay as before; nil where none is bent (OpenType, avar version 1).
func narrowedAvar(b []byte, axes []sfnt.Axis, space layout.Narrowing, ranges map[string][2]float64) ([]byte, error) {
	if sfnt.Word(b, 0) != 1 {
		return nil, fault.Form("table avar: expected version 1, found version %d, whose axes cannot be taken out here", sfnt.Word(b, 0))
	}
	out := binary.BigEndian.AppendUint16([]byte{0, 1, 0, 0, 0, 0}, uint16(space.Kept()))
	at, bent := 8, false
	for i, a := range axes {
		n := sfnt.Word(b, at)
		pairs := b[min(at+2, len(b)):]
		if at += 2 + 4*n; i >= sfnt.Word(b, 6) || at > len(b) {
			n = 0
		}
		if space[i].Gone {
			continue
		}
		r := ranges[a.Tag]
		before := func(user float64) float64 { // normalized, before it is bent
			switch {
			case user < a.Default && a.Default > a.Min:
				return (user - a.Default) / (a.Default - a.Min)
			case user > a.Default && a.Max > a.Default:
				return (user - a.Default) / (a.Max - a.Default)
			}
			return 0
		}
		list := [][2]float64{{-1, -1}, {0, 0}, {1, 1}}
		for k := range n {
			from, to := float64(int16(sfnt.Word(pairs, 4*k)))/16384, float64(int16(sfnt.Word(pairs, 4*k+2)))/16384
			ends := [2]float64{before(r[0]), before(r[1])}
			switch {
			case from < 0 && from > ends[0] && space[i].Low < 0:
				list = append(list, [2]float64{from / -ends[0], to / -space[i].Low})
			case from > 0 && from < ends[1] && space[i].High > 0:
				list = append(list, [2]float64{from / ends[1], to / space[i].High})
			}
		}
		slices.SortFunc(list, func(a, b [2]float64) int { return int(math.Copysign(1, a[0]-b[0])) })
		bent = bent || len(list) > 3
		out = binary.BigEndian.AppendUint16(out, uint16(len(list)))
		for _, p := range list {
			for _, v := range p {
				out = binary.BigEndian.AppendUint16(out, uint16(int16(math.Round(min(max(v, -1), 1)*16384))))
			}
		}
	}
	if !bent {
		return nil, nil
	}
	return out, nil
}
