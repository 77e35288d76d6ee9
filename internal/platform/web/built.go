package web

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"maps"
	"net/url"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit/splice"
	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/sfnt"
)

const (
	mostFont  = 64 << 20
	mostFlaws = 1000
)

// output is one look at an output.
type output struct {
	platform.Output
	all      map[string]bool
	Built    platform.Built
	fonts    map[string]*builtFont
	named    map[string]bool            // files that rules of @font-face name
	early    []early                    // links that load fonts early
	family   map[string]string          // by a family as it is compared: as it is declared
	faces    map[string]string          // by a face's names: the family of its rule
	asked    []asked                    // families that rules ask for
	scripts  bool                       // a script declares fonts
	origins  map[string]platform.Origin // by id
	once     map[string]bool            // what was said
	uses     []use
	linked   map[string][]string // style sheets by page, or by the style sheet that imports them
	policies map[string][]policy // by page
	rules    map[string][]string // fonts that rules name, by page or style sheet
	together map[string]bool     // pairs of style sheets that one page links
}

type builtFont struct {
	face      face.Face
	container sfnt.Container
	size      int64
	sum       [32]byte
	err       error
}

type early struct {
	page, file string
	line       int
	cross      bool
}

type asked struct {
	file, family string
	at           int
	where        func(at int) string
	line         int
}

// Prove looks at all pages and style sheets of an output: that each file of a @font-face rule is there, is of the type that
// its format says, and is a font; that none is there twice, or larger than its original; that what is loaded early is used; and
// that families are spelled as they are declared.
func (Platform) Prove(out platform.Output, page string, origins []platform.Origin) platform.Built {
	o := newOutput(out)
	for _, f := range origins {
		o.origins[f.ID] = f
	}
	for _, f := range o.meant(page) {
		o.look(f)
	}
	o.twice()
	o.preloads()
	o.families()
	o.blocked()
	slices.Sort(o.Built.Fonts)
	return o.Built
}

func newOutput(out platform.Output) *output {
	o := &output{Output: out, all: map[string]bool{}, fonts: map[string]*builtFont{}, named: map[string]bool{}, family: map[string]string{}, faces: map[string]string{},
		origins: map[string]platform.Origin{}, once: map[string]bool{}, linked: map[string][]string{}, rules: map[string][]string{}, policies: map[string][]policy{}, together: map[string]bool{}}
	for _, f := range out.Files() {
		o.all[f] = true
	}
	return o
}

// meant are the files to be looked at: all, or a page with what it takes in.
func (o *output) meant(page string) []string {
	if page == "" {
		return o.Files()
	}
	list := []string{page}
	for i := 0; i < len(list) && len(list) < mostPages; i++ {
		l := language.Of(list[i])
		raw, ok := o.Read(list[i], platform.MostSource)
		if !ok || l == nil {
			continue
		}
		for _, m := range takesInFile.FindAllSubmatch(l.Blank(raw), mostBlocks) {
			if file, known := o.find(list[i], string(slices.Concat(m[1], m[2]))); known && file != "" && !slices.Contains(list, file) {
				list = append(list, file)
			}
		}
	}
	return list
}

// takesInFile is what takes a style sheet or a script in.
var takesInFile = lazy.Regexp(`<(?:link|script)\b[^<>]*\b(?:href|src)\s*=\s*["']?([^"'\s<>]+\.(?:css|m?js))|@import\s+(?:url\(\s*)?["']?([^"'()\s;]+\.css)`)

