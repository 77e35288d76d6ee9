package dotnet

import (
	"cmp"
	"fmt"
	"path"
	"slices"
	"strconv"
	"strings"
	"sync"

	"notaria/internal/edit"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

// Xamarin is the Xamarin.Forms platform.
var Xamarin = &kit.Platform{
	Info: platform.About{
		Name: "xamarin", Title: "Xamarin.Forms", Kind: platform.ByPostScript, Typed: `FontFamily="…"`,
		Minimum: "Xamarin.Forms 3 with a shared project of the SDK's form; aliases from 4.5",
		Gets:    "embedded fonts exported under an alias, or before 4.5 the assets and resources of both platforms; AppType.cs and AppType.xaml as for .NET MAUI",
		Cannot:  []string{"outlines", "another font where a face is missing", "sizes that do not follow the reader's, on Android", "shared projects of the form .shproj"},
	},
	Names: aliases, Like: Maui, Find: xamarinSites,
}

// head is the project of one platform, which holds its own fonts before 4.5.
type head struct {
	project
	ios  bool
	info string // Info.plist of the iOS project
}

type xamarinSite struct {
	project
	export  bool // faces are embedded and exported under an alias
	exports func() [][2]string
	heads   []head
}

// A solution is what all sites of a tree have in common; it is looked through once.
type solution struct {
	tree    platform.Tree
	docs    map[string]string
	heads   map[string][]string // project files of one platform, by what they refer to
	exports func() [][2]string
}

const embeddedFolder = "Fonts"

var (
	usesForms    = lazy.Regexp(`<PackageReference\s+Include\s*=\s*"Xamarin\.Forms"`)
	formsVersion = lazy.Regexp(`<PackageReference\s+Include\s*=\s*"Xamarin\.Forms"(?:[^>]*?\sVersion\s*=\s*"(\d+)\.(\d+)|[^/>]*>\s*<Version>\s*(\d+)\.(\d+))`)
	isAndroid    = lazy.Regexp(`Xamarin\.Android\.CSharp\.targets|<AndroidApplication>\s*(?i:true)|MonoAndroid`)
	reference    = lazy.Regexp(`Include\s*=\s*"([^"]*\.\w*proj)"`)
	isIOS        = lazy.Regexp(`Xamarin\.iOS\.CSharp\.targets|<TargetFrameworkIdentifier>Xamarin\.iOS|Xamarin\.iOS10`)
)

// xamarinSites finds the shared projects of Xamarin.Forms.
func xamarinSites(tree platform.Tree, _ platform.Options) ([]platform.Site, error) {
	var found platform.Found
	files, docs := projects(&found, tree)
	all := &solution{tree: tree, docs: docs, heads: map[string][]string{}, exports: sync.OnceValue(func() [][2]string { return exportsOf(tree) })}
	for _, file := range files {
		if isIOS.MatchString(docs[file]) || isAndroid.MatchString(docs[file]) {
			for _, to := range references(docs[file], file) {
				all.heads[to] = append(all.heads[to], file)
			}
		}
	}
	for _, file := range files {
		text := docs[file]
		if usesForms.MatchString(text) && !isAndroid.MatchString(text) && !isIOS.MatchString(text) && hasApplication(tree, file, text) {
			s, err := newXamarin(all, file)
			found.Add(path.Dir(file), s, err)
		}
	}
	return found.All()
}

// application begins a class of an app without App.xaml.
var application = lazy.Regexp(`:\s*(?:Xamarin\.Forms\.)?Application\b`)

// hasApplication says whether a project holds the application: a library of controls, or a test,
// uses the same package.
func hasApplication(tree platform.Tree, file, text string) bool {
	if testProject.MatchString(text) {
		return false
	}
	b := platform.Base{Tree: tree, Dir: platform.Folder(file)}
	if b.Beside("App.xaml") != "" {
		return true
	}
	for _, f := range tree.Under(b.Dir) {
		if path.Ext(f) == ".cs" {
			if raw, ok := tree.Glance(f, platform.MostSource); ok && application.Match(language.CSharp.Skeleton(raw)) {
				return true
			}
		}
	}
	return false
}

func newXamarin(all *solution, file string) (*xamarinSite, error) {
	p, err := newProject(all.tree, file, all.docs[file])
	if err != nil {
		return nil, err
	}
	s := &xamarinSite{project: p, export: exports(all.docs[file]), exports: all.exports}
	s.Kind, s.Fonts = "Xamarin.Forms", path.Join(s.Dir, embeddedFolder)
	s.Takes = func(p string) bool { return s.takenBy("EmbeddedResource", p) }
	s.heads, err = all.headsOf(file)
	return s, err
}

// exports says whether the version has ExportFont, which came with 4.5.
func exports(doc string) bool {
	m := formsVersion.FindStringSubmatch(doc)
	if m == nil {
		return true
	}
	major, _ := strconv.Atoi(m[1] + m[3])
	minor, _ := strconv.Atoi(m[2] + m[4])
	return major > 4 || major == 4 && minor >= 5
}

// headsOf finds the platforms' projects that refer to a shared one.
func (all *solution) headsOf(shared string) ([]head, error) {
	var out []head
	for _, file := range append(slices.Clone(all.heads[shared]), all.heads["$/"+path.Base(shared)]...) {
		doc := all.docs[file]
		p, err := newProject(all.tree, file, doc)
		if err != nil {
			return nil, err
		}
		out = append(out, head{project: p, ios: isIOS.MatchString(doc), info: p.Beside("Info.plist")})
	}
	return out, nil
}

// references are the projects that a project's file refers to, each once: by their paths, or "$/" and the name where a
// property is part of the path.
func references(doc, file string) (out []string) {
	for _, m := range reference.FindAllStringSubmatch(doc, -1) {
		at := strings.ReplaceAll(m[1], `\`, "/")
		to := path.Join(path.Dir(file), at)
		if strings.Contains(at, "$(") {
			to = "$/" + path.Base(at)
		}
		if !slices.Contains(out, to) {
			out = append(out, to)
		}
	}
	return out
}

// folder is where a platform's own project keeps its fonts, and how its items are
// called.
func (h head) folder() (dir, item string) {
	if h.ios {
		return "Resources", "BundleResource"
	}
	return "Assets", "AndroidAsset"
}

// place is where a face is in a platform's own project.
func (h head) place(job platform.Job, f platform.Face) string {
	dir, _ := h.folder()
	at, ok := job.At(f, func(p string) bool {
		rel, inside := h.Rel(p)
		return inside && path.Dir(rel) == dir
	})
	if ok {
		return at
	}
	return path.Join(platform.Spelled(h.Tree, path.Join(h.Dir, dir)), f.Base())
}

// Plan is each face once in the shared project, or before 4.5 in each platform's, taken
// in, and there named in Info.plist; AppType.cs, which exports the fonts, and
// AppType.xaml with the styles.
func (s *xamarinSite) Plan(job platform.Job) (platform.Plan, error) {
	p := platform.Plan{Next: "build the apps of both platforms again", Answer: s.answer, Short: labelShortfalls(job, "on Android a size in numbers follows the reader's, on iOS it does not", "a Label has no shadow there; an effect of your own can draw one")}
	if len(job.Faces) == 0 {
		return p, nil
	}
	for _, f := range job.Faces {
		if s.export {
			at := s.Place(job, f)
			p.Files = append(p.Files, platform.File{Path: at, Recipe: platform.Original{Face: f.ID()}})
			p.Entries = s.item(p.Entries, "EmbeddedResource", s.from(at))
			continue
		}
		for _, h := range s.heads {
			p.Files = append(p.Files, platform.File{Path: h.place(job, f), Recipe: platform.Original{Face: f.ID()}})
		}
	}
	var err error
	if !s.export {
		if p.Entries, err = s.headEntries(job); err != nil {
			return p, err
		}
	}
	if len(job.Roles) > 0 {
		p.Entries = s.merged(p.Entries, xamlFile)
	} else if !s.export {
		return p, nil
	}
	file := func(f platform.Face) string {
		if s.export {
			return s.Place(job, f)
		}
		return f.Base()
	}
	data := newCode(job, s.namespace, func(f platform.Face) string { return typed(f.ID()) }, file)
	data.Export = s.export
	p.Words = s.words(kit.Members(job.Roles, labelMember))
	p.Show = s.shows(job)
	p.Code, err = s.sources(data, "XamarinType.cs.tmpl", "")
	return p, err
}

func (s *xamarinSite) headEntries(job platform.Job) ([]edit.Entry, error) {
	if len(s.heads) == 0 {
		return nil, platform.Refuse(s.Path(), "projects for Android or iOS that refer to it", "none in this tree",
			"name a folder that holds them with --project, or raise Xamarin.Forms to 4.5 or later")
	}
	var out []edit.Entry
	for i := range s.heads {
		h := &s.heads[i]
		_, item := h.folder()
		if h.ios && h.info == "" {
			return nil, platform.Refuse(s.Path(), "an Info.plist beside "+h.file, "none", "restore it, then register again")
		}
		for _, f := range job.Faces {
			rel, _ := h.Rel(h.place(job, f))
			out = h.item(out, item, rel)
			if h.ios {
				out = append(out, edit.Entry{File: h.info, Syntax: xmldoc.List{}.Name(), Place: edit.Place{Kind: xmldoc.KindArray, Name: "UIAppFonts"}, Value: path.Base(rel)})
			}
		}
	}
	return out, nil
}

// Held lists the fonts that the projects take in.
func (s *xamarinSite) Held() ([]platform.Held, error) {
	out := s.held("EmbeddedResource")
	for i := range s.heads {
		h := &s.heads[i]
		_, item := h.folder()
		out = append(out, h.held(item)...)
		if h.info == "" {
			continue
		}
		doc, err := platform.ReadDocument(s.Tree, h.info)
		if err != nil {
			return nil, err
		}
		values, lines, err := xmldoc.Array(doc, "UIAppFonts")
		if err != nil {
			return nil, err
		}
		for k, v := range values {
			out = append(out, platform.Held{Manifest: h.info, Line: lines[k], Value: v, File: path.Join(h.Dir, "Resources", v), Strict: true, Part: h.Path(), Write: path.Base, In: path.Join(h.Dir, "Resources")})
		}
	}
	return out, nil
}

// answer goes by aliases, or before aliases by a file with its family.
func (s *xamarinSite) answer(q platform.Question) platform.Answer {
	file, family, both := strings.Cut(q.Typed, "#")
	if both || q.Use.Kind == useAndroid {
		return s.answerAsset(q, path.Base(file), family)
	}
	a := s.unlessExported(q, platform.AnswerFace(q, installed.Any))
	if a.Fault == platform.Fine {
		return a
	}
	var pairs [][2]string // in one list, for it is made once
	list := q.Once("exports", func() []string {
		var out []string
		for _, e := range s.exports() {
			out = append(out, e[0], e[1])
		}
		return out
	})
	for i := 0; i+1 < len(list); i += 2 {
		pairs = append(pairs, [2]string{list[i], list[i+1]})
	}
	return aliased(q, a, pairs)
}

// answerAsset judges a file and its family, as Android's part names them.
func (s *xamarinSite) answerAsset(q platform.Question, file, family string) platform.Answer {
	var files []string
	for _, f := range q.Plan.Files {
		files = append(files, path.Base(f.Path))
	}
	families := map[string]string{}
	for _, f := range q.Faces {
		files, families[path.Base(f.File)] = append(files, path.Base(f.File)), platform.FamilyOf(f.Face)
	}
	if !slices.Contains(files, file) {
		near := platform.Strayed(file, files)
		a := platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("there is no font file %s in the app", face.Short(file)), Cause: "Android shows its own font, and reports nothing", Cure: "correct the file's name, before the #"}
		if near != "" {
			a.Instead = near
			if family != "" {
				a.Instead += "#" + family
			}
			a.Cure = platform.Choose(a.Instead, nil)
		}
		return a
	}
	if right := families[file]; family != "" && right != "" && family != right {
		id := ""
		for _, f := range q.Faces {
			if path.Base(f.File) == file {
				id = f.Full
			}
		}
		if family != id {
			return platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("%s has the family %q, and not %q", file, face.Short(right), face.Short(family)), Cause: "behind # goes the family inside the file", Cure: platform.Choose(file+"#"+right, nil), Instead: file + "#" + right}
		}
	}
	return platform.Answer{}
}

// nearFirst puts the project's own files before others, which its items seldom name.
func (s *xamarinSite) nearFirst(files []string) []string {
	var near, far []string
	for _, f := range files {
		if _, inside := s.Rel(f); inside {
			near = append(near, f)
		} else {
			far = append(far, f)
		}
	}
	return append(near, far...)
}

// Flaws are fonts that attributes export, and no project of the solution takes in.
func (s *xamarinSite) Flaws([]platform.Face) ([]platform.Flaw, error) {
	var out []platform.Flaw
	seen := map[string]bool{}
	for _, e := range s.exports() {
		if seen[e[0]] {
			continue
		}
		seen[e[0]] = true
		var there string
		for _, f := range s.nearFirst(s.Tree.Named(e[0])) {
			there = cmp.Or(there, f)
			if s.takenBy("EmbeddedResource", f) {
				there = ""
				break
			}
		}
		if there != "" && !s.strays("EmbeddedResource", s.from(there)) {
			rel := s.from(there)
			out = append(out, platform.Flaw{Kind: platform.NotBuilt, File: s.file, Subject: there, Message: fmt.Sprintf("ExportFont names %s, and no EmbeddedResource takes %s in", face.Short(e[0]), rel),
				Cause: "the file is on disk and not in the app", Cure: fmt.Sprintf(`write <EmbeddedResource Include="%s" /> into %s`, strings.ReplaceAll(rel, "/", `\`), path.Base(s.file))})
		}
	}
	return out, nil
}
