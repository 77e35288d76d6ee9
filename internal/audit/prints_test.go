package audit

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// A finding keeps its fingerprint when its line moves; two of one kind in one file differ.
func TestPrints(t *testing.T) {
	f := Finding{Rule: "unknown-font-name", Target: "apple", Site: "ios", File: "a.swift", Line: 3, Message: "m"}
	moved, other := f, f
	moved.Line, moved.Column = 9, 4
	other.Message = "n"
	first, second := Prints{}, Prints{}
	require.Equal(t, first.Of(f), second.Of(moved))
	require.NotEqual(t, first.Of(other), second.Of(moved))
	third := Prints{}
	require.NotEqual(t, third.Of(f), third.Of(f), "the second of a kind")
}
