package platform

import (
	"bytes"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// A CBuild is what builds a program in C: a target of CMake, or a Makefile's list of sources or
// objects.
type CBuild struct {
	File   string // CMakeLists.txt or Makefile, "" for none
	Target string // of CMake
	List   string // the Makefile's variable
	line   string // that sets it
}

var (
	executable = lazy.Regexp(`(?i)\badd_executable\s*\(\s*([\w.${}-]+)`)
	// sourceList and objectList are a Makefile's lists on one line.
	sourceList = lazy.Regexp(`(?m)^((SRCS?|SOURCES?|CSRCS?|CPPSRCS?)\s*[:+?]?=[^\n\\]*[^\n\\\s])[ \t]*\r?$`)
	objectList = lazy.Regexp(`(?m)^((OBJS?|OBJECTS?)\s*[:+?]?=[^\n\\]*[^\n\\\s])[ \t]*\r?$`)
)

// CRoot is the folder of the program that a source belongs to: the nearest upward with a build, else
// its own.
func CRoot(tree Tree, file string) string {
	for dir := Folder(file); ; dir = Folder(dir) {
		for _, base := range []string{"CMakeLists.txt", "Makefile"} {
			at := path.Join(dir, base)
			if _, there := slices.BinarySearch(tree.Named(base), at); !there {
				continue
			}
			if raw, err := tree.Read(at); err == nil && (base == "Makefile" || executable.Match(language.CMake.Blank(raw))) {
				return dir
			}
		}
		if dir == "" {
			return configured(tree, file)
		}
	}
}

// configured is the outermost folder upward of a source that Autotools or Meson build, else the source's own.
func configured(tree Tree, file string) string {
	root := Folder(file)
	for dir := root; ; dir = Folder(dir) {
		b := Base{Tree: tree, Dir: dir}
		if b.Beside("configure.ac") != "" || b.Beside("configure.in") != "" || b.Beside("meson.build") != "" {
			root = dir
		}
		if dir == "" {
			return root
		}
	}
}

// FindCBuild finds what builds the program of a folder.
func FindCBuild(b Base) CBuild {
	if at := b.Beside("CMakeLists.txt"); at != "" {
		if raw, err := b.Tree.Read(at); err == nil {
			if m := executable.FindSubmatch(language.CMake.Blank(raw)); m != nil {
				return CBuild{File: at, Target: string(m[1])}
			}
		}
	}
	at := b.Beside("Makefile")
	if at == "" {
		return CBuild{}
	}
	raw, err := b.Tree.Read(at)
	if err != nil {
		return CBuild{}
	}
	clean := language.CMake.Blank(raw)
	for _, list := range []*lazy.Pattern{sourceList, objectList} {
		if m := list.FindSubmatch(clean); m != nil {
			return CBuild{File: at, line: string(m[1]), List: string(m[2])}
		}
	}
	return CBuild{}
}

// buildFile is a file that builds of many kinds have.
var buildFile = lazy.Regexp(`(?i)(?:^|/)(?:meson\.build|(?:GNU)?makefile(?:\.\w+)?|CMakeLists\.txt|BUILD(?:\.bazel|\.gn)?|SConstruct|SConscript|wscript|xmake\.lua|premake\d?\.lua|\.cproject|[^/]+\.(?:mk|mak|pri|pro|cmake|uvprojx|ewp|cproj|vcxproj|project|gyp|bzl))$`)

// Unbuilt says whether no build file around a program names a folder of generated sources: a person takes them in, or
// nobody does.
func Unbuilt(b Base, folder string) bool {
	for _, f := range b.Tree.Under(b.Dir) {
		if rel, _ := b.Rel(f); !buildFile.MatchString(f) || strings.Contains("/"+rel, "/"+folder+"/") {
			continue
		}
		if raw, ok := b.Tree.Glance(f, MostSource); ok && bytes.Contains(raw, []byte(folder)) {
			return false
		}
	}
	return true
}

// Entries take a folder's apptype.cmake or apptype.mk into the build.
func (c CBuild) Entries(folder string) []edit.Entry {
	e := edit.Entry{File: c.File, Syntax: source.Lines{}.Name()}
	switch {
	case c.File == "":
		return nil
	case c.Target != "":
		e.Place, e.Value = source.Last(), "include("+folder+"/apptype.cmake)"
	default:
		e.Place, e.Value = source.After(c.line), "include "+folder+"/apptype.mk"
	}
	return []edit.Entry{e}
}
