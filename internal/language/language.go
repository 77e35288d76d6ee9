// Package language knows the programming languages that apps are written in, as far
// as fonts go: where comments and strings are (one lexer for each language), which
// words are reserved, and how names and literals are written.
//
// The edits of manifests, the checks of source code and the generated code share
// it, so that all of them agree on what a comment is.
package language

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/lazy"
)

// A Language is one that sources or manifests are written in.
type Language struct {
	Name    string
	Endings []string // of its files, in small letters, with the dot
	Names   []string // of its files, where the ending does not tell
	// Reserved are the words that cannot name a member (see the language's own
	// reference, named beside each list).
	Reserved *lazy.Set
	// Literal writes a string as a literal of the language, in printable ASCII.
	Literal func(string) string

	line     []string // what begins a comment that ends with the line
	block    bool     // has /* */
	nested   bool     // /* */ nests
	quotes   []quote  // the longest opening first
	long     bool     // has --[[ ]] and --[==[ ]==]
	regex    bool     // has /patterns/ where a value can stand
	elements bool     // has <elements> where a value can stand
	markup   bool     // is made of elements, as XML is
	embeds   bool     // its elements style and script hold other languages
	template bool     // a program can compute parts of it
}

// The languages.
var (
	Swift = &Language{Name: "Swift", Endings: []string{".swift"}, Reserved: swiftReserved, Literal: swiftLiteral,
		line: []string{"//"}, block: true, nested: true, quotes: []quote{
			{open: `"""`, close: `"""`, escape: true, lines: true, inner: `\(`, hashes: true},
			{open: `"`, close: `"`, escape: true, inner: `\(`, hashes: true},
		}}
	ObjectiveC = &Language{Name: "Objective-C", Endings: []string{".m", ".mm", ".h"}, Literal: objectiveCLiteral,
		line: []string{"//"}, block: true, quotes: []quote{plainDouble, plainSingle}}
	Kotlin = &Language{Name: "Kotlin", Endings: []string{".kt", ".kts"}, Reserved: javaReserved, Literal: kotlinLiteral,
		line: []string{"//"}, block: true, nested: true, quotes: []quote{
			{open: `"""`, close: `"""`, lines: true, inner: "${"},
			{open: `"`, close: `"`, escape: true, inner: "${"},
			plainSingle,
		}}
	Java = &Language{Name: "Java", Endings: []string{".java"}, Reserved: javaReserved, Literal: javaLiteral,
		line: []string{"//"}, block: true, quotes: []quote{
			{open: `"""`, close: `"""`, escape: true, lines: true}, plainDouble, plainSingle,
		}}
	Groovy = &Language{Name: "Groovy", Endings: []string{".gradle", ".groovy"}, Reserved: javaReserved, Literal: kotlinLiteral,
		line: []string{"//"}, block: true, quotes: []quote{
			{open: `"""`, close: `"""`, escape: true, lines: true, inner: "${"},
			{open: `'''`, close: `'''`, escape: true, lines: true},
			{open: `"`, close: `"`, escape: true, inner: "${"},
			plainSingle,
		}}
	CSharp = &Language{Name: "C#", Endings: []string{".cs"}, Reserved: sharpReserved, Literal: sharpLiteral,
		line: []string{"//"}, block: true, quotes: []quote{
			{open: `$"""`, close: `"""`, lines: true, repeats: true, inner: "{"},
			{open: `"""`, close: `"""`, lines: true, repeats: true},
			{open: `$@"`, close: `"`, lines: true, doubled: true, inner: "{"},
			{open: `@$"`, close: `"`, lines: true, doubled: true, inner: "{"},
			{open: `@"`, close: `"`, lines: true, doubled: true},
			{open: `$"`, close: `"`, escape: true, inner: "{"},
			plainDouble, plainSingle,
		}}
	Dart = &Language{Name: "Dart", Endings: []string{".dart"}, Reserved: dartReserved, Literal: dartLiteral,
		line: []string{"//"}, block: true, nested: true, quotes: []quote{
			{open: `r"""`, close: `"""`, lines: true, word: true},
			{open: `r'''`, close: `'''`, lines: true, word: true},
			{open: `r"`, close: `"`, word: true},
			{open: `r'`, close: `'`, word: true},
			{open: `"""`, close: `"""`, escape: true, lines: true, inner: "${"},
			{open: `'''`, close: `'''`, escape: true, lines: true, inner: "${"},
			{open: `"`, close: `"`, escape: true, inner: "${"},
			{open: `'`, close: `'`, escape: true, inner: "${"},
		}}
	JavaScript = &Language{Name: "JavaScript", Endings: []string{".js", ".jsx", ".tsx", ".mjs", ".cjs"}, Literal: scriptLiteral,
		line: []string{"//"}, block: true, regex: true, elements: true, quotes: scriptQuotes}
	TypeScript = &Language{Name: "TypeScript", Endings: []string{".ts", ".mts", ".cts"}, Literal: scriptLiteral,
		line: []string{"//"}, block: true, regex: true, quotes: scriptQuotes}
	JSON = &Language{Name: "JSON with comments", Endings: []string{".json", ".jsonc"}, Literal: jsonLiteral,
		line: []string{"//"}, block: true, quotes: []quote{plainDouble}}
	XML  = &Language{Name: "XML", Endings: []string{".xml", ".xaml", ".axaml", ".csproj", ".props", ".targets", ".plist", ".fxml", ".mxml", ".storyboard", ".xib", ".ui", ".glade"}, Literal: attributeLiteral, markup: true}
	HTML = &Language{Name: "HTML", Endings: []string{".html", ".htm"}, Literal: attributeLiteral, markup: true, embeds: true, template: true}
	// Template is a page that a server, or a program that makes pages, completes.
	Template = &Language{Name: "page templates", Endings: []string{".php", ".phtml", ".erb", ".ejs", ".eex", ".heex", ".njk", ".liquid", ".twig", ".jinja", ".jinja2", ".j2", ".hbs", ".handlebars", ".mustache", ".eta", ".cshtml", ".razor", ".jsp", ".gohtml"},
		Literal: attributeLiteral, markup: true, embeds: true, template: true}
	// Component is a page's part with its style and its script in one file.
	Component = &Language{Name: "single-file components", Endings: []string{".vue", ".svelte", ".astro"}, Literal: attributeLiteral, markup: true, embeds: true}
	CSS       = &Language{Name: "CSS", Endings: []string{".css", ".qss"}, Literal: cssLiteral, block: true, quotes: []quote{plainDouble, plainSingle}}
	SCSS      = &Language{Name: "SCSS", Endings: []string{".scss", ".sass", ".less", ".styl", ".pcss", ".postcss"}, Literal: cssLiteral, line: []string{"//"}, block: true, quotes: []quote{plainDouble, plainSingle}}
	CPlus     = &Language{Name: "C++", Endings: []string{".c", ".cpp", ".cc", ".cxx", ".hpp", ".hh", ".hxx", ".ino"}, Reserved: cReserved, Literal: cLiteral,
		line: []string{"//"}, block: true, quotes: []quote{plainDouble, plainSingle}}
	Python = &Language{Name: "Python", Endings: []string{".py"}, Reserved: pythonReserved, Literal: sharpLiteral,
		line: []string{"#"}, quotes: []quote{
			{open: `"""`, close: `"""`, escape: true, lines: true},
			{open: `'''`, close: `'''`, escape: true, lines: true}, plainDouble, plainSingle,
		}}
	QML = &Language{Name: "QML", Endings: []string{".qml"}, Reserved: qmlReserved, Literal: actionLiteral,
		line: []string{"//"}, block: true, regex: true, quotes: scriptQuotes}
	CMake    = &Language{Name: "CMake", Endings: []string{".cmake"}, Names: []string{"CMakeLists.txt", "meson.build", "Makefile", "GNUmakefile"}, Literal: jsonLiteral, line: []string{"#"}, quotes: []quote{plainDouble}}
	QMake    = &Language{Name: "qmake", Endings: []string{".pro", ".pri"}, Literal: jsonLiteral, line: []string{"#"}, quotes: []quote{plainDouble}}
	GDScript = &Language{Name: "GDScript", Endings: []string{".gd"}, Reserved: godotReserved, Literal: jsonLiteral,
		line: []string{"#"}, quotes: []quote{
			{open: `"""`, close: `"""`, escape: true, lines: true},
			{open: `'''`, close: `'''`, escape: true, lines: true}, plainDouble, plainSingle,
		}}
	GodotText = &Language{Name: "Godot's text resources", Endings: []string{".tscn", ".tres", ".godot"}, Literal: jsonLiteral,
		line: []string{";"}, quotes: []quote{{open: `"`, close: `"`, escape: true, lines: true}}}
	Lua = &Language{Name: "Lua", Endings: []string{".lua"}, Reserved: luaReserved, Literal: luaLiteral,
		line: []string{"--"}, long: true, quotes: []quote{
			{open: "[[", close: "]]", lines: true}, {open: "[=[", close: "]=]", lines: true}, {open: "[==[", close: "]==]", lines: true}, plainDouble, plainSingle,
		}}
	ActionScript = &Language{Name: "ActionScript", Endings: []string{".as"}, Reserved: actionReserved, Literal: actionLiteral,
		line: []string{"//"}, block: true, regex: true, quotes: []quote{plainDouble, plainSingle}}
)