func (o *output) look(name string) {
	l := language.Of(name)
	isPage := l == language.HTML
	if !isPage && l != language.CSS && l != language.JavaScript {
		return
	}
	raw, ok := o.Read(name, platform.MostSource)
	if !ok {
		return
	}
	if l == language.JavaScript {
		o.scripts = o.scripts || bytes.Contains(raw, []byte("@font-face")) || bytes.Contains(raw, []byte("FontFace("))
		return
	}
	clean := l.Blank(raw)
	place := splice.Liner(raw)
	if isPage {
		o.Built.Pages++
		o.links(name, clean, place)
		o.hashes(name, clean, place)
		if list := inPage(name, clean, place); len(list) > 0 {
			o.policies[name] = list
		}
	} else {
		o.Built.Sheets++
	}
	for _, m := range takesInFile.FindAllSubmatch(clean, mostMentions) {
		if file, known := o.find(name, string(slices.Concat(m[1], m[2]))); known && file != "" && path.Ext(file) == ".css" {
			o.linked[name] = append(o.linked[name], file)
		}
	}
	from := o.mapped(name, raw)
	for _, m := range fontFace.FindAllSubmatchIndex(clean, mostBlocks) {
		b := block{sheet: name, raw: raw, line: place, from: m[2], text: string(clean[m[2]:m[3]])}
		b.family = strings.Trim(b.value("font-family"), `"' `)
		o.Built.Rules++
		o.rule(b, from)
	}
	for _, m := range familyOfRule.FindAllSubmatchIndex(fontFace.ReplaceAllFunc(clean, spaces), mostBlocks*10) {
		o.asked = append(o.asked, asked{name, strings.Trim(string(clean[m[2]:m[3]]), `"' `), m[2], from, place(m[2])})
	}
}

// spaces are as many as a text is long: places stay.
func spaces(b []byte) []byte { return bytes.Repeat([]byte(" "), len(b)) }

var (
	familyOfRule = lazy.Regexp(`[{;\s]font-family\s*:\s*("[^"\n]+"|'[^'\n]+'|[A-Za-z][\w -]*)`)
	earlyLink    = lazy.Regexp(`<link\b((?:[^<>"']|"[^"]*"|'[^']*')*)>`)
	relEarly     = lazy.Regexp(`(?i)\brel\s*=\s*["']?preload\b`)
	asFont       = lazy.Regexp(`(?i)\bas\s*=\s*["']?font\b`)
	hrefOf       = lazy.Regexp(`(?i)\bhref\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'>]+))`)
	crossOrigin  = lazy.Regexp(`(?i)\bcrossorigin\b`)
	sourceOf     = lazy.Regexp(`url\(\s*(?:"([^"]*)"|'([^']*)'|([^"'()\s]*))\s*\)(?:\s*format\(\s*["']?([\w-]+))?`)
)

// links are those that load fonts early.
func (o *output) links(page string, clean []byte, line func(int) int) {
	for _, m := range earlyLink.FindAllSubmatchIndex(clean, mostBlocks) {
		attributes := clean[m[2]:m[3]]
		href := hrefOf.FindSubmatch(attributes)
		if !relEarly.Match(attributes) || !asFont.Match(attributes) || href == nil {
			continue
		}
		address := string(slices.Concat(href[1], href[2], href[3]))
		file, known := o.find(page, address)
		if !known {
			continue
		}
		if file == "" {
			o.flaw(platform.Flaw{Kind: platform.NoSuchFile, File: page, Line: line(m[0]), Message: face.Short(address) + " is to be loaded early, and is not in what was built",
				Cause: "the name that a font has after the build is another one, or the file is not copied", Cure: "take the link out, or let the build write it"})
			continue
		}
		o.early = append(o.early, early{page, file, line(m[0]), crossOrigin.Match(attributes)})
	}
}

