package android

import (
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
)

// build is a module's build file as it is read: without comments, each alias of a version catalog
// replaced by the plugin's id, and the places in which its values may be set.
type build struct {
	tree platform.Tree
	dir  string // of the module
	text string
	all  bool // places is known
	// places are texts in which a value may be set: the module's own file, then those of the
	// folders above it and of the project's own plugins.
	places []string
	steps  int // that looking for values took
}

var (
	aliasCall     = lazy.Regexp(`\balias\s*\(?\s*(libs|[a-z]\w*)\.plugins\.([\w.]+)\s*\)?`)
	catalogPlugin = lazy.Regexp(`(?m)^\s*([\w-]+)\s*=\s*(?:\{[^}\n]*\bid\s*=\s*"([\w.-]+)"|"([\w.-]+):)`)
	catalogValue  = lazy.Regexp(`(?m)^\s*([\w-]+)\s*=\s*"([^"\n]*)"`)
	catalogGet    = lazy.Regexp(`^(?:libs|[a-z]\w*)\.versions\.([\w.]+?)(?:\.asProvider\(\))?\.get\(\)`)
	plainText     = lazy.Regexp(`^(?:"((?:[^"\\\n$]|\$\{?[\w.]+\}?)*)"|'([^'\\\n]*)')`)
	insertion     = lazy.Regexp(`\$(?:\{([\w.]+)\}|(\w+))`)
	nameOfValue   = lazy.Regexp(`^(?:[A-Za-z_]\w*\.)*([A-Za-z_]\w*)`)
	property      = lazy.Regexp(`^(?:(?:root)?[pP]roject\.)?(?:findProperty|property|providers\.gradleProperty)\s*\(\s*["']([\w.]+)["']`)
)

// Bounds of what is looked for in a build.
const (
	mostPlaces = 64
	mostText   = 1 << 20 // bytes of the places together
	valueDepth = 4
	mostSteps  = 60
)

// newBuild reads a module's build file, whose text has no comments any more.
func newBuild(tree platform.Tree, file, text string) *build {
	b := &build{tree: tree, dir: platform.Folder(file), text: text}
	plugins := b.catalog(catalogPlugin)
	b.text = aliasCall.ReplaceAllStringFunc(text, func(call string) string {
		m := aliasCall.FindStringSubmatch(call)
		if id := plugins[m[2]]; id != "" {
			return `id("` + id + `")`
		}
		return call
	})
	return b
}

// catalog are the names of the version catalogs above a module with what a pattern finds, by the
// name as build files write it: with dots.
func (b *build) catalog(pattern *lazy.Pattern) map[string]string {
	out := map[string]string{}
	for dir := b.dir; ; dir = path.Dir(dir) {
		if raw, err := b.tree.Read(path.Join(dir, "gradle/libs.versions.toml")); err == nil {
			for _, m := range pattern.FindAllStringSubmatch(string(raw), -1) {
				name := strings.NewReplacer("-", ".", "_", ".").Replace(m[1])
				if _, ok := out[name]; !ok {
					out[name] = m[2] + strings.Join(m[3:], "")
				}
			}
		}
		if dir == "" || dir == "." {
			return out
		}
	}
}

// texts are the places in which a value of the build may be set.
func (b *build) texts() []string {
	if b.all {
		return b.places
	}
	b.all, b.places = true, []string{b.text}
	room := mostText
	add := func(file string) {
		if raw, ok := b.tree.Glance(file, mostText/4); ok && len(b.places) < mostPlaces && len(raw) < room {
			room -= len(raw)
			if l := language.Of(file); l != nil {
				raw = l.Blank(raw)
			}
			b.places = append(b.places, string(raw))
		}
	}
	for dir := b.dir; ; dir = path.Dir(dir) {
		for _, base := range []string{"gradle.properties", "build.gradle", "build.gradle.kts", "settings.gradle", "settings.gradle.kts"} {
			if at := path.Join(dir, base); slices.Contains(b.tree.Named(base), at) {
				add(at)
			}
		}
		for _, own := range []string{"buildSrc", "build-logic", "gradle"} {
			for _, f := range b.tree.Under(path.Join(dir, own)) {
				if ext := path.Ext(f); ext == ".kt" || ext == ".kts" || ext == ".java" || ext == ".gradle" || ext == ".groovy" {
					add(f)
				}
			}
		}
		if dir == "" || dir == "." {
			return b.places
		}
	}
}

