// Package tests runs the built program on projects in temporary folders: each
// script of script/ is something that a user does, with what comes of it.
package tests

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"strings"
	"testing"
	"time"

	"github.com/pelletier/go-toml/v2"
	"github.com/rogpeppe/go-internal/testscript"

	files "notaria/docs/schema"
	"notaria/internal/cli"
	"notaria/internal/cli/manpages"
	"notaria/internal/disk"
	"notaria/internal/registry"
	"notaria/internal/skerry"
	"notaria/tests/inuse"
)

func TestMain(m *testing.M) {
	testscript.Main(m, map[string]func(){
		"notaria": func() {
			disk.Verify = true
			os.Exit(judged(os.Args[1:]))
		},
		"manual": func() { os.Exit(manpages.Main(os.Args[1:], os.Stderr)) },
	})
}

// judged runs the program, and holds each document of --json, and a notaria.toml that it took, to their schemas: what is
// not as they say ends the run with another code than any script asks for.
func judged(args []string) int {
	const unfit = 70
	if !slices.Contains(args, "--json") {
		code := cli.Execute(args, os.Stdin, os.Stdout, os.Stderr)
		if err := registryFits(); code == 0 && err != nil {
			fmt.Fprintln(os.Stderr, err)
			return unfit
		}
		return code
	}
	var out bytes.Buffer
	code := cli.Execute(args, os.Stdin, &out, os.Stderr)
	_, err := os.Stdout.Write(out.Bytes())
	if name := documentName(out.Bytes()); err == nil && name != "" {
		err = fits(name, out.Bytes())
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return unfit
	}
	return code
}

// registryFits holds the notaria.toml of this folder to its schema, where a run has just read it.
func registryFits() error {
	text, err := os.ReadFile(registry.FileName)
	if err != nil {
		return nil
	}
	ledger, _ := os.ReadFile(registry.LedgerName)
	now, _ := files.Text("ledger")
	var head struct{ Schema string } // an older one is read, and written anew by the next change
	if json.Unmarshal(ledger, &head) == nil && bytes.Contains(now, []byte(`"`+head.Schema+`"`)) {
		if err := fits("ledger", ledger); err != nil {
			return err
		}
	}
	if _, err := registry.Parse(text); err != nil {
		return nil // names, targets and the demo do not ask for it
	}
	var said any
	if err := toml.Unmarshal(text, &said); err != nil {
		return err
	}
	doc, err := json.Marshal(said)
	if err != nil {
		return err
	}
	return fits("toml", doc)
}

func TestScripts(t *testing.T) {
	testscript.Run(t, testscript.Params{
		Dir:                 "script",
		UpdateScripts:       os.Getenv("NOTARIA_UPDATE") != "", // read the difference before it is committed
		RequireExplicitExec: true,
		Setup: func(env *testscript.Env) error {
			// A home of its own, outside of the project.
			env.Setenv("XDG_STATE_HOME", filepath.Join(env.WorkDir, ".tmp", "state"))
			return nil
		},
		Condition: func(cond string) (bool, error) {
			if cond == "root" {
				return os.Geteuid() == 0, nil
			}
			return false, fmt.Errorf("unknown condition %q", cond)
		},
		Cmds: map[string]func(*testscript.TestScript, bool, []string){
			"skerry":     placeSample,
			"used":       used,
			"shown":      writeLines,
			"keep":       keep,
			"listing":    listing,
			"appendto":   appendTo,
			"ungenerate": ungenerate,
			"refer":      refer,
			"base":       base,
			"bare":       bare,
			"cmpall":     compareAll,
			"same":       same,
			"link":       link,
			"hollow":     hollow,
			"font":       makeFont,
			"tarball":    tarball,
			"dos":        dos,
			"give":       give,
		},
	})
}

// used lets each app of the project in a folder show a role, as usage prints it: used [FOLDER].
func used(ts *testscript.TestScript, neg bool, args []string) {
	dir := "."
	if len(args) > 0 {
		dir = args[0]
	}
	_, err := inuse.Show(ts.MkAbs(dir))
	ts.Check(err)
}

// writeLines writes into the apps of this folder what their developers write to show a role.
func writeLines(ts *testscript.TestScript, neg bool, args []string) {
	_, err := skerry.Use(ts.MkAbs("."))
	ts.Check(err)
}

// placeSample puts the sample project into a folder, all of it or the apps that are named: skerry FOLDER APP...
func placeSample(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) == 0 {
		ts.Fatalf("usage: skerry folder [app...]")
	}
	ts.Check(skerry.Place(ts.MkAbs(args[0]), args[1:]...))
}

