package edit_test

import (
	"fmt"
	"math/rand"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"howett.net/plist"

	"notaria/internal/edit/source"
	"notaria/internal/platform/dotnet/msbuild"
	"notaria/internal/platform/reactnative/appjson"
)

// writer makes random documents that are valid: other contents, other indentation,
// other line ends, comments, and more or less of what entries go into.
type writer struct {
	*rand.Rand
	step string // of indentation
}

func newWriter(seed int64) *writer {
	w := &writer{Rand: rand.New(rand.NewSource(seed))}
	w.step = w.one("\t", "  ", "    ")
	return w
}

func (w *writer) one(list ...string) string { return list[w.Intn(len(list))] }

func (w *writer) maybe(s string) string { return w.one(s, "") }

func (w *writer) word() string {
	return w.one("sea", "Quay", "boat", "TideTable", "rope", "é", "岩", "x1") + fmt.Sprint(w.Intn(100))
}

func (w *writer) pad(depth int) string { return strings.Repeat(w.step, depth) }

// finish returns a document one kind of line ends, and sometimes no last one, or a
// byte order mark.
func (w *writer) finish(doc string, mark bool) []byte {
	if w.Intn(4) == 0 {
		doc = strings.TrimSuffix(doc, "\n")
	}
	if w.Intn(3) == 0 {
		doc = strings.ReplaceAll(doc, "\n", "\r\n")
	}
	if mark && w.Intn(5) == 0 {
		doc = "\ufeff" + doc
	}
	return []byte(doc)
}

// plistValue writes a value, indented below a key.
func (w *writer) plistValue(depth int) string {
	if depth > 4 {
		return "<true/>"
	}
	switch w.Intn(6) {
	case 0:
		return "<string>" + w.word() + " &amp; " + w.word() + "</string>"
	case 1:
		return "<integer>" + fmt.Sprint(w.Intn(1000)) + "</integer>"
	case 2:
		return w.one("<true/>", "<false/>", "<array/>", "<dict/>", "<string></string>")
	case 3:
		out := "<array>\n"
		for range w.Intn(3) {
			out += w.pad(depth+1) + w.plistValue(depth+1) + "\n"
		}
		return out + w.pad(depth) + "</array>"
	}
	out := "<dict>\n"
	for range w.Intn(3) {
		out += w.pad(depth+1) + "<key>" + w.word() + fmt.Sprint(w.Int()) + "</key>\n" + w.pad(depth+1) + w.plistValue(depth+1) + "\n"
	}
	return out + w.pad(depth) + "</dict>"
}

func (w *writer) plist() []byte {
	doc := w.maybe("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n") + "<plist version=\"1.0\">\n<dict>\n"
	fonts := w.Intn(8)
	for i := range 8 {
		if i == fonts && w.Intn(2) == 0 {
			doc += w.pad(1) + "<key>UIAppFonts</key>" + w.one("\n"+w.pad(1), "") +
				w.one("<array/>", "<array></array>", "<array>\n"+w.pad(1)+"</array>", "<array>\n"+w.pad(2)+"<string>Theirs.ttf</string>\n"+w.pad(1)+"</array>", "<array><string>Theirs.ttf</string></array>") + "\n"
		}
		doc += w.maybe(w.pad(1)+"<!-- "+w.word()+" <key>UIAppFonts</key> -->\n") + w.maybe("\n")
		doc += w.pad(1) + "<key>" + fmt.Sprint(w.word(), i) + "</key>" + w.one("\n"+w.pad(1), "") + w.plistValue(1) + "\n"
	}
	return w.finish(doc+"</dict>\n</plist>\n", true)
}

func (w *writer) value(depth int) any {
	switch w.Intn(5) {
	case 0:
		return w.word()
	case 1:
		return w.Intn(2) == 0
	case 2:
		return uint64(w.Intn(1 << 30))
	case 3:
		return 1.5
	}
	if depth > 3 {
		return "deep"
	}
	out := map[string]any{}
	for i := range w.Intn(4) {
		out[fmt.Sprint(w.word(), i)] = []any{w.value(depth + 1), w.value(depth + 1)}
	}
	return out
}

func (w *writer) binary(t *testing.T) []byte {
	m := map[string]any{"A": "SkerrySans-Bold.ttf"}
	for i := range w.Intn(40) {
		m[fmt.Sprint(w.word(), i)] = w.value(0)
	}
	if w.Intn(2) == 0 {
		m["UIAppFonts"] = []any{"Theirs.ttf"}[:w.Intn(2)]
	}
	doc, err := plist.Marshal(m, plist.BinaryFormat)
	require.NoError(t, err)
	return doc
}

