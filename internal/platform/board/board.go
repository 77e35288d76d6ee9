// Package board serves programs of small displays, which draw text as pixels: LVGL, U8g2, Espruino,
// and any display in plain C. They carry no font files: each role becomes pictures of its
// characters in the form of the library, with a header that names them by role.
package board

import (
	"bytes"
	"embed"
	"fmt"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"
	"sync"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/pixel"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

//go:embed *.tmpl
var texts embed.FS

var templates = kit.Templates(texts)

// kind is what one of the platforms has of its own.
type kind struct {
	name  string
	title string
	next  string // HEADER stands for what is included
	ways  []platform.Showing
	// word is in each file that shows the platform, and shows says whether one does.
	word   string
	shows  func(file string, raw []byte) bool
	depths []int // that its form has
	last   rune  // the last codepoint
	write  func(s *site, f *pixel.Font, symbol, include string) (map[string][]byte, error)
	files  func(symbol string) []string // that write gives, but for what goes into the header
	header string                       // the template of what names the roles
	flash  string                       // the form's name where bytes are counted
	short  map[string]string
	uses   []platform.Use
}

// site is the folder of a firmware.
type site struct {
	kit.App
	kind   *kind
	layout layout
	opt    platform.Options
}

// platform is that of a kind; like is one whose faces have the same names.
func (k *kind) platform(about platform.About, like *kit.Named, forms ...edit.Syntax) *kit.Named {
	p := &kit.Named{Platform: kit.Platform{Info: about, Names: typed, Find: k.sites, Forms: forms}, In: func(t platform.Tree, dir string, o platform.Options) (platform.Site, error) {
		return k.site(t, dir, o), nil
	}}
	if like != nil {
		p.Like = like
	}
	return p
}

func typed(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = pixel.CName(f.ID())
	}
	return language.Unique(out)
}

func (k *kind) site(tree platform.Tree, dir string, opt platform.Options) *site {
	s := &site{App: kit.App{Base: platform.Base{Tree: tree, Dir: dir}, Kind: k.title, Asks: k.uses}, kind: k, opt: opt}
	s.layout = s.findLayout()
	return s
}

// comment is the language of the text that names roles.
func (k *kind) comment() *language.Language {
	if k.name == "espruino" {
		return language.JavaScript
	}
	return language.CPlus
}

// is says whether the site is of a platform.
func (s *site) is(name string) bool { return s.kind.name == name }

func (s *site) next() string {
	step := strings.ReplaceAll(s.kind.next, "HEADER", s.layout.include)
	if s.layout.by == byIDF {
		step += "; where main's CMakeLists.txt has REQUIRES, add apptype to it"
	}
	if s.layout.by == byNothing {
		step = "take the sources of " + s.layout.folder + " into the build; " + step
	}
	return step
}

// names are the roles as members, in order.
func (s *site) names(job platform.Job) []string {
	return kit.Members(job.Roles, kit.Snake(language.CPlus, "role_", nil))
}

// methods are the roles as parts of methods' names, in order.
func (s *site) methods(job platform.Job) []string {
	var out []string
	for _, name := range s.names(job) {
		out = append(out, camel(name))
	}
	return language.Unique(out)
}

// entry is a role as the templates write it.
type entry struct {
	Member, Upper, Symbol, About string
	Line, Ascent, Digits         int
	Letter, Leading              int    // added by LVGL to advances and lines, in pixels
	Colour                       string // as LVGL writes it, "" for none
	Body                         string // the method of Espruino
	Method                       string
}

type data struct {
	Roles   []entry
	Include string // of the library
	Target  string // of CMake
	List    string // of a Makefile
	Sources []string
	Needs   string // the component of ESP-IDF
}

