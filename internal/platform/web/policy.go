package web

import (
	"bytes"
	"crypto/sha256"
	"crypto/sha512"
	"encoding/base64"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit/splice"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// What a page says about what a browser may load: a policy of its content (CSP 3), and hashes of what it takes in (Subresource
// Integrity).

// A policy stands in a page, or in the settings of what gives pages out.
type policy struct {
	file, text string
	line       int
	page       bool
}

var (
	metaTag     = lazy.Regexp(`(?i)<meta\b((?:[^<>"']|"[^"]*"|'[^']*')*)>`)
	equivPolicy = lazy.Regexp(`(?i)\bhttp-equiv\s*=\s*["']?content-security-policy["'\s/]`)
	contentOf   = lazy.Regexp(`(?is)\bcontent\s*=\s*(?:"([^"]*)"|'([^']*)')`)
	// policyLine is a policy as a header of settings: a line of _headers or of a server, an entry of TOML or of JSON.
	policyLine = lazy.Regexp(`(?im)\bcontent-security-policy["']?(?:\s*,\s*["']value["'])?\s*[:=\s]\s*(?:"([^"\n]*)"|([^"\n]+))`)
	policyKey  = lazy.Regexp(`"(?:csp|content_security_policy|extension_pages)"\s*:\s*"([^"\n]*)"`)
)

// policySettings are files from the site's folder that can hold a policy, with how.
var policySettings = []struct {
	name string
	form *lazy.Pattern
}{
	{"_headers", policyLine}, {"public/_headers", policyLine}, {"static/_headers", policyLine}, {"netlify.toml", policyLine}, {"vercel.json", policyLine}, {"firebase.json", policyLine},
	{"staticwebapp.config.json", policyLine}, {"public/staticwebapp.config.json", policyLine}, {"nginx.conf", policyLine}, {".htaccess", policyLine}, {"public/.htaccess", policyLine},
	{"src-tauri/tauri.conf.json", policyKey}, {"manifest.json", policyKey}, {"public/manifest.json", policyKey},
}

// inPage are the policies that a page has in its head.
func inPage(file string, clean []byte, line func(int) int) (list []policy) {
	for _, m := range metaTag.FindAllSubmatchIndex(clean, mostMentions) {
		attributes := clean[m[2]:m[3]]
		if c := contentOf.FindSubmatch(attributes); equivPolicy.Match(append(slices.Clone(attributes), ' ')) && c != nil {
			list = append(list, policy{file, string(slices.Concat(c[1], c[2])), line(m[0]), true})
		}
	}
	return list
}

// ownBlocked is the directive by which a policy keeps a page from fonts of its own site, "" if it does not, or if that is not
// certain: a host can be the site's own, and a scheme that of an app.
func ownBlocked(text string) string {
	for _, one := range strings.Split(strings.NewReplacer("&#39;", "'", "&apos;", "'", `\"`, `"`).Replace(text), ",") { // a header can have several: each must allow it
		directives := map[string][]string{}
		for _, d := range strings.Split(one, ";") {
			if words := strings.Fields(d); len(words) > 0 && directives[strings.ToLower(words[0])] == nil {
				directives[strings.ToLower(words[0])] = append([]string{}, words[1:]...) // of two the first counts
			}
		}
		for _, name := range []string{"font-src", "default-src"} {
			sources, said := directives[name]
			if !said {
				continue
			}
			if !slices.ContainsFunc(sources, mayBeOwn) {
				return strings.TrimSpace(name + " " + strings.Join(sources, " "))
			}
			break
		}
	}
	return ""
}

// mayBeOwn says whether a source of a policy may mean the site itself. A host that is called after fonts is that of a service.
func mayBeOwn(source string) bool {
	s := strings.ToLower(source)
	if slices.Contains([]string{"'none'", "blob:", "'unsafe-inline'", "'unsafe-eval'", "'strict-dynamic'", "'report-sample'"}, s) || strings.HasPrefix(s, "'nonce-") || strings.HasPrefix(s, "'sha") {
		return false
	}
	host := strings.TrimPrefix(strings.TrimPrefix(s, "https://"), "http://")
	first, rest, _ := strings.Cut(host, ".")
	return !(strings.Contains(rest, ".") && slices.Contains([]string{"fonts", "font", "webfonts"}, first))
}

// flaw says that a policy keeps the page from its fonts.
func (p policy) flaw(directive string) platform.Flaw {
	return platform.Flaw{Kind: platform.Blocked, File: p.file, Line: p.line, Message: fmt.Sprintf("the Content-Security-Policy keeps browsers from the fonts of the site: %s", face.Short(directive)),
		Cause: "a browser loads no font from a place that font-src, or without it default-src, does not name, and says so in its console alone", Cure: "add 'self' to font-src: font-src 'self'"}
}

// policies are flaws of the site's own policies, where it has fonts of its own.
func (s *site) policies(blocks []block) (out []platform.Flaw) {
	withFonts := map[string]bool{}
	for _, b := range blocks {
		if len(b.files) > 0 {
			withFonts[b.sheet] = true
		}
	}
	if len(withFonts) == 0 {
		return nil
	}
	report := func(p policy) {
		if d := ownBlocked(p.text); d != "" {
			out = append(out, p.flaw(d))
		}
	}
	for _, set := range policySettings {
		file := path.Join(s.Dir, set.name)
		if !s.has(file) {
			continue
		}
		raw, ok := s.Tree.Glance(file, platform.MostSource)
		if !ok {
			continue
		}
		line := splice.Liner(raw)
		for _, m := range set.form.FindAllSubmatchIndex(raw, mostMentions) {
			from, to := m[2], m[3]
			if from < 0 {
				from, to = m[4], m[5]
			}
			report(policy{file: file, text: string(raw[from:to]), line: line(m[0])})
		}
	}
	out = append(out, s.policiesOfPages(withFonts)...)
	return out
}

// policiesOfPages are those of pages that show fonts of the site: by a style sheet, by a rule of their own, or by a bundler.
func (s *site) policiesOfPages(withFonts map[string]bool) (out []platform.Flaw) {
	bundled := !slices.ContainsFunc(s.hooks, func(h hook) bool { return h.page }) && len(s.hooks) > 0
	pages := 0
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		if language.Of(f) != language.HTML || s.output(path.Dir(rel)) {
			continue
		}
		if pages++; pages > mostPages {
			break
		}
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok {
			continue
		}
		clean, line := language.HTML.Blank(raw), splice.Liner(raw)
		out = append(out, s.integrity(f, clean, line)...)
		list := inPage(f, clean, line)
		if len(list) == 0 || !withFonts[f] && !s.takesFontsIn(f, clean, withFonts) && !(bundled && strings.HasSuffix("/"+rel, "/index.html") && strings.Count(rel, "/") < 2) {
			continue
		}
		for _, p := range list {
			if d := ownBlocked(p.text); d != "" {
				out = append(out, p.flaw(d))
			}
		}
	}
	return out
}

