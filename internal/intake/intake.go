// Package intake finds the faces in what a developer downloaded: font files,
// folders of them, and zip archives.
//
// Everything that comes in is untrusted. No path of an archive is ever used to
// write with, sizes and counts are bounded before anything is unpacked, and a
// bad file becomes a Problem that never stops the others. Nothing is moved or
// changed; Found.Read gives a copy of a face's bytes.
package intake

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"math"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"sort"
	"strings"
	"sync/atomic"

	"golang.org/x/sync/errgroup"

	"notaria/internal/disk"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/sfnt"
)

// Limits on what is taken in.
const (
	mostFontBytes = 64 << 20 // one font file
	mostFiles     = 50_000   // files looked at in one go
	mostEntries   = 20_000   // entries of one archive
	mostUnpacked  = 512 << 20
	mostNested    = 64 << 20 // an archive inside an archive
	mostRatio     = 200      // unpacked to packed; fonts pack at 2 to 4
	ratioFloor    = 1 << 20
	MostText      = 1 << 20 // a licence text
)

// Options say what to read of each face.
type Options struct {
	face.Options
	Digest   bool                  // SHA-256 of the file, which reads all of it
	Progress func(done, total int) // called from several goroutines; may be nil
}

// A Found is one face and where it came from.
type Found struct {
	face.Face
	src source
}

// A Text is a licence or a notice that came along with the faces.
type Text struct {
	File    string // as shown to people
	Archive string
	Name    string // its file name
	src     source
}

// Read returns the bytes of the whole font file, as it was found.
func (f Found) Read() ([]byte, error) { return f.src.bytes(mostFontBytes) }

// Plain returns the face as the plain font file that apps take: a web font
// unpacked, a face of a collection on its own, any other file as it is. Outlines
// that could keep a renderer busy for ever are refused.
func (f Found) Plain() ([]byte, error) {
	b, err := f.Read()
	if err != nil {
		return nil, err
	}
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return nil, err
	}
	if f.Index >= file.Len() {
		return nil, fmt.Errorf("%s: the file changed while it was read", f.File)
	}
	if file.Container != sfnt.Plain {
		if b, err = file.Unwrap(f.Index); err != nil {
			return nil, err
		}
		if file, err = sfnt.Open(bytes.NewReader(b), int64(len(b))); err != nil {
			return nil, err
		}
	}
	return b, file.Font(0).CheckOutlines()
}

// Read returns the text's bytes.
func (t Text) Read() ([]byte, error) { return t.src.bytes(MostText) }

// BaseName is the file's own name, without folders.
func (f Found) BaseName() string { return f.src.name }

// A Haul is all that was found, sorted by family, weight, slant and file.
type Haul struct {
	Faces    []Found
	Licences []Text
	Junk     int // hidden and system files left out
	Problems []face.Problem
}

// source is a file on disk or an entry of an archive.
type source struct {
	shown, name, archive string
	entry                opener // of an archive; nil for a file on disk
	face                 string // the one face that is asked for, by its PostScript name; "" for all
	listed               bool   // a listing has shown it to be a regular file
	size                 int64  // of the entry, as the archive says
}

// An opener opens an entry of an archive for one reading.
type opener func() (io.ReadCloser, error)

// read unpacks an entry of at most most bytes, and of no more than the archive
// said: one that grows beyond its word is refused.
func (o opener) read(most, said int64) ([]byte, error) {
	most = min(most, said)
	r, err := o()
	if err != nil {
		return nil, &RefusedError{"bad-archive", "an entry that unpacks", err.Error(), "download the archive again"}
	}
	defer r.Close()
	b, err := io.ReadAll(io.LimitReader(r, most+1))
	if err != nil {
		return nil, &RefusedError{"bad-archive", "an entry that unpacks", err.Error(), "download the archive again"}
	}
	if int64(len(b)) > most {
		return nil, &RefusedError{"too-big", fmt.Sprintf("an entry of at most %d bytes", most), "more", "take a smaller edition, or do not trust this archive"}
	}
	return b, nil
}

