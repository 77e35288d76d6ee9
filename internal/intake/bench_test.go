package intake

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"testing"
)

// BenchmarkGather reads the fonts below NOTARIA_FONTS with names and metrics
// alone, as "notaria names" does. scripts/bench-names compares whole processes.
func BenchmarkGather(b *testing.B) {
	dir := os.Getenv("NOTARIA_FONTS")
	if dir == "" {
		b.Skip("set NOTARIA_FONTS to a folder of fonts")
	}
	for b.Loop() {
		h, err := Gather(context.Background(), []string{dir}, Options{})
		if err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(float64(len(h.Faces)), "faces")
	}
}

// The cost of an entry of an archive does not grow with how many there are.
func BenchmarkArchive(b *testing.B) {
	for _, n := range []int{500, 5000} {
		name := filepath.Join(b.TempDir(), "fonts.zip")
		f, err := os.Create(name)
		if err != nil {
			b.Fatal(err)
		}
		z := zip.NewWriter(f)
		for i := range n {
			if _, err := z.Create(fmt.Sprintf("f%d.ttf", i)); err != nil {
				b.Fatal(err)
			}
		}
		if err := errors.Join(z.Close(), f.Close()); err != nil {
			b.Fatal(err)
		}
		b.Run(fmt.Sprintf("%d-entries", n), func(b *testing.B) {
			for b.Loop() {
				if _, err := Gather(context.Background(), []string{name}, Options{}); err != nil {
					b.Fatal(err)
				}
			}
			b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N*n), "ns/entry")
		})
	}
}
