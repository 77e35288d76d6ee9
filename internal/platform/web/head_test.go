package web

import (
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
)

// An element goes last into the head, in the document's own layout, and comes out without a trace.
func TestHead(t *testing.T) {
	for _, tt := range []struct{ name, file, doc, want string }{
		{"lines", "a.html", "<html>\n<head>\n    <title>a</title>\n</head>\n", "<html>\n<head>\n    <title>a</title>\n    <x><y>\n</head>\n"},
		{"an empty head", "a.html", "<head>\n</head>", "<head>\n  <x><y>\n</head>"},
		{"tabs and CRLF", "a.php", "\t<head>\r\n\t</head>\r\n", "\t<head>\r\n\t\t<x><y>\r\n\t</head>\r\n"},
		{"one line", "a.html", "<html><head><title>a</title></HEAD><body>", "<html><head><title>a</title><x><y></HEAD><body>"},
		{"no end tag", "a.html", "<title>a</title>\n<body>\n", "<title>a</title>\n<x><y>\n<body>\n"},
		{"comments and strings", "a.njk", "<!-- </head> -->\n{# </head> #}\n<script>a = '</head>'</script>\n</head>\n", "<!-- </head> -->\n{# </head> #}\n<script>a = '</head>'</script>\n<x><y>\n</head>\n"},
		{"another element in a comment", "a.erb", "<%# <x><y> %>\n</head>\n", "<%# <x><y> %>\n<x><y>\n</head>\n"},
	} {
		e := edit.Entry{File: tt.file, Syntax: Head{}.Name(), Place: headPlace(), Value: "<x><y>"}
		doc := edit.Document{File: tt.file, Text: []byte(tt.doc)}
		out, mine, err := Head{}.Reconcile(doc, []edit.Entry{e}, nil)
		require.NoError(t, err, tt.name)
		require.Equal(t, tt.want, string(out), tt.name)
		again, now, err := Head{}.Reconcile(doc.With(out), []edit.Entry{e}, mine)
		require.NoError(t, err)
		require.Equal(t, string(out), string(again), tt.name)
		require.Equal(t, mine, now)
		require.Len(t, Head{}.TakeOver(doc.With(out), []edit.Entry{e}, nil), 1)
		back, _, err := Head{}.Reconcile(doc.With(out), nil, mine)
		require.NoError(t, err)
		require.Equal(t, tt.doc, string(back), tt.name)
	}
	for _, doc := range []string{"<p>a</p>\n", "{% if a %}<head></head>{% else %}<head></head>{% endif %}"} {
		_, _, err := Head{}.Reconcile(edit.Document{File: "a.html", Text: []byte(doc)}, []edit.Entry{{File: "a.html", Place: headPlace(), Value: "<x>"}}, nil)
		require.ErrorContains(t, err, "expected one </head>", doc)
	}
	own, mine, err := Head{}.Reconcile(edit.Document{File: "a.html", Text: []byte("<x></head>")}, []edit.Entry{{File: "a.html", Place: headPlace(), Value: "<x>"}}, nil)
	require.NoError(t, err)
	require.Empty(t, mine)
	require.Equal(t, "<x></head>", string(own))
}

func FuzzHead(f *testing.F) {
	f.Add("<html>\n<head>\n</head>", "<x>")
	f.Add("{{ a <% </head>", "<x y='{{ b }}'>")
	f.Fuzz(func(t *testing.T, text, element string) {
		doc := edit.Document{File: "a.erb", Text: []byte(text)}
		e := edit.Entry{File: "a.erb", Place: headPlace(), Value: element}
		out, mine, err := Head{}.Reconcile(doc, []edit.Entry{e}, nil)
		if err != nil || len(mine) == 0 {
			return
		}
		back, _, err := Head{}.Reconcile(doc.With(out), nil, mine)
		require.NoError(t, err)
		if string(out) != text && (Head{}).find(doc.With(out), element) >= 0 && (Head{}).find(doc, element) < 0 {
			require.Len(t, back, len(text))
		}
	})
}
