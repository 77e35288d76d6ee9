package audit

import (
	"context"
	"slices"

	"notaria/internal/fault"
	"notaria/internal/notary"
	"notaria/internal/platform"
)

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
	platform.Twice: SameTwice, platform.Wasted: PreloadWasted, platform.Misspelt: UnknownName, platform.Blocked: FontBlocked, platform.OtherHash: IntegrityUnlike}

// CheckBuilt judges a folder, or one page with what lies beside it, that a build put out. The originals of the project, if
// there is one, say how large fonts were.
func CheckBuilt(ctx context.Context, at string, p *notary.Project, by platform.Prover) (*Built, error) {
	out, err := notary.OpenOutput(ctx, at)
	if err != nil {
		return nil, err
	}
	defer out.Close()
	found := by.Prove(out, out.Page, p.Origins())
	b := &Built{Folder: out.Path(), Pages: found.Pages, Sheets: found.Sheets, Rules: found.Rules, Fonts: found.Fonts}
	for _, f := range found.Flaws {
		severity := severityOf(ofBuilt[f.Kind])
		if f.Kind == platform.WrongForm {
			severity = Warning // newer browsers look into the file
		}
		b.Findings = append(b.Findings, Finding{Rule: ofBuilt[f.Kind], Severity: severity, Target: "web", Site: ".", File: f.File, Line: f.Line, Message: f.Message, Cause: f.Cause, Cure: f.Cure})
	}
	if out.Page == "" && b.Pages+b.Sheets == 0 {
		return nil, &fault.Error{File: at, Expected: "pages or style sheets that a build put out", Found: "none", Cure: "build first, then name its folder: dist, build, out, _site …"}
	}
	return b, ctx.Err()
}

func severityOf(id string) Severity {
	return Rules[slices.IndexFunc(Rules, func(r Rule) bool { return r.ID == id })].Severity
}
