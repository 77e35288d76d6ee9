package intake

import (
	"archive/tar"
	"archive/zip"
	"bytes"
	"compress/gzip"
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"

	"notaria/internal/skerry"
	"notaria/internal/skerry/letters"
)

func gather(t *testing.T, paths ...string) Haul {
	t.Helper()
	opt := Options{Digest: true}
	opt.Coverage = true
	h, err := Gather(context.Background(), paths, opt)
	require.NoError(t, err)
	return h
}

// packed writes a zip of entries in order and returns its path.
func packed(t *testing.T, entries ...[2]string) string {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, e := range entries {
		w, err := z.Create(e[0])
		require.NoError(t, err)
		_, err = w.Write([]byte(e[1]))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	name := filepath.Join(t.TempDir(), "type.zip")
	require.NoError(t, os.WriteFile(name, b.Bytes(), 0o644))
	return name
}

func font(t *testing.T) string {
	t.Helper()
	b, err := letters.Font(letters.Styles[2])
	require.NoError(t, err)
	return string(b)
}

func TestArchive(t *testing.T) {
	b, err := skerry.Archive()
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "skerry-type.zip")
	require.NoError(t, os.WriteFile(name, b, 0o644))
	h := gather(t, name)
	require.Empty(t, h.Problems)
	require.Len(t, h.Faces, 4)
	require.Equal(t, 5, h.Junk)
	require.Len(t, h.Licences, 1)
	require.Equal(t, "SkerrySans-Light", h.Faces[0].PostScript)
	require.Equal(t, "skerry-type.zip", h.Faces[0].Archive)
	require.Len(t, h.Faces[0].SHA256, 64)
	require.Greater(t, h.Faces[0].Characters, 200)
	again, err := skerry.Archive()
	require.NoError(t, err)
	require.Equal(t, b, again)
}

func TestFolder(t *testing.T) {
	root := t.TempDir()
	for name, text := range map[string]string{
		"a/B.TTF": font(t), "a/.hidden/C.ttf": font(t), "a/._B.TTF": "junk", "OFL.txt": "terms", "notes.txt": "no", "x.ttf/inside.txt": "",
	} {
		full := filepath.Join(root, name)
		require.NoError(t, os.MkdirAll(filepath.Dir(full), 0o755))
		require.NoError(t, os.WriteFile(full, []byte(text), 0o644))
	}
	require.NoError(t, os.Symlink(filepath.Join(root, "a"), filepath.Join(root, "loop")))
	h := gather(t, root)
	require.Len(t, h.Faces, 1)
	require.Len(t, h.Licences, 1)
	require.Len(t, h.Problems, 1)
	require.Equal(t, "folder", h.Problems[0].Code)
	b, err := h.Faces[0].Read()
	require.NoError(t, err)
	require.Equal(t, font(t), string(b))
}

func TestHostileArchives(t *testing.T) {
	tests := map[string]struct {
		entry [2]string
		code  string
	}{
		"up and out":      {[2]string{"../evil.ttf", "x"}, "path-outside"},
		"absolute":        {[2]string{"/etc/evil.ttf", "x"}, "path-outside"},
		"with backslash":  {[2]string{`..\evil.ttf`, "x"}, "path-outside"},
		"on a drive":      {[2]string{`C:\evil.ttf`, "x"}, "path-outside"},
		"a bomb":          {[2]string{"big.ttf", strings.Repeat("\x00", 3<<20)}, "zip-bomb"},
		"a page in a zip": {[2]string{"page.ttf", "<!DOCTYPE html><html></html>"}, "html"},
	}
	for name, tt := range tests {
		t.Run(name, func(t *testing.T) {
			h := gather(t, packed(t, [2]string{"Good.ttf", font(t)}, tt.entry))
			require.Len(t, h.Problems, 1)
			require.Equal(t, tt.code, h.Problems[0].Code)
			require.NotEmpty(t, h.Problems[0].Cure)
			require.True(t, h.Problems[0].Fatal)
			if tt.code == "html" {
				require.Len(t, h.Faces, 1, "a bad file does not stop the others")
			} else {
				require.Empty(t, h.Faces, "nothing of such an archive is trusted")
			}
		})
	}
}

