package dotnet

import (
	"bytes"
	"fmt"
	"math"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

// The XAML apps of the desktop name a font by an address: a folder or a file of the app,
// then # and the family inside the file. Weight, slant and width choose the face.

// A kind is what the three kinds of apps differ in.
type kind struct {
	title     string
	uses      *lazy.Pattern // in a project file, or what it inherits
	namespace string        // in App.axaml or App.xaml
	apps      []string      // names of the file of the application
	item      string        // takes a font into the app
	perFile   bool          // an address names one file, else a folder
	address   func(s *desktop, rel, family string) string
	way       platform.Showing // of its markup
	styles    string           // the name of their file
	template  string           // theirs
	class     string           // the template of the class
	// entries say how the application takes the styles in, and what else is to be written.
	entries func(s *desktop, entries []edit.Entry) ([]edit.Entry, error)
	short   map[string]string // parts of a role that are not supported
}

// desktop is one app.
type desktop struct {
	project
	kind     *kind
	assembly string
	opt      platform.Options
	files    []string          // all project files
	docs     map[string]string // and their texts
}

// served is an app with what its plan is about, for code and for questions.
type served struct {
	*desktop
	fonts []desktopFace
	roles []desktopRole
}

var assemblyName = lazy.Regexp(`<AssemblyName>\s*([^<$]+?)\s*</AssemblyName>`)

// sites finds the apps of a kind: a project without an application of its own is a library
// or a test, which is served only if notaria.toml names it.
func (k *kind) sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	var found platform.Found
	files, docs := projects(&found, tree)
	for _, file := range files {
		if !k.uses.MatchString(docs[file]) {
			continue
		}
		s, err := k.site(tree, file, opt, files, docs)
		if err == nil && s.app == "" && !s.startsItself(docs[file]) {
			continue
		}
		found.Add(path.Dir(file), s, err)
	}
	return found.All()
}

var (
	windowsProgram = lazy.Regexp(`(?i)<OutputType[^>]*>\s*WinExe\s*</OutputType>`)
	startsApp      = lazy.Regexp(`\bnew\s+(?:System\.Windows\.)?Application\s*\(|\bclass\s+\w+\s*:\s*(?:[\w.]+\.)?Application\b|\bAppBuilder\s*\.\s*Configure\s*<`)
)

