package language

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"
)

// What is looked for by a text first is what the pattern alone finds.
func TestMatches(t *testing.T) {
	text := []byte("x.fontFamily: 'A', fontFamily: 'B'\nmyfontFamily: 'C' {font-family: D; }font-family: E;font-family: F}\nöfont-family: G; _fontFamily: 'H'; fontFamily:'I'\n@font/a @font/b@font/c UIFont(name: \"J\") NSFont(name: \"K\") fontFamily: fontFamily: 'L'")
	for _, p := range []string{
		`\bfontFamily:\s*'([^'\n]*)'`, `[\s;{]font-family\s*:\s*([A-Z])`, `@font/(\w+)`, `\b(?:UI|NS)Font\(name: "(\w)"`, `(?m)^x\.(\w+)`, `font-family: (\w)[;}]`,
		`[^a-z]font-family: (\w)`, `.font-family: (\w)`, `(?i)FONTFAMILY: '(\w)'`, `\bfontFamily:\s*(?:fontFamily:\s*)?'(\w)'`,
	} {
		re := regexp.MustCompile(p)
		require.Equal(t, re.FindAllSubmatchIndex(text, 100), Matches(re, text, 100), p)
	}
}

func FuzzMatches(f *testing.F) {
	f.Add([]byte(" font-family: a fontFamily: 'b'"))
	patterns := []*regexp.Regexp{regexp.MustCompile(`\bfontFamily:\s*'([^'\n]*)'`), regexp.MustCompile(`[\s;{]font-family\s*:\s*(\w)`)}
	f.Fuzz(func(t *testing.T, text []byte) {
		for _, p := range patterns {
			require.Equal(t, p.FindAllSubmatchIndex(text, 1000), Matches(p, text, 1000))
		}
	})
}
