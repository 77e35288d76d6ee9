// Names compares what Notaria calls each face with what fontconfig, FreeType and
// Java call it. Where they differ, a named rule must explain the difference;
// anything else is printed, and the exit code is 1.
//
//	names FOLDER-WITH-THE-READERS FONTS...
package main

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"strconv"
	"strings"

	"notaria/internal/face"
	"notaria/internal/intake"
)

// A judgement is one comparison of one face.
type judgement struct {
	reader, what, ours, theirs string
}

// rules explain differences. Each names a reason that holds for that reader and
// tests for it on the face itself, never on its name.
var rules = []struct {
	name  string
	holds func(j judgement, f face.Face) bool
}{
	{"FreeType writes characters outside ASCII as question marks", func(j judgement, _ face.Face) bool {
		return j.reader == "FreeType" && question(j.ours) == j.theirs
	}},
	{"FreeType and Java keep white space around a name, which we take off and report", func(j judgement, _ face.Face) bool {
		return j.theirs != j.ours && strings.TrimSpace(j.theirs) == j.ours
	}},
	{"FreeType and fontconfig take the WWS names (ID 21, 22) before the typographic ones", func(j judgement, f face.Face) bool {
		return j.what == "family" && has(f, 21, j.theirs) || j.what == "style" && has(f, 22, j.theirs)
	}},
	{"fontconfig takes a style called italic for slanted though the font's flags say upright, which we report", func(j judgement, f face.Face) bool {
		low := strings.ToLower(f.Style)
		return j.reader == "fontconfig" && j.what == "slant" && j.theirs == "true" && (strings.Contains(low, "italic") || strings.Contains(low, "oblique"))
	}},
	{"FreeType takes the last English record where several are stored", func(j judgement, f face.Face) bool {
		return j.reader == "FreeType" && duplicated(f, idsOf(j.what), j.theirs)
	}},
	{"fontconfig describes a variable font by ranges, without style or PostScript name", func(j judgement, f face.Face) bool {
		return j.reader == "fontconfig" && f.Variable && (j.theirs == "" || j.what == "weight" || j.what == "slant")
	}},
}

func question(s string) string {
	return strings.Map(func(r rune) rune {
		if r < 0x20 || r > 0x7e {
			return '?'
		}
		return r
	}, s)
}

func idsOf(what string) []int {
	return map[string][]int{"family": {1, 16}, "style": {2, 17}, "postscript": {6}, "legacy family": {1}, "full": {4}}[what]
}

// has says whether the font stores a value under a name ID.
func has(f face.Face, id int, value string) bool {
	for _, n := range f.Names {
		if n.ID == id && (n.Value == value || question(n.Value) == value) {
			return true
		}
	}
	return false
}

// duplicated says whether a value is one of several English Windows records.
func duplicated(f face.Face, ids []int, value string) bool {
	for _, id := range ids {
		n, hit := 0, false
		for _, r := range f.Names {
			if r.ID == id && r.Platform == 3 && strings.HasPrefix(r.Language, "en") {
				n++
				hit = hit || r.Value == value || question(r.Value) == value
			}
		}
		if n > 1 && hit {
			return true
		}
	}
	return false
}

type key struct {
	file  string
	index int
}

// tally counts agreements and explained differences.
type tally struct {
	agree       map[string]int
	explained   map[string]int
	examples    map[string]string
	unexplained []string
}

func (t *tally) judge(j judgement, f face.Face) {
	if j.ours == j.theirs {
		t.agree[j.reader+" "+j.what]++
		return
	}
	for _, r := range rules {
		if r.holds(j, f) {
			t.explained[r.name]++
			if t.examples[r.name] == "" {
				t.examples[r.name] = fmt.Sprintf("%s: %s %q, ours %q", filepath.Base(f.File), j.what, j.theirs, j.ours)
			}
			return
		}
	}
	t.unexplained = append(t.unexplained, fmt.Sprintf("%s #%d: %s says %s %q, ours %q", filepath.Base(f.File), f.Index, j.reader, j.what, j.theirs, j.ours))
}

