package android

import (
	"fmt"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// shared is a module of Compose Multiplatform: one set of fonts for all of its
// platforms, in src/commonMain/composeResources/font.
type shared struct {
	platform.Base // of the module
	gradle        string
	resources     string // package of the class Res
	kotlin        string // folder of the common sources
	namespace     string // package that our code goes to
	sources       string // folder of that package
	known         bool   // the build depends on the resources' library
}

var (
	multiplatformPlugin = lazy.Regexp(`org\.jetbrains\.compose["']|libs\.plugins\.[\w.]*(?:composeMultiplatform|compose\.multiplatform)\b`)
	resourcesPackage    = lazy.Regexp(`\bpackageOfResClass\s*=\s*["']([A-Za-z_][\w.]*)["']`)
	resourcesLibrary    = lazy.Regexp(`compose\.components\.resources|components[.-]resources`)
	rootName            = lazy.Regexp(`(?m)^\s*rootProject\.name\s*=\s*["']([^"'\n]+)["']`)
	packageLine         = lazy.Regexp(`(?m)^\s*package\s+([A-Za-z_][\w.]*)`)
	groupLine           = lazy.Regexp(`(?m)^\s*group\s*=\s*["']([^"'\n]+)["']`)
)

// multiplatform finds such a module; nil if the build file is of another kind.
func multiplatform(tree platform.Tree, file, text string) *shared {
	s := &shared{Base: platform.Base{Tree: tree, Dir: platform.Folder(file)}, gradle: file}
	common := path.Join(s.Dir, "src/commonMain")
	if !multiplatformPlugin.MatchString(text) || len(tree.Under(common)) == 0 {
		return nil
	}
	if m := multiplatformPlugin.FindStringIndex(text); m != nil {
		line, _, _ := strings.Cut(text[m[0]:], "\n")
		if strings.Contains(line, "apply false") || strings.Contains(line, "apply(false)") {
			return nil
		}
	}
	s.kotlin = path.Join(common, "kotlin")
	s.known = resourcesLibrary.MatchString(text)
	if m := resourcesPackage.FindStringSubmatch(text); m != nil {
		s.resources = m[1]
	} else {
		s.resources = s.defaultPackage(text)
	}
	s.findSources(text)
	return s
}

// defaultPackage is what the plugin calls the package of Res if nobody says
// otherwise: group, module, generated, resources. The group of a module is the
// name of the projects above it, unless it is set.
func (s *shared) defaultPackage(gradle string) string {
	group := ""
	for dir := path.Dir(path.Join(s.Dir, "x")); ; dir = path.Dir(dir) {
		for _, base := range []string{"settings.gradle.kts", "settings.gradle"} {
			if raw, err := s.Tree.Read(path.Join(dir, base)); err == nil && group == "" {
				if m := rootName.FindStringSubmatch(string(language.Kotlin.Blank(raw))); m != nil {
					group = m[1]
				}
				rel := strings.Trim(strings.TrimPrefix(path.Dir(s.Dir), dir), "/")
				if dir == "." {
					rel = path.Dir(s.Dir)
				}
				if rel != "" && rel != "." && group != "" {
					group += "." + strings.ReplaceAll(rel, "/", ".")
				}
			}
		}
		if dir == "." || group != "" {
			break
		}
	}
	if m := groupLine.FindStringSubmatch(gradle); m != nil {
		group = m[1]
	}
	name := path.Base(s.Dir)
	parts := strings.Split(strings.Trim(group+"."+name, "."), ".")
	for i, p := range parts {
		if parts[i] = strings.ReplaceAll(strings.ToLower(p), "-", "_"); parts[i] != "" && parts[i][0] >= '0' && parts[i][0] <= '9' {
			parts[i] = "_" + parts[i]
		}
	}
	return strings.Join(parts, ".") + ".generated.resources"
}

// findSources puts our code beside the common code that is nearest to the root.
func (s *shared) findSources(gradle string) {
	var files []string
	for _, f := range s.Tree.Under(s.kotlin) {
		if path.Ext(f) == ".kt" && path.Base(f) != composeFile {
			files = append(files, f)
		}
	}
	sort.SliceStable(files, func(i, j int) bool { return strings.Count(files[i], "/") < strings.Count(files[j], "/") })
	s.sources = s.kotlin
	for _, f := range files {
		raw, err := s.Tree.Read(f)
		if err != nil {
			continue
		}
		s.sources = path.Dir(f)
		if m := packageLine.FindStringSubmatch(string(language.Kotlin.Blank(raw))); m != nil {
			s.namespace = m[1]
		}
		return
	}
	if v := newBuild(s.Tree, s.gradle, gradle).find(namespaceIs, packageName.MatchString); v != "" {
		s.namespace, s.sources = v, path.Join(s.kotlin, strings.ReplaceAll(v, ".", "/"))
	}
}

func (s *shared) Title() string { return "Compose Multiplatform " + s.Path() }

func (s *shared) next() string {
	return "build the apps again; Res.font is made by the build (package " + s.resources + ")"
}

func (s *shared) fonts() string {
	return path.Join(s.Dir, "src/commonMain/composeResources/font")
}

func (s *shared) places(job platform.Job) (names, paths []string) {
	names = resourceNames(job.Typed())
	for i, f := range job.Faces {
		at, ok := job.At(f, func(p string) bool { return path.Dir(p) == s.fonts() })
		if ok {
			names[i] = strings.TrimSuffix(path.Base(at), path.Ext(at))
		} else {
			at = path.Join(s.fonts(), names[i]+f.Ext)
		}
		paths = append(paths, at)
	}
	return names, paths
}

// libraryLine is the dependency that the resources need.
const libraryLine = "implementation(compose.components.resources)"

// Plan is each face among the common resources, AppTextStyles.kt among the common
// sources, and the library of the resources among the common dependencies, unless the
// build names it in some way of its own.
func (s *shared) Plan(job platform.Job) (platform.Plan, error) {
	names, paths := s.places(job)
	p := platform.Plan{Next: s.next(), Answer: s.answer, Files: job.Copies(paths), Short: platform.Shortfalls(job, map[string]string{
		platform.PartOutline:  "a TextStyle fills letters or draws their outline, not both",
		platform.PartFixed:    "Compose counts text in sp, which follows the reader's size",
		platform.PartFallback: "a FontFamily of Compose names no other font",
	})}
	if len(job.Faces) > 0 && (!s.known || s.ours()) {
		p.Entries = []edit.Entry{{File: s.gradle, Syntax: source.Lines{}.Name(), Place: source.Block("kotlin", "sourceSets", "commonMain.dependencies"), Value: libraryLine}}
	}
	if len(job.Roles) == 0 {
		return p, nil
	}
	p.Show = func(role string) []platform.Showing { return shown(job, role, composeWay) }
	text, err := s.code(job, names)
	p.Code = []platform.File{platform.Code(path.Join(s.sources, composeFile), text)}
	return p, err
}

// ours says whether the library is named in just the words that ours would be.
func (s *shared) ours() bool {
	doc, err := platform.ReadDocument(s.Tree, s.gradle)
	return err == nil && source.HasLine(doc, libraryLine)
}

func (s *shared) code(job platform.Job, names []string) ([]byte, error) {
	data := newCode(kotlinPackage(s.namespace), job, names)
	list := job.Typed()
	data.Imports = []string{"org.jetbrains.compose.resources.Font", kotlinPackage(s.resources) + ".Res"}
	for _, f := range families(list) {
		data.Families = append(data.Families, kotlinFamily{value(f.plain) + "Family", fontLines(f, list, names)})
	}
	for _, n := range names {
		data.Imports = append(data.Imports, kotlinPackage(s.resources)+"."+n)
	}
	sort.Strings(data.Imports)
	return platform.Render(templates, "AppTextStyles.kt.tmpl", data)
}

// Uses are in the module.
func (s *shared) Uses() (string, []platform.Use) { return s.Dir, uses }

// answer goes by what is, or will be, among the common resources.
func (s *shared) answer(q platform.Question) platform.Answer {
	if q.Use.Kind == platform.UseNetwork {
		return platform.AnswerFetch(q.Typed)
	}
	return answer(s.Tree, s.Dir, q)
}

var sharedFolder = lazy.Regexp(`/composeResources/([fF]onts|Font|FONT)(?:-[\w-]+)?/`)

// Flaws are fonts in a folder that the build does not look in, and weights that are unlike the fonts.
func (s *shared) Flaws(known []platform.Face) ([]platform.Flaw, error) {
	var out []platform.Flaw
	for _, f := range s.Tree.Under(path.Join(s.Dir, "src")) {
		if m := sharedFolder.FindStringSubmatch(f); m != nil && platform.IsFont(f) {
			to := strings.Replace(f, "/"+m[1]+"/", "/font/", 1)
			out = append(out, platform.Flaw{Kind: platform.OutOfPlace, File: f, Subject: f, Message: fmt.Sprintf("%s is no folder of resources", path.Dir(f)),
				Cause: "Res.font is made of composeResources/font alone", Cure: "move it to " + path.Dir(to), Mend: platform.Mending{Moves: []platform.Move{{From: f, To: to}}}})
		}
	}
	out = append(out, weighted(s.Tree, s.Dir, known)...)
	return append(out, unweighted(s.Tree, s.Dir, known)...), nil
}

// Held lists the fonts among the common resources.
func (s *shared) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, f := range s.Tree.Under(s.fonts()) {
		base := path.Base(f)
		name := strings.TrimSuffix(base, path.Ext(base))
		switch {
		case platform.IsFont(f) && legalName(f):
			out = append(out, platform.Held{Manifest: f, Value: "Res.font." + name, File: f, Alias: "font." + name})
		case platform.IsFont(f):
			to := path.Join(path.Dir(f), resourceName(language.Words(name))+strings.ToLower(path.Ext(base)))
			h := platform.Held{Manifest: f, Value: base, File: f, Refused: true, Alias: resourceName(language.Words(name)), Hint: platform.Hint{
				Cause: "Res.font has a member for each file, and a file of such a name is called otherwise there; on Android the build stops", Cure: "rename it to " + path.Base(to)}}
			if !slices.Contains(s.Tree.Named(path.Base(to)), to) {
				h.Mend = platform.Mending{Moves: []platform.Move{{From: f, To: to}}}
			}
			out = append(out, h)
		}
	}
	return out, nil
}

// OwnsEntry says that the library of Compose's resources is entered here.
func (Platform) OwnsEntry(e edit.Entry) bool {
	return e.Syntax == "source" && e.Value == "implementation(compose.components.resources)"
}
