// Releasing builds what people install: the program for each system and processor, in archives with its licence, man
// pages and completions for shells; packages of Linux distributions; sums, and a bill of materials. Everything follows
// from the commit: two builds give the same bytes.
//
//	scripts/release [--only OS/ARCH,…] [--out FOLDER] [--url ADDRESS] VERSION
package main

import (
	"flag"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"time"
)

// platforms are what is built.
var platforms = []string{"linux/amd64", "linux/arm64", "darwin/amd64", "darwin/arm64", "windows/amd64", "windows/arm64"}

// A release is what all parts are made of.
type release struct {
	version, commit string
	date            time.Time // of the commit
	root, out, work string
	url             string // where the archives will be found
	files           []string
	sums            map[string]string
}

func main() {
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, "release:", err)
		os.Exit(1)
	}
}

var semantic = regexp.MustCompile(`^\d+\.\d+\.\d+(?:-[0-9A-Za-z.]+)?$`)

func run() error {
	only := flag.String("only", strings.Join(platforms, ","), "the systems and processors, with commas")
	out := flag.String("out", "dist", "the folder for what is made")
	url := flag.String("url", "", "the address of the folder in which the archives will be found, for the descriptions of a tap and a bucket")
	flag.Parse()
	if flag.NArg() != 1 || !semantic.MatchString(flag.Arg(0)) {
		return fmt.Errorf("expected one version such as 1.4.0, found %q", flag.Args())
	}
	r := &release{version: flag.Arg(0), url: strings.TrimSuffix(*url, "/"), sums: map[string]string{}}
	var err error
	if r.out, err = filepath.Abs(*out); err != nil {
		return err
	}
	if err := r.begin(); err != nil {
		return err
	}
	defer os.RemoveAll(r.work)
	var built []string
	for _, p := range strings.Split(*only, ",") {
		if !slices.Contains(platforms, p) {
			return fmt.Errorf("expected some of %s for --only, found %q", strings.Join(platforms, ", "), p)
		}
		if err := r.build(p); err != nil {
			return err
		}
		built = append(built, p)
	}
	return r.end(built)
}

// begin finds the commit, and makes what all archives hold.
func (r *release) begin() error {
	git := func(args ...string) (string, error) {
		b, err := exec.Command("git", args...).Output()
		return strings.TrimSpace(string(b)), err
	}
	var err error
	if r.root, err = git("rev-parse", "--show-toplevel"); err != nil {
		return fmt.Errorf("expected the checkout of Notaria, found none (git: %w)", err)
	}
	if r.commit, err = git("rev-parse", "HEAD"); err != nil {
		return err
	}
	when, err := git("show", "-s", "--format=%cI", "HEAD")
	if err != nil {
		return err
	}
	if r.date, err = time.Parse(time.RFC3339, when); err != nil {
		return err
	}
	r.date = r.date.UTC()
	if changed, err := git("status", "--porcelain", "--untracked-files=no"); err != nil || changed != "" {
		return fmt.Errorf("expected a checkout without changes, found some; commit them first\n%s", changed)
	}
	if r.work, err = os.MkdirTemp("", "notaria-release-"); err != nil {
		return err
	}
	if err := os.MkdirAll(r.out, 0o755); err != nil {
		return err
	}
	return r.texts()
}

// texts are the licence, the man pages, and the completions, which the program itself prints.
func (r *release) texts() error {
	host := filepath.Join(r.work, "host")
	if err := r.goBuild("", "", host); err != nil {
		return err
	}
	licence, err := os.ReadFile(filepath.Join(r.root, "LICENSE"))
	if err != nil {
		return err
	}
	texts := filepath.Join(r.work, "texts")
	if err := os.MkdirAll(filepath.Join(texts, "completions"), 0o755); err != nil {
		return err
	}
	if err := os.WriteFile(filepath.Join(texts, "LICENSE"), licence, 0o644); err != nil {
		return err
	}
	for shell, name := range map[string]string{"bash": "notaria.bash", "zsh": "_notaria", "fish": "notaria.fish", "powershell": "notaria.ps1"} {
		b, err := exec.Command(host, "completion", shell).Output()
		if err != nil {
			return fmt.Errorf("notaria completion %s: %w", shell, err)
		}
		if err := os.WriteFile(filepath.Join(texts, "completions", name), b, 0o644); err != nil {
			return err
		}
	}
	c := exec.Command("go", "run", "./cmd/manual", filepath.Join(texts, "man"))
	c.Dir, c.Stderr = r.root, os.Stderr
	return c.Run()
}

// goBuild builds the program; without paths, without the build's number, and with version, commit and date in it.
func (r *release) goBuild(system, processor, to string) error {
	const p = "notaria/internal/"
	flags := fmt.Sprintf("-s -w -buildid= -X %sregistry.Version=%s -X %scli.commit=%s -X %scli.date=%s", p, r.version, p, r.commit, p, r.date.Format("2006-01-02"))
	c := exec.Command("go", "build", "-trimpath", "-buildvcs=false", "-ldflags", flags, "-o", to, "./cmd/notaria")
	c.Dir, c.Stderr = r.root, os.Stderr
	c.Env = append(os.Environ(), "CGO_ENABLED=0", "GOFLAGS=")
	if system != "" {
		c.Env = append(c.Env, "GOOS="+system, "GOARCH="+processor)
	}
	return c.Run()
}

// build makes the archive of one platform, and its packages.
func (r *release) build(platform string) error {
	system, processor, _ := strings.Cut(platform, "/")
	program := filepath.Join(r.work, system+"-"+processor, "notaria")
	if system == "windows" {
		program += ".exe"
	}
	if err := r.goBuild(system, processor, program); err != nil {
		return err
	}
	name := fmt.Sprintf("notaria-%s-%s-%s", r.version, system, processor)
	if err := r.archive(name, program, system == "windows"); err != nil {
		return err
	}
	if err := r.materials(name, program); err != nil {
		return err
	}
	if system != "linux" {
		return nil
	}
	return r.packages(processor, program)
}
