package sfnt

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// tuples is a table gvar of one axis and one glyph: a tuple at the axis's end.
func tuples(data []byte) []byte {
	var b be
	b.u16(1, 0, 1, 0)
	b.u32(20 + 4)
	b.u16(1, 0)
	b.u32(20 + 4)
	b.u16(0, uint16(len(data)/2))
	return append(b, data...)
}

func TestDeltas(t *testing.T) {
	// One tuple with its own peak of 1 and its own points 0 and 2: 0 goes right by 10, 2 up by 20.
	data := []byte{0, 1, 0, 10, 0, 10, 0xa0, 0, 0x40, 0, 2, 1, 0, 2, 1, 10, 0, 1, 0, 20}
	v, err := parseGvar(tuples(data), 1)
	require.NoError(t, err)
	points := [][2]float32{{0, 0}, {50, 10}, {100, 40}, {0, 0}, {100, 0}, {0, 0}, {0, 0}}
	for place, want := range map[float64][][2]float32{
		1:   {{10, 0}, {5, 5}, {0, 20}, {}, {}, {}, {}}, // the point between them goes along
		0.5: {{5, 0}, {2.5, 2.5}, {0, 10}, {}, {}, {}, {}},
		0:   {{}, {}, {}, {}, {}, {}, {}},
		-1:  {{}, {}, {}, {}, {}, {}, {}},
	} {
		v.place = []float64{place}
		require.Equal(t, want, v.deltas(0, points, []int{2}), "%g", place)
	}
	require.Nil(t, v.deltas(5, points, nil))
	_, err = parseGvar(tuples(data), 2)
	require.ErrorContains(t, err, "2 axes and its parts within the table")
}

func TestNormalized(t *testing.T) {
	axes := []Axis{{Tag: "wght", Min: 100, Default: 400, Max: 900}, {Tag: "opsz", Min: 14, Default: 14, Max: 32}}
	for v, want := range map[float64]float64{400: 0, 100: -1, 900: 1, 250: -0.5, 5000: 1, 650: 0.5} {
		place, err := normalized(axes, map[string]float64{"wght": v})
		require.NoError(t, err)
		require.Equal(t, []float64{want, 0}, place)
	}
	_, err := normalized(axes, map[string]float64{"wdth": 1})
	require.ErrorContains(t, err, "an axis of the font: wght (100 to 900), opsz (14 to 32)")
	_, err = normalized(nil, map[string]float64{"wdth": 1})
	require.ErrorContains(t, err, "a variable font for the axis wdth")
	place := []float64{0.5, -0.5}
	remap([]byte{0, 1, 0, 0, 0, 0, 0, 2, 0, 3, 0xc0, 0, 0xc0, 0, 0, 0, 0, 0, 0x40, 0, 0x20, 0, 0, 0}, place)
	require.Equal(t, []float64{0.25, -0.5}, place)
}

// Whatever the tables hold, points have some place.
func FuzzDeltas(f *testing.F) {
	f.Add(tuples([]byte{0, 1, 0, 10, 0, 10, 0xa0, 0, 0x40, 0, 2, 1, 0, 2, 1, 10, 0, 1, 0, 20}), []byte{0, 1, 0, 0, 0, 0, 0, 1, 0, 0}, 0.5)
	f.Fuzz(func(t *testing.T, gvar, avar []byte, at float64) {
		place := []float64{max(-1, min(1, at))}
		remap(avar, place)
		v, err := parseGvar(gvar, 1)
		if err != nil {
			return
		}
		v.place = place
		v.deltas(0, make([][2]float32, 12), []int{3, 7})
	})
}
