package document_test

import (
	"bytes"
	"context"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/audit"
	"notaria/internal/choice"
	"notaria/internal/credits"
	"notaria/internal/document"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/notary"
	"notaria/internal/phrases"
	"notaria/internal/platform"
	"notaria/internal/platform/flutter"
	"notaria/internal/setting"
	"notaria/internal/skerry"
	"notaria/internal/subject"
)

// golden compares a document with its example; the project's folder is left out. With
// NOTARIA_UPDATE the examples are written: read the difference before it is committed.
func golden(t *testing.T, name, root string, doc any) {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, document.Write(&b, doc))
	got := strings.ReplaceAll(strings.ReplaceAll(b.String(), root, "PROJECT"), filepath.Dir(root), "DOWNLOADS")
	file := filepath.Join("testdata", name+".json")
	if os.Getenv("NOTARIA_UPDATE") != "" {
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(file, []byte(got), 0o644))
	}
	want, err := os.ReadFile(file)
	require.NoError(t, err)
	require.Equal(t, string(want), got)
}

func faces(haul intake.Haul) []face.Face {
	var out []face.Face
	for _, f := range haul.Faces {
		out = append(out, f.Face)
	}
	return out
}

// TestDocuments makes the document of each command in the order of the story, on one app.
func TestDocuments(t *testing.T) {
	ctx, targets := context.Background(), []platform.Platform{flutter.Platform{}}
	all := filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(all))
	all, err := filepath.EvalSymlinks(all)
	require.NoError(t, err)
	root := filepath.Join(all, "deckgame")
	haul, err := intake.Gather(ctx, []string{filepath.Join(all, skerry.ArchiveName)}, intake.Options{Digest: true, Options: face.Options{Records: true, Coverage: true}})
	require.NoError(t, err)
	for i := range haul.Faces {
		haul.Faces[i].Archive = skerry.ArchiveName
		haul.Faces[i].Type = map[string]string{"flutter": haul.Faces[i].Family}
	}
	golden(t, "names", root, document.NewNames(faces(haul)[:1], haul.Problems))
	golden(t, "targets", root, document.NewTargets(targets))

	t.Setenv("XDG_STATE_HOME", t.TempDir())
	var p *notary.Project
	open := func() *notary.Project {
		if p != nil {
			p.Close()
		}
		p, err := notary.Open(ctx, root, targets, notary.Opening{})
		require.NoError(t, err)
		t.Cleanup(p.Close)
		return p
	}
	p = open()
	e, err := p.Enrol(ctx, haul, choice.Faces{Styles: []string{"bold"}})
	require.NoError(t, err)
	e.Left = e.Left[:0]
	e.Taken[0].Face.Names = e.Taken[0].Face.Names[:1]
	golden(t, "enrol", root, document.NewEnrol(p, e, nil, nil))
	require.NoError(t, p.Apply(ctx, e.Set))

	p = open()
	d, err := document.NewSurvey(p, targets)
	require.NoError(t, err)
	require.NoError(t, d.JudgeEach(ctx, p, targets))
	golden(t, "survey", root, d)
	plan, err := p.Plan(ctx, targets)
	require.NoError(t, err)
	report, err := audit.NewReport(ctx, p, plan)
	require.NoError(t, err)
	found := report.Findings
	golden(t, "check", root, document.NewCheck(p, plan, report, found, 0))
	golden(t, "sarif", root, document.NewSARIF("1.0", p, []audit.Accepted{{Finding: found[0], Reason: "for now", Where: "notaria.toml"}}, found))
	set, err := p.Changes(ctx, plan, notary.Options{})
	require.NoError(t, err)
	plan.Refused = []notary.Refusal{{Target: "flutter", App: "other", Err: &fault.Error{File: "other/pubspec.yaml", Line: 3, Expected: "YAML", Found: "a tab", Cure: "correct it"}, File: "other/pubspec.yaml", Paste: "flutter:"}}
	golden(t, "register", root, document.NewRegister(p, plan, set, []notary.Task{{File: "app.config.js", Add: "plugins"}}, true))
	require.NoError(t, p.Apply(ctx, set))

	drawn(t, ctx, root)
	p = open()
	credit, err := credits.Collect(p)
	require.NoError(t, err)
	golden(t, "credits", root, document.NewCredits(credit, credits.Lacks(credit)))
	s, err := p.Strike(ctx, []string{"SkerrySans-Bold"}, notary.StrikeOptions{WithRoles: true})
	require.NoError(t, err)
	golden(t, "strike", root, document.NewStrike(p, s, false))
	golden(t, "error", root, document.NewFailure(3, &fault.Error{File: "notaria.toml", Line: 2, Expected: "TOML", Found: "<<<", Cure: "correct it"}))
	golden(t, "error-plain", root, document.NewFailure(2, errors.New("no such flag")))
}

// drawn makes the documents of what draws and measures.
func drawn(t *testing.T, ctx context.Context, root string) {
	t.Helper()
	found, err := subject.Finder{}.Find(ctx, []string{filepath.Join(root, "type/SkerrySans-Bold.ttf")})
	require.NoError(t, err)
	golden(t, "specimen", root, document.NewSpecimen([]string{"faces.png"}, found))
	one, err := subject.Single(found, "SkerrySans-Bold", 28, nil)
	require.NoError(t, err)
	usual, _ := setting.ReaderOf("1")
	largest, _ := setting.ReaderOf("ios-largest")
	room := subject.Room{Width: 90, Height: 40}
	texts := []subject.Text{{Phrase: phrases.Phrase{Key: "title", Language: "da", Text: "07:40 Holm\u5ca9"}, File: "strings.xml"}}
	m, err := one.Measure(ctx, texts, []setting.Reader{usual, largest}, room, nil)
	require.NoError(t, err)
	golden(t, "measure", root, document.NewMeasures(one.Name, one.Face.ID(), room, m))
	c, err := subject.Compare(ctx, one, one, texts, room, nil)
	require.NoError(t, err)
	golden(t, "compare", root, document.NewCompare([]subject.Comparison{c}, nil))
	l, err := one.Type.NewLabel("Holm", one.Style)
	require.NoError(t, err)
	golden(t, "label", root, document.NewLabel(l, "name.svg", 1200, one.Bytes))
}
