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
	// zephyr is in the build of an application of Zephyr, whose target is always app (Zephyr, Application Development).
	zephyr = lazy.Regexp(`(?i)\bfind_package\s*\(\s*Zephyr\b`)
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
			if raw, err := tree.Read(at); err == nil && (base == "Makefile" || targetOf(raw) != "") {
				return dir
			}
		}
		if dir == "" {
			return configured(tree, file)
		}
	}
}

// targetOf is the target that a CMakeLists.txt makes of a program, "" for none.
func targetOf(raw []byte) string {
	clean := language.CMake.Blank(raw)
	if m := executable.FindSubmatch(clean); m != nil {
		return string(m[1])
	}
	if zephyr.Match(clean) {
		return "app"
	}
	return ""
}

// halves are folders that have the sources or the headers of one program, the other ones beside them.
var halves = lazy.Regexp(`(?i)^(?:src|sources?|inc|includes?|headers?)$`)

// whole is the folder above a folder of sources or of headers alone, where the other half is beside it: Core of Core/Src and Core/Inc.
func whole(tree Tree, dir string) string {
	if !halves.MatchString(path.Base(dir)) {
		return dir
	}
	up := Folder(dir)
	for _, f := range tree.Under(up) {
		rel, _ := Below(up, f)
		first, rest, below := strings.Cut(rel, "/")
		if below && first != path.Base(dir) && halves.MatchString(first) && strings.Contains(".c.h.cc.cpp.hpp.cxx.", path.Ext(rest)+".") && path.Ext(rest) != "" {
			return up
		}
	}
	return dir
}

// IsWhole says whether a folder has its sources and its headers in folders of their own, and none itself.
func IsWhole(tree Tree, dir string) bool {
	for _, f := range tree.Under(dir) {
		if path.Ext(f) == ".c" || path.Ext(f) == ".cpp" {
			at := Folder(f)
			return at != dir && Folder(at) == dir && whole(tree, at) == dir
		}
	}
	return false
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
			return whole(tree, root)
		}
	}
}

// FindCBuild finds what builds the program of a folder.
func FindCBuild(b Base) CBuild {
	if at := b.Beside("CMakeLists.txt"); at != "" {
		if raw, err := b.Tree.Read(at); err == nil {
			if target := targetOf(raw); target != "" {
				return CBuild{File: at, Target: target}
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
