package consumers

import (
	"bytes"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/shape"
)

// shaped are texts in many scripts, by the font that has them.
var shaped = map[string][]string{
	"/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf": {
		"07:40 Holm, Stora Skerry", "AVATAR To. Yes, fi ffl Ty", "Ångström naïve café x̂ ñ", "Žluťoučký kůň", "Ταξίδι στη θάλασσα", "Паром на остров",
		"الرصيف الثاني", "عبّارة إلى الجزيرة", "سلام", "מעבורת", "שָׁלוֹם", "Լաստանավ", "ბორანი", "ເຮືອ", "ߞߟߏ", "ⵉⵎⴰⵣⵉⵖⵏ",
	},
	"/usr/share/fonts/truetype/freefont/FreeSerif.ttf": {
		"office fluff VAT", "Ἀχιλλεύς Ὀδυσσεύς", "Ёлка и паром", "नौका घाट", "क्षत्रिय हिन्दी", "ফেরি ঘাট", "જહાજ", "படகு", "കപ്പല്\u200d", "เรือข้ามฟาก", "מעבורת לאי", "ਕਿਸ਼ਤੀ",
	},
	"/usr/share/fonts/truetype/freefont/FreeSans.ttf":                 {"नौका घाट पर", "বাংলা", "தமிழ்", "ગુજરાતી", "ਪੰਜਾਬੀ"},
	"/usr/share/fonts/truetype/liberation/LiberationSans-Regular.ttf": {"Tavla för avgångar", "AV Wa Te", "Ψηφιακός πίνακας", "שעה"},
	"/usr/share/fonts/truetype/lato/Lato-Regular.ttf":                 {"fi fl ffi Avatar 1/2", "Ćma Łódź"},
	"/usr/share/fonts/opentype/junicode/JunicodeTwoBeta-Regular.otf":  {"ſtaff affliction ct", "Þæt wæs gōd cyning", "To AVATAR"},
	"/usr/share/fonts/opentype/b612/B612-Regular.otf":                 {"Staff affliction AV", "Þæt wæs cyning"},
	"/usr/share/fonts/opentype/cantarell/Cantarell-Regular.otf":       {"Kerned: AVATAR", "fi ffl"},
}

// Advances and places of glyphs are HarfBuzz's own.

func TestShapingIsHarfBuzzs(t *testing.T) {
	t.Parallel()
	need(t, "hb-shape")
	texts := 0
	for name, list := range shaped {
		need(t, name)
		b := []byte(readFile(t, name))
		file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
		require.NoError(t, err, name)
		f, err := shape.New(file.Font(0), nil)
		require.NoError(t, err, name)
		for _, text := range list {
			var want []struct{ G, AX, DX, DY float64 }
			require.NoError(t, json.Unmarshal([]byte(ask(t, ".", "hb-shape", "--output-format=json", "--no-glyph-names", "--no-clusters", name, text)), &want))
			lines, err := f.Lines(text, shape.How{})
			require.NoError(t, err)
			require.Len(t, lines, 1)
			require.Len(t, lines[0].Glyphs, len(want), "%s %q", name, text)
			x := 0.0
			for i, g := range lines[0].Glyphs {
				require.Equal(t, want[i].G, float64(g.ID), "%s %q glyph %d", name, text, i)
				require.InDelta(t, want[i].AX, g.Advance, 0.51, "%s %q glyph %d", name, text, i)
				require.InDelta(t, x+want[i].DX, g.X, 0.51, "%s %q glyph %d", name, text, i)
				require.InDelta(t, want[i].DY, g.Y, 0.51, "%s %q glyph %d", name, text, i)
				x += want[i].AX
			}
			require.InDelta(t, x, lines[0].Advance, 1, "%s %q", name, text)
			texts++
		}
	}
	require.Greater(t, texts, 40)
}
