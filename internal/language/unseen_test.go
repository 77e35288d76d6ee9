package language

import (
	"encoding/json"
	"encoding/xml"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
)

// What does something to the text around it is written in the form of each syntax, and
// means the same.
func TestUnseen(t *testing.T) {
	const nasty = "a\x1b[31m\u0085\u009b\u202e\u2066\u200f\u2028\ufeff\U000e0041\x7fz"
	for _, r := range nasty[1 : len(nasty)-1] {
		if r != '[' && r != '3' && r != '1' && r != 'm' {
			require.True(t, Unseen(r), "%U", r)
		}
	}
	for _, r := range "a é\n\t漢🚢" {
		require.False(t, Unseen(r), "%U", r)
	}
	seen := func(s string) {
		t.Helper()
		for _, r := range s {
			require.False(t, Unseen(r), "%U in %q", r, s)
		}
	}
	seen(OneLine("a\n" + nasty))
	seen(JSON.Literal(nasty))
	var back string
	require.NoError(t, json.Unmarshal([]byte(JSON.Literal(nasty)), &back))
	require.Equal(t, nasty, back)
	require.Equal(t, "{\"a\": \"\\u202e\\udb40\\udc41\"}\n", string(EscapeUnseen([]byte("{\"a\": \"\u202e\U000e0041\"}\n"))))
	for _, escaped := range []string{EscapeXML(nasty), EscapeAttribute(nasty)} {
		seen(escaped)
		require.NoError(t, xml.Unmarshal([]byte("<a>"+escaped+"</a>"), &back))
		require.Equal(t, "a\ufffd[31m\u0085\u009b\u202e\u2066\u200f\u2028\ufeff\U000e0041\x7fz", back, "XML has no escape character")
	}
	for _, l := range All {
		seen(l.Comment(nasty))
		if l.Literal != nil {
			seen(l.Literal(nasty))
		}
	}
}

// The cost of a unique name does not grow with how many are alike.
func BenchmarkUnique(b *testing.B) {
	for _, n := range []int{1000, 10_000} {
		names := slices.Repeat([]string{"regular"}, n)
		b.Run(fmt.Sprintf("%d-names", n), func(b *testing.B) {
			for b.Loop() {
				Unique(names)
			}
			b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N*n), "ns/name")
		})
	}
}
