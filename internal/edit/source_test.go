package edit_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/edit"
	"notaria/internal/edit/source"
	"notaria/internal/language"
	"notaria/internal/platform/apple/xcode"
)

const sourceFile = "app/Main.kt"

func sourceEntry(place edit.Place, value string) Entry {
	return Entry{File: sourceFile, Syntax: SyntaxSource, Place: place, Value: value}
}

func TestSourceShapes(t *testing.T) {
	start := sourceEntry(source.After("super.onCreate()"), "Harbour.open(this)")
	library := sourceEntry(source.Block("kotlin", "sourceSets", "commonMain.dependencies"), "implementation(boats)")
	simple := sourceEntry(source.Block("dependencies"), "implementation(boats)")
	use := sourceEntry(source.Import(), "import harbour.Quay")
	app := "package a\n\nimport b.C\nimport z.Z\n\nclass App {\n    override fun onCreate() {\n        super.onCreate()\n        other()\n    }\n}\n"
	for name, tt := range map[string]struct {
		doc, want string
		list      []Entry
	}{
		"a statement and an import": {app, strings.NewReplacer("import z.Z", "import harbour.Quay\nimport z.Z", "onCreate()\n        other", "onCreate()\n        Harbour.open(this)\n        other").Replace(app), []Entry{use, start}},
		"the first import":          {"package a\n\nclass App\n", "package a\n\nimport harbour.Quay\n\nclass App\n", []Entry{use}},
		"no package":                {"class App\n", "import harbour.Quay\n\nclass App\n", []Entry{use}},
		"the last import":           {"import a.A\nclass App\n", "import a.A\nimport harbour.Quay\nclass App\n", []Entry{use}},
		"a block in blocks": {"kotlin {\n  sourceSets {\n    // dependencies {\n    commonMain.dependencies {\n      api(x) // }\n    }\n  }\n}\n",
			"kotlin {\n  sourceSets {\n    // dependencies {\n    commonMain.dependencies {\n      api(x) // }\n      implementation(boats)\n    }\n  }\n}\n", []Entry{library}},
		"braces in strings": {"dependencies {\n  api('a:{b') // '\n  x(\"\"\"\n } \" {{\n\"\"\")\n  y('}', \"}\")\n}\n", "dependencies {\n  api('a:{b') // '\n  x(\"\"\"\n } \" {{\n\"\"\")\n  y('}', \"}\")\n  implementation(boats)\n}\n", []Entry{simple}},
		"an empty block":    {"dependencies {\n}\n", "dependencies {\n    implementation(boats)\n}\n", []Entry{simple}},
		"tabs and CRLF":     {"dependencies {\r\n\tapi(x)\r\n}\r\n", "dependencies {\r\n\tapi(x)\r\n\timplementation(boats)\r\n}\r\n", []Entry{simple}},
	} {
		t.Run(name, func(t *testing.T) {
			thereAndBack(t, SyntaxSource, []byte(tt.doc), tt.list, func(out []byte) { require.Equal(t, tt.want, string(out)) })
		})
	}
}

