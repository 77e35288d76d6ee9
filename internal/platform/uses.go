package platform

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// An Asker knows where its app's code asks for a font.
type Asker interface {
	// Uses returns the ways of asking, and the folder below which the code is.
	Uses() (folder string, uses []Use)
}

// An Excluder knows which files of its folder are not its app's own: what was made of sources, libraries
// that were copied in, add-ons.
type Excluder interface{ Excludes(file string) bool }

// A Use is a way in which code asks for a font.
type Use struct {
	Languages []*language.Language
	// Pattern matches the code, comments left out; its first group is what is typed. A
	// match that begins in a string does not count.
	Pattern *lazy.Pattern
	// Kind tells what is typed: "" for a name.
	Kind string
	// Named says that the first group is no text but a name in code which stands for one, such as
	// Faces.heading.
	Named bool
	// Member says that the first group of Pattern is another name which the file gives to what has the roles; the first
	// group of Member, which begins right behind that name, is what is typed.
	Member *lazy.Pattern
	// List says that the first group is a list of names, as a file takes them out of a module or an object.
	List bool
	// Elsewhere matches what says, in the same parentheses, that the name is that of a library; nil
	// where nothing does.
	Elsewhere *lazy.Pattern
	// Weight matches what asks for a weight or a slant in the same braces, its first
	// group the key and its second the value; nil where that does no harm.
	Weight *lazy.Pattern
	// Styles matches what asks for a weight or a slant of a family, in the same brackets, of which
	// Bracket is the opening one; its first group is the value. nil where that is asked for elsewhere.
	Styles  *lazy.Pattern
	Bracket byte
	// Beside writes what asks for a face's weight and slant beside the name of its family, and Sep what stands
	// between the two; nil where that is a step for a person.
	Beside func(Face) []string
	Sep    string
	// After matches what is asked for on top of the call around the name, behind its parentheses; its first group is
	// that. nil where nothing is.
	After *lazy.Pattern
}

// A Question is a name in an app's code.
type Question struct {
	Use    Use
	Typed  string
	File   string    // that the name is in, project-relative
	At     int       // where in the file, in bytes
	Faces  []Face    // the enrolled faces
	System []string  // names that the platform itself answers to, by the project's word
	Here   []Present // fonts that apps of the project have without Notaria
	Plan   Plan      // of the site
	// Memo holds lists that a platform makes once for all questions about a site; nil if
	// there is but one question.
	Memo map[string][]string
}

// Once makes a list of names, or returns it as it was made for an earlier question.
func (q Question) Once(key string, list func() []string) []string {
	if have, ok := q.Memo[key]; ok {
		return have
	}
	out := list()
	if q.Memo != nil {
		q.Memo[key] = out
	}
	return out
}

// An Answer says that a name leads to a font, or why it does not.
type Answer struct {
	Fault   Fault
	Message string
	Cause   string
	Cure    string
	// Instead is what should be typed, "" if that is not known.
	Instead string
	// Leads are the faces that the name leads to, where its own words do not tell.
	Leads []Face
}

// A Fault is a kind of wrong name.
type Fault string

// Kinds of wrong names.
const (
	Fine         Fault = ""
	UnknownFace  Fault = "unknown face"
	FileAsName   Fault = "file as name"
	NoSuchThing  Fault = "no such resource"
	NoSuchRole   Fault = "no such role"
	NotAProperty Fault = "not a property" // of the platform: it is passed over
	OverRole     Fault = "over the role"  // a style of its own wins over the role's
	NoCharacter  Fault = "no such character"
	TooEarly     Fault = "too early"        // a font is used before it is loaded
	FromNetwork  Fault = "from the network" // a font that the app fetches when it runs
	OneSide      Fault = "on one side"      // of two platforms, a name that leads to a font on one alone
	OnFace       Fault = "on a face"        // a weight or a slant is asked for on top of a face that has its own
	anyOfAtMost        = 6
)

