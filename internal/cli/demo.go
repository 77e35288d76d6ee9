package cli

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"notaria/internal/skerry"
)

func (a *app) demo() *cobra.Command {
	fresh := false
	c := &cobra.Command{
		Use:   "demo [FOLDER]",
		Short: "Show the whole story on a sample project",
		Long: `Put the sample project of Skerry Ferries into FOLDER (a new temporary one if none
is named) and run the whole story on it: a download is taken in and registered,
something is broken on purpose, found and mended. Needs nothing but this program.

With --fresh the project is put there as it is before Notaria, and nothing is run:
to try the commands yourself.`,
		Example: "  notaria demo\n  notaria demo --fresh ferries",
		Args:    atMost(1),
		RunE: func(c *cobra.Command, args []string) error {
			dir := ""
			if len(args) == 1 {
				dir = args[0]
			}
			return a.runDemo(c.Context(), dir, fresh)
		},
	}
	c.Flags().BoolVar(&fresh, "fresh", false, "put the sample project there as it is before Notaria, and run nothing")
	return c
}

// A scene is a step of the demo: what is printed before it, then what is run or done. Of
// the output most lines are shown, so that the story stays short however many apps the
// sample has.
type scene struct {
	title string
	run   []string                // a command's arguments
	act   func(dir string) string // something done by hand; what it prints
	exit  int
	from  string // what is in the first line of output that is shown
	most  int    // lines that are shown
}

var story = []scene{
	{title: "What is in the download, and what is each face called?", run: []string{"names", skerry.ArchiveName, "--for", "apple"}, most: 6},
	{title: "Take the two styles that the apps need into the project.", run: []string{"enrol", skerry.ArchiveName, "--styles", "regular,bold"}, most: 3},
	{title: "Which apps are there?", run: []string{"survey"}, from: " apps", most: 2},
	{title: "What would change in the deck game? (Exit code 1 means: something.)", run: []string{"register", "--dry-run", "--only", "deckgame"}, exit: exitFindings, most: 4},
	{title: "Make these changes in every app.", run: []string{"register"}, most: 3},
	{title: "One line in each app gives a text its role: usage says which.", run: []string{"usage", "body", "--only", "ios,deckgame"}, most: 6},
	{title: "The developers write these lines.", act: useIt},
	{title: "Prove it.", run: []string{"check", "--only", "ios,deckgame"}, most: 2},
	{title: "Now two mistakes that cost people hours, made by hand:", act: skerry.Break},
	{title: "No build reports either of them. Notaria does. (Exit code 1.)", run: []string{"check", "--only", "ios"}, exit: exitFindings, from: "not-in-build-phase", most: 10},
	{title: "Correct both: the name by hand as the cure says, the build phase by register.", act: skerry.Mend},
	{title: "A role is more than a face: the heading gets lines, colour and an outline.", act: skerry.Dress},
	{title: "The departure board on the jetty draws pixels. Its two faces come in.", run: []string{"enrol", skerry.BoardArchiveName}, most: 2},
	{act: skerry.Light},
	{title: "Every app gets it as its platform writes it; what one lacks is reported.", run: []string{"register"}, from: "Not supported here", most: 2},
	{title: "Look before flashing; and what has to be cleared from one minute to the next?", run: []string{"pixel", "departure", "--panel", "128x64", "--put", "2,36 07:40", "--put", "quay@4,58 Quay 2  Öland", "--dots", "--between", "07:00..07:59"}, from: "rectangle", most: 12},
	{title: "And once more: nothing left to do.", run: []string{"register", "--dry-run"}, most: 2},
}

func (a *app) runDemo(ctx context.Context, dir string, fresh bool) error {
	if a.json {
		return wrongUse("demo: it prints a story for people; there is no JSON of it")
	}
	var err error
	if dir == "" {
		if dir, err = os.MkdirTemp("", "skerry-ferries-"); err != nil {
			return err
		}
	}
	if dir, err = filepath.Abs(dir); err != nil {
		return err
	}
	if err := skerry.Place(dir); err != nil {
		return err
	}
	if fresh {
		a.Say("The sample project, the apps of Skerry Ferries before Notaria, is in\n  %s", dir)
		a.Say("\nNext, in that folder: notaria names %s\n  notaria enrol %s --styles regular,bold\n  notaria register", skerry.ArchiveName, skerry.ArchiveName)
		return nil
	}
	here, err := os.Getwd()
	if err != nil {
		return err
	}
	if err := os.Chdir(dir); err != nil {
		return err
	}
	defer func() { _ = os.Chdir(here) }()
	a.Say("The sample project, the apps of Skerry Ferries, is in\n  %s", dir)
	for _, s := range story {
		if err := a.play(ctx, dir, s); err != nil {
			return err
		}
	}
	a.Say("\nThe project stays in %s\nLook around, and try: notaria strike SkerrySans-Bold --roles-to SkerrySans-Regular", dir)
	return nil
}

func (a *app) play(ctx context.Context, dir string, s scene) error {
	if s.title != "" {
		a.Say("")
		a.folded(a.Paint.Strong("# " + s.title))
	}
	if s.act != nil {
		for _, l := range strings.Split(s.act(dir), "\n") {
			a.folded(l)
		}
		return nil
	}
	args := append([]string{"--color", "never"}, s.run...)
	if a.Paint {
		args[1] = "always"
	}
	var out bytes.Buffer
	if code := run(ctx, args, a.in, &out, a.Err); code != s.exit {
		return fmt.Errorf("the demo expected exit code %d of notaria %s, found %d; report this\n%s", s.exit, strings.Join(s.run, " "), code, out.String())
	}
	a.excerpt(s, out.String())
	return nil
}

// folded prints a line, broken between words where it is wider than the terminal.
func (a *app) folded(l string) {
	indent := strings.Repeat(" ", len(l)-len(strings.TrimLeft(l, " "))+4)
	for room := columns(a.Screen); !a.Paint && len(l) > room; {
		at := strings.LastIndexByte(l[:room], ' ')
		if at <= len(indent) {
			break
		}
		a.Say("%s", l[:at])
		l = indent + l[at+1:]
	}
	a.Say("%s", l)
}

// excerpt prints a scene's part of an output, and how much is left out.
func (a *app) excerpt(s scene, out string) {
	lines := strings.Split(strings.TrimRight(out, "\n"), "\n")
	from := max(0, slices.IndexFunc(lines, func(l string) bool { return strings.Contains(l, s.from) }))
	to := min(from+s.most, len(lines))
	command := a.Paint.Place("$ notaria " + strings.Join(s.run, " "))
	if left := from + len(lines) - to; left > 0 {
		command += a.Paint.Faint(fmt.Sprintf("  (%s not shown here)", plural(left, "line")))
	}
	a.folded(command)
	for _, l := range lines[from:to] {
		a.folded(l)
	}
}

// useIt writes a line into the code of each app.
func useIt(dir string) string {
	files, err := skerry.Use(dir)
	if err != nil {
		return err.Error()
	}
	return fmt.Sprintf("  %s and %d more", strings.Join(files[:2], ", "), len(files)-2)
}
