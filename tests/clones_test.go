package tests

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"notaria/internal/language"
	"notaria/internal/skerry"
)

// program is the built program: the one that NOTARIA_PROGRAM names, as scripts/test does, or one that is built once
// for all tests.
func program(t *testing.T) string {
	t.Helper()
	name, err := built()
	require.NoError(t, err)
	return name
}

var built = sync.OnceValues(func() (string, error) {
	if name := os.Getenv("NOTARIA_PROGRAM"); name != "" {
		return name, nil
	}
	dir, err := os.MkdirTemp("", "notaria-program-")
	if err != nil {
		return "", err
	}
	name := filepath.Join(dir, "notaria")
	out, err := exec.Command("go", "build", "-o", name, "notaria/cmd/notaria").CombinedOutput()
	if err != nil {
		err = fmt.Errorf("%w: %s", err, out)
	}
	return name, err
})

// A clone is somebody's project, in which something is planted.
type clone struct {
	name  string
	plant func(c *ground)
	keeps string // a file of the project that nothing may change
}

// ground is a project, a folder outside of it, and a test.
type ground struct {
	t            *testing.T
	dir, outside string
}

func (g *ground) full(name string) string { return filepath.Join(g.dir, filepath.FromSlash(name)) }

func (g *ground) clear(name string) {
	require.NoError(g.t, os.RemoveAll(g.full(name)))
	require.NoError(g.t, os.MkdirAll(filepath.Dir(g.full(name)), 0o755))
}

func (g *ground) put(name, text string) {
	if strings.HasSuffix(name, "/") { // a folder with a file in it
		g.clear(strings.TrimSuffix(name, "/"))
		name += "x"
	}
	g.clear(name)
	require.NoError(g.t, os.WriteFile(g.full(name), []byte(text), 0o644))
}

func (g *ground) read(name string) string {
	b, err := os.ReadFile(g.full(name))
	require.NoError(g.t, err)
	return string(b)
}

func (g *ground) exchange(name, old, text string) {
	was := g.read(name)
	require.Contains(g.t, was, old)
	g.put(name, strings.Replace(was, old, text, 1))
}

func (g *ground) link(name, to string) {
	g.clear(name)
	require.NoError(g.t, os.Symlink(to, g.full(name)))
}

func (g *ground) pipe(name string) {
	g.clear(name)
	require.NoError(g.t, syscall.Mkfifo(g.full(name), 0o644))
}

func (g *ground) sparse(name string) {
	g.put(name, "")
	require.NoError(g.t, os.Truncate(g.full(name), 10<<30))
}

// ledger adds a file or an entry to the ledger.
func (g *ground) ledger(list string, item map[string]any) {
	var l map[string]any
	require.NoError(g.t, json.Unmarshal([]byte(g.read("notaria.ledger.json")), &l))
	if list == "folders" {
		l[list] = append(l[list].([]any), item["path"])
	} else {
		l[list] = append(l[list].([]any), item)
	}
	b, err := json.MarshalIndent(l, "", "  ")
	require.NoError(g.t, err)
	g.put("notaria.ledger.json", string(b))
}

func (g *ground) claims(name string, more ...string) {
	b, err := os.ReadFile(g.full(name))
	require.NoError(g.t, err)
	sum := sha256.Sum256(b)
	item := map[string]any{"path": name, "sha256": hex.EncodeToString(sum[:])}
	if len(more) > 0 {
		item["owners"] = []any{map[string]any{"target": "flutter", "app": more[0]}}
	}
	g.ledger("files", item)
}

func moved(name string) func(*ground) {
	return func(g *ground) {
		to := filepath.Join(g.outside, strings.ReplaceAll(name, "/", "_"))
		require.NoError(g.t, os.Rename(g.full(name), to))
		g.link(name, to)
	}
}

func text(name, text string) func(*ground) { return func(g *ground) { g.put(name, text) } }

func behind(name, text string) func(*ground) {
	return func(g *ground) { g.put(name, g.read(name)+text) }
}

func pipe(name string) func(*ground) { return func(g *ground) { g.pipe(name) } }

const (
	pubspec = "deckgame/pubspec.yaml"
	plist   = "ios/SkerryFerries/Info.plist"
	pbxproj = "ios/SkerryFerries.xcodeproj/project.pbxproj"
	escapes = "\x1b[2J\x1b]0;x\x07\u009b31m\u202egnp.\u2066"
)

