package tests

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/cli"
	"notaria/internal/platform"
	"notaria/internal/registry"
	"notaria/internal/skerry"
)

// A mutation breaks a registered app in one way. It says which file it broke, "" where it does not apply, and what is
// left lying about afterwards.
type mutation struct {
	name  string
	apply func(m *mutant) (broken string, stray string)
}

// A mutant is an app whose files and entries are known.
type mutant struct {
	t                *testing.T
	dir              string
	fonts, generated []string
	entries          []registry.Entry
}

func (m *mutant) full(name string) string { return filepath.Join(m.dir, filepath.FromSlash(name)) }

func (m *mutant) change(name string, change func([]byte) []byte) string {
	b, err := os.ReadFile(m.full(name))
	require.NoError(m.t, err)
	now := change(bytes.Clone(b))
	if bytes.Equal(b, now) {
		return ""
	}
	require.NoError(m.t, os.WriteFile(m.full(name), now, 0o644))
	return name
}

// line changes the first line of a manifest that holds an entry's value, or the name of the font that it is about.
func (m *mutant) line(change func(line string) string) string {
	for _, e := range m.entries {
		if e.Value == "" {
			continue
		}
		words := []string{filepath.Base(first(m.fonts))}
		word := strings.Trim(strings.TrimSpace(strings.Split(e.Value, "\n")[0]), `"',;`)
		if file := m.change(e.File, func(b []byte) []byte {
			lines := strings.SplitAfter(string(b), "\n")
			for i, l := range lines {
				if strings.Contains(l, word) || words[0] != "." && strings.Contains(l, words[0]) {
					lines[i] = change(l)
					break
				}
			}
			return []byte(strings.Join(lines, ""))
		}); file != "" {
			return file
		}
	}
	return ""
}

func first(list []string) string {
	if len(list) == 0 {
		return ""
	}
	return list[0]
}

var mutations = []mutation{
	{"a font is dropped", func(m *mutant) (string, string) {
		f := first(m.fonts)
		if f != "" {
			require.NoError(m.t, os.Remove(m.full(f)))
		}
		return f, ""
	}},
	{"generated code is dropped", func(m *mutant) (string, string) {
		f := first(m.generated)
		if f != "" {
			require.NoError(m.t, os.Remove(m.full(f)))
		}
		return f, ""
	}},
	{"a font has other capitals", func(m *mutant) (string, string) {
		f := first(m.fonts)
		to := filepath.ToSlash(filepath.Join(filepath.Dir(f), strings.ToUpper(filepath.Base(f))))
		if f == "" || to == f || strings.HasPrefix(f, "signs/") || strings.HasPrefix(f, "desk/") { // a package and Avalonia go by the folder
			return "", ""
		}
		require.NoError(m.t, os.Rename(m.full(f), m.full(to)))
		return f, to
	}},
	{"a font is moved", func(m *mutant) (string, string) {
		f := first(m.fonts)
		if f == "" {
			return "", ""
		}
		if strings.HasPrefix(f, "signs/") { // a package processes what is below its folder, wherever
			return "", ""
		}
		to := filepath.ToSlash(filepath.Join(filepath.Dir(f), "elsewhere", filepath.Base(f)))
		require.NoError(m.t, os.MkdirAll(filepath.Dir(m.full(to)), 0o755))
		require.NoError(m.t, os.Rename(m.full(f), m.full(to)))
		return f, filepath.ToSlash(filepath.Dir(to))
	}},
	{"generated code is edited", func(m *mutant) (string, string) {
		f := first(m.generated)
		if f == "" {
			return "", ""
		}
		return m.change(f, func(b []byte) []byte {
			return bytes.Replace(b, []byte("0"), []byte("1"), 1)
		}), ""
	}},
	{"a font is another one", func(m *mutant) (string, string) {
		if len(m.fonts) < 2 {
			return "", ""
		}
		other, err := os.ReadFile(m.full(m.fonts[1]))
		require.NoError(m.t, err)
		return m.change(m.fonts[0], func([]byte) []byte { return other }), ""
	}},
	{"a font is cut short", func(m *mutant) (string, string) {
		if len(m.fonts) == 0 {
			return "", ""
		}
		return m.change(m.fonts[0], func(b []byte) []byte { return b[:len(b)/2] }), ""
	}},
	{"an entry is taken out", func(m *mutant) (string, string) {
		return m.line(func(string) string { return "" }), ""
	}},
	{"an entry is mistyped", func(m *mutant) (string, string) {
		if len(m.entries) > 0 && strings.HasSuffix(m.entries[0].File, ".pbxproj") {
			return "", "" // Xcode writes names into comments, too
		}
		return m.line(func(l string) string {
			return strings.NewReplacer("Skerry", "Skery", "skerry_sans", "skery_sans", "apptype", "aptype", "AppType", "ApType", "app-type", "ap-type", "app_type", "ap_type").Replace(l)
		}), ""
	}},
}

