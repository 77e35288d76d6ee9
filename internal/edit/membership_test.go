package edit_test

import (
	_ "embed"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/edit/pbx"
)

// folders is a project of two targets, of which the first takes in a folder.
//
//go:embed testdata/folders.pbxproj
var folders string

func memberships(files ...string) []Entry {
	var out []Entry
	for _, f := range files {
		out = append(out, Entry{File: projectFile, Syntax: SyntaxProject, Place: edit.Place{Kind: pbx.KindMembership, Name: "Tides"}, Value: f})
	}
	return out
}

func TestMembershipShapes(t *testing.T) {
	set := "\n/* Begin PBXFileSystemSynchronizedBuildFileExceptionSet section */\n\t\tA0000000000000000000000F /* x */ = {\n\t\t\tisa = PBXFileSystemSynchronizedBuildFileExceptionSet;\n\t\t\tmembershipExceptions = (\n\t\t\t\tTheirs.swift,\n\t\t\t);\n\t\t\ttarget = A0000000000000000000000TARGET;\n\t\t};\n/* End PBXFileSystemSynchronizedBuildFileExceptionSet section */\n\n/* Begin PBXFileSystemSynchronizedRootGroup"
	named := "\n\t\t\texceptions = (\n\t\t\t\tA0000000000000000000000F /* x */,\n\t\t\t);"
	plain := strings.Replace(folders, "EXCEPTIONS", "", 1)
	with := func(target string) string {
		s := strings.Replace(folders, "EXCEPTIONS", named, 1)
		return strings.Replace(s, "\n/* Begin PBXFileSystemSynchronizedRootGroup", strings.Replace(set, "TARGET", target, 1), 1)
	}
	for name, doc := range map[string]string{
		"none yet":               plain,
		"of this target":         with("D /* Tides */"),
		"of another target":      with("C /* Harbour */"),
		"an empty list of lists": strings.Replace(folders, "EXCEPTIONS", "\n\t\t\texceptions = (\n\t\t\t);", 1),
		"CRLF":                   strings.ReplaceAll(plain, "\n", "\r\n"),
	} {
		t.Run(name, func(t *testing.T) {
			entries := memberships("Harbour/Type/AppType.swift", "Harbour/Type/A B.ttf")
			thereAndBack(t, SyntaxProject, []byte(doc), entries, func(out []byte) {
				p, err := parseProject(out)
				require.NoError(t, err, "%s", out)
				for _, e := range entries {
					require.Empty(t, p.Missing(e), "%s", out)
				}
				require.NotEmpty(t, p.Missing(memberships("Harbour/Other.swift")[0]))
				require.NotEmpty(t, p.Missing(Entry{Place: edit.Place{Kind: pbx.KindMembership, Name: "Harbour"}, Value: "Harbour/Type/A B.ttf"}))
			})
		})
	}
}

func TestMembershipOutsideAnyFolder(t *testing.T) {
	_, _, err := Reconcile(projectFile, SyntaxProject, []byte(strings.Replace(folders, "EXCEPTIONS", "", 1)), memberships("Else/A.ttf"), nil)
	require.ErrorContains(t, err, "a synchronized folder that holds Else/A.ttf")
}
