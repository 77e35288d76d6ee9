package notary

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/choice"
	"notaria/internal/disk"
	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/intake"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/platform/dotnet/msbuild"
	"notaria/internal/registry"
	"notaria/internal/skerry"
)

// project is the sample, and all that its archive holds.
func project(t *testing.T) (*Project, intake.Haul) {
	t.Helper()
	root := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(root))
	opt := intake.Options{Digest: true}
	haul, err := intake.Gather(context.Background(), []string{filepath.Join(root, skerry.ArchiveName)}, opt)
	require.NoError(t, err)
	return reopened(t, root), haul
}

// reopened opens a project; the end of the test closes it.
func reopened(t *testing.T, root string) *Project {
	t.Helper()
	p, err := Open(context.Background(), root, all.Platforms, Opening{})
	require.NoError(t, err)
	t.Cleanup(p.Close)
	return p
}

// again opens the project of an earlier run, which ends.
func again(t *testing.T, p *Project) *Project {
	t.Helper()
	p.Close()
	return reopened(t, p.Root)
}

// TestMain has the runs of these tests noted in a folder of their own.
func TestMain(m *testing.M) {
	state, err := os.MkdirTemp("", "notaria-state-")
	if err != nil {
		panic(err)
	}
	os.Setenv("XDG_STATE_HOME", state)
	code := m.Run()
	os.RemoveAll(state)
	os.Exit(code)
}

func TestFindRoot(t *testing.T) {
	root := t.TempDir()
	deep := filepath.Join(root, "a/b")
	require.NoError(t, os.MkdirAll(deep, 0o755))
	got, _, err := FindRoot(deep)
	require.NoError(t, err)
	require.Equal(t, deep, got, "no registry: the folder itself")
	require.NoError(t, os.WriteFile(filepath.Join(root, "notaria.toml"), nil, 0o644))
	got, _, err = FindRoot(deep)
	require.NoError(t, err)
	require.Equal(t, root, got)
}

func TestChoiceOfFaces(t *testing.T) {
	tests := []struct {
		name  string
		c     choice.Faces
		taken []string
		fails string
	}{
		{"all", choice.Faces{}, []string{"SkerrySans-Light", "SkerrySans-Regular", "SkerrySans-Italic", "SkerrySans-Bold"}, ""},
		{"by style, however written", choice.Faces{Styles: []string{"BOLD", "light"}}, []string{"SkerrySans-Light", "SkerrySans-Bold"}, ""},
		{"regular is not what old platforms call the light", choice.Faces{Styles: []string{"regular"}}, []string{"SkerrySans-Regular"}, ""},
		{"by family", choice.Faces{Families: []string{"skerry sans"}, Styles: []string{"italic"}}, []string{"SkerrySans-Italic"}, ""},
		{"a style that is not there", choice.Faces{Styles: []string{"bold", "heavy"}}, nil, `a style or family "heavy"`},
		{"a family that is not there", choice.Faces{Families: []string{"Capstan Slab"}}, nil, `"Capstan Slab"`},
		{"a role for several", choice.Faces{As: "body"}, nil, "one face for --role"},
		{"a role of a bad name", choice.Faces{Styles: []string{"bold"}, As: "My Role"}, nil, "a role name"},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			p, haul := project(t)
			e, err := p.Enrol(context.Background(), haul, tt.c)
			if tt.fails != "" {
				require.ErrorContains(t, err, tt.fails)
				return
			}
			require.NoError(t, err)
			var taken []string
			for _, f := range e.Taken {
				taken = append(taken, f.Face.PostScript)
			}
			require.Equal(t, tt.taken, taken)
			require.Equal(t, 4, len(e.Taken)+len(e.Left))
		})
	}
}

func TestRolesAtFirst(t *testing.T) {
	p, haul := project(t)
	_, err := p.Enrol(context.Background(), haul, choice.Faces{Styles: []string{"light", "bold"}})
	require.NoError(t, err)
	require.Equal(t, "SkerrySans-Light", p.Registry.Roles["body"].Face, "the plainest there is")
	require.Equal(t, "SkerrySans-Bold", p.Registry.Roles["heading"].Face)
	_, err = p.Enrol(context.Background(), haul, choice.Faces{Styles: []string{"italic"}, As: "heading"})
	require.NoError(t, err)
	require.Equal(t, "SkerrySans-Italic", p.Registry.Roles["heading"].Face, "a role that is there takes another face")
	require.Equal(t, 28.0, p.Registry.Roles["heading"].Size)
}

