package tests

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/rogpeppe/go-internal/txtar"
	"github.com/stretchr/testify/require"

	"notaria/internal/cli"
	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
	"notaria/tests/inuse"
)

// The corpus is made of small projects, each file of corpus/ one platform's. Its head says what
// there is:
//
//	project NAME [enrol STYLE,STYLE]   the files below NAME/; with enrol they get notaria.toml and are registered
//	broken CASE of PROJECT: RULE FILE[:LINE], RULE FILE[:LINE]
//	healthy CASE of PROJECT            nothing is to be found
//	  change FILE: OLD => NEW          the one place that holds OLD; \n, \t are as in Go
//	  write FILE: TEXT                 a file, or the end of one
//	  put FILE: SECTION                the text of a section, which no project has
//	  copy FILE as FILE, drop FILE, move FILE to FILE
//	  mended                           check --mend brings the project back as it was
//	  mended FILE: OLD => NEW          ... or it makes this change alone; may stand several times
//	  mended in FILE                   ... or it changes this file alone, and the project is whole then
//	  mended move FILE to FILE         ... or moves a file
//
// Where a case says nothing of mending, check --mend changes nothing. A file that holds nothing but
// @NAME is a face of the sample.
type corpusCase struct {
	name, project string
	want          []string // RULE FILE[:LINE]
	steps         []string
	mended        bool
	mends         []string
}

type corpus struct {
	platform string
	files    map[string][]byte // project/path
	enrol    map[string]string // by project: styles, "" for one without Notaria
	cases    []corpusCase
}

func readCorpus(t *testing.T, file string) *corpus {
	raw, err := os.ReadFile(file)
	require.NoError(t, err)
	a := txtar.Parse(raw)
	c := &corpus{platform: strings.TrimSuffix(filepath.Base(file), ".txtar"), files: map[string][]byte{}, enrol: map[string]string{}}
	for _, f := range a.Files {
		c.files[f.Name] = f.Data
	}
	for n, line := range strings.Split(string(a.Comment), "\n") {
		words := strings.Fields(line)
		switch {
		case len(words) == 0 || strings.HasPrefix(line, "#"):
		case strings.HasPrefix(line, "  "):
			require.NotEmpty(t, c.cases, "%s:%d", file, n+1)
			k := &c.cases[len(c.cases)-1]
			switch step := strings.TrimSpace(line); {
			case step == "mended":
				k.mended = true
			case words[0] == "mended":
				k.mends = append(k.mends, strings.TrimPrefix(step, "mended "))
			default:
				k.steps = append(k.steps, step)
			}
		case words[0] == "project":
			c.enrol[words[1]] = ""
			if len(words) > 2 {
				c.enrol[words[1]] = words[3]
			}
		case words[0] == "broken":
			head, want, ok := strings.Cut(line, ": ")
			h := strings.Fields(head)
			require.True(t, ok && len(h) == 4, "%s:%d", file, n+1)
			c.cases = append(c.cases, corpusCase{name: h[1], project: h[3], want: strings.Split(want, ", ")})
		case words[0] == "healthy":
			require.Len(t, words, 4, "%s:%d", file, n+1)
			c.cases = append(c.cases, corpusCase{name: words[1], project: words[3]})
		default:
			require.Fail(t, "unknown line", "%s:%d: %s", file, n+1, line)
		}
	}
	return c
}

// corpusFonts are the faces that files name by @NAME.
var corpusFonts = sync.OnceValue(func() map[string][]byte {
	out := map[string][]byte{}
	for _, st := range letters.Styles {
		b, err := letters.Font(st)
		if err != nil {
			panic(err)
		}
		out["SkerrySans-"+st.Name] = b
	}
	for name, draw := range map[string]func() ([]byte, error){"BeaconMono-Regular": letters.Beacon, "LanternDigits-Regular": letters.Lantern} {
		b, err := draw()
		if err != nil {
			panic(err)
		}
		out[name] = b
	}
	for name, b := range oddFonts() {
		out[name] = b
	}
	return out
})