// FaceOf finds a face among others by its PostScript name.
func FaceOf(faces []Face, id string) []Face {
	for _, f := range faces {
		if f.ID() == id {
			return []Face{f}
		}
	}
	return nil
}

// AnswerFace answers by PostScript names, the way of most platforms; of says whose own fonts code
// may name besides.
func AnswerFace(q Question, of installed.Systems) Answer {
	names := make([]string, len(q.Faces))
	for i, f := range q.Faces {
		names[i] = f.ID()
	}
	if slices.Contains(names, q.Typed) || slices.Contains(q.System, q.Typed) || slices.ContainsFunc(q.Here, func(p Present) bool { return p.ID == q.Typed }) || q.Typed == "" || strings.ContainsAny(q.Typed, "$") || strings.Contains(q.Typed, `\(`) {
		return Answer{} // the last are put together at run time
	}
	near := Nearest(q.Typed, names)
	for _, f := range q.Faces {
		if base := path.Base(f.File); q.Typed == base || q.Typed == f.File || q.Typed == strings.TrimSuffix(base, path.Ext(base)) {
			return Answer{FileAsName, fmt.Sprintf("%q is a file's name, not a font's", face.Short(q.Typed)),
				"the system answers to the name inside the font, the PostScript name", Choose(f.ID(), nil), f.ID(), nil}
		}
	}
	if LooksLikeFont(q.Typed) {
		return Answer{FileAsName, fmt.Sprintf("%q is a file's name, not a font's", face.Short(q.Typed)),
			"the system answers to the name inside the font, the PostScript name; it has no ending", Choose(near, names), near, nil}
	}
	if id, mixed := faceOfName(q.Typed, q.Faces); mixed {
		if id == "" {
			id = near
		}
		return Answer{UnknownFace, fmt.Sprintf("%q is a family's name or a full name, not a face's PostScript name", face.Short(q.Typed)),
			"by such names the system may choose another weight, or its own font", Choose(id, names), id, nil}
	}
	if near == "" && installed.Has(q.Typed, of) {
		return Answer{}
	}
	return Answer{UnknownFace, fmt.Sprintf("no face of this app is called %q", face.Short(q.Typed)),
		"the system reports nothing about an unknown name and shows its own font", Unknown(near, names), near, nil}
}

// faceOfName is the face that another name than its PostScript name most likely means: that of a full
// name, or the regular one of a family; mixed says that the name is such a one at all.
func faceOfName(typed string, faces []Face) (id string, mixed bool) {
	var family []Face
	for _, f := range faces {
		if typed == f.Full {
			return f.ID(), true
		}
		if typed == f.Family || typed == f.LegacyFamily {
			family = append(family, f)
		}
	}
	for _, f := range family {
		if len(family) == 1 || f.Weight == 400 && f.Slant == face.Upright {
			return f.ID(), true
		}
	}
	return "", len(family) > 0
}

// Unknown is the cure of a name that leads to no font: the nearest, if one is near, else how it
// comes to lead to one.
func Unknown(near string, names []string) string {
	if near != "" {
		return Choose(near, nil)
	}
	return "enrol that font, or " + Choose("", names) + "; if the platform or a library brings it, list it under [check] system in notaria.toml"
}

// AnswerResource answers by the names of what is in an app.
func AnswerResource(q Question, names []string, message, cause string) Answer {
	if slices.Contains(names, q.Typed) {
		return Answer{}
	}
	near := Nearest(q.Typed, names)
	for _, f := range q.Faces {
		if q.Typed == f.ID() || q.Typed == path.Base(f.File) {
			if r := Nearest(language.Snake(language.Words(f.ID())), names); r != "" {
				near = r
			}
		}
	}
	if strings.Contains(q.Typed, ".") {
		return Answer{FileAsName, fmt.Sprintf("%q is a file's name, not a resource's", q.Typed), "a resource is named without its ending", Choose(near, names), near, nil}
	}
	return Answer{NoSuchThing, message, cause, Choose(near, names), near, nil}
}

