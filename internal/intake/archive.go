package intake

import (
	"archive/tar"
	"archive/zip"
	"bytes"
	"compress/gzip"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"math"
	"os"
	"path"
	"path/filepath"
	"sort"
	"strings"
	"sync"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"

	"notaria/internal/disk"
)

// isArchive goes by the ending, as the makers of downloads do.
func isArchive(name string) bool {
	low := strings.ToLower(name)
	return strings.HasSuffix(low, ".zip") || isTar(low)
}

func isTar(low string) bool {
	return strings.HasSuffix(low, ".tar.gz") || strings.HasSuffix(low, ".tgz") || strings.HasSuffix(low, ".tar")
}

// A shelf is one archive that is being looked through.
type shelf struct {
	haul    *Haul
	shown   string // its path as people see it
	archive string // the outermost archive's file name
	depth   int    // 0 for a file on disk, 1 for an archive inside one
	total   int64  // unpacked bytes so far
}

// scanArchive lists the fonts of an archive. All of it is checked first: a single
// entry that points outside, or sizes beyond the limits, and it is refused.
func (h *Haul) scanArchive(file string) ([]source, error) {
	s := &shelf{haul: h, shown: file, archive: filepath.Base(file)}
	if isTar(strings.ToLower(file)) {
		f, info, err := disk.Regular(file, math.MaxInt64)
		if err != nil {
			return nil, err
		}
		defer f.Close()
		return s.tar(f, info.Size())
	}
	a := &archiveFile{path: file}
	if err := a.open(); err != nil {
		return nil, err
	}
	defer a.Close()
	z, err := a.directory()
	if err != nil {
		return nil, notZip(err)
	}
	return s.zip(z, func(i int) opener {
		return func() (io.ReadCloser, error) {
			if err := a.open(); err != nil {
				return nil, err
			}
			r, err := z.File[i].Open()
			if err != nil {
				return nil, errors.Join(err, a.Close())
			}
			return both{r, a}, nil
		}
	})
}

func notZip(err error) error {
	if errors.Is(err, os.ErrNotExist) || errors.Is(err, os.ErrPermission) {
		return err
	}
	return &RefusedError{"bad-archive", "a zip archive", "a file of another kind, or an incomplete one (" + err.Error() + ")", "download it again"}
}

// mostDirectory bounds what is read of a zip archive's directory, in bytes: what the reader
// makes of it takes several times as much.
const mostDirectory = 8 << 20

// An archiveFile is a zip archive on the disk. Its directory is read once; the file is
// open while any entry of it is being read, so that any number of archives can wait.
type archiveFile struct {
	path string

	mu    sync.Mutex
	file  *os.File
	users int
	info  fs.FileInfo // as it was when the directory was read
	left  int64       // of mostDirectory; negative when the directory has been read
}

// directory reads the directory of the open file.
func (a *archiveFile) directory() (*zip.Reader, error) {
	a.left = mostDirectory
	z, err := zip.NewReader(a, a.info.Size())
	a.left = -1
	return z, err
}

// open makes sure that the file is open, and that it is still the same.
func (a *archiveFile) open() error {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.users == 0 {
		f, info, err := disk.Regular(a.path, math.MaxInt64)
		if err != nil {
			return err
		}
		if a.info != nil && (!os.SameFile(a.info, info) || a.info.Size() != info.Size() || !a.info.ModTime().Equal(info.ModTime())) {
			f.Close()
			return errors.New("the archive changed while it was read")
		}
		a.file, a.info = f, info
	}
	a.users++
	return nil
}

// Close gives up one use of the file.
func (a *archiveFile) Close() error {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.users--; a.users > 0 {
		return nil
	}
	f := a.file
	a.file = nil
	return f.Close()
}

// ReadAt reads while the file is in use.
func (a *archiveFile) ReadAt(b []byte, at int64) (int, error) {
	if a.left >= 0 {
		if a.left -= int64(len(b)); a.left < 0 {
			a.left = 0
			return 0, fmt.Errorf("a directory of more than %d MiB", mostDirectory>>20)
		}
	}
	a.mu.Lock()
	f := a.file
	a.mu.Unlock()
	if f == nil {
		return 0, fs.ErrClosed
	}
	return f.ReadAt(b, at)
}

