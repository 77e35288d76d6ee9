package intake

import (
	"context"
	"os"
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
