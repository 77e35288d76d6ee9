package cli

import (
	"context"

	"notaria/internal/audit"
	"notaria/internal/document"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
)

// checkPage judges what a build put out. A project is not needed; where there is one, its originals say how large fonts were.
func (a *app) checkPage(ctx context.Context, opt checkOptions) error {
	var p *notary.Project
	if root, err := a.projectRoot(); err == nil {
		if p, err = notary.Look(root, all.Platforms); err != nil {
			return err
		}
		defer p.Close()
	}
	var by platform.Prover
	for _, t := range all.Platforms {
		if one, ok := t.(platform.Prover); ok {
			by = one
		}
	}
	b, err := audit.CheckBuilt(ctx, opt.page, p, by)
	if err != nil {
		return err
	}
	if a.json {
		err = a.printJSON(document.NewBuilt(b))
	} else {
		a.Built(b)
	}
	return a.verdict(err, b.Findings, opt.failOn)
}
