package language

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/lazy"
)

// shown marks comments as ~, strings as =, and texts as :, so that a lexing can be read.
func shown(l *Language, src string) string {
	b := []byte(src)
	for _, t := range l.Tokens(b) {
		for i := t.From; i < t.To; i++ {
			if b[i] != '\n' {
				b[i] = map[Kind]byte{Comment: '~', String: '=', Text: ':'}[t.Kind]
			}
		}
	}
	return string(b)
}

func TestTokens(t *testing.T) {
	tests := []struct {
		l         *Language
		src, want string
	}{
		{Swift, `a // "b"`, `a ~~~~~~`},
		{Swift, `a /* b /* c */ d */ e`, `a ~~~~~~~~~~~~~~~~~ e`},
		{Swift, `x("a\"b") // c`, `x(======) ~~~~`},
		{Swift, `x("a \(f("b") + 1) c") y`, `x(=====f(===) + 1====) y`},
		{Swift, `x(#"a\(b)"#, ##"c"# d"##)`, `x(=========, ===========)`},
		{Swift, `x(#"a\#(b)c"#)`, `x(======b====)`},
		{Swift, "x(\"\"\"\n // no \" }\n\"\"\") // c", "x(===\n==========\n===) ~~~~"},
		{Swift, `it's "a" // b`, `it's === ~~~~`},
		{Swift, "x(\"open\ny // z", "x(\"open\ny ~~~~"},
		{Kotlin, `x("${f("}")} a") // b`, `x(===f(===)====) ~~~~`},
		{Kotlin, "x(\"\"\"a\\\"\"\") y('}')", "x(========) y(===)"},
		{Groovy, "\ufeffa // b", "~~~a ~~~~"},
		{Groovy, `/* "android/**", "ios/**" */ c`, `~~~~~~~~~~~~~~~~~~~~~~~~~~~~ c`},
		{Java, `/* "android/**", "ios/**" */ c`, `~~~~~~~~~~~~~~~~~~~~~~~~~~~~ c`},
		{CSharp, `/* "android/**", "ios/**" */ c`, `~~~~~~~~~~~~~~~~~~~~~~~~~~~~ c`},
		{JavaScript, `/* "android/**", "ios/**" */ c`, `~~~~~~~~~~~~~~~~~~~~~~~~~~~~ c`},
		{TypeScript, `/* "android/**", "ios/**" */ c`, `~~~~~~~~~~~~~~~~~~~~~~~~~~~~ c`},
		{ObjectiveC, `/* "android/**", "ios/**" */ c`, `~~~~~~~~~~~~~~~~~~~~~~~~~~~~ c`},
		{JSON, `/* "android/**", "ios/**" */ 1`, `~~~~~~~~~~~~~~~~~~~~~~~~~~~~ 1`},
		// Where comments nest, one that nothing closes does not take the rest of the file with it.
		{Dart, `/* "android/**", "ios/**" */ c /* d */`, `~~~~~~~~~~~~~~~~~~~~~~~~~~~~ c ~~~~~~~`},
		{Kotlin, `/* "android/**" */ c`, `~~~~~~~~~~~~~~~~~~ c`},
		{Swift, `/* a /* b */ c */ d`, `~~~~~~~~~~~~~~~~~ d`},
		{Java, `/* a /* b */ c`, `~~~~~~~~~~~~ c`},
		{Java, `c = '"'; s = "x"; // y`, `c = ===; s = ===; ~~~~`},
		{Java, "s = \"\"\"\n a \\\"\"\" b\n\"\"\"; t", "s = ===\n=========\n===; t"},
		{Groovy, "a('x') // y\nb('''\n' // no\n''')", "a(===) ~~~~\nb(===\n=======\n===)"},
		{CSharp, `x(@"a\", "b") // c`, `x(=====, ===) ~~~~`},
		{CSharp, `x(@"a""b", $"c {d("e")} f {{g}}")`, `x(=======, =====d(===)==========)`},
		{CSharp, "x(\"\"\"\"a \"\"\" b\"\"\"\") y", "x(===============) y"},
		{Dart, `x('a ${b('c')} d', r'e\', "f") // g`, `x(=====b(===)====, =====, ===) ~~~~`},
		{Dart, "var 'a'; bar'b'", "var ===; bar==="},
		{TypeScript, "x(`a ${b('c')} d\n// no`) // e", "x(=====b(===)===\n======) ~~~~"},
		{TypeScript, `a / b / c; d = /[/"]\/'/g; // e`, `a / b / c; d = =========g; ~~~~`},
		{TypeScript, `useState<string>('x')`, `useState<string>(===)`},
		{JavaScript, `return <Text a="b" c={d('e')}>Don't {f("g")} // no</Text>; // h`, `return <Text a==== c={d(===)}>::::::{f(===)}::::::</Text>; ~~~~`},
		{JavaScript, `x = <><A/>it's</>; y('z')`, `x = <><A/>::::</>; y(===)`},
		{JavaScript, `f = <T,>(x: T) => x; y('z') // a`, `f = <T,>(x: T) => x; y(===) ~~~~`},
		{JavaScript, `if (a < b && c > d) x('e')`, `if (a < b && c > d) x(===)`},
		{ObjectiveC, `[UIFont fontWithName:@"a" size:1]; // "b"`, `[UIFont fontWithName:@=== size:1]; ~~~~~~`},
		{JSON, `{"a": "b//c"} // d`, `{===: ======} ~~~~`},
		{GDScript, "x('a') # b\n\"\"\"c\n# d\"\"\" e", "x(===) ~~~\n====\n====== e"},
		{GodotText, "a = \"b;\nc\" ; d", "a = ===\n== ~~~"},
		{Lua, "a = [[b\n--c]] --d\n--[==[e\n]]\n]==] f - '--'", "a = ===\n===== ~~~\n~~~~~~~\n~~\n~~~~ f - ===="},
		{XML, `<a b="c>d"><!-- "e" -->it's</a>`, `<a b======>~~~~~~~~~~~~::::</a>`},
		{XML, `<a><![CDATA[<b c="]]></a>`, `<a>::::::::::::::::::</a>`},
	}
	for _, tt := range tests {
		require.Equal(t, tt.want, shown(tt.l, tt.src), "%s: %s", tt.l.Name, tt.src)
	}
}