func rep(s string, n int) string { return strings.Repeat(s, n) }

func clones() []clone {
	list := []clone{
		// Journals and the files of runs.
		{"a journal that renames into hooks", func(g *ground) {
			g.put(".x.notaria-new-0", "#!/bin/sh\n")
			g.put(".notaria-journal.json", `{"schema":"notaria/journal/1","state":"ready","steps":[{"path":".git/hooks/pre-commit","new":".x.notaria-new-0"}]}`)
		}, ""},
		{"a journal that removes", text(".notaria-journal.json", `{"schema":"notaria/journal/1","state":"ready","steps":[{"path":"README.md"},{"path":".git/HEAD"}]}`), "README.md"},
		{"a journal of this version", text(".notaria-journal.json", `{"schema":"notaria/journal/2","project":"","state":"ready","steps":[{"path":"README.md"}]}`), "README.md"},
		{"a state folder in the project", text(".local/state/notaria/runs/x.json", "{}"), ".local/state/notaria/runs/x.json"},
		{"a file of a run", text(".README.md.notaria-old-0123456789abcdef", "mine"), ".README.md.notaria-old-0123456789abcdef"},
		{"a link as a file of a run", func(g *ground) { g.link(".README.md.notaria-new-0123456789abcdef", g.outside) }, ""},
		{"a journal that is a pipe", pipe(".notaria-journal.json"), ""},
		// Ledgers.
		{"a ledger that claims the head", func(g *ground) { g.claims(".git/HEAD") }, ""},
		{"a ledger that claims a hook, in capitals", func(g *ground) { g.put(".GIT/hooks/x", "x"); g.claims(".GIT/hooks/x", "deckgame") }, ".GIT/hooks/x"},
		{"a ledger that claims a short name", func(g *ground) { g.put("git~1/config", "x"); g.claims("git~1/config", "gone") }, "git~1/config"},
		{"a ledger that claims with ignorable signs", func(g *ground) { g.put(".g\u200cit/config", "x"); g.claims(".g\u200cit/config", "gone") }, ".g\u200cit/config"},
		{"a ledger that claims the readme", func(g *ground) { g.claims("README.md") }, "README.md"},
		{"a ledger that claims the readme for an app", func(g *ground) { g.claims("README.md", "gone") }, "README.md"},
		{"a ledger that claims code", func(g *ground) { g.claims("deckgame/lib/main.dart", "deckgame") }, "deckgame/lib/main.dart"},
		{"a ledger that claims a licence elsewhere", func(g *ground) { g.put("LICENSE.txt", "mine"); g.claims("LICENSE.txt") }, "LICENSE.txt"},
		{"a ledger that leads out", func(g *ground) {
			g.ledger("files", map[string]any{"path": "../outside/mine.txt", "sha256": ""})
		}, ""},
		{"a ledger with an absolute path", func(g *ground) {
			g.ledger("files", map[string]any{"path": g.outside + "/mine.txt", "sha256": ""})
		}, ""},
		{"a ledger that prunes", func(g *ground) {
			require.NoError(g.t, os.MkdirAll(g.full(".git/refs/empty"), 0o755))
			g.ledger("folders", map[string]any{"path": ".git/refs/empty"})
		}, ""},
		{"a ledger with an entry in version control", func(g *ground) {
			g.ledger("entries", map[string]any{"file": ".git/config", "syntax": "source", "place": map[string]any{"kind": "after", "name": "[core]"}, "value": "[core]", "owners": []any{map[string]any{"target": "flutter", "app": "gone"}}})
		}, ""},
		{"a ledger that has a line taken out", func(g *ground) {
			g.ledger("entries", map[string]any{"file": "timetable/composeApp/build.gradle.kts", "syntax": "source", "place": map[string]any{"kind": "block", "path": []any{"plugins"}}, "value": firstIn(g.read("timetable/composeApp/build.gradle.kts"), "plugins {"), "owners": []any{map[string]any{"target": "android", "app": "gone"}}})
			g.put("kept.txt", firstIn(g.read("timetable/composeApp/build.gradle.kts"), "plugins {"))
		}, ""},
		{"a ledger with text to put back", func(g *ground) {
			g.put("kiosk/app.json", strings.ReplaceAll(g.read("kiosk/app.json"), "x", "x"))
			g.ledger("entries", map[string]any{"file": "kiosk/app.json", "syntax": "appjson", "place": map[string]any{"kind": "plugin"}, "made": []any{`"evil-plugin"`}})
		}, ""},
		{"a ledger that has a file taken off a watch", func(g *ground) {
			g.ledger("entries", map[string]any{"file": "watch/metadata.json", "syntax": "storage", "place": map[string]any{"kind": "file", "name": "skerrycrew.app.js"}, "value": "app.js", "owners": []any{map[string]any{"target": "espruino", "app": "gone"}}})
			g.put("kept.txt", `{"name": "skerrycrew.app.js", "url": "app.js"}`)
			g.put("kept-in.txt", "watch/metadata.json")
		}, ""},
		{"a ledger with a syntax of its own", func(g *ground) {
			g.ledger("entries", map[string]any{"file": "README.md", "syntax": "shell", "place": map[string]any{"kind": "x"}, "value": "rm"})
		}, "README.md"},
		{"a ledger of many files", func(g *ground) {
			g.put("notaria.ledger.json", `{"schema":"notaria/ledger/2","files":[`+strings.TrimSuffix(rep(`{"path":"f","sha256":""},`, 400_000), ",")+`],"folders":[],"entries":[]}`)
		}, ""},
		{"a deep ledger", text("notaria.ledger.json", rep("[", 5_000_000)), ""},
		{"a ledger in a merge", behind("notaria.ledger.json", "<<<<<<< ours\nwhatever\n=======\n>>>>>>> theirs\n"), "notaria.ledger.json"},
		{"attributes that are a link", func(g *ground) {
			require.NoError(g.t, os.Symlink(filepath.Join(g.outside, "mine.txt"), g.full(".gitattributes")))
		}, ""},
		{"attributes that are a pipe", pipe(".gitattributes"), ""},
		{"attributes that are a folder", text(".gitattributes/", ""), ""},
		{"attributes of 10 GB", func(g *ground) { g.sparse(".gitattributes") }, ""},
		{"a ledger that is a link", moved("notaria.ledger.json"), ""},
		{"a ledger that is a pipe", pipe("notaria.ledger.json"), ""},
		{"a ledger that is a folder", text("notaria.ledger.json/", ""), ""},
		{"a ledger of 10 GB", func(g *ground) { g.sparse("notaria.ledger.json") }, ""},
		// Registries.
		{"a registry that is a link", moved("notaria.toml"), ""},
		{"a registry that is a pipe", pipe("notaria.toml"), ""},
		{"a registry in a merge", behind("notaria.toml", "<<<<<<< ours\nwhatever\n=======\n>>>>>>> theirs\n"), "notaria.toml"},
		{"originals outside", func(g *ground) { g.exchange("notaria.toml", `folder = "type"`, `folder = "../outside"`) }, ""},
		{"originals among the hooks", func(g *ground) { g.exchange("notaria.toml", `folder = "type"`, `folder = ".git/hooks"`) }, ""},
		{"originals on a device", func(g *ground) { g.exchange("notaria.toml", `folder = "type"`, `folder = "CON"`) }, ""},
		{"an original outside", func(g *ground) {
			g.exchange("notaria.toml", `file = "type/SkerrySans-Bold.ttf"`, `file = "../outside/mine.txt"`)
		}, ""},
		{"an original in version control", func(g *ground) {
			g.exchange("notaria.toml", `file = "type/SkerrySans-Bold.ttf"`, `file = ".git/HEAD"`)
		}, ""},
		{"a face's name with escapes", func(g *ground) {
			g.exchange("notaria.toml", `name = "SkerrySans-Bold"`, `name = "S\u001b[2J\u202e"`)
		}, ""},
		{"a target's name with escapes", behind("notaria.toml", "\n[target.\"\\u001b[2J\"]\nx = 1\n"), ""},
		{"raw escapes in a comment", behind("notaria.toml", "\n# "+escapes+"\n"), ""},
		{"deep lists of TOML", text("notaria.toml", "a="+rep("[", 900_000)), ""},
		{"deep tables of TOML", text("notaria.toml", "a="+rep("{a=", 300_000)), ""},
		{"long keys of TOML", text("notaria.toml", "a"+rep(".a", 500_000)+"=1\n"), ""},
		{"a bitmap outside", behind("notaria.toml", "\n[role.x]\nbitmap = \"../outside/mine.txt\"\n"), ""},
		{"a bitmap on a device", func(g *ground) {
			g.link("type/x.bdf", "/dev/zero")
			g.put("notaria.toml", g.read("notaria.toml")+"\n[role.x]\nbitmap = \"type/x.bdf\"\n")
		}, ""},
		{"a sheet whose picture is outside", func(g *ground) {
			g.put("type/x.json", `{"schema":"notaria/sheet/1","depth":1,"picture":"../../outside/mine.txt","glyphs":[]}`)
			g.put("notaria.toml", g.read("notaria.toml")+"\n[role.x]\nbitmap = \"type/x.json\"\n")
		}, ""},
		{"large pixels", behind("notaria.toml", func() string {
			var b strings.Builder
			for i := range 300 {
				fmt.Fprintf(&b, "\n[role.r%d]\nface = \"SkerrySans-Bold\"\nheight = %d\ndepth = 8\n", i, 700+i)
			}
			return b.String()
		}()), ""},
		{"many roles", behind("notaria.toml", func() string {
			var b strings.Builder
			for i := range 20_000 {
				fmt.Fprintf(&b, "\n[role.r%d]\nface = \"SkerrySans-Bold\"\nsize = 1\n", i)
			}
			return b.String()
		}()), ""},
	}
	// Links at every level.
	for _, name := range []string{"type", "type/SkerrySans-Bold.ttf", "deckgame", "deckgame/fonts", "deckgame/lib", pubspec, "deckgame/lib/app_type.dart", "ios", "ios/SkerryFerries", plist, pbxproj, "android/app/src/main/res/font", "kiosk/app.json", "crew/Crew/Crew.csproj"} {
		list = append(list, clone{"outside by a link: " + name, moved(name), ""})
	}
	list = append(list,
		clone{"fonts in version control by a link", func(g *ground) { g.link("deckgame/fonts", "../.git") }, ""},
		clone{"a link to itself", func(g *ground) { g.link("deckgame/fonts", "fonts") }, ""},
		clone{"a link to the devices", func(g *ground) { g.link(pubspec, "/dev/zero") }, ""},
		clone{"a link to another app", func(g *ground) { g.link("deckgame/fonts", "../README.d") }, ""},
	)
	// What is no file, and what is too much of one.
	for _, name := range []string{pubspec, plist, pbxproj, "kiosk/app.json", "fleet/package.json", "deckgame/lib/main.dart", "deckgame/lib/app_type.dart", "type/SkerrySans-Bold.ttf", "deckgame/fonts/SkerrySans-Bold.ttf", "deckgame/Loose.ttf", "crew/Crew/Crew.csproj", "ios/X.xcconfig", "signs/Package.swift"} {
		list = append(list, clone{"a pipe: " + name, pipe(name), ""})
	}
	for _, name := range []string{pubspec, pbxproj, "type/SkerrySans-Bold.ttf", "deckgame/fonts/SkerrySans-Bold.ttf", "deckgame/lib/main.dart", "deckgame/lib/app_type.dart"} {
		list = append(list, clone{"10 GB: " + name, func(g *ground) { g.sparse(name) }, ""})
	}
	list = append(list, clone{"a folder in the place of code", text("deckgame/lib/app_type.dart/", "x"), ""})
	// Too much for a parser, just below the limits of size.
	bombs := map[string][2]string{
		"deep YAML": {pubspec, "\nz: " + rep("[", 30_000)}, "deep YAML, braces": {pubspec, "\nz: " + rep("{a: ", 10_000)}, "aliases of YAML": {pubspec, "\na: &a [x,x,x,x,x,x,x,x,x]\nb: &b [*a,*a,*a,*a,*a,*a,*a]\nc: &c [*b,*b,*b,*b,*b,*b,*b]\nd: &d [*c,*c,*c,*c,*c,*c,*c]\ne: [*d,*d,*d,*d,*d,*d,*d]\n"},
		"tags of YAML": {pubspec, "\nz: " + rep("!!x ", 15_000)}, "keys of YAML": {pubspec, "\nz:\n" + rep("  ? a\n", 9_000)},
		"deep JSON": {"kiosk/app.json=", rep("[", 1_000_000)}, "deep metadata": {"watch/metadata.json=", `{"storage":[` + rep("[", 1_000_000)}, "YAML of words": {"jetty/words.yaml=", rep("a: &a [*a,*a]\n", 60_000)}, "wide JSON": {"kiosk/app.json=", `{"expo":{"x":[` + rep("0,", 510_000) + "0]}}"}, "deep package": {"fleet/package.json=", `{"dependencies":{"react-native":` + rep("[", 1_000_000)},
		"deep XML": {"crew/Crew/Crew.csproj=", rep("<a>", 340_000)}, "wide XML": {"crew/Crew/Crew.csproj=", "<Project>" + rep("<a/>", 250_000) + "</Project>"}, "attributes": {"crew/Crew/Crew.csproj=", "<Project " + rep(`a="" `, 200_000) + "/>"},
		"deep list of properties": {plist + "=", "<plist><dict>" + rep("<key>a</key><dict>", 55_000)}, "wide list of properties": {plist + "=", "<plist><dict>" + rep("<key>a</key><true/>", 55_000) + "</dict></plist>"}, "binary list of properties": {plist + "=", "bplist00" + rep("\xaf\x12\xff\xff\xff\xff", 100_000) + rep("\xff", 32)},
		"deep project": {pbxproj + "=", "// !$*UTF8*$!\n" + rep("{a=", 4_000_000)}, "wide project": {pbxproj + "=", "// !$*UTF8*$!\n{a=(" + rep("a,", 6_000_000) + ");}"},
		"Gradle": {"timetable/composeApp/build.gradle.kts", rep(`"${`, 300_000)}, "C#": {"board/MauiProgram.cs", rep(`$"{`, 300_000)}, "Swift": {"ios/SkerryFerries/X.swift=", rep(`"\(`, 1_300_000)}, "comments": {"ios/SkerryFerries/X.swift=", rep("/*", 2_000_000)},
		"package": {"signs/Package.swift", rep(".target(", 100_000)}, "JSX": {"fleet/X.tsx=", rep("<a>{", 1_000_000)}, "names": {"fleet/X.tsx=", rep(`{fontFamily: "x", fontWeight: "700"},`, 110_000)}, "Dart": {"deckgame/lib/x.dart=", rep(`"${`, 1_300_000)},
		"values":                {"android/app/build.gradle.kts=", "plugins { id(\"com.android.application\") }\n" + rep("val a = b\nval b = a\n", 50_000) + "android { namespace = a }\n"},
		"targets of a manifest": {"ios2/project.yml=", "targets:\n" + rep("  A:\n    type: application\n    sources: [a]\n", 20_000)}, "targets in Swift": {"ios2/Project.swift=", "import ProjectDescription\n" + rep(".target(name: \"A\", product: .app, ", 30_000)},
		"loaded fonts": {"fleet/X.tsx=", "const a = {fontFamily: 'Own'}; " + rep("useFonts({a,", 300_000)}, "ignored": {"kiosk/.gitignore=", rep("a/*\n", 250_000)},
		"includes": {"ios/X.xcconfig=", rep("#include \"X.xcconfig\"\n", 10_000)},
	}
	for name, b := range bombs {
		file, whole := strings.CutSuffix(b[0], "=")
		put := behind(file, b[1])
		if whole {
			put = text(file, b[1])
		}
		list = append(list, clone{"too much: " + name, put, ""})
	}
	// Names and texts that a terminal would obey.
	for i, name := range []string{"deckgame/" + escapes + ".ttf", escapes + "/pubspec.yaml", "fleet/a\nb.tsx", "ios/\xff\xfe.swift", "type/" + escapes + ".ttf"} {
		list = append(list, clone{fmt.Sprintf("a file's name with escapes: %d", i), text(name, "name: x\ndependencies:\n  flutter:\n    sdk: flutter\nflutter:\n  fonts: "+escapes+"\n"), ""})
	}
	return append(list,
		clone{"escapes in a manifest", func(g *ground) { g.exchange(pubspec, "name:", "# "+escapes+"\nname:") }, ""},
		clone{"escapes in code", text("fleet/X.tsx", "const s = {fontFamily: '"+escapes+"'};\n"), ""},
		clone{"a font cut short", func(g *ground) {
			b := g.read("type/SkerrySans-Bold.ttf")
			g.put("type/SkerrySans-Bold.ttf", b[:len(b)/2])
		}, ""},
	)
}