// What has to stand first in a script, a style sheet or a component stays first.
func TestSourceFirst(t *testing.T) {
	for name, tt := range map[string]struct{ file, doc, want, line string }{
		"an empty script":        {"a.js", "", `L`, "L"},
		"directives and imports": {"a.tsx", "#!/usr/bin/env node\n'use client'\n\nimport a, {\n  b,\n} from './b' // c\nimport j from './j.json' with { type: 'json' };\n\nconst x = import('y')\n", "#!/usr/bin/env node\n'use client'\n\nimport a, {\n  b,\n} from './b' // c\nimport j from './j.json' with { type: 'json' };\nL\n\nconst x = import('y')\n", "L"},
		"a licence first":        {"a.js", "/* import x from 'y' */\n\nf();\n", "/* import x from 'y' */\n\nL\nf();\n", "L"},
		"a comment of its own":   {"a.js", "// what f does\nf();\n", "L\n// what f does\nf();\n", "L"},
		"no end":                 {"a.js", "import 'x'", "import 'x'\nL", "L"},
		"CRLF":                   {"a.ts", "import 'x'\r\n\r\nf()\r\n", "import 'x'\r\nL\r\n\r\nf()\r\n", "L"},
		"rules of a style sheet": {"a.css", "@charset \"utf-8\";\n@layer a, b;\n@import url(x.css) layer(a);\n@layer a { p {} }\n", "@charset \"utf-8\";\n@layer a, b;\n@import url(x.css) layer(a);\nL\n@layer a { p {} }\n", "L"},
		"Sass without braces":    {"a.sass", "@use 'a'\n\nbody\n  margin: 0\n", "@use 'a'\nL\n\nbody\n  margin: 0\n", "L"},
		"Vue":                    {"a.vue", "<template>\n  <p/>\n</template>\n\n<script setup lang=\"ts\">\nimport a from 'a'\n</script>\n", "<template>\n  <p/>\n</template>\n\n<script setup lang=\"ts\">\nimport a from 'a'\nL\n</script>\n", "L"},
		"Astro":                  {"a.astro", "---\nconst a = 'b'\n---\n<p/>\n", "---\nL\nconst a = 'b'\n---\n<p/>\n", "L"},
		"Astro without a script": {"a.astro", "<p/>\n", "---\nL\n---\n<p/>\n", "L"},
	} {
		t.Run(name, func(t *testing.T) {
			e := Entry{File: tt.file, Syntax: SyntaxSource, Place: source.First(), Value: tt.line}
			out, mine, err := Reconcile(tt.file, SyntaxSource, []byte(tt.doc), []Entry{e}, nil)
			require.NoError(t, err)
			require.Equal(t, strings.TrimSuffix(tt.want, map[bool]string{true: "", false: "\n"}[strings.HasSuffix(tt.want, "\n")]), strings.TrimSuffix(string(out), map[bool]string{true: "\n", false: ""}[tt.doc == ""]))
			again, _, err := Reconcile(tt.file, SyntaxSource, out, []Entry{e}, mine)
			require.NoError(t, err)
			require.Equal(t, string(out), string(again))
			back, _, err := Reconcile(tt.file, SyntaxSource, out, nil, mine)
			require.NoError(t, err)
			require.Equal(t, tt.doc, string(back))
		})
	}
	_, _, err := Reconcile("a.vue", SyntaxSource, []byte("<template/>\n"), []Entry{{File: "a.vue", Syntax: SyntaxSource, Place: source.First(), Value: "L"}}, nil)
	require.ErrorContains(t, err, "expected a script in the component")
	_, _, err = Reconcile("a.ts", SyntaxSource, []byte("export default f({ a: 1 })\n"), []Entry{{File: "a.ts", Syntax: SyntaxSource, Place: source.Opening("f("), Value: "L"}}, nil)
	require.ErrorContains(t, err, "a block that opens at the end of a line")
}

func TestSourceTheirsStays(t *testing.T) {
	doc := []byte("dependencies {\n    implementation(boats)\n}\n")
	out, owned, err := Reconcile(sourceFile, SyntaxSource, doc, []Entry{sourceEntry(source.Block("dependencies"), "implementation(boats)")}, nil)
	require.NoError(t, err)
	require.Equal(t, doc, out)
	require.Empty(t, owned)
}

func TestSourceRefusals(t *testing.T) {
	for want, doc := range map[string]string{
		"expected a block dependencies, found none; add this line by hand: implementation(boats)": "plugins { }\n",
		"whose closing brace is on a line of its own":                                             "dependencies { api(x) }\n",
	} {
		_, _, err := Reconcile(sourceFile, SyntaxSource, []byte(doc), []Entry{sourceEntry(source.Block("dependencies"), "implementation(boats)")}, nil)
		require.ErrorContains(t, err, want)
	}
	_, _, err := Reconcile(sourceFile, SyntaxSource, []byte("class A\n"), []Entry{sourceEntry(source.After("super.onCreate()"), "x()")}, nil)
	require.ErrorContains(t, err, "expected super.onCreate(), found none; add this line by hand: x()")
}

func FuzzSource(f *testing.F) {
	f.Add("kotlin {\n\tsourceSets {\n}}", "x()")
	f.Fuzz(func(t *testing.T, doc, line string) {
		if line != strings.TrimSpace(string(language.Kotlin.Skeleton([]byte(line)))) || strings.ContainsAny(line, "\r\n{}()[]") {
			return // entries are whole lines of code
		}
		for _, place := range []edit.Place{source.Import(), source.After("onCreate()"), source.Block("kotlin", "sourceSets")} {
			addAndBack(t, SyntaxSource, []byte(doc), []Entry{sourceEntry(place, line)})
		}
	})
}

const packageFile = "Package.swift"

func resources(name, folder string) []Entry {
	return []Entry{{File: packageFile, Syntax: SyntaxPackage, Place: edit.Place{Kind: xcode.KindResources, Name: name}, Value: folder}}
}

