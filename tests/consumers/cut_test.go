package consumers

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/trim"
)

// lines of several scripts; a font is cut to those of which it has all letters.
var lines = []string{"The ferry leaves at 07:40; flight office, fjord.", "Ångström & Łódź – señor Đorđe, ﬁ ½ “quay”", "Паром отходит в семь часов", "Το πλοίο φεύγει στις επτά",
	"تغادر العبارة في السابعة", "ההפלגה יוצאת בשבע", "नौका सात बजे निकलती है", "เรือออกเจ็ดโมงเช้า", "渡轮七点四十分出发", "H2O x^2 [a] {b} <= #1 @ 50%"}

type shapedGlyph struct {
	G, CL, DX, DY, AX, AY int
}

// shapeAll shapes lines with one process; glyphs are those of the font before it was cut.
func shapeAll(t *testing.T, font, text string, old []int) string {
	t.Helper()
	out := ask(t, ".", "hb-shape", "--no-glyph-names", "--shapers=ot", "--output-format=json", "--text-file="+text, font)
	for _, line := range strings.Split(strings.TrimSpace(out), "\n") {
		var glyphs []shapedGlyph
		if old == nil || line == "" {
			continue
		}
		require.NoError(t, json.Unmarshal([]byte(line), &glyphs), line)
	}
	var all strings.Builder
	for _, line := range strings.Split(strings.TrimSpace(out), "\n") {
		var glyphs []shapedGlyph
		require.NoError(t, json.Unmarshal([]byte(line), &glyphs), line)
		for i := range glyphs {
			if old != nil {
				glyphs[i].G = old[glyphs[i].G]
			}
		}
		b, _ := json.Marshal(glyphs)
		all.Write(append(b, '\n'))
	}
	return all.String()
}

// sameDrawn says that FreeType draws a line in both fonts with the same pixels.
func sameDrawn(t *testing.T, before, after, line string) {
	t.Helper()
	var drawn []string
	for i, font := range []string{before, after} {
		out := filepath.Join(t.TempDir(), strconv.Itoa(i)+".png")
		if _, err := try(t, ".", "hb-view", "--font-size=30", "--output-format=png", "--output-file="+out, font, line); err != nil {
			return // a font of pictures alone, or a line without ink
		}
		drawn = append(drawn, readFile(t, out))
	}
	require.Equal(t, drawn[0], drawn[1], "%s: %q", before, line)
}

// someOf are characters of a font, by chance and yet always the same.
func someOf(has sfnt.Coverage, n int) string {
	random := rand.New(rand.NewPCG(uint64(len(has)), 7))
	var b strings.Builder
	for range n {
		c := has[random.IntN(len(has))]
		if r := c.First + rune(random.IntN(int(c.Last-c.First)+1)); r >= 0x20 && (r < 0x7f || r > 0xa0) && r != 0x2028 && r != 0x2029 {
			b.WriteRune(r)
		}
	}
	return b.String()
}