// firstIn is the line behind the one that has a text.
func firstIn(text, head string) string {
	_, rest, _ := strings.Cut(text, head)
	return strings.TrimSpace(strings.SplitN(strings.TrimLeft(rest, "\n"), "\n", 2)[0])
}

// snapshot tells what is in a folder, links and special files as such.
func snapshot(t *testing.T, root string) map[string]string {
	t.Helper()
	out := map[string]string{}
	require.NoError(t, filepath.WalkDir(root, func(name string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		info, err := d.Info()
		if err != nil {
			return err
		}
		rel, _ := filepath.Rel(root, name)
		switch {
		case d.IsDir():
			out[rel] = "folder"
		case info.Mode()&fs.ModeSymlink != 0:
			to, _ := os.Readlink(name)
			out[rel] = "-> " + to
		case !info.Mode().IsRegular() || info.Size() > 64<<20:
			out[rel] = fmt.Sprint(info.Mode(), info.Size())
		default:
			b, err := os.ReadFile(name)
			out[rel] = fmt.Sprint(info.Mode(), sha256.Sum256(b))
			return err
		}
		return nil
	}))
	return out
}

// below is the part of a snapshot that is in a folder.
func below(all map[string]string, dir string) map[string]string {
	out := map[string]string{}
	for name, what := range all {
		if name == dir || strings.HasPrefix(name, dir+"/") {
			out[name] = what
		}
	}
	return out
}

