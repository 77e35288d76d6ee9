package xcode

import (
	"io/fs"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/edit/pbx"
)

// A value stands in the target, its file, the project, the project's file, in this order.
func TestSettings(t *testing.T) {
	s := &Settings{values: map[string]string{"TARGET_NAME": "Quay", "SRCROOT": ".", "CONFIGURATION": "Debug"}, only: map[string]string{}}
	s.Set("PRODUCT_NAME", "$(TARGET_NAME) Ferries")
	s.Set("PLISTS", "$(SRCROOT)/../Plists")
	s.Set("INFOPLIST_FILE", "${PLISTS}/$(PRODUCT_NAME:rfc1034identifier)-$(CONFIGURATION:lower).plist")
	require.Equal(t, "./../Plists/Quay-Ferries-debug.plist", s.Get("INFOPLIST_FILE"))
	s.Set("INFOPLIST_FILE[sdk=macosx*]", "Mac/Info.plist")
	require.Equal(t, []string{"./../Plists/Quay-Ferries-debug.plist", "Mac/Info.plist"}, s.All("INFOPLIST_FILE"))
	s.Set("X", "a")
	s.Set("X", "$(inherited) b")
	require.Equal(t, "a b", s.Get("X"))
	s.Set("LOOP", "$(LOOP2)$(LOOP2)")
	s.Set("LOOP2", "$(LOOP)$(LOOP)$(NOT_KNOWN:default=z)")
	require.Less(t, len(s.Get("LOOP")), 64<<10, "an end")
	require.Equal(t, "$(NOT_KNOWN)", s.whole("$(NOT_KNOWN)"))
}

func FuzzSettings(f *testing.F) {
	b, err := os.ReadFile("../../../edit/testdata/folders.pbxproj")
	require.NoError(f, err)
	f.Add("#include \"a\"\nINFOPLIST_FILE = $(A)\nA[sdk=*] = ${B:lower}\n", "$(X:dir:file)")
	f.Fuzz(func(t *testing.T, config, value string) {
		read := func(string) ([]byte, error) { return []byte(config), nil }
		s := &Settings{values: map[string]string{}, only: map[string]string{}}
		s.file("a", read, 0)
		s.Set("X", value)
		require.LessOrEqual(t, len(s.Get("X")), settingSize*settingSteps)
		s.All("INFOPLIST_FILE")
	})
	p, err := pbx.Parse(edit.Document{File: "x", Text: []byte(strings.Replace(string(b), "EXCEPTIONS", "", 1))})
	require.NoError(f, err)
	require.Len(f, Targets(p, func(string) ([]byte, error) { return nil, fs.ErrNotExist }), 2)
}
