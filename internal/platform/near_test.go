package platform

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestNearest(t *testing.T) {
	names := []string{"SkerrySans-Bold", "SkerrySans-Regular", "CapstanSlab-Bold"}
	for typed, want := range map[string]string{
		"SkerrySans-Blod": "SkerrySans-Bold", "skerrysans_bold": "SkerrySans-Bold", "SkerrySans-Bold.ttf": "SkerrySans-Bold",
		"SkerrySansBold": "SkerrySans-Bold", "CapstanSlabBold": "CapstanSlab-Bold", "SkerySans-Regular": "SkerrySans-Regular",
		"HouseGothic": "", "": "", "X": "",
	} {
		require.Equal(t, want, Nearest(typed, names), "%q", typed)
	}
}

func TestDistance(t *testing.T) {
	tests := []struct {
		a, b string
		want int
	}{{"", "", 0}, {"a", "", 1}, {"blod", "bold", 1}, {"kitten", "sitting", 3}, {"abc", "xyz", 3}}
	for _, tt := range tests {
		require.Equal(t, tt.want, distance(tt.a, tt.b, 5), "%s %s", tt.a, tt.b)
		require.Equal(t, tt.want, distance(tt.b, tt.a, 5), "%s %s", tt.b, tt.a)
	}
	require.Equal(t, 3, distance("aaaaaa", "bbbbbb", 2), "more than asked for")
	long := make([]byte, 5000)
	require.Equal(t, 3, distance(string(long), "b", 2), "endless names are not compared")
}