// One plan: applying it makes the same plan find nothing to do.
func TestPlanIsItsOwnEnd(t *testing.T) {
	ctx := context.Background()
	p, haul := project(t)
	e, err := p.Enrol(ctx, haul, choice.Faces{})
	require.NoError(t, err)
	require.NoError(t, p.Apply(ctx, e.Set))
	for i := range 2 {
		p = again(t, p)
		require.True(t, p.Found)
		plan, err := p.Plan(ctx, all.Platforms)
		require.NoError(t, err)
		require.Equal(t, 33, len(plan.Sites))
		set, err := p.Changes(ctx, plan, Options{})
		require.NoError(t, err)
		require.Equal(t, i == 1, set.Empty())
		require.NoError(t, p.Apply(ctx, set))
	}
	require.NoError(t, os.Remove(filepath.Join(p.Root, "type/SkerrySans-Bold.ttf")))
	p = again(t, p)
	_, err = p.Plan(ctx, all.Platforms)
	require.ErrorContains(t, err, "type/SkerrySans-Bold.ttf: expected the original of SkerrySans-Bold, found no file")
	_, err = p.Strike(ctx, []string{"Nobody"}, StrikeOptions{WithRoles: true})
	require.ErrorContains(t, err, `"Nobody"`)
}

// A face is cut when its copies are written, and not again to look at them: what generated code wants to know is in the copies.
func TestNothingIsTrimmedTwice(t *testing.T) {
	ctx := context.Background()
	root := filepath.Join(t.TempDir(), "skerry")
	t.Setenv("XDG_STATE_HOME", t.TempDir())
	require.NoError(t, skerry.Place(root, "web", "android"))
	haul, err := intake.Gather(ctx, []string{filepath.Join(root, skerry.ArchiveName)}, intake.Options{Digest: true})
	require.NoError(t, err)
	p, err := Open(ctx, root, all.Platforms, Opening{})
	require.NoError(t, err)
	e, err := p.Enrol(ctx, haul, choice.Faces{Styles: []string{"bold"}})
	require.NoError(t, err)
	require.NoError(t, p.Apply(ctx, e.Set))
	p.Close()
	file := filepath.Join(root, registry.FileName)
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(file, bytes.Replace(text, []byte("\nfile = "), []byte("\ntrim = { sets = [\"ascii\"] }\nfile = "), 1), 0o600))
	var made []int
	for range 3 {
		p, err := Open(ctx, root, all.Platforms, Opening{})
		require.NoError(t, err)
		plan, err := p.Plan(ctx, all.Platforms)
		require.NoError(t, err)
		set, err := p.Changes(ctx, plan, Options{})
		require.NoError(t, err)
		require.Equal(t, len(made) > 0, set.Empty())
		require.NoError(t, p.Apply(ctx, set))
		made = append(made, p.makes.made)
		p.Close()
	}
	require.Equal(t, []int{2, 0, 0}, made, "the cut face, and its WOFF 2; then nothing")
}

// fake is a site that wants just what a test says.
type fake struct {
	path string
	plan platform.Plan
}

func (f fake) Title() string                            { return "Fake " + f.path }
func (f fake) Path() string                             { return f.path }
func (f fake) Plan(platform.Job) (platform.Plan, error) { return f.plan, nil }

func sitePlan(name, path string, plan platform.Plan) SitePlan {
	return SitePlan{Target: platform.About{Name: name}, Site: fake{path, plan}, Plan: plan}
}