var (
	projectRemark = regexp.MustCompile(` /\*[^*]*\*/`)
	projectArray  = regexp.MustCompile(`\(\n\t+([^\n()]+),\n\t+\)`)
)

// project takes one of the sample's and writes it another way: without some
// comments, with short lists on one line, with other blanks.
func (w *writer) project(t *testing.T) []byte {
	b, err := os.ReadFile(w.one("../skerry/sample/ios/SkerryFerries.xcodeproj/project.pbxproj"))
	require.NoError(t, err)
	doc := projectRemark.ReplaceAllStringFunc(string(b), func(s string) string { return w.one(s, s, "") })
	doc = projectArray.ReplaceAllStringFunc(doc, func(s string) string {
		item := projectArray.FindStringSubmatch(s)[1]
		return w.one(s, s, "("+item+")", "( "+item+", )", strings.Replace(s, ",\n", "\n", 1))
	})
	if w.Intn(3) == 0 {
		doc = strings.ReplaceAll(doc, "\t", w.step)
	}
	if w.Intn(4) == 0 {
		doc = regexp.MustCompile(`(?m)^/\* (?:Begin|End)[^\n]*\n`).ReplaceAllString(doc, "")
	}
	return w.finish(doc, false)
}

func (w *writer) pubspec() []byte {
	other := func() string {
		return w.word() + fmt.Sprint("K", w.Int()) + ": " + w.one("1", "'a: b'", "[1, {a: b}]", "|\n  text # no comment\n  more", "\n  a: 1\n  b:\n    - c") + "\n" + w.maybe("# "+w.word()+"\n") + w.maybe("\n")
	}
	doc := ""
	for range w.Intn(4) {
		doc += other()
	}
	theirs := "family: Theirs\n      fonts:\n        - asset: fonts/Theirs.ttf # x\n          weight: 500\n"
	switch w.Intn(6) {
	case 0:
	case 1:
		doc += "flutter:\n" + w.maybe("  # fonts:\n")
	case 2:
		doc += "flutter: {" + w.one("", "a: [1]", "fonts: []", "fonts: [{family: Theirs, fonts: [{asset: fonts/Theirs.ttf}]}], b: 2") + "}" + w.maybe(" # x") + "\n"
	case 3:
		doc += "flutter:\n  fonts: " + w.one("[]", "[ ]", "[{family: 'Theirs', fonts: [{asset: fonts/Theirs.ttf}]}]") + "\n"
	default:
		doc += "flutter:\n" + w.maybe("  assets:\n    - a/\n") + w.maybe("\n  # more\n") + "  fonts:\n" + w.maybe("    - "+theirs) + w.maybe("  later: true\n")
	}
	doc += w.maybe("\n")
	for range w.Intn(3) {
		doc += other()
	}
	doc = strings.ReplaceAll(doc, "\n\n\n", "\n\n")
	return w.ends(doc)
}

// ends is finish for files that must end in a newline.
func (w *writer) ends(doc string) []byte {
	if w.Intn(3) == 0 {
		doc = strings.ReplaceAll(doc, "\n", "\r\n")
	}
	return []byte(doc)
}

func (w *writer) json(depth int) string {
	if depth > 3 {
		return "null"
	}
	switch w.Intn(5) {
	case 0:
		return `"` + w.word() + ` \"q\" \\ \u00e9"`
	case 1:
		return w.one("1", "-2.5e3", "true", "{}", "[]", "[ ]")
	case 2:
		return "[" + w.json(depth+1) + ", " + w.json(depth+1) + "]"
	}
	return "{\n" + w.pad(depth+1) + `"` + w.word() + `": ` + w.json(depth+1) + "\n" + w.pad(depth) + "}"
}

func (w *writer) appJSON() []byte {
	plugins := w.one("", `"plugins": [],`, `"plugins": ["expo-router"],`, `"plugins": ["expo-font"],`, `"plugins": [["expo-font", {}], "x"],`,
		"\"plugins\": [\n"+w.pad(3)+"[\"expo-font\", {\"fonts\": [\"./Theirs.ttf\"]}]\n"+w.pad(2)+"],", "\"plugins\": [[\"expo-font\", {\n"+w.pad(4)+"\"fonts\": [\n"+w.pad(5)+"\"./Theirs.ttf\"\n"+w.pad(4)+"]\n"+w.pad(3)+"}]],")
	doc := "{\n" + w.pad(1) + "\"expo\": {\n" + w.pad(2) + `"a": ` + w.json(2) + ",\n" + w.pad(2) + plugins + w.maybe("\n"+w.pad(2)) + `"z": ` + w.json(2) + "\n" + w.pad(1) + "}\n}\n"
	return w.finish(doc, false)
}