// Extensions that fonts, and things taken for fonts, have.
var fontExtensions = map[string]bool{
	".ttf": true, ".otf": true, ".ttc": true, ".otc": true, ".woff": true, ".woff2": true,
	".pfb": true, ".pfa": true, ".eot": true, ".dfont": true, ".suit": true, ".fon": true,
}

// Gather reads the faces under paths. The error is for what stops all of it: a
// cancelled context, too many files. Everything else is in Haul.Problems.
func Gather(ctx context.Context, paths []string, opt Options) (Haul, error) {
	var h Haul
	var fonts []source
	for _, p := range paths {
		found, err := h.scan(p)
		if err != nil {
			h.problem(p, err)
		}
		if fonts = append(fonts, found...); len(fonts) > mostFiles {
			return h, fault.Form("%s: expected at most %d font files in one go, found more; name fewer folders", p, mostFiles)
		}
	}
	type read struct {
		faces    []Found
		problems []face.Problem
	}
	results := make([]read, len(fonts))
	g, ctx := errgroup.WithContext(ctx)
	var next, done atomic.Int64
	for range min(2*runtime.GOMAXPROCS(0), len(fonts)) { // workers that stay: a stack grows once
		g.Go(func() error {
			for {
				i := int(next.Add(1)) - 1
				if i >= len(fonts) {
					return nil
				}
				if err := ctx.Err(); err != nil {
					return err
				}
				results[i].faces, results[i].problems = readFaces(fonts[i], opt)
				if opt.Progress != nil {
					opt.Progress(int(done.Add(1)), len(fonts))
				}
			}
		})
	}
	if err := g.Wait(); err != nil {
		return h, err
	}
	for _, r := range results {
		h.Faces = append(h.Faces, r.faces...)
		h.Problems = append(h.Problems, r.problems...)
	}
	sort.SliceStable(h.Faces, func(i, j int) bool { return before(h.Faces[i].Face, h.Faces[j].Face) })
	h.findDoubles()
	h.excuseOldForms()
	return h, nil
}

// excuseOldForms lets a kit for the web have its fonts for old browsers: they are no reason to leave the rest, where the
// same face is beside them in a form that is read.
func (h *Haul) excuseOldForms() {
	stem := func(file string) string { return strings.TrimSuffix(file, filepath.Ext(file)) }
	beside := map[string]string{}
	for _, f := range h.Faces {
		beside[stem(f.File)] = f.File
	}
	for i := range h.Problems {
		p := &h.Problems[i]
		if other := beside[stem(p.File)]; p.Code == "eot" && other != "" {
			p.Fatal, p.Cure = false, "nothing to do: "+filepath.Base(other)+" is the same face"
		}
	}
}

// findDoubles reports faces that answer to the same PostScript name.
func (h *Haul) findDoubles() {
	first := map[string]*Found{}
	for i := range h.Faces {
		f := &h.Faces[i]
		other := first[f.PostScript]
		switch {
		case f.PostScript == "":
		case other == nil:
			first[f.PostScript] = f
		case f.SHA256 != "" && f.SHA256 == other.SHA256:
			h.Problems = append(h.Problems, face.Problem{File: f.File, Code: "double-file", Message: "the same file as " + other.File, Cure: "nothing to do: it is taken once"})
		case f.Container != other.Container:
			h.Problems = append(h.Problems, face.Problem{File: f.File, Code: "another-form", Message: "the same face as " + other.File + ", in another form", Cure: "nothing to do: the best form is taken"})
		default:
			h.Problems = append(h.Problems, face.Problem{File: f.File, Code: "double-name", Message: fmt.Sprintf("%s is also what %s is called", face.Short(f.PostScript), other.File),
				Cure: "only one of the two can be in an app: name just the one that you want"})
		}
	}
}

// before orders faces as people list a family.
func before(a, b face.Face) bool {
	small, other := strings.ToLower(a.Family), strings.ToLower(b.Family)
	switch {
	case small != other:
		return small < other
	case a.Family != b.Family:
		return a.Family < b.Family
	case a.Weight != b.Weight:
		return a.Weight < b.Weight
	case a.Slant != b.Slant:
		return a.Slant == face.Upright || b.Slant != face.Upright && a.Slant < b.Slant
	case a.PostScript != b.PostScript:
		return a.PostScript < b.PostScript
	}
	return a.File < b.File
}

