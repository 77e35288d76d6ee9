package msbuild

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/language"
)

// A MAUI app registers its fonts in MauiProgram.cs:
//
//	.ConfigureFonts(fonts =>
//	{
//	    fonts.AddFont("SkerrySans-Bold.ttf", "SkerrySans-Bold");
//	})
//
// Entries have the alias as their place's name, and the file as their value.

// KindAlias is the kind of the places of AddFont.
const KindAlias edit.Kind = "alias"

// AddFont is the syntax of a MauiProgram.cs.
type AddFont struct{}

// Name is how entries name this syntax.
func (AddFont) Name() string { return "addfont" }

var (
	configureFonts = regexp.MustCompile(`\bConfigureFonts\s*\(\s*\(?\s*(?:IFontCollection\s+)?([A-Za-z_]\w*)\s*\)?\s*=>\s*\{`)
	addFont        = regexp.MustCompile(`\b([A-Za-z_]\w*)\s*\.\s*AddFont\s*\(\s*"((?:[^"\\\n]|\\.)*)"\s*(?:,\s*"((?:[^"\\\n]|\\.)*)"\s*)?\)\s*;`)
)

// A Registered font is one AddFont statement.
type Registered struct {
	File, Alias string
	Line        int // 1-based
	from, to    int
}

// fontBlock is the body of ConfigureFonts.
type fontBlock struct {
	param       string
	open, close int // offsets of the braces
	fonts       []Registered
}

// AddedFonts lists the fonts that a MauiProgram.cs registers.
func AddedFonts(doc edit.Document) ([]Registered, error) {
	b, err := parseFontBlock(doc)
	return b.fonts, err
}

func parseFontBlock(d edit.Document) (fontBlock, error) {
	doc := d.Text
	clean, skeleton := language.CSharp.Blank(doc), language.CSharp.Skeleton(doc)
	m := configureFonts.FindSubmatchIndex(skeleton)
	if m == nil {
		return fontBlock{}, d.Fail(-1, "a call of ConfigureFonts with a block", "none",
			`write .ConfigureFonts(fonts => { }) behind UseMauiApp, then register again`)
	}
	b := fontBlock{param: string(clean[m[2]:m[3]]), open: m[1] - 1}
	if b.close = language.Closing(skeleton, b.open); b.close < 0 {
		return b, d.Fail(b.open, "the brace that closes ConfigureFonts", "the end of the file", edit.Mend)
	}
	for _, a := range addFont.FindAllSubmatchIndex(clean[b.open:b.close], -1) {
		text := func(i int) string {
			if a[i] < 0 {
				return ""
			}
			s := string(clean[b.open+a[i] : b.open+a[i+1]])
			if u, err := strconv.Unquote(`"` + s + `"`); err == nil {
				return u
			}
			return s
		}
		b.fonts = append(b.fonts, Registered{text(4), text(6), splice.LineOf(doc, b.open+a[0]), b.open + a[0], b.open + a[1]})
	}
	return b, nil
}

// Reconcile adds and drops statements.
func (s AddFont) Reconcile(d edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	doc := d.Text
	b, err := parseFontBlock(d)
	if err != nil {
		if len(want) == 0 {
			return doc, nil, nil // the call is gone, and our statements with it
		}
		return nil, nil, err
	}
	mine, wanted := edit.Keys(owned), edit.Keys(want)
	have := map[string]bool{}
	var splices []splice.Edit
	for _, f := range b.fonts {
		e := edit.Entry{File: d.File, Syntax: s.Name(), Place: AliasPlace(f.Alias), Value: f.File}
		if mine[e.Key()] && !wanted[e.Key()] {
			splices = append(splices, splice.WholeRange(doc, f.from, f.to))
			continue
		}
		have[e.Place.Name] = true
	}
	var now []edit.Entry
	var lines []string
	for _, e := range want {
		if !have[e.Place.Name] {
			lines = append(lines, fmt.Sprintf("%s.AddFont(%s, %s);", b.param, language.CSharp.Literal(e.Value), language.CSharp.Literal(e.Place.Name)))
			now = append(now, e)
		} else if mine[e.Key()] {
			now = append(now, e)
		}
		have[e.Place.Name] = true
	}
	if len(lines) > 0 {
		splices = append(splices, b.insertion(doc, lines))
	}
	text, err := d.Apply(splices...)
	return text, now, err
}

// insertion puts statements before the closing brace, or right behind the opening
// one where the block is on one line.
func (b fontBlock) insertion(doc []byte, lines []string) splice.Edit {
	start := splice.LineStart(doc, b.close)
	if start <= b.open || strings.TrimSpace(string(doc[start:b.close])) != "" {
		return splice.Replace(b.open+1, b.open+1, " "+strings.Join(lines, " "))
	}
	indent := splice.IndentOf(doc, b.close) + "\t"
	if strings.Contains(splice.IndentOf(doc, b.close), " ") {
		indent = splice.IndentOf(doc, b.close) + "    "
	}
	if n := len(b.fonts); n > 0 {
		indent = splice.IndentOf(doc, b.fonts[n-1].from)
	}
	nl := splice.Newline(doc)
	return splice.Replace(start, start, indent+strings.Join(lines, nl+indent)+nl)
}

// AliasPlace is the place of the font of an alias.
func AliasPlace(alias string) edit.Place { return edit.Place{Kind: KindAlias, Name: alias} }

// TakeOver takes statements.
func (AddFont) TakeOver(_ edit.Document, want, mine []edit.Entry) []edit.Entry {
	out, _ := edit.Take(want, mine, func(e edit.Entry) (edit.Entry, bool) { return e, true })
	return out
}

// Paste is the statements.
func (AddFont) Paste(want []edit.Entry) string {
	return strings.Join(edit.Each(want, func(e edit.Entry) string {
		return fmt.Sprintf("fonts.AddFont(%s, %s);", language.CSharp.Literal(e.Value), language.CSharp.Literal(e.Place.Name))
	}), "\n")
}

// Missing returns the files that are not registered.
func (AddFont) Missing(d edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	b, err := parseFontBlock(d)
	if err != nil {
		return nil, err
	}
	files := map[string]bool{}
	for _, f := range b.fonts {
		files[f.File] = true
	}
	var out []edit.Lack
	for _, e := range want {
		if !files[e.Value] {
			out = append(out, edit.Lack{Entry: e, Message: "ConfigureFonts does not register " + e.Value,
				Cause: "a font is known by the alias that it is registered under, and by nothing else"})
		}
	}
	return out, nil
}
