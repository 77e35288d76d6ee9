// Package cli holds the commands, one file each, and all that knows a terminal:
// flags, tables, colour, progress and exit codes.
package cli

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"notaria/internal/change"
	"notaria/internal/disk"
	"notaria/internal/document"
	"notaria/internal/fault"
	"notaria/internal/notary"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
	"notaria/internal/terminal"
	"notaria/internal/view"
)

// Exit codes.
const (
	exitDone     = 0 // done
	exitFindings = 1 // findings or differences
	exitUse      = 2 // wrong use
	exitFailed   = 3 // could not: I/O, bad input
)

// gcPercent lets a short-lived program collect its garbage less often: reading
// thousands of fonts leaves some 20 MiB of it.
const gcPercent = 250

// softMemory is how much memory is taken before garbage is collected more often, in bytes: a hostile
// project of a few files would take a third more otherwise.
const softMemory = 192 << 20

// app is one run of the program.
type app struct {
	view.Page
	in      io.Reader
	alarm   io.Writer // what errors and progress go to
	json    bool
	color   string
	project string
	discard bool // of register: give up what an interrupted run began
}

// codeError ends a run with an exit code; told means that the user has been
// told already.
type codeError struct {
	code int
	err  error
}

func (e *codeError) Error() string {
	if e.err == nil {
		return ""
	}
	return e.err.Error()
}

func (e *codeError) Unwrap() error { return e.err }

// findings ends a run whose answer was printed and is not "all well".
var findings = &codeError{code: exitFindings}

func wrongUse(format string, args ...any) error {
	return &codeError{exitUse, fmt.Errorf(format, args...)}
}

// Execute runs the program and returns its exit code.
func Execute(args []string, in io.Reader, out, errOut io.Writer) int {
	debug.SetGCPercent(gcPercent)
	debug.SetMemoryLimit(softMemory)
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	context.AfterFunc(ctx, stop) // a second signal ends it at once
	defer stop()
	code := make(chan int, 1)
	go func() { code <- run(ctx, args, in, out, errOut) }()
	select {
	case c := <-code:
		return c
	case <-ctx.Done():
	}
	return ended(code, errOut)
}

// grace is how long a run may take to end by itself after a signal.
const grace = 150 * time.Millisecond

// ended waits until a run that was told to end does so, or can be left: it may be far within one font, or one text. Files
// that are being changed come first; nothing else that it does needs an end.
func ended(code <-chan int, errOut io.Writer) int {
	for {
		select {
		case c := <-code:
			return c
		case <-time.After(grace):
			if !change.Applying() {
				fmt.Fprintln(errOut, "notaria: ended by a signal")
				return exitFailed
			}
		}
	}
}

func run(ctx context.Context, args []string, in io.Reader, out, errOut io.Writer) int {
	a := &app{Page: view.Page{Lines: bufio.NewWriterSize(out, 64<<10), Screen: out}, in: in, alarm: errOut}
	a.Out = &terminal.Output{W: a.Lines, Paint: &a.Paint, Fold: terminal.Narrow(out)}
	a.Err = &terminal.Output{W: errOut, Paint: &a.Paint, Fold: terminal.Narrow(errOut)}
	root := a.root()
	if len(args) > 0 && (args[0] == cobra.ShellCompRequestCmd || args[0] == cobra.ShellCompNoDescRequestCmd) {
		a.completions(root)
	}
	root.SetArgs(args)
	root.SetOut(a.Out)
	root.SetErr(a.Err)
	err := root.ExecuteContext(ctx)
	code := exitDone
	var coded *codeError
	switch {
	case errors.As(err, &coded):
		if code = coded.code; coded.err != nil {
			a.json = a.json || slices.Contains(args, "--json") // the flags may be what is wrong
			a.failed(code, coded)
		}
	case errors.As(err, new(*fault.UseError)):
		code = exitUse
		a.json = a.json || slices.Contains(args, "--json")
		a.failed(code, err)
	case err != nil && strings.HasPrefix(err.Error(), "unknown command"):
		code = exitUse
		a.json = a.json || slices.Contains(args, "--json")
		a.failed(code, noCommand(root, err))
	case err != nil:
		code = exitFailed
		a.failed(code, err)
	}
	if flush := a.Lines.Flush(); flush != nil && code == exitDone {
		code = exitFailed
		fmt.Fprintln(a.Err, "notaria: writing the answer: "+flush.Error())
	}
	return code
}

