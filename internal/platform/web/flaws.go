package web

import (
	"bytes"
	"fmt"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/edit/splice"
	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// A block is a @font-face rule of the site's own (CSS Fonts 4, 4.1).
type block struct {
	sheet  string
	raw    []byte
	line   func(at int) int
	from   int // of the rule's inside, in bytes of the sheet
	text   string
	family string
	files  []string // of the tree
}

var (
	fontFace   = lazy.Regexp(`@font-face\s*\{([^{}]*)\}`)
	descriptor = lazy.Regexp(`(?:^|[;\s])([a-zA-Z-]+)\s*:\s*([^;]*[^;\s])`)
	formatOf   = lazy.Regexp(`url\(\s*["']?([^"')\n]+)["']?\s*\)\s*format\(\s*["']?([\w-]+)["']?`)
)

// formats are the words of format() (CSS Fonts 4, 4.3.1), with the endings that they stand for.
var formats = map[string][]string{
	"woff2": {".woff2"}, "woff": {".woff"}, "truetype": {".ttf"}, "opentype": {".otf", ".ttf"}, "collection": {".ttc", ".otc"}, "embedded-opentype": {".eot"}, "svg": {".svg"},
	"woff2-variations": {".woff2"}, "woff-variations": {".woff"}, "truetype-variations": {".ttf"}, "opentype-variations": {".otf", ".ttf"},
}

// mostBlocks is how many rules of one sheet are looked at.
const mostBlocks = 2000

// blocks are the @font-face rules of all sheets, which are read once.
func (s *site) blocks() []block {
	if !s.blocksRead {
		s.blocksRead, s.blocksKept = true, s.readBlocks()
	}
	return s.blocksKept
}

func (s *site) readBlocks() []block {
	var out []block
	for _, f := range s.declaring() {
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok {
			continue
		}
		clean, line := language.Of(f).Blank(raw), splice.Liner(raw)
		for _, m := range fontFace.FindAllSubmatchIndex(clean, mostBlocks) {
			b := block{sheet: f, raw: raw, line: line, from: m[2], text: string(clean[m[2]:m[3]])}
			b.family = strings.Trim(b.value("font-family"), `"' `)
			for _, u := range fontURL.FindAllStringSubmatch(b.text, mostBlocks) {
				if at, ok := s.find(f, u[1]); ok {
					b.files = append(b.files, at)
				}
			}
			out = append(out, b)
		}
	}
	return out
}

// value is a descriptor's value, "" if the rule has none.
func (b block) value(key string) string {
	v, _ := b.place(key)
	return v
}

// place is a descriptor's value, and where it begins in the sheet.
func (b block) place(key string) (string, int) {
	for _, m := range descriptor.FindAllStringSubmatchIndex(b.text, mostBlocks) {
		if strings.EqualFold(b.text[m[2]:m[3]], key) {
			return b.text[m[4]:m[5]], b.from + m[4]
		}
	}
	return "", 0
}

// generated says whether Notaria wrote the sheet.
func (b block) generated() bool {
	return platform.IsGenerated(b.raw)
}

// Flaws are what is wrong with the site's own @font-face rules, and fonts that none names.
func (s *site) Flaws(known []platform.Face) ([]platform.Flaw, error) {
	faces := map[string]platform.Face{}
	for _, f := range known {
		faces[f.File] = f
	}
	blocks := s.blocks()
	var out []platform.Flaw
	for _, b := range blocks {
		if !b.generated() {
			out = append(out, b.flaws(blocks, faces)...)
		}
	}
	out = append(out, s.policies(blocks)...)
	out = append(out, s.unlinked(blocks)...)
	return append(out, s.unnamed(blocks, faces)...), nil
}

func (b block) flaws(all []block, faces map[string]platform.Face) []platform.Flaw {
	var out []platform.Flaw
	if src, _ := b.place("src"); b.family == "" || src == "" {
		missing := map[bool]string{true: "font-family", false: "src"}[b.family == ""]
		out = append(out, platform.Flaw{Kind: platform.WrongForm, File: b.sheet, Line: b.line(b.from), Means: b.files, Message: "expected " + missing + " in the @font-face rule, found none",
			Cause: "browsers pass a rule over that lacks it", Cure: "write " + missing + ": …"})
	}
	for _, m := range formatOf.FindAllStringSubmatchIndex(b.text, mostBlocks) {
		url, format := b.text[m[2]:m[3]], strings.ToLower(b.text[m[4]:m[5]])
		ext := strings.ToLower(path.Ext(strings.FieldsFunc(url+"?", func(r rune) bool { return r == '?' || r == '#' })[0]))
		if slices.ContainsFunc(formats[format], func(e string) bool { return platform.LooksLikeFont("x" + e) }) || !platform.LooksLikeFont("x"+ext) {
			continue
		}
		right := map[string]string{".woff2": "woff2", ".woff": "woff", ".ttf": "truetype", ".otf": "opentype", ".ttc": "collection", ".otc": "collection"}[ext]
		out = append(out, platform.Flaw{Kind: platform.WrongForm, File: b.sheet, Line: b.line(b.from + m[4]), Message: fmt.Sprintf("expected format(%q) for %s, found %q", right, path.Base(url), face.Short(format)),
			Cause: "a browser passes a source over whose format it does not know or take; what is in the file decides otherwise", Cure: platform.Choose(right, nil), Mend: platform.Exchange(b.sheet, b.raw, b.from+m[4], b.from+m[5], right)})
	}
	for _, file := range b.files {
		if f, ok := faces[file]; ok && !f.Variable && !ofIcons(b.family, f) {
			return append(out, b.unlike(f, all)...)
		}
	}
	return out
}

// ofIcons says whether a rule is of icons: these have no weights, and rules of one family bring each other's signs.
func ofIcons(family string, f platform.Face) bool {
	return installed.IsIcon(family) || installed.IsIcon(f.Family) || strings.Contains(strings.ToLower(family), "icon")
}

// unlike compares what a rule says of a file with what is in it.
func (b block) unlike(f platform.Face, all []block) []platform.Flaw {
	var out []platform.Flaw
	weight, at := b.place("font-weight")
	style, styleAt := b.place("font-style")
	same := 0
	for _, other := range all {
		if strings.EqualFold(other.family, b.family) && other.sheet == b.sheet && other.value("unicode-range") == "" {
			same++ // rules of parts of Unicode do not take each other's place
		}
	}
	w, _, isWeight := platform.StyleWord(weight)
	right := strconv.Itoa(f.Weight)
	switch {
	case weight == "" && same > 1 && b.value("unicode-range") == "" && (f.Weight < 400 || f.Weight > 500):
		out = append(out, platform.Flaw{Kind: platform.NoWeight, File: b.sheet, Line: b.line(b.from), Message: fmt.Sprintf("the rule of %s gives no font-weight, and there are %d rules of the family %s", path.Base(f.File), same, face.Short(b.family)),
			Cause: "a rule without font-weight is for 400: of two such the later wins, whatever weight is asked for", Cure: fmt.Sprintf("write font-weight: %s; into it", right)})
	case same < 2 && isWeight && (w >= 600) == (f.Weight >= 600): // it shows for all weights, and none is faked that is there
	case weight != "" && isWeight && w > 0 && max(w-f.Weight, f.Weight-w) >= 100:
		out = append(out, platform.Flaw{Kind: platform.Unlike, File: b.sheet, Line: b.line(at), Message: fmt.Sprintf("the rule says font-weight: %s, and %s is of weight %d", face.Short(weight), path.Base(f.File), f.Weight),
			Cause: "browsers choose among the faces of a family by weight: this one shows where another was asked for", Cure: platform.Choose("font-weight: "+right, nil), Mend: platform.Exchange(b.sheet, b.raw, at, at+len(weight), right)})
	case weight != "" && !isWeight && !strings.ContainsAny(weight, " $@#{("):
		out = append(out, platform.Flaw{Kind: platform.WrongForm, File: b.sheet, Line: b.line(at), Message: fmt.Sprintf("expected a number, normal or bold as font-weight of a @font-face rule, found %q", face.Short(weight)),
			Cause: "browsers pass the descriptor over, and take the face for weight 400", Cure: platform.Choose("font-weight: "+right, nil), Mend: platform.Exchange(b.sheet, b.raw, at, at+len(weight), right)})
	}
	slanted := f.Slant != face.Upright
	word, _, _ := strings.Cut(style, " ")
	switch {
	case style == "" && slanted && same > 1:
		out = append(out, platform.Flaw{Kind: platform.NoWeight, File: b.sheet, Line: b.line(b.from), Message: fmt.Sprintf("the rule of %s gives no font-style, and the face is %s", path.Base(f.File), f.Slant),
			Cause: "a rule without font-style is for upright text", Cure: "write font-style: italic; into it"})
	case (word == "italic" || word == "oblique") && !slanted, word == "normal" && slanted:
		rightStyle := map[bool]string{true: "italic", false: "normal"}[slanted]
		out = append(out, platform.Flaw{Kind: platform.Unlike, File: b.sheet, Line: b.line(styleAt), Message: fmt.Sprintf("the rule says font-style: %s, and %s is %s", face.Short(style), path.Base(f.File), f.Slant),
			Cause: "browsers choose among the faces of a family by style", Cure: platform.Choose("font-style: "+rightStyle, nil), Mend: platform.Exchange(b.sheet, b.raw, styleAt, styleAt+len(style), rightStyle)})
	}
	return out
}

// unlinked are sheets with @font-face rules that nothing takes in: no page, no script and no other sheet
// of the site names them.
func (s *site) unlinked(blocks []block) []platform.Flaw {
	pages := slices.ContainsFunc(s.Tree.Under(s.Dir), func(f string) bool { return language.Of(f) == language.HTML })
	if !pages {
		return nil
	}
	words, plain := map[string]string{}, map[string]bool{} // the names of sheets, and which are no sources of others
	first := map[string]block{}
	for _, b := range blocks {
		if _, seen := first[b.sheet]; !seen && !b.generated() && !language.Of(b.sheet).Markup() && len(first) < mostMentions {
			first[b.sheet] = b
			plain[b.sheet] = path.Ext(b.sheet) == ".css" // builds take the others in their own ways
			words[b.sheet] = strings.TrimLeft(strings.TrimSuffix(path.Base(b.sheet), path.Ext(b.sheet)), "_")
		}
	}
	linked := map[string]bool{} // families of sheets that are taken in
	left := s.unseen(words, plain)
	for _, b := range blocks {
		if !slices.Contains(left, b.sheet) { // pages are read in any case
			linked[strings.ToLower(b.family)] = true
		}
	}
	var out []platform.Flaw
	for _, sheet := range left {
		if !slices.ContainsFunc(blocks, func(b block) bool { return b.sheet == sheet && !linked[strings.ToLower(b.family)] }) {
			continue // another form of a sheet that is
		}
		out = append(out, platform.Flaw{Kind: platform.OutOfPlace, File: sheet, Line: first[sheet].line(first[sheet].from), Message: fmt.Sprintf("no page, script or sheet of the site takes %s in", path.Base(sheet)),
			Cause: "a browser never reads its @font-face rules", Cure: fmt.Sprintf(`write <link rel="stylesheet" href="%s"> into the page`, platform.Relative(platform.Shown(s.Dir), sheet))})
	}
	return out
}

// mostMentions is how many sheets, or fonts, are looked for in the files of a site.
const mostMentions = 300

// unmentioned are those of some files, in order, of which no other file of the site holds the word.
func (s *site) unmentioned(words map[string]string) []string {
	return s.unseen(words, nil)
}

// takesIn says whether a text may take in the sheet of a name: it stands in front of an ending, or of a quote.
func takesIn(text []byte, word string) bool {
	at := 0
	for range mostMentions {
		i := bytes.Index(text[at:], []byte(word))
		if i < 0 {
			return false
		}
		at += i + len(word)
		if rest := text[at:min(len(text), at+12)]; sheetEnding.Match(rest) && !notAnEnding.Match(rest) {
			return true
		}
	}
	return true // so often that nobody knows
}

var (
	sheetEnding = lazy.Regexp(`^(?:[.-][\w.-]*|["'\x60)]|\s*(?:;|\r?\n|$))`)
	// wholeFolder puts names of sheets together, or takes them by a pattern.
	wholeFolder = lazy.Regexp(`(?:\*|[}"'\x60]\s*\+?\s*["'\x60]?)\.(?:s?css|sass|less)\b`)
	notAnEnding = lazy.Regexp(`^\.(?:load|ready|add|check|delete|has|forEach|status|size|map|ttf|otf|woff2?|name|family)\b`)
)

// unseen is unmentioned, but for sheets: of these it is looked whether a file takes them in, and not only holds the word.
func (s *site) unseen(words map[string]string, sheets map[string]bool) []string {
	left := maps.Clone(words)
	for _, f := range s.Tree.Under(s.Dir) {
		l := language.Of(f)
		if len(left) == 0 {
			break
		}
		if l == nil && !mentioning[path.Ext(f)] {
			continue
		}
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok {
			continue
		}
		var clean []byte
		all := false // sheets are taken in by a pattern
		holds := func(text []byte, file, word string) bool {
			if sheets[file] {
				return all || takesIn(text, word)
			}
			return bytes.Contains(text, []byte(word))
		}
		if len(sheets) > 0 && bytes.Contains(raw, []byte("ss")) && wholeFolder.Match(raw) {
			clean = raw
			if l != nil {
				clean = l.Blank(raw)
			}
			all = wholeFolder.Match(clean)
		}
		for file, word := range left {
			if f == file || !holds(raw, file, word) {
				continue
			}
			if clean == nil {
				if clean = raw; l != nil {
					clean = l.Blank(raw)
				}
			}
			if holds(clean, file, word) {
				delete(left, file)
			}
		}
	}
	return slices.Sorted(maps.Keys(left))
}

// mentioning are files of no programming language that can name sheets and fonts.
var mentioning = map[string]bool{".vue": true, ".svelte": true, ".astro": true, ".sass": true, ".php": true, ".erb": true, ".cshtml": true, ".razor": true, ".toml": true, ".yaml": true, ".yml": true}

// mentions says whether a file of the site holds a word, outside of comments.
func (s *site) mentions(word string) bool {
	return len(s.unmentioned(map[string]string{"": word})) == 0
}

// unnamed are fonts of the site that neither a rule nor a script names, under no form of theirs.
func (s *site) unnamed(blocks []block, faces map[string]platform.Face) []platform.Flaw {
	if len(blocks) == 0 {
		return nil // another way of taking fonts in
	}
	named, ids := map[string]bool{}, map[string]bool{}
	for _, b := range blocks {
		for _, f := range b.files {
			named[f] = true
			if one, ok := faces[f]; ok {
				ids[one.ID()] = true
			}
		}
	}
	stems := map[string]bool{} // a font's other containers are not needed
	for f := range named {
		stems[strings.TrimSuffix(f, path.Ext(f))] = true
	}
	words := map[string]string{}
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		if stems[strings.TrimSuffix(f, path.Ext(f))] {
			continue
		}
		if platform.LooksLikeFont(f) && !named[f] && !ids[faces[f].ID()] && !s.output(path.Dir(rel)) && !s.nested(rel) && !platform.IsTest(rel) && len(words) < mostMentions {
			words[f] = path.Base(f)
		}
	}
	var list []platform.Flaw
	for _, f := range s.unmentioned(words) {
		rel, _ := s.Rel(f)
		list = append(list, platform.Flaw{Kind: platform.NotNamed, File: f, Subject: f, Message: fmt.Sprintf("no @font-face rule names %s", rel),
			Cause: "browsers load only the fonts that rules, or scripts, name", Cure: "write a @font-face rule for it, or enrol it and register it, or delete it"})
	}
	return list
}

