package subject

import (
	"context"

	"notaria/internal/fault"
	"notaria/internal/specimen"
)

// Views of subjects.
const (
	SideBySide = "side-by-side"
	InDepth    = "in-depth"
	Roles      = "roles"
)

// Views lists them.
var Views = []string{SideBySide, InDepth, Roles}

// View is the view that is asked for, or the one that suits the subjects: roles as roles, one family in
// depth, all else side by side. A view that has nothing to show is an error.
func (s Subjects) View(asked string) (string, error) {
	families := map[string]bool{}
	for _, f := range s.Faces {
		families[f.Family] = true
	}
	for _, r := range s.Roles {
		if asked == InDepth {
			families[r.Face.Family] = true
		}
	}
	switch {
	case asked == Roles && len(s.Roles) == 0:
		return "", fault.Form("expected roles for --view roles, found faces; name roles of notaria.toml, or nothing for all of them")
	case asked == InDepth && len(families) > 1:
		return "", fault.Form("expected the faces of one family for --view in-depth, found %d families; name one", len(families))
	case asked != "":
		return asked, nil
	case len(s.Roles) > 0:
		return Roles, nil
	case len(families) == 1:
		return InDepth, nil
	}
	return SideBySide, nil
}

// Title is what stands above a view.
func (s Subjects) Title(view string) string {
	switch view {
	case Roles:
		return "Roles"
	case InDepth:
		return s.All()[0].Family
	}
	return "Candidates"
}

// Draw draws a view, and hands each page over when it is full.
func (s Subjects) Draw(ctx context.Context, view string, o specimen.Options, use func(*specimen.Drawing) error) error {
	var d *specimen.Drawing
	var err error
	switch view {
	case Roles:
		d, err = specimen.Roles(s.Roles, o)
	case InDepth:
		d, err = specimen.InDepth(ctx, s.All(), o)
	default:
		return specimen.SideBySide(ctx, s.All(), o, use)
	}
	if err != nil {
		return err
	}
	return use(d)
}

// Page is a view as one HTML file.
func (s Subjects) Page(ctx context.Context, view string, o specimen.Options) ([]byte, error) {
	switch view {
	case Roles:
		return specimen.RolesPage(ctx, s.Roles, o)
	case InDepth:
		return specimen.FamilyPage(ctx, s.All(), o)
	}
	return specimen.Page(ctx, s.All(), o)
}