// mostMemory is what a run on a hostile project may take, in KiB: 256 MiB beyond what
// the sane part takes.
const mostMemory = (256 + 64) << 10

// Whatever somebody planted in a project, every command ends, within bounds, and changes
// nothing outside of the project and nothing of version control; commands that read
// change nothing at all; and nothing that a terminal obeys is printed.
func TestHostileClones(t *testing.T) {
	notaria, base := program(t), filepath.Join(t.TempDir(), "base")
	state := filepath.Join(t.TempDir(), "state")
	require.NoError(t, skerry.Place(base, "android", "board", "crew", "deckgame", "fleet", "ios", "jetty", "kiosk", "signs", "timetable", "watch", "web"))
	for _, args := range [][]string{{"enrol", filepath.Join(base, skerry.ArchiveName), "--styles", "regular,bold"}, {"register"}} {
		cmd := exec.Command(notaria, append([]string{"--project", base}, args...)...)
		cmd.Env = append(os.Environ(), "XDG_STATE_HOME="+state)
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, string(out))
	}
	for name, text := range map[string]string{".git/HEAD": "ref: refs/heads/main\n", ".git/config": "[core]\n", ".git/hooks/pre-push": "#!/bin/sh\n", "README.md": "mine\n", "README.d/x": "mine\n"} {
		full := filepath.Join(base, name)
		require.NoError(t, os.MkdirAll(filepath.Dir(full), 0o755))
		require.NoError(t, os.WriteFile(full, []byte(text), 0o644))
	}
	list := clones()
	require.GreaterOrEqual(t, len(list), 60)
	for i, c := range list {
		if testing.Short() && i%8 > 0 {
			continue
		}
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			all := t.TempDir()
			g := &ground{t, filepath.Join(all, "project"), filepath.Join(all, "outside")}
			require.NoError(t, os.CopyFS(g.dir, os.DirFS(base)))
			require.NoError(t, os.MkdirAll(g.outside, 0o755))
			require.NoError(t, os.WriteFile(filepath.Join(g.outside, "mine.txt"), []byte("mine\n"), 0o644))
			c.plant(g)
			before, outside := snapshot(t, g.dir), snapshot(t, g.outside)
			kept := ""
			if c.keeps != "" {
				kept = g.read(c.keeps)
			}
			for _, args := range []string{"survey", "check", "check --json", "names type", "register --dry-run", "register --dry-run --color always", "register", "register --take-over --overwrite", "strike SkerrySans-Bold --with-roles", "strike SkerrySans-Regular --with-roles"} {
				g.runs(notaria, state, args)
				now := snapshot(t, g.dir)
				require.Equal(t, outside, snapshot(t, g.outside), "%s changed something outside", args)
				require.Equal(t, below(before, ".git"), below(now, ".git"), "%s changed version control", args)
				if !strings.HasPrefix(args, "register -") || strings.Contains(args, "dry") {
					if !strings.HasPrefix(args, "strike") && args != "register" {
						require.Equal(t, before, now, "%s changed something", args)
					}
				}
				if line, err := os.ReadFile(g.full("kept.txt")); err == nil {
					in := "timetable/composeApp/build.gradle.kts"
					if other, err := os.ReadFile(g.full("kept-in.txt")); err == nil {
						in = string(other)
					}
					require.Contains(t, g.read(in), string(line), args)
				}
				if c.keeps != "" {
					require.Equal(t, kept, g.read(c.keeps), "%s changed %s", args, c.keeps)
				}
			}
		})
	}
}

