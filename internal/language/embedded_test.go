package language

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// What is in elements style and script is read by its own language; markup goes on behind it.
func TestEmbeddedLanguages(t *testing.T) {
	tests := []struct {
		l         *Language
		src, want string // want: comments as c, strings as s, texts as t, code as .
	}{
		{HTML, `<style>a{/* x */b:"c"}</style><p>d`, `<style>a{ccccccc` + `b:sss}</style><p>t`},
		{HTML, `<script>if (a < b) c = "</p>" // d` + "\n</SCRIPT><p a='b'>e", `<script>if (a < b) c = ssssss cccc` + "\n</SCRIPT><p a=sss>t"},
		{HTML, `<script type="text/template"><p>a</p></script>`, `<script type=sssssssssssssss><p>t</p></script>`},
		{HTML, `<p>1 < 2 <!-- c --><b>x`, `<p>tttttt` + `cccccccccc<b>t`},
		{HTML, `<style>a{}`, `<style>a{}`},
		{Component, "<script setup lang=\"ts\">const a: X<Y> = 'b'</script>\n<style lang=\"scss\">// c\na{b:'d'}</style>", "<script setup lang=ssss>const a: X<Y> = sss</script>t<style lang=ssssss>cccc\na{b:sss}</style>"},
		{Component, "---\nconst a = 'b' // c\n---\n<p>d</p>", "---\nconst a = sss cccc\n---t<p>t</p>"},
		{Component, "{#if a < b}<p>c</p>{/if}", "ttttttttttt<p>t</p>ttttt"},
		{HTML, `<a href="{{ "b" | url }}">{{ c }}d{# e #}`, `<a href=sssssssssssssssss>{{ c }}tccccccc`},
		{HTML, `<p>{{ a <b>c`, `<p>ttttt<b>t`},
		{Template, `<?php a("b"); // c ?><p>d<%# e %><%= f %>`, `<?php a(sss); ccccccc<p>tcccccccc<%= f %>`},
		{Template, `<?php a("b"); # c`, `<?php a(sss); ccc`},
		{Template, `{{-- a --}}<p>{% if b %}c`, `ccccccccccc<p>{% if b %}t`},
		{Component, "{#if a}b", "tttttttt"},
		{XML, "<style>a /* b */</style>", "<style>ttttttttt</style>"},
	}
	for _, tt := range tests {
		got := []byte(tt.src)
		for _, token := range tt.l.Tokens([]byte(tt.src)) {
			for i := token.From; i < token.To; i++ {
				got[i] = " csts"[token.Kind]
			}
		}
		require.Equal(t, tt.want, string(got), "%s: %s", tt.l.Name, tt.src)
	}
	long := strings.Repeat("<script>", 20_000)
	require.NotNil(t, HTML.Tokens([]byte(long+"a = 'b'")))
	Template.Tokens([]byte(strings.Repeat("{{<%{#", 300_000)))
	Template.Tokens([]byte(strings.Repeat("<a b='{{", 300_000)))
	HTML.Tokens([]byte(strings.Repeat("<style></styl", 50_000))) // within a second
}