// find is the file that an address means, "" if it is not there; false, if that cannot be known.
func (o *output) find(from, address string) (string, bool) {
	if i := strings.IndexAny(address, "?#"); i >= 0 {
		address = address[:i]
	}
	if address == "" || strings.HasPrefix(address, "//") || strings.Contains(address, ":") || strings.ContainsAny(address, "{}$<>") {
		return "", false
	}
	if plain, err := url.PathUnescape(address); err == nil {
		address = plain
	}
	switch {
	case !strings.HasPrefix(address, "/"):
		at := path.Join(path.Dir(from), address)
		if o.all[at] {
			return at, true
		}
		return "", at != ".." && !strings.HasPrefix(at, "../")
	}
	// The folder can be served under a path of its own.
	for parts := strings.Split(strings.Trim(address, "/"), "/"); len(parts) > 0; parts = parts[1:] {
		if at := path.Join(parts...); o.all[at] {
			return at, true
		}
	}
	return "", true
}

// rule looks at the sources of a @font-face rule. Those in forms that browsers do not ask for any more do not count.
func (o *output) rule(b block, from func(int) string) {
	var missing []string
	there := false
	_, at := b.place("src")
	for _, m := range sourceOf.FindAllStringSubmatchIndex(b.text, mostBlocks) {
		group := func(i int) string {
			if m[2*i] < 0 {
				return ""
			}
			return b.text[m[2*i]:m[2*i+1]]
		}
		address, format := group(1)+group(2)+group(3), strings.ToLower(group(4))
		ext := strings.ToLower(path.Ext(strings.FieldsFunc(address+"?", func(r rune) bool { return r == '?' || r == '#' })[0]))
		if ext == ".svg" || ext == ".eot" || format == "svg" || format == "embedded-opentype" {
			continue
		}
		place := platform.Flaw{File: b.sheet, Line: b.line(max(at, b.from+m[0]))}
		var f *builtFont
		if data, isData := strings.CutPrefix(address, "data:"); isData {
			place.Message, f = "a font in the style sheet", decoded(data)
		} else {
			file, known := o.find(b.sheet, address)
			if !known || file == "" && ext == "" {
				there = there || !known
				continue
			}
			if file == "" {
				if !there { // of those behind one that is there, browsers ask for none
					missing = append(missing, face.Short(address))
				}
				continue
			}
			place.Message, f = file, o.font(file)
			o.named[file] = true
			o.rules[b.sheet] = append(o.rules[b.sheet], file)
		}
		if there = true; f != nil {
			o.judge(b, place, f, format, from(b.from+m[0]))
		}
	}
	if len(missing) > 0 {
		o.flaw(platform.Flaw{Kind: platform.NoSuchFile, File: b.sheet, Line: b.line(max(at, b.from)), Message: strings.Join(missing, ", ") + map[bool]string{true: " is", false: " are"}[len(missing) == 1] + " not in what was built" + from(max(at, b.from)),
			Cause: "the browser finds no such file, and takes the next source, or the next font of the list", Cure: "let the build take the file in: an address from the style sheet, or the folder that is copied as it is"})
	}
	if b.family != "" {
		o.family[together(b.family)] = b.family
	}
}

// decoded is the font of a data address (RFC 2397), nil if it is none in base64.
func decoded(data string) *builtFont {
	head, text, ok := strings.Cut(data, ",")
	if !ok || !strings.HasSuffix(head, ";base64") || len(text) > mostFont {
		return nil
	}
	raw, err := base64.StdEncoding.DecodeString(strings.ReplaceAll(text, "%3D", "="))
	if err != nil {
		return nil
	}
	return opened(raw)
}

func (o *output) font(file string) *builtFont {
	if f, ok := o.fonts[file]; ok {
		return f
	}
	raw, ok := o.Read(file, mostFont)
	if !ok {
		return nil
	}
	f := opened(raw)
	if o.fonts[file] = f; f.err == nil {
		o.Built.Fonts = append(o.Built.Fonts, file)
	}
	return f
}

func opened(raw []byte) *builtFont {
	f := &builtFont{size: int64(len(raw)), sum: sha256.Sum256(raw)}
	var file *sfnt.File
	if file, f.err = sfnt.Open(bytes.NewReader(raw), f.size); f.err != nil {
		return f
	}
	f.container = file.Container
	f.face, _, f.err = face.Read(file.Font(0), face.Options{})
	return f
}

