package face

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
)

// Several PostScript names, or one with space about it: readers differ, and are told apart.
func TestPostScriptNames(t *testing.T) {
	win := func(v string) sfnt.NameRecord {
		return sfnt.NameRecord{ID: sfnt.NamePostScript, Platform: sfnt.PlatformWindows, Encoding: 1, Language: 0x409, Value: v}
	}
	mac := func(v string) sfnt.NameRecord {
		return sfnt.NameRecord{ID: sfnt.NamePostScript, Platform: sfnt.PlatformMac, Value: v}
	}
	for _, c := range []struct {
		names sfnt.Names
		codes []string
	}{
		{sfnt.Names{win("A-B"), mac("A-B")}, nil},
		{sfnt.Names{win("A-B"), mac("A-C")}, []string{"several-postscript-names"}},
		{sfnt.Names{win("A-B"), win("A-C")}, []string{"several-postscript-names"}},
		{sfnt.Names{win("A-B\x00"), mac("A-B ")}, []string{"padded-name"}},
	} {
		var f Face
		f.takeNames(c.names)
		var codes []string
		for _, p := range f.nameProblems(c.names) {
			codes = append(codes, p.Code)
		}
		require.Equal(t, c.codes, codes, c.names)
	}
}