// Plan is the folder of the roles' pictures, and what takes it into the build. Nothing is drawn yet: what
// is made of pictures is a recipe.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	have := map[rune]bool{} // characters of any role
	p := platform.Plan{Next: s.next(), Unbuilt: s.layout.by == byNothing && platform.Unbuilt(s.Base, folder), Short: platform.Shortfalls(job, s.kind.short)}
	p.Answer = func(q platform.Question) platform.Answer { return s.answer(job, have, q) }
	if len(job.Roles) == 0 {
		return p, nil
	}
	p.Words = []string{"app_type", "APP_TYPE"}
	if s.is("espruino") {
		p.Words = platform.Worded("setFont", s.methods(job), "")
	}
	p.Show = func(role string) []platform.Showing {
		names := map[string][]string{"member": s.names(job), "method": s.methods(job)}
		for _, n := range names["member"] {
			names["constant"] = append(names["constant"], strings.ToUpper(n))
		}
		return platform.Ways(job.Roles, role, names, s.kind.ways...)
	}
	if _, err := s.budget(); err != nil {
		return p, err
	}
	d := data{Include: s.includes(), Target: s.layout.build.Target, List: s.layout.build.List, Needs: s.layout.needs}
	var roles []*picture
	methods := s.methods(job)
	for i, name := range s.names(job) {
		r, err := s.picture(&p, job, job.Roles[i], name, methods[i], d.Include)
		if err != nil {
			return p, err
		}
		roles = append(roles, r)
		for _, c := range r.bitmap.Has {
			have[c] = true
		}
	}
	files := map[string]platform.Recipe{}
	for _, r := range roles {
		for _, name := range s.kind.files(r.entry.Symbol) {
			files[name] = r.file(name)
			if path.Ext(name) == ".c" {
				d.Sources = append(d.Sources, s.layout.source(name))
			}
		}
	}
	slices.Sort(d.Sources)
	files[s.headerName()] = s.headerOf(roles, d)
	for name, tmpl := range s.buildFiles() {
		text, err := platform.Render(templates, tmpl+".tmpl", d)
		if err != nil {
			return p, err
		}
		files[name] = platform.Text{Content: text}
	}
	for _, name := range slices.Sorted(maps.Keys(files)) {
		p.Code = append(p.Code, platform.File{Path: path.Join(s.Dir, s.layout.folder, name), Recipe: files[name]})
	}
	p.Entries = s.entries()
	return p, nil
}

// formVersion counts the changes of what is generated that neither a template nor a wish shows: of the
// drawing, and of the forms. TestDrawings fails where it has to be raised.
const formVersion = "2"

// A picture is a role as it will be drawn.
type picture struct {
	site   *site
	role   platform.Role
	bitmap platform.Bitmap
	from   []string // all that its files are made of
	entry  entry
	write  func() (map[string][]byte, error) // draws it; once
}

// picture says what a role will be, and what of it falls short.
func (s *site) picture(p *platform.Plan, job platform.Job, r platform.Role, name, method, include string) (*picture, error) {
	symbol := "app_type_" + name
	if s.is("espruino") {
		symbol = method
	}
	x := &picture{site: s, entry: entry{Member: name, Upper: strings.ToUpper(name), Symbol: symbol, About: s.kind.comment().Comment(s.about(r)), Method: "setFont" + method}}
	characters, left := s.characters(r)
	b, err := job.Pixels(r, characters)
	if err == nil && !slices.Contains(s.kind.depths, b.Depth) {
		deepest := s.kind.depths[len(s.kind.depths)-1]
		p.Short = append(p.Short, platform.Shortfall{Role: r.Name, Part: "depth", Why: fmt.Sprintf("%s has pixels of at most %s", s.kind.title, bits(deepest))})
		r.Wish.Depth = deepest
		b, err = job.Pixels(r, characters)
	}
	if err != nil {
		return nil, err
	}
	p.Short = append(p.Short, lacking(r.Name, "the face does not have ", b.Lacks)...)
	p.Short = append(p.Short, lacking(r.Name, s.kind.title+" draws characters up to "+fmt.Sprintf("U+%04X", s.kind.last)+", and not ", left)...)
	if c := r.Colour; c != nil {
		x.entry.Colour = fmt.Sprintf("lv_color_make(%d, %d, %d)", c.R, c.G, c.B)
	}
	x.role, x.bitmap = r, b
	x.from = []string{formVersion, pixel.Forms(), s.kind.name, s.form(), include, b.From, fmt.Sprintf("%+v %g", x.entry, r.LineHeight)}
	x.write = sync.OnceValues(func() (map[string][]byte, error) {
		f, err := b.Draw()
		if err != nil {
			return nil, err
		}
		files, err := s.kind.write(s, f, symbol, include)
		if err != nil {
			return nil, fault.Of(s.Path(), "the role "+strconv.Quote(r.Name), err, "change the role in notaria.toml, or what it is on this target: [role."+r.Name+".on."+s.kind.name+"]")
		}
		return files, nil
	})
	return x, nil
}

