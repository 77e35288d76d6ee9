package language

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// breaking are texts that end a comment, or hide what is behind it, in some language.
var breaking = []string{
	"*/ x(); /*", `*\u002f x(); /\u002a`, `\u002a/ x();`, `\uuu002a\u002f x();`, `C:\users`, `a \`, "a ??/", "a ???/", `a ??\`, "-->x", "--->x", "a--", "a-",
	"<!--", "]]x", "]=]x", "[[x", `"""x`, "'''x", "a\u2028x", "a\u2029x", "a\nx", "a\rx", "a\x85x", "a\x00x", "a\ufffex", "/*/x", "*/*/x", "</summary>", "#{x}", "${x}", "$(x)", "%x%", "\u202ex",
	strings.Repeat("*/", 200), strings.Repeat("a", 119) + "*/", strings.Repeat("x", 119) + `\`,
}

// forms are the comments of a language, with a place for a text.
func (l *Language) forms() []string {
	var out []string
	for _, mark := range l.line {
		out = append(out, mark+" TEXT\n", mark+" TEXT.\n")
	}
	if l.block {
		out = append(out, "/* TEXT */\n", "/** TEXT. */\n")
	}
	if l.markup {
		out = append(out, "<!-- TEXT -->\n")
	}
	return out
}

// holds says that all of a comment is a comment for the language's own lexer.
func holds(t *testing.T, l *Language, s string) {
	t.Helper()
	text := l.Comment(s)
	for _, form := range l.forms() {
		src := strings.Replace(form, "TEXT", text, 1)
		require.Empty(t, strings.TrimSpace(string(l.Blank([]byte(src)))), "%s: %q", l.Name, src)
	}
	require.NotContains(t, text, `\`, "Java decodes \\u anywhere, C joins lines")
	require.NotContains(t, text, "??/", "C, 5.2.1.1: a backslash")
	require.NotContains(t, text, "*/")
	require.NotContains(t, text, "\ufffe")
	if l.markup {
		require.NotContains(t, text, "--")
		require.NotContains(t, text, "<")
	}
}

func TestComment(t *testing.T) {
	for _, l := range All {
		for _, s := range breaking {
			holds(t, l, s)
		}
	}
	require.Equal(t, "Skerry Sans Bold, 17 pt", Swift.Comment("Skerry Sans Bold, 17 pt"))
	require.Equal(t, "a & b", Java.Comment("a & b"))
	require.Equal(t, "a &amp; b", XML.Comment("a & b"))
}

func FuzzComment(f *testing.F) {
	for _, s := range breaking {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, l := range All {
			holds(t, l, s)
		}
	})
}
