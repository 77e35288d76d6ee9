package language

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// What a language's literal says is what it was written for.
func TestUnescapeMirrorsLiteral(t *testing.T) {
	for _, l := range All {
		if l.Markup() {
			continue
		}
		for _, s := range []string{"café", "Ærø 岩礁 🚢", `a"b'c\d`, "$x ${y} %d \\(z)", "#{q} @ ` ~"} {
			require.Equal(t, s, strings.TrimPrefix(l.Content(l.Literal(s)), "@"), "%s: %s", l.Name, l.Literal(s))
		}
	}
}

func TestUnescape(t *testing.T) {
	for _, tt := range []struct {
		l        *Language
		in, want string
	}{
		{JavaScript, `caf\u{e9} \xe9 \u00e9 \ud83d\udea2 a\nb`, "café é é 🚢 a b"},
		{Swift, `caf\u{e9} \u{1F6A2}\t`, "café 🚢 "},
		{Dart, `caf\u{e9} \$x`, "café $x"},
		{Lua, `caf\u{e9} caf\195\169 \xc3\xa9`, "café café é"},
		{Python, `caf\xe9 \u00e9 \U0001F6A2 \351`, "café é 🚢 é"},
		{Java, `caf\u00e9 \uuu00e9 \351 \"`, `café é é "`},
		{CSharp, `caf\xe9 \u00e9 \U0001F6A2`, "café é 🚢"},
		{CPlus, `caf\xc3\xa9 \303\251 \u00e9`, "café é é"},
		{CSS, `caf\e9 x \0000e9x \"`, `caféx éx "`},
		{GDScript, `\U01F6A2`, "🚢"},
		{JSON, `\ud83d\udea2 \u00e9\/`, "🚢 é/"},
		{Kotlin, `\ud83d x \`, "\ufffd x \\"},
	} {
		require.Equal(t, tt.want, tt.l.Unescape(tt.in), "%s: %s", tt.l.Name, tt.in)
	}
	require.Equal(t, `C:\x`, CSharp.Content(`@"C:\x"`))
	require.Equal(t, `a\u00e9`, Dart.Content(`r'a\u00e9'`))
	require.Equal(t, `it's "so"`, Lua.Content(`[[it's "so"]]`))
	require.Equal(t, "é", Python.Content(`u"\xe9"`))
	require.Equal(t, `say "x"`, CSharp.Content(`@"say ""x"""`))
}

func FuzzUnescape(f *testing.F) {
	f.Add(`\u{}\u{110000}\ud83d\ud83d\U\x\999\`)
	f.Fuzz(func(t *testing.T, s string) {
		for _, l := range All {
			out := l.Unescape(s)
			if len(out) > 4*len(s)+4 {
				t.Fatal(l.Name, s, out)
			}
			l.Content(s)
		}
	})
}