// An item is a file of a tree, or a folder.
type item struct {
	folder bool
	mode   os.FileMode
	time   time.Time
	text   string
}

// bytes is the item without its time.
func (i item) bytes() item {
	i.time = time.Time{}
	return i
}

// tree lists every file and folder with content, mode and time, but for what used wrote.
func tree(ts *testscript.TestScript, root string) map[string]item {
	out := map[string]item{}
	ts.Check(filepath.Walk(root, func(name string, info os.FileInfo, err error) error {
		if err != nil {
			return err
		}
		rel, _ := filepath.Rel(root, name)
		if info.Name() == inuse.File {
			return nil
		}
		if info.IsDir() {
			out[rel] = item{folder: true}
			return nil
		}
		b, err := os.ReadFile(name)
		out[rel] = item{mode: info.Mode(), time: info.ModTime(), text: string(b)}
		return err
	}))
	return out
}

// listing prints the files below a folder, one a line, as the standard output:
// listing FOLDER.
func listing(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 1 {
		ts.Fatalf("usage: listing folder")
	}
	var names []string
	for name, text := range tree(ts, ts.MkAbs(args[0])) {
		if !text.folder {
			names = append(names, filepath.ToSlash(name))
		}
	}
	sort.Strings(names)
	fmt.Fprintln(ts.Stdout(), strings.Join(names, "\n"))
}

// appendTo puts one file's text behind another's: appendto FILE TEXT.
func appendTo(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 2 {
		ts.Fatalf("usage: appendto file text")
	}
	a, err := os.ReadFile(ts.MkAbs(args[0]))
	ts.Check(err)
	b, err := os.ReadFile(ts.MkAbs(args[1]))
	ts.Check(err)
	ts.Check(os.WriteFile(ts.MkAbs(args[0]), append(a, b...), 0o644))
}

// ungenerate deletes what Notaria generated below a folder: ungenerate FOLDER.
func ungenerate(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 1 {
		ts.Fatalf("usage: ungenerate folder")
	}
	root := ts.MkAbs(args[0])
	for name, text := range tree(ts, root) {
		if strings.Contains(text.text, "Code generated by Notaria; DO NOT EDIT.") {
			ts.Check(os.Remove(filepath.Join(root, name)))
		}
	}
}

// base has the configurations of the sample's app begin from the file Base.xcconfig:
// base FILE.
func base(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 1 {
		ts.Fatalf("usage: base file")
	}
	b, err := os.ReadFile(ts.MkAbs(args[0]))
	ts.Check(err)
	const ref = "5F0A11972C1D000100A1B2C3 /* Base.xcconfig */"
	text := strings.NewReplacer(
		"/* End PBXFileReference section */\n", "\t\t"+ref+" = {isa = PBXFileReference; lastKnownFileType = text.xcconfig; path = Base.xcconfig; sourceTree = \"<group>\"; };\n/* End PBXFileReference section */\n",
		"\t\t\t\t5F0A10E22C1D000100A1B2C3 /* Products */,\n", "\t\t\t\t5F0A10E22C1D000100A1B2C3 /* Products */,\n\t\t\t\t"+ref+",\n",
		"isa = XCBuildConfiguration;\n", "isa = XCBuildConfiguration;\n\t\t\tbaseConfigurationReference = "+ref+";\n",
	).Replace(string(b))
	ts.Check(os.WriteFile(ts.MkAbs(args[0]), []byte(text), 0o644))
}

// refer has one of the sample's projects copy a folder "Lettering" whole: refer FILE
// PREFIX, the beginning of the project's ids.
func refer(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 2 {
		ts.Fatalf("usage: refer file prefix")
	}
	b, err := os.ReadFile(ts.MkAbs(args[0]))
	ts.Check(err)
	ref, build := args[1]+"11992C1D000100A1B2C3", args[1]+"11982C1D000100A1B2C3"
	text := string(b)
	for _, add := range []struct{ at, line string }{
		{"/* End PBXBuildFile section */\n", "\t\t" + build + " /* Lettering in Resources */ = {isa = PBXBuildFile; fileRef = " + ref + " /* Lettering */; };\n"},
		{"/* End PBXFileReference section */\n", "\t\t" + ref + " /* Lettering */ = {isa = PBXFileReference; lastKnownFileType = folder; path = Lettering; sourceTree = \"<group>\"; };\n"},
		{"\t\t\t\t" + args[1] + "11082C1D000100A1B2C3 /* Info.plist */,\n", "\t\t\t\t" + ref + " /* Lettering */,\n"},
		{"\t\t\t\t" + args[1] + "11072C1D000100A1B2C3 /* Assets.xcassets in Resources */,\n", "\t\t\t\t" + build + " /* Lettering in Resources */,\n"},
	} {
		if !strings.Contains(text, add.at) {
			ts.Fatalf("%s has no line %q", args[0], add.at)
		}
		text = strings.Replace(text, add.at, add.line+add.at, 1)
	}
	ts.Check(os.WriteFile(ts.MkAbs(args[0]), []byte(text), 0o644))
}

