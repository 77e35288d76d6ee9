package tokens

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func ptr(v float64) *float64 { return &v }

// What is written is read back as it was.
func TestThereAndBack(t *testing.T) {
	roles := []Role{
		{Name: "body", Families: []string{"Skerry Sans"}, Face: "SkerrySans-Regular", Weight: 400, Size: 17, OwnLine: 1.2},
		{Name: "heading", Families: []string{"Skerry Sans", "Quay \"Gothic\""}, Face: "SkerrySans-Bold", Weight: 700, Size: 28, LineHeight: ptr(34), Tracking: ptr(10), Colour: "#0B3D5C80"},
	}
	text, err := Write(roles)
	require.NoError(t, err)
	again, err := Write(roles)
	require.NoError(t, err)
	require.Equal(t, string(text), string(again))
	got, problems, err := Read(text)
	require.NoError(t, err)
	require.Empty(t, problems)
	require.Len(t, got, 2)
	require.Nil(t, got[0].LineHeight, "it is the face's own")
	require.Equal(t, roles[0].Families, got[0].Families)
	require.InDelta(t, 34, *got[1].LineHeight, 0.001)
	require.InDelta(t, 10, *got[1].Tracking, 0.001)
	require.Equal(t, roles[1].Families, got[1].Families)
	require.Equal(t, "SkerrySans-Bold", got[1].Face)
	require.Equal(t, "#0B3D5C80", got[1].Colour)
	_, err = Write([]Role{{Name: "x", Size: 1, Colour: "blue"}})
	require.ErrorContains(t, err, "expected a colour")
}

// Files of others: references, inherited types, lengths in rem and as texts, words for weights.
func TestReadsFilesOfOthers(t *testing.T) {
	got, problems, err := Read([]byte(`{
		"font": {"family": {"$type": "fontFamily", "brand": {"$value": ["Skerry Sans", "sans-serif"]}}},
		"size": {"$type": "dimension", "large": {"$value": {"value": 2, "unit": "rem"}}},
		"color": {"$type": "color", "Fine Print": {"$value": "#0b3d5c"}, "ink": {"$value": {"colorSpace": "srgb", "components": [0, 0.5, 1]}}},
		"Typography": {"$type": "typography",
			"Fine Print": {"$value": {"fontFamily": "Skerry Sans", "fontSize": "11.5px", "fontWeight": "Semi-Bold", "lineHeight": "14px", "letterSpacing": {"value": -0.5, "unit": "px"}}},
			"heading": {"1": {"$value": {"fontFamily": "{font.family.brand}", "fontSize": "{size.large}", "fontWeight": 700, "lineHeight": 1.25}}},
			"broken": {"$value": {"fontFamily": "A", "fontSize": "big"}},
			"again": {"$value": "{Typography.heading.1}"},
			"round": {"$value": "{Typography.round}"},
			"odd": {"$value": {"fontSize": "1px", "fontWeight": "heaviest"}}
		}}`))
	require.NoError(t, err)
	require.Equal(t, []string{`Typography.broken: expected a fontSize in px or rem`, `Typography.odd: expected a fontWeight of 1 to 1000, or a word such as bold, found "heaviest"`, `Typography.round: expected an object as its $value`}, problems)
	require.Equal(t, []Role{
		{Name: "again", Families: []string{"Skerry Sans", "sans-serif"}, Weight: 700, Size: 32, LineHeight: ptr(40)},
		{Name: "fine-print", Families: []string{"Skerry Sans"}, Weight: 600, Size: 11.5, LineHeight: ptr(14), Tracking: ptr(-43), Colour: "#0B3D5C"},
		{Name: "heading-1", Families: []string{"Skerry Sans", "sans-serif"}, Weight: 700, Size: 32, LineHeight: ptr(40)},
	}, got)
	// Tokens that become one role are told apart by their whole path; where that is one as well, the first counts.
	got, problems, err = Read([]byte(`{"font": {"$type": "typography", "title": {"$value": {"fontSize": "1px"}}}, "type": {"$type": "typography", "title": {"$value": {"fontSize": "2px"}}},
		"typography": {"$type": "typography", "a b": {"$value": {"fontSize": "3px"}}, "a-b": {"$value": {"fontSize": "4px"}}}}`))
	require.NoError(t, err)
	require.Equal(t, []Role{{Name: "font-title", Size: 1}, {Name: "type-title", Size: 2}, {Name: "typography-a-b", Size: 3}}, got)
	require.Contains(t, problems, "type.title: several tokens become the role title: this one is called type-title")
	require.Contains(t, problems, "typography.a-b: a token further up is called typography-a-b already, and counts")
	_, _, err = Read([]byte("font: 1"))
	require.ErrorContains(t, err, "expected JSON")
}

