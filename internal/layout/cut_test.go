package layout

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
)

// Nodes that are alike are written once, each behind all that refer to it; what 32 bits refer to stands by itself.
func TestPack(t *testing.T) {
	leaf := func(v int) *node { n := &node{}; n.u16(v); return n }
	root, left, right := &node{}, &node{}, &node{}
	left.ref(leaf(7))
	right.u16(1)
	right.ref(leaf(7))
	root.ref(left)
	root.ref(right)
	root.far(leaf(9))
	b, err := pack(root)
	require.NoError(t, err)
	require.Equal(t, words(8, 10, 0, 16, 6, 1, 4, 7, 9), b)
	require.Equal(t, 7, sfnt.Word(b, 8+sfnt.Word(b, 8)), "by the left")
	require.Equal(t, 7, sfnt.Word(b, 10+sfnt.Word(b, 12)), "by the right")
	big := &node{}
	wide := &node{b: make([]byte, 0x10000)}
	wide.ref(leaf(1))
	big.ref(wide)
	big.ref(leaf(2))
	_, err = pack(big)
	require.ErrorContains(t, err, "16 bits")
}

func TestClassesAndCovers(t *testing.T) {
	c := NewCut([]bool{true, false, true, true, false, true})
	require.Equal(t, []int{0, 2, 3, 5}, c.Kept())
	require.Equal(t, []int{-1, 1, -1}, []int{c.New(1), c.New(2), c.New(9)})
	require.Equal(t, words(1, 2, 1, 3), c.cutCover(words(1, 3, 1, 2, 5)).b)
	require.Equal(t, words(2, 1, 1, 4, 0), cover([]int{1, 2, 3, 4}).b)
	require.Nil(t, c.cutCover(words(1, 1, 1)))
	require.Equal(t, words(1, 1, 3, 4, 0, 6), c.classes(words(1, 2, 4, 4, 0, 5, 6), same).b, "glyphs 2, 3 and 5 of classes 4, 0 and 6")
	require.Equal(t, words(2, 0), c.classes(nil, same).b)
	require.True(t, c.members(words(1, 2, 4, 4, 0, 5, 6))[6])
	require.False(t, c.members(words(1, 2, 4, 4, 0, 5, 6))[5])
}

func FuzzLayout(f *testing.F) {
	f.Add(gsub([]int{1, 4, 6}, words(1, 6, 5, 1, 1, 10), words(1, 8, 1, 14, 1, 1, 3, 1, 4, 7, 2, 4), words(3, 0, 1, 12, 0, 0, 0, 1, 1, 3)), false)
	f.Add(words(1, 1, 0, 0, 0, 0, 0), true)
	f.Fuzz(func(_ *testing.T, b []byte, gpos bool) {
		marked := make([]bool, 300)
		for g := range marked {
			marked[g] = g%3 != 1
		}
		tag := map[bool]string{false: "GSUB", true: "GPOS"}[gpos]
		c := NewCut(marked)
		out, err := c.Layout(tag, b)
		if err == nil {
			_, _ = NewCut(marked).Layout(tag, out)
		}
		_, _ = c.Definitions(b)
		_, _ = c.Pairs(b)
		_, _ = c.Advances("HVAR", b)
		_, _ = c.Advances("VVAR", b)
	})
}
