package notary_test

import (
	"fmt"
	"path"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// buoy is a platform that there is not: a folder with a buoy.gradle is an app. It gets a
// collection, an entry in that file, and a class that knows the collection's size and the
// width of an A; its code asks for faces with Buoy.face("…"). Nothing else in the program
// knows of it.
type buoy struct{}

func (buoy) About() platform.About {
	return platform.About{Name: "buoy", Title: "Buoy", Typed: `Buoy.face("…")`, Kind: platform.ByPostScript, Minimum: "none"}
}

func (buoy) Type(faces []face.Face) (out []string) {
	for _, f := range faces {
		out = append(out, f.PostScript)
	}
	return out
}

type buoySite struct{ platform.Base }

func (s *buoySite) Title() string { return "Buoy " + s.Path() }
func (s *buoySite) Next() string  { return "wind it up again" }

func (buoy) Sites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	for _, file := range tree.Named("buoy.gradle") {
		found.Add(path.Dir(file), &buoySite{platform.Base{Tree: tree, Dir: platform.Folder(file)}}, nil)
	}
	return found.All()
}

func (s *buoySite) Plan(job platform.Job) (platform.Plan, error) {
	if len(job.Faces) == 0 {
		return platform.Plan{}, nil
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
	return platform.Plan{
		Files:   []platform.File{{Path: path.Join(s.Dir, "type.ttc"), Recipe: all}},
		Entries: []edit.Entry{{File: path.Join(s.Dir, "buoy.gradle"), Syntax: source.Lines{}.Name(), Place: source.Block("buoy"), Value: `type("type.ttc")`}},
		Code:    []platform.File{platform.Code(path.Join(s.Dir, "Type.java"), []byte(class))},
	}, nil
}

func (s *buoySite) Uses() (string, []platform.Use) {
	return s.Dir, []platform.Use{{Languages: []*language.Language{language.Java}, Pattern: lazy.Regexp(`Buoy\.face\("([^"\n]*)"\)`)}}
}

func (s *buoySite) Answer(q platform.Question) platform.Answer {
	return platform.AnswerFace(q, platform.AnyFonts)
}
