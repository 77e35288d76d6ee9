package pixel

import (
	"bytes"
	"compress/gzip"
	"fmt"
	"io"
	"maps"
	"path"
	"path/filepath"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/layout"
	"notaria/internal/sfnt"
)

// MostFile is the largest file that pixels are made of, in bytes, also unpacked.
const MostFile = 64 << 20

// ReadFile reads a bitmap font: BDF, PCF or PSF, also packed by gzip, or the text of a sheet, whose
// picture is read from beside it. It returns nil for data of another kind.
func ReadFile(name string, data []byte, read func(string) ([]byte, error)) (*Font, error) {
	data, err := unpacked(data)
	if err != nil {
		return nil, err
	}
	base := strings.TrimSuffix(filepath.Base(name), ".gz")
	base = strings.TrimSuffix(base, filepath.Ext(base))
	var f *Font
	switch {
	case IsBDF(data):
		f, err = ReadBDF(data)
	case IsPCF(data):
		f, err = ReadPCF(data)
	case IsPSF(data):
		f, err = ReadPSF(data)
	default:
		picture, ok := SheetPicture(data)
		if !ok {
			return nil, nil
		}
		if path.Base(picture) != picture || strings.ContainsAny(picture, `\/:`) {
			return nil, fault.Form("expected the sheet's picture beside it, found %q", picture)
		}
		at := filepath.Join(filepath.Dir(name), picture)
		raw, err := read(filepath.ToSlash(at))
		if err != nil {
			return nil, fmt.Errorf("the sheet's picture, %s: %w", at, err)
		}
		return ReadSheet(data, raw)
	}
	if err == nil {
		f.Name = base
	}
	return f, err
}

// How much a packed file may hold: real fonts are packed some 20 to 1.
const (
	mostPacked  = 200
	leastPacked = 1 << 20 // that much in any case
)

// unpacked is a file that gzip packed, as systems keep their bitmap fonts; others stay.
func unpacked(data []byte) ([]byte, error) {
	if !bytes.HasPrefix(data, []byte{0x1f, 0x8b}) {
		return data, nil
	}
	r, err := gzip.NewReader(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	most := min(MostFile, max(len(data)*mostPacked, leastPacked))
	out, err := io.ReadAll(io.LimitReader(r, int64(most)+1))
	if err == nil && len(out) > most {
		err = fault.Form("expected a file packed at most %d to 1, and of at most 64 MiB, found more; do not trust it", mostPacked)
	}
	return out, err
}

// collected says that a file has several faces, of which one is to be named.
func collected(file *sfnt.File) error {
	var names []string
	for i := range min(file.Len(), 12) {
		if f, _, err := face.Read(file.Font(i), face.Options{}); err == nil {
			names = append(names, f.ID())
		}
	}
	return fault.Form("expected one face, found a collection of %d: name one behind the file, with a #: %s", file.Len(), strings.Join(names, ", "))
}

// OfOutlines is a font file whose outlines can be drawn: a variable font at its default, or at values
// of its axes.
func OfOutlines(data []byte, coordinates map[string]float64) (*Source, error) {
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil, err
	}
	if file.Len() > 1 {
		return nil, collected(file)
	}
	font := file.Font(0)
	read, _, err := face.Read(font, face.Options{})
	if err != nil {
		return nil, err
	}
	paths, err := font.Paths()
	if err != nil {
		return nil, err
	}
	name := read.ID()
	if len(coordinates) > 0 {
		if paths, err = paths.At(font, coordinates); err != nil {
			return nil, err
		}
		for _, tag := range slices.Sorted(maps.Keys(coordinates)) {
			name += fmt.Sprintf(" %s %g", tag, coordinates[tag])
		}
	}
	if read.UnitsPerEm <= 0 {
		return nil, fmt.Errorf("%d units per em", read.UnitsPerEm)
	}
	s := &Source{Name: name, Family: read.Family, UnitsPerEm: read.UnitsPerEm, Ascent: read.Ascent, Descent: read.Descent, Paths: paths}
	s.Kern = layout.NewKerning(font)
	return s, nil
}
