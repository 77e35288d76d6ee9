package consumers

import (
	"encoding/json"
	"fmt"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// With tracking no ligature is drawn: what is measured is as wide as in a browser, with and without it.
func TestTrackedTextsAreTheBrowsers(t *testing.T) {
	t.Parallel()
	need(t, "/usr/bin/chromium")
	const text = "office fjord flow affine waffle -> 3x9 ==> (A) first st ct Th"
	for _, name := range []string{"JunicodeTwoBeta-Regular.otf", "Inter.var.ttf", "DejaVuSans.ttf", "Lato-Regular.ttf"} {
		dir := t.TempDir()
		write(t, filepath.Join(dir, "index.html"), "<html><head><title>a</title></head><body></body></html>\n")
		notaria(t, 0, dir, "enrol", realFont(t, name), "--role", "body")
		toml := filepath.Join(dir, "notaria.toml")
		said := readFile(t, toml)
		var widths []float64
		for _, tracking := range []int{0, 60, -20} {
			write(t, toml, said+fmt.Sprintf("tracking = %d\n", tracking))
			notaria(t, 0, dir, "register")
			got, _ := browse(t, dir, "index.html", "fonts/ligatures", "type-body")
			var doc struct {
				Measures []struct{ Advance float64 }
			}
			out := notaria(t, 0, dir, "measure", "body", "--text", text, "--json")
			require.NoError(t, json.Unmarshal([]byte(out), &doc), out)
			require.InDelta(t, got["type-body"].width, doc.Measures[0].Advance, 0.6, "%s, tracking %d", name, tracking)
			widths = append(widths, got["type-body"].width)
		}
		require.Greater(t, widths[1], widths[0])
	}
}