// startsItself says whether a program with windows makes its application in code, and not in markup.
func (s *desktop) startsItself(doc string) bool {
	if !windowsProgram.MatchString(doc) || testProject.MatchString(doc) {
		return false
	}
	for _, f := range s.Tree.Under(s.Dir) {
		if path.Ext(f) != ".cs" || platform.IsTest(f) {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok && bytes.Contains(raw, []byte("App")) && startsApp.Match(language.CSharp.Skeleton(raw)) {
			return true
		}
	}
	return false
}

// siteIn is the project in a folder, whatever it asks for.
func (k *kind) siteIn(tree platform.Tree, dir string, opt platform.Options) (platform.Site, error) {
	var found platform.Found
	files, docs := projects(&found, tree)
	for _, file := range files {
		if platform.Folder(file) == dir {
			return k.site(tree, file, opt, files, docs)
		}
	}
	return nil, platform.Refuse(platform.Shown(dir), "a project file (.csproj) in this folder", "none", "correct the folder of this [[site]]")
}

func (k *kind) site(tree platform.Tree, file string, opt platform.Options, files []string, docs map[string]string) (*desktop, error) {
	p, err := newProject(tree, file, docs[file])
	if err != nil {
		return nil, err
	}
	s := &desktop{project: p, kind: k, assembly: strings.TrimSuffix(path.Base(file), ".csproj"), opt: opt, files: files, docs: docs}
	if m := assemblyName.FindStringSubmatch(docs[file]); m != nil {
		s.assembly = m[1]
	}
	s.app, s.Kind, s.Fonts, s.Asks = "", k.title, path.Join(s.Dir, desktopFolder), desktopUses
	if k == &avalonia {
		s.Asks = avaloniaUses
	}
	s.Takes = func(p string) bool { return s.takenBy(k.item, p) }
	for _, name := range k.apps {
		at := s.Beside(name)
		if at == "" {
			continue
		}
		raw, err := tree.Read(at)
		if err != nil {
			return nil, err
		}
		if strings.Contains(string(raw), k.namespace) {
			s.app = at
			break
		}
	}
	return s, nil
}

func (s *desktop) next() string {
	if s.app == "" && windowsProgram.MatchString(s.sdk) {
		return "take " + s.kind.styles + " into the application, which code makes here, and build it again"
	}
	if s.app == "" {
		return "take " + s.kind.styles + " into the application that uses this library, and build it again"
	}
	return "build the app again; hot reload does not take in new fonts"
}

const desktopFolder = "Assets/Fonts"

// inApp is the path under which the app has a file: its own for one in the project's folder, else
// what the item that takes it in says.
func (s *desktop) inApp(name string) string {
	if rel, inside := s.Rel(name); inside {
		return rel
	}
	rel := s.from(name)
	for _, i := range s.items {
		if i.Name == s.kind.item && i.Covers(rel) {
			return i.InApp(rel)
		}
	}
	return rel
}

// speakable says whether a family can stand in an address: # and commas have a meaning of
// their own there, and the space around a name is not kept.
func speakable(family string) bool {
	return family != "" && !strings.ContainsAny(family, "#,") && strings.TrimSpace(family) == family &&
		!strings.ContainsFunc(family, func(r rune) bool { return r < ' ' || language.NotXML(r) })
}

// A desktopFace is a face in the words of the templates.
type desktopFace struct {
	Key, Member      string // of the resource, of the member
	Address          string // escaped for XAML
	Literal          string // the address
	FamilyLiteral    string
	RelLiteral       string // of the file, from the app's folder
	Weight, Slant    string // names of XAML and C#
	WeightNumber     int
	Stretch          string // "" for normal
	Keep             bool   // XAML would change its spaces
	Named            bool   // else no address can name it
	address, rel, id string
	family, full     string
	legacy           string
}

// stretches are the names of widths in percent (OpenType, OS/2 usWidthClass).
var stretches = map[float64]string{50: "UltraCondensed", 62.5: "ExtraCondensed", 75: "Condensed", 87.5: "SemiCondensed",
	112.5: "SemiExpanded", 125: "Expanded", 150: "ExtraExpanded", 200: "UltraExpanded"}

// weights are the names of weights in hundreds.
var weights = map[int]string{100: "Thin", 200: "ExtraLight", 300: "Light", 400: "Normal", 500: "Medium", 600: "SemiBold", 700: "Bold", 800: "ExtraBold", 900: "Black"}

// slantOf is the name of a slant.
func slantOf(f face.Face) string {
	switch f.Slant {
	case face.Italic:
		return "Italic"
	case face.Oblique:
		return "Oblique"
	}
	return "Normal"
}

// faces puts a job's faces into the words of the templates; those that share an address
// share its names.
func (s *desktop) faces(job platform.Job) []desktopFace {
	var out []desktopFace
	var names []string
	index := map[string]int{} // of the name of an address
	for _, f := range job.Faces {
		rel := s.inApp(s.Place(job, f))
		l := desktopFace{Named: speakable(f.Family), rel: rel, id: f.ID(), family: f.Family, full: f.Full, legacy: f.LegacyFamily, Weight: weights[platform.Hundreds(f.Weight)], WeightNumber: min(max(f.Weight, 1), 999),
			Slant: slantOf(f.Face), Stretch: stretches[f.Width], FamilyLiteral: language.CSharp.Literal(f.Family), RelLiteral: language.CSharp.Literal(rel)}
		if l.Named {
			l.address = s.kind.address(s, rel, f.Family)
			l.Address, l.Literal = xamlText(l.address), language.CSharp.Literal(l.address)
			l.Keep = strings.Join(strings.Fields(f.Family), " ") != f.Family
			if _, ok := index[l.address]; !ok {
				index[l.address] = len(names)
				name := f.Family
				if s.kind.perFile {
					name = f.ID()
				}
				names = append(names, member(language.Words(name), "Font"))
			}
		}
		out = append(out, l)
	}
	names = language.Unique(names)
	for i := range out {
		if out[i].Named {
			out[i].Member = names[index[out[i].address]]
			out[i].Key = out[i].Member + "Family"
		}
	}
	return out
}

// A desktopRole is a role in the words of the templates.
type desktopRole struct {
	platform.RoleText
	Member, Key, Class string
	ClassLiteral       string
	KeyLiteral         string
	ControlKeyLiteral  string
	Font               desktopFace
	Rendering          string // of edges, as WPF names it
	Direction, Depth   string // of a shadow, in degrees and pixels
	Tracking           string // thousandths of an em, "" for none
}

// Class is the style class of a role, in markup and style sheets.
func Class(role string) string { return "type-" + role }

// roleMember is a role's name in the class, which has some names of its own.
func roleMember(role string) string {
	if name := member(language.Words(role), "Role"); !slices.Contains([]string{"Families", "All", "Missing", "Report", "WithAppType"}, name) {
		return name
	}
	return language.Pascal(language.Words(role)) + "Role"
}

// desktopCode is what the templates show.
type desktopCode struct {
	Namespace   string
	Collections []fontFolder
	Fonts       []desktopFace
	Roles       []desktopRole
}

func (s *served) code(job platform.Job) desktopCode {
	data := desktopCode{Namespace: s.namespace}
	of := map[string]desktopFace{}
	seen := map[string]bool{}
	for _, f := range s.fonts {
		of[f.id] = f
		if f.Named && !seen[f.address] {
			seen[f.address] = true
			data.Fonts = append(data.Fonts, f)
		}
	}
	for _, r := range job.Roles {
		l := desktopRole{RoleText: r.Text(), Member: roleMember(r.Name), Class: Class(r.Name), Font: of[r.Face.ID()]}
		if r.Smooth != nil {
			l.Rendering = map[bool]string{true: "Grayscale", false: "Aliased"}[*r.Smooth]
		}
		if s := r.Shadow; s != nil {
			angle := math.Mod(360+math.Atan2(-s.Y, s.X)*180/math.Pi, 360) // against the clock, from the right
			l.Direction, l.Depth = language.Number(math.Round(angle*100)/100), language.Number(math.Round(math.Hypot(s.X, s.Y)*100)/100)
		}
		l.Key, l.ClassLiteral = l.Member+"Type", language.CSharp.Literal(l.Class)
		l.KeyLiteral, l.ControlKeyLiteral = language.CSharp.Literal(l.Key), language.CSharp.Literal(l.Member+"ControlType")
		if r.Tracking != 0 {
			l.Tracking = language.Number(r.Tracking)
		}
		data.Roles = append(data.Roles, l)
	}
	return data
}

// Plan is each face in Assets/Fonts, taken in by the project; the styles, taken in by the
// application, and AppType.cs.
func (s *desktop) Plan(job platform.Job) (platform.Plan, error) {
	with := &served{desktop: s, fonts: s.faces(job)}
	data := with.code(job)
	with.roles = data.Roles
	d := s.Draft(job, templates, s.next(), append(platform.Shortfalls(job, s.kind.short), unspeakable(job)...), with.answer)
	for _, f := range d.Files {
		d.Entries = s.item(d.Entries, s.kind.item, s.from(f.Path))
	}
	if len(job.Roles) == 0 {
		return d.Done()
	}
	var err error
	d.Entries, err = s.kind.entries(s, d.Entries)
	d.Fail(err)
	if s.opt.Word("fonts") == "collection" {
		data.Collections = s.collections(job)
	}
	members := kit.Members(job.Roles, roleMember)
	if s.app != "" {
		d.Words = slices.Concat(s.words(members), platform.Worded("", members, "ControlType"), platform.ClassWords(job.Roles))
	}
	d.Shows(map[string][]string{"member": members}, s.kind.way, platform.Way("C#", "AppType.{member}.Dress(label);"))
	d.Write(s.kind.class, sharpFile, data)
	d.Write(s.kind.template, s.kind.styles, data)
	return d.Done()
}

// unspeakable are roles of families that no address can name.
func unspeakable(job platform.Job) []platform.Shortfall {
	var out []platform.Shortfall
	for _, r := range job.Roles {
		if !speakable(r.Face.Family) {
			out = append(out, platform.Shortfall{Role: r.Name, Part: platform.PartFace,
				Why: fmt.Sprintf("the family's name %q cannot stand in an address, where # and commas have a meaning: give a copy of the font another family name, if its licence allows that", face.Short(r.Face.Family))})
		}
	}
	return out
}

// A fontFolder is a folder of fonts as a collection, in literals.
type fontFolder struct{ Name, Address string }

// collections are one for each folder that holds faces of a job.
func (s *desktop) collections(job platform.Job) []fontFolder {
	var out []fontFolder
	for _, f := range job.Faces {
		dir := platform.Folder(s.inApp(s.Place(job, f)))
		c := fontFolder{language.CSharp.Literal(collectionOf(dir)), language.CSharp.Literal("avares://" + s.assembly + "/" + dir)}
		if !slices.Contains(out, c) {
			out = append(out, c)
		}
	}
	return out
}

// Held lists the fonts that the project takes in.
func (s *desktop) Held() ([]platform.Held, error) { return s.held(s.kind.item), nil }