func (h *Haul) problem(file string, err error) {
	p := face.Problem{File: filepath.ToSlash(file), Code: "unreadable", Message: err.Error(), Cure: "look at the file; download it again", Fatal: true}
	var notFont *sfnt.NotFontError
	var format *sfnt.FormatError
	var refused *RefusedError
	switch {
	case errors.As(err, &notFont):
		p.Code, p.Cure = notFont.Code, notFont.Cure
	case errors.As(err, &refused):
		p.Code, p.Cure = refused.Code, refused.Cure
	case errors.As(err, &format):
		p.Code, p.Cure = "damaged", "download it again; if that does not help, ask its maker"
	case errors.Is(err, fs.ErrNotExist):
		p.Code, p.Message, p.Cure = "missing", "there is no such file or folder", "check the path; names differ by capitals on most systems"
	case errors.Is(err, fs.ErrPermission):
		p.Code, p.Message, p.Cure = "forbidden", "the file may not be read", "let this user read it (chmod u+r)"
	}
	h.Problems = append(h.Problems, p)
}

// A RefusedError is for input that is turned away unread.
type RefusedError struct{ Code, Expected, Found, Cure string }

func (e *RefusedError) Error() string {
	return fmt.Sprintf("expected %s, found %s", e.Expected, e.Found)
}

// scan lists the fonts below one path that the user named.
func (h *Haul) scan(path string) ([]source, error) {
	info, err := os.Stat(path)
	if file, one := FaceOf(path); err != nil && one != "" {
		found, err := h.scan(file)
		for i := range found {
			found[i].face = one
		}
		return found, err
	}
	if err != nil {
		if archive := ArchiveAbove(path); archive != "" {
			return h.scanWithin(archive, path)
		}
		return nil, err
	}
	switch ext := strings.ToLower(filepath.Ext(path)); {
	case info.IsDir() && fontExtensions[ext]:
		return nil, &RefusedError{"folder", "a font file", "a folder of that name", "name the file inside it, or give the folder another name"}
	case info.IsDir():
		return h.scanFolder(path)
	case isArchive(path):
		return h.scanArchive(path)
	case !info.Mode().IsRegular():
		return nil, &RefusedError{"special", "a font file", "a device or pipe", "name a file"}
	default:
		return []source{{shown: path, name: filepath.Base(path)}}, nil
	}
}

// FaceOf takes a path to one face of a collection apart, such as fonts.ttc#Skerry-Bold: the file, and the face's PostScript name. The name is
// "" where the path leads to something as it stands, or to nothing.
func FaceOf(path string) (file, name string) {
	at := strings.LastIndexByte(path, '#')
	if at <= 0 || at == len(path)-1 || There(path) || !There(path[:at]) || !fontExtensions[strings.ToLower(filepath.Ext(path[:at]))] {
		return path, ""
	}
	return path[:at], path[at+1:]
}

// There says whether a path leads to something on disk, or into an archive that is there.
func There(path string) bool {
	_, err := os.Stat(path)
	return err == nil || ArchiveAbove(path) != ""
}

// ArchiveAbove is the archive that a path leads into, as paths are printed: fonts.zip/Static/Sans.ttf; "" for none.
func ArchiveAbove(path string) string {
	for at := filepath.Dir(path); at != filepath.Dir(at); at = filepath.Dir(at) {
		if info, err := os.Stat(at); err == nil {
			if info.Mode().IsRegular() && isArchive(at) {
				return at
			}
			return ""
		}
	}
	return ""
}

