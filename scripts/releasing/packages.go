package main

import (
	"bytes"
	"io/fs"
	"path/filepath"

	"github.com/goreleaser/nfpm/v2"
	_ "github.com/goreleaser/nfpm/v2/apk" // the forms register themselves
	_ "github.com/goreleaser/nfpm/v2/deb"
	"github.com/goreleaser/nfpm/v2/files"
	_ "github.com/goreleaser/nfpm/v2/rpm"
)

// packages are those of Debian, Red Hat and Alpine, and of what follows them.
func (r *release) packages(processor, program string) error {
	texts := filepath.Join(r.work, "texts")
	at := func(from, to string, more fs.FileMode) *files.Content {
		return &files.Content{Source: from, Destination: to, FileInfo: &files.ContentFileInfo{Mode: 0o644 | more, MTime: r.date, Owner: "root", Group: "root"}}
	}
	list := files.Contents{
		at(program, "/usr/bin/notaria", 0o111),
		at(filepath.Join(texts, "LICENSE"), "/usr/share/doc/notaria/copyright", 0),
		at(filepath.Join(texts, "completions", "notaria.bash"), "/usr/share/bash-completion/completions/notaria", 0),
		at(filepath.Join(texts, "completions", "_notaria"), "/usr/share/zsh/site-functions/_notaria", 0),
		at(filepath.Join(texts, "completions", "notaria.fish"), "/usr/share/fish/vendor_completions.d/notaria.fish", 0),
	}
	pages, err := filepath.Glob(filepath.Join(texts, "man", "*.1"))
	if err != nil {
		return err
	}
	for _, p := range pages {
		list = append(list, at(p, "/usr/share/man/man1/"+filepath.Base(p), 0))
	}
	for _, form := range []string{"deb", "rpm", "apk"} {
		info := nfpm.WithDefaults(&nfpm.Info{
			Name: "notaria", Arch: processor, Platform: "linux", Version: r.version, Section: "devel", Priority: "optional", MTime: r.date,
			Maintainer: "Notaria <notaria@localhost>", Description: "Makes an app really use the fonts that its developer downloaded.", License: "MIT",
			Overridables: nfpm.Overridables{Contents: list},
		})
		info.RPM.BuildHost = "notaria"
		packager, err := nfpm.Get(form)
		if err != nil {
			return err
		}
		var b bytes.Buffer
		if err := packager.Package(info, &b); err != nil {
			return err
		}
		if err := r.keep(packager.ConventionalFileName(info), b.Bytes()); err != nil {
			return err
		}
	}
	return nil
}
