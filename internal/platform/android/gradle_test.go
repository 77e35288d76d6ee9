package android

import (
	"io/fs"
	"path"
	"slices"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/language"
	"notaria/internal/platform"
)

// files is a tree in memory.
type files map[string]string

func (f files) Named(base string) []string {
	return slices.DeleteFunc(f.Under(""), func(n string) bool { return path.Base(n) != base })
}

func (f files) Under(dir string) []string {
	var out []string
	for n := range f {
		if dir == "" || strings.HasPrefix(n, dir+"/") {
			out = append(out, n)
		}
	}
	sort.Strings(out)
	return out
}

func (f files) Read(name string) ([]byte, error) {
	if text, ok := f[name]; ok {
		return []byte(text), nil
	}
	return nil, fs.ErrNotExist
}

func (f files) Glance(name string, _ int64) ([]byte, bool) {
	text, ok := f[name]
	return []byte(text), ok
}

func (files) Reached(string) []string     { return nil }
func (files) Claim(string) platform.Claim { return platform.Unclaimed }

func buildOf(tree files, file string) *build {
	return newBuild(tree, file, string(language.Of(file).Blank([]byte(tree[file]))))
}

func TestNamespaces(t *testing.T) {
	around := files{
		"gradle.properties": "app.ns=com.skerry.props\n", "gradle/libs.versions.toml": "[versions]\nns = \"com.skerry.toml\"\nmin-sdk = \"28\"\n",
		"build.gradle": "ext {\n  appNs = 'com.skerry.ext'\n}\n", "buildSrc/src/main/java/Of.java": "class Of { static final String NS = \"com.skerry.java\"; }\n",
		"build-logic/src/main/kotlin/Of.kt": "object Kt { const val BASE = \"com.skerry\"\n const val NS = \"${BASE}.kt\" }\n",
	}
	for build, want := range map[string]string{
		`android { namespace "a.b" }`: "a.b", "android {\n  namespace 'a.b'\n}": "a.b", `android { namespace("a.b") }`: "a.b", `android { compileSdk 34; namespace = "a.b"; x() }`: "a.b",
		"val id = \"a.b\"\nandroid { namespace = id }": "a.b", "def id = 'a.b'\nandroid { namespace id }": "a.b", `android { namespace = rootProject.ext.appNs }`: "com.skerry.ext",
		`android { namespace = Of.NS }`: "com.skerry.java", `android { namespace = Kt.NS }`: "com.skerry.java", `android { namespace = libs.versions.ns.get() }`: "com.skerry.toml",
		`android { namespace = project.property("app.ns") as String }`: "com.skerry.props", "// namespace = \"a.b\"\nandroid { }": "", `android { sourceNamespace = "a.b" }`: "",
		`android { namespace = unknown.value() }`: "", "val a = b\nval b = a\nandroid { namespace = a }": "", `android { namespace = "${Kt.BASE}.app" }`: "com.skerry.app",
	} {
		tree := files{"app/build.gradle.kts": build}
		for n, text := range around {
			tree[n] = text
		}
		require.Equal(t, want, buildOf(tree, "app/build.gradle.kts").find(namespaceIs, packageName.MatchString), build)
	}
	around["app/build.gradle"] = "android { defaultConfig { minSdkVersion libs.versions.min.sdk.get().toInteger() } }"
	require.Equal(t, "28", buildOf(around, "app/build.gradle").find(minSDKIs, func(v string) bool { return v != "" }))
}

func FuzzBuild(f *testing.F) {
	f.Add("val a = \"${b}x\"\nval b = \"$a\"\nandroid { namespace = a; minSdk = libs.versions.a.get() }", "[plugins]\na-b = { id = \"com.android.application\" }\n")
	f.Fuzz(func(t *testing.T, build, catalog string) {
		b := buildOf(files{"app/build.gradle.kts": build, "gradle/libs.versions.toml": catalog, "gradle.properties": build}, "app/build.gradle.kts")
		if v := b.find(namespaceIs, packageName.MatchString); v != "" {
			require.Regexp(t, packageName, v)
		}
		b.find(minSDKIs, func(v string) bool { return v != "" })
	})
}