// file is one of a role's own files.
func (x *picture) file(name string) platform.Recipe {
	return platform.NewDrawing(append([]string{name}, x.from...), x.bitmap.Faces, func() ([]byte, error) {
		files, err := x.write()
		return files[name], err
	})
}

// drawn is the role as the header shows it, and how many bytes it takes; these are counted only where
// there is a budget, for that takes as long as writing them.
func (x *picture) drawn(counted bool) (entry, int, error) {
	e := x.entry
	f, err := x.bitmap.Draw()
	if err != nil {
		return e, 0, err
	}
	if x.site.is("espruino") {
		files, err := x.write()
		if err != nil {
			return e, 0, err
		}
		e.Body = string(files[""])
	}
	e.Line, e.Ascent, e.Digits = f.LineHeight(), f.Ascent, f.Heights().Digits
	if x.role.LineHeight > 0 {
		e.Leading = int(x.role.LineHeight+0.5) - e.Line
	}
	bytes := 0
	if counted {
		form := x.site.form()
		if f.Depth > 4 {
			form = x.site.kind.flash // such pixels are never compressed
		}
		bytes, _ = f.Flash(form)
	}
	return e, bytes, nil
}

// headerOf is what names the roles.
func (s *site) headerOf(roles []*picture, d data) platform.Recipe {
	from, faces := []string{s.headerName(), s.opt.Word(optBudget), templateOf(s.kind.header)}, []string(nil)
	for _, x := range roles {
		from = append(from, x.from...)
		for _, f := range x.bitmap.Faces {
			if !slices.Contains(faces, f) {
				faces = append(faces, f)
			}
		}
	}
	return platform.NewDrawing(from, faces, func() ([]byte, error) {
		most, err := s.budget()
		if err != nil {
			return nil, err
		}
		total := 0
		d.Roles = nil
		for _, x := range roles {
			e, bytes, err := x.drawn(most > 0)
			if err != nil {
				return nil, err
			}
			d.Roles, total = append(d.Roles, e), total+bytes
		}
		if most > 0 && total > most {
			return nil, platform.Refuse(s.Path(), fmt.Sprintf("pixel fonts of at most %d bytes, the budget of [target.%s]", most, s.kind.name), fmt.Sprintf("%d bytes", total), "choose fewer characters, a smaller height or less depth for its roles, or a larger budget; notaria pixel ROLE shows what each costs")
		}
		return platform.Render(templates, s.kind.header+".tmpl", d)
	})
}

// templateOf is the text of a template.
func templateOf(name string) string {
	raw, _ := texts.ReadFile(name + ".tmpl") // it is embedded
	return string(raw)
}

func bits(n int) string {
	if n == 1 {
		return "1 bit"
	}
	return strconv.Itoa(n) + " bits"
}

// form is the name of the form whose bytes are counted.
func (s *site) form() string {
	if s.is("lvgl") && s.opt.Yes(optCompressed) {
		return "lvgl-compressed"
	}
	return s.kind.flash
}

// about says a role in words.
func (s *site) about(r platform.Role) string {
	w := r.Wish
	what := r.Face.Family + " " + r.Face.Style
	if r.Bitmap != "" {
		return r.Bitmap
	}
	of := ""
	if w.Of != "" && w.Of != "em" {
		of = ", by " + w.Of
	}
	return fmt.Sprintf("%s, %d pixels high%s", what, w.Height, of)
}

// lacking lists characters that are not drawn.
func lacking(role, why string, lacks []rune) []platform.Shortfall {
	if len(lacks) == 0 {
		return nil
	}
	const most = 8
	var list []string
	for _, r := range lacks[:min(most, len(lacks))] {
		list = append(list, fmt.Sprintf("%c U+%04X", r, r))
	}
	if len(lacks) > most {
		list = append(list, fmt.Sprintf("and %d more", len(lacks)-most))
	}
	return []platform.Shortfall{{Role: role, Part: platform.PartCharacters, Why: why + strings.Join(list, ", ")}}
}

// characters are those of a role, with the app's own where it asks for them or for none; and
// those that the platform cannot have.
func (s *site) characters(r platform.Role) (out, left []rune) {
	have := map[rune]bool{}
	for _, c := range r.Characters {
		have[c] = true
	}
	if r.Characters == nil {
		for c := ' '; c < 0x7F; c++ {
			have[c] = true
		}
	}
	if r.Characters == nil || r.AppStrings {
		for _, c := range platform.AppCharacters(s.Tree, s.Dir) {
			have[c] = true
		}
	}
	for c := range have {
		if c > s.kind.last {
			left = append(left, c)
		} else {
			out = append(out, c)
		}
	}
	slices.Sort(out)
	slices.Sort(left)
	return out, left
}