// A font that was cut shapes the texts that it was cut for glyph by glyph, advance by advance and place by place as before, and
// browsers' own gate takes it.
func TestCutFontsShapeAsBefore(t *testing.T) {
	t.Parallel()
	need(t, "hb-shape", "hb-view", "ots-sanitize")
	var files []string
	require.NoError(t, filepath.WalkDir("/usr/share/fonts", func(name string, d os.DirEntry, err error) error {
		if ext := strings.ToLower(filepath.Ext(name)); err == nil && (ext == ".ttf" || ext == ".otf") {
			files = append(files, name)
		}
		return nil
	}))
	sort.Strings(files)
	if os.Getenv("NOTARIA_THOROUGH") == "" {
		random := rand.New(rand.NewPCG(1, 2))
		random.Shuffle(len(files), func(i, j int) { files[i], files[j] = files[j], files[i] })
		files = files[:min(len(files), 60)]
	}
	var mu sync.Mutex
	var renumbered, held, refused int
	var before, after int64
	reasons := map[string]int{}
	t.Run("fonts", func(t *testing.T) {
		for _, name := range files {
			t.Run(filepath.Base(name), func(t *testing.T) {
				t.Parallel()
				b := []byte(readFile(t, name))
				file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
				if err != nil {
					t.Skip(err)
				}
				f := file.Font(0)
				has, err := f.Coverage()
				require.NoError(t, err)
				var text []string
				var wanted sfnt.Coverage
				for _, l := range lines {
					whole := true
					for _, r := range l {
						whole = whole && has.Has(r)
					}
					if whole {
						text = append(text, l)
					}
				}
				text = append(text, someOf(has, 40), someOf(has, 40))
				for _, r := range strings.Join(text, "") {
					wanted = append(wanted, sfnt.Range{First: r, Last: r})
				}
				slices.SortFunc(wanted, func(a, b sfnt.Range) int { return int(a.First - b.First) })
				wanted = slices.Compact(wanted)
				s, err := trim.Cut(f, wanted)
				if err != nil {
					mu.Lock()
					refused++
					reasons[err.Error()]++
					mu.Unlock()
					return
				}
				small, err := sfnt.Build(s.Tables)
				require.NoError(t, err)
				dir := t.TempDir()
				path, page := filepath.Join(dir, "cut.ttf"), filepath.Join(dir, "text")
				write(t, path, string(small))
				write(t, page, strings.Join(text, "\n")+"\n")
				if _, err := try(t, ".", "ots-sanitize", name, os.DevNull); err == nil { // some are refused as they come
					require.Contains(t, ask(t, ".", "ots-sanitize", path, os.DevNull), "successfully")
				}
				require.Equal(t, shapeAll(t, name, page, nil), shapeAll(t, path, page, s.Kept))
				sameDrawn(t, name, path, text[0])
				if f.Format() == sfnt.TrueType || f.Format() == sfnt.CFF {
					shapesLight(t, name, b, page, f.Has("glyf"))
				}
				mu.Lock()
				defer mu.Unlock()
				if s.Kept == nil {
					held++
					reasons[s.Held]++
				} else {
					renumbered++
					before += int64(len(b))
					after += int64(len(small))
				}
			})
		}
	})
	t.Logf("%d fonts: %d renumbered (%d kB to %d kB), %d with their numbers, %d refused: %v", len(files), renumbered, before>>10, after>>10, held, refused, reasons)
	require.Positive(t, renumbered)
}

// Formulas are set as before with a font that was cut: its constants, the corrections of its glyphs, and all their larger forms.
func TestCutFontsSetFormulasAsBefore(t *testing.T) {
	t.Parallel()
	need(t, "/usr/bin/python3", "/usr/lib/x86_64-linux-gnu/libharfbuzz.so.0", "ots-sanitize")
	for _, base := range []string{"DejaVuMathTeXGyre.ttf", "DejaVuSans.ttf"} {
		name := realFont(t, base)
		b := []byte(readFile(t, name))
		file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
		require.NoError(t, err)
		var wanted sfnt.Coverage
		for _, r := range "()+0=AIafx{|}|√∑∫∞⎡" {
			wanted = append(wanted, sfnt.Range{First: r, Last: r})
		}
		s, err := trim.Cut(file.Font(0), wanted)
		require.NoError(t, err)
		require.Empty(t, s.Held)
		small, err := sfnt.Build(s.Tables)
		require.NoError(t, err)
		path := filepath.Join(t.TempDir(), base)
		write(t, path, string(small))
		require.Contains(t, ask(t, ".", "ots-sanitize", path, os.DevNull), "successfully")
		var was, is strings.Builder
		for i, old := range s.Kept {
			fmt.Fprintf(&was, "%d:%d\n", old, old)
			fmt.Fprintf(&is, "%d:%d\n", i, old)
		}
		before, after := filepath.Join(t.TempDir(), "before"), filepath.Join(t.TempDir(), "after")
		write(t, before, was.String())
		write(t, after, is.String())
		want := ask(t, ".", "/usr/bin/python3", "testdata/math/judge.py", name, before)
		require.Contains(t, want, "), (", "some glyph has larger forms")
		require.Equal(t, want, ask(t, ".", "/usr/bin/python3", "testdata/math/judge.py", path, after))
	}
}