// Commands are all commands, to be described: of man pages and the like.
func Commands() *cobra.Command { return (&app{}).root() }

func (a *app) root() *cobra.Command {
	root := &cobra.Command{
		Use:   "notaria",
		Short: "Make an app really use the fonts that you downloaded",
		Long: `Notaria reads what each font is called, puts the files where each platform
looks, writes the entries and the code that the platform wants, and proves that
it worked.

  notaria names   fonts.zip                       what is each face called?
  notaria enrol   fonts.zip --styles regular,bold  take faces into the project
  notaria register --dry-run                       see what would change
  notaria register                                 make every app use them
  notaria check                                    prove it, or say what is wrong`,
		Version:       registry.Version,
		SilenceErrors: true,
		SilenceUsage:  true,
		PersistentPreRunE: func(*cobra.Command, []string) error {
			switch a.color {
			case "auto", "always", "never":
			default:
				return wrongUse("--color: expected auto, always or never, found %q", a.color)
			}
			a.Paint = terminal.NewPainter(a.color, a.Screen)
			return nil
		},
	}
	root.SetFlagErrorFunc(func(c *cobra.Command, err error) error {
		return wrongUse("%w; see: %s --help", err, c.CommandPath())
	})
	p := root.PersistentFlags()
	p.BoolVar(&a.json, "json", false, "print one JSON document instead of text")
	p.StringVar(&a.color, "color", "auto", "`when` to colour the text: auto, always or never")
	p.StringVar(&a.project, "project", "", "the project's `folder` (default: the nearest upward with a notaria.toml, else this one)")
	root.AddCommand(a.names(), a.survey(), a.enrol(), a.register(), a.check(), a.usage(), a.swap(), a.trace(), a.strike(), a.targets(), a.schema(), a.specimen(), a.measure(), a.compare(), a.label(), a.credits(), a.headers(), a.report(), a.tokens(), a.trim(), a.weigh(), a.pixel(), a.demo())
	root.CompletionOptions.HiddenDefaultCmd = true
	showsVersion(root)
	for _, c := range root.Commands() {
		c.DisableFlagsInUseLine = true
	}
	explained(root)
	return root
}

// noCommand says that there is no such command, and which one may be meant.
func noCommand(root *cobra.Command, err error) error {
	typed := strings.SplitN(err.Error(), `"`, 3)[1]
	hint := ""
	if near := root.SuggestionsFor(typed); len(near) > 0 {
		hint = "did you mean " + strings.Join(near, " or ") + "? "
	}
	return fmt.Errorf("unknown command: expected one of Notaria's, found %q; %ssee: notaria --help", typed, hint)
}

// atMost refuses more arguments than a command has.
func atMost(n int) cobra.PositionalArgs {
	return func(c *cobra.Command, args []string) error {
		if len(args) > n {
			return wrongUse("%s: expected at most %s, found %d; see: %s --help", c.Name(), plural(n, "argument"), len(args), c.CommandPath())
		}
		return nil
	}
}

// atLeast refuses a command without arguments; what names them.
func atLeast(what string) cobra.PositionalArgs {
	return func(c *cobra.Command, args []string) error {
		if len(args) == 0 {
			return wrongUse("%s: expected %s, found nothing; see: %s --help", c.Name(), what, c.CommandPath())
		}
		return nil
	}
}

func noArgs(c *cobra.Command, args []string) error {
	if len(args) > 0 {
		return wrongUse("%s: expected no arguments, found %q; see: %s --help", c.Name(), args[0], c.CommandPath())
	}
	return nil
}

// projectRoot is the folder that the flags name, or the nearest upward.
func (a *app) projectRoot() (string, error) {
	if a.project != "" {
		return a.project, nil
	}
	here, err := os.Getwd()
	if err != nil {
		return "", err
	}
	root, foreign, err := notary.FindRoot(here)
	if foreign != "" && root != foreign {
		return "", &fault.UseError{Err: &fault.Error{File: filepath.Join(foreign, registry.FileName), Expected: "a registry of this user's", Found: "another user's",
			Cure: "if you trust it, name its folder: --project " + foreign + "; if this folder is a project of its own: --project ."}}
	}
	return root, err
}