// budget is the bytes of flash that the roles may take, 0 where nothing is said.
func (s *site) budget() (int, error) {
	text := s.opt.Word(optBudget)
	if text == "" {
		return 0, nil
	}
	most, err := strconv.Atoi(text)
	if err != nil || most <= 0 {
		return 0, platform.Refuse(s.Path(), "a number of bytes for budget in [target."+s.kind.name+"]", strconv.Quote(text), `write it as in budget = "48000"`)
	}
	return most, nil
}

// Options of the platforms.
const (
	optBudget     = "budget"
	optInclude    = "include"
	optCompressed = "compressed"
)

func (s *site) entries() []edit.Entry {
	if s.is("espruino") {
		return s.storageEntries()
	}
	return s.layout.build.Entries(s.layout.folder)
}

// Kinds of uses.
const (
	useRole = "role" // a name of the header
	useText = "text" // a string that is drawn
	useFont = "font" // a font of the library's form, by its name in C
)

// fontDefined is a font of LVGL's in a source.
var fontDefined = lazy.Regexp(`\blv_font_t\s+(\w+)\s*=`)

// answerFont judges the name of a font in C: where a source of the firmware defines one that is called nearly so, and none
// that is called so, the linker does not find it. A font of a library that is not in the tree is not judged.
func (s *site) answerFont(q platform.Question) platform.Answer {
	defined := q.Once("fonts in C", func() []string {
		var out []string
		add := func(text []byte) {
			for _, m := range fontDefined.FindAllSubmatch(text, mostFonts) {
				out = append(out, string(m[1]))
			}
		}
		for _, f := range s.Tree.Under("") {
			if mayShow(f) {
				if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && bytes.Contains(raw, []byte("lv_font_t")) {
					add(raw)
				}
			}
		}
		return out
	})
	near := platform.Nearest(q.Typed, defined)
	if near == "" || slices.Contains(defined, q.Typed) || strings.HasPrefix(q.Typed, "lv_font_") || strings.HasPrefix(q.Typed, "app_type_") {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("no source defines the font %s", face.Short(q.Typed)), Cause: "the linker stops: undefined reference", Cure: platform.Choose(near, nil), Instead: near}
}

// mostFonts is how many fonts of one source are looked at.
const mostFonts = 1000

// answer goes by roles, and by the characters that they have.
func (s *site) answer(job platform.Job, have map[rune]bool, q platform.Question) platform.Answer {
	if isOthers(s.Tree, platform.Folder(q.File)) {
		return platform.Answer{}
	}
	if q.Use.Kind == useFont {
		return s.answerFont(q)
	}
	if len(job.Roles) == 0 {
		return platform.Answer{}
	}
	if q.Use.Kind == useText {
		return platform.AnswerCharacters(language.Of(q.File).Unescape(q.Typed), have)
	}
	if s.is("espruino") && slices.Contains(ownOfEspruino, q.Typed) {
		return platform.Answer{}
	}
	names := q.Once("roles", func() []string {
		if s.is("espruino") {
			return s.methods(job)
		}
		var out []string
		for _, n := range s.names(job) {
			out = append(out, strings.ToUpper(n))
		}
		return out
	})
	typed := constantsOf.ReplaceAllString(q.Typed, "")
	if slices.Contains(names, q.Typed) || slices.Contains(names, typed) {
		return platform.Answer{}
	}
	if near := platform.Nearest(typed, names); near != "" {
		return platform.Answer{Fault: platform.NoSuchRole, Message: "no role is called " + typed, Cause: "it is not in the generated code", Cure: platform.Choose(near, nil), Instead: near}
	}
	return platform.Answer{}
}

// ownOfEspruino are methods called setFont… of Espruino itself.
var ownOfEspruino = []string{"Align", "Bitmap", "Custom", "PBF", "Vector"}

// constantsOf are what stands behind a role's name in the constants of the header.
var constantsOf = lazy.Regexp(`_(?:LINE|ASCENT|DIGITS)$`)

// camel is a member as part of a method's name.
func camel(name string) string { return language.Pascal(strings.Split(name, "_")) }
