package notary_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/audit"
	"notaria/internal/choice"
	"notaria/internal/intake"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
	"notaria/internal/skerry"
	"notaria/tests/mast"
)

// A platform of a new shape is a package and a line: its manifests' form, its files and code, its flaws, the lines of its
// logs and the folders that its build makes are known to nothing else.
func TestAPlatformIsAPackageAndALine(t *testing.T) {
	platforms := append(slices.Clone(all.Platforms), mast.Platform{}) // the line
	ctx, root := context.Background(), filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(root, "deckgame"))
	write := func(name, text string) {
		require.NoError(t, os.WriteFile(filepath.Join(root, name), []byte(text), 0o644))
	}
	require.NoError(t, os.Mkdir(filepath.Join(root, "mast"), 0o755))
	const manifest, code = "~ keel\n", "class App {\n    String s = \"Mast.face(\\\"No\\\")\"; // Mast.face(\"No\")\n    Face f = Mast.face(\"SkerrySans-Blod\");\n}\n"
	write("mast/mast.rig", manifest)
	write("mast/App.java", code)
	haul, err := intake.Gather(ctx, []string{filepath.Join(root, skerry.ArchiveName)}, intake.Options{Digest: true})
	require.NoError(t, err)
	var last *notary.Project
	open := func() *notary.Project {
		if last != nil {
			last.Close()
		}
		p, err := notary.Open(ctx, root, platforms, notary.Opening{})
		require.NoError(t, err)
		last = p
		return p
	}
	defer func() { last.Close() }()
	e, err := open().Enrol(ctx, haul, choice.Faces{Styles: []string{"regular", "bold"}})
	require.NoError(t, err)
	require.NoError(t, last.Apply(ctx, e.Set))
	for run := range 2 {
		p := open()
		plan, err := p.Plan(ctx, platforms)
		require.NoError(t, err)
		set, err := p.Changes(ctx, plan, notary.Options{})
		require.NoError(t, err)
		require.Equal(t, run == 1, set.Empty())
		require.NoError(t, p.Apply(ctx, set))
	}
	read := func(name string) string {
		b, err := os.ReadFile(filepath.Join(root, name))
		require.NoError(t, err)
		return string(b)
	}
	require.Equal(t, "~ keel\n~ hoist\n~ type.ttc\n", read("mast/mast.rig"))
	require.Contains(t, read("mast/Type.java"), fmt.Sprintf("int bytes = %d, widthOfA = 6", len(read("mast/type.ttc"))))
	loose, err := os.ReadFile(filepath.Join(root, "type/SkerrySans-Bold.ttf"))
	require.NoError(t, err)
	require.NoError(t, os.Mkdir(filepath.Join(root, "mast/hold"), 0o755))
	write("mast/hold/App.java", "class App { Face f = Mast.face(\"Nothing\"); }\n") // what the build makes is not looked at
	write("mast/loose.ttf", string(loose))
	require.Equal(t, "SkerrySans-Bolt", audit.ReadLog([]byte("12:00 no sail SkerrySans-Bolt\n"), platforms)[0].Asked)
	p := open()
	plan, err := p.Plan(ctx, platforms)
	require.NoError(t, err)
	found, err := audit.Check(ctx, p, plan)
	require.NoError(t, err)
	found = slices.DeleteFunc(found, func(f audit.Finding) bool { return f.Target != "mast" })
	require.Len(t, found, 2)
	require.Equal(t, audit.FileNoEntry+" mast/loose.ttf", found[1].Rule+" "+found[1].File)
	require.Equal(t, audit.UnknownName+" mast/App.java 3:25-3:40", fmt.Sprintf("%s %s %d:%d-%d:%d", found[0].Rule, found[0].File, found[0].Line, found[0].Column, found[0].EndLine, found[0].EndColumn))
	mend := found[0].Edits[0]
	require.Equal(t, strings.Replace(code, "Blod", "Bold", 1), code[:mend.From]+mend.Text+code[mend.To:])
	s, err := open().Strike(ctx, []string{"Skerry Sans"}, notary.StrikeOptions{WithRoles: true})
	require.NoError(t, err)
	require.NoError(t, last.Apply(ctx, s.Set))
	require.Equal(t, manifest, read("mast/mast.rig"))
	require.NoFileExists(t, filepath.Join(root, "mast/type.ttc"))
}
