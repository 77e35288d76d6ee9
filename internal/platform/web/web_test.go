package web

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/platform"
	"notaria/internal/sfnt"
)

// What a rule says of its file, and a role of its face: numbers, or for a variable font the
// ranges of its axes.
func TestRangesOfVariableFonts(t *testing.T) {
	for name, tt := range map[string]struct {
		face                      face.Face
		weight, own, stretch, one string
	}{
		"plain":        {face.Face{Weight: 700, Width: 100}, "700", "700", "", ""},
		"narrow":       {face.Face{Weight: 400, Width: 87.5}, "400", "400", "87.5%", "87.5%"},
		"variable":     {face.Face{Weight: 400, Width: 100, Axes: []face.Axis{{Tag: "wght", Min: 100, Default: 400, Max: 900}, {Tag: "wdth", Min: 75, Default: 100, Max: 112.5}}}, "100 900", "400", "75% 112.5%", ""},
		"out of range": {face.Face{Weight: 5000, Width: 0}, "1000", "1000", "", ""},
	} {
		require.Equal(t, []string{tt.weight, tt.own, tt.stretch, tt.one}, []string{weight(tt.face), ownWeight(tt.face), stretch(tt.face), ownStretch(tt.face)}, name)
	}
	require.Equal(t, []string{"italic", "normal"}, []string{style(face.Face{Slant: face.Italic}), style(face.Face{Slant: face.Upright})})
}

// A role of a variable font stands where its coordinates say, as far as the font goes.
func TestCoordinates(t *testing.T) {
	f := face.Face{Weight: 400, Width: 100, Slant: face.Upright, Variable: true, Axes: []face.Axis{{Tag: "wght", Min: 100, Max: 900}, {Tag: "wdth", Min: 75, Max: 100}, {Tag: "slnt", Min: -10, Max: 0}, {Tag: "GRAD", Min: -1, Max: 1}, {Tag: "opsz", Min: 8, Max: 72}}}
	require.Equal(t, "oblique 0deg 10deg", style(f))
	r := platform.Role{Face: platform.Face{Face: f}, Coordinates: map[string]float64{"wght": 650, "wdth": 50, "slnt": -6, "GRAD": 0.5, "opsz": 14, "none": 3}}
	l := newRole(r, "")
	require.Equal(t, []string{"650", "75%", "oblique 6deg", `"GRAD" 0.5, "opsz" 14`}, []string{l.Weight, l.Stretch, l.Style, l.Variations})
	l = newRole(platform.Role{Face: platform.Face{Face: f}}, "")
	require.Equal(t, []string{"400", "", "normal", ""}, []string{l.Weight, l.Stretch, l.Style, l.Variations})
	require.Equal(t, []platform.Shortfall{{Role: "", Part: platform.PartCoordinates, Why: "x"}}, platform.Shortfalls(platform.Job{Roles: []platform.Role{{Scale: true, Face: r.Face, Coordinates: r.Coordinates}}}, map[string]string{platform.PartCoordinates: "x"}))
}

// The font that stands in is of the kind that the face, or its role, is of.
func TestKindsOfStandIns(t *testing.T) {
	require.Equal(t, []string{"mono", "mono", "serif", "serif", "sans", "sans"}, []string{kindOf(face.Face{FixedPitch: true}), kindOf(face.Face{Category: "mono"}), kindOf(face.Face{Category: "slab"}),
		kindOf(face.Face{Category: "serif"}), kindOf(face.Face{Category: "unknown"}), kindOf(face.Face{})})
	require.Nil(t, standIns(face.Face{}, platform.Facts{}, ""))
	sum := 0
	for _, n := range often {
		sum += n
	}
	require.InDelta(t, 1000, sum, 15)
	require.InDelta(t, 0.45, mean(helvetica), 0.03)
	require.Less(t, mean(times), mean(helvetica))
	for _, s := range scripts {
		require.Len(t, s.often, len([]rune(s.letters)), s.ranges)
	}
}