// AnswerRole answers by the roles, for a name that can only mean one. prefix is what all
// roles have in front, what the kind of name, cause what comes of a wrong one.
func AnswerRole(q Question, prefix string, roles []string, what, cause string) Answer {
	if slices.Contains(roles, q.Typed) {
		return Answer{}
	}
	near := ""
	for _, r := range roles { // what all have in front makes no name like another
		if Nearest(strings.TrimPrefix(q.Typed, prefix), []string{strings.TrimPrefix(r, prefix)}) != "" {
			near = r
		}
	}
	if near == "" {
		return Answer{} // a name of the app's own
	}
	return Answer{NoSuchRole, fmt.Sprintf("no role has the %s %q", what, face.Short(q.Typed)), cause, Choose(near, roles), near, nil}
}

// NamesOfFile are the names that a face's file goes by.
func NamesOfFile(f Face) []string {
	base := path.Base(f.File)
	return []string{base, strings.TrimSuffix(base, path.Ext(base))}
}

// A Spelling name is one that a platform answers to, and names of the same face that people
// type instead.
type Spelling struct {
	Right string
	Wrong []string
}

// AnswerName judges a name where a platform has fonts of its own besides: what is like none
// of ours is one of these. mixed says of which kind a wrong name of a face is, such as "%q is
// a face's name"; unknown what else is wrong, such as "no family is called %q".
func AnswerName(typed string, names []Spelling, mixed, unknown, cause string) Answer {
	var known []string
	for _, n := range names {
		if strings.EqualFold(n.Right, typed) {
			return Answer{}
		}
		if !slices.Contains(known, n.Right) {
			known = append(known, n.Right)
		}
	}
	a := Answer{Fault: UnknownFace, Message: fmt.Sprintf(unknown, face.Short(typed)), Cause: cause, Instead: Nearest(typed, known)}
	for _, n := range names {
		if slices.Contains(n.Wrong, typed) {
			a.Instead, a.Message = n.Right, fmt.Sprintf(mixed, face.Short(typed))
		}
	}
	if LooksLikeFont(typed) {
		a.Fault, a.Message = FileAsName, fmt.Sprintf("%q is a file's name, not a font's", face.Short(typed))
	} else if a.Instead == "" {
		return Answer{}
	}
	a.Cure = Choose(a.Instead, known)
	return a
}

// byCapitals is why a path works on one system, and not on another.
const byCapitals = "the file's name differs by capitals: that works on Windows and on most Macs, and nowhere else"

// FontFiles are the font files below a folder, and those of the plan.
func (q Question) FontFiles(tree Tree, dir string) []string {
	return q.Once("font files", func() []string {
		var out []string
		for _, f := range tree.Under(dir) {
			if LooksLikeFont(f) {
				out = append(out, f)
			}
		}
		for _, f := range q.Plan.Files {
			out = append(out, f.Path)
		}
		return append(out, tree.Reached(dir)...)
	})
}

// AnswerFile judges the path at of a font file, among those that are there. write is how
// the code would name one of these, "" if it cannot.
func AnswerFile(at string, have []string, cause, counts string, write func(file string) string) Answer {
	if slices.Contains(have, at) {
		return Answer{}
	}
	a := Answer{Fault: NoSuchThing, Message: fmt.Sprintf("there is no font file %s", face.Short(at)), Cause: cause, Cure: "correct the path, which counts from " + counts}
	for _, f := range have {
		if strings.EqualFold(path.Base(f), path.Base(at)) {
			if name := write(f); name != "" {
				a.Instead, a.Cure = name, Choose(name, nil)
			}
			if strings.EqualFold(f, at) {
				a.Cause = byCapitals
			}
		}
	}
	if a.Instead == "" {
		if f := Strayed(at, have); f != "" && write(f) != "" {
			a.Instead, a.Cure = write(f), Choose(write(f), nil)
		}
	}
	return a
}

