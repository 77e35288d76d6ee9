package consumers

import (
	"bytes"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
	"notaria/internal/skerry"
)

// shown is what a browser made of one role.
type shown struct {
	width, height float64 // of the same line of text, in pixels
	font          string  // PostScript name of the font that it was drawn with
	custom        bool    // it came with the page
	style         string
}

// browse shows a page in a browser, and returns what it made of each class, and the lines
// that it printed besides.
func browse(t *testing.T, dir, page, mode string, classes ...string) (map[string]shown, string) {
	t.Helper()
	return browseTo(t, dir, page, mode, "", classes...)
}

// browseTo also takes a picture of the page, if it gets a file's name.
func browseTo(t *testing.T, dir, page, mode, picture string, classes ...string) (map[string]shown, string) {
	t.Helper()
	npmHome(t)
	need(t, "/usr/bin/chromium")
	args := []string{"npm/browse.mjs", dir, page, strings.Join(classes, ","), mode}
	if picture != "" {
		args = append(args, picture)
	}
	out := ask(t, ".", "node", args...)
	got, rest := map[string]shown{}, ""
	for _, l := range strings.Split(strings.TrimSpace(out), "\n") {
		f := strings.Fields(l)
		if len(f) < 5 || !strings.HasPrefix(l, "type-") {
			rest += l + "\n"
			continue
		}
		from, to := strings.IndexByte(l, '"'), strings.LastIndexByte(l, '"')
		name, err := strconv.Unquote(l[from : to+1])
		require.NoError(t, err)
		tail := strings.SplitN(strings.TrimSpace(l[to+1:]), " ", 2)
		s := shown{font: name, custom: tail[0] == "true", style: tail[1]}
		s.width, _ = strconv.ParseFloat(f[1], 64)
		s.height, _ = strconv.ParseFloat(f[2], 64)
		require.Positive(t, s.width)
		got[f[0]] = s
	}
	return got, rest
}

func TestWebShowsEveryRole(t *testing.T) {
	t.Parallel()
	dir := dressed(t)
	site := filepath.Join(dir, "web")
	for page, folder := range map[string]string{"index.html": "css", "tickets/index.html": "css"} {
		got, rest := browse(t, site, page, "early", "type-body", "type-heading", "type-copy-new")
		require.NotContains(t, rest, "problem")
		// The faces of roles are asked for early, and each once.
		for _, f := range []string{"Bold", "Regular", "Italic"} {
			require.Equal(t, 1, strings.Count(rest, "asked /"+folder+"/fonts/SkerrySans-"+f+".woff2\n"), rest)
		}
		for class, want := range map[string]string{
			"type-body":     "SkerrySans-Regular 17px|400|normal|normal|normal|rgb(11, 61, 92)|0px rgb(11, 61, 92)",
			"type-heading":  "SkerrySans-Bold 28px|700|normal|34.0004px|0.28px|rgb(11, 61, 92)|1px rgba(255, 255, 255, 0.5)",
			"type-copy-new": "SkerrySans-Italic 11.5px|400|italic|normal|-0.0575px|rgb(11, 61, 92)|0px rgb(11, 61, 92)",
		} {
			require.True(t, got[class].custom, class)
			require.Equal(t, want, got[class].font+" "+strings.Replace(got[class].style, "0.501961", "0.5", 1), class)
		}
	}
	// Older browsers get WOFF, too; a style sheet that names it alone still shows the face.
	toml := filepath.Join(dir, "notaria.toml")
	write(t, toml, readFile(t, toml)+"\n[target.web]\nformats = [\"woff2\", \"woff\"]\nfont-display = \"optional\"\n")
	notaria(t, 0, dir, "register")
	notaria(t, 0, dir, "check")
	sheet := filepath.Join(site, "css/app-type.css")
	require.Contains(t, readFile(t, sheet), "  font-display: optional;\n")
	write(t, sheet, strings.ReplaceAll(strings.ReplaceAll(readFile(t, sheet), ".woff2\") format(\"woff2\")", ".gone\") format(\"gone\")"), "optional", "block"))
	got, _ := browse(t, site, "index.html", "fonts", "type-heading")
	require.Equal(t, "SkerrySans-Bold", got["type-heading"].font)
	require.True(t, got["type-heading"].custom)
	need(t, "ots-sanitize")
	for _, f := range []string{"Bold.woff2", "Bold.woff", "Italic.woff2", "Regular.woff"} {
		require.Contains(t, ask(t, ".", "ots-sanitize", filepath.Join(site, "css/fonts/SkerrySans-"+f), os.DevNull), "successfully")
	}
}

