package board

import (
	"bytes"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/board/storage"
)

// Builds of a firmware.
const (
	byPlatformIO = "PlatformIO"
	byArduino    = "Arduino"
	byIDF        = "ESP-IDF"
	byC          = "C" // CMake or a Makefile
	byMetadata   = "metadata.json"
	byNothing    = ""
)

// layout is how a firmware is built, and so where its pictures go.
type layout struct {
	by      string
	folder  string // of what is generated, from the firmware's
	include string // the header, as its sources name it
	build   platform.CBuild
	needs   string // the library's component, of ESP-IDF
}

// source is a file of the folder as the build names it.
func (l layout) source(name string) string {
	if l.build.List == "" {
		return name
	}
	if strings.HasPrefix(strings.ToLower(l.build.List), "obj") {
		name = strings.TrimSuffix(name, ".c") + ".o"
	}
	return path.Join(l.folder, name)
}

const (
	folder = "apptype"
	header = "app_type.h"
)

// findLayout looks at the files of the firmware's folder.
func (s *site) findLayout() layout {
	if s.is("espruino") {
		return layout{by: byMetadata, folder: "."}
	}
	for _, f := range s.Tree.Under(s.Dir) {
		if path.Ext(f) == ".ino" && platform.Folder(f) == s.Dir {
			return layout{by: byArduino, folder: "src/" + folder, include: "src/" + folder + "/" + header}
		}
	}
	if s.Beside("platformio.ini") != "" {
		return layout{by: byPlatformIO, folder: "src/" + folder, include: folder + "/" + header}
	}
	if isIDF(s.Tree, s.Dir) {
		return layout{by: byIDF, folder: "components/" + folder, include: header, needs: s.component()}
	}
	if b := platform.FindCBuild(s.Base); b.File != "" {
		return layout{by: byC, folder: folder, include: header, build: b}
	}
	if platform.IsWhole(s.Tree, s.Dir) { // the sources are further in
		return layout{folder: folder, include: "../" + folder + "/" + header}
	}
	return layout{folder: folder, include: folder + "/" + header}
}

// isIDF says whether a folder is a project of ESP-IDF.
func isIDF(tree platform.Tree, dir string) bool {
	at := path.Join(dir, "CMakeLists.txt")
	if !slices.Contains(tree.Named("CMakeLists.txt"), at) {
		return false
	}
	raw, ok := tree.Glance(at, platform.MostSource)
	return ok && bytes.Contains(raw, []byte("/tools/cmake/project.cmake"))
}

// component is the library as ESP-IDF names it: one of the project, or of the registry of
// components, whose names have the owner in front.
func (s *site) component() string {
	name := s.kind.name
	if s.is("display") {
		return ""
	}
	for _, f := range s.Tree.Under(path.Join(s.Dir, "components")) {
		if rest := strings.Split(strings.TrimPrefix(f, path.Join(s.Dir, "components")+"/"), "/"); strings.EqualFold(rest[0], name) {
			return rest[0]
		}
	}
	if s.is("lvgl") {
		return "lvgl__lvgl"
	}
	return name
}

// othersFolders are folders of other people's code, and of what was built.
var othersFolders = lazy.Regexp(`(?i)(?:^|/)(?:third[_-]?party|external|extern|vendor|managed_components|\.pio|build|dist|examples?|tests?|demos|node_modules)(?:/|$)`)

// libraryFolder is called as one of the libraries is: it is the library if it holds what that one does.
var libraryFolder = lazy.Regexp(`(?i)(?:^|/)(?:lvgl|lv_\w+|U8g2(?:_Arduino)?|u8g2_src)(?:/|$)`)

// librariesFolder holds libraries alone.
var librariesFolder = lazy.Regexp(`(?i)(?:^|/)(?:libs?|libraries|components|modules|libdeps)(?:/|$)`)

var heldByLibraries = []string{"lvgl.h", "lv_conf_template.h", "U8g2lib.h", "u8g2.h", "library.json", "library.properties"}

// isOthers says whether a folder is other people's, or one of what was built.
func isOthers(tree platform.Tree, dir string) bool {
	if othersFolders.MatchString(dir) {
		return true
	}
	for at := 0; ; {
		m := libraryFolder.FindStringIndex(dir[at:])
		if m == nil {
			return false
		}
		library := strings.TrimSuffix(dir[:at+m[1]], "/")
		if librariesFolder.MatchString(platform.Folder(library)) {
			return true
		}
		for _, base := range heldByLibraries {
			if slices.ContainsFunc(tree.Named(base), func(f string) bool {
				rel, inside := platform.Below(library, f)
				return inside && strings.Count(rel, "/") <= 1
			}) {
				return true
			}
		}
		if at += m[1]; at >= len(dir) {
			return false
		}
		at-- // a name can begin with the slash that ends this one
	}
}

