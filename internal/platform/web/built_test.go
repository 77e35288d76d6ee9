package web

import (
	"archive/zip"
	"bytes"
	"io"
	"maps"
	"path"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/platform"
	"notaria/internal/skerry"
)

// tree is an output in memory.
type tree map[string]string

func (t tree) Files() []string { return slices.Sorted(maps.Keys(t)) }

func (t tree) Read(name string, most int64) ([]byte, bool) {
	text, ok := t[name]
	return []byte(text), ok && int64(len(text)) <= most
}

func bold(t testing.TB) string {
	raw, err := skerry.Archive()
	require.NoError(t, err)
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	require.NoError(t, err)
	i := slices.IndexFunc(z.File, func(f *zip.File) bool { return path.Base(f.Name) == "SKERRY_bold-v1.100.ttf" })
	in, err := z.File[i].Open()
	require.NoError(t, err)
	font, err := io.ReadAll(in)
	require.NoError(t, err)
	return string(font)
}

const rule = `@font-face{font-family:"Skerry Sans";src:url(/base/a/x.ttf) format("truetype")}`

func TestProve(t *testing.T) {
	font := bold(t)
	for _, tt := range []struct {
		name string
		out  tree
		want []string // FILE:LINE KIND part of the message
	}{
		{"all well, below a path of its own", tree{"a/x.ttf": font, "a/s.css": rule + "p{font-family:skerry sans,serif}", "index.html": `<link rel="preload" href="/base/a/x.ttf?v=1" as="font" crossorigin><link rel="stylesheet" href="/base/a/s.css">`}, nil},
		{"missing sources", tree{"s.css": "\n" + `@font-face{font-family:A;src:url(a.eot);src:url(a.eot?#iefix) format("embedded-opentype"),url(a.woff2) format("woff2"),url("a.woff")}`}, []string{"s.css:2 no such file a.woff2, a.woff are not in"}},
		{"a missing source behind one that is there", tree{"x.ttf": font, "s.css": `@font-face{font-family:A;src:url(x.ttf),url(a.woff)}`}, nil},
		{"not known", tree{"s.css": `@font-face{font-family:A;src:url(../../up.woff2)} @font-face{font-family:B;src:url(https://x.example/b.woff2)} @font-face{font-family:C;src:url({{c}}.woff2)}`}, nil},
		{"another format", tree{"x.ttf": font, "s.css": `@font-face{font-family:A;src:url(x.ttf) format("woff2")}`}, []string{`s.css:1 wrong form expected format("truetype") for x.ttf, found "woff2"`}},
		{"a text", tree{"x.woff2": "export default 1", "s.css": `@font-face{font-family:A;src:url(x.woff2)}`}, []string{"s.css:1 broken font x.woff2 is no font"}},
		{"half a font", tree{"x.ttf": font[:900], "s.css": `@font-face{font-family:A;src:url(x.ttf)}`}, []string{"s.css:1 broken font"}},
		{"in the sheet", tree{"s.css": `@font-face{font-family:A;src:url("data:font/woff2;base64,AAAA")}`}, []string{"s.css:1 broken font a font in the style sheet"}},
		{"heavier", tree{"x.ttf": font + strings.Repeat("\x00", 4), "s.css": `@font-face{font-family:A;src:url(x.ttf)}`}, []string{"s.css:1 heavier than its original x.ttf has"}},
		{"twice on a page", tree{"a.ttf": font, "b.ttf": font, "a.css": `@font-face{font-family:A;src:url(a.ttf)}`, "b.css": `@font-face{font-family:A;src:url(b.ttf)}`, "i.html": `<link rel=stylesheet href=a.css><link rel=stylesheet href=b.css>`}, []string{"b.css:1 the same face twice a.ttf and b.ttf"}},
		{"a policy and a hash", tree{"x.ttf": font, "s.css": `@font-face{font-family:A;src:url(x.ttf)}`, "i.html": "<meta http-equiv=Content-Security-Policy content=\"font-src 'none'\">\n<link rel=stylesheet href=s.css integrity=sha256-AAAA>", "o.html": `<meta http-equiv=Content-Security-Policy content="font-src 'none'">`},
			[]string{"i.html:2 of another hash the integrity of the link is not the hash of s.css", "i.html:1 blocked by a policy the Content-Security-Policy keeps"}},
		{"twice on two pages", tree{"a.ttf": font, "b.ttf": font, "a.css": `@font-face{font-family:A;src:url(a.ttf)}`, "b.css": `@font-face{font-family:A;src:url(b.ttf)}`}, nil},
		{"preloads that are wasted", tree{"x.ttf": font, "y.ttf": font, "s.css": `@font-face{font-family:A;src:url(x.ttf)}`, "i.html": "<link rel=preload as=font href=y.ttf crossorigin>\n<link as='font' rel='preload' href='x.ttf'>\n<link rel=preload as=font href=z.ttf crossorigin>"},
			[]string{"i.html:3 no such file z.ttf is to be loaded early", "i.html:1 preload that is wasted y.ttf is loaded early, and no", "i.html:2 preload that is wasted x.ttf is loaded early without crossorigin"}},
		{"a script declares fonts", tree{"y.ttf": font, "s.css": `@font-face{font-family:A;src:url(x.ttf)}p{font-family:a b}`, "s.js": `new FontFace("A B", "url(y.ttf)")`, "x.ttf": font, "i.html": "<link rel=preload as=font href=y.ttf crossorigin>"}, nil},
		{"families", tree{"x.ttf": font, "s.css": `@font-face{font-family:"Skerry Sans";src:url(x.ttf)}` + "\np{font-family:SkerrySans}\nq{font-family:'SkerrySans-Bold'}\nr{font-family:Arial}\ns{font-family:Other}"},
			[]string{`s.css:2 a family spelled in another way no @font-face rule has the family "SkerrySans"`, `s.css:3 a family spelled in another way no @font-face rule has the family "SkerrySans-Bold"`}},
		{"from a source", tree{"s.css": "p{}\n@font-face{font-family:A;src:url(a.woff2)}\n/*# sourceMappingURL=s.css.map */", "s.css.map": `{"sources":["src/a.scss"],"mappings":"AAAA;AAIA,sBAAsB"}`},
			[]string{"s.css:2 no such file a.woff2 is not in what was built (from src/a.scss:5)"}},
	} {
		b := Platform{}.Prove(tt.out, "", []platform.Origin{{ID: "SkerrySans-Bold", Size: int64(len(font))}})
		require.Len(t, b.Flaws, len(tt.want), "%s: %v", tt.name, b.Flaws)
		for i, f := range b.Flaws {
			got := f.File + ":" + string(rune('0'+f.Line)) + " " + string(f.Kind) + " " + f.Message
			require.True(t, strings.HasPrefix(got, tt.want[i]) || strings.Contains(got, tt.want[i]), "%s: %s, want %s", tt.name, got, tt.want[i])
		}
	}
	one := Platform{}.Prove(tree{"i.html": `<link rel=stylesheet href=a.css>`, "a.css": `@import "b.css";`, "b.css": rule, "c.css": `@font-face{font-family:A;src:url(no.woff2)}`, "a/x.ttf": font}, "i.html", nil)
	require.Equal(t, platform.Built{Pages: 1, Sheets: 2, Rules: 1, Fonts: []string{"a/x.ttf"}}, one)
}

