package audit

import (
	"bytes"
	"context"
	"io/fs"
	"regexp"
	"slices"

	"notaria/internal/language"
	"notaria/internal/notary"
	"notaria/internal/registry"
	"notaria/internal/target"
)

// maxSource is the largest source file that is looked through, in bytes.
const maxSource = 4 << 20

// maxAsks is how many places of one form are judged in a file: one that people wrote has
// fewer.
const maxAsks = 2000

// unread is a source file that cannot be read, and an app that it may be of.
type unread struct {
	notary.Unread
	owner registry.Owner
}

// source is a file that was lexed: clean is it without comments, skeleton also without
// strings.
type source struct {
	file            string
	text            []byte
	clean, skeleton []byte
	strings         []language.Token
	lines           []int // where each line begins
	texts           []written
}

// place is the 1-based line and column, in bytes, of a place in the file.
func (s *source) place(at int) (line, column int) {
	if s.lines == nil {
		s.lines = []int{0}
		for i, c := range s.text {
			if c == '\n' {
				s.lines = append(s.lines, i+1)
			}
		}
	}
	n, here := slices.BinarySearch(s.lines, at)
	if !here {
		n--
	}
	return n + 1, at - s.lines[n] + 1
}

// maxBraces is how far from a name the braces around it are looked for, in bytes: it
// bounds the work on files that hold nothing but names.
const maxBraces = 16 << 10

// around is the inside of the braces that a place is in; false if there are none nearby.
func (s *source) around(at int) (from, to int, ok bool) { return s.between(at, '{', '}') }

// between is the inside of the brackets that a place is in; false if there are none nearby.
func (s *source) between(at int, open, shut byte) (from, to int, ok bool) {
	depth := 0
	for from = at; from > max(0, at-maxBraces); from-- {
		switch s.skeleton[from-1] {
		case shut:
			depth++
		case open:
			if depth--; depth < 0 {
				near := s.skeleton[from-1 : min(len(s.skeleton), at+maxBraces)]
				if open == '<' {
					if n := bytes.IndexByte(near, shut); n > 0 {
						return from, from - 1 + n, true
					}
					return 0, 0, false
				}
				if n := language.Closing(near, 0); n > 0 {
					return from, from - 1 + n, true
				}
				return 0, 0, false
			}
		}
	}
	return 0, 0, false
}

// nested says whether there is an open brace between two places.
func (s *source) nested(from, at int) bool {
	return bytes.Count(s.skeleton[from:at], []byte("{")) > bytes.Count(s.skeleton[from:at], []byte("}"))
}

// inString says whether a place is inside a string, or in text between elements.
func (s *source) inString(at int) bool {
	i, _ := slices.BinarySearchFunc(s.strings, at, func(t language.Token, at int) int { return t.To - at - 1 })
	return i < len(s.strings) && s.strings[i].From < at
}

// ask is a place in code where a font is asked for, and what the answer is.
type ask struct {
	site     notary.SitePlan
	use      target.Use
	src      *source
	from, to int // bytes of the file: what is typed
	answer   target.Answer
	face     bool          // it is one face's name
	one      bool          // it leads to one face alone
	family   []target.Face // those of the family that is named; nil where it is no family's name
}

// finding is one at bytes of the file.
func (k ask) finding(from, to int) Finding {
	f := Finding{File: k.src.file}
	f.Line, f.Column = k.src.place(from)
	f.EndLine, f.EndColumn = k.src.place(to)
	return by(k.site.Owner(), f)
}

// asker is a site whose code asks for fonts.
type asker struct {
	site   notary.SitePlan
	folder string
	uses   []target.Use
}