// formatsOf are the words of format() that say what a font is in (CSS Fonts 4, 4.3.1).
var formatsOf = map[sfnt.Container][]string{
	sfnt.Plain: {"truetype", "opentype", "truetype-variations", "opentype-variations"}, sfnt.Collection: {"collection"},
	sfnt.WOFF: {"woff", "woff-variations"}, sfnt.WOFF2: {"woff2", "woff2-variations"},
}

// judge looks at one font of a rule.
func (o *output) judge(b block, place platform.Flaw, f *builtFont, format, source string) {
	name := place.Message
	switch right := formatsOf[f.container]; {
	case f.err != nil:
		place.Kind, place.Message = platform.Broken, fmt.Sprintf("%s is no font that a browser can read: %s%s", name, face.Short(f.err.Error()), source)
		place.Cause, place.Cure = "the build changed the file, or put another one in its place: a text, a pointer of version control, half a file", "let the build copy fonts as they are: an asset, and no text"
	case format != "" && !slices.Contains(right, format):
		place.Kind, place.Message = platform.WrongForm, fmt.Sprintf("expected format(%q) for %s, found %q%s", right[0], path.Base(name), face.Short(format), source)
		place.Cause, place.Cure = "browsers choose by the format that is written: one that does not take this passes the source over, whatever is in the file", platform.Choose(right[0], nil)
	case f.size > o.origins[f.face.ID()].Size && o.origins[f.face.ID()].Size > 0:
		place.Kind, place.Message = platform.Heavier, fmt.Sprintf("%s has %d bytes, and its original %d%s", name, f.size, o.origins[f.face.ID()].Size, source)
		place.Cause, place.Cure = "the build unpacked the font, or took in another edition of it", "take in the .woff2 that notaria register writes"
	}
	if place.Kind != "" {
		o.flaw(place)
		return
	}
	for _, n := range []string{f.face.ID(), f.face.Full} {
		if n != "" && b.family != "" {
			o.faces[together(n)] = b.family
		}
	}
	o.uses = append(o.uses, use{f.sum, name, b.sheet, place, source})
}

// A use is that of a font by a rule.
type use struct {
	sum         [32]byte
	name, sheet string
	place       platform.Flaw
	source      string
}

// twice judges fonts that one page, or one style sheet, takes in two times.
func (o *output) twice() {
	first := map[[32]byte][]use{}
	for _, u := range o.uses {
		for _, v := range first[u.sum] {
			if v.name != u.name && (v.sheet == u.sheet || o.onOnePage(v.sheet, u.sheet)) {
				f := u.place
				f.Kind, f.Message = platform.Twice, fmt.Sprintf("%s and %s are the same file%s", v.name, u.name, u.source)
				f.Cause, f.Cure = "two rules take the font in, each by an address of its own: a page loads it two times", "take it in from one place"
				o.flaw(f)
				break
			}
		}
		if len(first[u.sum]) < 8 {
			first[u.sum] = append(first[u.sum], u)
		}
	}
}

func (o *output) onOnePage(a, b string) bool {
	key := a + "\x00" + b
	if known, ok := o.together[key]; ok {
		return known
	}
	o.together[key] = o.linkedBoth(a, b)
	return o.together[key]
}

func (o *output) linkedBoth(a, b string) bool {
	for page, sheets := range o.linked {
		has := func(s string) bool { return s == page || slices.Contains(sheets, s) }
		if has(a) && has(b) {
			return true
		}
	}
	return false
}