// Sites share what they want alike; one that wants a path with another content is refused,
// with both named, and the option that helps.
func TestOneDesiredState(t *testing.T) {
	text := func(name, s string) platform.Plan {
		return platform.Plan{Code: []platform.File{platform.Code(name, []byte(s))}}
	}
	copies := func(files ...platform.File) platform.Plan { return platform.Plan{Files: files} }
	plist := edit.Entry{File: "Info.plist", Syntax: "plist", Place: edit.Place{Kind: "array", Name: "UIAppFonts"}, Value: "A.ttf"}
	tests := []struct {
		name    string
		sites   []SitePlan
		files   int
		owners  int // of the first file or entry
		refused string
	}{
		{"shared text", []SitePlan{sitePlan("apple", "a", text("x", "1")), sitePlan("maui", "b", text("x", "1"))}, 1, 2, ""},
		{"a shared entry", []SitePlan{sitePlan("apple", "a", platform.Plan{Entries: []edit.Entry{plist}}), sitePlan("apple", "b", platform.Plan{Entries: []edit.Entry{plist}})}, 0, 2, ""},
		{"two texts", []SitePlan{sitePlan("apple", "a", text("x", "1")), sitePlan("maui", "b", text("X", "2"))}, 1, 1,
			`X: expected one content for this file, found two: for a (apple) and for b (maui); leave one of the two out: leave-out = ["b"] under [target.maui] in notaria.toml`},
		{"capitals", []SitePlan{sitePlan("apple", "a", text("x", "1")), sitePlan("maui", "b", text("X", "1"))}, 1, 1, "found two: for a (apple) and for b (maui)"},
		{"two faces in one app", []SitePlan{sitePlan("apple", "a", copies(platform.File{Path: "a/Bold.ttf", Recipe: platform.Original{Face: "A"}}, platform.File{Path: "a/bold.ttf", Recipe: platform.Original{Face: "B"}}))}, 0, 0,
			"expected one file under this name, found two: original A and original B; strike one of the faces"},
		{"an original's place", []SitePlan{sitePlan("apple", "a", text("type/SkerrySans-Bold.ttf", "1"))}, 0, 0, "found an original of the project"},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			p := &Project{Tree: &Tree{}, Registry: registry.New()}
			p.Registry.AddFace(registry.Face{Name: "SkerrySans-Bold", File: "type/SkerrySans-Bold.ttf"}, "")
			plan := &Plan{Sites: tt.sites}
			p.merge(plan)
			require.Len(t, plan.Files, tt.files)
			switch {
			case len(plan.Files) > 0:
				require.Len(t, plan.Files[0].Owners, tt.owners)
			case len(plan.Entries) > 0:
				require.Len(t, plan.Entries[0].Owners, tt.owners)
			}
			if tt.refused == "" {
				require.Empty(t, plan.Refused)
				return
			}
			require.Len(t, plan.Refused, 1)
			require.ErrorContains(t, plan.Refused[0].Err, tt.refused)
		})
	}
}

func TestTreePassesOverWhatOthersMade(t *testing.T) {
	root := t.TempDir()
	for _, f := range []string{"app/x.txt", "node_modules/x.txt", ".git/x.txt", "ios/Pods/x.txt"} {
		full := filepath.Join(root, f)
		require.NoError(t, os.MkdirAll(filepath.Dir(full), 0o755))
		require.NoError(t, os.WriteFile(full, nil, 0o644))
	}
	require.NoError(t, os.Symlink(root, filepath.Join(root, "app/loop")))
	dir, err := disk.Open(root)
	require.NoError(t, err)
	defer dir.Close()
	tree, err := ReadTree(dir, skipsOf(all.Platforms))
	require.NoError(t, err)
	require.Equal(t, []string{"app/loop"}, tree.Links)
	require.Equal(t, []string{"app/x.txt"}, tree.Named("x.txt"))
	require.Equal(t, []string{"app/loop", "app/x.txt"}, tree.Under("app"))
	_, err = tree.Read("../x")
	require.Error(t, err)
}

// What was derived is not derived again where nothing changed: neither to register nor
// to look.
func TestNothingIsDerivedTwice(t *testing.T) {
	ctx := context.Background()
	p, haul := project(t)
	e, err := p.Enrol(ctx, haul, choice.Faces{Styles: []string{"regular", "bold"}})
	require.NoError(t, err)
	require.NoError(t, p.Apply(ctx, e.Set))
	both := platform.Collection{Members: []string{"SkerrySans-Regular", "SkerrySans-Bold"}}
	made := map[int]int{}
	for run := range 3 {
		p = again(t, p)
		plan := &Plan{Sites: []SitePlan{sitePlan("apple", "a", platform.Plan{Files: []platform.File{{Path: "a/x.ttc", Recipe: both}}}),
			sitePlan("maui", "b", platform.Plan{Files: []platform.File{{Path: "b/x.ttc", Recipe: both}}})}}
		p.merge(plan)
		set, err := p.Changes(ctx, plan, Options{})
		require.NoError(t, err)
		require.Equal(t, run > 0, set.Empty())
		require.NoError(t, p.Apply(ctx, set))
		for _, f := range plan.Files {
			stand, err := p.Standing(p.set(), f)
			require.NoError(t, err)
			require.True(t, stand.Equal)
		}
		made[run] = p.makes.made
		w, ok := p.Ledger.Wrote("a/x.ttc")
		require.True(t, ok)
		require.Equal(t, "collection SkerrySans-Regular, SkerrySans-Bold", w.Recipe)
		require.Len(t, w.Original, 64)
	}
	require.Equal(t, map[int]int{0: 1, 1: 0, 2: 0}, made, "once for both sites, and never again")

	// A file that somebody put in its place, and another original, are noticed.
	require.NoError(t, os.WriteFile(filepath.Join(p.Root, "a/x.ttc"), []byte("mine"), 0o644))
	stand, err := p.Standing(p.set(), Wanted{File: platform.File{Path: "a/x.ttc", Recipe: both}})
	require.NoError(t, err)
	require.Equal(t, Stand{Exists: true, Edited: true}, stand)

	facts, err := p.Facts(both)
	require.NoError(t, err)
	require.Len(t, facts.SHA256, 64)
	o := facts.Overrides([]rune("Departures"), 0.5)
	mean := facts.Metrics.Mean([]rune("Departures"))
	require.InDelta(t, 200*mean, o.Size, 0.01, "as wide as the other font")
	require.InDelta(t, 100*0.96/(2*mean), o.Ascent, 0.01)
	require.InDelta(t, 100*0.24/(2*mean), o.Descent, 0.01)
}

