package pixel

import (
	"bytes"
	"os"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// benched is the face that is drawn: the demo's, or the file that NOTARIA_FACE names.
func benched(b *testing.B) *Source {
	name := os.Getenv("NOTARIA_FACE")
	if name == "" {
		return styled(b, letters.Styles[1])
	}
	data, err := os.ReadFile(name)
	require.NoError(b, err)
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	require.NoError(b, err)
	paths, err := file.Font(0).Paths()
	require.NoError(b, err)
	head, err := file.Font(0).Head()
	require.NoError(b, err)
	return &Source{UnitsPerEm: int(head.UnitsPerEm), Ascent: 1000, Descent: -200, Paths: paths}
}

var ascii = func() (out []rune) {
	for r := ' '; r < 0x7f; r++ {
		out = append(out, r)
	}
	return out
}()

// BenchmarkDraw draws ASCII in greys, unhinted, at 8 to 64 pixels: tests/agree/grey/speed.c does the
// same with FreeType. GOMAXPROCS says on how many processors.
func BenchmarkDraw(b *testing.B) {
	s := benched(b)
	glyphs := 0
	for b.Loop() {
		for _, em := range []float64{8, 12, 16, 24, 32, 48, 64} {
			f, _, err := s.Draw(em, Choice{Characters: ascii, Depth: 8})
			require.NoError(b, err)
			glyphs += len(f.Glyphs)
		}
	}
	b.ReportMetric(float64(glyphs)/b.Elapsed().Seconds(), "glyphs/s")
}

// BenchmarkDrawTogether draws several sizes at once, as a run for several heights does: on two
// processors against BenchmarkDraw on one.
func BenchmarkDrawTogether(b *testing.B) {
	s := benched(b)
	var glyphs atomic.Int64
	b.RunParallel(func(pb *testing.PB) {
		for pb.Next() {
			for _, em := range []float64{8, 12, 16, 24, 32, 48, 64} {
				f, _, err := s.Draw(em, Choice{Characters: ascii, Depth: 8})
				if err != nil {
					b.Error(err)
				}
				glyphs.Add(int64(len(f.Glyphs)))
			}
		}
	})
	b.ReportMetric(float64(glyphs.Load())/b.Elapsed().Seconds(), "glyphs/s")
}

// BenchmarkHint draws ASCII at 12 pixels without shades, hinted.
func BenchmarkHint(b *testing.B) {
	s := benched(b)
	glyphs := 0
	for b.Loop() {
		f, _, err := s.Draw(12, Choice{Characters: ascii, Depth: 1, Hint: true})
		require.NoError(b, err)
		glyphs += len(f.Glyphs)
	}
	b.ReportMetric(float64(glyphs)/b.Elapsed().Seconds(), "glyphs/s")
}