// look loads the project that the flags name to look at it.
func (a *app) look() (*notary.Project, error) {
	root, err := a.projectRoot()
	if err != nil {
		return nil, err
	}
	p, err := notary.Look(root, all.Platforms)
	if err != nil {
		return nil, err
	}
	if p.Interrupted {
		a.Note("an interrupted run was found: run notaria register")
	}
	a.leftOvers(p)
	return known(p)
}

// open loads the project that the flags name to change it; a dry run only looks at it.
func (a *app) open(ctx context.Context, dry bool) (*notary.Project, error) {
	if dry {
		return a.look()
	}
	root, err := a.projectRoot()
	if err != nil {
		return nil, err
	}
	told := false
	tell := func(who string) {
		if !told {
			a.Note("another run of Notaria is at work on this project (%s); waiting until it is done", who)
		}
		told = true
	}
	p, err := notary.Open(ctx, root, all.Platforms, notary.Opening{Tell: tell, Discard: a.discard})
	if err != nil {
		return nil, err
	}
	if p.Mended {
		a.Note("an earlier run was interrupted; it was completed, or rolled back, first")
	}
	for _, j := range p.Discarded {
		a.Note("the journal of an interrupted run was moved to %s", j)
	}
	a.leftOvers(p)
	return known(p)
}

func known(p *notary.Project) (*notary.Project, error) {
	err := p.Known(all.Platforms)
	if err != nil {
		p.Close()
		return nil, err
	}
	return p, nil
}

// leftOvers tells of what looks like the business of a run that ended early, and that
// does not count: anybody could have put it there.
func (a *app) leftOvers(p *notary.Project) {
	if !p.Dir.Missing(change.Abandoned) {
		a.Note("%s: a journal in a project counts for nothing and is left alone; run notaria register --discard-journal to move it away", change.Abandoned)
	}
	for _, dir := range p.Tree.Closed {
		a.Note("%s: this folder may not be read; an app in it is not seen", dir)
	}
	if left := p.Tree.Left; len(left) > 0 && !p.Interrupted {
		names := strings.Join(left[:min(len(left), 3)], ", ")
		if len(left) > 3 {
			names += fmt.Sprintf(" and %d more", len(left)-3)
		}
		a.Note("%s: left by a run that ended early, and unknown here; what a file with \"old\" in its name holds may be the last copy: look, then remove", names)
	}
}

// openEnrolled loads a project that must hold faces already, or what strike had to leave of them.
func (a *app) openEnrolled(ctx context.Context, dry bool) (*notary.Project, error) {
	p, err := a.open(ctx, dry)
	if err == nil && !p.Found && len(p.Ledger.Files)+len(p.Ledger.Entries) == 0 {
		p.Close()
		return nil, &codeError{exitUse, &fault.Error{File: p.Root, Expected: "a project with notaria.toml", Found: "none here or upward", Cure: "enrol a font first: notaria enrol PATH"}}
	}
	return p, err
}

// input reads a file that an option names, - for the standard input: a regular file of at most most bytes. A pipe or
// a device would wait for ever, and is refused.
func (a *app) input(name, what string, most int64) ([]byte, error) {
	if name != "-" {
		text, err := disk.ReadFile(name, most)
		if errors.Is(err, fs.ErrNotExist) {
			return nil, &fault.UseError{Err: &fault.Error{File: name, Expected: what, Found: "no file", Cure: "check the path; - means the standard input"}}
		}
		return text, err
	}
	text, err := io.ReadAll(io.LimitReader(a.in, most+1))
	if err == nil && int64(len(text)) > most {
		return nil, &fault.UseError{Err: &fault.Error{File: "the standard input", Expected: fmt.Sprintf("%s of at most %s", what, disk.Size(most)), Found: "more", Cure: "give the part of it that is meant"}}
	}
	return text, err
}

// write writes files that were asked for, as a part of the project around where they are in it.
func (a *app) write(ctx context.Context, overwrite bool, files ...change.Output) error {
	root := a.project
	if root == "" {
		here, err := os.Getwd()
		if err != nil {
			return err
		}
		if root, _, err = notary.FindRoot(here); err != nil {
			return err
		}
	}
	w := change.Writer{Project: root, Overwrite: overwrite, Tell: func(who string) {
		a.Note("another run of Notaria is at work there (%s); waiting until it is done", who)
	}}
	return w.Write(ctx, files...)
}

// printJSON writes the one document of a --json run.
func (a *app) printJSON(doc any) error { return document.Write(a.Lines, doc) }
