package platform

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// listed is a tree of files in memory.
type listed map[string]string

func (l listed) Named(base string) []string {
	var out []string
	for f := range l {
		if f == base || len(f) > len(base) && f[len(f)-len(base)-1:] == "/"+base {
			out = append(out, f)
		}
	}
	return out
}
func (l listed) Under(string) []string            { return nil }
func (l listed) Read(name string) ([]byte, error) { return []byte(l[name]), nil }
func (l listed) Glance(name string, _ int64) ([]byte, bool) {
	text, ok := l[name]
	return []byte(text), ok
}

func (listed) Reached(string) []string { return nil }
func (listed) Claim(string) Claim      { return Unclaimed }

func TestIgnored(t *testing.T) {
	g := NewIgnored(listed{".gitignore": "# fonts\n*.otf\n/build/\nfonts/**/old\n!keep.otf\nassets/*.ttf\nweird[\nd?g[0-9].ttf\ntrail  \r\n", "app/.gitignore": "!*.otf\nlocal/\n"})
	for file, want := range map[string]bool{
		"a.otf": true, "x/a.otf": true, "keep.otf": false, "app/a.otf": false, "build/a.ttf": true, "x/build/a.ttf": false,
		"fonts/a/b/old": true, "fonts/old": true, "fonts/older": false, "assets/a.ttf": true, "assets/b/a.ttf": false, "x/assets/a.ttf": false,
		"app/local/a.ttf": true, "local/a.ttf": false, "dog1.ttf": true, "dogs.ttf": false, "trail": true, "trail/a.ttf": true,
	} {
		require.Equal(t, want, g.Has(file), file)
	}
}

func FuzzIgnoring(f *testing.F) {
	f.Add("fonts/**/[!a-z]?*.ttf\\ ", "fonts/x.ttf")
	f.Fuzz(func(_ *testing.T, line, file string) {
		if p, ok := ignoringOf(line); ok {
			MatchPath(p.pattern, strings.Split(file, "/"), matchPart)
		}
	})
}

// The work of matching is bounded by the product of both lengths, however many ** a pattern has.
func TestMatchPath(t *testing.T) {
	for pattern, want := range map[string]bool{"**/c": true, "a/**/c": true, "a/b/c/**": true, "**": true, "a/**/b/**/c": true, "**/b": false, "a/*": false, "*/[a-c]/?": true, "a/**/d": false, "**/[!c]": false} {
		require.Equal(t, want, MatchPath(strings.Split(pattern, "/"), strings.Split("a/b/c", "/"), matchPart), pattern)
	}
	calls := 0
	pattern, name := strings.Split(strings.Repeat("**/a*/", 30)+"z", "/"), strings.Split(strings.Repeat("aa/", 60)+"y", "/")
	require.False(t, MatchPath(pattern, name, func(p, s string) bool { calls++; return matchPart(p, s) }))
	require.LessOrEqual(t, calls, len(pattern)*len(name))
}

// A folder whose name begins with a point keeps it.
func TestFolders(t *testing.T) {
	for shown, plain := range map[string]string{".": "", "app": "app", ".hidden/app": ".hidden/app"} {
		require.Equal(t, plain, Plain(shown))
		require.Equal(t, shown, Shown(plain))
	}
	for rel, others := range map[string]bool{"external/demo/x.css": true, "third_party/x/y.c": true, "src/Vendor/x.js": true, "externally/x.css": false, "src/vendor.js": false} {
		require.Equal(t, others, IsOthers(rel), rel)
	}
	for rel, test := range map[string]bool{"testsuite/css/x.css": true, "src/test/resources/x.ttf": true, "fixtures/x.html": true, "latest/x.css": false} {
		require.Equal(t, test, IsTest(rel), rel)
	}
	for app, not := range map[string]bool{"SpeedTest": false, "ios/HitTest.xcodeproj": false, "fixtures": false, "latest/app": false, ".": false, "test": true, "tests/Board": true, "third_party/demo": true} {
		require.Equal(t, not, NotOwn(app), app)
	}
}
