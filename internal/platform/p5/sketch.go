package p5

import (
	"bytes"
	"path"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// sketchScript matches the element by which a page loads p5.js: alone on its line, its
// first group without the indentation, its second the address.
var sketchScript = lazy.Regexp(`(?im)^[ \t]*(<script\b[^<>\n]*\bsrc\s*=\s*["']((?:[^"'<>\n]*/)?p5(?:\.min)?\.js(?:\?[^"'<>\n]*)?|[^"'<>\n]*/p5@[\w.-]+/?)["'][^<>\n]*>[ \t]*</script>)[ \t]*\r?$`)

// loadsSketch is the same wherever it stands.
var loadsSketch = lazy.Regexp(`(?i)<script\b[^<>]*\bsrc\s*=\s*["'](?:(?:[^"'<>\n]*/)?p5(?:\.min)?\.js(?:\?[^"'<>\n]*)?|[^"'<>\n]*/p5@[\w.-]+/?)["']`)

// isSketch says whether a page, without its comments, loads p5.js: its text is drawn, and
// no style sheet dresses it.
func isSketch(page []byte) bool { return loadsSketch.Match(page) }

// eachPage goes through the pages of a tree that load p5.js, without their comments; a page without the word cannot, and lexing takes
// far longer.
func eachPage(tree platform.Tree, do func(file string, clean []byte)) {
	for _, f := range tree.Under("") {
		if ext := path.Ext(f); ext != ".html" && ext != ".htm" {
			continue
		}
		raw, ok := tree.Glance(f, platform.MostSource)
		if !ok || !bytes.Contains(raw, []byte("p5")) {
			continue
		}
		if clean := language.HTML.Blank(raw); isSketch(clean) {
			do(f, clean)
		}
	}
}

// claims are the pages of sketches: their text is drawn.
func claims(tree platform.Tree, _ platform.Options) map[string]platform.Claim {
	out := map[string]platform.Claim{}
	eachPage(tree, func(file string, _ []byte) { out[file] = platform.Drawn })
	return out
}