// TestVariableRoles shows roles of one variable font at places of their own.
func TestVariableRoles(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	write(t, filepath.Join(dir, "index.html"), "<html><head><title>a</title></head><body></body></html>\n")
	notaria(t, 0, dir, "enrol", realFont(t, "Inter.var.ttf"), "--role", "heading")
	toml := filepath.Join(dir, "notaria.toml")
	write(t, toml, readFile(t, toml)+"coordinates = { wght = 650, slnt = -6 }\n\n[role.body]\nface = \"Inter\"\nsize = 17\n")
	notaria(t, 0, dir, "register")
	got, _ := browse(t, dir, "index.html", "fonts", "type-heading", "type-body")
	require.True(t, got["type-heading"].custom && got["type-body"].custom)
	require.Contains(t, got["type-heading"].style, "17px|650|oblique 6deg|")
	require.Contains(t, got["type-body"].style, "17px|400|normal|")
	require.Greater(t, got["type-heading"].width, got["type-body"].width+10) // bolder, and so wider
}

// A page whose fonts came from a service asks no other host any more, and its own rules show the project's faces.
func TestTakenOverPageStaysHome(t *testing.T) {
	t.Parallel()
	dir := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(dir))
	site := filepath.Join(dir, "web")
	page := filepath.Join(site, "index.html")
	write(t, page, strings.Replace(readFile(t, page), "<link", "<link rel=\"preconnect\" href=\"https://fonts.skerry.example\">\n  <link rel=\"stylesheet\" href=\"https://fonts.skerry.example/css2?family=Skerry+Sans:wght@700&display=swap\">\n  <link", 1))
	write(t, filepath.Join(site, "css/site.css"), `p { font-family: "Skerry Sans", serif; font-weight: 700; }`)
	_, before := browse(t, site, "index.html", "early", "type-none")
	require.Contains(t, before, "outer fonts.skerry.example")
	notaria(t, 0, site, "enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", "bold", "--role", "heading")
	notaria(t, 0, site, "register", "--take-over")
	got, after := browse(t, site, "index.html", "early", "type-none")
	require.NotContains(t, after, "outer")
	require.Equal(t, "SkerrySans-Bold", got["type-none"].font)
	require.True(t, got["type-none"].custom)
}

// families are real ones, to hold stand-ins against: sans, serif and monospaced, wide and
// narrow, TrueType and CFF.
var families = []string{"lato/Lato-Regular.ttf", "lato/Lato-BoldItalic.ttf", "open-sans/OpenSans-Regular.ttf", "open-sans/OpenSans-Bold.ttf", "dejavu/DejaVuSans.ttf", "dejavu/DejaVuSerif.ttf",
	"dejavu/DejaVuSansMono.ttf", "crosextra/Carlito-Regular.ttf", "crosextra/Caladea-Regular.ttf", "oldstandard/OldStandard-Regular.ttf", "Cantarell-Regular.otf", "JunicodeTwoBeta-Regular.otf", "B612-Regular.otf", "RobotoCondensed-Regular.ttf"}

// realFont finds a font file of the system by the end of its path.
func realFont(t *testing.T, name string) string {
	t.Helper()
	out, err := exec.Command("find", "/usr/share/fonts", "-name", filepath.Base(name)).Output()
	require.NoError(t, err)
	for _, f := range strings.Fields(string(out)) {
		if strings.HasSuffix(f, "/"+filepath.Base(name)) {
			return f
		}
	}
	need(t, "/usr/share/fonts/"+name)
	return ""
}

// onlyStandIns is the demo's site, on a machine with the fonts that stand in, and no others.
func onlyStandIns(t *testing.T) (dir, site string) {
	dir = filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(dir))
	fonts := filepath.Join(t.TempDir(), "fonts.conf")
	write(t, fonts, fmt.Sprintf("<fontconfig><dir>%s</dir><cachedir>%s</cachedir></fontconfig>", filepath.Dir(realFont(t, "LiberationSans-Regular.ttf")), t.TempDir()))
	setenv(t, "FONTCONFIG_FILE", fonts)
	return dir, filepath.Join(dir, "web")
}