// value is what an expression of a build file stands for: a text, a text with a name in it, a name
// that is set to a text or a number, a property, or a version of the catalog; "" if it cannot be told.
func (b *build) value(expression string, depth int) string {
	expression = strings.TrimSpace(expression)
	if b.steps++; depth == 0 || expression == "" || b.steps > mostSteps {
		return ""
	}
	if m := plainText.FindStringSubmatch(expression); m != nil {
		if m[2] != "" {
			return m[2]
		}
		known := true
		out := insertion.ReplaceAllStringFunc(m[1], func(v string) string {
			m := insertion.FindStringSubmatch(v)
			w := b.value(m[1]+m[2], depth-1)
			known = known && w != ""
			return w
		})
		if !known {
			return ""
		}
		return out
	}
	if m := catalogGet.FindStringSubmatch(expression); m != nil {
		return b.catalog(catalogValue)[m[1]]
	}
	if expression[0] >= '0' && expression[0] <= '9' {
		return digits.FindString(expression)
	}
	name := ""
	if m := property.FindStringSubmatch(expression); m != nil {
		name = m[1]
	} else if m := nameOfValue.FindStringSubmatch(expression); m != nil {
		name = m[1]
	}
	if name == "" {
		return ""
	}
	set := lazy.Regexp(`(?m)(?:^|[\s.\["'])` + regexp.QuoteMeta(name) + `["']?\]?\s*(?::\s*\w+\s*)?[=,]\s*(["'][^\n]*|[\w.]+[^\n]*)`)
	for _, text := range b.texts() {
		for _, m := range set.FindAllStringSubmatch(text, 4) {
			if strings.TrimSpace(m[1]) == expression {
				continue
			}
			if v := b.value(m[1], depth-1); v != "" {
				return v
			}
			if word := bareValue.FindString(m[1]); word == strings.TrimSpace(m[1]) && strings.Contains(word, ".") {
				return word // of gradle.properties, which has no quotes
			}
		}
	}
	return ""
}

var (
	digits      = lazy.Regexp(`^\d+`)
	bareValue   = lazy.Regexp(`^[A-Za-z_][\w.]*`)
	namespaceIs = lazy.Regexp(`(?m)(?:^|[;{\s])(?:namespace|setNamespace)(?:\s*=\s*|\s*\(\s*|[ \t]+)((?:"[^"\n]*"|'[^'\n]*'|[^\n;}"'])+)`)
	minSDKIs    = lazy.Regexp(`(?m)(?:^|[;{\s])(?:minSdk|setMinSdk)(?:Version)?(?:\s*=\s*|\s*\(\s*|[ \t]+)((?:"[^"\n]*"|'[^'\n]*'|[^\n;}"'])+)`)
	packageName = lazy.Regexp(`^[A-Za-z_]\w*(?:\.[A-Za-z_]\w*)*$`)
	sourceLine  = lazy.Regexp(`(?m)^\s*package\s+([A-Za-z_]\w*(?:\.[A-Za-z_]\w*)*)`)
)

// find is the first value of a statement that can be told.
func (b *build) find(statement *lazy.Pattern, ok func(string) bool) string {
	for _, m := range statement.FindAllStringSubmatch(b.text, 8) {
		if v := b.value(m[1], valueDepth); ok(v) {
			return v
		}
	}
	return ""
}

// namespacesKey is the option that names namespaces which are set where they are not seen.
const namespacesKey = "namespaces"

