package android

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// Kinds of uses.
const (
	useAsset    = "asset"    // the path of an asset
	useResource = "resource" // the name of a resource
	useFamily   = "family"   // a name that only families of the system have
	useRole     = "role"     // a text appearance of ours
	useOver     = "over"     // a font that an element with a role sets itself
)

var (
	codeLanguages = []*language.Language{language.Kotlin, language.Java}
	xmlOnly       = []*language.Language{language.XML}
	// textStyle asks for a style in the same element.
	textStyle = lazy.Regexp(`\bandroid:textStyle\s*=\s*["']([\w|]+)["']`)
)

var uses = []platform.Use{
	{Languages: codeLanguages, Kind: useResource, Pattern: lazy.Regexp(`\bR(?:es)?\.font\.([A-Za-z_]\w*)`)},
	{Languages: xmlOnly, Kind: useResource, Styles: textStyle, Bracket: '<', Pattern: lazy.Regexp(`@font/([^"'<\s]+)`)},
	{Languages: codeLanguages, Kind: useAsset, Pattern: lazy.Regexp(`\bcreateFromAsset\s*\([^",]*,\s*"((?:[^"\\\n]|\\.)*)"`)},
	{Languages: codeLanguages, Kind: useAsset, Named: true, Pattern: lazy.Regexp(`\bcreateFromAsset\s*\([^",]*,\s*([A-Za-z_][\w.]*)\s*\)`)},
	{Languages: xmlOnly, Kind: useFamily, Pattern: lazy.Regexp(`\b(?:android|app):fontFamily\s*=\s*["']([^"'@?{][^"']*)["']`)},
	{Languages: xmlOnly, Kind: useFamily, Pattern: lazy.Regexp(`<item\s+name\s*=\s*["'](?:android:)?fontFamily["']\s*>\s*([^<@?\s][^<]*?)\s*</item>`)},
	{Languages: codeLanguages, Kind: useFamily, Pattern: lazy.Regexp(`\bTypeface\.create\s*\(\s*"((?:[^"\\\n]|\\.)*)"`)},
	{Languages: codeLanguages, Kind: useFamily, Named: true, Pattern: lazy.Regexp(`\bTypeface\.create\s*\(\s*([A-Za-z_][\w.]*)\s*,`)},
	{Languages: xmlOnly, Kind: platform.UseNetwork, Pattern: lazy.Regexp(`<font-family\s(?:[^<>]*\s)?((?:android|app):fontProviderAuthority)\s*=`)},
	{Languages: codeLanguages, Kind: platform.UseNetwork, Pattern: lazy.Regexp(`\b(FontRequest|GoogleFont\.Provider)\s*\(\s*(?:providerAuthority\s*=\s*)?"`)},
	{Languages: xmlOnly, Kind: useRole, Pattern: lazy.Regexp(`@style/(TextAppearance\.AppType(?:\.\w+)?)`)},
	{Languages: xmlOnly, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w.]*\s(?:[^<>]*\s)?android:textAppearance\s*=\s*["']@style/TextAppearance\.AppType\.\w+["'](?:[^<>]*?\s)?(?:android|app):fontFamily\s*=\s*["']([^"'<>]*)["']`)},
	{Languages: xmlOnly, Kind: useOver, Pattern: lazy.Regexp(`<\w[\w.]*\s(?:[^<>]*?\s)?(?:android|app):fontFamily\s*=\s*["']([^"'<>]*)["'](?:[^<>]*\s)?android:textAppearance\s*=\s*["']@style/TextAppearance\.AppType\.`)},
}

// Uses are in the module.
func (s *site) Uses() (string, []platform.Use) { return s.Dir, uses }

var projectCall = lazy.Regexp(`\bproject\s*\(\s*(?:path\s*[:=]\s*)?["'](:[\w:.-]+)["']`)

// Shares are the library modules that the app is built with: a module has the resources of those that use it in one
// build. That of a path with colons is the folder of that path, unless the settings say otherwise.
func (s *site) Shares() []platform.Share {
	root := s.root()
	dirs := platform.Reach(s.Dir, func(dir string) []string {
		var out []string
		for _, base := range []string{"build.gradle.kts", "build.gradle"} {
			raw, err := s.Tree.Read(path.Join(dir, base))
			if err != nil {
				continue
			}
			for _, m := range projectCall.FindAllSubmatch(language.Kotlin.Blank(raw), mostFonts) {
				out = append(out, path.Join(root, strings.ReplaceAll(string(m[1][1:]), ":", "/")))
			}
		}
		return out
	})
	dirs = slices.DeleteFunc(dirs, func(dir string) bool { return !s.isLibrary(dir) })
	return platform.Sharing(s.Tree, s.Dir, dirs, platform.PlainUses(uses, useResource, useFamily, useRole, useOver))
}

// root is the folder of the settings that the module is of.
func (s *site) root() string {
	for dir := s.Dir; ; dir = platform.Folder(dir) {
		for _, base := range []string{"settings.gradle.kts", "settings.gradle"} {
			if slices.Contains(s.Tree.Named(base), path.Join(dir, base)) {
				return dir
			}
		}
		if dir == "" {
			return dir
		}
	}
}

func (s *site) isLibrary(dir string) bool {
	for _, base := range []string{"build.gradle.kts", "build.gradle"} {
		if raw, err := s.Tree.Read(path.Join(dir, base)); err == nil && applies(libraryPlugin, newBuild(s.Tree, path.Join(dir, base), string(language.Kotlin.Blank(raw))).text) {
			return true
		}
	}
	return false
}

// answer goes by what is, or will be, among the module's resources and assets.
func (s *site) answer(q platform.Question) platform.Answer {
	switch q.Use.Kind {
	case platform.UseNetwork:
		return platform.AnswerFetch(q.Typed)
	case useFamily:
		return s.answerFamily(q)
	case useRole:
		return s.answerRole(q)
	case useOver:
		of := q
		of.Typed = strings.TrimPrefix(q.Typed, "@font/")
		if of.Typed != q.Typed && len(s.leads(of)) > 0 {
			return platform.Answer{} // the role's own family, most likely
		}
		return platform.Answer{Fault: platform.OverRole, Message: fmt.Sprintf("a font of its own, %s, is set beside a role", face.Short(q.Typed)), Cause: "what an element sets itself wins over its text appearance", Cure: "take it out, or the role"}
	}
	a := answer(s.Tree, s.Dir, q)
	if q.Use.Kind != useResource {
		return a
	}
	if a.Fault != platform.Fine {
		return a
	}
	if set := s.onlyIn(q); set != "" {
		return platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("the font resource %q is in src/%s alone", face.Short(q.Typed), set),
			Cause: "the app is built without it in every other variant", Cure: "move it to src/main/res/font"}
	}
	a.Leads = s.leads(q)
	return a
}

// setOf is the source set that a file is in, "" if it is in none.
func (s *site) setOf(file string) string {
	rel, ok := platform.Below(path.Join(s.Dir, "src"), file)
	set, _, more := strings.Cut(rel, "/")
	if !ok || !more {
		return ""
	}
	return set
}

// variants are the source sets that only one build type or one kind of tests has.
var variants = []string{"debug", "release", "test", "androidTest", "testFixtures", "benchmark"}

// onlyIn is the source set in which a resource is, where it is in one alone that the file which asks
// for it is built without; "" if it is in others too.
func (s *site) onlyIn(q platform.Question) string {
	if slices.Contains(variants, s.setOf(q.File)) {
		return ""
	}
	only := ""
	files := q.Once("android fonts", func() []string {
		var out []string
		for _, f := range s.Tree.Under("") {
			if path.Base(path.Dir(f)) == "font" {
				out = append(out, f)
			}
		}
		for _, f := range q.Plan.All() {
			if path.Base(path.Dir(f.Path)) == "font" {
				out = append(out, f.Path)
			}
		}
		return out
	})
	for _, f := range files {
		if strings.TrimSuffix(path.Base(f), path.Ext(f)) != q.Typed {
			continue
		}
		set := s.setOf(f)
		if !slices.Contains(variants, set) || only != "" && only != set {
			return ""
		}
		only = set
	}
	return only
}

var fontReference = lazy.Regexp(`@font/(\w+)`)

// leads are the faces that a resource's name leads to.
func (s *site) leads(q platform.Question) []platform.Face {
	var out []platform.Face
	add := func(name string) {
		for _, f := range q.Faces {
			if path.Base(path.Dir(f.File)) == "font" && strings.TrimSuffix(path.Base(f.File), path.Ext(f.File)) == name {
				out = append(out, f)
			}
		}
		for _, w := range q.Plan.Files {
			for _, id := range w.Recipe.Faces() {
				if strings.TrimSuffix(path.Base(w.Path), path.Ext(w.Path)) == name {
					out = append(out, platform.FaceOf(q.Faces, id)...)
				}
			}
		}
	}
	add(q.Typed)
	for _, f := range s.Tree.Named(q.Typed + ".xml") {
		if path.Base(path.Dir(f)) != "font" {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok {
			for _, m := range fontReference.FindAllSubmatch(raw, mostFonts) {
				add(string(m[1]))
			}
		}
	}
	return out
}

// mostFonts is how many fonts of one family's file are looked at.
const mostFonts = 100

// answerFamily judges a name that Android looks for among its own families.
func (s *site) answerFamily(q platform.Question) platform.Answer {
	if slices.Contains(q.System, q.Typed) || strings.ContainsAny(q.Typed, "$") || q.Typed == "" {
		return platform.Answer{}
	}
	names := q.Once("android "+useResource+" "+s.Dir, func() []string {
		of := q
		of.Use.Kind = useResource
		return fontNames(s.Tree, s.Dir, of)
	})
	near := ""
	typed := language.Snake(language.Words(strings.TrimSuffix(q.Typed, path.Ext(q.Typed))))
	for _, n := range names {
		if n == typed {
			near = n
		}
	}
	for _, f := range q.Faces {
		if near == "" && (q.Typed == f.ID() || q.Typed == f.Full || q.Typed == f.Family) {
			near = platform.Nearest(language.Snake(language.Words(f.ID())), names)
		}
	}
	if near == "" {
		near = platform.Nearest(typed, names)
	}
	if near == "" && installed.Has(q.Typed, installed.Android) {
		return platform.Answer{}
	}
	a := platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("Android has no family %q", face.Short(q.Typed)),
		Cause: "a name without @font/ is looked for among the system's families alone; Android reports nothing and shows its own font", Cure: "put the font into res/font, and write @font/ and its name"}
	if platform.LooksLikeFont(q.Typed) {
		a.Fault, a.Message = platform.FileAsName, fmt.Sprintf("%q is a file's name, not a family's", face.Short(q.Typed))
	}
	if near != "" && slices.Contains(q.Use.Languages, language.XML) {
		a.Instead, a.Cure = "@font/"+near, platform.Choose("@font/"+near, nil)
	} else if near != "" {
		a.Cure = fmt.Sprintf("write ResourcesCompat.getFont(context, R.font.%s)", near)
	}
	return a
}

// answerRole judges the name of a text appearance, which is ours by what is in front.
func (s *site) answerRole(q platform.Question) platform.Answer {
	var names []string
	for _, f := range q.Plan.Code {
		if t, ok := f.Recipe.(platform.Text); ok && path.Ext(f.Path) == ".xml" {
			for _, m := range styleName.FindAllSubmatch(t.Content, mostStyles) {
				names = append(names, string(m[1]))
			}
		}
	}
	if len(names) == 0 || slices.Contains(names, q.Typed) {
		return platform.Answer{}
	}
	near := platform.Nearest(q.Typed, names)
	return platform.Answer{Fault: platform.NoSuchRole, Message: fmt.Sprintf("there is no style %q", face.Short(q.Typed)), Cause: "the build stops: the resource is not there", Cure: platform.Choose(near, names), Instead: near}
}

var styleName = lazy.Regexp(`<style\s+name\s*=\s*"([^"]+)"`)

const mostStyles = 1000

// fontNames are the names of the resources or assets that there are, or will be.
func fontNames(tree platform.Tree, dir string, q platform.Question) []string {
	files := slices.Clone(tree.Under(dir))
	if q.Use.Kind == useResource { // a module has the resources of the libraries that it uses
		files = slices.Clone(tree.Under(""))
	}
	for _, f := range q.Plan.All() {
		files = append(files, f.Path)
	}
	var names []string
	for _, f := range files {
		switch _, at, asset := strings.Cut(f, "/assets/"); {
		case q.Use.Kind == useResource && (path.Base(path.Dir(f)) == "font" || badFolder.MatchString(f) || sharedFolder.MatchString(f)): // the latter are findings of their own
			name := strings.TrimSuffix(path.Base(f), path.Ext(f))
			if !legalName(f) { // its name is a finding of its own
				name = resourceName(language.Words(name))
			}
			names = append(names, name)
		case q.Use.Kind == useAsset && asset && platform.IsFont(f):
			names = append(names, at)
		}
	}
	return names
}

func answer(tree platform.Tree, dir string, q platform.Question) platform.Answer {
	names := q.Once("android "+q.Use.Kind+" "+dir, func() []string { return fontNames(tree, dir, q) })
	if q.Use.Kind == useResource {
		return platform.AnswerResource(q, names, fmt.Sprintf("there is no font resource %q", q.Typed), "nothing of that name is in res/font, so the build or the layout fails")
	}
	if slices.Contains(names, q.Typed) {
		return platform.Answer{}
	}
	near := platform.Nearest(q.Typed, names)
	if at := platform.Strayed(q.Typed, names); at != "" {
		near = at
	}
	a := platform.Answer{Fault: platform.NoSuchThing, Message: fmt.Sprintf("there is no asset %q", face.Short(q.Typed)), Instead: near,
		Cause: "createFromAsset throws when the path or its capitals differ", Cure: "use the role's face from AppType instead"}
	if len(names) > 0 {
		a.Cure = platform.Choose(near, names)
	}
	return a
}
