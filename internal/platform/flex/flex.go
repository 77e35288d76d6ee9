// Package flex serves Flex applications (MXML and ActionScript 3): font files beside the
// application, embedded by a style sheet or by metadata in a class, a style name for each
// role, and a class that holds these names.
//
// Flex tells faces of a family apart by bold and italic alone, so a face goes by its old
// family (name ID 1), which has at most four.
package flex

import (
	"bytes"
	"embed"
	"fmt"
	"path"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

//go:embed *.tmpl
var texts embed.FS

var templates = kit.Templates(texts)

// Options.
const (
	optEmbed = "embed"
	optRange = "unicode-range"
	inSheet  = "css"
	inClass  = "metadata"
)

// Platform is the Flex platform.
var Platform = &kit.Named{Platform: kit.Platform{
	Info: platform.About{
		Name: "flex", Title: "Flex", Kind: platform.ByOldFamily, Typed: `fontFamily: "…"`,
		Minimum: "Flex 3; Flex 4 for line heights and tracking of Spark components",
		Gets:    "files beside the application, embedded by app-type.css or by metadata in AppType.as, a style name for each role; says how many bytes and characters it adds, and takes ranges of characters",
		Cannot:  []string{"outlines", "another font where a face is missing", "text that follows the reader's size", "more than bold and italic in a family (each other weight is a family of its own)"},
		Options: []platform.Option{
			{Key: optEmbed, Kind: platform.KindWord, Help: "css: the style sheet embeds the fonts, if absent; metadata: AppType.as does"},
			{Key: optRange, Kind: platform.KindList, Help: "characters that are embedded, such as U+0020-007E; all, if absent"},
		},
	},
	Names: aliases, Find: sites,
}, In: func(tree platform.Tree, dir string, opt platform.Options) (platform.Site, error) {
	return newSite(tree, dir, opt) // one of ActionScript alone has no MXML
}}

// aliases are the names under which the faces are embedded.
func aliases(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = alias(f)
	}
	return out
}

var plainName = lazy.Regexp(`^[A-Za-z0-9][A-Za-z0-9 _-]*$`)

// alias is the name under which a face is embedded: it is the app's own choice, and is the
// old family where that is plain text.
func alias(f face.Face) string {
	name := f.LegacyFamily
	if name == "" {
		name = f.Family
	}
	if plainName.MatchString(name) && !strings.HasSuffix(name, " ") && len(name) <= 80 {
		return name
	}
	return platform.FileBase(f.ID())
}

// isBold and isItalic are what Flex asks for beside the family.
func isBold(f face.Face) bool   { return strings.Contains(f.LegacyStyle, "Bold") }
func isItalic(f face.Face) bool { return f.Slant != face.Upright }

// roots are the elements that an application begins with.
var roots = map[string]bool{"Application": true, "WindowedApplication": true, "ViewNavigatorApplication": true, "TabbedViewNavigatorApplication": true, "SplitViewNavigatorApplication": true, "Module": false}

// site is the folder of one or more applications.
type site struct {
	kit.App
	apps []app
	opt  platform.Options
}

// app is the file of one application.
type app struct {
	file, prefix string // prefix of the language's own elements, such as fx
	halo         bool   // Flex 3, whose components are drawn otherwise
}

// sites finds the folders that hold applications.
func sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	var found platform.Found
	var dirs []string
	for _, f := range tree.Under("") {
		if path.Ext(f) == ".mxml" && !slices.Contains(dirs, platform.Folder(f)) {
			dirs = append(dirs, platform.Folder(f))
		}
	}
	slices.Sort(dirs)
	for _, dir := range dirs {
		s, err := newSite(tree, dir, opt)
		if err == nil && len(s.apps) == 0 {
			continue
		}
		found.Add(platform.Shown(dir), s, err)
	}
	return found.All()
}

var unicodeRange = lazy.Regexp(`^U\+[0-9A-Fa-f]{1,6}(?:-[0-9A-Fa-f]{1,6})?$`)

