package notary

import (
	"context"
	"io/fs"
	"path/filepath"
	"slices"

	"notaria/internal/disk"
	"notaria/internal/fault"
	"notaria/internal/platform"
)

// mostBuilt is how many files of an output are looked at.
const mostBuilt = 200_000

// An Output is a folder that a bundler, or a program that makes pages, put out; its files are only read.
type Output struct {
	Page   string // the one page that was named, from the folder; "" for all
	folder *disk.Folder
	files  []string
}

// OpenOutput lists a folder, or the folder of a page, of at most 200,000 files.
func OpenOutput(ctx context.Context, at string) (*Output, error) {
	dir, page := at, ""
	if slices.Contains([]string{".html", ".htm"}, filepath.Ext(at)) {
		dir, page = filepath.Dir(at), filepath.Base(at)
	}
	folder, err := disk.Open(dir)
	if err != nil {
		return nil, &fault.Error{File: at, Expected: "a page, or a folder that a build put out", Found: "none", Cure: "build first, then name its folder: dist, build, out, _site …"}
	}
	o := &Output{Page: page, folder: folder}
	if page != "" && folder.Missing(page) {
		err = &fault.Error{File: at, Expected: "a page that a build put out", Found: "none", Cure: "check the path"}
	} else {
		err = o.list(ctx)
	}
	if err != nil {
		folder.Close()
		return nil, err
	}
	return o, nil
}

func (o *Output) list(ctx context.Context) error {
	return o.folder.Walk(func(name string, d fs.DirEntry, err error) error {
		switch {
		case err != nil && name == ".":
			return err
		case err != nil:
			return nil
		case d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git"):
			return fs.SkipDir
		case d.Type() == 0:
			o.files = append(o.files, name)
		}
		if len(o.files) > mostBuilt {
			return &fault.Error{File: o.folder.Path(), Expected: "at most 200000 files", Found: "more", Cure: "name the folder of one site"}
		}
		return ctx.Err()
	})
}

// Close ends the reading.
func (o *Output) Close() error { return o.folder.Close() }

// Path is where the folder is.
func (o *Output) Path() string { return o.folder.Path() }

// Files lists what is there.
func (o *Output) Files() []string { return o.files }

// Read returns a file; false if it is larger than most bytes, or cannot be read.
func (o *Output) Read(name string, most int64) ([]byte, bool) {
	b, err := o.folder.Read(name, most)
	return b, err == nil
}

// Origins are the originals of a project's faces; none, if there is no project.
func (p *Project) Origins() []platform.Origin {
	var list []platform.Origin
	if p == nil {
		return nil
	}
	for _, f := range p.Registry.Faces {
		if info, err := p.Dir.Lstat(f.File); err == nil {
			list = append(list, platform.Origin{ID: f.Name, Size: info.Size()})
		}
	}
	return list
}