// tarred packs files in order as a tar.gz.
func tarred(t *testing.T, entries ...[2]string) string {
	t.Helper()
	var b bytes.Buffer
	z := gzip.NewWriter(&b)
	w := tar.NewWriter(z)
	for _, e := range entries {
		require.NoError(t, w.WriteHeader(&tar.Header{Name: e[0], Size: int64(len(e[1])), Mode: 0o644, Typeflag: tar.TypeReg}))
		_, err := w.Write([]byte(e[1]))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	require.NoError(t, z.Close())
	name := filepath.Join(t.TempDir(), "type.tar.gz")
	require.NoError(t, os.WriteFile(name, b.Bytes(), 0o644))
	return name
}

func TestTarAndNestedArchives(t *testing.T) {
	h := gather(t, tarred(t, [2]string{"./fonts/Bold.ttf", font(t)}, [2]string{"./OFL.txt", "terms"}, [2]string{"fonts/.DS_Store", ""}, [2]string{"readme", "x"}))
	require.Empty(t, h.Problems)
	require.Len(t, h.Faces, 1)
	require.Len(t, h.Licences, 1)
	require.Equal(t, 1, h.Junk)
	plain, err := h.Faces[0].Plain()
	require.NoError(t, err)
	require.Equal(t, font(t), string(plain))

	raw := func(name string) string {
		b, err := os.ReadFile(name)
		require.NoError(t, err)
		return string(b)
	}
	inner := raw(packed(t, [2]string{"Bold.ttf", font(t)}))
	h = gather(t, packed(t, [2]string{"desktop.zip", inner}, [2]string{"web.tar.gz", raw(tarred(t, [2]string{"page.ttf", "<html></html>"}))}))
	require.Len(t, h.Faces, 1)
	require.Equal(t, "type.zip/desktop.zip/Bold.ttf", h.Faces[0].File[strings.Index(h.Faces[0].File, "type.zip"):])
	require.Equal(t, []string{"html"}, []string{h.Problems[0].Code})

	deep := raw(packed(t, [2]string{"two.zip", inner}))
	h = gather(t, packed(t, [2]string{"one.zip", deep}))
	require.Empty(t, h.Faces)
	require.Equal(t, "nested", h.Problems[0].Code)
	h = gather(t, packed(t, [2]string{"one.zip", "no zip"}, [2]string{"Good.ttf", font(t)}))
	require.Len(t, h.Faces, 1, "a bad archive inside does not stop the others")
	require.Equal(t, "bad-archive", h.Problems[0].Code)
}

func TestHostileTar(t *testing.T) {
	for code, entry := range map[string][2]string{"path-outside": {"../x.ttf", "x"}, "zip-bomb": {"x.ttf", strings.Repeat("\x00", 8<<20)}} {
		h := gather(t, tarred(t, entry))
		require.Equal(t, code, h.Problems[0].Code)
		require.Empty(t, h.Faces)
	}
}

func TestOldNamesAndDoubles(t *testing.T) {
	h := gather(t, packed(t, [2]string{"Z\x84hl.ttf", font(t)}, [2]string{"again.ttf", font(t)}))
	require.Equal(t, "Zähl.ttf", h.Faces[0].BaseName(), "code page 437")
	require.Equal(t, "double-file", h.Problems[0].Code)
	other := strings.Replace(font(t), "Drawn for", "Other for", 1)
	h = gather(t, packed(t, [2]string{"a.ttf", font(t)}, [2]string{"b.ttf", other}))
	require.Equal(t, "double-name", h.Problems[0].Code)
}

func TestWrongEnding(t *testing.T) {
	name := filepath.Join(t.TempDir(), "Skerry.woff2")
	require.NoError(t, os.WriteFile(name, []byte(font(t)), 0o644))
	h := gather(t, name)
	require.Len(t, h.Faces, 1)
	require.Equal(t, "wrong-ending", h.Problems[0].Code)
	require.False(t, h.Problems[0].Fatal)
}

func TestCancelled(t *testing.T) {
	ctx, stop := context.WithCancel(context.Background())
	stop()
	_, err := Gather(ctx, []string{packed(t, [2]string{"a.ttf", font(t)})}, Options{})
	require.ErrorIs(t, err, context.Canceled)
}

func FuzzZip(f *testing.F) {
	b, err := skerry.Archive()
	require.NoError(f, err)
	f.Add(b[:2000])
	f.Add([]byte("PK\x05\x06" + strings.Repeat("\x00", 18)))
	f.Fuzz(func(t *testing.T, b []byte) {
		name := filepath.Join(t.TempDir(), "f.zip")
		require.NoError(t, os.WriteFile(name, b, 0o644))
		_, _ = Gather(context.Background(), []string{name}, Options{})
	})
}

func FuzzTar(f *testing.F) {
	var b bytes.Buffer
	w := tar.NewWriter(&b)
	require.NoError(f, w.WriteHeader(&tar.Header{Name: "a.ttf", Size: 4, Mode: 0o644, Typeflag: tar.TypeReg}))
	_, err := w.Write([]byte("\x00\x01\x00\x00"))
	require.NoError(f, err)
	require.NoError(f, w.Close())
	f.Add(b.Bytes())
	f.Fuzz(func(t *testing.T, b []byte) {
		name := filepath.Join(t.TempDir(), "f.tar")
		require.NoError(t, os.WriteFile(name, b, 0o644))
		_, _ = Gather(context.Background(), []string{name}, Options{})
	})
}

// Entries that share their bytes or their names are refused before anything is unpacked.
func TestOverlappingEntries(t *testing.T) {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, name := range []string{"a.ttf", "b.ttf"} {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = w.Write(bytes.Repeat([]byte("font "+name), 50))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	whole := b.Bytes()
	gather := func(data []byte) []face.Problem {
		name := filepath.Join(t.TempDir(), "x.zip")
		require.NoError(t, os.WriteFile(name, data, 0o644))
		h, err := Gather(context.Background(), []string{name}, Options{})
		require.NoError(t, err)
		return h.Problems
	}
	for _, p := range gather(whole) {
		require.NotEqual(t, "zip-bomb", p.Code)
	}
	// The second record of the directory leads to the first entry (APPNOTE 4.3.12: the
	// offset is at 42).
	shared := bytes.Clone(whole)
	second := bytes.LastIndex(shared, []byte("PK\x01\x02"))
	copy(shared[second+42:], []byte{0, 0, 0, 0})
	problems := gather(shared)
	require.Len(t, problems, 1)
	require.Equal(t, "zip-bomb", problems[0].Code)
	require.Contains(t, problems[0].Message, "which share them")
	problems = gather(bytes.ReplaceAll(whole, []byte("b.ttf"), []byte("a.ttf")))
	require.Len(t, problems, 1)
	require.Contains(t, problems[0].Message, `"a.ttf" twice`)
}
