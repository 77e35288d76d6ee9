package language

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/lazy"
)

// What is looked for by a text first is what the pattern alone finds.
func TestMatches(t *testing.T) {
	text := []byte("x.fontFamily: 'A', fontFamily: 'B'\nmyfontFamily: 'C' {font-family: D; }font-family: E;font-family: F}\nöfont-family: G; _fontFamily: 'H'; fontFamily:'I'\n@font/a @font/b@font/c UIFont(name: \"J\") NSFont(name: \"K\") fontFamily: fontFamily: 'L'")
	for _, p := range []string{
		`\bfontFamily:\s*'([^'\n]*)'`, `[\s;{]font-family\s*:\s*([A-Z])`, `@font/(\w+)`, `\b(?:UI|NS)Font\(name: "(\w)"`, `(?m)^x\.(\w+)`, `font-family: (\w)[;}]`,
		`[^a-z]font-family: (\w)`, `.font-family: (\w)`, `(?i)FONTFAMILY: '(\w)'`, `\bfontFamily:\s*(?:fontFamily:\s*)?'(\w)'`,
	} {
		re := lazy.Regexp(p)
		require.Equal(t, re.FindAllSubmatchIndex(text, 100), Matches(re, text, 100), p)
	}
}

func FuzzMatches(f *testing.F) {
	f.Add([]byte(" font-family: a fontFamily: 'b'"))
	f.Add([]byte("{font-family:A;font-family:B;}font-family:C;font-family:D}"))
	f.Add([]byte("aaaaa x.@@@ @@@@;a-a-a-a-a"))
	var patterns []*lazy.Pattern
	for _, p := range []string{
		`\bfontFamily:\s*'([^'\n]*)'`, `[\s;{]font-family\s*:\s*(\w)`,
		`[\s;{]font-family:(\w)[;}]`, `font-family:(\w)[;}]`, `[;{][\s;]font-family:([^;]*);`, // a match takes what the next one begins with
		`.aaa`, `[a-z]aaa(.)`, `\b@@@`, `\baaa\b`, `a-a-(a)`, `@@@(?:@|\b)`,
	} {
		patterns = append(patterns, lazy.Regexp(p))
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		for _, p := range patterns {
			require.Equal(t, p.FindAllSubmatchIndex(text, 1000), Matches(p, text, 1000), p.String())
			require.Equal(t, p.FindAllSubmatchIndex(text, 2), Matches(p, text, 2), p.String())
		}
	})
}
