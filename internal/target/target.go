// Package target says what a platform is. A platform answers five questions and
// nothing else is asked of it: where are you in this tree (Sites), what files do
// you want (Site.Files), what entries in which manifests (Site.Entries), what
// code (Site.Code), and what does a developer type for this face (Type).
//
// Platforms return values and never write: package notary joins their answers
// into one plan, and package change carries it out.
package target

import (
	"encoding/json"
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
)

// A Target is a platform that apps are built for.
type Target interface {
	About() About
	// Sites finds every app for this platform in a project, in the order of
	// their paths. Apps that cannot be read do not hide the others: the error
	// joins what is wrong with each, and the others are there.
	Sites(Tree, Options) ([]Site, error)
	// Type gives the string that app code uses for each face, in order; what one
	// is can depend on the others, for no two may be the same.
	Type([]face.Face) []string
}

// About describes a platform to people.
type About struct {
	Name    string // one word, for --only and for keys
	Title   string
	Typed   string // where the string of Type is typed
	Minimum string
	Cannot  []string // what Notaria cannot express on it
	Options []Option // keys of [target.NAME] in the registry
}

// An Option is a choice that a project can make for one platform. Its values are
// of the kind "word", "list" (of words) or "choice" (yes or no).
type Option struct{ Key, Kind, Help string }

// LeaveOut is the option of every platform that names apps which are not served.
const LeaveOut = "leave-out"

// Options are what a project has chosen for one platform.
type Options map[string]any

// Word gives an option of the kind "word", "" if it is not set.
func (o Options) Word(key string) string {
	s, _ := o[key].(string)
	return s
}

// Yes gives an option of the kind "choice".
func (o Options) Yes(key string) bool {
	b, _ := o[key].(bool)
	return b
}

// LeftOut says whether the app of a path is not served. A target asks before it
// reads an app's manifests, so that one which cannot be read can be left out.
func (o Options) LeftOut(path string) bool { return slices.Contains(o.List(LeaveOut), path) }

// List gives an option of the kind "list".
func (o Options) List(key string) []string {
	list, _ := o[key].([]any)
	var out []string
	for _, v := range list {
		if s, ok := v.(string); ok {
			out = append(out, s)
		}
	}
	return out
}

// A Site is one app of a platform in a project's tree.
type Site interface {
	Title() string // for people: the platform and the path
	Path() string  // project-relative
	Files(Job) ([]File, error)
	Entries(Job) ([]edit.Entry, error)
	Code(Job) ([]File, error)
	// Shortfalls are the parts of roles that this app's code cannot say.
	Shortfalls(Job) []Shortfall
	// Held lists the fonts that the app's manifests name now, by whatever hand.
	Held() ([]Held, error)
	Next() string // the step that a person must take after a change
}

// Held is a font as an app's manifest names it now.
type Held struct {
	Manifest string // project-relative
	Line     int    // 1-based, 0 where lines mean nothing
	Value    string // what stands there
	File     string // project-relative path of the file meant, "" if not known
}

// A Job is what a site is asked to carry: faces in order of enrolment, roles in
// alphabetical order.
type Job struct {
	Faces   []Face
	Roles   []Role
	Present []Present
}

// Present is a font file in the tree that Notaria did not put there.
type Present struct{ Path, ID string }

// At finds a face among the files that are there by another hand: the first whose
// path ok takes.
func (j Job) At(f Face, ok func(path string) bool) (string, bool) {
	for _, p := range j.Present {
		if p.ID == f.ID() && ok(p.Path) {
			return p.Path, true
		}
	}
	return "", false
}

// A Face is an enrolled face with the place of its original.
type Face struct {
	face.Face
	Ext string // of its file, with the dot
}

// A File is wanted in the tree: as the copy of a face's original, as a collection
// of several, or with the content given.
type File struct {
	Path    string
	Copy    string   // PostScript name of the face, or ""
	Pack    []string // those of the faces of a collection, in order
	Content []byte
}

// Fonts is how many faces the file holds.
func (f File) Fonts() int {
	if f.Copy != "" {
		return 1
	}
	return len(f.Pack)
}

// Copies wants each face of a job at the path of the same place.
func (j Job) Copies(paths []string) []File {
	out := make([]File, len(j.Faces))
	for i, f := range j.Faces {
		out[i] = File{Path: paths[i], Copy: f.ID()}
	}
	return out
}

// A Tree is a project's files as platforms may see them.
type Tree interface {
	// Named lists the project-relative paths of files with a base name.
	Named(base string) []string
	// Under lists the files below a folder, "" for all.
	Under(dir string) []string
	Read(name string) ([]byte, error)
}

// IsFont says whether a file is one that apps can carry, by its ending.
func IsFont(name string) bool {
	switch strings.ToLower(path.Ext(name)) {
	case ".ttf", ".otf", ".ttc":
		return true
	}
	return false
}

// Below is a path of the tree as a manifest in a folder writes it; false if it does
// not lie there. The folder "" is the tree.
func Below(dir, name string) (string, bool) {
	if dir == "" {
		return name, true
	}
	return strings.CutPrefix(name, dir+"/")
}

// Folder is the folder of a file of the tree, "" for the tree itself.
func Folder(file string) string {
	if dir := path.Dir(file); dir != "." {
		return dir
	}
	return ""
}

// Shown is a folder as people read it.
func Shown(dir string) string {
	if dir == "" {
		return "."
	}
	return dir
}

// A SiteError says why a site that is there cannot be served.
type SiteError struct{ Site, Expected, Found, Cure string }

func (e *SiteError) Error() string {
	return e.Site + ": expected " + e.Expected + ", found " + e.Found + "; " + e.Cure
}

// UsesReactNative says whether the package in a folder depends on React Native
// without Expo; its native parts are then served for it, each by its own target.
func UsesReactNative(tree Tree, dir string) bool {
	d := dependencies(tree, dir)
	return d["react-native"] != nil && d["expo"] == nil
}

// UsesExpo says whether the package in a folder depends on Expo, which generates
// its native parts anew whenever it likes.
func UsesExpo(tree Tree, dir string) bool { return dependencies(tree, dir)["expo"] != nil }

// flutterSDK finds the dependency on Flutter's own SDK: that, and not a fonts block,
// makes a package one of Flutter's.
var flutterSDK = regexp.MustCompile(`(?m)^\s+sdk:\s*["']?flutter["']?\s*(?:#.*)?$`)

// UsesFlutter says whether the package in a folder depends on Flutter, whose
// native parts take their fonts from its assets.
func UsesFlutter(tree Tree, dir string) bool {
	raw, err := tree.Read(path.Join(dir, "pubspec.yaml"))
	return err == nil && flutterSDK.Match(raw)
}

// Version is the one that a folder's package.json asks for of a dependency, as it
// stands there; "" if there is none.
func Version(tree Tree, dir, name string) string {
	v, _ := dependencies(tree, dir)[name].(string)
	return v
}

// dependencies are those of a folder's package.json; none if there is none.
func dependencies(tree Tree, dir string) map[string]any {
	raw, err := tree.Read(path.Join(dir, "package.json"))
	if err != nil {
		return nil
	}
	var p struct {
		Dependencies map[string]any `json:"dependencies"`
	}
	if json.Unmarshal(raw, &p) != nil {
		return nil
	}
	return p.Dependencies
}
