package notary_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/audit"
	"notaria/internal/intake"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/skerry"
)

func TestAPlatformIsAPackageAndALine(t *testing.T) {
	ctx, root := context.Background(), filepath.Join(t.TempDir(), "skerry")
	require.NoError(t, skerry.Place(root))
	write := func(name, text string) {
		require.NoError(t, os.WriteFile(filepath.Join(root, name), []byte(text), 0o644))
	}
	require.NoError(t, os.Mkdir(filepath.Join(root, "buoy"), 0o755))
	const manifest, code = "buoy {\n    light()\n}\n", "class App {\n    String s = \"Buoy.face(\\\"No\\\")\"; // Buoy.face(\"No\")\n    Face f = Buoy.face(\"SkerrySans-Blod\");\n}\n"
	write("buoy/buoy.gradle", manifest)
	write("buoy/App.java", code)
	haul, err := intake.Gather(ctx, []string{filepath.Join(root, skerry.ArchiveName)}, intake.Options{Digest: true})
	require.NoError(t, err)
	var last *notary.Project
	open := func() *notary.Project {
		if last != nil {
			last.Close()
		}
		p, err := notary.Open(ctx, root, []platform.Platform{buoy{}}, notary.Opening{})
		require.NoError(t, err)
		last = p
		return p
	}
	defer func() { last.Close() }()
	e, err := open().Enrol(ctx, haul, notary.Choice{Styles: []string{"regular", "bold"}})
	require.NoError(t, err)
	require.NoError(t, last.Apply(ctx, e.Set))
	for run := range 2 {
		p := open()
		plan, err := p.Plan(ctx, []platform.Platform{buoy{}})
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
	require.Equal(t, "buoy {\n    light()\n    type(\"type.ttc\")\n}\n", read("buoy/buoy.gradle"))
	require.Contains(t, read("buoy/Type.java"), fmt.Sprintf("int bytes = %d, widthOfA = 6", len(read("buoy/type.ttc"))))
	p := open()
	plan, err := p.Plan(ctx, []platform.Platform{buoy{}})
	require.NoError(t, err)
	found, err := audit.Check(ctx, p, plan)
	require.NoError(t, err)
	require.Len(t, found, 1)
	require.Equal(t, audit.UnknownName+" buoy/App.java 3:25-3:40", fmt.Sprintf("%s %s %d:%d-%d:%d", found[0].Rule, found[0].File, found[0].Line, found[0].Column, found[0].EndLine, found[0].EndColumn))
	mend := found[0].Edits[0]
	require.Equal(t, strings.Replace(code, "Blod", "Bold", 1), code[:mend.From]+mend.Text+code[mend.To:])
	s, err := open().Strike(ctx, []string{"Skerry Sans"}, notary.StrikeOptions{WithRoles: true})
	require.NoError(t, err)
	require.NoError(t, last.Apply(ctx, s.Set))
	require.Equal(t, manifest, read("buoy/buoy.gradle"))
	require.NoFileExists(t, filepath.Join(root, "buoy/type.ttc"))
}
