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
