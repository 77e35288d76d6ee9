package tests

import (
	"archive/tar"
	"bytes"
	"compress/gzip"
	"encoding/binary"
	"os"
	"path/filepath"

	"github.com/rogpeppe/go-internal/testscript"

	"notaria/internal/sfnt"
	"notaria/internal/skerry/letters"
)

// makeFont writes one of the odd fonts that people download: font NAME KIND.
func makeFont(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 2 {
		ts.Fatalf("usage: font name kind")
	}
	tables := drawnTables(ts, 1)
	win := func(id uint16, v string) sfnt.NameRecord {
		return sfnt.NameRecord{ID: id, Platform: 3, Encoding: 1, Language: 0x409, Value: v}
	}
	names := sfnt.Names{win(1, "Capstan Slab"), win(2, "Regular"), win(4, "Capstan Slab Regular")}
	switch args[1] {
	case "nameless":
	case "spaced":
		names = append(names, win(6, "Capstan Slab"))
	case "german":
		names = sfnt.Names{win(6, "CapstanSlab-Regular"), win(2, "Regular"), win(4, "Capstan"), {ID: 1, Platform: 3, Encoding: 1, Language: 0x407, Value: "Gangspill"}, win(1, "Capstan")}
	case "variable":
		names = append(names, win(6, "CapstanSlab-Regular"), win(256, "Weight"), win(257, "Bold"))
		tables["fvar"] = []byte("\x00\x01\x00\x00\x00\x10\x00\x02\x00\x01\x00\x14\x00\x01\x00\x08wght\x00\x64\x00\x00\x01\x90\x00\x00\x03\x84\x00\x00\x00\x00\x01\x00\x01\x01\x00\x00\x02\xbc\x00\x00")
	case "black":
		names = sfnt.Names{win(1, "Skerry Sans Black"), win(2, "Regular"), win(4, "Skerry Sans Black"), win(6, "SkerrySans-Black"), win(16, "Skerry Sans"), win(17, "Black")}
		tables["OS/2"][4], tables["OS/2"][5] = 900>>8, 900&0xff // usWeightClass
	case "light": // without typographic names: the weight is in the family's
		names = sfnt.Names{win(1, "Skerry Sans Light"), win(2, "Regular"), win(4, "Skerry Sans Light"), win(6, "SkerrySans-OldLight")}
		tables["OS/2"][4], tables["OS/2"][5] = 300>>8, 300&0xff
	case "edition": // of Skerry Sans Bold, narrower and with other measures
		names = sfnt.Names{win(1, "Skerry Sans"), win(2, "Bold"), win(4, "Skerry Sans Bold"), win(5, "Version 2.000"), win(6, "SkerrySans-Bold")}
		tables["OS/2"][4], tables["OS/2"][5] = 700>>8, 700&0xff
		tables["hhea"][4], tables["hhea"][5] = 1050>>8, 1050&0xff // ascender
	case "static":
		names = append(names, win(6, "CapstanSlab-Regular"))
	case "restricted":
		names = append(names, win(6, "CapstanSlab-Regular"))
		tables["OS/2"][8], tables["OS/2"][9] = 0, 2 // fsType
	case "web":
		names = append(names, win(6, "CapstanSlab-Regular"))
		tables["name"] = nameTable(ts, names)
		ts.Check(os.WriteFile(ts.MkAbs(args[0]), wrapWOFF(tables), 0o644))
		return
	case "bomb":
		names = append(names, win(6, "CapstanSlab-Regular"))
		tables["glyf"], tables["loca"] = bomb()
		tables["maxp"] = sfnt.Maxp{NumGlyphs: 21}.Bytes()
		delete(tables, "cmap")
	default:
		ts.Fatalf("no such kind of font: %s", args[1])
	}
	tables["name"] = nameTable(ts, names)
	b, err := sfnt.Build(tables)
	ts.Check(err)
	ts.Check(os.MkdirAll(filepath.Dir(ts.MkAbs(args[0])), 0o755))
	ts.Check(os.WriteFile(ts.MkAbs(args[0]), b, 0o644))
}

func nameTable(ts *testscript.TestScript, names sfnt.Names) []byte {
	b, err := names.Bytes()
	ts.Check(err)
	return b
}

func drawnTables(ts *testscript.TestScript, style int) map[string][]byte {
	b, err := letters.Font(letters.Styles[style])
	ts.Check(err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	ts.Check(err)
	tables, err := file.Font(0).Tables()
	ts.Check(err)
	return tables
}

// wrapWOFF stores tables as they are, which the format allows.
func wrapWOFF(tables map[string][]byte) []byte {
	var dir, body []byte
	u32 := func(vs ...int) {
		for _, v := range vs {
			dir = binary.BigEndian.AppendUint32(dir, uint32(v))
		}
	}
	for tag, t := range tables {
		dir = append(dir, tag...)
		u32(44+20*len(tables)+len(body), len(t), len(t), 0)
		body = append(body, t...)
	}
	head := append([]byte("wOFF\x00\x01\x00\x00"), make([]byte, 36)...)
	binary.BigEndian.PutUint16(head[12:], uint16(len(tables)))
	return append(append(head, dir...), body...)
}

// bomb is a glyph drawn as eight of another, twenty levels deep.
func bomb() (glyf, loca []byte) {
	for i := range 21 {
		loca = binary.BigEndian.AppendUint32(loca, uint32(len(glyf)))
		if i == 0 {
			continue
		}
		g := []byte("\xff\xff\x00\x00\x00\x00\x00\x00\x00\x00")
		for k := range 8 {
			more := byte(0x20)
			if k == 7 {
				more = 0
			}
			g = append(g, 0, more, 0, byte(i-1), 0, 0)
		}
		for len(g)%4 != 0 {
			g = append(g, 0)
		}
		glyf = append(glyf, g...)
	}
	return glyf, binary.BigEndian.AppendUint32(loca, uint32(len(glyf)))
}

// tarball packs files: tarball NAME FILE...
func tarball(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) < 2 {
		ts.Fatalf("usage: tarball name file...")
	}
	var b bytes.Buffer
	z := gzip.NewWriter(&b)
	w := tar.NewWriter(z)
	for _, f := range args[1:] {
		content, err := os.ReadFile(ts.MkAbs(f))
		ts.Check(err)
		ts.Check(w.WriteHeader(&tar.Header{Name: filepath.ToSlash(f), Size: int64(len(content)), Mode: 0o644, Typeflag: tar.TypeReg}))
		_, err = w.Write(content)
		ts.Check(err)
	}
	ts.Check(w.Close())
	ts.Check(z.Close())
	ts.Check(os.WriteFile(ts.MkAbs(args[0]), b.Bytes(), 0o644))
}
