package layout

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// at is how much of a change counts at a place (OpenType, variation regions).
func (t Tent) at(v float64) float64 {
	switch {
	case t.Peak == 0 || t.Start > t.Peak || t.Peak > t.End || t.Start < 0 && t.End > 0 || v == t.Peak:
		return 1
	case v <= t.Start || v >= t.End:
		return 0
	case v < t.Peak:
		return (v - t.Start) / (t.Peak - t.Start)
	}
	return (t.End - v) / (t.End - t.Peak)
}

// In the smaller space, everything counts as it did there before.
func TestRegionsCountAsBefore(t *testing.T) {
	for _, limit := range []AxisLimit{{Low: -1, High: 1}, {Low: -0.5, High: 0.6}, {Low: 0, High: 0.25}, {Low: -0.25, High: 0}} {
		space := Narrowing{limit, {Gone: true}}
		for _, tent := range []Tent{{0, 1, 1}, {-1, -1, 0}, {0, 0.5, 1}, {0.25, 0.5, 1}, {0, 0.6, 0.6}, {0.5, 0.75, 1}, {-1, -0.25, 0}, {-1, -0.75, -0.5}, {0, 0, 0}, {0, 0.25, 0.75}, {-0.5, 0.5, 1}} {
			for _, other := range []Tent{{}, {0, 1, 1}} {
				regions := space.Regions([]Tent{tent, other})
				for _, v := range []float64{-1, -0.5, -0.125, 0, 0.0625, 0.25, 0.5, 0.75, 1} {
					old := v * limit.High
					if v < 0 {
						old = v * -limit.Low
					}
					if v != 0 && old == 0 {
						continue // the axis has no such side
					}
					sum := 0.0
					for _, r := range regions {
						sum += r.Scale * r.Tents[0].at(v)
					}
					require.InDelta(t, tent.at(old)*other.at(0), sum, 1e-9, "%v of %v at %g in %v", regions, tent, v, limit)
				}
			}
		}
	}
	require.Equal(t, 1, Narrowing{{Gone: true}, {High: 1}}.Kept())
	many := make(Narrowing, 20)
	tents := make([]Tent, 20)
	for i := range many {
		many[i], tents[i] = AxisLimit{High: 0.5}, Tent{0, 0.25, 1}
	}
	require.Nil(t, many.Regions(tents), "a million regions")
}
