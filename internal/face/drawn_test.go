package face

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/locale"
	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// fontOf opens a font of the sample project.
func fontOf(t *testing.T, data []byte, err error) *sfnt.Font {
	t.Helper()
	require.NoError(t, err)
	f, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	return f.Font(0)
}

func TestCategoryByOutlines(t *testing.T) {
	for _, st := range letters.Styles {
		data, err := letters.Font(st)
		require.Equal(t, "sans", drawnCategory(fontOf(t, data, err)), st.Name)
	}
	mono, err := letters.Beacon()
	require.Equal(t, "mono", drawnCategory(fontOf(t, mono, err)))
	slabs, err := letters.Capstan()
	for name, slab := range slabs {
		require.Equal(t, "slab", drawnCategory(fontOf(t, slab, err)), name)
	}
	digits, err := letters.Lantern()
	require.Equal(t, "unknown", drawnCategory(fontOf(t, digits, err)), "digits alone have neither stems nor serifs")

	for panose, want := range map[[4]byte]string{{2, 11}: "sans", {2, 6}: "slab", {2, 2}: "serif", {2, 11, 5, 9}: "mono", {3}: "script", {4}: "display", {5}: "symbol", {}: "unknown", {2}: "unknown"} {
		o := sfnt.OS2{}
		copy(o.Panose[:], panose[:])
		require.Equal(t, want, category(o, false), panose)
	}
	for class, want := range map[int16]string{0x0100: "serif", 0x0501: "slab", 0x0805: "sans", 0x0900: "display", 0x0A00: "script", 0x0C00: "symbol", 0x0600: "unknown", -1: "unknown"} {
		require.Equal(t, want, category(sfnt.OS2{FamilyClass: class}, false), class)
	}
}

func TestLanguages(t *testing.T) {
	data, err := letters.Font(letters.Styles[1])
	f, _, err := Read(fontOf(t, data, err), Options{Coverage: true})
	require.NoError(t, err)
	var tags []string
	for _, l := range f.Writes() {
		tags = append(tags, l.Tag)
	}
	require.Subset(t, tags, []string{"da", "de", "en", "nb", "sv"})
	require.NotContains(t, tags, "vi")
	require.NotContains(t, tags, "pt-BR", "a country's variety is its language")
	vietnamese, err := locale.Of("vi")
	require.NoError(t, err)
	require.Equal(t, "Vietnamese", vietnamese.Name)
	require.Contains(t, f.LacksFor(vietnamese), "ă")
	require.NotContains(t, f.LacksFor(vietnamese), "a")
}