func (w *writer) elements(depth int) string {
	out := ""
	for range w.Intn(4) {
		name := w.one("Compile", "None", "Content", "MauiIcon")
		out += w.pad(depth) + w.maybe("<!-- <MauiFont Include=\"no.ttf\" /> -->") + "<" + name + ` Include="` + w.word() + `.cs"` + w.one(" />", "/>", "></"+name+">", ">\n"+w.pad(depth+1)+"<Link>a</Link>\n"+w.pad(depth)+"</"+name+">") + "\n"
	}
	return out
}

func (w *writer) projectXML() []byte {
	doc := w.maybe("<?xml version=\"1.0\" encoding=\"utf-8\"?>\n") + w.one("<Project Sdk=\"Microsoft.NET.Sdk\">\n", "<Project ToolsVersion=\"4.0\"\n         xmlns=\"http://schemas.microsoft.com/developer/msbuild/2003\">\n")
	for range 1 + w.Intn(4) {
		doc += w.maybe("\n")
		switch w.Intn(4) {
		case 0:
			doc += w.pad(1) + "<PropertyGroup>\n" + w.pad(2) + "<A>" + w.word() + "</A>\n" + w.pad(1) + "</PropertyGroup>\n"
		case 1:
			doc += w.pad(1) + "<ItemGroup Condition=\"'$(X)' == 'a'\">\n" + w.elements(2) + w.pad(1) + "</ItemGroup>\n"
		case 2:
			doc += w.pad(1) + "<ItemGroup>\n" + w.elements(2) + w.pad(2) + "<MauiFont Include=\"Theirs.ttf\" />\n" + w.pad(1) + "</ItemGroup>\n"
		default:
			doc += w.pad(1) + w.one("<ItemGroup/>", "<ItemGroup />", "<ItemGroup></ItemGroup>") + "\n"
		}
	}
	return w.finish(doc+"</Project>\n", true)
}

func (w *writer) application() []byte {
	merged := w.one("", "<ResourceDictionary.MergedDictionaries/>", "<ResourceDictionary.MergedDictionaries>\n"+w.pad(3)+"</ResourceDictionary.MergedDictionaries>",
		"<ResourceDictionary.MergedDictionaries>\n"+w.pad(4)+"<ResourceDictionary Source=\"Colors.xaml\" />\n"+w.pad(3)+"</ResourceDictionary.MergedDictionaries>")
	own := w.maybe(w.pad(3) + "<Color x:Key=\"Sea\">#0B3D5C</Color>\n")
	if merged != "" {
		merged = w.pad(3) + merged + "\n"
	}
	resources := w.one("", "<Application.Resources/>", "<Application.Resources>\n"+w.pad(1)+"</Application.Resources>",
		"<Application.Resources>\n"+w.pad(2)+w.one("<ResourceDictionary/>", "<ResourceDictionary>\n"+merged+own+w.pad(2)+"</ResourceDictionary>")+"\n"+w.pad(1)+"</Application.Resources>")
	if resources != "" {
		resources = w.pad(1) + resources + "\n"
	}
	return w.finish("<Application xmlns=\"http://schemas.microsoft.com/dotnet/2021/maui\"\n  xmlns:x=\"x\">\n"+w.maybe(w.pad(1)+"<!-- "+w.word()+" -->\n")+resources+"</Application>\n", true)
}

func (w *writer) sharp() []byte {
	body := ""
	for range w.Intn(4) {
		body += w.pad(3) + w.one("fonts.AddFont(\"Theirs.ttf\", \"Theirs\");", "// fonts.AddFont(\"no.ttf\", \"No\");", "Log(\"} // {\");") + "\n"
	}
	block := w.one("{ }", "{"+"\n"+body+w.pad(2)+"}")
	return w.finish("class P\n{\n"+w.pad(1)+"var b = X()\n"+w.pad(2)+".ConfigureFonts("+w.one("fonts", "(fonts)", "(IFontCollection fonts)")+" => "+block+");\n}\n", true)
}

func (w *writer) gradle() []byte {
	inner := ""
	for range w.Intn(3) {
		inner += w.pad(3) + w.one("implementation(sea)", "api(\"a:b:1\") // }", "/* { */ kapt(x)") + "\n"
	}
	doc := w.maybe("// kotlin { sourceSets {\n") + "plugins {\n" + w.pad(1) + "id(\"a\")\n}\n\nkotlin {\n" + w.maybe(w.pad(1)+"jvm()\n") + w.pad(1) + "sourceSets {\n" + w.maybe(w.pad(2)+"val x by getting { }\n") +
		w.pad(2) + "commonMain.dependencies {\n" + inner + w.pad(2) + "}\n" + w.pad(1) + "}\n}\n" + w.maybe("dependencies {\n}\n")
	return w.finish(doc, false)
}