func newSite(tree platform.Tree, dir string, opt platform.Options) (*site, error) {
	s := &site{App: kit.App{Base: platform.Base{Tree: tree, Dir: dir}, Kind: "Flex", Fonts: path.Join(dir, fontFolder), Common: true, Asks: uses}, opt: opt}
	s.Takes = func(p string) bool { rel, inside := s.Rel(p); return inside && !platform.IsTest(rel) }
	if w := opt.Word(optEmbed); w != "" && w != inSheet && w != inClass {
		return s, platform.Refuse(s.Path(), `"css" or "metadata" for embed`, w, "correct it under [target.flex] in notaria.toml")
	}
	for _, r := range opt.List(optRange) {
		if !unicodeRange.MatchString(r) {
			return s, platform.Refuse(s.Path(), "ranges such as U+0020-007E for unicode-range", r, "correct it under [target.flex] in notaria.toml")
		}
	}
	for _, f := range tree.Under(dir) {
		if path.Ext(f) != ".mxml" || platform.Folder(f) != dir {
			continue
		}
		doc, err := platform.ReadDocument(tree, f)
		if err != nil {
			return s, err
		}
		if !bytes.Contains(doc.Text, []byte("Application")) {
			continue // a component, of whatever form
		}
		root, err := xmldoc.Parse(doc)
		if err != nil {
			return s, err
		}
		if a, ok := newApp(doc, root); ok {
			s.apps = append(s.apps, a)
		}
	}
	return s, nil
}

// Namespaces of MXML: that of Flex 3, and the language's own from Flex 4 on.
var (
	halo = lazy.Regexp(`\sxmlns:?(\w*)\s*=\s*["']http://www\.adobe\.com/2006/mxml["']`)
	fx   = lazy.Regexp(`\sxmlns:(\w+)\s*=\s*["']http://ns\.adobe\.com/mxml/2009["']`)
)

func newApp(doc edit.Document, root *xmldoc.Element) (app, bool) {
	tag := doc.Text[root.From:root.Open]
	if m := fx.FindSubmatch(tag); m != nil && roots[root.Name] {
		return app{file: doc.File, prefix: string(m[1])}, true
	}
	if m := halo.FindSubmatch(tag); m != nil && roots[root.Name] {
		return app{file: doc.File, prefix: string(m[1]), halo: true}, true
	}
	return app{}, false
}

func (s *site) next() string {
	if s.opt.Word(optEmbed) == inClass {
		return "build the app again; call AppType.register() before the first text"
	}
	return "build the app again"
}

// Names of what is generated.
const (
	fontFolder = "assets/fonts"
	sheetFile  = "app-type.css"
	classFile  = "AppType.as"
)

// line is a face or a role as the templates write it; empty fields are left out.
type line struct {
	platform.RoleText
	Member, Class, Words  string // words are the face, for a comment
	Source, Alias         string // for CSS
	SourceText, AliasText string // for ActionScript
	Cost                  string
	Style                 string // as flash.text.FontStyle names it
	Bold, Slanted         bool
	Lead                  string
}

// code is what the templates show.
type code struct {
	Halo, Embed, Metadata bool
	Range                 string
	Faces, Roles          []line
}

// Plan is each face beside the application, embedded; the style names of the roles, which
// the application takes in.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	d := s.Draft(job, templates, s.next(), s.short(job), s.answer)
	if len(job.Roles) == 0 {
		return d.Done()
	}
	d.Fail(s.distinct(job))
	data, err := s.code(job)
	d.Fail(err)
	label := "s:Label"
	if s.halo() {
		label = "mx:Label"
	}
	styles := kit.Members(job.Roles, styleName)
	d.Words = append(slices.Clone(styles), "AppType")
	d.Shows(map[string][]string{"style": styles}, platform.Way("MXML", "<"+label+` styleName="{style}" text="07:40"/>`), platform.Way("ActionScript", `label.styleName = "{style}";`))
	d.Write(classFile, classFile, data)
	d.Write(sheetFile, sheetFile, data)
	for _, a := range s.apps {
		name := "Style"
		if a.prefix != "" {
			name = a.prefix + ":Style"
		}
		d.Entries = append(d.Entries, edit.Entry{File: a.file, Syntax: xmldoc.Elements{}.Name(), Value: sheetFile,
			Place: edit.Place{Kind: xmldoc.KindNested, Name: name, Attribute: "source"}})
	}
	return d.Done()
}

// distinct refuses two faces that Flex could not tell apart.
func (s *site) distinct(job platform.Job) error {
	seen := map[string]string{}
	for _, f := range job.Faces {
		key := fmt.Sprintf("%s, bold %t, italic %t", alias(f.Face), isBold(f.Face), isItalic(f.Face))
		if other := seen[key]; other != "" {
			return platform.Refuse(s.Path(), "faces that differ by their old family (name ID 1), bold or italic", fmt.Sprintf("%s and %s, both %s", other, f.ID(), key), "strike one of the two, or leave the app out: leave-out under [target.flex]")
		}
		seen[key] = f.ID()
	}
	return nil
}

func (s *site) halo() bool { return slices.ContainsFunc(s.apps, func(a app) bool { return a.halo }) }

