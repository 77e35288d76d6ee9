package audit

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/platform/all"
)

// Consoles put their own words in front of lines.
func TestReadLog(t *testing.T) {
	seen := ReadLog([]byte("2026-06-01 12:00:00.000 Quay[123:456] Faces of this app:\n  there   SkerrySans-Regular\n"+
		"06-01 12:00 I/flutter:   MISSING SkerrySans-Bold\r\n"+
		"Quay[1:2] [default] AppType: no face SkerrySans-Bold; the system font shows instead\n"+
		"W/AppType (12): no face for the role heading; the system's shows instead\n"+
		"nothing is MISSING here\nwhat is there is there\n"), all.Platforms)
	require.Equal(t, []Sighting{
		{Face: "SkerrySans-Regular", There: true, Lines: 1, Reasons: []Finding{}},
		{Face: "SkerrySans-Bold", Lines: 2, Reasons: []Finding{}},
		{Role: "heading", Lines: 1, Reasons: []Finding{}},
	}, seen)
}

// Platforms have words of their own for a font that they do not find.
func TestReadLogOfPlatforms(t *testing.T) {
	for line, asked := range map[string]string{
		`CoreText note: Client requested name "SkerrySans-Blod", it will get TimesNewRomanPSMT rather than the intended font.`:                                                                      "SkerrySans-Blod",
		`RCTFatal: Unrecognized font family 'Skerry Sans Bold'`:                                                                                                                                     "Skerry Sans Bold",
		`WARN  fontFamily "SkerrySans-Bold" is not a system font and has not been loaded through expo-font.`:                                                                                        "SkerrySans-Bold",
		`(beacon:1): Pango-WARNING **: couldn't load font "Skerry Sans Bold 12", falling back to "Sans Bold 12", expect ugly output.`:                                                               "Skerry Sans Bold",
		`downloadable font: download failed (font-family: "Skerry Sans" style:normal weight:700 stretch:100 src index:0): status=2147746065 source: http://skerry.test/fonts/SkerrySans-Bold.woff2`: "Skerry Sans",
		`Failed to decode downloaded font: http://skerry.test/fonts/SkerrySans-Bold.woff2`:                                                                                                          "SkerrySans-Bold.woff2",
		`SkerrySans-Bold.woff2:1 Failed to load resource: the server responded with a status of 404 (Not Found)`:                                                                                    "SkerrySans-Bold.woff2",
		`java.lang.RuntimeException: Font asset not found fonts/SkerrySans-Bold.ttf`:                                                                                                                "SkerrySans-Bold.ttf",
		`ERROR: Failed loading resource: res://fonts/SkerrySans-Bold.ttf.`:                                                                                                                          "SkerrySans-Bold.ttf",
		`AppType: expected the font apptype/fonts/SkerrySans-Bold.ttf in the game's folder, found nothing; run: notaria register`:                                                                   "SkerrySans-Bold.ttf",
		`Loaded fonts/SkerrySans-Bold.ttf in 3 ms`:                                                                                                                                                  "",
		`could not find the harbour`: "",
	} {
		seen := ReadLog([]byte(line), all.Platforms)
		if asked == "" {
			require.Empty(t, seen, line)
			continue
		}
		require.Equal(t, []Sighting{{Asked: asked, Lines: 1, Reasons: []Finding{}}}, seen, line)
	}
}

func FuzzReadLog(f *testing.F) {
	f.Add([]byte("AppType: no face A;\n  MISSING B\nthere   C"))
	f.Fuzz(func(_ *testing.T, log []byte) { ReadLog(log, all.Platforms) })
}

func FuzzParseKnown(f *testing.F) {
	f.Add([]byte(`{"schema": "notaria/known/1", "findings": [{"rule": "r", "count": -1}]}`))
	f.Fuzz(func(_ *testing.T, text []byte) {
		if k, err := ParseKnown(text); err == nil {
			k.Sift([]Finding{{Rule: "r"}})
		}
	})
}
