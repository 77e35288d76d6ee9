package cli

import (
	"context"

	"github.com/spf13/cobra"

	"notaria/docs/schema"
	"notaria/internal/registry"
)

// tomlSchema is the name of the schema of notaria.toml.
const tomlSchema = "toml"

func (a *app) schema() *cobra.Command {
	var editors, dry bool
	c := &cobra.Command{
		Use:   "schema [NAME]",
		Short: "Print the JSON Schema of notaria.toml, of the ledger, or of a document of --json",
		Long: `Print a JSON Schema (draft 7): "toml" is the one of notaria.toml, "ledger" the one of
notaria.ledger.json, and each other one has the name of the document that --json
prints. Without NAME the names are listed.

With --for-editors the schema of notaria.toml is written beside it, and its first line
names it: editors that know TOML then complete its keys, and mark what is wrong.`,
		Example: "  notaria schema\n  notaria schema check > check.schema.json\n  notaria schema toml --for-editors",
		Args:    atMost(1),
		RunE: func(c *cobra.Command, args []string) error {
			if editors && (len(args) == 0 || args[0] != tomlSchema) {
				return wrongUse("schema: expected the name %s with --for-editors", tomlSchema)
			}
			if dry && !editors {
				return wrongUse("schema: expected --dry-run with --for-editors, which writes files")
			}
			if a.json && (len(args) == 0 || editors) {
				return wrongUse("schema: expected a NAME alone with --json: a schema is JSON already, and neither the list nor --for-editors has a document")
			}
			if len(args) == 0 {
				return a.listSchemas()
			}
			text, ok := schema.Text(args[0])
			switch {
			case !ok:
				return wrongUse("schema: expected the name of a schema, found %q; %s", args[0], registry.Instead(args[0], schema.Names(), ""))
			case editors:
				return a.schemaForEditors(c.Context(), text, dry)
			}
			_, err := a.Out.Write(text)
			return err
		},
	}
	c.Flags().BoolVar(&editors, "for-editors", false, "write the schema beside notaria.toml, and name it there")
	c.Flags().BoolVar(&dry, "dry-run", false, "print the changes as a diff, and change nothing")
	return c
}

func (a *app) listSchemas() error {
	for _, name := range schema.Names() {
		about := "what --json prints as notaria/" + name + "/1"
		switch name {
		case tomlSchema:
			about = registry.FileName
		case "ledger":
			about = registry.LedgerName
		case "known":
			about = "notaria.known.json, of check --record-known"
		}
		a.Say("%-10s %s", name, about)
	}
	return nil
}

func (a *app) schemaForEditors(ctx context.Context, text []byte, dry bool) error {
	p, err := a.openEnrolled(ctx, dry)
	if err != nil {
		return err
	}
	defer p.Close()
	set, err := p.ForEditors(text)
	if err != nil {
		return err
	}
	if dry {
		if err := set.Diff(a.DiffTo()); err != nil || set.Empty() {
			return err
		}
		return findings
	}
	if err := p.Apply(ctx, set); err != nil {
		return err
	}
	for _, f := range set.Files {
		a.Say("%-9s %s", f.Kind(), f.Path)
	}
	if set.Empty() {
		a.Say("%s is there, and %s names it", registry.SchemaName, registry.FileName)
	}
	return nil
}
