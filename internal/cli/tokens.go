package cli

import (
	"context"
	"fmt"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/tokens"
)

func (a *app) tokens() *cobra.Command {
	from, out := "", ""
	dry, overwrite := false, false
	c := &cobra.Command{
		Use:   "tokens [flags]",
		Short: "Write the project's roles as design tokens, or take them from there",
		Long: `Write the roles of notaria.toml as typography tokens in the format of the Design Tokens
Community Group, or take what a designer's file says into notaria.toml: face (by family
and weight), size, line height, tracking, and the colour token of the same name. Roles
that the file does not name stay; comments stay. Lengths are pixels, or rem of 16 pixels.
A designer's file that --out names keeps all its other tokens, in their bytes.
Exit code 1 says that a token fits no enrolled face, or could not be read.`,
		Example: "  notaria tokens --out design.tokens.json\n  notaria tokens --from design.tokens.json --dry-run\n  notaria tokens --from design.tokens.json && notaria register",
		Args:    noArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			switch {
			case from != "" && out != "":
				return wrongUse("tokens: expected --from or --out, found both")
			case overwrite && out == "":
				return wrongUse("tokens: expected --out with --overwrite")
			case dry && from == "":
				return wrongUse("tokens: expected --from with --dry-run")
			case from != "":
				return a.takeTokens(c.Context(), from, dry)
			}
			return a.writeTokens(c.Context(), out, overwrite)
		},
	}
	f := c.Flags()
	f.StringVar(&from, "from", "", "take tokens from a `file` into notaria.toml; - for the standard input")
	f.StringVar(&out, "out", "", "write into a `file`")
	f.BoolVar(&dry, "dry-run", false, "show what would change, and change nothing")
	f.BoolVar(&overwrite, "overwrite", false, "begin the file anew, instead of putting the roles among its tokens")
	return c
}

func (a *app) writeTokens(ctx context.Context, out string, overwrite bool) error {
	p, err := a.openEnrolled(ctx, true)
	if err != nil {
		return err
	}
	defer p.Close()
	list, err := p.Tokens()
	if err != nil {
		return err
	}
	text, err := tokens.Write(list)
	if err != nil {
		return err
	}
	if out == "" {
		_, err = a.Lines.Write(text)
		return err
	}
	merged := change.Output{Name: out, Make: func(old []byte) ([]byte, error) {
		if old == nil || overwrite {
			return text, nil
		}
		return tokens.Merge(out, old, list)
	}}
	if err := a.write(ctx, overwrite, merged); err != nil {
		return err
	}
	if a.json {
		return a.printJSON(document.NewTokens(out, len(list), nil, nil))
	}
	a.Say("%s %s  %s", a.Paint.Good("wrote"), a.Paint.Place(cell(out)), plural(len(list), "role"))
	return nil
}

func (a *app) takeTokens(ctx context.Context, from string, dry bool) error {
	text, err := a.input(from, "a file of tokens", tokens.Largest)
	if err != nil {
		return err
	}
	list, problems, err := tokens.Read(text)
	if err != nil {
		return fault.Of(from, "design tokens", err, "export the tokens again in the format of the Design Tokens Community Group")
	}
	p, err := a.openEnrolled(ctx, dry)
	if err != nil {
		return err
	}
	defer p.Close()
	changes, skipped, set, err := p.TakeTokens(list)
	if err != nil {
		return err
	}
	skipped = append(problems, skipped...)
	if !dry {
		if err := p.Apply(ctx, set); err != nil {
			return err
		}
	}
	if a.json {
		err = a.printJSON(document.NewTokens(from, len(list), changes, skipped))
	} else {
		for _, c := range changes {
			was := ""
			if c.From != "" {
				was = c.From + " -> "
			}
			a.Say("%s  %-12s %s%s", a.Paint.Strong(fmt.Sprintf("%-20s", cell(c.Role))), c.Key, cell(was), cell(c.To))
		}
		for _, s := range skipped {
			a.Say("%s %s", a.Paint.Warn("skipped"), cell(s))
		}
		switch {
		case len(changes) == 0:
			a.Say("Nothing to do: notaria.toml says the same.")
		case dry:
			a.Say("\nNothing was changed.")
		default:
			a.Say("\nNext: notaria register")
		}
	}
	if err == nil && (len(skipped) > 0 || dry && len(changes) > 0) {
		return findings
	}
	return err
}
