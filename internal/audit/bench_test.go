//go:build unix

package audit_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/audit"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
	"notaria/internal/skerry/letters"
)

// BenchmarkCheck checks a project of 5,000 sources and 100 faces that Notaria never touched.
func BenchmarkCheck(b *testing.B) {
	root := b.TempDir()
	b.Setenv("XDG_STATE_HOME", b.TempDir())
	write := func(name, text string) {
		file := filepath.Join(root, name)
		require.NoError(b, os.MkdirAll(filepath.Dir(file), 0o755))
		require.NoError(b, os.WriteFile(file, []byte(text), 0o644))
	}
	font, err := letters.Font(letters.Styles[1])
	require.NoError(b, err)
	wide := func(s string) string { return "\x00" + strings.Join(strings.Split(s, ""), "\x00") } // UTF-16
	var pubspec, method strings.Builder
	pubspec.WriteString("name: big\ndependencies:\n  flutter: {sdk: flutter}\nflutter:\n  fonts:\n")
	for i := range 100 {
		name := fmt.Sprintf("Ske%03d", i)
		write(fmt.Sprintf("fonts/%s.ttf", name), strings.ReplaceAll(string(font), wide("Skerry"), wide(name)))
		fmt.Fprintf(&pubspec, "    - family: %s Sans\n      fonts:\n        - asset: fonts/%s.ttf\n", name, name)
	}
	write("pubspec.yaml", pubspec.String())
	for k := range 12 {
		fmt.Fprintf(&method, "  /// Comment %d\n  void method%d(int a, String b) {\n    final x = 'text %d of a file';\n    if (a > %d) { print('$x $b'); }\n  }\n", k, k, k, k)
	}
	write("lib/main.dart", "void main() {}\n")
	for i := range 5000 {
		write(fmt.Sprintf("lib/f%d/w%d.dart", i%50, i), fmt.Sprintf("class W%d extends StatelessWidget {\n%s  Widget build(BuildContext c) => Text('x', style: TextStyle(fontFamily: 'Ske%03d Sans'));\n}\n", i, method.String(), i%100))
	}
	for b.Loop() {
		p, err := notary.Look(root, all.Platforms)
		require.NoError(b, err)
		plan, err := p.Plan(context.Background(), all.Platforms)
		require.NoError(b, err)
		found, err := audit.Check(context.Background(), p, plan)
		require.NoError(b, err)
		require.Empty(b, found)
		p.Close()
	}
}