// takesFontsIn says whether a page links a style sheet that has fonts.
func (s *site) takesFontsIn(page string, clean []byte, withFonts map[string]bool) bool {
	for _, m := range takesInFile.FindAllSubmatch(clean, mostMentions) {
		if withFonts[s.linked(page, string(slices.Concat(m[1], m[2])))] {
			return true
		}
	}
	return false
}

// linked is the file of the site that an address in a page means.
func (s *site) linked(page, address string) string {
	if strings.HasPrefix(address, "/") {
		return path.Join(s.Dir, address)
	}
	return path.Join(path.Dir(page), address)
}

var integrityOf = lazy.Regexp(`(?i)\bintegrity\s*=\s*["']?([^"'<>]+)["']?`)

// integrity are links of a page to style sheets of the site whose hash is another.
func (s *site) integrity(page string, clean []byte, line func(int) int) (out []platform.Flaw) {
	for _, l := range hashedLinks(clean) {
		file := s.linked(page, l.address)
		if path.Ext(file) != ".css" || !s.has(file) {
			continue
		}
		if raw, ok := s.Tree.Glance(file, platform.MostSource); ok && !matches(l.integrity, raw) {
			out = append(out, unlikeHash(page, line(l.at), path.Base(file)))
		}
	}
	return out
}

// A hashedLink takes in what has a hash (Subresource Integrity, 3.5).
type hashedLink struct {
	at                 int
	address, integrity string
}

func hashedLinks(clean []byte) (list []hashedLink) {
	for _, m := range earlyLink.FindAllSubmatchIndex(clean, mostBlocks) {
		attributes := clean[m[2]:m[3]]
		sum, href := integrityOf.FindSubmatch(attributes), hrefOf.FindSubmatch(attributes)
		if sum == nil || href == nil {
			continue
		}
		address := string(slices.Concat(href[1], href[2], href[3]))
		if relSheet.Match(attributes) && !strings.ContainsAny(address, ":?#{}$<>%") && !strings.HasPrefix(address, "//") {
			list = append(list, hashedLink{m[0], address, string(sum[1])})
		}
	}
	return list
}

// matches says whether a text has one of some hashes, with the ends of lines that it has, or that version control gives it.
func matches(integrity string, raw []byte) bool {
	unix := bytes.ReplaceAll(raw, []byte("\r\n"), []byte("\n"))
	return hasSum(integrity, raw) || hasSum(integrity, unix) || hasSum(integrity, bytes.ReplaceAll(unix, []byte("\n"), []byte("\r\n")))
}

// hasSum says whether bytes have one of some hashes; of several the strongest kind counts. What is no such hash asks for nothing.
func hasSum(integrity string, raw []byte) bool {
	best, right := "", true
	for _, word := range strings.Fields(integrity) {
		kind, sum, _ := strings.Cut(word, "-")
		sum, _, _ = strings.Cut(sum, "?")
		var have []byte
		switch kind {
		case "sha256":
			h := sha256.Sum256(raw)
			have = h[:]
		case "sha384":
			h := sha512.Sum384(raw)
			have = h[:]
		case "sha512":
			h := sha512.Sum512(raw)
			have = h[:]
		default:
			continue
		}
		same := strings.TrimRight(base64.StdEncoding.EncodeToString(have), "=") == strings.TrimRight(strings.NewReplacer("-", "+", "_", "/").Replace(sum), "=")
		switch {
		case kind > best:
			best, right = kind, same
		case kind == best:
			right = right || same
		}
	}
	return right
}

func unlikeHash(page string, line int, sheet string) platform.Flaw {
	return platform.Flaw{Kind: platform.OtherHash, File: page, Line: line, Message: fmt.Sprintf("the integrity of the link is not the hash of %s", face.Short(sheet)),
		Cause: "the style sheet changed after the hash was made: browsers refuse it whole, with its fonts", Cure: "make the hash again of the file as it is now, if you know who changed it"}
}