// preloads judges what is loaded early. A script can declare fonts in ways that are not seen.
func (o *output) preloads() {
	for _, e := range o.early {
		f := platform.Flaw{Kind: platform.Wasted, File: e.page, Line: e.line}
		switch {
		case !o.named[e.file] && !o.scripts && o.Built.Rules > 0:
			f.Message, f.Cause, f.Cure = fmt.Sprintf("%s is loaded early, and no @font-face rule names it", e.file), "the rule names another file: the reader waits for one more font, which no text shows", "take the link out, or name the file that the rule names"
		case !e.cross:
			f.Message, f.Cause, f.Cure = fmt.Sprintf("%s is loaded early without crossorigin", e.file), "browsers load fonts in another mode (CORS): this one is loaded a second time", "write crossorigin in the link"
		default:
			continue
		}
		o.flaw(f)
	}
}

// families judges those that rules ask for: one that is nearly that of a rule, and is no other.
func (o *output) families() {
	if o.scripts {
		return // which families they declare is not known
	}
	for _, a := range o.asked {
		key := together(a.family)
		if right, ok := o.family[key]; ok && strings.EqualFold(right, a.family) || installed.IsFamily(a.family) || installed.Has(a.family, installed.Any) || installed.IsGeneric(a.family) {
			continue
		}
		right := o.family[key]
		if right == "" {
			right = o.faces[key]
		}
		if right == "" || o.family[key] == "" && strings.EqualFold(right, a.family) {
			continue
		}
		o.flaw(platform.Flaw{Kind: platform.Misspelt, File: a.file, Line: a.line, Message: fmt.Sprintf("no @font-face rule has the family %q%s", face.Short(a.family), a.where(a.at)),
			Cause: "browsers report nothing about an unknown family, and show the next font of the list", Cure: platform.Choose(right, nil)})
	}
}

func (o *output) flaw(f platform.Flaw) {
	key := fmt.Sprintf("%s\x00%s\x00%d\x00%s", f.Kind, f.File, f.Line, f.Message)
	if !o.once[key] && len(o.Built.Flaws) < mostFlaws {
		o.once[key] = true
		o.Built.Flaws = append(o.Built.Flaws, f)
	}
}

// Loads says of each page which fonts its rules name, and which its links load early; and what the fonts hold.
func (Platform) Loads(out platform.Output) (list []platform.Load, faces map[string]face.Face) {
	o := newOutput(out)
	for _, f := range out.Files() {
		o.look(f)
	}
	faces = map[string]face.Face{}
	for file, f := range o.fonts {
		if f != nil && f.err == nil {
			faces[file] = f.face
		}
	}
	links := map[string][]string{}
	for _, e := range o.early {
		if e.cross {
			links[e.page] = append(links[e.page], e.file)
		}
	}
	for _, page := range out.Files() {
		if language.Of(page) == language.HTML {
			list = append(list, platform.Load{Page: page, Fonts: o.namedOn(page), Early: links[page]})
		}
	}
	return list, faces
}

// namedOn are the fonts that rules of a page name, and those of its style sheets with what these import.
func (o *output) namedOn(page string) (fonts []string) {
	sheets := []string{page}
	for i := 0; i < len(sheets) && i < mostMentions; i++ {
		for _, next := range o.linked[sheets[i]] {
			if !slices.Contains(sheets, next) {
				sheets = append(sheets, next)
			}
		}
		fonts = append(fonts, o.rules[sheets[i]]...)
	}
	return fonts
}

// hashes judges links of a page to what has another hash.
func (o *output) hashes(page string, clean []byte, line func(int) int) {
	for _, l := range hashedLinks(clean) {
		file, known := o.find(page, l.address)
		if raw, ok := o.Read(file, platform.MostSource); known && file != "" && ok && !matches(l.integrity, raw) {
			o.flaw(unlikeHash(page, line(l.at), file))
		}
	}
}

// blocked judges the policies of pages that show fonts of the output.
func (o *output) blocked() {
	for _, page := range slices.Sorted(maps.Keys(o.policies)) {
		for _, p := range o.policies[page] {
			if d := ownBlocked(p.text); d != "" && len(o.namedOn(page)) > 0 {
				o.flaw(p.flaw(d))
			}
		}
	}
}