// runs runs one command, and looks at what it took and said.
func (g *ground) runs(notaria, state, args string) {
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Minute) // it hangs, then
	defer cancel()
	cmd := exec.CommandContext(ctx, notaria, strings.Fields(args)...)
	cmd.Dir, cmd.Env = g.dir, append(os.Environ(), "XDG_STATE_HOME="+state)
	var out bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &out
	_ = cmd.Run()
	require.NoError(g.t, ctx.Err(), "%s hangs", args)
	code := cmd.ProcessState.ExitCode()
	require.Contains(g.t, []int{0, 1, 2, 3}, code, "%s: %s", args, tail(out.String()))
	require.NotContains(g.t, out.String(), "goroutine ", args)
	usage := cmd.ProcessState.SysUsage().(*syscall.Rusage)
	require.Less(g.t, usage.Maxrss, int64(mostMemory), "%s took %d MiB", args, usage.Maxrss>>10)
	took := cmd.ProcessState.UserTime() + cmd.ProcessState.SystemTime()
	if took > 5*time.Second {
		g.t.Logf("%s took %v", args, took)
	}
	text := out.String()
	if strings.Contains(args, "--color always") {
		for _, paint := range []string{"0", "1", "31", "32", "33", "36", "90"} {
			text = strings.ReplaceAll(text, "\x1b["+paint+"m", "")
		}
	} else if strings.Contains(args, "--dry-run") {
		return // a diff in a pipe is for other programs, byte by byte
	}
	for _, r := range text {
		require.False(g.t, language.Unseen(r), "%s printed %U: %q", args, r, tail(text))
	}
}

