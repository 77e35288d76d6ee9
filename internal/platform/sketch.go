package platform

import "notaria/internal/lazy"

// SketchScript matches the element by which a page loads p5.js: alone on its line, its
// first group without the indentation, its second the address.
var SketchScript = lazy.Regexp(`(?im)^[ \t]*(<script\b[^<>\n]*\bsrc\s*=\s*["']((?:[^"'<>\n]*/)?p5(?:\.min)?\.js(?:\?[^"'<>\n]*)?|[^"'<>\n]*/p5@[\w.-]+/?)["'][^<>\n]*>[ \t]*</script>)[ \t]*\r?$`)

// loadsSketch is the same wherever it stands.
var loadsSketch = lazy.Regexp(`(?i)<script\b[^<>]*\bsrc\s*=\s*["'](?:(?:[^"'<>\n]*/)?p5(?:\.min)?\.js(?:\?[^"'<>\n]*)?|[^"'<>\n]*/p5@[\w.-]+/?)["']`)

// IsSketch says whether a page, without its comments, loads p5.js: its text is drawn, and
// no style sheet dresses it.
func IsSketch(page []byte) bool { return loadsSketch.Match(page) }
