package msbuild

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/language"
	"notaria/internal/lazy"
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
	configureFonts = lazy.Regexp(`\bConfigureFonts\s*\(\s*\(?\s*(?:IFontCollection\s+)?([A-Za-z_]\w*)\s*\)?\s*=>\s*`)
	configuredBy   = lazy.Regexp(`\bConfigureFonts\s*\(\s*(?:[A-Za-z_]\w*\.)?([A-Za-z_]\w*)\s*\)`)
	useApp         = lazy.Regexp(`\.\s*UseMauiApp\s*(?:<[\w.\s]*>)?\s*\(`)
	addFont        = lazy.Regexp(`\b([A-Za-z_]\w*)\s*\.\s*AddFont\s*\(\s*(?:filename\s*:\s*)?"((?:[^"\\\n]|\\.)*)"\s*(?:,\s*(?:alias\s*:\s*)?"((?:[^"\\\n]|\\.)*)"\s*)?\)\s*;`)
	chainedFont    = lazy.Regexp(`\s*(\.)\s*AddFont\s*\(\s*(?:filename\s*:\s*)?"((?:[^"\\\n]|\\.)*)"\s*(?:,\s*(?:alias\s*:\s*)?"((?:[^"\\\n]|\\.)*)"\s*)?\)`)
)

// kindCall is the kind of the place of a call that Notaria made, which has no owners: it goes with
// the last font in it.
const kindCall edit.Kind = "call"

// A Registered font is one AddFont statement.
type Registered struct {
	File, Alias string
	Line        int // 1-based
	from, to    int
}

// fontBlock is what ConfigureFonts runs: a block, or one expression in which the calls follow each
// other.
type fontBlock struct {
	param       string
	open, close int // offsets of the braces, or where the expression begins and ends
	chain       bool
	fonts       []Registered
}

// AddedFonts lists the fonts that a program registers.
func AddedFonts(doc edit.Document) ([]Registered, error) {
	b, err := parseFontBlock(doc)
	return b.fonts, err
}

// Configures says whether a program registers fonts, or begins the app in whose builder it can.
func Configures(text []byte) (fonts, app bool) {
	skeleton := language.CSharp.Skeleton(text)
	return configureFonts.Match(skeleton) || configuredBy.Match(skeleton), useApp.Match(skeleton)
}

// errNoCall is the error where there is no call of ConfigureFonts.
var errNoCall = errors.New("no call of ConfigureFonts")

func parseFontBlock(d edit.Document) (fontBlock, error) {
	doc := d.Text
	clean, skeleton := language.CSharp.Blank(doc), language.CSharp.Skeleton(doc)
	b, err := findBlock(d, clean, skeleton)
	if err != nil {
		return b, err
	}
	pattern := addFont
	if b.chain {
		pattern = chainedFont
	}
	line := splice.Liner(doc)
	for _, a := range pattern.FindAllSubmatchIndex(clean[b.open:b.close], -1) {
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
		b.fonts = append(b.fonts, Registered{text(4), text(6), line(b.open + a[2]), b.open + a[0], b.open + a[1]})
	}
	return b, nil
}

// findBlock finds what ConfigureFonts runs: the body of a lambda, or of the method that it names.
func findBlock(d edit.Document, clean, skeleton []byte) (fontBlock, error) {
	b := fontBlock{}
	switch m, by := configureFonts.FindSubmatchIndex(skeleton), configuredBy.FindSubmatch(skeleton); {
	case m != nil:
		b.param, b.open = string(clean[m[2]:m[3]]), m[1]
	case by != nil:
		method := lazy.Regexp(`\b` + string(by[1]) + `\s*\(\s*IFontCollection\s+([A-Za-z_]\w*)\s*\)\s*`).FindSubmatchIndex(skeleton)
		if method == nil {
			return b, d.Fail(-1, "the method "+string(by[1])+"(IFontCollection fonts), which ConfigureFonts names, in this file", "none", "write .ConfigureFonts(fonts => { }) in its place, then register again")
		}
		b.param, b.open = string(clean[method[2]:method[3]]), method[1]
	default:
		return b, errNoCall
	}
	if b.open < len(skeleton) && skeleton[b.open] == '{' {
		if b.close = language.Closing(skeleton, b.open); b.close < 0 {
			return b, d.Fail(b.open, "the brace that closes ConfigureFonts", "the end of the file", edit.Mend)
		}
		return b, nil
	}
	call := configureFonts.FindIndex(skeleton)
	if call == nil {
		return b, d.Fail(b.open, "the body of a method in braces", "another form", edit.Mend)
	}
	open := call[0] + strings.IndexByte(string(skeleton[call[0]:call[1]]), '(')
	if b.chain, b.close = true, language.Closing(skeleton, open); b.close < 0 {
		return b, d.Fail(b.open, "the bracket that closes ConfigureFonts", "the end of the file", edit.Mend)
	}
	for b.close > b.open && splice.IsSpace(clean[b.close-1]) {
		b.close--
	}
	if b.close <= b.open {
		return b, d.Fail(b.open, "what ConfigureFonts runs", "nothing", edit.Mend)
	}
	return b, nil
}

