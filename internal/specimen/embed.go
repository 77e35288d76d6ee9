package specimen

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"html/template"
	"slices"
	"sort"
	"strings"
	"sync/atomic"
	"unicode"

	"golang.org/x/sync/errgroup"

	"notaria/internal/fault"
	"notaria/internal/sfnt"
	"notaria/internal/trim"
)

// mostEmbedded is how many bytes of fonts one page holds, as they are packed.
const mostEmbedded = 40 << 20

// usual are the characters that every page holds: the Latin letters of Europe and Vietnam, digits, signs
// of money and of text, and arrows.
var usual = sfnt.Coverage{{First: 0x20, Last: 0x7E}, {First: 0xA0, Last: 0x17F}, {First: 0x192, Last: 0x192}, {First: 0x1A0, Last: 0x1A1}, {First: 0x1AF, Last: 0x1B0},
	{First: 0x218, Last: 0x21B}, {First: 0x2C6, Last: 0x2DD}, {First: 0x300, Last: 0x30C}, {First: 0x323, Last: 0x328}, {First: 0x1E80, Last: 0x1E85}, {First: 0x1E9E, Last: 0x1E9E},
	{First: 0x1EA0, Last: 0x1EF9}, {First: 0x2010, Last: 0x205E}, {First: 0x20A0, Last: 0x20C0}, {First: 0x2116, Last: 0x2122}, {First: 0x2190, Last: 0x2199}, {First: 0x2212, Last: 0x2215},
	{First: 0x25CC, Last: 0x25CC}}

// A holding is the characters that a page's fonts are cut down to, and what people call them.
type holding struct {
	characters sfnt.Coverage
	words      string
}

// hold is what a page needs: the usual characters, those of its text, and whole scripts of the text but
// for those that have thousands of characters.
func hold(text string, more ...sfnt.Coverage) holding {
	list := slices.Clone(usual)
	for _, c := range more {
		list = append(list, c...)
	}
	names := map[string]bool{}
	for _, r := range text {
		list = append(list, sfnt.Range{First: r, Last: r})
		name, table := scriptOf(r)
		if name == "Latin" || names[name] || table == nil {
			continue
		}
		names[name] = true
		if name != "Han" && name != "Hangul" {
			list = append(list, spans(table)...)
		}
	}
	words := []string{"Latin"}
	for name := range names {
		if name == "Han" || name == "Hangul" {
			name = "the text's own characters of " + name
		}
		words = append(words, strings.ReplaceAll(name, "_", " "))
	}
	sort.Strings(words[1:])
	return holding{union(list), strings.Join(words, ", ")}
}

// scriptOf is the script of a letter (Unicode Standard Annex 24); "" for signs that many share.
func scriptOf(r rune) (string, *unicode.RangeTable) {
	if !unicode.IsLetter(r) && !unicode.Is(unicode.M, r) {
		return "", nil
	}
	for name, table := range unicode.Scripts {
		if name != "Common" && name != "Inherited" && unicode.Is(table, r) {
			return name, table
		}
	}
	return "", nil
}

func spans(table *unicode.RangeTable) (out sfnt.Coverage) {
	for _, r := range table.R16 {
		for c := rune(r.Lo); c <= rune(r.Hi); c += rune(r.Stride) {
			out = append(out, sfnt.Range{First: c, Last: c})
		}
	}
	for _, r := range table.R32 {
		for c := rune(r.Lo); c <= rune(r.Hi); c += rune(r.Stride) {
			out = append(out, sfnt.Range{First: c, Last: c})
		}
	}
	return out
}

// union puts ranges in order, and joins those that touch.
func union(list sfnt.Coverage) sfnt.Coverage {
	slices.SortFunc(list, func(a, b sfnt.Range) int { return int(a.First - b.First) })
	var out sfnt.Coverage
	for _, r := range list {
		if n := len(out); n > 0 && r.First <= out[n-1].Last+1 {
			out[n-1].Last = max(out[n-1].Last, r.Last)
			continue
		}
		out = append(out, r)
	}
	return out
}

