package raster

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
)

func polygon(points ...[2]float32) sfnt.Path {
	p := sfnt.Path{{Op: sfnt.MoveTo, P: [3][2]float32{points[0]}}}
	for _, q := range points[1:] {
		p = append(p, sfnt.Segment{Op: sfnt.LineTo, P: [3][2]float32{q}})
	}
	return p
}

// The coverage of shapes whose area in each pixel is known.
func TestCoverageIsExact(t *testing.T) {
	r := &Raster{}
	tests := []struct {
		name string
		path sfnt.Path
		w, h int
		want []byte
	}{
		{"a whole pixel", polygon([2]float32{1, 0}, [2]float32{2, 0}, [2]float32{2, 1}, [2]float32{1, 1}), 3, 1, []byte{0, 255, 0}},
		{"halves and quarters", polygon([2]float32{0.5, 0.5}, [2]float32{2, 0.5}, [2]float32{2, 2}, [2]float32{0.5, 2}), 2, 2, []byte{128, 255, 64, 128}},
		{"a triangle", polygon([2]float32{0, 0}, [2]float32{2, 0}, [2]float32{2, 2}), 2, 2, []byte{0, 128, 128, 255}},
		{"the other way round", polygon([2]float32{0, 0}, [2]float32{2, 2}, [2]float32{2, 0}), 2, 2, []byte{0, 128, 128, 255}},
		{"a long edge", polygon([2]float32{0, 0}, [2]float32{4, 0}, [2]float32{4, 1}), 4, 1, []byte{32, 96, 159, 223}},
		{"beyond the box", polygon([2]float32{-5, -5}, [2]float32{9, -5}, [2]float32{9, 9}, [2]float32{-5, 9}), 2, 2, []byte{255, 255, 255, 255}},
	}
	for _, tt := range tests {
		require.Equal(t, tt.want, append([]byte(nil), r.Fill(tt.path, 1, 0, 0, Box{0, 0, tt.w, tt.h})...), tt.name)
	}
	// Nearly a circle, of quadratic curves, covers its area.
	k, c := float32(30*math.Tan(math.Pi/8)), float32(30*math.Cos(math.Pi/4))
	at := [][2]float32{{30, 0}, {30, k}, {c, c}, {k, 30}, {0, 30}, {-k, 30}, {-c, c}, {-30, k}, {-30, 0}, {-30, -k}, {-c, -c}, {-k, -30}, {0, -30}, {k, -30}, {c, -c}, {30, -k}, {30, 0}}
	path := polygon(at[0])
	for i := 1; i < len(at); i += 2 {
		path = append(path, sfnt.Segment{Op: sfnt.QuadTo, P: [3][2]float32{at[i], at[i+1]}})
	}
	sum := 0.0
	for _, v := range r.Fill(path, 1, 0.3, 0.7, Bounds(path, 1, 0.3, 0.7)) {
		sum += float64(v) / 255
	}
	octagon, bow := 4*900*math.Sin(math.Pi/4), 30*math.Sin(math.Pi/8)*(30/math.Cos(math.Pi/8)-30*math.Cos(math.Pi/8))
	require.InDelta(t, octagon+8*bow*2/3, sum, 3) // a parabola has two thirds of its triangle
}

// FuzzFill draws wild paths: nothing panics, and nothing is taken for memory without end.
func FuzzFill(f *testing.F) {
	f.Add(float32(1), float32(2), float32(30), float32(-40), 1.0)
	f.Add(float32(math.Inf(1)), float32(math.NaN()), float32(1e30), float32(-1e30), 1e-30)
	f.Fuzz(func(t *testing.T, a, b, c, d float32, scale float64) {
		path := sfnt.Path{{Op: sfnt.MoveTo, P: [3][2]float32{{a, b}}}, {Op: sfnt.QuadTo, P: [3][2]float32{{c, d}, {b, a}}}, {Op: sfnt.CubeTo, P: [3][2]float32{{d, c}, {a, c}, {b, d}}}}
		box := Bounds(path, scale, 0.5, 0)
		if box.Height() > 4096 || box.Width() > 4096 {
			box = Box{0, 0, 64, 64}
		}
		(&Raster{}).Fill(path, scale, 0.5, 0, box)
	})
}

func BenchmarkFill(b *testing.B) {
	path := polygon([2]float32{100, 0}, [2]float32{400, 0}, [2]float32{300, 700}, [2]float32{150, 680})
	path = append(path, sfnt.Segment{Op: sfnt.QuadTo, P: [3][2]float32{{20, 300}, {100, 0}}})
	r, box := &Raster{}, Bounds(path, 0.032, 0, 0)
	for b.Loop() {
		r.Fill(path, 0.032, 0, 0, box)
	}
}

// A curve's box is that of the curve, not of its control points.
func TestTight(t *testing.T) {
	at := func(op sfnt.Op, p ...[2]float32) sfnt.Segment {
		s := sfnt.Segment{Op: op}
		copy(s.P[:], p)
		return s
	}
	require.Equal(t, NoExtent, Tight(nil))
	require.Equal(t, [4]float32{0, 0, 100, 50}, Tight(sfnt.Path{at(sfnt.MoveTo, [2]float32{0, 0}), at(sfnt.QuadTo, [2]float32{50, 100}, [2]float32{100, 0})}))
	require.Equal(t, [4]float32{0, 0, 100, 75}, Tight(sfnt.Path{at(sfnt.MoveTo, [2]float32{0, 0}), at(sfnt.CubeTo, [2]float32{0, 100}, [2]float32{100, 100}, [2]float32{100, 0})}))
	require.Equal(t, [4]float32{-7, -3, 20, 9}, Tight(sfnt.Path{at(sfnt.MoveTo, [2]float32{-7, -3}), at(sfnt.LineTo, [2]float32{20, 9})}))
}