// findNamespace is a module's namespace: as the build file says it, or as an option does, or as the
// manifest names its package.
func (s *site) findNamespace(b *build, opt platform.Options) (string, error) {
	if v := b.find(namespaceIs, packageName.MatchString); v != "" {
		return v, nil
	}
	for _, line := range opt.List(namespacesKey) {
		if dir, name, ok := strings.Cut(line, ":"); ok && path.Clean(strings.TrimSpace(dir)) == s.Path() && packageName.MatchString(strings.TrimSpace(name)) {
			return strings.TrimSpace(name), nil
		}
	}
	offered := "com.example.app"
	for _, at := range []string{path.Join(s.Dir, "src/main/AndroidManifest.xml"), path.Join(s.Dir, "AndroidManifest.xml")} {
		if raw, err := s.Tree.Read(at); err == nil {
			if m := manifest.FindStringSubmatch(string(raw)); m != nil {
				return m[1], nil
			}
		}
	}
	if p := s.sourcesPackage(); p != "" {
		offered = p
	}
	found := "neither"
	if m := namespaceIs.FindStringSubmatch(b.text); m != nil {
		found = "namespace = " + face.Short(strings.TrimSpace(m[1])) + ", whose value is not seen"
	}
	return "", platform.Refuse(s.gradle, `a line namespace = "…", or a package in the manifest`, found,
		fmt.Sprintf(`write the namespace into the android block, or, where a plugin of the project sets it, name it: %s = ["%s: %s"] under [target.android]`, namespacesKey, s.Path(), offered))
}

// sourcesPackage is the package of the module's sources that is nearest to the root, "" if there
// are none.
func (s *site) sourcesPackage() string {
	best := ""
	for _, dir := range []string{s.java, path.Join(s.Dir, "src/main/java"), path.Join(s.Dir, "src/main/kotlin")} {
		for i, f := range s.Tree.Under(dir) {
			if ext := path.Ext(f); i > mostPlaces || ext != ".kt" && ext != ".java" || slices.Contains(generated, path.Base(f)) {
				continue
			}
			if raw, err := s.Tree.Read(f); err == nil {
				if m := sourceLine.FindStringSubmatch(string(language.Of(f).Blank(raw))); m != nil && (best == "" || strings.Count(m[1], ".") < strings.Count(best, ".")) {
					best = m[1]
				}
			}
		}
	}
	return best
}

// A library is what loads fonts for older devices.
type library string

const (
	androidX library = "androidx"
	support  library = "android.support.v4"
	noneOf   library = "" // the platform's own calls alone
)

var (
	usesAndroidX   = lazy.Regexp(`\bandroidx[.:]|com\.google\.android\.material|libs\.(?:[\w.]*androidx|[\w.]*(?:appcompat|material|core\.ktx|activity|compose))`)
	usesSupport    = lazy.Regexp(`com\.android\.support:[\w-]+:([^"'\s]+)`)
	importsSupport = lazy.Regexp(`\bandroid\.support\.(?:v4|v7|annotation|design|constraint)\b`)
	enablesX       = lazy.Regexp(`(?m)^\s*android\.useAndroidX\s*=\s*true\b`)
)

// supportFonts is the first version of the support library that loads fonts.
const supportFonts = 26

// findLibrary finds what a module can call: AndroidX, the support library before it, or neither.
func (s *site) findLibrary(b *build) library {
	switch m := usesSupport.FindStringSubmatch(b.text); {
	case usesAndroidX.MatchString(b.text) || s.compose:
		return androidX
	case m != nil:
		major := 0
		if _, err := fmt.Sscan(digits.FindString(b.value(`"`+m[1]+`"`, valueDepth)), &major); err == nil && major < supportFonts {
			return noneOf
		}
		return support
	}
	for i, f := range s.Tree.Under(path.Join(s.Dir, "src")) {
		if ext := path.Ext(f); i > 2000 || ext != ".kt" && ext != ".java" && ext != ".xml" || slices.Contains(generated, path.Base(f)) {
			continue
		}
		if raw, ok := s.Tree.Glance(f, platform.MostSource); ok {
			switch text := string(raw); {
			case strings.Contains(text, "import androidx.") || strings.Contains(text, "<androidx."):
				return androidX
			case importsSupport.MatchString(text):
				return support
			}
		}
	}
	if slices.ContainsFunc(b.texts(), enablesX.MatchString) {
		return androidX
	}
	return noneOf
}