// scan reads every source file once, for all sites and rules.
func (a *pass) scan(ctx context.Context) error {
	var askers []asker
	for _, s := range a.plan.Sites {
		if k, ok := s.Site.(target.Asker); ok && !a.broken[siteKey(s)] {
			folder, uses := k.Uses()
			askers = append(askers, asker{s, folder, uses})
		}
	}
	if len(askers) == 0 {
		return nil
	}
	faces, err := a.faces()
	if err != nil {
		return err
	}
	searches := a.searchesOf(askers)
	for _, file := range a.p.Tree.Under("") {
		if err := ctx.Err(); err != nil {
			return err
		}
		l := language.Of(file)
		mine := slices.DeleteFunc(slices.Clone(askers), func(k asker) bool { return l == nil || !k.covers(file, l) })
		if len(mine) == 0 {
			continue
		}
		src := a.read(file, l, mine[0].site.Owner())
		if src == nil {
			continue
		}
		a.look(src, l, mine, faces)
		for _, k := range mine {
			a.texts[siteKey(k.site)] = append(a.texts[siteKey(k.site)], src.texts...)
		}
	}
	a.locales(askers)
	a.searchAll(askers, searches)
	a.follow(a.constants, a.references, faces)
	return nil
}

// look judges what a source asks for, and notes what it names.
func (a *pass) look(src *source, l *language.Language, mine []asker, faces []target.Face) {
	found := map[*regexp.Regexp][][]int{} // by pattern, for sites share them
	for _, k := range mine {
		for _, u := range k.uses {
			if !slices.Contains(u.Languages, l) {
				continue
			}
			if _, done := found[u.Pattern]; !done {
				found[u.Pattern] = nil
				if mayMatch(u.Pattern, src.clean) {
					found[u.Pattern] = u.Pattern.FindAllSubmatchIndex(src.clean, maxAsks)
				}
			}
			for _, m := range found[u.Pattern] {
				if m[2] < 0 || src.inString(m[0]) {
					continue
				}
				if u.Named {
					a.references = append(a.references, reference{k, u, src.file, string(src.clean[m[2]:m[3]])})
					continue
				}
				a.ask(k.site, u, src, m[2], m[3], faces)
			}
		}
	}
	src.textsOf(l.Markup(), func(w written) { src.texts = append(src.texts, w) })
	if len(a.constants) < mostConstants && slices.ContainsFunc(mine, asker.follows) {
		find := src.constantsOf
		if l.Markup() {
			find = src.keysOf
		}
		find(func(name string, c constant) {
			if len(a.constants[name]) < mostOfOneName {
				a.constants[name] = append(a.constants[name], c)
			}
		})
	}
}

// follows says whether names in code are followed to the strings that they stand for.
func (k asker) follows() bool {
	return slices.ContainsFunc(k.uses, func(u target.Use) bool { return u.Named })
}

func (k asker) covers(file string, l *language.Language) bool {
	rel, ok := target.Below(k.folder, file)
	if !ok || target.IsTest(rel) {
		return false
	}
	if p, ok := k.site.Site.(target.Passer); ok && p.Passes(file) {
		return false
	}
	return slices.ContainsFunc(k.uses, func(u target.Use) bool { return slices.Contains(u.Languages, l) })
}

// faces are the enrolled ones.
func (a *pass) faces() ([]target.Face, error) {
	var out []target.Face
	for _, e := range a.p.Registry.Faces {
		f, err := a.p.Face(e.Name)
		if err != nil {
			return nil, err
		}
		out = append(out, f)
	}
	return out, nil
}

// read lexes a file; nil for what is generated, huge, or a link: not code to judge. What
// cannot be read is noted.
func (a *pass) read(file string, l *language.Language, owner registry.Owner) *source {
	info, err := a.p.Dir.Lstat(file)
	if err == nil && (info.Mode()&fs.ModeSymlink != 0 || info.Size() > maxSource) {
		return nil
	}
	var text []byte
	if err == nil {
		text, err = a.p.Dir.Read(file, maxSource)
	}
	if err != nil {
		a.unread = append(a.unread, unread{notary.Unread{File: file, Err: err}, owner})
		return nil
	}
	if bytes.Contains(text[:min(len(text), 400)], []byte(target.Generated)) {
		return nil
	}
	s := &source{file: file, text: text, clean: bytes.Clone(text), skeleton: bytes.Clone(text)}
	for _, t := range l.Tokens(text) {
		for i := t.From; i < t.To; i++ {
			if c := text[i]; c != '\n' && c != '\r' {
				if s.skeleton[i] = ' '; t.Kind == language.Comment {
					s.clean[i] = ' '
				}
			}
		}
		if t.Kind != language.Comment && !l.Markup() {
			s.strings = append(s.strings, t)
		}
	}
	return s
}