// oddFonts are faces that the sample does not have.
func oddFonts() map[string][]byte {
	win := func(id uint16, v string) sfnt.NameRecord {
		return sfnt.NameRecord{ID: id, Platform: 3, Encoding: 1, Language: 0x409, Value: v}
	}
	build := func(change func(tables map[string][]byte), names ...sfnt.NameRecord) []byte {
		b, err := letters.Font(letters.Styles[1])
		if err != nil {
			panic(err)
		}
		file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
		if err != nil {
			panic(err)
		}
		tables, err := file.Font(0).Tables()
		if err != nil {
			panic(err)
		}
		change(tables)
		if tables["name"], err = sfnt.Names(names).Bytes(); err != nil {
			panic(err)
		}
		if b, err = sfnt.Build(tables); err != nil {
			panic(err)
		}
		return b
	}
	plain := func(map[string][]byte) {}
	return map[string][]byte{
		"CapstanSlab-Regular": build(plain, win(1, "Capstan Slab"), win(2, "Regular"), win(4, "Capstan Slab Regular"), win(6, "CapstanSlab-Regular")),
		"SkerrySans-Variable": build(func(tables map[string][]byte) {
			tables["fvar"] = []byte("\x00\x01\x00\x00\x00\x10\x00\x02\x00\x01\x00\x14\x00\x00\x00\x08wght\x00\x64\x00\x00\x01\x90\x00\x00\x03\x84\x00\x00\x00\x00\x01\x00")
		}, win(1, "Skerry Sans"), win(2, "Regular"), win(4, "Skerry Sans Variable"), win(6, "SkerrySansVariable-Regular"), win(256, "Weight")),
		"Sealed-Regular": build(func(tables map[string][]byte) { tables["OS/2"][8], tables["OS/2"][9] = 0, 2 }, // fsType: restricted
			win(1, "Sealed"), win(2, "Regular"), win(4, "Sealed Regular"), win(6, "Sealed-Regular")),
	}
}

// notariaIn runs the program on a project.
func notariaIn(dir string, args ...string) (code int, out, errs string) {
	var o, e bytes.Buffer
	code = cli.Execute(append([]string{"--project", dir}, args...), strings.NewReader(""), &o, &e)
	return code, o.String(), e.String()
}

// lay writes a project's files.
func (c *corpus) lay(t *testing.T, dir, project string) {
	for name, text := range c.files {
		at, ok := strings.CutPrefix(name, project+"/")
		if !ok {
			continue
		}
		if face, ok := strings.CutPrefix(strings.TrimSpace(string(text)), "@"); ok && !strings.ContainsAny(face, " \n") {
			font, known := corpusFonts()[face]
			require.True(t, known, "%s: no face %s", name, face)
			text = font
		}
		file := filepath.Join(dir, filepath.FromSlash(at))
		require.NoError(t, os.MkdirAll(filepath.Dir(file), 0o755))
		require.NoError(t, os.WriteFile(file, text, 0o644))
	}
	styles := c.enrol[project]
	if styles == "" {
		return
	}
	fonts := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(fonts, "Licence.txt"), []byte("You may use, change and share these fonts for any purpose, as long as this text travels with them.\nCopyright: Skerry Ferries.\n"), 0o644))
	for _, s := range strings.Split(styles, ",") {
		require.NoError(t, os.WriteFile(filepath.Join(fonts, s+".ttf"), corpusFonts()[s], 0o644))
	}
	for _, args := range [][]string{{"enrol", fonts}, {"register"}} {
		code, out, errs := notariaIn(dir, args...)
		require.Zero(t, code, "%s %v: %s%s", project, args, out, errs)
	}
	_, err := inuse.Show(dir)
	require.NoError(t, err)
}

// readTree reads all files of a project.
func readFiles(t *testing.T, dir string) map[string]string {
	out := map[string]string{}
	require.NoError(t, filepath.WalkDir(dir, func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		b, err := os.ReadFile(p)
		rel, _ := filepath.Rel(dir, p)
		out[filepath.ToSlash(rel)] = string(b)
		return err
	}))
	return out
}