func TestSegments(t *testing.T) {
	require.Equal(t, [][]segment{{{0, 0, 0}}, {}, {{4, 0, 16}, {5, 1, 15}}}, func() (out [][]segment) {
		for _, l := range segments("AAAA;;IAgBC,CCDA", 2) {
			out = append(out, append([]segment{}, l...))
		}
		return out
	}())
	for _, bad := range []string{"!", "g", "AAAAAAAAAAg", "ADAA", "ACAA", "gggggggggggggB"} {
		require.LessOrEqual(t, len(segments(bad, 1)), 1, bad)
	}
}

func FuzzProve(f *testing.F) {
	font := bold(f)
	f.Add(rule, `<link rel="preload" as="font" href="x.ttf">`, `{"sources":["a"],"mappings":"AAAA;IAgBC"}`)
	f.Fuzz(func(_ *testing.T, css, page, sourceMap string) {
		Platform{}.Prove(tree{"s.css": css + "\n/*# sourceMappingURL=s.css.map */", "i.html": page, "s.css.map": sourceMap, "x.ttf": font}, "", nil)
	})
}

// A policy is a finding only where it is certain that no font of the site can be loaded: a host can be the site's own.
func TestPolicies(t *testing.T) {
	for text, want := range map[string]string{
		"font-src 'none'": "font-src 'none'", "default-src 'none'": "default-src 'none'", "font-src": "font-src", "FONT-SRC blob:; default-src 'self'": "FONT-SRC blob:",
		"font-src https://fonts.skerry.example": "font-src https://fonts.skerry.example", "default-src 'self', font-src 'none'": "font-src 'none'", "font-src 'none'; font-src 'self'": "font-src 'none'",
		"font-src &#39;none&#39;": "font-src 'none'", "default-src 'nonce-abc'": "default-src 'nonce-abc'",
		"font-src 'self' https://fonts.skerry.example": "", "font-src https://skerry.example": "", "font-src fonts.test": "", "font-src *": "", "font-src https:": "", "font-src data:": "", "font-src tauri:": "",
		"default-src 'none'; font-src 'self'": "", "script-src 'none'": "", "": "", "font-src %FONTS%": "", "default-src 'self'": "",
	} {
		require.Equal(t, strings.ToLower(want), strings.ToLower(ownBlocked(text)), text)
	}
	require.False(t, matches("sha256-WRONG sha384-!", nil))
	require.True(t, matches("md5-abc {{ x }}", nil) && matches("", nil))
	require.True(t, matches("sha256-47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU=", nil) && matches("sha256-47DEQpj8HBSa-_TImW-5JCeuQeRkm5NMpJWZG3hSuFU", nil))
}