// styles are the values of flash.text.FontStyle, by bold and italic.
var styles = map[bool]map[bool]string{false: {false: "regular", true: "italic"}, true: {false: "bold", true: "boldItalic"}}

func (s *site) code(job platform.Job) (code, error) {
	data := code{Halo: s.halo(), Metadata: s.opt.Word(optEmbed) == inClass, Range: strings.Join(s.opt.List(optRange), ", ")}
	var names []string
	for _, f := range job.Faces {
		names = append(names, language.ActionScript.Member(language.Camel(language.Words(f.ID())), "face", nil))
	}
	faces := map[string]line{}
	for i, n := range language.Unique(names) {
		f := job.Faces[i]
		rel, _ := s.Rel(s.Place(job, f))
		cost, err := s.cost(job, f)
		if err != nil {
			return data, err
		}
		l := line{RoleText: platform.RoleText{FaceID: platform.Listed(f)}, Style: styles[isBold(f.Face)][isItalic(f.Face)], Member: n, Source: language.CSS.Literal(rel), SourceText: language.ActionScript.Literal(rel), Alias: language.CSS.Literal(alias(f.Face)), AliasText: language.ActionScript.Literal(alias(f.Face)),
			Bold: isBold(f.Face), Slanted: isItalic(f.Face), Cost: cost, Words: language.ActionScript.Comment(f.Family + " " + f.Style)}
		faces[f.ID()] = l
		data.Faces = append(data.Faces, l)
	}
	for _, r := range job.Roles {
		f := faces[r.Face.ID()]
		l := line{RoleText: r.Text(), Class: styleName(r.Name), Member: strings.ToUpper(strings.ReplaceAll(r.Name, "-", "_")),
			Alias: f.Alias, Bold: f.Bold, Slanted: f.Slanted}
		if r.LineHeight > 0 {
			l.Lead = language.Number(r.Leading())
		}
		data.Roles = append(data.Roles, l)
	}
	return data, nil
}

// styleName is a role's style name: typeHeading.
func styleName(role string) string { return "type" + language.Pascal(language.Words(role)) }

// cost says what embedding a face adds: the whole file at most, for outlines are packed
// anew; with ranges, how many of its characters.
func (s *site) cost(job platform.Job, f platform.Face) (string, error) {
	facts, err := job.Facts(platform.Original{Face: f.ID()})
	if err != nil {
		return "", err
	}
	if facts.Metrics == nil {
		return fmt.Sprintf("at most %d bytes of the application", facts.Bytes), nil
	}
	all, n := facts.Metrics.Characters(0, unicode.MaxRune), 0
	ranges := s.opt.List(optRange)
	if len(ranges) == 0 {
		return fmt.Sprintf("all %d characters, at most %d bytes of the application", all, facts.Bytes), nil
	}
	for _, r := range ranges { // they were looked at before
		from, to, ok := strings.Cut(strings.TrimPrefix(r, "U+"), "-")
		if !ok {
			to = from
		}
		first, _ := strconv.ParseInt(from, 16, 32)
		last, _ := strconv.ParseInt(to, 16, 32)
		n += facts.Metrics.Characters(rune(first), rune(last))
	}
	return fmt.Sprintf("%d of %d characters, about %d of %d bytes", n, all, facts.Bytes*n/max(all, 1), facts.Bytes), nil
}

func (s *site) short(job platform.Job) []platform.Shortfall {
	why := map[string]string{
		platform.PartOutline:  "text has no outline; a GlowFilter comes near",
		platform.PartFallback: "an embedded family lists no other",
	}
	if s.halo() {
		why[platform.PartFixed] = ""
	}
	return platform.Shortfalls(job, why)
}

// Held lists the fonts that are embedded now.
func (s *site) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, f := range s.Tree.Under(s.Dir) {
		l := language.Of(f)
		if l != language.CSS && l != language.ActionScript && path.Ext(f) != ".mxml" {
			continue
		}
		raw, err := s.Tree.Read(f)
		if err != nil {
			return nil, err
		}
		clean, line := l.Blank(raw), splice.Liner(raw)
		for _, u := range uses {
			if u.Kind != useFile || !slices.Contains(u.Languages, l) {
				continue
			}
			for _, m := range u.Pattern.FindAllSubmatchIndex(clean, -1) {
				name := string(clean[m[2]:m[3]])
				out = append(out, platform.Held{Manifest: f, Line: line(m[2]), Value: "embedded " + name, Name: name, File: path.Join(path.Dir(f), name), Alias: aliasAround(clean, m[2])})
			}
		}
	}
	return out, nil
}