// both closes an entry and its archive.
type both struct {
	io.ReadCloser
	archive io.Closer
}

func (b both) Close() error { return errors.Join(b.ReadCloser.Close(), b.archive.Close()) }

func (s *shelf) zip(z *zip.Reader, open func(int) opener) ([]source, error) {
	if len(z.File) > mostEntries {
		return nil, &RefusedError{"too-many", fmt.Sprintf("at most %d entries", mostEntries), fmt.Sprint(len(z.File)), "unpack it, and name the folder that holds the fonts"}
	}
	if err := s.overlaps(z); err != nil {
		return nil, err
	}
	for _, e := range z.File {
		if err := s.checkEntry(entryName(e.Name), int64(e.UncompressedSize64), int64(e.CompressedSize64)); err != nil {
			return nil, err
		}
	}
	var out []source
	for i, e := range z.File {
		if e.FileInfo().IsDir() {
			continue
		}
		found, err := s.entry(entryName(e.Name), int64(e.UncompressedSize64), open(i))
		if err != nil {
			return nil, err
		}
		out = append(out, found...)
	}
	return out, nil
}

// overlaps refuses an archive in which entries share their bytes, or their names: no
// program makes such a one but to have more come out of it than is in it, or something
// else than is seen.
func (s *shelf) overlaps(z *zip.Reader) error {
	refuse := func(expected, found string) error {
		return &RefusedError{"zip-bomb", expected, found, "do not trust this archive"}
	}
	type part struct {
		from, to int64
		name     string
	}
	var parts []part
	names := make(map[string]bool, len(z.File))
	for _, e := range z.File {
		name := entryName(e.Name)
		if names[name] {
			return refuse("an archive that has each file once", fmt.Sprintf("%q twice", name))
		}
		names[name] = true
		from, err := e.DataOffset()
		if err != nil {
			return notZip(err)
		}
		if e.CompressedSize64 > 0 {
			parts = append(parts, part{from, from + int64(e.CompressedSize64), name})
		}
	}
	sort.Slice(parts, func(i, j int) bool { return parts[i].from < parts[j].from })
	for i := 1; i < len(parts); i++ {
		if a, b := parts[i-1], parts[i]; b.from < a.to {
			return refuse("entries with bytes of their own", fmt.Sprintf("%q and %q, which share them", a.name, b.name))
		}
	}
	return nil
}

// tar reads a tar archive, packed or not. Its entries come one after the other,
// so those that are wanted are kept in memory. size is that of the archive.
func (s *shelf) tar(r io.Reader, size int64) ([]source, error) {
	bad := func(err error) error {
		return &RefusedError{"bad-archive", "a tar archive", "a file of another kind, or an incomplete one (" + err.Error() + ")", "download it again"}
	}
	if !strings.HasSuffix(strings.ToLower(s.shown), ".tar") {
		z, err := gzip.NewReader(r)
		if err != nil {
			return nil, bad(err)
		}
		defer z.Close()
		r = io.LimitReader(z, mostUnpacked+1)
	}
	var out []source
	t := tar.NewReader(r)
	for n := 0; ; n++ {
		e, err := t.Next()
		if err == io.EOF {
			return out, nil
		}
		if err != nil {
			return nil, bad(err)
		}
		if s.total > ratioFloor && s.total/mostRatio > size {
			return nil, &RefusedError{"zip-bomb", fmt.Sprintf("an archive packed at most %d to 1", mostRatio), fmt.Sprintf("%d bytes out of %d", s.total, size), "do not trust this archive"}
		}
		if n > mostEntries {
			return nil, &RefusedError{"too-many", fmt.Sprintf("at most %d entries", mostEntries), "more", "unpack it, and name the folder that holds the fonts"}
		}
		name := entryName(e.Name)
		if err := s.checkEntry(name, e.Size, size); err != nil {
			return nil, err
		}
		if e.Typeflag != tar.TypeReg || !s.wanted(name) {
			continue
		}
		b, err := io.ReadAll(io.LimitReader(t, mostFontBytes+1))
		if err != nil {
			return nil, bad(err)
		}
		found, err := s.entry(name, e.Size, func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(b)), nil })
		if err != nil {
			return nil, err
		}
		out = append(out, found...)
	}
}

