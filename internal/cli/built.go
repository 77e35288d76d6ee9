package cli

import (
	"context"

	"notaria/internal/audit"
	"notaria/internal/document"
)

// checkPage judges what a build put out. A project is not needed; where there is one, its originals say how large fonts were.
func (a *app) checkPage(ctx context.Context, opt checkOptions) error {
	p, by, err := a.served()
	if err != nil {
		return err
	}
	if p != nil {
		defer p.Close()
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
