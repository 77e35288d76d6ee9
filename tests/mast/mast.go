// Package mast is a platform that there is not: the proof that one is a package, and a line in a list. A folder
// with a mast.rig is an app. It gets a collection of all faces, a line of its own form in that file, and a
// class that knows the collection's size and the width of an A. Its code asks for faces with
// Mast.face("…"); its log says "no sail NAME"; its build fills the folder hold.
package mast

import (
	"bytes"
	"fmt"
	"path"
	"slices"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// Platform is the invented one.
type Platform struct{}

// About describes it.
func (Platform) About() platform.About {
	return platform.About{Name: "mast", Title: "Mast", Typed: `Mast.face("…")`, Kind: platform.ByPostScript, Minimum: "none"}
}

// Type returns the PostScript name.
func (Platform) Type(faces []face.Face) (out []string) {
	for _, f := range faces {
		out = append(out, f.PostScript)
	}
	return out
}

// Syntaxes are the form of mast.rig.
func (Platform) Syntaxes() []edit.Syntax { return []edit.Syntax{Rig{}} }

// OwnsEntry says that the line "hoist" is written here.
func (Platform) OwnsEntry(e edit.Entry) bool { return e.Syntax == "rig" && e.Value == "hoist" }

// Skips are what a build makes.
func (Platform) Skips() []platform.Skip {
	return []platform.Skip{{Folder: "hold", Beside: []string{"mast.rig"}}}
}

var logLine = lazy.Regexp(`no sail ([\w-]+)`)

// LogLines are those of its log.
func (Platform) LogLines() []*lazy.Pattern { return []*lazy.Pattern{logLine} }

type site struct{ platform.Base }

// Sites are the folders with a mast.rig.
func (Platform) Sites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	for _, file := range tree.Named("mast.rig") {
		found.Add(path.Dir(file), &site{platform.Base{Tree: tree, Dir: platform.Folder(file)}}, nil)
	}
	return found.All()
}

func (s *site) Title() string { return "Mast " + s.Path() }

func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	if len(job.Faces) == 0 {
		return platform.Plan{Answer: answer}, nil
	}
	all := platform.Collection{}
	for _, f := range job.Faces {
		all.Members = append(all.Members, f.ID())
	}
	facts, err := job.Facts(all)
	if err != nil {
		return platform.Plan{}, err
	}
	width, _ := facts.Metrics.Advance('A')
	class := fmt.Sprintf("// %s\nclass Type { int bytes = %d, widthOfA = %d; }\n", platform.Generated, facts.Bytes, width)
	entry := func(value string) edit.Entry {
		return edit.Entry{File: path.Join(s.Dir, "mast.rig"), Syntax: Rig{}.Name(), Value: value}
	}
	return platform.Plan{
		Next: "set sail again", Answer: answer,
		Files:   []platform.File{{Path: path.Join(s.Dir, "type.ttc"), Recipe: all}},
		Entries: []edit.Entry{entry("hoist"), entry("type.ttc")},
		Code:    []platform.File{platform.Code(path.Join(s.Dir, "Type.java"), []byte(class))},
	}, nil
}

// Flaws are fonts that lie in the app and that no line names.
func (s *site) Flaws(fonts []platform.Face) (out []platform.Flaw, err error) {
	raw, err := s.Tree.Read(path.Join(s.Dir, "mast.rig"))
	for _, f := range fonts {
		if rel, ok := s.Rel(f.File); ok && !bytes.Contains(raw, []byte("~ "+rel)) {
			out = append(out, platform.Flaw{Kind: platform.NotNamed, File: f.File, Subject: f.File, Message: "no line of mast.rig names " + rel, Cause: "Mast loads what is named", Cure: "write: ~ " + rel})
		}
	}
	return out, err
}

func (s *site) Uses() (string, []platform.Use) {
	return s.Dir, []platform.Use{{Languages: []*language.Language{language.Java}, Pattern: asks}}
}

var asks = lazy.Regexp(`Mast\.face\("([^"\n]*)"\)`)

func answer(q platform.Question) platform.Answer {
	return platform.AnswerFace(q, installed.Any)
}

// Rig is the form of mast.rig: lines that begin with a tilde.
type Rig struct{}

// AnyEntry says that an entry can be any line.
func (Rig) AnyEntry() {}

// Name is how entries name it.
func (Rig) Name() string { return "rig" }

func has(doc edit.Document, value string) bool {
	return bytes.Contains(append([]byte("\n"), doc.Text...), []byte("\n~ "+value+"\n"))
}

// Reconcile adds lines at the end, and takes out those that are not wanted.
func (Rig) Reconcile(doc edit.Document, want, owned []edit.Entry) (text []byte, mine []edit.Entry, err error) {
	text = bytes.Clone(doc.Text)
	for _, e := range owned {
		if !holds(want, e.Value) {
			text = bytes.Replace(text, []byte("~ "+e.Value+"\n"), nil, 1)
		}
	}
	for _, e := range want {
		switch {
		case !has(doc.With(text), e.Value):
			text = append(text, "~ "+e.Value+"\n"...)
			mine = append(mine, e)
		case holds(owned, e.Value):
			mine = append(mine, e)
		}
	}
	return text, mine, nil
}

func holds(list []edit.Entry, value string) bool {
	return slices.ContainsFunc(list, func(e edit.Entry) bool { return e.Value == value })
}

// TakeOver returns what is there and not Notaria's yet.
func (Rig) TakeOver(doc edit.Document, want, mine []edit.Entry) []edit.Entry {
	return slices.DeleteFunc(slices.Clone(want), func(e edit.Entry) bool { return !has(doc, e.Value) || holds(mine, e.Value) })
}

// Paste is nothing: a person knows the form.
func (Rig) Paste([]edit.Entry) string { return "" }

// Missing are the entries without a line.
func (Rig) Missing(doc edit.Document, want []edit.Entry) (out []edit.Lack, err error) {
	for _, e := range want {
		if !has(doc, e.Value) {
			out = append(out, edit.Lack{Entry: e, Message: "no line names " + e.Value, Cause: "Mast loads what is named"})
		}
	}
	return out, nil
}