// entryName makes an entry's name text with slashes: some programs write
// backslashes, and old ones the code page of the first PCs.
func entryName(name string) string {
	if !utf8.ValidString(name) {
		if s, err := charmap.CodePage437.NewDecoder().String(name); err == nil {
			name = s
		}
	}
	return strings.TrimPrefix(strings.ReplaceAll(name, "\\", "/"), "./")
}

// checkEntry refuses names that lead out, and sizes beyond the limits.
func (s *shelf) checkEntry(name string, size, packed int64) error {
	local := strings.TrimSuffix(name, "/")
	if local != "" && (!filepath.IsLocal(filepath.FromSlash(local)) || strings.Contains(local, ":")) {
		return &RefusedError{"path-outside", "an archive whose files stay inside it",
			fmt.Sprintf("an entry that points elsewhere: %q", name), "do not trust this archive; download it from its maker"}
	}
	if size > ratioFloor && size/mostRatio > packed {
		return &RefusedError{"zip-bomb", fmt.Sprintf("files packed at most %d to 1", mostRatio),
			fmt.Sprintf("%q: %d bytes out of %d", name, size, packed), "do not trust this archive"}
	}
	if s.total += size; size < 0 || s.total > mostUnpacked {
		return &RefusedError{"too-big", fmt.Sprintf("at most %d MiB unpacked", mostUnpacked>>20), "more", "unpack it, and name the folder that holds the fonts"}
	}
	return nil
}

// wanted says whether an entry is worth keeping: a font, a licence, an archive.
func (s *shelf) wanted(name string) bool {
	base := path.Base(name)
	return junkPath(name) || fontExtensions[strings.ToLower(path.Ext(base))] || IsLicence(base) || isArchive(base)
}

func junkPath(name string) bool {
	for _, part := range strings.Split(name, "/") {
		if part != "." && isJunk(part) {
			return true
		}
	}
	return false
}

// entry sorts one file of the archive.
func (s *shelf) entry(name string, size int64, open opener) ([]source, error) {
	src := source{shown: filepath.Join(s.shown, filepath.FromSlash(name)), name: path.Base(name), archive: s.archive, entry: open, size: size}
	switch ext := strings.ToLower(path.Ext(name)); {
	case junkPath(name):
		s.haul.Junk++
	case isArchive(name):
		return s.nested(src)
	case fontExtensions[ext]:
		return []source{src}, nil
	case IsLicence(src.name):
		s.haul.Licences = append(s.haul.Licences, Text{File: src.shown, Archive: s.archive, Name: src.name, src: src})
	}
	return nil, nil
}

// nested looks into an archive inside the archive, one level deep. One that is
// bad is a problem of its own and does not stop the others.
func (s *shelf) nested(src source) ([]source, error) {
	if s.depth > 0 {
		s.haul.problem(src.shown, &RefusedError{"nested", "archives at most one inside the other", "a third", "unpack it, and name what is inside"})
		return nil, nil
	}
	b, err := src.entry.read(mostNested, src.size)
	if err != nil {
		s.haul.problem(src.shown, err)
		return nil, nil
	}
	inner := &shelf{haul: s.haul, shown: src.shown, archive: s.archive, depth: s.depth + 1, total: s.total}
	var out []source
	if isTar(strings.ToLower(src.name)) {
		out, err = inner.tar(bytes.NewReader(b), int64(len(b)))
	} else {
		var z *zip.Reader
		if z, err = zip.NewReader(bytes.NewReader(b), int64(len(b))); err != nil {
			err = notZip(err)
		} else {
			out, err = inner.zip(z, func(i int) opener { return z.File[i].Open })
		}
	}
	if s.total = inner.total; err != nil {
		s.haul.problem(src.shown, err)
		return nil, nil
	}
	return out, nil
}