var written = strings.NewReplacer(`\n`, "\n", `\t`, "\t")

func changed(t *testing.T, files map[string]string, step string) {
	file, change, ok := strings.Cut(step, ": ")
	old, text, both := strings.Cut(change, "=>")
	require.True(t, ok && both, step)
	old, text = written.Replace(strings.TrimSpace(old)), written.Replace(strings.TrimSpace(text))
	require.Equal(t, 1, strings.Count(files[file], old), "%s: in %s:\n%s", step, file, files[file])
	files[file] = strings.Replace(files[file], old, text, 1)
}

// play carries out a case's step.
func (c *corpus) play(t *testing.T, files map[string]string, step string) {
	verb, rest, _ := strings.Cut(step, " ")
	switch verb {
	case "change":
		changed(t, files, rest)
	case "write":
		file, text, ok := strings.Cut(rest, ": ")
		require.True(t, ok, step)
		if face, ok := strings.CutPrefix(text, "@"); ok && corpusFonts()[face] != nil {
			files[file] = string(corpusFonts()[face])
			return
		}
		files[file] += written.Replace(text) + "\n"
	case "put":
		file, section, ok := strings.Cut(rest, ": ")
		require.True(t, ok && c.files[section] != nil, step)
		files[file] = string(c.files[section])
	case "copy", "move":
		from, to, ok := strings.Cut(rest, map[string]string{"copy": " as ", "move": " to "}[verb])
		text, there := files[from]
		require.True(t, ok && there, step)
		files[to] = text
		if verb == "move" {
			delete(files, from)
		}
	case "drop":
		require.Contains(t, files, rest, step)
		delete(files, rest)
	default:
		require.Fail(t, "unknown step", step)
	}
}

func writeFiles(t *testing.T, dir string, files map[string]string) {
	for name, text := range files {
		file := filepath.Join(dir, filepath.FromSlash(name))
		require.NoError(t, os.MkdirAll(filepath.Dir(file), 0o755))
		require.NoError(t, os.WriteFile(file, []byte(text), 0o644))
	}
}

type corpusFinding struct {
	Rule, Severity, File, Message, Cause, Cure string
	Line                                       int
}

func (f corpusFinding) String() string {
	return fmt.Sprintf("%s %s:%d  %s (%s; %s)", f.Rule, f.File, f.Line, f.Message, f.Cause, f.Cure)
}

// meets says whether a finding is one that is wanted.
func (f corpusFinding) meets(want string) bool {
	rule, at, _ := strings.Cut(want, " ")
	return f.Rule == rule && (at == f.File || at == fmt.Sprintf("%s:%d", f.File, f.Line))
}

func found(t *testing.T, dir string) []corpusFinding {
	_, out, errs := notariaIn(dir, "check", "--json")
	var doc struct{ Findings []corpusFinding }
	require.NoError(t, json.Unmarshal([]byte(out), &doc), "%s%s", out, errs)
	return doc.Findings
}

// tally counts what check found: right, wrong, and not at all.
type tally struct{ projects, broken, right, wrong, missed int }

func (a tally) line(name string) string {
	share := func(n, of int) float64 {
		if of == 0 {
			return 1
		}
		return float64(n) / float64(of)
	}
	return fmt.Sprintf("%-14s %4d projects, %3d broken: precision %.3f, recall %.3f", name, a.projects, a.broken, share(a.right, a.right+a.wrong), share(a.right, a.right+a.missed))
}

