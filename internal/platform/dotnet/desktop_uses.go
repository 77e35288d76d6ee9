package dotnet

import (
	"cmp"
	"fmt"
	"html"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/dotnet/msbuild"
)

// Kinds of uses.
const (
	useClass = "class" // style classes of an element
	useKey   = "key"   // of a resource
	useOver  = "over"  // a property that an element with a role sets itself
	useRule  = "rule"  // the selector of a style that sets a family
)

var (
	xamlOnly  = []*language.Language{language.XML}
	sharpOnly = []*language.Language{language.CSharp}

	// besides asks for a weight or a slant in the same element.
	besides = lazy.Regexp(`\bFont(?:Weight|Style)\s*=\s*["'](\w+)["']`)
	// written writes it.
	written = platform.WritesStyle(`FontWeight="%s"`, func(hundreds int) string { return weights[hundreds] }, `FontStyle="Italic"`)

	desktopUses = []platform.Use{
		{Languages: xamlOnly, Pattern: lazy.Regexp(`<Setter\s+Property\s*=\s*["'](?:\w+\.)?FontFamily["']\s+Value\s*=\s*["']([^"'{]+)["']`)},
		{Languages: xamlOnly, Styles: besides, Bracket: '<', Beside: written, Pattern: lazy.Regexp(`\s(?:\w+\.)?FontFamily\s*=\s*["']([^"'{]+)["']`)},
		{Languages: xamlOnly, Pattern: lazy.Regexp(`<FontFamily(?:\s[^<>]*)?>\s*([^<>]*[^<>\s])\s*</FontFamily>`)},
		{Languages: xamlOnly, Pattern: lazy.Regexp(`<\w[\w:]*\.FontFamily\s*>\s*([^<>\s][^<>]*?)\s*</`)},
		{Languages: sharpOnly, Pattern: lazy.Regexp(`\bnew\s+FontFamily\s*\(\s*@?"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: sharpOnly, Pattern: lazy.Regexp(`\bnew\s+FontFamily\s*\([^"()]*(?:\([^()]*\))?[^"()]*,\s*@?"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: sharpOnly, Pattern: lazy.Regexp(`\bFontFamily\.Parse\s*\(\s*"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: sharpOnly, Pattern: lazy.Regexp(`\bFontFamily\s*=\s*"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: sharpOnly, Named: true, Pattern: lazy.Regexp(`\bnew\s+FontFamily\s*\(\s*([A-Za-z_][\w.]*)\s*\)`)},
		{Languages: sharpOnly, Named: true, Pattern: lazy.Regexp(`\bFontFamily\s*=\s*([A-Za-z_][\w.]*)\s*[,;}\n]`)},
		{Languages: xamlOnly, Kind: useKey, Pattern: lazy.Regexp(`\{(?:Static|Dynamic|Theme)Resource\s+(\w+(?:Type|Family))\s*\}`)},
		{Languages: xamlOnly, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w:.]*\s(?:[^<>]*\s)?(?:Classes="[^"<>]*\btype-[^"<>]*"|(?:Style|Theme)="\{(?:Static|Dynamic)Resource\s+\w+Type\s*\}")(?:[^<>]*?\s)?(FontFamily|FontWeight|FontStyle)="`)},
		{Languages: xamlOnly, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w:.]*\s(?:[^<>]*?\s)?(FontFamily|FontWeight|FontStyle)="[^"<>]*"(?:[^<>]*\s)?(?:Classes="[^"<>]*\btype-[^"<>]*"|(?:Style|Theme)="\{(?:Static|Dynamic)Resource\s+\w+Type\s*\}")`)},
	}
	avaloniaUses = append(slices.Clone(desktopUses),
		platform.Use{Languages: xamlOnly, Kind: useClass, Pattern: lazy.Regexp(`\sClasses="(?:[^"]*\s)?(type-[^"\s]*)`)},
		platform.Use{Languages: xamlOnly, Kind: useClass, Pattern: lazy.Regexp(`\bSelector="[^"]*\.(type-[\w-]*)`)},
		platform.Use{Languages: sharpOnly, Kind: useClass, Pattern: lazy.Regexp(`\bClasses\.Add\s*\(\s*"(type-[^"\s]*)"`)},
		platform.Use{Languages: xamlOnly, Kind: useRule, Pattern: lazy.Regexp(`<Style\s+Selector="([^"]*)"\s*>(?:\s*<Setter\s[^<>]*/>)*?\s*<Setter\s+Property="(?:\w+\.)?FontFamily"`)},
	)
)

