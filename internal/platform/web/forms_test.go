package web

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/platform"
)

// A family's name is anybody's text: in the module it stays within its string, and within its comment.
func TestModuleOfHostileNames(t *testing.T) {
	for _, name := range []string{"a */ alert(1) /*", "a'b\"c`d${e}", "a\\", "a\nb\u2028c", "</script>", "{{.Roles}}"} {
		f := face.Face{Family: name, Style: "Regular", Weight: 400, Slant: face.Upright, PostScript: name}
		data := code{Typed: true, Roles: []line{newRole(platform.Role{Name: "copy-new", Face: platform.Face{Face: f}, Size: 17, Scale: true}, "")}}
		text, err := platform.Render(templates, "app-type.module.tmpl", data)
		require.NoError(t, err)
		out := string(text)
		code := regexp.MustCompile(`(?m)'(?:[^'\\\n]|\\.)*'(,|\]|\[| )`).ReplaceAllString(out, "_$1")
		require.Equal(t, 1+3+1+1, strings.Count(code, "*/"), out) // the linter's, three objects, the role, the type
		require.Equal(t, 4, strings.Count(out, "export "), out)
		for _, l := range strings.Split(out, "\n") {
			if l = strings.TrimSpace(l); strings.HasPrefix(l, "fontFamily:") {
				require.Regexp(t, `^fontFamily: '(?:[^'\\\n]|\\.)*',$`, l)
			}
		}
		theme, err := platform.Render(templates, themeFile+".tmpl", data)
		require.NoError(t, err)
		require.NotContains(t, string(theme), "alert")
	}
}
