package main

import (
	"archive/tar"
	"archive/zip"
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
)

// A member is a file of an archive.
type member struct {
	name string
	mode fs.FileMode
	data []byte
}

// members are the program and the texts, in order.
func (r *release) members(top, program string) ([]member, error) {
	data, err := os.ReadFile(program)
	if err != nil {
		return nil, err
	}
	list := []member{{path.Join(top, filepath.Base(program)), 0o755, data}}
	texts := filepath.Join(r.work, "texts")
	err = filepath.WalkDir(texts, func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := os.ReadFile(name)
		rel, _ := filepath.Rel(texts, name)
		list = append(list, member{path.Join(top, filepath.ToSlash(rel)), 0o644, data})
		return err
	})
	slices.SortFunc(list, func(a, b member) int { return bytes.Compare([]byte(a.name), []byte(b.name)) })
	return list, err
}

// archive writes a .tar.gz, or a .zip for Windows: every file with the time of the commit, and of nobody.
func (r *release) archive(top, program string, asZip bool) error {
	list, err := r.members(top, program)
	if err != nil {
		return err
	}
	var b bytes.Buffer
	write, name := r.tar, top+".tar.gz"
	if asZip {
		write, name = r.zip, top+".zip"
	}
	if err := write(&b, list); err != nil {
		return err
	}
	return r.keep(name, b.Bytes())
}

func (r *release) tar(to io.Writer, list []member) error {
	z, err := gzip.NewWriterLevel(to, gzip.BestCompression)
	if err != nil {
		return err
	}
	t := tar.NewWriter(z)
	for _, m := range list {
		if err := t.WriteHeader(&tar.Header{Name: m.name, Mode: int64(m.mode), Size: int64(len(m.data)), ModTime: r.date, Format: tar.FormatUSTAR}); err != nil {
			return err
		}
		if _, err := t.Write(m.data); err != nil {
			return err
		}
	}
	if err := t.Close(); err != nil {
		return err
	}
	return z.Close()
}

func (r *release) zip(to io.Writer, list []member) error {
	z := zip.NewWriter(to)
	for _, m := range list {
		h := &zip.FileHeader{Name: m.name, Method: zip.Deflate, Modified: r.date}
		h.SetMode(m.mode)
		w, err := z.CreateHeader(h)
		if err != nil {
			return err
		}
		if _, err := w.Write(m.data); err != nil {
			return err
		}
	}
	return z.Close()
}

// keep writes a file of the release, and notes its sum.
func (r *release) keep(name string, data []byte) error {
	r.files = append(r.files, name)
	r.sums[name] = fmt.Sprintf("%x", sha256.Sum256(data))
	return os.WriteFile(filepath.Join(r.out, name), data, 0o644)
}