// byHand are the fonts that an app has without Notaria: those that its own manifests name, or that lie
// where it takes them from; and those of other apps and modules of its platform, which it may use. A
// font that lies about is in no app.
func (a *pass) byHand(s notary.SitePlan) (own []target.Face, others []target.Present) {
	mine, theirs := map[string]bool{}, map[string]bool{}
	for key, list := range a.held {
		for _, h := range list {
			if key == siteKey(s) {
				mine[h.File] = true
			} else {
				theirs[h.File] = true
			}
		}
	}
	for _, x := range a.flawsOf(s) { // what is wrong with these is a finding of its own
		for _, f := range append(x.Means, x.Subject) {
			mine[f] = true
		}
	}
	for _, f := range a.p.Own() {
		if mine[f.File] || a.meant(s, f.File) {
			own = append(own, f)
		} else if theirs[f.File] {
			others = append(others, target.Present{Path: f.File, ID: f.ID()})
		}
	}
	return own, others
}

// fonts are those of an app: the faces that are enrolled and those that it has by hand, each once, and
// fonts of others that it may use.
type fonts struct {
	faces  []target.Face
	others []target.Present
}

// ownOf puts the enrolled faces and those of byHand together, once for each app.
func (a *pass) ownOf(s notary.SitePlan, enrolled []target.Face) fonts {
	key := siteKey(s)
	f, ok := a.own[key]
	if !ok {
		var own []target.Face
		f.faces = slices.Clone(enrolled)
		own, f.others = a.byHand(s)
		for _, o := range own {
			if !slices.ContainsFunc(f.faces, func(x target.Face) bool { return x.ID() == o.ID() }) {
				f.faces = append(f.faces, o)
			}
		}
		a.own[key] = f
	}
	return f
}

// keptOf is what a site has made for earlier questions.
func (a *pass) keptOf(s notary.SitePlan) map[string][]string {
	key := siteKey(s)
	if a.kept[key] == nil {
		a.kept[key] = map[string][]string{}
	}
	return a.kept[key]
}

// ask puts a question to a site.
func (a *pass) ask(s notary.SitePlan, u target.Use, src *source, from, to int, faces []target.Face) {
	k := ask{site: s, use: u, src: src, from: from, to: to}
	own := a.ownOf(s, faces)
	faces = own.faces
	typed := string(src.clean[from:to])
	if u.Elsewhere != nil {
		if a, b, ok := src.between(from, '(', ')'); ok && u.Elsewhere.Match(src.clean[a:b]) {
			return
		}
	}
	if r, ok := s.Site.(target.Answerer); ok {
		k.answer = r.Answer(target.Question{Use: u, Typed: typed, File: src.file, At: from, Faces: faces, System: a.p.Registry.Check.System, Here: own.others, Plan: s.Plan, Kept: a.keptOf(s)})
	}
	k.face = u.Kind != "" || slices.ContainsFunc(faces, func(f target.Face) bool { return f.ID() == typed })
	if k.answer.Leads != nil {
		k.family, k.one = k.answer.Leads, len(k.answer.Leads) == 1
	} else if k.family = familyNamed(typed, faces); k.face && u.Kind == "" && !slices.ContainsFunc(k.family, func(f target.Face) bool { return f.ID() != typed }) {
		k.family = nil
	}
	a.asks = append(a.asks, k)
}