// scanWithin lists the fonts of an archive that are at a path within it, or below.
func (h *Haul) scanWithin(archive, path string) ([]source, error) {
	all, err := h.scanArchive(archive)
	if err != nil {
		return nil, err
	}
	path = filepath.Clean(path)
	out := slices.DeleteFunc(all, func(s source) bool {
		return s.shown != path && !strings.HasPrefix(s.shown, path+string(filepath.Separator))
	})
	if len(out) == 0 {
		return nil, &RefusedError{"missing", "a font of this name in " + filepath.Base(archive), "none", "notaria names " + filepath.ToSlash(archive) + " lists what is in it"}
	}
	return out, nil
}

// scanFolder walks a folder; symbolic links are not followed.
func (h *Haul) scanFolder(root string) ([]source, error) {
	var out []source
	seen := 0
	err := filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			h.problem(path, err)
			return nil
		}
		if seen++; seen > mostFiles*4 {
			return &RefusedError{"too-many", fmt.Sprintf("at most %d files", mostFiles*4), "more", "name the folder that holds the fonts"}
		}
		if path != root && isJunk(d.Name()) {
			h.Junk++
			if d.IsDir() {
				return fs.SkipDir
			}
			return nil
		}
		ext := strings.ToLower(filepath.Ext(path))
		switch {
		case d.IsDir() && path != root && fontExtensions[ext]:
			h.problem(path, &RefusedError{"folder", "a font file", "a folder of that name", "give the folder another name"})
			return fs.SkipDir
		case d.IsDir() || !d.Type().IsRegular():
		case isArchive(path):
			inner, err := h.scanArchive(path)
			if err != nil {
				h.problem(path, err)
			}
			out = append(out, inner...)
		case fontExtensions[ext]:
			out = append(out, source{shown: path, name: d.Name(), listed: true})
		case IsLicence(d.Name()):
			h.Licences = append(h.Licences, Text{File: path, Name: d.Name(), src: source{shown: path, name: d.Name()}})
		}
		return nil
	})
	return out, err
}

// isJunk holds for what systems leave behind: hidden files and their kind.
func isJunk(name string) bool {
	switch strings.ToLower(name) {
	case "__macosx", "thumbs.db", "desktop.ini", "icon\r":
		return true
	}
	return strings.HasPrefix(name, ".")
}

// LicencesAbove are the licence texts beside a font, or in the folders above it up to the package that it is in: the folder
// with a package.json or a pubspec.yaml.
func LicencesAbove(font string) []Text {
	var list []Text
	dir := filepath.Dir(font)
	for range 5 {
		entries, err := os.ReadDir(dir)
		if err != nil {
			return list
		}
		whole := false
		for _, d := range entries {
			whole = whole || d.Name() == "package.json" || d.Name() == "pubspec.yaml"
			if name := filepath.Join(dir, d.Name()); d.Type().IsRegular() && IsLicence(d.Name()) {
				list = append(list, Text{File: name, Name: d.Name(), src: source{shown: name, name: d.Name()}})
			}
		}
		if whole || filepath.Dir(dir) == dir {
			return list
		}
		dir = filepath.Dir(dir)
	}
	return nil // of no package: a licence that far up is of something else
}

// IsLicence holds for the files that makers put their terms in.
func IsLicence(name string) bool {
	low := strings.ToLower(name)
	switch ext := filepath.Ext(low); ext {
	case "", ".txt", ".md", ".rtf", ".pdf", ".html":
	default:
		return false
	}
	for _, start := range []string{"ofl", "license", "licence", "copying", "copyright", "eula", "terms"} {
		if strings.HasPrefix(low, start) || strings.Contains(low, "licen") {
			return true
		}
	}
	return false
}