func (w *writer) swiftPackage() []byte {
	args := []string{`name: "Quay"`}
	if w.Intn(2) == 0 {
		args = append(args, `dependencies: ["A", .product(name: "B", package: "b")]`)
	}
	if w.Intn(3) == 0 {
		args = append(args, `exclude: ["x"]`)
	}
	if w.Intn(3) == 0 {
		args = append(args, `resources: [`+w.one("", `.copy("a")`, "\n"+w.pad(4)+`.process("b"),`+"\n"+w.pad(3))+`]`)
	}
	if w.Intn(3) == 0 {
		args = append(args, `swiftSettings: [.define("X", .when(configuration: .debug))]`)
	}
	call := ".target(" + strings.Join(args, ", ") + ")"
	if w.Intn(2) == 0 {
		call = ".target(\n" + w.pad(3) + strings.Join(args, ",\n"+w.pad(3)) + "\n" + w.pad(2) + ")"
	}
	return w.finish("// swift-tools-version:5."+fmt.Sprint(3+w.Intn(7))+"\nlet package = Package(\n"+w.pad(1)+"targets: [\n"+w.maybe(w.pad(2)+"// .target(name: \"Quay\"),\n")+w.pad(2)+call+",\n"+w.pad(2)+".testTarget(name: \"T\", dependencies: [.target(name: \"Quay\")])\n"+w.pad(1)+"]\n)\n", false)
}

// seeds is how many random documents of each syntax there are: some, or more where
// NOTARIA_THOROUGH is set, as in scripts/test.
func seeds() int64 {
	if os.Getenv("NOTARIA_THOROUGH") != "" {
		return 300
	}
	return 60
}

// TestRandomDocumentsThereAndBack adds entries to random documents of every syntax
// and takes them off again, all at once and one by one: the bytes must be those
// from before.
func TestRandomDocumentsThereAndBack(t *testing.T) {
	merged := []Entry{{File: "App.xaml", Syntax: SyntaxXML, Place: msbuild.MergedPlace(), Value: "AppType.xaml"}}
	library := []Entry{sourceEntry(source.Block("kotlin", "sourceSets", "commonMain.dependencies"), "implementation(boats)"), sourceEntry(source.Import(), "import harbour.Quay")}
	var aliases, named []Entry
	for _, f := range []string{"A", "B \"q\""} {
		aliases = append(aliases, Entry{File: "P.cs", Syntax: SyntaxAddFont, Place: msbuild.AliasPlace(f), Value: f + ".ttf"})
		named = append(named, Entry{File: "app.json", Syntax: SyntaxAppJSON, Place: appjson.Fonts, Value: "./" + f + ".ttf"})
	}
	named = append(named, Entry{File: "app.json", Syntax: SyntaxAppJSON, Place: appjson.IOSFonts, Value: "./A.ttf"},
		Entry{File: "app.json", Syntax: SyntaxAppJSON, Place: appjson.AndroidFonts, Value: `{"fontFamily":"A","fontDefinitions":[{"path":"./A.ttf","weight":400}]}`})
	fonts := append(plistEntries("A.ttf", "B & C.ttf"), Entry{File: manifest, Syntax: SyntaxPlist, Place: text("ATSApplicationFontsPath"), Value: "."})
	assets := append(assetsOf("Skerry Sans", "fonts/A.ttf", "fonts/Bold.ttf"), assetsOf("Theirs", "fonts/B.ttf")...)
	for seed := range seeds() {
		w := newWriter(seed)
		for _, c := range []struct {
			name, syntax string
			doc          []byte
			entries      []Entry
		}{
			{"property list", SyntaxPlist, w.plist(), fonts},
			{"binary property list", SyntaxPlist, w.binary(t), fonts},
			{"project file", SyntaxProject, w.project(t), projectEntries("A.ttf", "B c.ttf", "AppType.swift")},
			{"pubspec", SyntaxPubspec, w.pubspec(), assets},
			{"app.json", SyntaxAppJSON, w.appJSON(), named},
			{"project of .NET", SyntaxXML, w.projectXML(), items("MauiFont", "A.ttf", "B & C.ttf")},
			{"App.xaml", SyntaxXML, w.application(), merged},
			{"MauiProgram.cs", SyntaxAddFont, w.sharp(), aliases},
			{"build.gradle.kts", SyntaxSource, w.gradle(), library},
			{"Package.swift", SyntaxPackage, w.swiftPackage(), resources("Quay", "Type")},
		} {
			if !t.Run(fmt.Sprintf("%s %d", c.name, seed), func(t *testing.T) {
				thereAndBack(t, c.syntax, c.doc, c.entries, func(out []byte) {
					require.NotEqual(t, string(c.doc), string(out))
				})
			}) {
				t.Fatalf("the document:\n%s", c.doc)
			}
		}
	}
}
