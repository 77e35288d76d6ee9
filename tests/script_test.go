// Package tests runs the built program on projects in temporary folders: each
// script of script/ is something that a user does, with what comes of it.
package tests

import (
	"fmt"
	"os"
	"path/filepath"
	"sort"
	"strings"
	"testing"

	"github.com/rogpeppe/go-internal/testscript"

	"notaria/internal/cli"
	"notaria/internal/skerry"
)

func TestMain(m *testing.M) {
	testscript.Main(m, map[string]func(){
		"notaria": func() { os.Exit(cli.Execute(os.Args[1:], os.Stdin, os.Stdout, os.Stderr)) },
	})
}

func TestScripts(t *testing.T) {
	testscript.Run(t, testscript.Params{
		Dir:                 "script",
		UpdateScripts:       os.Getenv("NOTARIA_UPDATE") != "", // read the difference before it is committed
		RequireExplicitExec: true,
		Cmds: map[string]func(*testscript.TestScript, bool, []string){
			"skerry":  placeSample,
			"keep":    keep,
			"listing": listing,
			"same":    same,
			"link":    link,
			"hollow":  hollow,
			"font":    makeFont,
			"tarball": tarball,
		},
	})
}

// placeSample puts the sample project into a folder: skerry FOLDER.
func placeSample(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 1 {
		ts.Fatalf("usage: skerry folder")
	}
	ts.Check(skerry.Place(ts.MkAbs(args[0])))
}

// tree lists every file and folder with content, mode and time.
func tree(ts *testscript.TestScript, root string) map[string]string {
	out := map[string]string{}
	ts.Check(filepath.Walk(root, func(name string, info os.FileInfo, err error) error {
		if err != nil {
			return err
		}
		rel, _ := filepath.Rel(root, name)
		if info.IsDir() {
			out[rel] = "folder"
			return nil
		}
		b, err := os.ReadFile(name)
		out[rel] = info.Mode().String() + " " + info.ModTime().String() + " " + string(b)
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
		if text != "folder" {
			names = append(names, filepath.ToSlash(name))
		}
	}
	sort.Strings(names)
	fmt.Fprintln(ts.Stdout(), strings.Join(names, "\n"))
}

var kept = map[string]map[string]string{}

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
			text, other = withoutTime(text), withoutTime(other)
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