// readFaces reads every face of one file.
func readFaces(src source, opt Options) ([]Found, []face.Problem) {
	var h Haul
	r, size, done, err := src.open()
	if err != nil {
		h.problem(src.shown, err)
		return nil, h.Problems
	}
	defer done()
	file, err := sfnt.Open(r, size)
	if err != nil {
		h.problem(src.shown, err)
		return nil, h.Problems
	}
	digest := ""
	if opt.Digest {
		if digest, err = sum(r, size); err != nil {
			h.problem(src.shown, err)
			return nil, h.Problems
		}
	}
	var names []string
	for i := range file.Len() {
		f, problems, err := face.Read(file.Font(i), opt.Options)
		if err != nil {
			h.problem(src.shown, err)
			continue
		}
		if names = append(names, f.PostScript); src.face != "" && f.PostScript != src.face {
			continue
		}
		f.File, f.Archive, f.Index = filepath.ToSlash(src.shown), src.archive, i
		f.Container, f.Bytes, f.SHA256 = string(file.Container), size, digest
		for _, p := range problems {
			p.File = f.File
			h.Problems = append(h.Problems, p)
		}
		if p, wrong := wrongExtension(src.name, f); wrong && i == 0 {
			p.File = f.File
			h.Problems = append(h.Problems, p)
		}
		h.Faces = append(h.Faces, Found{f, src})
	}
	if src.face != "" && len(h.Faces) == 0 {
		h.problem(src.shown, &RefusedError{"no-such-face", fmt.Sprintf("a face %q", src.face), strings.Join(names, ", "), "name one of these behind the #"})
	}
	return h.Faces, h.Problems
}

// endings are what a container's files may end in, the usual one first.
func endings(f face.Face) []string {
	switch {
	case f.Container == string(sfnt.WOFF):
		return []string{".woff"}
	case f.Container == string(sfnt.WOFF2):
		return []string{".woff2"}
	case f.Container == string(sfnt.Collection):
		return []string{".ttc", ".otc"}
	case f.Format == string(sfnt.CFF) || f.Format == string(sfnt.CFF2):
		return []string{".otf"}
	}
	return []string{".ttf", ".otf"} // OpenType with TrueType outlines may carry either
}

// wrongExtension reports a file whose ending says something else than its bytes.
func wrongExtension(name string, f face.Face) (face.Problem, bool) {
	ext := strings.ToLower(filepath.Ext(name))
	want := endings(f)
	if slices.Contains(want, ext) {
		return face.Problem{}, false
	}
	return face.Problem{Code: "wrong-ending", Message: fmt.Sprintf("the file ends in %q, but what it holds ends in %q", ext, want[0]),
		Cure: "nothing to do: Notaria copies it under the right ending"}, true
}

// Extension is the ending of the plain font file that Plain gives, with its dot.
func Extension(f face.Face) string {
	if f.Format == string(sfnt.CFF) || f.Format == string(sfnt.CFF2) {
		return ".otf"
	}
	return ".ttf"
}

func sum(r io.ReaderAt, size int64) (string, error) {
	h := sha256.New()
	if _, err := io.Copy(h, io.NewSectionReader(r, 0, size)); err != nil {
		return "", err
	}
	return hex.EncodeToString(h.Sum(nil)), nil
}

// open returns random access to the source's bytes.
func (s source) open() (io.ReaderAt, int64, func(), error) {
	if s.entry != nil {
		b, err := s.entry.read(mostFontBytes, s.size)
		if err != nil {
			return nil, 0, nil, err
		}
		r := bytes.NewReader(b)
		return r, r.Size(), func() {}, nil
	}
	open := disk.Regular
	if s.listed {
		open = disk.Listed
	}
	f, info, err := open(s.shown, math.MaxInt64)
	if err != nil {
		return nil, 0, nil, err
	}
	if info.Size() > mostFontBytes {
		f.Close()
		return nil, 0, nil, &RefusedError{"too-big", fmt.Sprintf("at most %d MiB", mostFontBytes>>20), fmt.Sprintf("%d bytes", info.Size()), "no app should carry so large a font; take a smaller edition"}
	}
	return f, info.Size(), func() { f.Close() }, nil
}

func (s source) bytes(most int64) ([]byte, error) {
	if s.entry != nil {
		return s.entry.read(most, s.size)
	}
	f, _, err := disk.Regular(s.shown, math.MaxInt64)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	b, err := io.ReadAll(io.LimitReader(f, most+1))
	if err == nil && int64(len(b)) > most {
		err = &RefusedError{"too-big", fmt.Sprintf("at most %d bytes", most), "more", "take a smaller edition"}
	}
	return b, err
}
