package report

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/specimen"
)

// What cannot be drawn is told in its place, and escaped: one broken face stops no report.
func TestDrawnTellsWhatCannotBe(t *testing.T) {
	f := specimen.Face{Face: face.Face{Full: "X"}, Read: func() ([]byte, error) { return []byte("<b>no font"), nil }}
	got := string(drawn(f, "x", specimen.Style{Size: 20}, specimen.Light))
	require.Contains(t, got, "cannot be drawn: ")
	require.NotContains(t, got, "<b>")
	require.Equal(t, "Ferry", f.Own("Ferry"), "a face without characters shows boxes")
}
