package language

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestDistance(t *testing.T) {
	tests := []struct {
		a, b string
		want int
	}{{"", "", 0}, {"a", "", 1}, {"blod", "bold", 1}, {"kitten", "sitting", 3}, {"abc", "xyz", 3}}
	for _, tt := range tests {
		require.Equal(t, tt.want, Distance(tt.a, tt.b, 5), "%s %s", tt.a, tt.b)
		require.Equal(t, tt.want, Distance(tt.b, tt.a, 5), "%s %s", tt.b, tt.a)
	}
	require.Equal(t, 3, Distance("aaaaaa", "bbbbbb", 2), "more than asked for")
	long := make([]byte, 5000)
	require.Equal(t, 3, Distance(string(long), "b", 2), "endless names are not compared")
}

func TestNearWord(t *testing.T) {
	keys := []string{"face", "size", "line-height", "colour", "licence"}
	for typed, want := range map[string]string{"color": "colour", "lineHeight": "line-height", "line_height": "line-height", "license": "licence", "Szie": "size",
		"weight": "", "x": "", "": ""} {
		require.Equal(t, want, NearWord(typed, keys), typed)
	}
}