func main() {
	readers, roots := os.Args[1], os.Args[2:]
	haul, err := intake.Gather(context.Background(), roots, intake.Options{Options: face.Options{Coverage: true, Records: true}})
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(2)
	}
	faces := map[key]face.Face{}
	var files []string
	for _, f := range haul.Faces {
		k := key{f.File, f.Index}
		if f.Archive != "" {
			continue
		}
		faces[k] = f.Face
		if f.Index == 0 {
			files = append(files, f.File)
		}
	}
	sort.Strings(files)
	t := &tally{map[string]int{}, map[string]int{}, map[string]string{}, nil}
	t.freetype(readers, files, faces)
	t.fontconfig(files, faces)
	t.java(readers, files, faces)
	t.report(len(faces), haul.Problems)
}

func (t *tally) report(n int, problems []face.Problem) {
	fmt.Printf("%d faces\n", n)
	for _, k := range sorted(t.agree) {
		fmt.Printf("  agree      %6d  %s\n", t.agree[k], k)
	}
	for _, k := range sorted(t.explained) {
		fmt.Printf("  explained  %6d  %s\n                     e.g. %s\n", t.explained[k], k, t.examples[k])
	}
	refused := map[string]int{}
	for _, p := range problems {
		if p.Fatal {
			refused[p.Message]++
		}
	}
	for _, k := range sorted(refused) {
		fmt.Printf("  refused    %6d  %s\n", refused[k], k)
	}
	for i, u := range t.unexplained {
		if i < 60 {
			fmt.Println("  UNEXPLAINED", u)
		}
	}
	fmt.Printf("%d unexplained\n", len(t.unexplained))
	if len(t.unexplained) > 0 {
		os.Exit(1)
	}
}

func sorted(m map[string]int) []string {
	var out []string
	for k := range m {
		out = append(out, k)
	}
	sort.Strings(out)
	return out
}

// ask runs a reader over the files and gives its lines as fields.
func ask(cmd *exec.Cmd, files []string) [][]string {
	cmd.Stdin = strings.NewReader(strings.Join(files, "\n") + "\n")
	cmd.Stderr = os.Stderr
	out, err := cmd.Output()
	if err != nil {
		fmt.Fprintln(os.Stderr, cmd.Path, err)
		os.Exit(2)
	}
	var rows [][]string
	for _, l := range bytes.Split(out, []byte("\n")) {
		if len(l) > 0 {
			rows = append(rows, strings.Split(string(l), "\t"))
		}
	}
	return rows
}

func (t *tally) freetype(readers string, files []string, faces map[key]face.Face) {
	for _, r := range ask(exec.Command(filepath.Join(readers, "freetype")), files) {
		i, _ := strconv.Atoi(r[1])
		f, ok := faces[key{r[0], i & 0xffff}]
		if n := i >> 16; ok && n > 0 && len(r) == 3 {
			if n <= len(f.Instances) {
				t.judge(judgement{"FreeType", "instance", f.Instances[n-1].PostScript, r[2]}, f)
			}
			continue
		}
		if !ok || len(r) < 8 {
			t.unexplained = append(t.unexplained, fmt.Sprint("FreeType reads what we do not, or the other way: ", r))
			continue
		}
		t.judge(judgement{"FreeType", "family", f.Family, r[2]}, f)
		t.judge(judgement{"FreeType", "style", f.Style, r[3]}, f)
		t.judge(judgement{"FreeType", "postscript", f.PostScript, r[4]}, f)
		if r[6] == "1" {
			t.judge(judgement{"FreeType", "characters", fmt.Sprint(f.Characters), r[5]}, f)
		}
		t.judge(judgement{"FreeType", "slant", fmt.Sprint(f.Slant != face.Upright), fmt.Sprint(r[7] == "1")}, f)
	}
}

