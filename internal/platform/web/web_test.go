package web

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/platform"
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