// A rule is held against a role only where an element of the app can have both.
func TestElementsWithARole(t *testing.T) {
	for _, tt := range []struct {
		element, selector string
		fits              bool
	}{
		{`<h1 class="type-heading">`, "#page h1", true}, {`<h1 class="type-heading">`, "#page h2", false}, {`<h1 id="a" class="wide type-heading">`, "#a", true},
		{`<h1 class="wide type-heading">`, ".x .y > .wide:hover", true}, {`<h1 class="type-heading">`, ".x .y .wide", false}, {`<Title className="type-heading" />`, ".x .y h1", true},
		{`<h1 className={"type-heading"}>`, "#a *", true}, {`<h1 class="wide">`, "#a h1", false}, {`<p class="type-body <%= tide %>">`, "#a .low", false},
	} {
		words := dressedIn([]byte("<div>" + tt.element + "</div>"))
		require.Equal(t, tt.fits, len(words) == 1 && fits(tt.selector, words[0]), tt.element+" "+tt.selector)
	}
}

// Of two rules the one with more ids, classes and types wins over the other.
func TestRulesOverARole(t *testing.T) {
	for sel, over := range map[string]bool{"p": false, ".a": false, ".a .b": false, "h1.a, .b": false, ".a p.b": true, "#x": true, ".a .b .c": true, ".a:hover p": true, "[lang] .a b": true, "#x .type-body": false, "p::first-line": false} {
		require.Equal(t, over, platform.AnswerRule(sel, nil).Fault == platform.OverRole, sel)
	}
	require.Equal(t, "../../a/b.css", platform.Relative("x/y", "a/b.css"))
	require.Equal(t, "b.css", platform.Relative("", "b.css"))
	require.Equal(t, "fonts/b.css", platform.Relative("x", "x/fonts/b.css"))
}

// Every character of a face is in some part; a script is in one, with its marks.
func TestParts(t *testing.T) {
	var has sfnt.Coverage
	for _, r := range [][2]rune{{0x20, 0x7e}, {0xa0, 0x24f}, {0x2bb, 0x2bd}, {0x300, 0x36f}, {0x370, 0x3ff}, {0x400, 0x4ff}, {0x483, 0x489}, {0x5d0, 0x5ea}, {0x64b, 0x652}, {0x905, 0x939}, {0x951, 0x952}, {0x964, 0x96f}, {0x2013, 0x2026}, {0x2190, 0x21ff}, {0x4e00, 0x5200}} {
		has = append(has, sfnt.Range{First: r[0], Last: r[1]})
	}
	slices.SortFunc(has, func(a, b sfnt.Range) int { return int(a.First - b.First) })
	has[6].First = 0x500 // ranges do not touch
	for _, own := range []map[rune]bool{nil, {'ж': true, 'é': true}} {
		parts := parted(has, own)
		var names []string
		in := map[rune][]string{}
		for _, p := range parts {
			names = append(names, p.name)
			for _, c := range p.characters {
				for r := c.First; r <= c.Last; r++ {
					in[r] = append(in[r], p.name)
				}
			}
		}
		for _, c := range has {
			for r := c.First; r <= c.Last; r++ {
				require.NotEmpty(t, in[r], "%U", r)
			}
		}
		require.Equal(t, []string{"han-1"}, in[0x4e00])
		require.Equal(t, []string{"han-2"}, in[0x5200])
		require.Equal(t, []string{"devanagari"}, in[0x964])
		require.Equal(t, []string{"hebrew"}, in[0x5d0])
		require.Contains(t, in[0x301], "cyrillic")
		require.NotContains(t, in[0x301], "devanagari")
		require.Len(t, in[0x64b], 1, "no letter takes it: it is in the first")
		if own == nil {
			require.Equal(t, []string{"latin", "latin-more", "cyrillic", "devanagari", "greek", "han-1", "han-2", "hebrew", "signs"}, names)
			require.Equal(t, []string{"latin"}, in['é'])
		} else {
			require.Equal(t, "own", names[0])
			require.Equal(t, []string{"own"}, in['é'])
			require.Equal(t, []string{"own"}, in['a'])
			require.Equal(t, []string{"own"}, in['ж'])
			require.Equal(t, []string{"cyrillic"}, in['з'])
		}
	}
	require.Nil(t, parted(sfnt.Coverage{{First: 0x20, Last: 0x7e}, {First: 0x100, Last: 0x104}}, nil), "too few for a file")
}
