// Package skerry holds the demo's scenario: the phone app, the deck game and the
// ticket desk of Skerry Ferries, a small ferry line, and the type that the line downloaded.
package skerry

import (
	"archive/zip"
	"bytes"
	"embed"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"notaria/internal/skerry/letters"
)

//go:embed all:sample
var sample embed.FS

// ArchiveName is the file that the type comes in.
const ArchiveName = "skerry-type.zip"

// DeckArchiveName is the file that the type of the ships' names comes in.
const DeckArchiveName = "deck-type.zip"

// BoardArchiveName is the file that the type of the departure board comes in.
const BoardArchiveName = "board-type.zip"

// VariableArchiveName is the file that the variable font comes in.
const VariableArchiveName = "variable-type.zip"

// Place puts the sample project into a folder, which is made if need be and must be empty: all of it, or
// the apps that are named by their folders.
func Place(dir string, apps ...string) error {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	there, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	if len(there) > 0 {
		return fmt.Errorf("%s: expected an empty folder for the demo, found %s in it; name a new one", dir, there[0].Name())
	}
	if len(apps) == 0 {
		apps = []string{"."}
	}
	for _, app := range apps {
		if err := copyOut(dir, app); err != nil {
			return err
		}
	}
	for name, pack := range archives {
		archive, err := pack()
		if err == nil {
			err = os.WriteFile(filepath.Join(dir, name), archive, 0o644)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// archives are the downloads, drawn and packed once.
var archives = map[string]func() ([]byte, error){
	ArchiveName: sync.OnceValues(Archive), BoardArchiveName: sync.OnceValues(BoardArchive), DeckArchiveName: sync.OnceValues(DeckArchive),
	VariableArchiveName: sync.OnceValues(VariableArchive),
}

// copyOut writes one app of the sample, or "." for all. Embedded files are read-only, and an app's own
// files are not.
func copyOut(dir, app string) error {
	return fs.WalkDir(sample, path.Join("sample", app), func(name string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		to := filepath.Join(dir, filepath.FromSlash(strings.TrimPrefix(strings.TrimPrefix(name, "sample"), "/")))
		if d.IsDir() {
			return os.MkdirAll(to, 0o755)
		}
		text, err := sample.ReadFile(name)
		if err != nil {
			return err
		}
		return os.WriteFile(to, text, 0o644)
	})
}

// BoardArchive packs the two typefaces of the departure board.
func BoardArchive() ([]byte, error) {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, f := range []struct {
		name string
		draw func() ([]byte, error)
	}{{"BeaconMono.ttf", letters.Beacon}, {"lantern digits 1.ttf", letters.Lantern}} {
		font, err := f.draw()
		if err == nil {
			err = packed(z, f.name, font)
		}
		if err != nil {
			return nil, err
		}
	}
	err := z.Close()
	return b.Bytes(), err
}

// DeckArchive packs the typeface of the ships' names: two styles, and a licence.
func DeckArchive() ([]byte, error) {
	cuts, err := letters.Capstan()
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, f := range []struct {
		name    string
		content []byte
	}{{"capstan slab/Capstan slab-bold FINAL.ttf", cuts["Bold"]}, {"capstan slab/Capstan slab.ttf", cuts["Regular"]}, {"capstan slab/LICENCE.txt", []byte(strings.ReplaceAll(licence, "Skerry Sans", "Capstan Slab"))}} {
		if err := packed(z, f.name, f.content); err != nil {
			return nil, err
		}
	}
	err = z.Close()
	return b.Bytes(), err
}

// VariableArchive packs the variable font, and its licence.
func VariableArchive() ([]byte, error) {
	font, err := letters.Variable()
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	if err = packed(z, "SkerrySans[wght].ttf", font); err == nil {
		err = packed(z, "LICENCE.txt", []byte(strings.ReplaceAll(licence, "Skerry Sans", "Skerry Sans Variable")))
	}
	if err == nil {
		err = z.Close()
	}
	return b.Bytes(), err
}

// packed adds a file to an archive, with a fixed date.
func packed(z *zip.Writer, name string, content []byte) error {
	w, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: time.Date(2026, 6, 1, 12, 0, 0, 0, time.UTC)})
	if err == nil {
		_, err = w.Write(content)
	}
	return err
}

// downloaded are the file names under which the styles come: as untidy as
// downloads are.
var downloaded = map[string]string{
	"Light":   "Skerry SANS light.TTF",
	"Regular": "Skerry-Sans regular (1).ttf",
	"Bold":    "SKERRY_bold-v1.100.ttf",
	"Italic":  "skerry sans oblique copy.ttf",
}

const licence = `Skerry Sans, drawn for the Skerry Ferries demo.

You may use, change and share these fonts for any purpose, alone or in an app,
as long as this text travels with them. They come without any warranty.
`

// Archive packs the type as a download: a nested folder, four styles, a licence
// and the junk that archives carry. The same bytes every time.
func Archive() ([]byte, error) {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	add := func(name string, content []byte) error { return packed(z, name, content) }
	const folder = "Skerry Type 1.100/Desktop fonts/"
	if err := add(folder+".DS_Store", []byte("\x00\x00\x00\x01Bud1")); err != nil {
		return nil, err
	}
	for _, st := range letters.Styles {
		font, err := letters.Font(st)
		if err != nil {
			return nil, err
		}
		name := downloaded[st.Name]
		if err := add(folder+name, font); err != nil {
			return nil, err
		}
		if err := add("__MACOSX/"+folder+"._"+name, []byte("\x00\x05\x16\x07\x00\x02\x00\x00Mac OS X        ")); err != nil {
			return nil, err
		}
	}
	if err := add("Skerry Type 1.100/Licence.txt", []byte(licence)); err != nil {
		return nil, err
	}
	err := z.Close()
	return b.Bytes(), err
}
