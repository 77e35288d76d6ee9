package javafx

import (
	"cmp"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
)

// A module is what one build file builds, or the plain folder of an IDE's project.
type module struct {
	kit.App
	sources   string // the folder of packages
	resources string // the root of the class path's resources
	pack      string // the package of the app's class, "" for none
	app       string // the source of the app's class
}

// entryAt is where the app passes a scene to the enum.
type entryAt struct{ file, behind, line string }

// mostLooked is how many sources of a module are looked at for an import.
const mostLooked = 4000

var (
	buildsFX = lazy.Regexp(`org\.openjfx|\bjavafx\s*\{|<artifactId>\s*javafx-`)
	android  = lazy.Regexp(`com\.android\.|plugins\.android\b`)
	imports  = map[bool]*lazy.Pattern{false: lazy.Regexp(`(?m)^\s*import\s+(?:static\s+)?javafx\.`), true: lazy.Regexp(`(?m)^\s*import\s+(?:static\s+)?javax\.swing\b`)}
	// appClass is what the class that starts an app looks like.
	appClass    = map[bool]*lazy.Pattern{false: lazy.Regexp(`\bextends\s+Application\b|:\s*Application\s*\(\)`), true: lazy.Regexp(`\bextends\s+JFrame\b|\bvoid\s+main\s*\(|\bfun\s+main\s*\(`)}
	packageLine = lazy.Regexp(`(?m)^\s*package\s+([\w.]+)`)
)

// modules finds the apps of one toolkit.
func modules(tree platform.Tree, swing bool) []*module {
	builds := buildFolders(tree)
	var out []*module
	for _, dir := range slices.Sorted(maps.Keys(builds)) {
		if m := moduleIn(tree, platform.Shown(dir)); m.is(builds, swing) {
			out = append(out, m)
		}
	}
	marked := markedFolders(tree)
	seen, project := map[string]bool{}, map[string]string{} // by folder of a source
	for _, f := range tree.Under("") {
		if _, built := builderOf(builds, f); built || !isSource(f) {
			continue
		}
		dir, known := project[platform.Folder(f)]
		if !known {
			dir = plainFolder(tree, marked, f)
			project[platform.Folder(f)] = dir
		}
		if seen[dir] {
			continue
		}
		seen[dir] = true
		if m := moduleIn(tree, platform.Shown(dir)); m.is(builds, swing) {
			out = append(out, m)
		}
	}
	slices.SortFunc(out, func(a, b *module) int { return cmp.Compare(a.Path(), b.Path()) })
	return out
}

func isSource(f string) bool { return path.Ext(f) == ".java" || path.Ext(f) == ".kt" }

// buildFolders are those with a build file of Maven or Gradle.
func buildFolders(tree platform.Tree) map[string]bool {
	out := map[string]bool{}
	for _, base := range []string{"pom.xml", "build.gradle", "build.gradle.kts"} {
		for _, f := range tree.Named(base) {
			out[platform.Folder(f)] = true
		}
	}
	return out
}

// builderOf is the nearest folder upward of a file that has a build file.
func builderOf(builds map[string]bool, file string) (string, bool) {
	for dir := platform.Folder(file); ; dir = platform.Folder(dir) {
		if builds[dir] {
			return dir, true
		}
		if dir == "" {
			return "", false
		}
	}
}

// markedFolders are those that an IDE marks as projects.
func markedFolders(tree platform.Tree) map[string]bool {
	out := map[string]bool{}
	for _, f := range tree.Under("") {
		switch dir := platform.Folder(f); {
		case path.Base(f) == ".classpath", path.Ext(f) == ".iml":
			out[dir] = true
		case path.Base(f) == "project.xml" && path.Base(dir) == "nbproject":
			out[platform.Folder(dir)] = true
		}
	}
	return out
}

// plainFolder is the folder of the project that a source outside of all builds is in: the
// nearest upward that an IDE marks, else the one that holds src, else the one that the source's package counts from.
func plainFolder(tree platform.Tree, marked map[string]bool, file string) string {
	for dir := platform.Folder(file); ; dir = platform.Folder(dir) {
		if marked[dir] {
			return dir
		}
		if dir == "" {
			break
		}
	}
	if before, _, ok := strings.Cut("/"+file, "/src/"); ok {
		return strings.TrimPrefix(before, "/")
	}
	dir := platform.Folder(file)
	if raw, ok := tree.Glance(file, platform.MostSource); ok {
		if p := packageLine.FindSubmatch(language.Of(file).Blank(raw)); p != nil {
			if root, whole := strings.CutSuffix("/"+dir, "/"+strings.ReplaceAll(string(p[1]), ".", "/")); whole {
				return strings.TrimPrefix(root, "/")
			}
		}
	}
	return dir
}

