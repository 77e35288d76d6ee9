package web

import (
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/platform"
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

// What fetches fonts goes only where all that it asks for is there, and comes back byte for byte.
func TestFetched(t *testing.T) {
	job := platform.Job{Faces: []platform.Face{{Face: face.Face{Family: "Skerry Sans", Weight: 700, Slant: face.Upright}}, {Face: face.Face{Family: "Tide -->", Weight: 400, Slant: face.Upright}},
		{Face: face.Face{Family: "Wave", Variable: true, Slant: face.Italic, Weight: 400, Axes: []face.Axis{{Tag: "wght", Min: 100, Max: 900}}}}}}
	const host = "https://fonts.skerry.example/css2?family="
	for text, want := range map[string]string{
		`<link rel="stylesheet" href="` + host + `Skerry+Sans:wght@700">`:                 `<!-- Notaria took over: Skerry Sans -->`,
		`<link rel="stylesheet" href="` + host + `Skerry+Sans:wght@400">`:                 "",
		`<link rel="stylesheet" href="` + host + `Skerry+Sans:700i">`:                     "",
		`<link rel=stylesheet href=` + host + `Wave:ital,wght@1,200..800 />`:              `<!-- Notaria took over: Wave -->`,
		`<link rel="stylesheet" href="` + host + `Wave:ital,wght@1,200..950">`:            "",
		`<link rel="stylesheet" href="` + host + `Tide+--%3E">`:                           `<!-- Notaria took over: Tide - -&gt; -->`,
		`<link rel="stylesheet" href="https://cdn.skerry.example/site.css">`:              "",
		`<link rel="canonical" href="` + host + `Wave">`:                                  "",
		`<link rel="stylesheet" href="{{ x }}` + host + `Skerry+Sans:700">`:               "",
		`<style>@import url(` + host + `Skerry+Sans:700);</style>`:                        `<style>/* Notaria took over: Skerry Sans */</style>`,
		`<noscript><link rel="stylesheet" href="` + host + `Skerry+Sans:700"></noscript>`: `<noscript><!-- Notaria took over: Skerry Sans --></noscript>`,
		`<link rel="stylesheet" href="` + host + `Skerry+Sans:700"><link rel="preconnect" href="//fonts.a.example"><p><link rel="stylesheet" href="` + host + `Skerry+Sans:700">`: `<!-- Notaria took over: Skerry Sans --><p><!-- Notaria took over: Skerry Sans (2) -->`,
		`<link rel="preconnect" href="https://fonts.a.example"><link rel="preconnect" href="https://api.a.example">`:                                                              "<!-- Notaria took over: fonts.a.example --><link rel=\"preconnect\" href=\"https://api.a.example\">",
	} {
		entries := ofFile("index.html", language.HTML, []byte(text), job)
		got, mine, err := Fetched{}.Convert(edit.Document{File: "index.html", Text: []byte(text)}, entries, nil)
		require.NoError(t, err)
		if want == "" {
			want = text
		}
		require.Equal(t, want, string(got), text)
		for _, e := range mine {
			require.True(t, Platform{}.OwnsEntry(e), e.With)
		}
		again := ofFile("index.html", language.HTML, got, job)
		require.Len(t, again, len(entries), text)
		kept, owned, err := Fetched{}.Reconcile(edit.Document{File: "index.html", Text: got}, again, mine)
		require.NoError(t, err)
		require.Equal(t, string(got), string(kept))
		require.Len(t, owned, len(mine))
		back, _, err := Fetched{}.Reconcile(edit.Document{File: "index.html", Text: kept}, nil, owned)
		require.NoError(t, err)
		require.Equal(t, text, string(back))
	}
	require.False(t, Platform{}.OwnsEntry(edit.Entry{Syntax: "fetched fonts", Place: edit.Place{Kind: kindFetched}, Value: tookOverMark + "x", With: []string{"<script>"}}))
	require.False(t, still(tookOverMark+"Gone", job))

	// Names of any length, and any number of them: what is taken over once stays so, and comes back.
	var many platform.Job
	var families []string
	for i := range 40 {
		name := strings.Repeat("Quay", 2500) + strconv.Itoa(i)
		if i > 0 {
			name = "Family Of The Quay Number " + strconv.Itoa(i)
		}
		many.Faces = append(many.Faces, platform.Face{Face: face.Face{Family: name, Weight: 400, Slant: face.Upright}})
		families = append(families, strings.ReplaceAll(name, " ", "+"))
	}
	text := `<link rel="stylesheet" href="https://fonts.skerry.example/css?family=` + strings.Join(families, "|") + `">`
	doc := edit.Document{File: "a.html", Text: []byte(text)}
	got, mine, err := Fetched{}.Convert(doc, ofFile("a.html", language.HTML, doc.Text, many), nil)
	require.NoError(t, err)
	require.Len(t, mine, 1)
	require.Less(t, len(got), 2000)
	again := ofFile("a.html", language.HTML, got, many)
	kept, owned, err := Fetched{}.Reconcile(doc.With(got), again, mine)
	require.NoError(t, err)
	require.Len(t, owned, 1)
	require.Equal(t, string(got), string(kept))
	back, _, err := Fetched{}.Reconcile(doc.With(got), nil, owned)
	require.NoError(t, err)
	require.Equal(t, text, string(back))
}

func FuzzFetched(f *testing.F) {
	f.Add(`<link rel="stylesheet" href="https://fonts.skerry.example/css2?family=Skerry+Sans"><link rel=preconnect href=//fonts.a.b>`)
	f.Add(`@import url("//fonts.skerry.example/css?family=Skerry+Sans:700|B");`)
	job := platform.Job{Faces: []platform.Face{{Face: face.Face{Family: "Skerry Sans", Weight: 400, Slant: face.Upright}}}}
	f.Fuzz(func(t *testing.T, text string) {
		entries := ofFile("a.html", language.HTML, []byte(text), job)
		got, mine, err := Fetched{}.Convert(edit.Document{File: "a.html", Text: []byte(text)}, entries, nil)
		if err != nil {
			return
		}
		back, _, err := Fetched{}.Reconcile(edit.Document{File: "a.html", Text: got}, nil, mine)
		require.NoError(t, err)
		require.Equal(t, text, string(back))
	})
}
