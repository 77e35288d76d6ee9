package disk

import (
	"errors"
	"hash/maphash"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"runtime"
	"slices"
	"sync"
)

// A memory keeps what a run has read, so that a file is read once, however many ask for it: all of them
// see the same bytes, also where somebody writes to the file meanwhile.
type memory struct {
	mu    sync.Mutex
	files map[string]kept
	bytes int
	roots map[string]*os.Root // folders that were opened, each by one call instead of one for each of its parents
	order []string            // of roots
}

type kept struct {
	text []byte
	err  error
	hash uint64 // where Verify says so
}

// Bounds of what is kept: of all bytes, of one file's, of the answers, and of open folders.
const (
	mostKept      = 64 << 20
	mostKeptOfOne = 8 << 20
	mostAnswers   = 500_000
	mostOpenRoots = 128
)

// Verify has Close panic if somebody changed bytes that are kept. It is for tests.
var Verify = false

var seed = maphash.MakeSeed()

// Remember begins to keep what is read.
func (f *Folder) Remember() {
	f.Forget()
	f.memory = &memory{files: map[string]kept{}, roots: map[string]*os.Root{}}
}

// Listed tells which paths a listing has shown to be regular files: they are opened without a look before.
func (f *Folder) Listed(regular func(name string) bool) { f.listed = regular }

// Forget gives up what is kept, and keeps nothing from now on: the folder is about to change.
func (f *Folder) Forget() {
	if f.memory == nil {
		return
	}
	f.memory.verify()
	for _, r := range f.memory.roots {
		r.Close()
	}
	f.memory, f.listed = nil, nil
}

func (m *memory) verify() {
	if !Verify {
		return
	}
	for name, k := range m.files {
		if maphash.Bytes(seed, k.text) != k.hash {
			panic("the bytes that are kept of " + name + " were changed")
		}
	}
}

// Read reads a regular file of at most most bytes. The bytes may be those of an earlier call: nobody may
// change them.
func (f *Folder) Read(name string, most int64) ([]byte, error) {
	m := f.memory
	if m == nil {
		return f.Fresh(name, most)
	}
	m.mu.Lock()
	k, ok := m.files[name]
	m.mu.Unlock()
	if ok && (k.err != nil || int64(len(k.text)) <= most) {
		return k.text, k.err
	}
	text, err := f.Fresh(name, most)
	if err == nil && len(text) <= mostKeptOfOne || errors.Is(err, fs.ErrNotExist) {
		m.keep(name, kept{text: slices.Clip(text), err: err})
	}
	return text, err
}

func (m *memory) keep(name string, k kept) {
	if Verify {
		k.hash = maphash.Bytes(seed, k.text)
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.bytes+len(k.text) <= mostKept && len(m.files) < mostAnswers {
		m.files[name] = k
		m.bytes += len(k.text)
	}
}

// opened opens a file for reading, through its folder where that is open.
func (f *Folder) opened(name string) (*os.File, error) {
	const flags = os.O_RDONLY | noWait
	if dir := path.Dir(name); dir != "." {
		if r := f.memory.root(f, dir); r != nil {
			// A link that leads out of the folder may stay in the project: that the project's own root knows.
			if file, err := r.OpenFile(path.Base(name), flags, 0); err == nil || errors.Is(err, fs.ErrNotExist) {
				return file, err
			}
		}
	}
	return f.root.OpenFile(filepath.FromSlash(name), flags, 0)
}

// folder is root for what is to be listed: the project itself is open anyway.
func (m *memory) folder(f *Folder, name string) *os.Root {
	if name == "." {
		return nil
	}
	return m.root(f, name)
}

// root is a folder of the project, opened; nil where that is not kept. On Windows an open folder could not be
// renamed by others.
func (m *memory) root(f *Folder, dir string) *os.Root {
	if m == nil || runtime.GOOS == "windows" {
		return nil
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	if r, ok := m.roots[dir]; ok {
		return r
	}
	from, name := f.root, dir
	if parent, ok := m.roots[path.Dir(dir)]; ok {
		from, name = parent, path.Base(dir)
	}
	r, err := from.OpenRoot(filepath.FromSlash(name))
	if err != nil && from != f.root { // a link that leads out of its folder
		r, err = f.root.OpenRoot(filepath.FromSlash(dir))
	}
	if err != nil {
		return nil
	}
	if len(m.order) >= mostOpenRoots {
		m.roots[m.order[0]].Close()
		delete(m.roots, m.order[0])
		m.order = m.order[1:]
	}
	m.roots[dir], m.order = r, append(m.order, dir)
	return r
}
