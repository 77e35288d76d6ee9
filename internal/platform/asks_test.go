package platform

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// What services of fonts are asked for, in all forms of their addresses, and by calls.
func TestAsks(t *testing.T) {
	for typed, want := range map[string][]Ask{
		"https://fonts.example/css2?family=Skerry+Sans:ital,wght@0,400;1,700&amp;family=Capstan+Slab&display=swap": {{Family: "Skerry Sans", Weight: 400}, {Family: "Skerry Sans", Weight: 700, Italic: true}, {Family: "Capstan Slab", Weight: 400}},
		"//fonts.example/css2?family=Skerry+Sans:wght@100..900":                                                    {{Family: "Skerry Sans", Weight: 100, To: 900}},
		"https://fonts.example/css2?family=Skerry+Sans:opsz,wght@8..144,300":                                       {{Family: "Skerry Sans", Weight: 300}},
		"https://fonts.example/css?family=Skerry+Sans:400,700i|Beacon+Mono:italic":                                 {{Family: "Skerry Sans", Weight: 400}, {Family: "Skerry Sans", Weight: 700, Italic: true}, {Family: "Beacon Mono", Italic: true}},
		"https://cdn.example/fonts/SkerrySans-Bold.woff2?v=2":                                                      {{Family: "SkerrySans", Weight: 700}},
		"https://fonts.example/icons.css":                                                                          {},
		"GoogleFonts.skerrySans":                                                                                   {{Family: "Skerry Sans"}},
		"GoogleFonts.skerrySansTextTheme":                                                                          {{Family: "Skerry Sans"}},
		"FontRequest":                                                                                              nil,
		"https://[":                                                                                                {},
	} {
		require.ElementsMatch(t, want, AsksOf(typed, ""), typed)
	}
	query := func(q string) []Ask {
		return AsksOf("app:fontProviderAuthority", `app:fontProviderAuthority="x" app:fontProviderQuery="`+q+`"/>`)
	}
	require.Equal(t, []Ask{{Family: "Skerry Sans", Weight: 700, Italic: true}}, query("name=Skerry Sans&amp;weight=700&amp;italic=1"))
	require.Equal(t, []Ask{{Family: "Skerry Sans", Weight: 400}}, query("Skerry Sans"))
	require.Empty(t, query("weight=700"))
	require.Equal(t, FromNetwork, AnswerNetwork("https://x.example/css2?family=Skerry+Sans:wght@400;700").Fault)
}

func FuzzAsks(f *testing.F) {
	f.Add("https://fonts.example/css2?family=Skerry+Sans:ital,wght@0,400;1,700", "")
	f.Add("app:x", `app:fontProviderQuery="name=A&weight=1"`)
	f.Add("GoogleFonts.aB", "")
	f.Fuzz(func(t *testing.T, typed, rest string) {
		require.LessOrEqual(t, len(AsksOf(typed, rest)), mostAsks)
	})
}