// TestStandInsKeepTheLayout shows the same line in a font of the machine that stands in,
// and in the font itself: neither its width nor its height may jump.
func TestStandInsKeepTheLayout(t *testing.T) {
	t.Parallel()
	dir, site := onlyStandIns(t)
	notaria(t, 0, site, "enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", "regular", "--role", "skerry-regular")
	for i, style := range []string{"light", "bold", "italic"} {
		notaria(t, 0, site, "enrol", filepath.Join(dir, skerry.ArchiveName), "--styles", style, "--role", "skerry-"+strconv.Itoa(i))
	}
	classes := []string{"type-skerry-regular", "type-skerry-0", "type-skerry-1", "type-skerry-2"}
	for i, f := range families {
		notaria(t, 0, site, "enrol", realFont(t, f), "--role", fmt.Sprintf("real-%d", i))
		classes = append(classes, fmt.Sprintf("type-real-%d", i))
	}
	notaria(t, 0, site, "register")
	ours, _ := browse(t, site, "index.html", "fonts", classes...)
	others, _ := browse(t, site, "index.html", "none", classes...)
	for _, c := range classes {
		a, b := ours[c], others[c]
		require.True(t, a.custom, c)
		require.False(t, b.custom, c)
		require.Contains(t, b.font, "Liberation", c)
		shift := 100 * (b.width/a.width - 1)
		t.Logf("%-20s %-24s for %-24s width %+.2f %%, height %+.2f px", c, b.font, a.font, shift, b.height-a.height)
		require.Less(t, math.Abs(shift), 2.0, "%s for %s", b.font, a.font)
		require.LessOrEqual(t, math.Abs(b.height-a.height), 1.0, "%s for %s", b.font, a.font)
	}
}

// Letters of other scripts have other widths beside those of Latin in each font: a stand-in fits them, too.
func TestStandInsFitScripts(t *testing.T) {
	t.Parallel()
	_, site := onlyStandIns(t)
	var classes []string
	for i, f := range []string{"lato/Lato-Regular.ttf", "lato/Lato-BoldItalic.ttf", "open-sans/OpenSans-Regular.ttf", "dejavu/DejaVuSans.ttf", "dejavu/DejaVuSerif.ttf", "dejavu/DejaVuSansMono.ttf", "crosextra/Carlito-Regular.ttf"} {
		notaria(t, 0, site, "enrol", realFont(t, f), "--role", fmt.Sprintf("real-%d", i))
		classes = append(classes, fmt.Sprintf("type-real-%d", i))
	}
	notaria(t, 0, site, "register")
	for _, script := range []string{"cyrillic", "greek"} {
		ours, _ := browse(t, site, "index.html", "fonts/"+script, classes...)
		others, _ := browse(t, site, "index.html", "none/"+script, classes...)
		for _, c := range classes {
			a, b := ours[c], others[c]
			require.True(t, a.custom && !b.custom, "%s %s: %s, %s", script, c, a.font, b.font)
			shift := 100 * (b.width/a.width - 1)
			t.Logf("%-8s %-24s for %-24s width %+.2f %%, height %+.2f px", script, b.font, a.font, shift, b.height-a.height)
			require.Less(t, math.Abs(shift), 2.0, "%s for %s", b.font, a.font)
			require.LessOrEqual(t, math.Abs(b.height-a.height), 1.0, "%s for %s", b.font, a.font)
		}
	}
}

// TestWOFF2IsAsSmall holds the sizes of what is written against those of the web fonts that
// packages ship beside the same plain fonts.
func TestWOFF2IsAsSmall(t *testing.T) {
	t.Parallel()
	const katex, icons = "/usr/share/fonts/truetype/katex", "/usr/share/fonts-font-awesome/fonts"
	need(t, katex, icons)
	shipped, err := filepath.Glob(katex + "/*.woff2")
	require.NoError(t, err)
	require.NotEmpty(t, shipped)
	theirs, small, fast := 0, 0, 0
	for _, web := range append(shipped, icons+"/fontawesome-webfont.woff2") {
		plain := strings.TrimSuffix(web, "woff2") + "ttf"
		content, err := os.ReadFile(plain)
		require.NoError(t, err)
		file, err := sfnt.Open(bytes.NewReader(content), int64(len(content)))
		require.NoError(t, err)
		tables, err := file.Font(0).Tables()
		require.NoError(t, err)
		a, err := sfnt.BuildWOFF2(tables, sfnt.Small)
		require.NoError(t, err)
		b, err := sfnt.BuildWOFF2(tables, sfnt.Fast)
		require.NoError(t, err)
		size := len(readFile(t, web))
		require.Less(t, float64(len(a)), 1.03*float64(size), web)
		theirs, small, fast = theirs+size, small+len(a), fast+len(b)
	}
	t.Logf("shipped %d bytes; small %+.1f %%, fast %+.1f %%", theirs, 100*(float64(small)/float64(theirs)-1), 100*(float64(fast)/float64(theirs)-1))
}

// hostileWeb shows each of the names in a browser.
func hostileWeb(t *testing.T, dir string) {
	t.Helper()
	var classes []string
	for i := range hostile {
		classes = append(classes, fmt.Sprintf("type-role-%d", i))
	}
	got, rest := browse(t, filepath.Join(dir, "web"), "index.html", "early", classes...)
	require.NotContains(t, rest, "problem")
	require.Equal(t, len(hostile), strings.Count(rest, "asked "))
	for i, name := range hostile {
		require.True(t, got[classes[i]].custom, name)
	}
}
