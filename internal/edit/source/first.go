package source

import (
	"bytes"
	"path"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// Kinds of places at the beginning: of a file, and of a block.
const (
	KindFirst   edit.Kind = "first"   // behind what has to stand first in a script, a style sheet or a component
	KindOpening edit.Kind = "opening" // first in the block that the place's path leads to
)

// First is the place behind what has to stand first: the imports of a script, the rules @import, @use and @layer of a
// style sheet, the imports in the script of a component.
func First() edit.Place { return edit.Place{Kind: KindFirst} }

// Opening is the beginning of a block, by the heads of the blocks from the outside.
func Opening(heads ...string) edit.Place { return edit.Place{Kind: KindOpening, Path: heads} }

// HasFirst says whether a document has a place First, and HasOpening whether it has the place Opening.
func HasFirst(doc edit.Document) bool {
	_, ok := codeOf(doc).first(doc)
	return ok
}

// HasOpening says whether a block is there, opens at the end of a line, and closes on another.
func HasOpening(doc edit.Document, heads ...string) bool {
	c := codeOf(doc)
	from, to, err := c.scope(doc, edit.Entry{Place: Opening(heads...)})
	return err == nil && c.opens(from, to)
}

// opens says whether nothing stands between a block's bracket and the end of its line.
func (c code) opens(from, to int) bool {
	end := splice.LineEnd(c.clean, from)
	return end < to && strings.TrimSpace(string(c.clean[from:end])) == ""
}

var (
	// scriptHead is what stands first in a script: directives, and imports that are complete (ECMA-262, 11.2.1 and 16.2.2).
	scriptHead = lazy.Regexp(`\A\x{FEFF}?(?:#![^\n]*\n)?(?:\s*["']use [^"'\n]*["'];?)*(?:\s*import\b[^"'\x60;()=]*["'][^"'\n]*["'](?:\s*with\s*\{[^{}]*\})?;?)*`)
	// sheetHead is what stands first in a style sheet (CSS Cascade 5, 2; Sass: @use before all but @forward).
	sheetHead = lazy.Regexp(`\A\x{FEFF}?(?:\s*@(?:charset|import|use|forward|require)\b[^;{}\n()]*(?:\((?:[^()]|\([^()]*\))*\)[^;{}\n()]*)*(?:;|$|\n)|\s*@layer\b[^;{}]*;)*`)
	// scriptOf is the tag of a component's script that has imports of its own.
	scriptOf = lazy.Regexp(`(?m)^<script\b(?:[^<>"']|"[^"]*"|'[^']*')*>[ \t]*\r?\n`)
	fence    = lazy.Regexp(`\A---[ \t]*\r?\n`)
	moduleOf = lazy.Regexp(`\scontext\s*=\s*["']?module|\smodule[\s>]|\ssrc\s*=`)
)

// first is where a line goes that has to come first, always at the beginning of a line.
func (c code) first(d edit.Document) (int, bool) {
	switch l := language.Of(d.File); {
	case l == language.Component:
		return c.firstOfComponent(d)
	case l == language.CSS || l == language.SCSS:
		return c.behind(d.Text, 0, sheetHead), true
	case l == language.JavaScript || l == language.TypeScript:
		return c.behind(d.Text, 0, scriptHead), true
	}
	return 0, false
}

// behind is the line after what a pattern matches from a place on; where nothing of it is there, that after the comment which
// the file begins with, if an empty line ends it.
func (c code) behind(text []byte, from int, head *lazy.Pattern) int {
	end := 0
	if m := head.FindIndex(c.clean[from:]); m != nil {
		end = m[1]
	}
	if strings.TrimSpace(strings.TrimPrefix(string(c.clean[from:from+end]), "\ufeff")) != "" {
		at := from + end
		if at > 0 && text[at-1] == '\n' {
			return at
		}
		return splice.LineEnd(text, at)
	}
	gap := bytes.Index(text[from:], []byte("\n\n"))
	if windows := bytes.Index(text[from:], []byte("\n\r\n")); windows >= 0 && (gap < 0 || windows < gap) {
		gap = windows + 1
	}
	if gap > 0 && len(bytes.TrimSpace(c.clean[from:from+gap])) == 0 {
		return splice.LineEnd(text, splice.LineEnd(text, from+gap))
	}
	return from
}

// firstOfComponent is behind the imports of a component's script: of Astro, between its fences.
func (c code) firstOfComponent(d edit.Document) (int, bool) {
	if strings.HasSuffix(d.File, ".astro") {
		m := fence.FindIndex(d.Text)
		if m == nil || !bytes.Contains(d.Text[m[1]-1:], []byte("\n---")) {
			return 0, m == nil
		}
		return max(m[1], c.behind(d.Text, m[1], scriptHead)), true
	}
	for _, m := range scriptOf.FindAllIndex(c.clean, -1) {
		if !moduleOf.Match(c.clean[m[0]:m[1]]) {
			return max(m[1], c.behind(d.Text, m[1], scriptHead)), true
		}
	}
	return 0, false
}

// insertFirst puts a line there; a component of Astro without fences gets them.
func (c code) insertFirst(d edit.Document, e edit.Entry, nl string) ([]byte, string, error) {
	at, ok := c.first(d)
	if !ok {
		return nil, "", d.Fail(-1, "a script in the component", "none", "add this line by hand: "+e.Value)
	}
	if strings.HasSuffix(d.File, ".astro") && fence.FindIndex(d.Text) == nil {
		out, err := d.Apply(splice.Replace(0, 0, "---"+nl+e.Value+nl+"---"+nl))
		return out, madeFence, err
	}
	if at == len(d.Text) && at > 0 && d.Text[at-1] != '\n' {
		out, err := d.Apply(splice.Replace(at, at, nl+e.Value))
		return out, madeEnd, err
	}
	if at == 0 && bytes.HasPrefix(d.Text, []byte("\ufeff")) {
		at = 3
	}
	indent := ""
	if at > 0 && path.Ext(d.File) != ".css" {
		indent = splice.IndentOf(d.Text, at-1)
	}
	if indent == "" && language.Of(d.File) == language.Component {
		indent = splice.IndentOf(d.Text, at)
	}
	out, err := d.Apply(splice.Replace(at, at, indent+e.Value+nl))
	return out, madeLine, err
}

// insertOpening puts a line first into a block, indented as the line that was first there.
func (c code) insertOpening(d edit.Document, from, to int, e edit.Entry, nl string) ([]byte, string, error) {
	if !c.opens(from, to) {
		return nil, "", d.Fail(from, "a block that opens at the end of a line", "another form", "add this line by hand: "+e.Value)
	}
	at := splice.LineEnd(d.Text, from)
	inner := splice.IndentOf(d.Text, from) + "  "
	for next := at; next < splice.LineStart(d.Text, to); next = splice.LineEnd(d.Text, next) {
		if strings.TrimSpace(string(d.Text[next:splice.LineEnd(d.Text, next)])) != "" {
			inner = splice.IndentOf(d.Text, next)
			break
		}
	}
	out, err := d.Apply(splice.Replace(at, at, inner+e.Value+nl))
	return out, madeLine, err
}
