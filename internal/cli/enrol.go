package cli

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/choice"
	"notaria/internal/document"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/intake"
	"notaria/internal/language"
	"notaria/internal/notary"
	"notaria/internal/registry"
	"notaria/internal/terminal"
)

func (a *app) enrol() *cobra.Command {
	var choice choice.Faces
	var permitted []string
	var at map[string]string
	var dry, installed, fromApp bool
	c := &cobra.Command{
		Use:   "enrol PATH... [flags]",
		Short: "Take faces from files, folders or archives into the project",
		Long: `Take faces into the project: the originals are copied (never moved) into its type
folder under their PostScript names, the licence goes along, and notaria.toml
lists them. A second run changes nothing. A different file under a PostScript
name that is taken is a conflict, and nothing is overwritten.

--at enrols a static font of a variable file: at the values of its axes that you name, under
the name of that place. One file can be enrolled at several places. A role can also have a
weight, a width or axes of its own in notaria.toml.

--rename gives copies in apps another family name, and code that: many open licences keep a
font's name for unchanged copies (Reserved Font Name), and a font that is trimmed or pinned
is changed. The original keeps its name.`,
		Example: "  notaria enrol skerry-type.zip --styles regular,bold\n  notaria enrol SkerrySans-Light.ttf --role caption\n  notaria enrol variable-type.zip --at wght=600 --role heading\n  notaria enrol --from-app --dry-run",
		Args: func(c *cobra.Command, args []string) error {
			if fromApp && len(args) > 0 {
				return wrongUse("enrol: expected no PATH with --from-app, found %q", args[0])
			}
			if fromApp {
				return nil
			}
			return atLeast("a font file, a folder or an archive; with --installed a family of this machine")(c, args)
		},
		RunE: func(c *cobra.Command, args []string) error {
			choice.Permitted = map[string]string{}
			for _, p := range permitted {
				name, reason, ok := strings.Cut(p, "=")
				if reason = strings.TrimSpace(reason); !ok || name == "" || reason == "" {
					return wrongUse("enrol: expected NAME=REASON for --permitted, found %q", p)
				}
				choice.Permitted[name] = reason
			}
			if choice.Replace && (choice.As != "" || choice.MendNames || len(permitted) > 0 || at != nil || choice.Rename != "") {
				return wrongUse("enrol: expected --replace without --role, --mend-names, --at, --rename and --permitted: roles, places, names and permissions stay as they are")
			}
			if fromApp && (installed || choice.Replace || choice.Variable || at != nil || choice.Rename != "") {
				return wrongUse("enrol: expected --from-app without --installed, --replace, --variable, --at and --rename: the code says which faces are taken")
			}
			var err error
			if choice.At, err = placeOf("enrol", at); err != nil {
				return err
			}
			if fromApp {
				return a.enrolFromApp(c.Context(), choice, dry)
			}
			return a.runEnrol(c.Context(), args, choice, dry, installed)
		},
	}
	c.Flags().StringSliceVar(&choice.Styles, "styles", nil, "only these `styles`, by name: regular,bold")
	c.Flags().StringSliceVar(&choice.Families, "family", nil, "only these `families`")
	c.Flags().StringVar(&choice.As, "role", "", "the `role` that the one chosen face takes in the app's code")
	c.Flags().BoolVar(&choice.MendNames, "mend-names", false, "take a copy with a legal PostScript name of faces whose own does not work")
	c.Flags().BoolVar(&choice.Variable, "variable", false, "take a family's variable files where static files of it are beside them (else the static files)")
	c.Flags().StringToStringVar(&at, "at", nil, "of a variable file: enrol the static font at `values` of its axes, such as wght=700")
	c.Flags().StringVar(&choice.Rename, "rename", "", "give copies in apps this `family` name, where the licence reserves the font's own for unchanged ones")
	c.Flags().StringArrayVar(&permitted, "permitted", nil, "a face that forbids to embed it may be in apps: `NAME=REASON`, kept in notaria.toml")
	c.Flags().BoolVar(&choice.Replace, "replace", false, "let new editions take the place of enrolled faces of the same names, in every app")
	c.Flags().BoolVar(&installed, "installed", false, "take families of this machine, by their names instead of paths")
	c.Flags().BoolVar(&fromApp, "from-app", false, "take the faces that the code asks services and packages for, where their files are on this disk, and list the others")
	c.Flags().BoolVar(&dry, "dry-run", false, "show what would change, and change nothing")
	return c
}

func (a *app) runEnrol(ctx context.Context, paths []string, choice choice.Faces, dry, installed bool) error {
	bar := terminal.NewProgress(a.alarm, "reading fonts")
	haul, err := a.gather(ctx, paths, installed, intake.Options{Digest: true, Progress: bar.Step})
	bar.End()
	if err != nil {
		return err
	}
	if slices.ContainsFunc(haul.Problems, func(p face.Problem) bool { return p.Fatal }) {
		if !a.json {
			a.Problems(haul.Problems)
		}
		return &codeError{exitFailed, unread(haul.Problems)}
	}
	p, err := a.open(ctx, dry)
	if err != nil {
		return err
	}
	defer p.Close()
	e, err := p.Enrol(ctx, haul, choice)
	if err != nil {
		return err
	}
	editions, err := a.editions(ctx, p, e)
	if err != nil {
		return err
	}
	if !dry {
		if err := p.Apply(ctx, e.Set); err != nil {
			return err
		}
	}
	if a.json {
		err = a.printJSON(document.NewEnrol(p, e, haul.Problems, editions))
	} else if choice.Replace {
		err = a.printReplaced(p, e, editions, dry)
	} else {
		a.printEnrolment(p, e, haul, choice, dry)
		if installed && !e.Set.Empty() {
			a.Say("\n%s  a licence for this machine need not be one for apps, and no licence text came along: read it before you ship.", a.Paint.Warn("careful"))
		}
	}
	if err == nil && (dry && !e.Set.Empty() || e.Plan != nil && len(e.Plan.Refused) > 0) {
		return findings
	}
	return err
}