// What the format has beside plain tokens: $root, $extends, $ref, types behind references, percent, other spaces of colour; and what is not taken
// of a token is told with its path.
func TestReadsTheFormat(t *testing.T) {
	got, problems, err := Read([]byte(`{
		"base": {"$type": "typography", "body": {"$value": {"fontFamily": "Skerry Sans", "fontSize": "16px", "letterSpacing": "2%", "lineHeight": "150%"}}, "fine": {"small": {"$value": {"fontSize": "12px"}}}},
		"app": {"$extends": "{base}", "body": {"$value": {"fontFamily": "Capstan Slab", "fontSize": "17px", "letterSpacing": 0.5, "lineHeight": "big", "fontStyle": "italic", "textCase": "upper"}}},
		"heading": {"$type": "typography", "$root": {"$value": {"$ref": "#/base/body/$value"}}, "large": {"$value": {"fontSize": {"$ref": "#/sizes/2"}, "fontWeight": "{weights.bold}"}}},
		"alias": {"$value": "{base.body}"}, "whole": {"$ref": "#/heading/large"},
		"lost": {"$extends": "{nowhere}"}, "loop": {"$extends": "{loop}", "x": {"$type": "typography", "$value": {"fontSize": "9px"}}},
		"weights": {"$type": "fontWeight", "bold": {"$value": 700}}, "sizes": [1, 2, {"value": 40, "unit": "px"}],
		"color": {"$type": "color", "alias": {"$value": {"colorSpace": "display-p3", "components": [1, 0, 0]}}, "heading": {"$value": {"colorSpace": "oklch", "components": [0.7, 0.1, 150], "alpha": 0.5},
			"$extensions": {"com.example.tool": {"modes": {"light": "#fff", "dark": "#000"}}}}, "whole": {"$value": "rebeccapurple"}, "unused": {"$value": "red"},
			"loop-x": {"$value": {"colorSpace": "display-p3", "components": [1, 0, 0], "hex": "#FA1010"}}}
	}`))
	require.NoError(t, err)
	require.Equal(t, []Role{
		{Name: "alias", Families: []string{"Skerry Sans"}, Size: 16, LineHeight: ptr(24), Tracking: ptr(20), Colour: "#FF0000"},
		{Name: "app-body", Families: []string{"Capstan Slab"}, Size: 17},
		{Name: "app-fine-small", Size: 12},
		{Name: "base-body", Families: []string{"Skerry Sans"}, Size: 16, LineHeight: ptr(24), Tracking: ptr(20)},
		{Name: "base-fine-small", Size: 12},
		{Name: "heading", Families: []string{"Skerry Sans"}, Size: 16, LineHeight: ptr(24), Tracking: ptr(20), Colour: "#6FB07D80"},
		{Name: "heading-large", Size: 40, Weight: 700},
		{Name: "loop-x", Size: 9, Colour: "#FA1010"},
		{Name: "whole", Size: 40, Weight: 700},
	}, got)
	require.Equal(t, []string{
		"app.body.fontStyle: is not taken: a role has no such part",
		`app.body.letterSpacing: expected px, rem or percent, found 0.5, and is not taken`,
		`app.body.lineHeight: expected a factor, percent, px or rem, found "big", and is not taken`,
		"app.body.textCase: is not taken: a role has no such part",
		"color.alias: is out of sRGB: the nearest colour within, #FF0000, is taken",
		"color.heading: its modes (dark, light) are not taken: the $value counts",
		"color.loop-x: is out of sRGB: its own hex, #FA1010, is taken",
		`color.whole: expected a colour such as #0B3D5C, or a colorSpace with components, found "rebeccapurple", and is not taken`,
		"lost: $extends {nowhere} leads to no group, and is not taken",
	}, problems)
}

func FuzzRead(f *testing.F) {
	f.Add([]byte(`{"typography": {"$type": "typography", "a": {"$value": {"fontFamily": "{x}", "fontSize": "1px", "lineHeight": 1}}}}`))
	f.Add([]byte(`{"a": {"$extends": "{b}", "c": {}}, "b": {"$extends": "#/a", "$root": {"$type": "color", "$value": {"colorSpace": "lab", "components": [1, "none", 2]}}, "c": {"d": {"$ref": "#/a/c"}}}}`))
	f.Fuzz(func(_ *testing.T, text []byte) { _, _, _ = Read(text) })
}

// Two colours of one role: the one that stands first counts, in each run, and the other is told.
func TestColoursOfOneRole(t *testing.T) {
	const text = `{"colour": {"quay": {"$type": "color", "$value": "#010101"}}, "a": {"x": {"$type": "color", "$value": "#030303"}}, "color": {"quay": {"$type": "color", "$value": "#020202"}},
		"typography": {"$type": "typography", "quay": {"$value": {"fontFamily": "Skerry Sans", "fontSize": {"value": 16, "unit": "px"}}}}}`
	for range 20 {
		roles, problems, err := Read([]byte(text))
		require.NoError(t, err)
		require.Equal(t, "#010101", roles[0].Colour)
		require.Equal(t, []string{"color.quay: another colour token stands for the role quay further up, #010101, and counts"}, problems)
	}
}
