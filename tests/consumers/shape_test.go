package consumers

import (
	"bytes"
	"fmt"
	"path/filepath"
	"strings"
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
	"/usr/share/fonts/truetype/noto/NotoColorEmoji.ttf":               {"❤️\u200d🔥👩\u200d🚀", "🇳🇴❤️1️⃣🏴\u200d☠️"},
	"/usr/share/fonts/opentype/cantarell/Cantarell-Regular.otf":       {"Kerned: AVATAR", "fi ffl"},
}

// shapedAt are texts in variable fonts, by the font, at places of its design space.
var shapedAt = map[string][]map[string]float64{
	"/usr/share/fonts/truetype/inter-vf/Inter.var.ttf":    {{"wght": 750, "slnt": -10}, {"wght": 100}, {"wght": 531.5}},
	"../../.consumers/fonts/honk-latin-full-normal.woff2": {{"MORF": 40, "SHLN": 70}, {"MORF": 0}},
}

// Advances and places of glyphs are HarfBuzz's own, also at other places of a design space.
func TestShapingIsHarfBuzzs(t *testing.T) {
	t.Parallel()
	need(t, "hb-shape")
	texts := 0
	for name, list := range shaped {
		for _, text := range list {
			shapedAlike(t, name, text, nil)
			texts++
		}
	}
	require.Greater(t, texts, 40)
	for name, places := range shapedAt {
		for _, at := range places {
			shapedAlike(t, name, "Ferry to AVATAR, Type 07:40", at)
		}
	}
}

func shapedAlike(t *testing.T, name, text string, at map[string]float64) {
	t.Helper()
	need(t, name)
	b := []byte(readFile(t, name))
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err, name)
	if b, err = file.Unwrap(0); err == nil { // a web font
		file, err = sfnt.Open(bytes.NewReader(b), int64(len(b)))
		require.NoError(t, err, name)
		name = filepath.Join(t.TempDir(), "plain.ttf")
		write(t, name, string(b))
	}
	f, err := shape.New(file.Font(0), at)
	require.NoError(t, err, name)
	settings := ""
	for tag, v := range at {
		settings += fmt.Sprintf("%s=%g,", tag, v)
	}
	var args []string
	if at != nil {
		args = append(args, "--variations="+strings.TrimSuffix(settings, ","))
	}
	want := placed(t, name, text, args...)
	lines, err := f.Lines(text, shape.How{})
	require.NoError(t, err)
	require.Len(t, lines, 1)
	require.Len(t, lines[0].Glyphs, len(want), "%s %q", name, text)
	x, off := 0.0, 0.51
	if at != nil {
		off = 1.01 // one rounds an advance and its change together, the other each
	}
	for i, g := range lines[0].Glyphs {
		require.Equal(t, want[i].G, float64(g.ID), "%s %q glyph %d", name, text, i)
		require.InDelta(t, want[i].AX, g.Advance, off, "%s %q glyph %d", name, text, i)
		if at == nil {
			require.InDelta(t, x+want[i].DX, g.X, off, "%s %q glyph %d", name, text, i)
		}
		require.InDelta(t, want[i].DY, g.Y, off, "%s %q glyph %d", name, text, i)
		x += want[i].AX
	}
	if at == nil {
		off = 1
	} else {
		off *= 3
	}
	require.InDelta(t, x, lines[0].Advance, off, "%s %q", name, text)
}