// moduleIn looks at the app in a folder.
func moduleIn(tree platform.Tree, folder string) *module {
	m := &module{App: kit.App{Base: platform.Base{Tree: tree, Dir: platform.Plain(folder)}}}
	under := func(dir string) bool { return len(tree.Under(path.Join(m.Dir, dir))) > 0 }
	m.sources, m.resources = path.Join(m.Dir, "src/main/java"), path.Join(m.Dir, "src/main/resources")
	if m.Beside("pom.xml") == "" && m.Beside("build.gradle") == "" && m.Beside("build.gradle.kts") == "" && !under("src/main") {
		m.sources = m.Dir
		if under("src") {
			m.sources = path.Join(m.Dir, "src")
		}
		m.resources = m.sources // an IDE copies what is no source beside the classes
		for _, dir := range []string{"resources", "res"} {
			if under(dir) {
				m.resources = path.Join(m.Dir, dir)
			}
		}
	}
	return m
}

// is says whether the module is an app of a toolkit, and not of JavaFX with parts of Swing if Swing's are looked for.
func (m *module) is(builds map[string]bool, swing bool) bool {
	if !m.serves(builds, swing) {
		return false
	}
	return !swing || !moduleIn(m.Tree, m.Path()).serves(builds, false)
}

// serves says whether the module is an app of a toolkit, and finds its class.
func (m *module) serves(builds map[string]bool, swing bool) bool {
	text := ""
	for _, base := range []string{"pom.xml", "build.gradle", "build.gradle.kts"} {
		if f := m.Beside(base); f != "" {
			raw, err := m.Tree.Read(f)
			if err != nil {
				return false
			}
			if l := language.Of(f); l != nil {
				raw = l.Blank(raw)
			}
			text += string(raw)
		}
	}
	if android.MatchString(text) {
		return false
	}
	uses := !swing && buildsFX.MatchString(text)
	looked, best, starts := 0, 0, false
	for _, f := range m.Tree.Under(m.Dir) {
		rel, _ := m.Rel(f)
		if !isSource(f) || strings.HasPrefix(rel, "src/test/") {
			continue
		}
		if b, _ := builderOf(builds, f); len(b) > len(m.Dir) {
			continue // another module's
		}
		if looked++; looked > mostLooked {
			break
		}
		raw, ok := m.Tree.Glance(f, platform.MostSource)
		if !ok || !language.MayMatch(imports[swing], raw) || platform.IsGenerated(raw) {
			continue // what Notaria made is no app's own
		}
		clean := language.Of(f).Blank(raw)
		if !imports[swing].Match(clean) {
			continue
		}
		uses = true
		// The class that starts the app tells the package; else the first one does.
		if rank := 1 + len(language.Matches(appClass[swing], clean, 1)); rank > best {
			starts = rank > 1
			best, m.app, m.pack = rank, f, ""
			if p := packageLine.FindSubmatch(clean); p != nil {
				m.pack = string(p[1])
			}
		}
	}
	return uses && starts // a library of controls starts none
}

// Ways in which an app makes a scene, on a line of its own: Java and Kotlin, kept in a
// variable or given to the stage at once.
var sceneLines = []struct {
	pattern *lazy.Pattern
	line    string
}{
	{lazy.Regexp(`(?m)^[ \t]*((?:final[ \t]+)?(?:(?:var|Scene)[ \t]+|this\.)?(\w+)[ \t]*=[ \t]*new[ \t]+Scene\(.*\);)[ \t]*\r?$`), fxClass + ".dress($2);"},
	{lazy.Regexp(`(?m)^[ \t]*((\w+)\.setScene\(new[ \t]+Scene\(.*\)\);)[ \t]*\r?$`), fxClass + ".dress($2.getScene());"},
	{lazy.Regexp(`(?m)^[ \t]*((?:va[lr][ \t]+)(\w+)[ \t]*=[ \t]*Scene\(.*\))[ \t]*\r?$`), fxClass + ".dress($2)"},
	{lazy.Regexp(`(?m)^[ \t]*((\w+)\.scene[ \t]*=[ \t]*Scene\(.*\))[ \t]*\r?$`), fxClass + ".dress($2.scene)"},
}

// sceneLine finds where the app's class makes its scene.
func (m *module) sceneLine() entryAt {
	if m.app == "" {
		return entryAt{}
	}
	raw, err := m.Tree.Read(m.app)
	if err != nil {
		return entryAt{}
	}
	clean := language.Of(m.app).Blank(raw)
	for _, l := range sceneLines {
		if g := l.pattern.FindSubmatchIndex(clean); g != nil {
			return entryAt{m.app, string(clean[g[2]:g[3]]), string(l.pattern.Expand(nil, []byte(l.line), clean, g))}
		}
	}
	return entryAt{}
}