// answer goes by addresses; by keys and classes where those can only mean a role.
func (s *served) answer(_ platform.Job, q platform.Question) platform.Answer {
	q.Typed = html.UnescapeString(q.Typed)
	s = s.withHand(q)
	switch q.Use.Kind {
	case useClass:
		return platform.AnswerRole(q, "type-", s.list(q, "classes", func(r desktopRole) []string { return []string{r.Class} }), "class", "Avalonia reports nothing about a class that no style knows")
	case useKey:
		return s.answerKey(q)
	case useOver:
		return platform.Answer{Fault: platform.OverRole, Message: fmt.Sprintf("%s is set beside a role", q.Typed),
			Cause: "what an element sets itself wins over its styles", Cure: "take it out, or the role"}
	case useRule:
		if len(s.roles) == 0 {
			return platform.Answer{}
		}
		return answerRule(q)
	}
	for _, name := range strings.Split(q.Typed, ",") { // the first one that is there shows
		if a := s.answerFamily(q, strings.TrimSpace(name)); a.Fault != platform.Fine {
			return a
		}
	}
	_, family, _ := strings.Cut(q.Typed, "#")
	family, _, _ = strings.Cut(family, ",")
	return platform.Answer{Leads: s.leads(q, family)}
}

// withHand is the site with the fonts that the project has by hand beside those of the plan.
func (s *served) withHand(q platform.Question) *served {
	c := *s
	c.fonts = slices.Clone(s.fonts)
	for _, f := range q.Faces {
		if _, inside := s.Rel(f.File); !inside && !s.takenBy(s.kind.item, f.File) || slices.ContainsFunc(s.fonts, func(x desktopFace) bool { return x.id == f.ID() }) {
			continue
		}
		rel := s.inApp(f.File)
		c.fonts = append(c.fonts, desktopFace{Named: speakable(f.Family), rel: rel, id: f.ID(), family: f.Family, full: f.Full, legacy: f.LegacyFamily, address: s.kind.address(s.desktop, rel, f.Family), WeightNumber: f.Weight, Slant: slantOf(f.Face)})
	}
	return &c
}

// leads are the faces of an address that is right.
func (s *served) leads(q platform.Question, family string) []platform.Face {
	var out []platform.Face
	for _, f := range q.Faces {
		if f.Family == family || f.LegacyFamily == family {
			out = append(out, f)
		}
	}
	return out
}

// list collects names of the roles that the site's generated code has.
func (s *served) list(q platform.Question, key string, of func(desktopRole) []string) []string {
	return q.Once(key, func() []string {
		var out []string
		for _, r := range s.roles {
			out = append(out, of(r)...)
		}
		return out
	})
}

// answerKey judges a key that is like one of ours and that no markup of the app defines.
func (s *served) answerKey(q platform.Question) platform.Answer {
	ours := s.list(q, "keys", func(r desktopRole) []string {
		return []string{r.Key, r.Member + "ControlType", r.Font.Key}
	})
	near := platform.Nearest(q.Typed, ours)
	if near == "" || slices.Contains(ours, q.Typed) || slices.Contains(q.Once("defined", s.defined), q.Typed) {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("no resource has the key %q", face.Short(q.Typed)),
		Cause: "the app stops when it reads this markup", Cure: platform.Choose(near, nil), Instead: near}
}

var resourceKey = lazy.Regexp(`\sx:(?:Key|Name)="([^"]+)"`)

// defined are the keys that markup of the app defines.
func (s *served) defined() []string {
	var out []string
	for _, f := range s.Tree.Under(s.Dir) {
		if ext := path.Ext(f); ext != ".xaml" && ext != ".axaml" {
			continue
		}
		raw, err := s.Tree.Read(f)
		if err != nil {
			continue
		}
		for _, m := range resourceKey.FindAllSubmatch(raw, -1) {
			out = append(out, string(m[1]))
		}
	}
	return out
}

// answerRule judges a style that goes by the kind of control alone: of two styles the later
// wins in Avalonia, and one in a window is later than the application's.
func answerRule(q platform.Question) platform.Answer {
	if strings.ContainsAny(q.Typed, ".#[") {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.OverRole, Message: fmt.Sprintf("the style of %s sets a family of its own", face.Short(q.Typed)),
		Cause: "of two styles the later wins: a control with a role keeps this family", Cure: "let the role alone set the family, or give this style a class"}
}

