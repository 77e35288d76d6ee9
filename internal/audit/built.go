package audit

import (
	"context"
	"io/fs"
	"path/filepath"
	"slices"

	"notaria/internal/disk"
	"notaria/internal/fault"
	"notaria/internal/notary"
	"notaria/internal/platform"
)

// mostBuilt is how many files of an output are looked at.
const mostBuilt = 200_000

// A Built is what a bundler, or a program that makes pages, put out, as it was judged.
type Built struct {
	Folder   string
	Pages    int
	Sheets   int
	Rules    int      // of @font-face
	Fonts    []string // that rules name, by their paths
	Findings []Finding
}

// ofBuilt are the rules of what is wrong with an output.
var ofBuilt = map[platform.FlawKind]string{platform.NoSuchFile: UnknownResource, platform.WrongForm: WrongForm, platform.Broken: FontBroken, platform.Heavier: FontHeavier,
	platform.Twice: SameTwice, platform.Wasted: PreloadWasted, platform.Misspelt: UnknownName}

// CheckBuilt judges a folder, or one page with what lies beside it, that a build put out. The originals of the project, if
// there is one, say how large fonts were.
func CheckBuilt(ctx context.Context, at string, p *notary.Project, by platform.Prover) (*Built, error) {
	dir, page := at, ""
	if slices.Contains([]string{".html", ".htm"}, filepath.Ext(at)) {
		dir, page = filepath.Dir(at), filepath.Base(at)
	}
	folder, err := disk.Open(dir)
	if err != nil {
		return nil, &fault.Error{File: at, Expected: "a page, or a folder that a build put out", Found: "none", Cure: "build first, then name its folder: dist, build, out, _site …"}
	}
	defer folder.Close()
	if page != "" && folder.Missing(page) {
		return nil, &fault.Error{File: at, Expected: "a page that a build put out", Found: "none", Cure: "check the path"}
	}
	out := &output{folder: folder}
	if err := out.list(ctx); err != nil {
		return nil, err
	}
	found := by.Prove(out, page, originsOf(p))
	b := &Built{Folder: folder.Path(), Pages: found.Pages, Sheets: found.Sheets, Rules: found.Rules, Fonts: found.Fonts}
	for _, f := range found.Flaws {
		severity := severityOf(ofBuilt[f.Kind])
		if f.Kind == platform.WrongForm {
			severity = Warning // newer browsers look into the file
		}
		b.Findings = append(b.Findings, Finding{Rule: ofBuilt[f.Kind], Severity: severity, Target: "web", Site: ".", File: f.File, Line: f.Line, Message: f.Message, Cause: f.Cause, Cure: f.Cure})
	}
	if page == "" && b.Pages+b.Sheets == 0 {
		return nil, &fault.Error{File: at, Expected: "pages or style sheets that a build put out", Found: "none", Cure: "build first, then name its folder: dist, build, out, _site …"}
	}
	return b, ctx.Err()
}

func severityOf(id string) Severity {
	return Rules[slices.IndexFunc(Rules, func(r Rule) bool { return r.ID == id })].Severity
}

// originsOf are the originals of a project's faces; none, if there is no project.
func originsOf(p *notary.Project) []platform.Origin {
	var list []platform.Origin
	if p == nil {
		return nil
	}
	for _, f := range p.Registry.Faces {
		if info, err := p.Dir.Lstat(f.File); err == nil {
			list = append(list, platform.Origin{ID: f.Name, Size: info.Size()})
		}
	}
	return list
}

// output is a folder of files.
type output struct {
	folder *disk.Folder
	files  []string
}

func (o *output) list(ctx context.Context) error {
	return o.folder.Walk(func(name string, d fs.DirEntry, err error) error {
		switch {
		case err != nil && name == ".":
			return err
		case err != nil:
			return nil
		case d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git"):
			return fs.SkipDir
		case d.Type() == 0:
			o.files = append(o.files, name)
		}
		if len(o.files) > mostBuilt {
			return &fault.Error{File: o.folder.Path(), Expected: "at most 200000 files", Found: "more", Cure: "name the folder of one site"}
		}
		return ctx.Err()
	})
}

func (o *output) Files() []string { return o.files }

func (o *output) Read(name string, most int64) ([]byte, bool) {
	b, err := o.folder.Read(name, most)
	return b, err == nil
}