// Reconcile adds and drops statements, and makes the call where there is none.
func (s AddFont) Reconcile(d edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	b, err := parseFontBlock(d)
	if err != nil {
		if len(want) == 0 {
			return d.Text, nil, nil // the call is gone, and our statements with it
		}
		if errors.Is(err, errNoCall) {
			return s.makeCall(d, want)
		}
		return nil, nil, err
	}
	mine, wanted := edit.Keys(owned), edit.Keys(want)
	have := map[string]bool{}
	var splices []splice.Edit
	stay := 0
	for _, f := range b.fonts {
		e := edit.Entry{File: d.File, Syntax: s.Name(), Place: AliasPlace(f.Alias), Value: f.File}
		if mine[e.Key()] && !wanted[e.Key()] {
			splices = append(splices, b.removal(d.Text, f))
			continue
		}
		have[e.Place.Name] = true
		stay++
	}
	call := slices.IndexFunc(owned, func(e edit.Entry) bool { return e.Place.Kind == kindCall })
	if call >= 0 && stay == 0 && len(want) == 0 {
		if text, ok := dropCall(d); ok {
			return text, nil, nil
		}
	}
	var now []edit.Entry
	var add []edit.Entry
	for _, e := range want {
		if !have[e.Place.Name] {
			add = append(add, e)
			now = append(now, e)
		} else if mine[e.Key()] {
			now = append(now, e)
		}
		have[e.Place.Name] = true
	}
	if call >= 0 && len(now) > 0 {
		now = append(now, owned[call])
	}
	if len(add) > 0 {
		splices = append(splices, b.insertion(d.Text, add))
	}
	text, err := d.Apply(splices...)
	return text, now, err
}

// call is one AddFont, without what it is called on.
func call(e edit.Entry) string {
	return fmt.Sprintf(".AddFont(%s, %s)", language.CSharp.Literal(e.Value), language.CSharp.Literal(e.Place.Name))
}

// makeCall puts ConfigureFonts behind UseMauiApp.
func (s AddFont) makeCall(d edit.Document, want []edit.Entry) ([]byte, []edit.Entry, error) {
	doc := d.Text
	skeleton := language.CSharp.Skeleton(doc)
	m := useApp.FindIndex(skeleton)
	end := -1
	if m != nil {
		end = language.Closing(skeleton, m[1]-1)
	}
	if end < 0 {
		return nil, nil, d.Fail(-1, "a call of ConfigureFonts, or of UseMauiApp", "none", `write .ConfigureFonts(fonts => { }) where the app is built, then register again`)
	}
	step := stepOf(doc)
	indent := splice.IndentOf(doc, m[0])
	if start := splice.LineStart(doc, m[0]); strings.TrimSpace(string(doc[start:m[0]])) != "" {
		indent += step
	}
	nl := splice.Newline(doc)
	text := nl + indent + ".ConfigureFonts(fonts =>" + nl + indent + "{"
	for _, e := range want {
		text += nl + indent + step + "fonts" + call(e) + ";"
	}
	text += nl + indent + "})"
	out, err := d.Apply(splice.Replace(end+1, end+1, text))
	return out, append(slices.Clone(want), edit.Entry{File: d.File, Syntax: s.Name(), Place: edit.Place{Kind: kindCall}}), err
}

// stepOf is what one level of indentation is.
func stepOf(doc []byte) string {
	for _, l := range strings.Split(string(doc), "\n") {
		if strings.HasPrefix(l, "\t") {
			return "\t"
		}
	}
	return "    "
}

// dropCall takes a call of ours out, with the line break before it; false where it holds more
// than statements of fonts.
func dropCall(d edit.Document) ([]byte, bool) {
	skeleton := language.CSharp.Skeleton(d.Text)
	m := configureFonts.FindIndex(skeleton)
	if m == nil {
		return nil, false
	}
	from := m[0]
	for from > 0 && (splice.IsSpace(skeleton[from-1]) || skeleton[from-1] == '.') {
		from--
	}
	end := language.Closing(skeleton, m[0]+strings.IndexByte(string(skeleton[m[0]:m[1]]), '('))
	if end < 0 {
		return nil, false
	}
	rest := addFont.ReplaceAll(d.Text[m[1]:end], nil)
	if strings.Trim(string(rest), "{} \t\r\n") != "" {
		return nil, false
	}
	text, err := d.Apply(splice.Replace(from, end+1, ""))
	return text, err == nil
}

// removal takes one font out.
func (b fontBlock) removal(doc []byte, f Registered) splice.Edit {
	if b.chain {
		return splice.Replace(f.from, f.to, "")
	}
	return splice.WholeRange(doc, f.from, f.to)
}

// insertion puts statements before the closing brace, or right behind the opening
// one where the block is on one line; calls at the end of a chain.
func (b fontBlock) insertion(doc []byte, add []edit.Entry) splice.Edit {
	var lines []string
	for _, e := range add {
		lines = append(lines, b.param+call(e)+";")
	}
	if b.chain {
		between := ""
		if n := len(b.fonts); n > 0 {
			f := b.fonts[n-1]
			between = string(doc[f.from : f.from+strings.IndexByte(string(doc[f.from:f.to]), '.')])
		}
		text := ""
		for _, e := range add {
			text += between + call(e)
		}
		return splice.Replace(b.close, b.close, text)
	}
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
	if err != nil && !errors.Is(err, errNoCall) {
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
