package intake

import (
	"archive/zip"
	"fmt"
	"io"
	"path"
	"path/filepath"
	"strings"
)

// zipEntry is a file of an archive, opened again for each read so that an
// archive of any size costs no memory while it waits.
type zipEntry struct {
	archive string
	index   int
}

// scanZip lists the fonts of an archive after checking all of it: a single
// entry that points outside, or sizes beyond the limits, and it is refused.
func (h *Haul) scanZip(file string) ([]source, error) {
	z, err := zip.OpenReader(file)
	if err != nil {
		return nil, &RefusedError{"bad-zip", "a zip archive", "a file that is none, or one cut short (" + err.Error() + ")", "download it again"}
	}
	defer z.Close()
	if err := checkZip(&z.Reader); err != nil {
		return nil, err
	}
	var out []source
	archive := filepath.Base(file)
	for i, e := range z.File {
		name := slashed(e.Name)
		if e.FileInfo().IsDir() {
			continue
		}
		if junkPath(name) {
			h.Junk++
			continue
		}
		src := source{shown: filepath.Join(file, filepath.FromSlash(name)), name: path.Base(name), archive: archive, entry: &zipEntry{file, i}}
		switch ext := strings.ToLower(path.Ext(name)); {
		case fontExtensions[ext]:
			out = append(out, src)
		case isLicence(src.name):
			h.Licences = append(h.Licences, Text{File: src.shown, Archive: archive, Name: src.name, src: src})
		}
	}
	return out, nil
}

// slashed turns the backslashes that some Windows programs write into slashes.
func slashed(name string) string { return strings.ReplaceAll(name, "\\", "/") }

func junkPath(name string) bool {
	for _, part := range strings.Split(name, "/") {
		if isJunk(part) {
			return true
		}
	}
	return false
}

func checkZip(z *zip.Reader) error {
	if len(z.File) > maxZipEntries {
		return &RefusedError{"too-many", fmt.Sprintf("at most %d entries", maxZipEntries), fmt.Sprintf("%d", len(z.File)), "unpack it, and name the folder that holds the fonts"}
	}
	var total uint64
	for _, e := range z.File {
		name := slashed(e.Name)
		if !filepath.IsLocal(filepath.FromSlash(strings.TrimSuffix(name, "/"))) || strings.Contains(name, ":") {
			return &RefusedError{"path-outside", "an archive whose files stay inside it",
				fmt.Sprintf("an entry that points elsewhere: %q", e.Name), "do not trust this archive; download it from its maker"}
		}
		if e.UncompressedSize64 > ratioFloor && e.UncompressedSize64/maxRatio > e.CompressedSize64 {
			return &RefusedError{"zip-bomb", fmt.Sprintf("files packed at most %d to 1", maxRatio),
				fmt.Sprintf("%q: %d bytes out of %d", e.Name, e.UncompressedSize64, e.CompressedSize64), "do not trust this archive"}
		}
		if total += e.UncompressedSize64; total > maxZipBytes {
			return &RefusedError{"too-big", fmt.Sprintf("at most %d MiB unpacked", maxZipBytes>>20), "more", "unpack it, and name the folder that holds the fonts"}
		}
	}
	return nil
}

// read unpacks the entry; the archive's word on sizes is not taken for it.
func (e *zipEntry) read(most int64) ([]byte, error) {
	z, err := zip.OpenReader(e.archive)
	if err != nil {
		return nil, err
	}
	defer z.Close()
	if e.index >= len(z.File) {
		return nil, fmt.Errorf("%s: the archive changed while it was read", e.archive)
	}
	r, err := z.File[e.index].Open()
	if err != nil {
		return nil, err
	}
	defer r.Close()
	b, err := io.ReadAll(io.LimitReader(r, most+1))
	if err != nil {
		return nil, &RefusedError{"bad-zip", "an entry that unpacks", err.Error(), "download the archive again"}
	}
	if int64(len(b)) > most {
		return nil, &RefusedError{"too-big", fmt.Sprintf("at most %d MiB", most>>20), "more", "take a smaller edition"}
	}
	return b, nil
}