// sites finds the firmwares that a kind of file shows, the outer ones first; what is below one
// belongs to it.
func (k *kind) sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	var found platform.Found
	if k.shows == nil {
		return nil, nil // nothing in a source tells which display it draws on
	}
	var dirs []string
	for _, f := range tree.Under("") {
		if !mayShow(f) || isOthers(tree, platform.Folder(f)) {
			continue
		}
		raw, ok := tree.Glance(f, platform.MostSource)
		if !ok || path.Base(f) != "lv_conf.h" && !bytes.Contains(raw, []byte(k.word)) || platform.IsGenerated(raw) || !k.shows(f, raw) {
			continue
		}
		if dir := k.root(tree, f); !slices.Contains(dirs, dir) {
			dirs = append(dirs, dir)
		}
	}
	slices.Sort(dirs)
	for i, dir := range dirs {
		if !slices.ContainsFunc(dirs[:i], func(d string) bool { return d == "" || strings.HasPrefix(dir, d+"/") }) {
			found.Add(platform.Shown(dir), k.site(tree, dir, opt), nil)
		}
	}
	return found.All()
}

// mayShow says whether a file can show a platform, by its name.
func mayShow(f string) bool {
	switch path.Ext(f) {
	case ".c", ".h", ".cpp", ".cc", ".cxx", ".hpp", ".ino":
		return true
	}
	return slices.Contains([]string{"platformio.ini", "idf_component.yml", "metadata.json"}, path.Base(f))
}

// root is the folder of the firmware that a file belongs to.
func (k *kind) root(tree platform.Tree, f string) string {
	own := platform.Folder(f)
	if k.name == "espruino" {
		return own
	}
	for dir := own; ; dir = platform.Folder(dir) {
		if slices.Contains(tree.Named("platformio.ini"), path.Join(dir, "platformio.ini")) || isIDF(tree, dir) {
			return dir
		}
		for _, other := range tree.Named(path.Base(dir) + ".ino") {
			if platform.Folder(other) == dir {
				return dir
			}
		}
		if dir == "" {
			return platform.CRoot(tree, f)
		}
	}
}

// headerName is the file that names the roles.
func (s *site) headerName() string {
	if s.is("espruino") {
		return module + ".js"
	}
	return header
}

// buildFiles are what takes the pictures into the build, by file, with their templates.
func (s *site) buildFiles() map[string]string {
	switch {
	case s.is("espruino"):
	case s.layout.by == byIDF:
		return map[string]string{"CMakeLists.txt": "component.cmake"}
	case s.layout.build.Target != "":
		return map[string]string{"apptype.cmake": "apptype.cmake"}
	case s.layout.build.File != "":
		return map[string]string{"apptype.mk": "apptype.mk"}
	}
	return nil
}

// module is what is generated for Espruino, by the name that require() takes.
const module = "app_type"

// storageEntries put the module into the app's storage.
func (s *site) storageEntries() []edit.Entry {
	at := s.Beside("metadata.json")
	if at == "" {
		return nil
	}
	return []edit.Entry{storage.File(at, module, module+".js")}
}

var includesLVGL = lazy.Regexp(`(?m)^[ \t]*#[ \t]*include[ \t]*([<"](?:[\w./-]*/)?lvgl\.h[>"])`)

// includes is how the firmware's own sources name LVGL's header, "" where none does.
func (s *site) includes() string {
	if !s.is("lvgl") {
		return ""
	}
	if chosen := s.opt.Word(optInclude); chosen != "" {
		if !strings.ContainsAny(chosen[:1], `<"`) {
			chosen = `"` + chosen + `"`
		}
		return chosen
	}
	for _, f := range s.Tree.Under(s.Dir) {
		if !mayShow(f) || isOthers(s.Tree, platform.Folder(f)) {
			continue
		}
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok || platform.IsGenerated(raw) {
			continue
		}
		if m := includesLVGL.FindSubmatch(raw); m != nil {
			return string(m[1])
		}
	}
	return ""
}