func TestSwiftPackageShapes(t *testing.T) {
	head := "// swift-tools-version: 5.9\nimport PackageDescription\n\nlet package = Package(\n    name: \"Quay\",\n    targets: [\n"
	for name, tt := range map[string]struct{ target, want string }{
		"one line": {`        .target(name: "Quay"),`, `        .target(name: "Quay", resources: [.process("Type")]),`},
		"lines": {"        .target(\n            name: \"Quay\",\n            dependencies: [\"A\"]\n        ),",
			"        .target(\n            name: \"Quay\",\n            dependencies: [\"A\"],\n            resources: [.process(\"Type\")]\n        ),"},
		"between others": {"        .target(\n            name: \"Quay\",\n            path: \"Src\",\n            swiftSettings: [.define(\"X\")]\n        ),",
			"        .target(\n            name: \"Quay\",\n            path: \"Src\",\n            resources: [.process(\"Type\")],\n            swiftSettings: [.define(\"X\")]\n        ),"},
		"others there": {`        .target(name: "Quay", resources: [.copy("Data")]),`, `        .target(name: "Quay", resources: [.process("Type"), .copy("Data")]),`},
		"others there in lines": {"        .target(name: \"Quay\", resources: [\n            .copy(\"Data\")\n        ]),",
			"        .target(name: \"Quay\", resources: [\n            .process(\"Type\"),\n            .copy(\"Data\")\n        ]),"},
		"an empty list": {`        .target(name: "Quay", resources: []),`, `        .target(name: "Quay", resources: [.process("Type")]),`},
		"comments":      {"        .target(name: \"Quay\" /* , resources: [ */), // ,", "        .target(name: \"Quay\", resources: [.process(\"Type\")] /* , resources: [ */), // ,"},
	} {
		t.Run(name, func(t *testing.T) {
			tail := "\n        .testTarget(name: \"QuayTests\", dependencies: [.target(name: \"Quay\")]),\n    ]\n)\n"
			thereAndBack(t, SyntaxPackage, []byte(head+tt.target+tail), resources("Quay", "Type"), func(out []byte) {
				require.Equal(t, head+tt.want+tail, string(out))
			})
		})
	}
}

func TestSwiftPackageRefusals(t *testing.T) {
	for want, doc := range map[string]string{
		"swift-tools-version:5.3 or later": "// swift-tools-version:5.2\n.target(name: \"Quay\")",
		`a target "Quay"`:                  "// swift-tools-version:5.3\n.target(name: name)",
		"the end of the target's call":     "// swift-tools-version:5.3\n.target(name: \"Quay\"",
		`add by hand: .process("Type")`:    "// swift-tools-version:6.0\n.target(name: \"Quay\", resources: fonts)",
	} {
		_, _, err := Reconcile(packageFile, SyntaxPackage, []byte(doc), resources("Quay", "Type"), nil)
		require.ErrorContains(t, err, want)
	}
}

func FuzzSwiftPackage(f *testing.F) {
	f.Add("// swift-tools-version:5.9\n.target(name: \"Quay\", resources: [.process(\"x\")])")
	f.Fuzz(func(t *testing.T, doc string) { addAndBack(t, SyntaxPackage, []byte(doc), resources("Quay", "Type")) })
}

// What a line stands behind can change, such as a version; the line is still Notaria's, unless
// it is there twice. A version that somebody raises in that line as well stays Notaria's.
func TestSourceAnchorChanges(t *testing.T) {
	s := source.Lines{}
	entry := func(version string) edit.Entry {
		return edit.Entry{File: "build.gradle", Syntax: s.Name(), Place: source.After("api 'x:" + version + "'"), Value: "api 'x-fonts:" + version + "'"}
	}
	doc := func(text string) edit.Document { return edit.Document{File: "build.gradle", Text: []byte(text)} }
	const before = "d {\n    api 'x:1.0'\n    api 'y:1.0'\n}\n"
	text, mine, err := s.Reconcile(doc(before), []edit.Entry{entry("1.0")}, nil)
	require.NoError(t, err)
	require.Equal(t, "d {\n    api 'x:1.0'\n    api 'x-fonts:1.0'\n    api 'y:1.0'\n}\n", string(text))

	raised := strings.Replace(string(text), "'x:1.0'", "'x:2.0'", 1)
	for name, now := range map[string]string{"the anchor alone": raised, "both": strings.Replace(raised, "fonts:1.0", "fonts:2.0", 1)} {
		got, owned, err := s.Reconcile(doc(now), []edit.Entry{entry("2.0")}, mine)
		require.NoError(t, err, name)
		require.Equal(t, "d {\n    api 'x:2.0'\n    api 'x-fonts:2.0'\n    api 'y:1.0'\n}\n", string(got), name)
		require.Len(t, owned, 1, name)
		back, owned, err := s.Reconcile(doc(string(got)), nil, owned)
		require.NoError(t, err, name)
		require.Equal(t, strings.Replace(before, "x:1.0", "x:2.0", 1), string(back), name)
		require.Empty(t, owned)
	}
	twice := strings.Replace(raised, "}\n", "    api 'x-fonts:1.0'\n}\n", 1)
	got, _, err := s.Reconcile(doc(twice), nil, mine)
	require.NoError(t, err)
	require.Equal(t, twice, string(got))
	// Another line of numbers is not taken for it.
	got, owned, err := s.Reconcile(doc(strings.Replace(before, "y:1.0'", "x-fonts:2.0'", 1)), []edit.Entry{entry("2.0")}, nil)
	require.ErrorContains(t, err, "expected api 'x:2.0'")
	require.Nil(t, got)
	require.Empty(t, owned)
}