// shapesLight holds that a font without instructions, without features that nobody asks for, and under another name, shapes lines as the
// font itself, and that the system finds it by that name alone.
func shapesLight(t *testing.T, name string, b []byte, page string, hinted bool) {
	t.Helper()
	ending := map[bool]string{true: ".ttf", false: ".otf"}[hinted]
	light, err := trim.Open(b, trim.Wish{Ending: ending, Features: []string{}, Unhinted: hinted, Rename: "Quay Sans"}, trim.Words{Permitted: true})
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "light"+ending)
	write(t, path, string(light.Data()))
	if _, err := try(t, ".", "ots-sanitize", name, os.DevNull); err == nil {
		require.Contains(t, ask(t, ".", "ots-sanitize", path, os.DevNull), "successfully")
	}
	require.Equal(t, shapeAll(t, name, page, nil), shapeAll(t, path, page, nil))
	first, _, _ := strings.Cut(ask(t, ".", "fc-scan", "-f", "%{family}|%{postscriptname}|%{fullname[0]}\n", path), "\n") // of a variable font, its instances follow
	require.Regexp(t, `^(Quay Sans[^,|]*,?)+\|QuaySans[-\w]*\|Quay Sans[^|]*$`, first)
}

// A variable font that keeps a part of its axes has the advances, the places and the boxes of the whole one there, within one unit.
func TestNarrowedFontsAreThatPart(t *testing.T) {
	t.Parallel()
	need(t, "hb-shape", "ots-sanitize")
	name := realFont(t, "Inter.var.ttf")
	raw := []byte(readFile(t, name))
	for _, of := range []struct {
		axes   map[string][2]float64
		places []string
	}{
		{map[string][2]float64{"wght": {300, 650}}, []string{"wght=300", "wght=400", "wght=500", "wght=650"}},
		{map[string][2]float64{"slnt": {-6, 0}}, []string{"slnt=0", "slnt=-3", "slnt=-6"}},
		{map[string][2]float64{"wght": {200, 800}, "slnt": {-10, 0}}, []string{"wght=200,slnt=-10", "wght=500,slnt=-5", "wght=800"}},
	} {
		f, err := trim.Open(raw, trim.Wish{Axes: of.axes, Ending: ".ttf"}, trim.Words{})
		require.NoError(t, err)
		path := filepath.Join(t.TempDir(), "narrowed.ttf")
		write(t, path, string(f.Data()))
		require.Contains(t, ask(t, ".", "ots-sanitize", path, os.DevNull), "successfully")
		for _, place := range of.places {
			near(t, extentsOf(t, name, place, lines[1]), extentsOf(t, path, place, lines[1]), place)
		}
	}
}

// An extent is a glyph of a shaped line, with its box.
type extent struct{ G, DX, DY, AX, XB, YB, W, H int }

// extentsOf shapes a line at a place of a variable font; "" for a static one.
func extentsOf(t *testing.T, font, place, line string) (out []extent) {
	t.Helper()
	args := []string{"--no-glyph-names", "--show-extents", "--output-format=json"}
	if place != "" {
		args = append(args, "--variations="+place)
	}
	text := strings.NewReplacer(`"xb"`, `"XB"`, `"yb"`, `"YB"`).Replace(ask(t, ".", "hb-shape", append(args, font, line)...))
	require.NoError(t, json.Unmarshal([]byte(text), &out))
	return out
}

// near holds that two lines are the same within one unit for each edge.
func near(t *testing.T, was, is []extent, what string) {
	t.Helper()
	require.Len(t, is, len(was))
	for i, a := range was {
		b := is[i]
		require.Equal(t, a.G, b.G)
		for _, d := range []int{a.DX - b.DX, a.DY - b.DY, a.AX - b.AX, a.XB - b.XB, a.YB - b.YB} {
			require.LessOrEqual(t, max(d, -d), 1, "%s: %v, %v", what, a, b)
		}
		for _, d := range []int{a.W - b.W, a.H - b.H} { // of two edges
			require.LessOrEqual(t, max(d, -d), 2, "%s: %v, %v", what, a, b)
		}
	}
}