// Separators that no font's name holds.
const (
	fieldSep, pairSep, listSep = "\x1f", "\x1d", "\x1e"
	fcFormat                   = "%{file}" + fieldSep + "%{index}" + fieldSep + "%{[]family,familylang{%{family}" + pairSep + "%{familylang}" + listSep + "}}" + fieldSep +
		"%{[]style,stylelang{%{style}" + pairSep + "%{stylelang}" + listSep + "}}" + fieldSep + "%{postscriptname}" + fieldSep + "%{weight}" + fieldSep + "%{slant}" + fieldSep + "%{variable}\n"
)

func (t *tally) fontconfig(files []string, faces map[key]face.Face) {
	for len(files) > 0 {
		n := min(len(files), 200)
		out, err := exec.Command("fc-scan", append([]string{"-f", fcFormat}, files[:n]...)...).Output()
		files = files[n:]
		if err != nil && len(out) == 0 {
			fmt.Fprintln(os.Stderr, "fc-scan:", err)
			os.Exit(2)
		}
		for _, l := range strings.Split(string(out), "\n") {
			r := strings.Split(l, fieldSep)
			if len(r) < 8 {
				continue
			}
			i, _ := strconv.Atoi(r[1])
			f, ok := faces[key{r[0], i & 0xffff}]
			if i>>16 != 0 {
				continue // an instance of a variable font
			}
			if !ok {
				t.unexplained = append(t.unexplained, fmt.Sprint("fontconfig reads what we do not: ", r[0]))
				continue
			}
			t.judge(judgement{"fontconfig", "family", f.Family, english(r[2], f.Family)}, f)
			t.judge(judgement{"fontconfig", "style", f.Style, english(r[3], f.Style)}, f)
			t.judge(judgement{"fontconfig", "postscript", f.PostScript, r[4]}, f)
			t.judge(judgement{"fontconfig", "weight", fmt.Sprint(fcWeight(float64(f.Weight))), fmt.Sprint(number(r[5]))}, f)
			t.judge(judgement{"fontconfig", "slant", fmt.Sprint(f.Slant != face.Upright), fmt.Sprint(r[6] != "0")}, f)
		}
	}
}

// english picks the first English value of a list, or the first at all; if ours
// is the first of another language where none is English, that is the one.
func english(list, _ string) string {
	first := ""
	for i, p := range strings.Split(strings.TrimSuffix(list, listSep), listSep) {
		v, lang, _ := strings.Cut(p, pairSep)
		if i == 0 {
			first = v
		}
		if strings.HasPrefix(lang, "en") {
			return v
		}
	}
	return first
}

func number(s string) float64 {
	v, _ := strconv.ParseFloat(strings.Trim(s, "[]"), 64)
	return math.Round(v)
}

// fcWeight is fontconfig's scale for an OpenType weight (fcweight.c's table).
func fcWeight(w float64) float64 {
	table := []struct{ ot, fc float64 }{{0, 0}, {100, 0}, {200, 40}, {300, 50}, {350, 55}, {380, 75}, {400, 80}, {500, 100}, {600, 180}, {700, 200}, {800, 205}, {900, 210}, {1000, 215}}
	for i := 1; i < len(table); i++ {
		a, b := table[i-1], table[i]
		if w <= b.ot {
			return math.Round(a.fc + (w-a.ot)*(b.fc-a.fc)/(b.ot-a.ot))
		}
	}
	return 215
}

func (t *tally) java(readers string, files []string, faces map[key]face.Face) {
	var plain []string
	for _, f := range files {
		if e := strings.ToLower(filepath.Ext(f)); e == ".ttf" || e == ".otf" || e == ".ttc" {
			plain = append(plain, f)
		}
	}
	refused := 0
	for _, r := range ask(exec.Command("java", "-Djava.awt.headless=true", "-cp", readers, "Java"), plain) {
		i, _ := strconv.Atoi(r[1])
		f, ok := faces[key{r[0], i}]
		if len(r) < 5 || !ok {
			refused++
			continue
		}
		t.judge(judgement{"Java", "legacy family", f.LegacyFamily, r[2]}, f)
		t.judge(judgement{"Java", "full", f.Full, r[3]}, f)
		t.judge(judgement{"Java", "postscript", f.PostScript, r[4]}, f)
	}
	fmt.Printf("Java refuses %d files that others read\n", refused)
}
