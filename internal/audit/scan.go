package audit

import (
	"bytes"
	"context"
	"errors"
	"runtime"
	"slices"
	"strings"

	"notaria/internal/disk"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// mostSource is the largest source file that is looked through, in bytes.
const mostSource = 4 << 20

// mostAsks is how many places of one form are judged in a file: one that people wrote has
// fewer.
const mostAsks = 2000

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

// mostBraces is how far from a name the braces around it are looked for, in bytes: it
// bounds the work on files that hold nothing but names.
const mostBraces = 16 << 10

// around is the inside of the braces that a place is in; false if there are none nearby.
func (s *source) around(at int) (from, to int, ok bool) { return s.between(at, '{', '}') }

// between is the inside of the brackets that a place is in; false if there are none nearby.
func (s *source) between(at int, open, shut byte) (from, to int, ok bool) {
	depth := 0
	for from = at; from > max(0, at-mostBraces); from-- {
		switch s.skeleton[from-1] {
		case shut:
			depth++
		case open:
			if depth--; depth < 0 {
				near := s.skeleton[from-1 : min(len(s.skeleton), at+mostBraces)]
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

// ask is a place in code where a font is asked for, and what the answer is. It holds nothing of the
// source: there can be as many as there are sources.
type ask struct {
	site     notary.SitePlan
	use      *platform.Use
	from, to int // bytes of the file: what is typed
	typed    string
	at       Finding // the place alone
	answer   platform.Answer
	mending  platform.Mending
	face     bool            // it is one face's name
	one      bool            // it leads to one face alone
	family   []platform.Face // those of the family that is named; nil where it is no family's name
	styles   []besides       // of the family's
	weights  []besides       // of the face's
}

// besides is a weight or a slant that is asked for beside a name.
type besides struct {
	at   Finding // the place alone
	from int     // in bytes of the file
	word string
	in   int // where the brackets around both begin
}

// placed is a finding of a site at bytes of a source, without words.
func placed(site notary.SitePlan, src *source, from, to int) Finding {
	f := Finding{File: src.file}
	f.Line, f.Column = src.place(from)
	f.EndLine, f.EndColumn = src.place(to)
	return by(site.Owner(), f)
}

// asker is a site whose code asks for fonts.
type asker struct {
	site   notary.SitePlan
	folder string
	uses   []platform.Use
	shares []string // folders beside it whose names it has, too
	passed []string // folders of apps within it that are passed over
}

// scan reads every source file once, for all sites and rules.
func (a *pass) scan(ctx context.Context) error {
	var askers []asker
	for _, s := range a.plan.Sites {
		if k, ok := s.Site.(platform.Asker); ok && !a.broken[siteKey(s)] {
			folder, uses := k.Uses()
			askers = append(askers, asker{s, folder, uses, nil, a.passedIn(s)})
		}
	}
	askers = withShares(askers)
	if len(askers) == 0 {
		return nil
	}
	faces, err := a.faces()
	if err != nil {
		return err
	}
	search := a.searchFor(askers)
	err = a.eachSource(ctx, askers, search, func(l loaded) {
		a.look(l, faces)
		search.mark(a, l.hits)
		search.done[l.file] = true
		for _, k := range l.mine {
			a.texts[siteKey(k.site)] = append(a.texts[siteKey(k.site)], l.src.texts...)
		}
	})
	if err != nil {
		return err
	}
	a.locales(askers)
	if err := search.rest(ctx, a); err != nil {
		return err
	}
	a.follow(a.constants, a.references, faces)
	return nil
}

// loaded is a source that was read and lexed, with the places where patterns match.
type loaded struct {
	file     string
	language *language.Language
	mine     []asker
	src      *source // nil for what is no code to judge
	err      error
	found    map[*lazy.Pattern][][]int
	named    []namedString
	hits     []int // of the search for fonts' names
}

// namedString is a constant of a source.
type namedString struct {
	name string
	constant
}

// eachSource reads the sources of the askers, several at a time, and hands them on in order.
func (a *pass) eachSource(ctx context.Context, askers []asker, search *searching, take func(loaded)) error {
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	workers := a.workers()
	type job struct {
		loaded
		done chan loaded
	}
	jobs, order := make(chan job), make(chan chan loaded, 4*workers)
	for range workers {
		go func() {
			for j := range jobs {
				l := a.load(j.loaded)
				if l.src != nil {
					l.hits = search.in(l.file, l.language, l.src.clean, false)
				}
				j.done <- l
			}
		}()
	}
	index := newAskers(askers)
	go func() {
		defer close(order)
		defer close(jobs)
		for _, file := range a.p.Tree.Under("") {
			l := language.Of(file)
			if l == nil {
				continue
			}
			mine := index.of(file, l)
			if len(mine) == 0 {
				continue
			}
			done := make(chan loaded, 1)
			select {
			case order <- done:
			case <-ctx.Done():
				return
			}
			jobs <- job{loaded{file: file, language: l, mine: mine}, done}
		}
	}()
	for done := range order {
		l := <-done
		if err := ctx.Err(); err != nil {
			continue // the others end by themselves
		}
		if l.err != nil {
			a.unread = append(a.unread, unread{notary.Unread{File: l.file, Err: l.err}, l.mine[0].site.Owner()})
		} else if l.src != nil {
			take(l)
		}
	}
	return ctx.Err()
}

// workers are how many files are looked at together.
func (a *pass) workers() int {
	if a.p.Dir.Before != nil {
		return 1 // tests ask for one operation after the other
	}
	return runtime.GOMAXPROCS(0)
}

// askersIn are askers by their folder: of thousands of apps few are about one file.
type askersIn struct {
	all []asker
	in  map[string][]int // places in all
}

func newAskers(all []asker) askersIn {
	x := askersIn{all, map[string][]int{}}
	for i, k := range all {
		x.in[k.folder] = append(x.in[k.folder], i)
	}
	return x
}

// around are the askers whose folder a file is below, in their order.
func (x askersIn) around(file string) []asker {
	var places []int
	for dir := platform.Folder(file); ; dir = platform.Folder(dir) {
		places = append(places, x.in[dir]...)
		if dir == "" {
			break
		}
	}
	slices.Sort(places)
	out := make([]asker, len(places))
	for i, at := range places {
		out[i] = x.all[at]
	}
	return out
}

// of are those of a source.
func (x askersIn) of(file string, l *language.Language) []asker {
	return slices.DeleteFunc(x.around(file), func(k asker) bool { return !k.covers(file, l) })
}

// load reads and lexes a source, and finds where patterns match. It changes nothing of the pass.
func (a *pass) load(l loaded) loaded {
	l.src, l.err = a.source(l.file, l.language)
	if l.src == nil {
		return l
	}
	l.found = map[*lazy.Pattern][][]int{} // by pattern, for sites share them
	for _, k := range l.mine {
		for i := range k.uses {
			u := &k.uses[i]
			if _, done := l.found[u.Pattern]; !done && slices.Contains(u.Languages, l.language) {
				l.found[u.Pattern] = language.Matches(u.Pattern, l.src.clean, mostAsks)
			}
		}
	}
	l.src.textsOf(l.language.Markup(), func(w written) { l.src.texts = append(l.src.texts, w) })
	if slices.ContainsFunc(l.mine, asker.follows) {
		find := l.src.constantsOf
		if l.language.Markup() {
			find = l.src.keysOf
		}
		find(func(name string, c constant) { l.named = append(l.named, namedString{name, c}) })
	}
	return l
}

// look judges what a source asks for, and notes what it names.
func (a *pass) look(l loaded, faces []platform.Face) {
	for _, k := range l.mine {
		for i := range k.uses {
			u := &k.uses[i]
			if !slices.Contains(u.Languages, l.language) {
				continue
			}
			a.judge(k, u, l, faces)
		}
	}
	for _, n := range l.named {
		if len(a.constants) < mostConstants && len(a.constants[n.name]) < mostOfOneName {
			a.constants[n.name] = append(a.constants[n.name], n.constant)
		}
	}
}

// follows says whether names in code are followed to the strings that they stand for.
func (k asker) follows() bool {
	return slices.ContainsFunc(k.uses, func(u platform.Use) bool { return u.Named })
}

// passedIn are the folders of a target's apps that are passed over.
func (a *pass) passedIn(s notary.SitePlan) []string {
	var out []string
	for _, x := range a.p.PassedOver() {
		if dir := platform.Plain(x.App); x.Target == s.Target.Name && dir != "" {
			out = append(out, dir)
		}
	}
	return out
}

// knows says whether a constant of a file is one that the asker's code can name.
func (k asker) knows(file string, l *language.Language) bool {
	if k.covers(file, l) {
		return true
	}
	return slices.ContainsFunc(k.shares, func(dir string) bool { return asker{site: k.site, folder: dir, uses: k.uses}.covers(file, l) })
}

// withShares adds the folders beside apps that are built into them. One that several apps share is left out: what is
// wrong for one of them can be right for another.
func withShares(askers []asker) []asker {
	type folder struct{ target, dir string }
	users := map[folder]int{}
	var shares []asker
	for i, k := range askers {
		s, ok := k.site.Site.(platform.Sharer)
		if !ok {
			continue
		}
		for _, x := range s.Shares() {
			users[folder{k.site.Target.Name, x.Folder}]++
			askers[i].shares = append(askers[i].shares, x.Folder)
			shares = append(shares, asker{k.site, x.Folder, x.Uses, nil, nil})
		}
	}
	for _, k := range askers {
		users[folder{k.site.Target.Name, k.folder}] = 2 // an app of its own
	}
	for _, k := range shares {
		if users[folder{k.site.Target.Name, k.folder}] == 1 {
			askers = append(askers, k)
		}
	}
	return askers
}

func (k asker) covers(file string, l *language.Language) bool {
	rel, ok := platform.Below(k.folder, file)
	if !ok || platform.IsTest(rel) || platform.IsOthers(rel) || slices.ContainsFunc(k.passed, func(dir string) bool { return strings.HasPrefix(file, dir+"/") }) {
		return false
	}
	if p, ok := k.site.Site.(platform.Excluder); ok && p.Excludes(file) {
		return false
	}
	return slices.ContainsFunc(k.uses, func(u platform.Use) bool { return slices.Contains(u.Languages, l) })
}

// faces are the enrolled ones.
func (a *pass) faces() ([]platform.Face, error) {
	var out []platform.Face
	for _, e := range a.p.Registry.Faces {
		f, err := a.p.Face(e.Name)
		if err != nil {
			return nil, err
		}
		out = append(out, f)
	}
	return out, nil
}

// read is source; what cannot be read is noted.
func (a *pass) read(file string, l *language.Language, owner registry.Owner) *source {
	s, err := a.source(file, l)
	if err != nil {
		a.unread = append(a.unread, unread{notary.Unread{File: file, Err: err}, owner})
	}
	return s
}

// source lexes a file; nil for what is generated, huge, or a link: not code to judge.
func (a *pass) source(file string, l *language.Language) (*source, error) {
	if a.p.Tree.IsLink(file) {
		return nil, nil
	}
	text, err := a.p.Dir.Read(file, mostSource)
	var large *disk.TooLargeError
	if errors.As(err, &large) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	if platform.IsGenerated(text) {
		return nil, nil
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
		if t.Kind == language.Inner || t.Kind != language.Comment && !l.Markup() {
			s.strings = append(s.strings, t)
		}
	}
	return s, nil
}

// byHand are the fonts that an app has without Notaria: those that its own manifests name, or that lie
// where it takes them from; and those of other apps and modules of its platform, which it may use. A
// font that lies about is in no app.
func (a *pass) byHand(s notary.SitePlan) (own []platform.Face, others []platform.Present) {
	if a.anyHolds == nil {
		a.anyHolds = map[string]bool{}
		for _, list := range a.held {
			for _, h := range list {
				a.anyHolds[h.File] = true
			}
		}
	}
	mine := map[string]bool{}
	for _, h := range a.held[siteKey(s)] {
		mine[h.File] = true
	}
	for _, x := range a.flawsOf(s) { // what is wrong with these is a finding of its own
		for _, f := range append(x.Means, x.Subject) {
			mine[f] = true
		}
	}
	for _, f := range a.p.PresentFaces() {
		if mine[f.File] || a.meant(s, f.File) {
			own = append(own, f)
		} else if a.anyHolds[f.File] {
			others = append(others, platform.Present{Path: f.File, ID: f.ID()})
		}
	}
	return own, others
}

// fonts are those of an app: the faces that are enrolled and those that it has by hand, each once, and
// fonts of others that it may use.
type fonts struct {
	faces  []platform.Face
	others []platform.Present
}

// fontsOf puts the enrolled faces and those of byHand together, once for each app.
func (a *pass) fontsOf(s notary.SitePlan, enrolled []platform.Face) fonts {
	key := siteKey(s)
	f, ok := a.own[key]
	if !ok {
		var own []platform.Face
		f.faces = slices.Clone(enrolled)
		own, f.others = a.byHand(s)
		for _, o := range own {
			if !slices.ContainsFunc(f.faces, func(x platform.Face) bool { return x.ID() == o.ID() }) {
				f.faces = append(f.faces, o)
			}
		}
		a.own[key] = f
	}
	return f
}

// memoOf is what a site has made for earlier questions.
func (a *pass) memoOf(s notary.SitePlan) map[string][]string {
	key := siteKey(s)
	if a.memo[key] == nil {
		a.memo[key] = map[string][]string{}
	}
	return a.memo[key]
}

// ask puts a question to a site.
func (a *pass) ask(s notary.SitePlan, u *platform.Use, src *source, from, to int, faces []platform.Face) {
	a.put(ask{site: s, use: u, from: from, to: to}, src, faces, nil)
}

// put is ask; r is the name in code that was followed to the place, nil if it is there itself.
func (a *pass) put(k ask, src *source, faces []platform.Face, r *reference) {
	s, u, from, to := k.site, k.use, k.from, k.to
	own := a.fontsOf(s, faces)
	faces = own.faces
	k.typed = string(src.clean[from:to])
	if u.Kind == "" && (strings.Contains(k.typed, "${") || strings.Contains(k.typed, `\(`)) {
		a.notJudged++
	}
	if u.Elsewhere != nil {
		if a, b, ok := src.between(from, '(', ')'); ok && u.Elsewhere.Match(src.clean[a:b]) {
			return
		}
	}
	if u.Kind == platform.UseNetwork && platform.FromAddress(k.typed) {
		k.answer = platform.AnswerNetwork(k.typed)
	} else if s.Answer != nil {
		k.answer = s.Answer(platform.Question{Use: *u, Typed: k.typed, File: src.file, At: from, Faces: faces, System: a.p.Registry.Check.System, Here: own.others, Plan: s.Plan, Memo: a.memoOf(s)})
	}
	if k.answer.Fault == platform.UnknownFace && a.goneName(s, k.typed) {
		return // what is wrong is the manifest that names the file
	}
	k.face = u.Kind != "" && len(s.Code) > 0 || slices.ContainsFunc(faces, func(f platform.Face) bool { return f.ID() == k.typed })
	if k.answer.Leads != nil {
		k.family, k.one = k.answer.Leads, len(k.answer.Leads) == 1
	} else if k.family = familyNamed(k.typed, faces); k.face && u.Kind == "" && !slices.ContainsFunc(k.family, func(f platform.Face) bool { return f.ID() != k.typed }) {
		k.family = nil
	}
	if k.answer.Fault == platform.Fine {
		k.beside(src)
		if len(k.styles)+len(k.weights) == 0 && !a.tracing {
			return
		}
	} else {
		k.mending = platform.Exchange(src.file, src.text, from, to, k.answer.Instead)
		a.keepFace(&k, src, faces, r != nil, r != nil && r.styled)
	}
	k.at = placed(s, src, from, to)
	a.asks = append(a.asks, k)
}
