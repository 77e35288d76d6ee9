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
	_, _, err = Read([]byte(`{"typography": {"$type": "typography", "a b": {"$value": {"fontSize": "1px"}}, "a-b": {"$value": {"fontSize": "1px"}}}}`))
	require.ErrorContains(t, err, `two that become the role "a-b"`)
	_, _, err = Read([]byte("font: 1"))
	require.ErrorContains(t, err, "expected JSON")
}

func FuzzRead(f *testing.F) {
	f.Add([]byte(`{"typography": {"$type": "typography", "a": {"$value": {"fontFamily": "{x}", "fontSize": "1px", "lineHeight": 1}}}}`))
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
