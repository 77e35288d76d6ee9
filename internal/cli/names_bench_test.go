package cli

import (
	"context"
	"io"
	"os"
	"strings"
	"testing"
)

// BenchmarkNames runs the whole command on the fonts below NOTARIA_FONTS, as text.
func BenchmarkNames(b *testing.B) {
	dir := os.Getenv("NOTARIA_FONTS")
	if dir == "" {
		b.Skip("set NOTARIA_FONTS to a folder of fonts")
	}
	for b.Loop() {
		if code := run(context.Background(), []string{"names", dir}, strings.NewReader(""), io.Discard, io.Discard); code == exitUse {
			b.Fatal(code)
		}
	}
}