// right is the address of a family, "" if none of ours is called so; of several files, that which has
// the name of the one that is typed, else the regular one.
func (s *served) right(family, typed string) string {
	out := ""
	for _, f := range s.fonts {
		if f.family != family {
			continue
		}
		if path.Base(f.rel) == path.Base(typed) && typed != "" {
			return f.address
		}
		if out == "" || f.WeightNumber == 400 && f.Slant == "Normal" {
			out = f.address
		}
	}
	return out
}

// answerFamily judges one family as code names it.
func (s *served) answerFamily(q platform.Question, typed string) platform.Answer {
	where, family, addressed := strings.Cut(typed, "#")
	if slices.Contains(q.System, typed) || strings.HasPrefix(typed, "$") || typed == "" || strings.ContainsAny(typed, "{}") {
		return platform.Answer{}
	}
	if !addressed {
		return s.answerPlain(typed)
	}
	if _, inside := s.Rel(q.File); !inside && !schemesOfAssembly.MatchString(where) {
		return platform.Answer{} // of a library, from whose folder the address counts
	}
	dir, ours := s.within(where)
	if !ours {
		return s.answerAssembly(q, where, family)
	}
	at, found := path.Join(s.Dir, dir), false
	for _, f := range s.fonts {
		if f.rel != dir && platform.Folder(f.rel) != dir && collectionOf(platform.Folder(f.rel)) != strings.TrimSuffix(where, "/") {
			continue
		}
		if found = true; f.family == family || f.legacy == family {
			return platform.Answer{}
		}
	}
	if !found && slices.ContainsFunc(s.Tree.Under(s.Dir), func(f string) bool { return platform.LooksLikeFont(f) && (f == at || path.Dir(f) == at) }) {
		return platform.Answer{} // somebody's own fonts
	}
	if a := s.right(family, where); !found && a != "" {
		return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("no font of the app is at %s", face.Short(where)),
			Cause: "an address counts from the project's folder, with every folder in it, and in the same capitals; the platform shows its own font", Cure: platform.Choose(a, nil), Instead: a}
	}
	return s.wrongFamily(family, cmp.Or(dir, where))
}

// answerAssembly judges an address in another assembly: it is wrong where neither a project of the tree nor a reference is
// called so, and the app itself has that font in that place.
func (s *served) answerAssembly(q platform.Question, where, family string) platform.Answer {
	m := schemes.FindStringSubmatch(where)
	if m == nil {
		return platform.Answer{}
	}
	assembly := m[1] + m[2] + m[3]
	if assembly == "" || slices.ContainsFunc(s.files, func(f string) bool {
		text := strings.ToLower(s.docs[f])
		return strings.EqualFold(strings.TrimSuffix(path.Base(f), path.Ext(f)), assembly) || strings.Contains(text, strings.ToLower(assembly))
	}) {
		return platform.Answer{}
	}
	dir := strings.Trim(strings.TrimPrefix(where, m[0]), "/")
	if !slices.ContainsFunc(s.fonts, func(f desktopFace) bool {
		return (f.rel == dir || platform.Folder(f.rel) == dir) && (f.family == family || f.legacy == family)
	}) {
		return platform.Answer{}
	}
	right := strings.Replace(q.Typed, assembly, s.assembly, 1)
	return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("no project here is called %s, and none refers to it", face.Short(assembly)),
		Cause: fmt.Sprintf("the font is in the assembly %s; the platform shows its own font", face.Short(s.assembly)), Cure: platform.Choose(right, nil), Instead: right}
}

// wrongFamily says what is wrong behind the # of an address.
func (s *served) wrongFamily(family, dir string) platform.Answer {
	near := platform.Nearest(family, s.families())
	for _, f := range s.fonts {
		if f.id == family || path.Base(f.rel) == family || f.full == family {
			near = f.family
		}
	}
	a := platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("no font in %s has the family %q", dir, face.Short(family)), Instead: s.right(near, dir),
		Cause: "behind # goes the family inside the file; " + s.kind.title + " reports nothing about another, and shows its own font"}
	if platform.LooksLikeFont(family) {
		a.Fault, a.Message = platform.FileAsName, fmt.Sprintf("%q is a file's name, not a family's", face.Short(family))
	}
	a.Cure = platform.Choose(a.Instead, s.addresses())
	return a
}

func (s *served) families() []string {
	var out []string
	for _, f := range s.fonts {
		out = append(out, f.family)
	}
	return out
}