// Relative is a path from a folder, with slashes.
func Relative(from, to string) string {
	a, b := strings.Split(path.Clean(from), "/"), strings.Split(to, "/")
	if path.Clean(from) == "." {
		a = nil
	}
	for len(a) > 0 && len(b) > 1 && a[0] == b[0] {
		a, b = a[1:], b[1:]
	}
	return strings.Repeat("../", len(a)) + strings.Join(b, "/")
}

var (
	pseudoElements  = lazy.Regexp(`::|:(?:before|after|first-line|first-letter)\b`)
	selectorIDs     = lazy.Regexp(`#[\w-]+`)
	selectorClasses = lazy.Regexp(`[.:][\w-]+|\[[^\]]*\]`)
	selectorTypes   = lazy.Regexp(`(?:^|[\s>+~])[A-Za-z][\w-]*`)
)

// AnswerRule judges a rule of a style sheet that sets a font: a role's has two classes, and
// of two rules the one with more ids, classes and types wins (CSS 2.1, 6.4.3). It is wrong only where an element can have
// both: worn says whether one with a role fits a selector; nil where that is not known.
func AnswerRule(selectors string, worn func(selector string) bool) Answer {
	for _, sel := range strings.Split(selectors, ",") {
		if strings.Contains(sel, ".type-") || pseudoElements.MatchString(sel) {
			continue // somebody changes the role itself; what no element has cannot have a role
		}
		n := len(selectorClasses.FindAllString(strings.ReplaceAll(sel, "::", " "), -1))
		if selectorIDs.MatchString(sel) || n > 2 || n == 2 && selectorTypes.MatchString(sel) {
			if worn != nil && !worn(strings.TrimSpace(sel)) {
				continue
			}
			return Answer{Fault: OverRole, Message: fmt.Sprintf("the rule for %s sets a font of its own", face.Short(strings.TrimSpace(sel))),
				Cause: "it has more ids, classes and types than a role's rule, and wins over it", Cure: "let the role alone set the font, or make the selector shorter"}
		}
	}
	return Answer{}
}

// mostShown is how long a name is that a cure shows whole, in bytes: an address, at most.
const mostShown = 400

// Choose is the cure of a wrong name: the nearest, or a choice.
func Choose(near string, names []string) string {
	if len(near) > mostShown {
		near = face.Short(near)
	}
	if near != "" {
		return fmt.Sprintf("write %q", near)
	}
	if len(names) == 0 {
		return "enrol the font that is meant"
	}
	if len(names) > anyOfAtMost {
		names = append(slices.Clone(names[:anyOfAtMost]), "…")
	}
	shown := make([]string, len(names))
	for i, n := range names {
		if shown[i] = n; len(n) > mostShown {
			shown[i] = face.Short(n)
		}
	}
	return "use one of: " + strings.Join(shown, ", ")
}

// MostNaming is how large a text may be that is looked through for the names of files, in bytes.
const MostNaming = 64 << 20

// Spellings are how code and data name a font file: with its ending, and, of a folder of Android's resources, by its resource (R.font.quay,
// @font/quay).
func Spellings(file string) []string {
	base := path.Base(file)
	out := []string{base}
	if path.Base(path.Dir(file)) == "font" {
		stem := strings.TrimSuffix(base, path.Ext(base))
		out = append(out, "font."+stem, "@font/"+stem)
	}
	return out
}

// NamedIn says which font files are named in texts of a project: read gives a text, nil for one that does not count, and false for one that
// cannot be read, which could name any of them. Fonts, files that are no text, and what Notaria generated are passed over.
func NamedIn(files, fonts []string, read func(file string) ([]byte, bool)) map[string]bool {
	out := map[string]bool{}
	for _, f := range files {
		if LooksLikeFont(f) || len(out) == len(fonts) {
			continue
		}
		text, ok := read(f)
		if ok && (bytes.IndexByte(text[:min(len(text), 512)], 0) >= 0 || IsGenerated(text)) {
			continue
		}
		for _, x := range fonts {
			if !ok || slices.ContainsFunc(Spellings(x), func(s string) bool { return bytes.Contains(text, []byte(s)) }) {
				out[x] = true
			}
		}
	}
	return out
}