func tail(s string) string { return s[max(0, len(s)-600):] }

// A tree of hundreds of apps of one kind is judged, too. The bound is wide: what looks through all of them for each of
// them takes ten times as much.
func TestManyApps(t *testing.T) {
	notaria, base := program(t), filepath.Join(t.TempDir(), "base")
	state := t.TempDir()
	require.NoError(t, skerry.Place(base))
	for _, args := range [][]string{{"enrol", filepath.Join(base, skerry.ArchiveName), "--styles", "regular,bold"}, {"register"}} {
		cmd := exec.Command(notaria, append([]string{"--project", base}, args...)...)
		cmd.Env = append(os.Environ(), "XDG_STATE_HOME="+state)
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, string(out))
	}
	apps, err := os.ReadDir(base)
	require.NoError(t, err)
	for _, app := range apps {
		if !app.IsDir() || app.Name() == "type" {
			continue
		}
		t.Run(app.Name(), func(t *testing.T) {
			many := t.TempDir()
			for i := range times(30, 150) {
				require.NoError(t, os.CopyFS(filepath.Join(many, fmt.Sprint("a", i)), os.DirFS(filepath.Join(base, app.Name()))))
			}
			for _, command := range []string{"check", "survey"} {
				cmd := exec.Command(notaria, command)
				cmd.Dir, cmd.Env = many, append(os.Environ(), "XDG_STATE_HOME="+state)
				timer := time.AfterFunc(2*time.Minute, func() { _ = cmd.Process.Kill() })
				out, _ := cmd.CombinedOutput()
				timer.Stop()
				require.GreaterOrEqual(t, cmd.ProcessState.ExitCode(), 0, "it had to be ended: %.500s", out)
				require.Less(t, cmd.ProcessState.UserTime(), 10*time.Second, command)
			}
		})
	}
}