// php is the code in such pages (PHP Manual, Comments and Strings).
var php = &Language{Name: "PHP", line: []string{"//", "#"}, block: true, quotes: []quote{
	{open: `"`, close: `"`, escape: true, lines: true}, {open: `'`, close: `'`, escape: true, lines: true}}}

var (
	plainDouble  = quote{open: `"`, close: `"`, escape: true}
	plainSingle  = quote{open: `'`, close: `'`, escape: true}
	scriptQuotes = []quote{{open: "`", close: "`", escape: true, lines: true, inner: "${"}, plainDouble, plainSingle}
)

// All are the languages, in a fixed order.
var All = []*Language{Swift, ObjectiveC, Kotlin, Java, Groovy, CSharp, Dart, JavaScript, TypeScript, JSON, XML, HTML, Template, Component, CSS, SCSS, ActionScript, CPlus, QML, CMake, QMake, Python, GDScript, GodotText, Lua}

// Of finds the language of a file by its ending; nil if it is none of these.
func Of(file string) *Language {
	ext, base := strings.ToLower(path.Ext(file)), path.Base(file)
	for _, l := range All {
		if slices.Contains(l.Names, base) {
			return l
		}
		for _, e := range l.Endings {
			if e == ext {
				return l
			}
		}
	}
	return nil
}

