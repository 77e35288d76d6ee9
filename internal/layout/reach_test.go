package layout

import (
	"encoding/binary"
	"testing"

	"github.com/stretchr/testify/require"
)

// words writes numbers of 16 bits.
func words(v ...int) []byte {
	var b []byte
	for _, n := range v {
		b = binary.BigEndian.AppendUint16(b, uint16(n))
	}
	return b
}

// gsub is a table of lookups, each of one subtable.
func gsub(kinds []int, subtables ...[]byte) []byte {
	b := words(1, 0, 0, 0, 10, len(kinds)) // version, scripts, features, lookups at 10
	at := 2 + 2*len(kinds)
	var lookups []byte
	for i, kind := range kinds {
		b = append(b, words(at+len(lookups))...)
		lookups = append(append(lookups, words(kind, 0, 1, 8)...), subtables[i]...)
	}
	return append(b, lookups...)
}

func TestReach(t *testing.T) {
	table := gsub([]int{1, 1, 2, 3, 8, 7},
		words(1, 6, 5, 1, 1, 10),                // single: 10 -> 15
		words(2, 8, 1, 20, 1, 1, 15),            // single by list: 15 -> 20
		words(1, 8, 1, 14, 1, 1, 20, 2, 21, 22), // multiple: 20 -> 21 22
		words(1, 8, 1, 14, 1, 1, 22, 1, 23),     // alternate: 22 -> 23
		words(1, 12, 0, 0, 1, 24, 1, 1, 23),     // reverse: 23 -> 24
		words(1, 1, 0, 8, 1, 6, 1, 1, 1, 24),    // extension of single: 24 -> 25
	)
	marked := make([]bool, 40)
	marked[10] = true
	require.NoError(t, Reach(table, marked))
	var got []int
	for g, m := range marked {
		if m {
			got = append(got, g)
		}
	}
	require.Equal(t, []int{10, 15, 20, 21, 22, 23, 24, 25}, got)
}

// A ligature counts where all of its parts do.
func TestReachLigatures(t *testing.T) {
	table := gsub([]int{4}, words(1, 8, 1, 14, 1, 1, 5, 1, 4, 9, 2, 6)) // 5 6 -> 9
	for _, c := range []struct {
		marked []int
		want   bool
	}{{[]int{5}, false}, {[]int{6}, false}, {[]int{5, 6}, true}} {
		marked := make([]bool, 10)
		for _, g := range c.marked {
			marked[g] = true
		}
		require.NoError(t, Reach(table, marked))
		require.Equal(t, c.want, marked[9], c.marked)
	}
}

// A range of a coverage that is everything, in many subtables, is given up.
func TestReachIsBounded(t *testing.T) {
	var kinds []int
	var subtables [][]byte
	for range 900 {
		kinds, subtables = append(kinds, 1), append(subtables, words(1, 6, 1, 2, 1, 0, 0xffff, 0))
	}
	marked := make([]bool, 0x10000)
	marked[0] = true
	require.ErrorContains(t, Reach(gsub(kinds, subtables...), marked), "found more than 50000000 steps")
}

// Tables without a glyph are counted, too: thousands of lookups of thousands of subtables can share a few bytes.
func TestEmptyTablesAreCounted(t *testing.T) {
	b := make([]byte, 1<<16)
	for i := range b {
		b[i] = byte(i % 2 * 3) // every number is 3, and every table of an unknown form
	}
	r := &reach{b: b, marked: make([]bool, 10), most: 1000}
	for range 2000 {
		if r.lookup(append(words(1, 0, 0xffff), b...)) != nil {
			return
		}
	}
	t.Fatal(r.work)
}

func FuzzReach(f *testing.F) {
	f.Add(gsub([]int{1, 4}, words(1, 6, 5, 1, 1, 10), words(1, 8, 1, 14, 1, 1, 5, 1, 4, 9, 2, 6)))
	f.Fuzz(func(_ *testing.T, b []byte) {
		marked := make([]bool, 100)
		marked[5], marked[6], marked[10] = true, true, true
		_ = within(b, marked, 100_000) // the engine takes seconds for hanging
	})
}

// A selector has two lists: characters that stay as they are, and those with glyphs of their own.
func TestSequences(t *testing.T) {
	sub := append(words(14, 0, 10+11+4+5, 0, 1), 0, 0xFE, 0x0F, 0, 0, 0, 0, 0, 0, 0, 21)
	sub = append(sub, 0, 0, 0, 1, 0, 0x27, 0x64, 0, 9)
	table := append(words(0, 1, 0, 5, 0, 12), sub...)
	got := map[rune]int{}
	raw, err := Sequences(table, func(r rune, g int) { got[r] = g })
	require.NoError(t, err)
	require.Equal(t, sub, raw)
	require.Equal(t, map[rune]int{0x2764: 9}, got)
	for n := len(table) - len(sub) + 10; n < len(table); n++ {
		_, err := Sequences(table[:n], func(rune, int) {})
		require.ErrorContains(t, err, "expected variation sequences inside of the table", n)
	}
}

func FuzzSequences(f *testing.F) {
	f.Add(append(words(0, 1, 0, 5, 0, 12, 14, 0, 30, 0, 1), 0, 0xFE, 0x0F, 0, 0, 0, 0, 0, 0, 0, 21, 0, 0, 0, 1, 0, 0x27, 0x64, 0, 9))
	f.Fuzz(func(_ *testing.T, b []byte) { _, _ = Sequences(b, func(rune, int) {}) })
}