// A packing is a font as WOFF 2, or why there is none.
type packing struct {
	data  []byte
	whole bool // it has all of its characters
	err   error
}

// packAll packs the fonts, several at a time, cut down to what the page holds.
func packAll(ctx context.Context, faces []Face, h holding) ([]packing, error) {
	out := make([]packing, len(faces))
	var total atomic.Int64
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(4)
	for i, f := range faces {
		g.Go(func() error {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			if f.Embedding == "restricted" {
				out[i].err = fmt.Errorf("its licence does not allow to embed it")
				return nil
			}
			data, err := f.Read()
			if err != nil {
				out[i].err = err
				return ctx.Err()
			}
			out[i] = pack(data, h.characters)
			if total.Add(int64(len(out[i].data))) > mostEmbedded {
				return fault.Form("expected fonts of at most %d MiB as WOFF 2 for one page, found more; ask for fewer faces", mostEmbedded>>20)
			}
			return ctx.Err()
		})
	}
	return out, g.Wait()
}

// packed is how hard fonts are packed: three times as quick as sfnt.Fast, and a twentieth larger.
const packed = 4

// noSubset is the bit by which a font's maker forbids to cut it down (OpenType, OS/2, fsType).
const noSubset = 0x0100

// pack makes a WOFF 2 of a plain font file. A font that cannot or must not be cut down stays whole; nil
// characters ask for that.
func pack(data []byte, characters sfnt.Coverage) (p packing) {
	file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return packing{err: err}
	}
	font := file.Font(0)
	os2, err := font.OS2()
	p.whole = characters == nil || err == nil && os2.Embedding&noSubset != 0
	var tables map[string][]byte
	if !p.whole {
		if tables, err = trim.Characters(font, characters); err != nil {
			p.whole = true
		}
	}
	if p.whole {
		if tables, err = font.Tables(); err != nil {
			return packing{err: err}
		}
	}
	p.data, p.err = sfnt.BuildWOFF2(tables, packed)
	return p
}

// A webFont is a font of a page, as WOFF 2.
type webFont struct {
	family string
	data   []byte
}

// HouseFonts are the fonts that pages themselves are set in.
func HouseFonts() ([]PageFont, error) {
	fonts, err := houseFonts()
	var out []PageFont
	for _, f := range fonts {
		out = append(out, PageFont{f.family, template.URL(dataURL + base64.StdEncoding.EncodeToString(f.data))})
	}
	return out, err
}

func houseFonts() ([]webFont, error) {
	h, err := houseType()
	if err != nil {
		return nil, err
	}
	out := []webFont{{"house", h.text}, {"house strong", h.strong}, {"house mono", h.mono}}
	for i := range out {
		p := pack(out[i].data, nil)
		if p.err != nil {
			return nil, p.err
		}
		out[i].data = p.data
	}
	return out, nil
}

// dataURL begins the address of a font that is in the page itself.
const dataURL = "data:font/woff2;base64,"

// fontsHere is where a page's style sheet has its fonts. No title holds these bytes: it would be escaped.
const fontsHere = "<style>\n@fonts;"

// withFonts puts fonts into a page, without a copy of them for each step on the way.
func withFonts(page []byte, fonts []webFont) ([]byte, error) {
	before, behind, found := bytes.Cut(page, []byte(fontsHere))
	if !found {
		return nil, fault.Form("expected a place for fonts in the page, found none")
	}
	size := len(page) + 128*len(fonts)
	for _, f := range fonts {
		size += base64.StdEncoding.EncodedLen(len(f.data))
	}
	out := append(append(make([]byte, 0, size), before...), "<style>\n"...)
	for _, f := range fonts {
		out = append(out, "@font-face { font-family: \""+f.family+"\"; src: url(\""+dataURL...)
		out = base64.StdEncoding.AppendEncode(out, f.data)
		out = append(out, "\") format(\"woff2\"); }\n"...)
	}
	return append(out, bytes.TrimPrefix(behind, []byte("\n"))...), nil
}
