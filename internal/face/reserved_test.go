package face

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestReservedName(t *testing.T) {
	f := Face{Family: "Capstan Slab", Full: "Capstan Slab Bold", PostScript: "CapstanSlab-Bold"}
	for text, want := range map[string]string{
		"Copyright 2026, Skerry Ferries, with Reserved Font Name \"Capstan Slab\".":                  "Capstan Slab",
		"Copyright 2026 with Reserved Font Names Beacon and Capstan.":                                "Capstan",
		"with Reserved Font Name Capstan":                                                            "Capstan",
		"(c) 2026 Skerry Ferries, with\nReserved Font Name: “CAPSTAN”":                               "CAPSTAN",
		"\"Reserved Font Name\" refers to any names specified as such after the copyright statement": "",
		"with Reserved Font Name \"Cap\"":                                                            "",
		"with Reserved Font Name Lantern":                                                            "",
		"You may use and change these fonts.":                                                        "",
	} {
		require.Equal(t, want, ReservedName([]byte(text), f), text)
	}
}

func FuzzReservedName(f *testing.F) {
	f.Add([]byte("Reserved Font Names \"A\", B and C"))
	f.Fuzz(func(_ *testing.T, text []byte) { ReservedName(text, Face{Family: "A B"}) })
}
