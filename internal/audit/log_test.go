package audit

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Consoles put their own words in front of lines.
func TestReadLog(t *testing.T) {
	seen := ReadLog([]byte("2026-06-01 12:00:00.000 Quay[123:456] Faces of this app:\n  there   SkerrySans-Regular\n" +
		"06-01 12:00 I/flutter:   MISSING SkerrySans-Bold\r\n" +
		"Quay[1:2] [default] AppType: no face SkerrySans-Bold; the system font shows instead\n" +
		"W/AppType (12): no face for the role heading; the system's shows instead\n" +
		"nothing is MISSING here\nwhat is there is there\n"))
	require.Equal(t, []Sighting{
		{Face: "SkerrySans-Regular", There: true, Lines: 1, Reasons: []Finding{}},
		{Face: "SkerrySans-Bold", Lines: 2, Reasons: []Finding{}},
		{Role: "heading", Lines: 1, Reasons: []Finding{}},
	}, seen)
}

func FuzzReadLog(f *testing.F) {
	f.Add([]byte("AppType: no face A;\n  MISSING B\nthere   C"))
	f.Fuzz(func(_ *testing.T, log []byte) { ReadLog(log) })
}

func FuzzParseKnown(f *testing.F) {
	f.Add([]byte(`{"schema": "notaria/known/1", "findings": [{"rule": "r", "count": -1}]}`))
	f.Fuzz(func(_ *testing.T, text []byte) {
		if k, err := ParseKnown(text); err == nil {
			k.Sift([]Finding{{Rule: "r"}})
		}
	})
}