// tellGit says that git merges the ledger by lines from now on.
func (a *app) tellGit(p *notary.Project, set *change.Set) {
	if p.Tells(set) {
		a.Say("git       %-28s merges %s by lines", ".gitattributes", registry.LedgerName)
	}
}

func (a *app) printEnrolment(p *notary.Project, e *notary.Enrolment, haul intake.Haul, choice choice.Faces, dry bool) {
	t := terminal.Table{Head: []string{"", "face", "copied to"}}
	for _, k := range e.Taken {
		word := a.Paint.Good("enrolled")
		switch {
		case k.Had:
			word = "present "
		case dry:
			word = "would be"
		}
		name := strings.TrimSpace(k.Face.Family + " " + k.Face.Style)
		if name == "" {
			name = k.Face.PostScript
		}
		t.Rows = append(t.Rows, []string{word, cell(name), k.File})
	}
	for _, row := range t.Rows {
		a.Say("%s  %-28s %s", row[0], row[1], row[2])
	}
	for _, k := range e.Taken {
		if k.Mended {
			a.Say("mended    %-28s its own PostScript name does not work everywhere", k.Face.PostScript)
			if k.Reserved != "" {
				a.Say("%s   %-28s its licence reserves the name %s: a changed font may not be called so; ask the maker for a repaired edition", a.Paint.Warn("careful"), k.Face.PostScript, cell(k.Reserved))
			}
		}
	}
	for _, f := range e.Beside {
		if f.Variable {
			a.Say("static    %-28s not taken: static files of it are beside it (--variable takes it)", cell(f.Family)+" (variable)")
		} else {
			a.Say("variable  %-28s not taken: the variable file is beside it", cell(f.Family+" "+f.Style))
		}
	}
	a.tooMany(e, choice)
	for _, l := range e.Licences {
		a.Say("licence   %-28s %s", "copied too", l)
	}
	a.tellGit(p, e.Set)
	if len(e.Left) > 0 {
		var names []string
		for _, f := range e.Left {
			names = append(names, cell(f.Family+" "+f.Style))
		}
		a.Say("not taken %s", strings.Join(names, ", "))
	}
	if haul.Junk > 0 {
		a.Say("%s", a.Paint.Faint("ignored   "+plural(haul.Junk, "hidden or system file")))
	}
	a.Problems(stillOpen(haul.Problems, e))
	switch {
	case e.Set.Empty():
		a.Say("\nNothing to do: all of this is enrolled already.")
		return
	case dry:
		a.Say("\nNothing was changed.")
		return
	}
	for i, r := range e.Roles {
		a.Say("role      %-28s %s, %s pt", r, p.Registry.Roles[r].Face, language.Number(e.Sizes[i]))
	}
	a.Say("\nRoles and sizes are yours to change in %s.", registry.FileName)
	a.Say("Next: notaria register --dry-run")
}

// mostSilent is how many faces of a family are taken without a word, where nobody named their styles.
const mostSilent = 4

// tooMany says what a whole family weighs, for every app carries what is enrolled.
func (a *app) tooMany(e *notary.Enrolment, choice choice.Faces) {
	if len(choice.Styles) > 0 {
		return
	}
	var order []string
	count, bytes := map[string]int{}, map[string]int64{}
	for _, k := range e.Taken {
		if k.Had {
			continue
		}
		if count[k.Face.Family] == 0 {
			order = append(order, k.Face.Family)
		}
		count[k.Face.Family]++
		bytes[k.Face.Family] += k.Face.Bytes
	}
	for _, family := range order {
		if n := count[family]; n > mostSilent {
			a.Say("%s  %s of %s are taken, %s: every app will carry all of them. For fewer: --styles regular,bold", a.Paint.Warn("careful "), plural(n, "face"), cell(family), fmt.Sprintf("%.1f MB", float64(bytes[family])/1e6))
		}
	}
}

// unread says that nothing was enrolled, and because of which file.
func unread(list []face.Problem) error {
	first := list[slices.IndexFunc(list, func(p face.Problem) bool { return p.Fatal })]
	expected, found, ok := strings.Cut(strings.TrimPrefix(first.Message, "expected "), ", found ")
	if !ok {
		expected, found = "fonts that can be read", first.Message
	}
	return &fault.Error{File: first.File, Expected: expected, Found: found, Cure: "nothing was enrolled; leave out what cannot be read, or cure it"}
}

// stillOpen leaves out the problems that mending has cured.
func stillOpen(list []face.Problem, e *notary.Enrolment) []face.Problem {
	mended := map[string]bool{}
	for _, t := range e.Taken {
		mended[t.Face.File] = t.Mended
	}
	var out []face.Problem
	for _, p := range list {
		if !mended[p.File] || !face.Mends(p.Code) {
			out = append(out, p)
		}
	}
	return out
}