// addresses are those of the app's own families, each once.
func (s *served) addresses() []string {
	var out []string
	for _, f := range s.fonts {
		if f.Named && !slices.Contains(out, f.address) {
			out = append(out, f.address)
		}
	}
	return out
}

// answerPlain judges a family without an address: that is looked for among the system's
// fonts alone, and only what is like one of ours can be wrong.
func (s *served) answerPlain(typed string) platform.Answer {
	near := platform.Nearest(typed, s.families())
	a := platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("no family is called %q, and it has no address", face.Short(typed)),
		Cause: "the platform reports nothing about an unknown family, and shows its own font"}
	for _, f := range s.fonts {
		if typed == f.family || typed == f.full || typed == f.id || typed == f.legacy {
			near, a.Message = f.family, fmt.Sprintf("%q has no address: it is looked for among the system's fonts", face.Short(typed))
			a.Cause = "a font of the app is found by its address alone; it may be installed on the developer's machine, and on no other"
		}
	}
	if platform.LooksLikeFont(typed) {
		a.Fault, a.Message = platform.FileAsName, fmt.Sprintf("%q is a file's name, not a family's", face.Short(typed))
		a.Cause = "an address is a folder, # and the family inside the file"
	} else if near == "" {
		return platform.Answer{} // a font of the system's
	}
	a.Instead = s.right(near, "")
	a.Cure = platform.Choose(a.Instead, s.addresses())
	return a
}

// schemes are the ways in which addresses begin, up to the path in the app.
var schemes = lazy.Regexp(`^(?:avares://([^/]*)/|pack://application:,,,/(?:([^/;]*);component/)?|ms-appx:///|/([^/;]*);component/|/|\./)`)

// schemesOfAssembly are those that name an assembly.
var schemesOfAssembly = lazy.Regexp(`^(?:avares://[^/]|(?:pack://application:,,,)?/[^/;]+;component/)`)

// within is the folder or file of an address, from the project's folder; false for one that
// is in another assembly, or not in the app.
func (s *desktop) within(where string) (string, bool) {
	if strings.HasPrefix(where, "fonts:") {
		return "", strings.HasPrefix(where, collection)
	}
	m := schemes.FindStringSubmatch(where)
	if m == nil {
		return strings.Trim(where, "/"), !strings.Contains(where, ":")
	}
	assembly := m[1] + m[2] + m[3]
	return strings.Trim(strings.TrimPrefix(where, m[0]), "/"), assembly == "" || strings.EqualFold(assembly, s.assembly)
}

// Flaws are fonts that addresses can name, and the build does not take in as it must.
func (s *desktop) Flaws([]platform.Face) ([]platform.Flaw, error) {
	var out []platform.Flaw
	fonts := slices.DeleteFunc(slices.Clone(s.Tree.Under(s.Dir)), func(f string) bool { return !platform.IsFont(f) })
	for _, i := range s.items {
		if i.Name == s.kind.item || !slices.Contains(otherItems, i.Name) {
			continue
		}
		for _, f := range fonts[:min(len(fonts), mostExported)] {
			if rel, _ := s.Rel(f); i.Covers(rel) && !s.takenBy(s.kind.item, f) {
				out = append(out, platform.Flaw{Kind: platform.NotBuilt, File: s.file, Line: i.Line, Subject: f, Message: fmt.Sprintf("%s is taken in as %s, and %s finds only what is taken in as %s", rel, i.Name, s.kind.title, s.kind.item),
					Cause: "an address leads nowhere, and the platform shows its own font", Cure: fmt.Sprintf("write <%s instead of <%s", s.kind.item, i.Name)})
			}
		}
	}
	return out, nil
}

// otherItems are ways of taking a file in that addresses do not lead to.
var otherItems = []string{"None", "EmbeddedResource", "Content", "Resource", "AvaloniaResource", "MauiFont"}

// Loose are fonts below the project's folder that no item takes in: they are looked at by
// the build only where an item names them.
func (s *desktop) Unlisted() ([]platform.Held, error) {
	var out []platform.Held
	for _, f := range s.Tree.Under(path.Join(s.Dir, "Assets")) {
		rel, _ := s.Rel(f)
		if platform.IsFont(f) && !slices.ContainsFunc(s.items, func(i msbuild.Item) bool { return i.Covers(rel) }) && !s.strays(s.kind.item, rel) {
			out = append(out, platform.Held{Manifest: s.file, Value: s.kind.item, File: f})
		}
	}
	return out, nil
}