func TestBlankAndSkeletonKeepPlaces(t *testing.T) {
	src := []byte("a(\"}\") /* {\r\n*/ } // é\n")
	require.Equal(t, "a(\"}\")     \r\n   }      \n", string(Java.Blank(src)))
	require.Equal(t, "a(   )     \r\n   }      \n", string(Java.Skeleton(src)))
	require.Equal(t, 5, Closing(Java.Skeleton(src), 1))
	require.Equal(t, -1, Closing([]byte("({)"), 0))
}

func TestOf(t *testing.T) {
	for name, l := range map[string]*Language{"a/B.swift": Swift, "x.GRADLE": Groovy, "b.gradle.kts": Kotlin, "c.tsx": JavaScript, "d.ts": TypeScript, "App.xaml": XML, "e": nil, "f.ttf": nil} {
		require.Equal(t, l, Of(name), name)
	}
	for _, l := range All {
		require.NotNil(t, l.Literal, l.Name)
		require.NotEmpty(t, l.Endings)
	}
}

func TestLiterals(t *testing.T) {
	const s = "a\"'\\$\n\u202e🚢?"
	for l, want := range map[*Language]string{
		Swift: `"a\"'\\$\u{A}\u{202E}\u{1F6A2}?"`, Kotlin: `"a\"'\\\$\u000A\u202E\uD83D\uDEA2?"`, Java: `"a\"'\\$\012\u202E\uD83D\uDEA2?"`,
		CSharp: `"a\"'\\$\u000A\u202E\U0001F6A2?"`, Dart: `'a"\'\\\$\u{A}\u{202E}\u{1F6A2}?'`, TypeScript: `'a"\'\\$\u{A}\u{202E}\u{1F6A2}?'`,
		GDScript: `"a\"'\\$\n\u202e🚢?"`, Lua: `"a\"'\\$\010\226\128\174\240\159\154\162?"`,
		ObjectiveC: `@"a\"'\\$\012\342\200\256\360\237\232\242\?"`, XML: `"a&quot;'\$&#10;&#8238;🚢?"`,
	} {
		require.Equal(t, want, l.Literal(s), l.Name)
	}
}

func TestMember(t *testing.T) {
	taken := lazy.Words("theme")
	for name, want := range map[string]string{"heading": "heading", "": "role", "1st": "role1st", "class": "classType", "theme": "themeType"} {
		require.Equal(t, want, Dart.Member(name, "role", taken))
	}
}

// FuzzTokens holds every lexer to its word: tokens are in order and in the source, and
// blanking changes neither length nor lines.
func FuzzTokens(f *testing.F) {
	for _, s := range []string{`x("a \(f("b")) c")`, "`a ${b} c`", "<A b={c}>d</A>", `$@"a{b}""c"`, "'''a", "/* /* */", `#"a"#`, "\"\"\"\"\n", "<!-- <![CDATA["} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, src string) {
		for _, l := range All {
			last := 0
			for _, k := range l.Tokens([]byte(src)) {
				require.LessOrEqual(t, last, k.From, "%s: %q", l.Name, src)
				require.Less(t, k.From, k.To, "%s: %q", l.Name, src)
				last = k.To
			}
			require.LessOrEqual(t, last, len(src))
			for _, b := range [][]byte{l.Blank([]byte(src)), l.Skeleton([]byte(src))} {
				require.Len(t, b, len(src))
				require.Equal(t, strings.Count(src, "\n"), bytes.Count(b, []byte("\n")))
			}
		}
	})
}

// A line of a million quotes takes no longer than one without.
func BenchmarkTokens(b *testing.B) {
	for name, src := range map[string]string{"quotes": strings.Repeat(`"\(`, 1<<18), "tags": strings.Repeat("<a>", 1<<18), "code": strings.Repeat("let a = f(\"b\") // c\n", 1<<15)} {
		b.Run(name, func(b *testing.B) {
			b.SetBytes(int64(len(src)))
			for range b.N {
				for _, l := range []*Language{Swift, JavaScript, CSharp} {
					l.Tokens([]byte(src))
				}
			}
		})
	}
}