// Named is the language of a name; templates ask for theirs.
func Named(name string) (*Language, error) {
	for _, l := range All {
		if l.Name == name {
			return l, nil
		}
	}
	return nil, fmt.Errorf("no language is called %q", name)
}

// Markup says whether the language is made of elements: its attributes' values are where
// names are, not strings beside code.
func (l *Language) Markup() bool { return l.markup }

var (
	// "The Swift Programming Language", Lexical Structure: words that cannot name a
	// member without backquotes.
	swiftReserved = lazy.Words(`Any as associatedtype await break case catch class continue default defer deinit do else enum extension
		fallthrough false fileprivate for func guard if import in init inout internal is let nil open operator private
		precedencegroup protocol public repeat rethrows return self Self static struct subscript super switch throw throws
		true try typealias var where while Type Protocol`)
	// "The Java Language Specification", 3.9, and Kotlin's hard keywords: a resource of
	// such a name makes a class R that does not compile.
	javaReserved = lazy.Words(`abstract as assert boolean break byte case catch char class const continue default do
		double else enum extends false final finally float for fun goto if implements import in instanceof int interface is
		long native new null object package private protected public return short static strictfp super switch synchronized
		this throw throws transient true try typealias typeof val var void volatile when while`)
	// "Dart Programming Language Specification", 20.1.1: reserved words and built-in
	// identifiers, and what every object has.
	dartReserved = lazy.Words(`abstract as assert async await break case catch class const continue covariant default deferred do dynamic else enum
		export extends extension external factory false final finally for Function get hide if implements import in interface is late library mixin new null
		of on operator part required rethrow return sealed set show static super switch sync this throw true try type typedef var void when while with yield
		hashCode runtimeType toString noSuchMethod`)
	// "C# language specification", 6.4.4: keywords. Members in capitals are none.
	sharpReserved = lazy.Words(`abstract as base bool break byte case catch char checked class const continue decimal default delegate do double else enum
		event explicit extern false finally fixed float for foreach goto if implicit in int interface internal is lock long namespace new null object
		operator out override params private protected public readonly ref return sbyte sealed short sizeof stackalloc static string struct switch this
		throw true try typeof uint ulong unchecked unsafe ushort using virtual void volatile while`)
	// "ISO/IEC 14882", 5.11 [lex.key]: keywords, and other spellings of operators.
	cReserved = lazy.Words(`alignas alignof and and_eq asm auto bitand bitor bool break case catch char char8_t char16_t char32_t class compl concept const
		consteval constexpr constinit const_cast continue co_await co_return co_yield decltype default delete do double dynamic_cast else enum
		explicit export extern false float for friend goto if inline int long mutable namespace new noexcept not not_eq nullptr operator or
		or_eq private protected public register reinterpret_cast requires return short signed sizeof static static_assert static_cast struct
		switch template this thread_local throw true try typedef typeid typename union unsigned using virtual void volatile wchar_t while
		xor xor_eq signals slots emit foreach forever unix linux
		typeof assert errno stdin stdout stderr near far small interface min max`)  // extensions, and macros of C and Windows
	// "The Python Language Reference", 2.3.1: keywords, and names that are often called.
	pythonReserved = lazy.Words(`False None True and as assert async await break class continue def del elif else except finally for from global if import in
		is lambda nonlocal not or pass raise return try while with yield match case type print exec`)
	// ECMA-262, 12.7.2: reserved words, those of its third edition too; and words of QML's own that begin a member.
	qmlReserved = lazy.Words(`await break case catch class const continue debugger default delete do else enum export extends false finally for function if
		import in instanceof new null return super switch this throw true try typeof var void while with yield let static implements interface
		package private protected public alias component id on pragma property readonly required signal as font color real int bool string url
		abstract boolean byte char double final float goto int long native short synchronized throws transient volatile
		date list variant objectName parent toString valueOf hasOwnProperty`)
	// The keywords of GDScript 1 and 2 ("GDScript reference", Keywords), its built-in constants, and
	// what every Node has: members in capitals are constants, which few of these are.
	godotReserved = lazy.Words(`if elif else for while match when break continue pass return class class_name extends is in as self super signal func static const enum var
		breakpoint preload await yield assert void namespace trait tool export onready setget remote master puppet remotesync and or not true false null
		PI TAU INF NAN OK FAILED`)
	// "Lua 5.1 Reference Manual", 2.1, with goto of LuaJIT and 5.2.
	luaReserved = lazy.Words(`and break do else elseif end false for function goto if in local nil not or repeat return then true until while`)
	// "ActionScript 3.0 Language Specification", 3.4: reserved and syntactic keywords, and
	// what every object has.
	actionReserved = lazy.Words(`as break case catch class const continue default delete do dynamic each else extends false final finally for function get
		if implements import in include instanceof interface internal is namespace native new null override package private protected public return
		set static super switch this throw to true try typeof use var void while with
		constructor hasOwnProperty isPrototypeOf length propertyIsEnumerable prototype setPropertyIsEnumerable toLocaleString toString valueOf`)
)