// nested says whether a file belongs to a part of the tree that has an app of its own.
func (s *site) nested(rel string) bool {
	for dir := path.Dir(rel); dir != "." && dir != "/"; dir = path.Dir(dir) {
		for _, base := range []string{"package.json", "pubspec.yaml", "build.gradle", "build.gradle.kts", "project.godot", "CMakeLists.txt", "index.html"} {
			if slices.Contains(s.Tree.Named(base), path.Join(s.Dir, dir, base)) {
				return true
			}
		}
	}
	return false
}

// external says whether pages or sheets take in sheets from other servers, whose families are not known.
func (s *site) external() bool {
	for _, f := range s.Tree.Under(s.Dir) {
		l := language.Of(f)
		if slices.Contains(script, l) {
			if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && foreignInScript.Match(l.Blank(raw)) {
				return true
			}
			continue
		}
		if !slices.Contains(pages, l) && l != language.CSS && l != language.SCSS {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && foreignSheet.Match(l.Blank(raw)) {
			return true
		}
	}
	return false
}

// foreignInScript is what takes a sheet of fonts in from a script: its address, or a loader of fonts.
var foreignInScript = lazy.Regexp(`["'\x60](?:https?:)?//[^"'\x60\s]*(?:[?&]family=|fonts?\.[^"'\x60\s]*css)|\bWebFont\.load\b|\bWebFontConfig\b|["'](?:webfontloader|typeface-)`)

var foreignSheet = lazy.Regexp(`<link\b[^<>]*\bhref\s*=\s*["']?(?:https?:)?//|@import\s+(?:url\(\s*)?["']?(?:https?:)?//|<script\b[^<>]*\bsrc\s*=\s*["']?(?:https?:)?//`)
