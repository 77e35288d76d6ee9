package edit

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// A MAUI app registers its fonts in MauiProgram.cs:
//
//	.ConfigureFonts(fonts =>
//	{
//	    fonts.AddFont("SkerrySans-Bold.ttf", "SkerrySans-Bold");
//	})
//
// Entries have the alias as Place, after "alias:", and the file as Value.
const aliasPrefix = "alias:"

var (
	configureFonts = regexp.MustCompile(`\bConfigureFonts\s*\(\s*\(?\s*(?:IFontCollection\s+)?([A-Za-z_]\w*)\s*\)?\s*=>\s*\{`)
	addFont        = regexp.MustCompile(`\b([A-Za-z_]\w*)\s*\.\s*AddFont\s*\(\s*"((?:[^"\\\n]|\\.)*)"\s*(?:,\s*"((?:[^"\\\n]|\\.)*)"\s*)?\)\s*;`)
)

// A Registered font is one AddFont statement.
type Registered struct {
	File, Alias string
	Line        int // 1-based
	span        span
}

// fontBlock is the body of ConfigureFonts.
type fontBlock struct {
	param       string
	open, close int // offsets of the braces
	fonts       []Registered
}

// AddedFonts lists the fonts that a MauiProgram.cs registers.
func AddedFonts(file string, doc []byte) ([]Registered, error) {
	b, err := parseFontBlock(file, doc)
	return b.fonts, err
}

func parseFontBlock(file string, doc []byte) (fontBlock, error) {
	clean := BlankComments(doc)
	m := configureFonts.FindSubmatchIndex(clean)
	if m == nil {
		return fontBlock{}, &Error{file, 0, "a call of ConfigureFonts with a block", "none",
			`write .ConfigureFonts(fonts => { }) behind UseMauiApp, then register again`}
	}
	b := fontBlock{param: string(clean[m[2]:m[3]]), open: m[1] - 1}
	if b.close = closing(clean, b.open); b.close < 0 {
		return b, &Error{file, lineOf(doc, b.open), "the brace that closes ConfigureFonts", "the end of the file", "mend the file, then register again"}
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
		b.fonts = append(b.fonts, Registered{text(4), text(6), lineOf(doc, b.open+a[0]), span{b.open + a[0], b.open + a[1]}})
	}
	return b, nil
}

// reconcileAddFont adds and drops statements.
func reconcileAddFont(file string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	b, err := parseFontBlock(file, doc)
	if err != nil {
		if len(want) == 0 {
			return doc, nil, nil // the call is gone, and our statements with it
		}
		return nil, nil, err
	}
	mine, wanted := keys(owned), keys(want)
	have := map[string]bool{}
	var splices []splice
	for _, f := range b.fonts {
		e := Entry{File: file, Syntax: SyntaxAddFont, Place: aliasPrefix + f.Alias, Value: f.File}
		if mine[e.Key()] && !wanted[e.Key()] {
			splices = append(splices, cutStatement(doc, f.span))
			continue
		}
		have[e.Place] = true
	}
	var now []Entry
	var lines []string
	for _, e := range want {
		if !have[e.Place] {
			lines = append(lines, fmt.Sprintf("%s.AddFont(%s, %s);", b.param, QuoteSharp(e.Value), QuoteSharp(strings.TrimPrefix(e.Place, aliasPrefix))))
			now = append(now, e)
		} else if mine[e.Key()] {
			now = append(now, e)
		}
		have[e.Place] = true
	}
	if len(lines) > 0 {
		splices = append(splices, b.insertion(doc, lines))
	}
	return apply(doc, splices), now, nil
}

func cutStatement(doc []byte, s span) splice {
	cut := wholeLines(doc, s.from, s.to)
	if cut.from == s.from && cut.from > 0 && doc[cut.from-1] == ' ' {
		cut.from-- // on one line it came in with a space before it
	}
	return cut
}

// insertion puts statements before the closing brace, or right behind the opening
// one where the block is on one line.
func (b fontBlock) insertion(doc []byte, lines []string) splice {
	start := lineStart(doc, b.close)
	if start <= b.open || strings.TrimSpace(string(doc[start:b.close])) != "" {
		return splice{b.open + 1, b.open + 1, " " + strings.Join(lines, " ")}
	}
	indent := indentOf(doc, b.close) + "\t"
	if strings.Contains(indentOf(doc, b.close), " ") {
		indent = indentOf(doc, b.close) + "    "
	}
	if n := len(b.fonts); n > 0 {
		indent = indentOf(doc, b.fonts[n-1].span.from)
	}
	nl := newline(doc)
	return splice{start, start, indent + strings.Join(lines, nl+indent) + nl}
}

// QuoteSharp writes a C# string literal.
func QuoteSharp(s string) string {
	var b strings.Builder
	b.WriteByte('"')
	for _, r := range s {
		switch {
		case r == '"' || r == '\\':
			b.WriteByte('\\')
			b.WriteRune(r)
		case r > 0xffff:
			fmt.Fprintf(&b, `\U%08X`, r)
		case r < 0x20 || r >= 0x7f:
			fmt.Fprintf(&b, `\u%04X`, r)
		default:
			b.WriteRune(r)
		}
	}
	b.WriteByte('"')
	return b.String()
}
