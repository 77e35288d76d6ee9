package fault

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
)

// What an argument says is never taken for a part of the sentence.
func TestForm(t *testing.T) {
	err := Form("U+%04X: expected %s of at most %d%%, found %q; choose %s", 0x41, "a, found b; expected c", 7, "x; y, found z", "less")
	require.Equal(t, &Error{Place: "U+0041", Expected: "a, found b; expected c of at most 7%", Found: `"x; y, found z"`, Cure: "choose less"}, err)
	require.EqualError(t, err, `U+0041: expected a, found b; expected c of at most 7%, found "x; y, found z"; choose less`)
	require.EqualError(t, Form("expected %-4d|, found %+.1f", 1, 2.0), "expected 1   |, found +2.0")
	require.EqualError(t, Form("no form at %d", 3), "no form at 3")
}

func TestOf(t *testing.T) {
	bare := fmt.Errorf("read: %w", Form("glyph %d: expected ink, found none", 3))
	require.EqualError(t, Of("a.bdf", "a bitmap font", bare, "draw it"), "a.bdf: expected ink (a bitmap font, glyph 3), found none; draw it")
	require.EqualError(t, Of("a.bdf", "a bitmap font", Form("expected a, found b; do c"), "draw it"), "a.bdf: expected a (a bitmap font), found b; do c; draw it")
	require.EqualError(t, Of("a.bdf", "a bitmap font", errors.New("gone"), "draw it"), "a.bdf: expected a bitmap font, found gone; draw it")
	whole := &Error{File: "b", Expected: "c", Found: "d", Cure: "e"}
	require.Equal(t, error(whole), Of("a", "x", whole, "y"))
}