// TestCorpus holds check and check --mend against projects that are broken in known ways, and against
// healthy ones.
func TestCorpus(t *testing.T) {
	t.Setenv("XDG_STATE_HOME", t.TempDir())
	only := os.Getenv("NOTARIA_CORPUS") // a platform, while one works on it
	if only == "" {
		only = "*"
	}
	files, err := filepath.Glob("corpus/" + only + ".txtar")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	sums := make([]tally, len(files))
	t.Run("platforms", func(t *testing.T) {
		for i, file := range files {
			t.Run(strings.TrimSuffix(path.Base(file), ".txtar"), func(t *testing.T) {
				t.Parallel()
				sums[i] = readCorpus(t, file).run(t)
			})
		}
	})
	var all tally
	for i, s := range sums {
		fmt.Println(s.line(strings.TrimSuffix(filepath.Base(files[i]), ".txtar")))
		all = tally{all.projects + s.projects, all.broken + s.broken, all.right + s.right, all.wrong + s.wrong, all.missed + s.missed}
	}
	fmt.Println(all.line("together"))
}

func (c *corpus) run(t *testing.T) (sum tally) {
	whole := map[string]map[string]string{}
	for project := range c.enrol {
		dir := t.TempDir()
		c.lay(t, dir, project)
		whole[project] = readFiles(t, dir)
		for _, f := range found(t, dir) {
			t.Errorf("%s as it is: %v", project, f)
		}
	}
	for _, k := range c.cases {
		t.Run(k.name, func(t *testing.T) {
			base, ok := whole[k.project]
			require.True(t, ok, "no project %s", k.project)
			files := map[string]string{}
			for name, text := range base {
				files[name] = text
			}
			for _, s := range k.steps {
				c.play(t, files, s)
			}
			dir := t.TempDir()
			writeFiles(t, dir, files)
			sum.projects++
			if len(k.want) > 0 {
				sum.broken++
			}
			all := found(t, dir)
			for _, want := range k.want {
				if slices.ContainsFunc(all, func(f corpusFinding) bool { return f.meets(want) }) {
					sum.right++
					continue
				}
				sum.missed++
				t.Errorf("not found: %s", want)
			}
			for _, f := range all {
				if !slices.ContainsFunc(k.want, f.meets) {
					sum.wrong++
					t.Errorf("wrong: %v", f)
				}
			}
			if len(k.want) > 0 && os.Getenv("NOTARIA_MEND") != "no" {
				c.mend(t, k, dir, base, files)
			}
		})
	}
	return sum
}

// mend holds what check --mend makes of a case against what it should.
func (c *corpus) mend(t *testing.T, k corpusCase, dir string, base, broken map[string]string) {
	code, out, errs := notariaIn(dir, "check", "--mend")
	if code > 1 {
		t.Errorf("check --mend: %s%s", out, errs)
	}
	want := broken
	switch {
	case k.mended:
		want = base
	default:
		for _, s := range k.mends {
			if file, ok := strings.CutPrefix(s, "in "); ok {
				b, err := os.ReadFile(filepath.Join(dir, filepath.FromSlash(file)))
				require.NoError(t, err)
				require.NotEqual(t, broken[file], string(b), "mending left %s as it was", file)
				want[file] = string(b)
				continue
			}
			if verb, _, _ := strings.Cut(s, " "); verb == "move" || verb == "drop" {
				c.play(t, want, s)
			} else {
				changed(t, want, s)
			}
		}
	}
	got := readFiles(t, dir)
	for name, text := range want {
		if _, ok := got[name]; !ok {
			t.Errorf("mending lost %s", name)
		} else if got[name] != text {
			t.Errorf("mending left %s with %s", name, firstDifference(got[name], text))
		}
	}
	for name := range got {
		if _, ok := want[name]; !ok {
			t.Errorf("mending made %s", name)
		}
	}
	if k.mended || len(k.mends) > 0 {
		for _, f := range found(t, dir) {
			t.Errorf("after mending: %v", f)
		}
	}
}

// firstDifference shows the first line that differs.
func firstDifference(got, want string) string {
	g, w := strings.Split(got, "\n"), strings.Split(want, "\n")
	for i := range max(len(g), len(w)) {
		if i >= len(g) || i >= len(w) || g[i] != w[i] {
			line := func(l []string) string {
				if i < len(l) {
					return fmt.Sprintf("%.160q", l[i])
				}
				return "nothing"
			}
			return fmt.Sprintf("%s and not %s in line %d", line(g), line(w), i+1)
		}
	}
	return "nothing else"
}