// TestMutations breaks each app of the sample in each way: check finds it, and names the file or what should be in it;
// register brings every byte back.
func TestMutations(t *testing.T) {
	t.Setenv("XDG_STATE_HOME", t.TempDir())
	base := filepath.Join(t.TempDir(), "base")
	require.NoError(t, skerry.Place(base))
	run := func(dir string, args ...string) (int, string) {
		var out, alarm bytes.Buffer
		code := cli.Execute(append([]string{"--project", dir}, args...), strings.NewReader(""), &out, &alarm)
		return code, out.String() + alarm.String()
	}
	for _, args := range [][]string{{"enrol", filepath.Join(base, skerry.ArchiveName), "--styles", "regular,bold"}, {"register"}} {
		code, out := run(base, args...)
		require.Zero(t, code, out)
	}
	_, err := skerry.Use(base)
	require.NoError(t, err)
	code, out := run(base, "check")
	require.Zero(t, code, out)
	text, err := os.ReadFile(filepath.Join(base, registry.LedgerName))
	require.NoError(t, err)
	ledger, err := registry.ParseLedger(text)
	require.NoError(t, err)
	before, kept := snapshot(t, base), filepath.Join(t.TempDir(), "kept")
	require.NoError(t, os.CopyFS(kept, os.DirFS(base)))
	applied, back := 0, 0
	for i, owner := range ledger.Owners() {
		m := &mutant{t: t, dir: base}
		for _, f := range ledger.Files {
			if len(f.Owners) != 1 || f.Owners[0] != owner {
				continue
			}
			if platform.LooksLikeFont(f.Path) {
				m.fonts = append(m.fonts, f.Path)
			} else {
				m.generated = append(m.generated, f.Path)
			}
		}
		for _, e := range ledger.Entries {
			if slices.Contains(e.Owners, owner) {
				m.entries = append(m.entries, e)
			}
		}
		for k, x := range mutations {
			if (i+k)%times(5, 1) != 0 {
				continue
			}
			t.Run(fmt.Sprint(owner.Target, " ", owner.App, ": ", x.name), func(t *testing.T) {
				m.t = t
				mended := false
				defer func() {
					if !mended {
						_ = os.RemoveAll(base)
						_ = os.CopyFS(base, os.DirFS(kept))
					}
				}()
				broken, stray := x.apply(m)
				if broken == "" {
					mended = true
					return // it does not apply
				}
				applied++
				_, out := run(base, "check", "--json")
				var doc struct {
					Findings []struct{ File, Message, Rule, Cause string }
				}
				require.NoError(t, json.Unmarshal([]byte(out), &doc), out)
				require.NotEmpty(t, doc.Findings, "%s was not found", broken)
				named := slices.ContainsFunc(doc.Findings, func(f struct{ File, Message, Rule, Cause string }) bool {
					return f.File == broken || strings.Contains(strings.ToLower(f.File+f.Message+f.Cause), strings.ToLower(filepath.Base(broken)))
				})
				require.True(t, named, "%s: %v", broken, doc.Findings)
				if stray != "" {
					require.NoError(t, os.RemoveAll(m.full(stray)))
				}
				code, said := run(base, "register", "--overwrite")
				now := snapshot(t, base)
				if mended = code == 0 && maps.Equal(before, now); mended {
					back++
					return
				}
				for name, was := range before {
					if now[name] != was {
						said += "; differs: " + name
					}
				}
				t.Logf("register gives %d: ...%s", code, said[max(0, len(said)-300):])
			})
		}
	}
	t.Logf("%d mutations, %d mended to the same bytes", applied, back)
	require.Greater(t, applied, times(30, 200))
	require.Greater(t, back, applied*4/5)
}