// bare takes the empty folders out of a folder: bare FOLDER.
func bare(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 1 {
		ts.Fatalf("usage: bare folder")
	}
	for again := true; again; {
		again = false
		ts.Check(filepath.WalkDir(ts.MkAbs(args[0]), func(name string, d os.DirEntry, err error) error {
			if err == nil && d.IsDir() && os.Remove(name) == nil {
				again = true
				return filepath.SkipDir
			}
			return err
		}))
	}
}

// compareAll compares the bytes of two folders: cmpall FOLDER FOLDER.
func compareAll(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 2 {
		ts.Fatalf("usage: cmpall folder folder")
	}
	a, b := tree(ts, ts.MkAbs(args[0])), tree(ts, ts.MkAbs(args[1]))
	for name, text := range a {
		if text.bytes() != b[name].bytes() {
			ts.Fatalf("%s differs:\n%s\n%s", name, text.text, b[name].text)
		}
	}
	for name := range b {
		if _, ok := a[name]; !ok {
			ts.Fatalf("%s is missing", name)
		}
	}
}

var kept = map[string]map[string]item{}

// keep remembers a folder: keep FOLDER NAME.
func keep(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 2 {
		ts.Fatalf("usage: keep folder name")
	}
	keptMu.Lock()
	defer keptMu.Unlock()
	kept[ts.Getenv("WORK")+args[1]] = tree(ts, ts.MkAbs(args[0]))
}

// same compares a folder with one that was kept: same FOLDER NAME [bytes]. With
// "bytes" times may differ.
func same(ts *testscript.TestScript, neg bool, args []string) {
	if len(args) < 2 {
		ts.Fatalf("usage: same folder name [bytes]")
	}
	keptMu.Lock()
	want := kept[ts.Getenv("WORK")+args[1]]
	keptMu.Unlock()
	have := tree(ts, ts.MkAbs(args[0]))
	differs := ""
	for name, text := range want {
		other, ok := have[name]
		if len(args) > 2 {
			text, other = text.bytes(), other.bytes()
		}
		if !ok || other != text {
			differs = name
		}
	}
	for name := range have {
		if _, ok := want[name]; !ok {
			differs = name
		}
	}
	if (differs != "") != neg {
		ts.Fatalf("the folders: differing at %q", differs)
	}
}

// link makes a symbolic link: link NAME TARGET.
func link(ts *testscript.TestScript, neg bool, args []string) {
	ts.Check(os.Symlink(args[1], ts.MkAbs(args[0])))
}

// hollow makes a file that ends early: hollow NAME BYTES FROM.
func hollow(ts *testscript.TestScript, neg bool, args []string) {
	b, err := os.ReadFile(ts.MkAbs(args[2]))
	ts.Check(err)
	n := 0
	for _, c := range args[1] {
		n = n*10 + int(c-'0')
	}
	ts.Check(os.WriteFile(ts.MkAbs(args[0]), b[:n], 0o644))
}

// dos gives the text files below a folder the line ends of Windows, as version control
// does there: dos FOLDER.
func dos(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 1 {
		ts.Fatalf("usage: dos folder")
	}
	root := ts.MkAbs(args[0])
	for name, f := range tree(ts, root) {
		if !f.folder && !strings.Contains(f.text, "\x00") {
			text := strings.ReplaceAll(strings.ReplaceAll(f.text, "\r\n", "\n"), "\n", "\r\n")
			ts.Check(os.WriteFile(filepath.Join(root, name), []byte(text), f.mode.Perm()))
		}
	}
}

// give gives a file to another user, where root can: give FILE.
func give(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 1 {
		ts.Fatalf("usage: give file")
	}
	if os.Geteuid() != 0 {
		ts.Logf("only root can give files away")
		return
	}
	ts.Check(os.Chown(ts.MkAbs(args[0]), 12345, 12345))
}