// A pinned font has the advances, the places and the boxes that HarfBuzz gives the variable one at that place, within one unit, and is
// found by the names of the place.
func TestPinnedFontsAreThatPlace(t *testing.T) {
	t.Parallel()
	need(t, "hb-shape", "ots-sanitize", "fc-scan", "/usr/share/fonts/truetype/inter-vf/Inter.var.ttf")
	for _, name := range []string{"/usr/share/fonts/truetype/inter-vf/Inter.var.ttf", "/usr/share/fonts/truetype/inter-vf/Inter-italic.var.ttf"} {
		need(t, name)
		for weight, style := range map[int]string{100: "Thin", 400: "", 650: "wght650", 700: "Bold", 900: "Black"} {
			f, err := trim.Open([]byte(readFile(t, name)), trim.Wish{At: map[string]float64{"wght": float64(weight)}, Ending: ".ttf"}, trim.Words{})
			require.NoError(t, err)
			path := filepath.Join(t.TempDir(), "pinned.ttf")
			write(t, path, string(f.Data()))
			require.Contains(t, ask(t, ".", "ots-sanitize", path, os.DevNull), "successfully")
			scan := ask(t, ".", "fc-scan", "--format", "%{family[0]}|%{variable}|%{style}|%{postscriptname}", path)
			require.Contains(t, scan, "Inter|False|")
			require.Contains(t, scan, style)
			for _, line := range lines[:4] {
				near(t, extentsOf(t, name, "wght="+strconv.Itoa(weight), line), extentsOf(t, path, "", line), strconv.Itoa(weight))
			}
		}
	}
}

// A font of pictures, or of graphs of colours, that was cut shows in a browser what the whole one shows: signs, flags, tones of skin,
// families and keycaps; and letters of gradients.
func TestCutColoursShow(t *testing.T) {
	t.Parallel()
	for name, signs := range map[string]string{realFont(t, "NotoColorEmoji.ttf"): "😀⚓🚢🏴‍☠️👩🏽‍✈️👨‍👩‍👧🇳🇴🇮🇸1️⃣#️⃣🏳️‍🌈⛴️🛟1#", "../../.consumers/fonts/honk-latin-full-normal.woff2": "Ferry 07:40?", "../../.consumers/fonts/foldit-latin-900-normal.woff2": "Quay & Holm"} {
		need(t, name)
		raw := []byte(readFile(t, name))
		file, err := sfnt.Open(bytes.NewReader(raw), int64(len(raw)))
		require.NoError(t, err)
		if file.Container != sfnt.Plain {
			raw, err = file.Unwrap(0)
			require.NoError(t, err)
		}
		small, err := trim.Open(raw, trim.Wish{Characters: []rune(signs), Ending: ".woff2", Fast: true}, trim.Words{Permitted: true})
		require.NoError(t, err)
		require.Empty(t, small.Held, name)
		t.Log(name, small.Bytes, small.Glyphs)
		require.Less(t, small.Bytes[1], small.Bytes[0]/2, name)
		var pictures []string
		for i, font := range [][]byte{raw, small.Data()} {
			dir := t.TempDir()
			write(t, filepath.Join(dir, "font.woff2"), string(font))
			write(t, filepath.Join(dir, "index.html"), "<html><head><meta charset=\"utf-8\"><title>a</title><style>@font-face{font-family:Signs;src:url(font.woff2)} div{font:40px Signs,monospace}</style></head><body><div>"+signs+"</div></body></html>\n")
			picture := filepath.Join(t.TempDir(), fmt.Sprint(i)+".png")
			_, rest := browseTo(t, dir, "index.html", "page", picture, "type-none")
			require.NotContains(t, rest, "problem")
			pictures = append(pictures, readFile(t, picture))
		}
		require.True(t, pictures[0] == pictures[1], "%s: other pixels", name)
	}
}
