package layout

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Whatever the tables hold, a pair has some value.
func FuzzKerning(f *testing.F) {
	pairs, err := KernBytes([]KernPair{{Left: 1, Right: 2, Value: -30}, {Left: 1, Right: 3, Value: 20}, {Left: 4, Right: 1, Value: -8}})
	if err != nil {
		f.Fatal(err)
	}
	f.Add(pairs, uint16(1), uint16(3))
	f.Add([]byte{0, 0, 0, 1, 0, 0, 0, 20, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0, 0, 1, 0, 2, 0xff, 0xe2}, uint16(1), uint16(2))
	f.Fuzz(func(t *testing.T, b []byte, left, right uint16) {
		k := &Kerning{}
		k.readGPOS(b)
		k.Between(int(left), int(right))
		k = &Kerning{}
		k.readKern(b)
		k.Between(int(left), int(right))
	})
}

func TestKerning(t *testing.T) {
	pairs, err := KernBytes([]KernPair{{Left: 1, Right: 2, Value: -30}, {Left: 1, Right: 3, Value: 20}, {Left: 4, Right: 1, Value: -8}})
	require.NoError(t, err)
	k := &Kerning{}
	k.readGPOS(pairs)
	for pair, want := range map[[2]int]int{{1, 2}: -30, {1, 3}: 20, {4, 1}: -8, {4, 2}: 0, {9, 9}: 0} {
		require.Equal(t, want, k.Between(pair[0], pair[1]))
	}
	require.Zero(t, (*Kerning)(nil).Between(1, 2))
}