// One manifest can hold entries of several syntaxes and platforms: each is reconciled in
// turn on the same bytes, and a run for one platform leaves the others' as they are.
func TestSharedManifest(t *testing.T) {
	ctx := context.Background()
	p, haul := project(t)
	e, err := p.Enrol(ctx, haul, choice.Faces{Styles: []string{"bold"}})
	require.NoError(t, err)
	require.NoError(t, p.Apply(ctx, e.Set))
	const file, text = "shared/MauiProgram.cs", "using System;\nclass P\n{\n\tvoid A()\n\t{\n\t\tStart();\n\t\tb.ConfigureFonts(fonts =>\n\t\t{\n\t\t});\n\t}\n}\n"
	name := filepath.Join(p.Root, filepath.FromSlash(file))
	require.NoError(t, os.MkdirAll(filepath.Dir(name), 0o755))
	require.NoError(t, os.WriteFile(name, []byte(text), 0o644))
	font := edit.Entry{File: file, Syntax: msbuild.AddFont{}.Name(), Place: msbuild.AliasPlace("A"), Value: "A.ttf"}
	start := edit.Entry{File: file, Syntax: source.Lines{}.Name(), Place: source.After("Start();"), Value: "Quay.OpenAppType();"}
	both := edit.Entry{File: file, Syntax: source.Lines{}.Name(), Place: source.After("Start();"), Value: "SharedAppType();"}
	maui := sitePlan("maui", "m", platform.Plan{Entries: []edit.Entry{font, both}})
	expo := sitePlan("expo", "x", platform.Plan{Entries: []edit.Entry{start, both}})
	apply := func(only string, sites ...SitePlan) string {
		p = again(t, p)
		plan := &Plan{Sites: sites, whole: map[string]bool{"maui": only != "expo", "expo": only != "maui"}}
		p.merge(plan)
		set, err := p.Changes(ctx, plan, Options{})
		require.NoError(t, err)
		require.NoError(t, p.Apply(ctx, set))
		b, err := os.ReadFile(name)
		require.NoError(t, err)
		return string(b)
	}
	shared := apply("", maui, expo)
	for _, line := range []string{`fonts.AddFont("A.ttf", "A");`, "Quay.OpenAppType();", "SharedAppType();"} {
		require.Equal(t, 1, strings.Count(shared, line), line)
	}
	require.Equal(t, shared, apply("expo", expo), "a run for one leaves the other's")
	p = again(t, p)
	for _, e := range p.Ledger.Entries {
		if e.Value == "SharedAppType();" {
			require.Equal(t, []registry.Owner{{Target: "expo", App: "x"}, {Target: "maui", App: "m"}}, e.Owners)
		}
	}
	without := apply("expo")
	require.NotContains(t, without, "Quay.OpenAppType();")
	require.Contains(t, without, "SharedAppType();", "the other still wants it")
	require.Contains(t, without, "AddFont")
	require.Equal(t, text, apply(""))
}

// A project that is looked at knows when somebody changes what was read first; line ends alone
// that differ from what Notaria would write are no change.
func TestChangedMeanwhile(t *testing.T) {
	root := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, os.MkdirAll(root, 0o755))
	toml := filepath.Join(root, registry.FileName)
	require.NoError(t, os.WriteFile(toml, []byte("folder = \"type\"\r\n"), 0o644))
	p, err := Look(root, all.Platforms)
	require.NoError(t, err)
	defer p.Close()
	require.True(t, p.Looks())
	require.False(t, p.Changed())
	require.NoError(t, os.WriteFile(filepath.Join(root, registry.LedgerName), []byte("{}"), 0o644))
	require.True(t, p.Changed())
	require.NoError(t, os.Remove(filepath.Join(root, registry.LedgerName)))
	require.False(t, p.Changed())
	require.NoError(t, os.Remove(toml))
	require.True(t, p.Changed())
}
