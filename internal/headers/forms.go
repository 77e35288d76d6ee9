package headers

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/fault"
)

// Forms that headers are written in.
const (
	StaticHost = "static-host" // a file _headers beside the pages
	Nginx      = "nginx"
	Apache     = "apache" // of the server, or in a file .htaccess
)

// Forms are all of them.
var Forms = []string{StaticHost, Nginx, Apache}

// Write writes the headers in a form.
func (h *Headers) Write(form string) ([]byte, error) {
	var b strings.Builder
	switch form {
	case StaticHost:
		h.staticHost(&b)
	case Nginx:
		h.nginx(&b)
	case Apache:
		h.apache(&b)
	default:
		return nil, fault.Form("expected one of %s, found %q", strings.Join(Forms, ", "), form)
	}
	return []byte(b.String()), nil
}

// link is the header of a page: its fonts, loaded in the mode in which @font-face asks for them (HTML, 4.6.8).
func (h *Headers) link(p Page) string {
	var list []string
	for _, f := range p.Fonts {
		list = append(list, fmt.Sprintf(`<%s>; rel=preload; as=font; type=%q; crossorigin`, h.address(f), endings[path.Ext(f)]))
	}
	return strings.Join(list, ", ")
}

// addresses are those that a static host gives a page out at.
func (h *Headers) addresses(page string) []string {
	if dir, ok := strings.CutSuffix(page, "index.html"); ok && (dir == "" || strings.HasSuffix(dir, "/")) {
		return []string{h.address(dir)}
	}
	list := []string{h.address(page)}
	if bare, ok := strings.CutSuffix(page, ".html"); ok {
		list = append(list, h.address(bare))
	}
	return list
}

// staticHost has a path in a line, and its headers in lines below that are indented.
func (h *Headers) staticHost(b *strings.Builder) {
	b.WriteString("# Headers for fonts, made by Notaria of what was built.\n")
	for _, p := range h.Pages {
		for _, at := range h.addresses(p.File) {
			fmt.Fprintf(b, "\n%s\n", at)
			for _, f := range p.Fonts {
				fmt.Fprintf(b, "  Link: %s\n", h.link(Page{Fonts: []string{f}}))
			}
		}
	}
	for _, g := range h.Fonts {
		fmt.Fprintf(b, "\n%s*%s\n  Cache-Control: %s\n", h.address(within(g.Folder)), g.Ending, g.Cache)
		if h.Origin != "" {
			fmt.Fprintf(b, "  Access-Control-Allow-Origin: %s\n", h.Origin)
		}
	}
}

// within is a folder as the beginning of a path.
func within(folder string) string {
	if folder == "" {
		return ""
	}
	return folder + "/"
}

// fontsOf is an expression for the fonts of a group.
func (h *Headers) fontsOf(g Group) string {
	return "^" + h.pattern(within(g.Folder)) + `[^/]+\` + g.Ending + "$"
}

// pageOf is an expression for a page, also where the server looks it up by its folder, or without its ending.
func (h *Headers) pageOf(p Page) string {
	if dir, ok := strings.CutSuffix(p.File, "index.html"); ok && (dir == "" || strings.HasSuffix(dir, "/")) {
		return "^" + h.pattern(dir) + `(?:index\.html)?$`
	}
	if bare, ok := strings.CutSuffix(p.File, ".html"); ok {
		return "^" + h.pattern(bare) + `(?:\.html)?$`
	}
	return "^" + h.pattern(p.File) + "$"
}

// nginx has maps, which take nothing from the locations that are there: a header whose value is empty is not sent.
func (h *Headers) nginx(b *strings.Builder) {
	quoted := func(s string) string { return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`).Replace(s) + `"` }
	table := func(name string, rows [][2]string) {
		fmt.Fprintf(b, "map $uri $%s {\n    default \"\";\n", name)
		for _, r := range rows {
			fmt.Fprintf(b, "    %s %s;\n", quoted("~"+r[0]), quoted(r[1]))
		}
		b.WriteString("}\n")
	}
	var links, keeps, types [][2]string
	for _, p := range h.Pages {
		links = append(links, [2]string{h.pageOf(p), h.link(p)})
	}
	for _, g := range h.Fonts {
		keeps = append(keeps, [2]string{h.fontsOf(g), g.Cache})
		types = append(types, [2]string{h.fontsOf(g), h.Origin})
	}
	b.WriteString("# Headers for fonts, made by Notaria of what was built. These lines stand in http { }:\n")
	if len(links) > 0 {
		table("font_links", links)
	}
	table("font_cache", keeps)
	if h.Origin != "" {
		table("font_origin", types)
	}
	b.WriteString("\n# These lines stand in server { }, and again in each location { } that has an add_header of its own:\n")
	if len(links) > 0 {
		b.WriteString("add_header Link $font_links;\n")
	}
	b.WriteString("add_header Cache-Control $font_cache;\n")
	if h.Origin != "" {
		b.WriteString("add_header Access-Control-Allow-Origin $font_origin;\n")
	}
}

// apache has conditions, which are allowed in the server's settings as well as in a folder's.
func (h *Headers) apache(b *strings.Builder) {
	set := func(pattern string, lines ...string) {
		fmt.Fprintf(b, "    <If \"%%{REQUEST_URI} =~ m#%s#\">\n", pattern)
		for _, l := range lines {
			fmt.Fprintf(b, "        Header %s\n", l)
		}
		b.WriteString("    </If>\n")
	}
	quoted := func(s string) string { return `"` + strings.ReplaceAll(s, `"`, `\"`) + `"` }
	b.WriteString("# Headers for fonts, made by Notaria of what was built: for the server's settings, or for .htaccess.\n")
	var known []string
	for _, g := range h.Fonts {
		if !slices.Contains(known, g.Ending) {
			known = append(known, g.Ending)
			fmt.Fprintf(b, "AddType %s %s\n", endings[g.Ending], g.Ending)
		}
	}
	b.WriteString("<IfModule mod_headers.c>\n")
	for _, p := range h.Pages {
		set(h.pageOf(p), "set Link "+strings.ReplaceAll(quoted(h.link(p)), "%", "%%"))
	}
	for _, g := range h.Fonts {
		lines := []string{"set Cache-Control " + quoted(g.Cache)}
		if h.Origin != "" {
			lines = append(lines, "set Access-Control-Allow-Origin "+quoted(h.Origin))
		}
		set(h.fontsOf(g), lines...)
	}
	b.WriteString("</IfModule>\n")
}
