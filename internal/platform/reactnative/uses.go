package reactnative

import (
	"bytes"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"

	"notaria/internal/edit"
	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/kit"
	"notaria/internal/platform/reactnative/appjson"
)

// Kinds of uses; "" is a name for both platforms.
const (
	useMember  = "member"  // a constant of the generated code
	useIOS     = "ios"     // a name for iOS alone
	useAndroid = "android" // a name for Android alone
	useFile    = "file"    // a font file, from the source's folder
	useLoad    = "load"    // a call that loads fonts
	useRole    = "role"    // a role of the generated code
)

var (
	scripts = []*language.Language{language.JavaScript, language.TypeScript}
	weight  = lazy.Regexp(`\b(fontWeight|fontStyle)['"]?\s*:\s*['"]?(\w+)`)
	inRoles = lazy.Regexp(`^(?:\.(\w+)|\[\s*['"]([\w-]+)['"]\s*\])`)
	uses    = []platform.Use{
		{Languages: scripts, Kind: useRole, Pattern: lazy.Regexp(`<AppText\s(?:[^<>]*?\s)?use=\{?\s*["']([\w-]+)["']`)},
		{Languages: scripts, Kind: useRole, Member: inRoles, Pattern: lazy.Regexp(`\bimport\s*\{(?:[^{}]*[,\s])?(roles)\s*(?:,[^{}]*)?\}\s*from\s*['"][^'"\n]*AppType['"]`)},
		{Languages: scripts, Kind: useRole, Member: inRoles, Pattern: lazy.Regexp(`\bimport\s*\{(?:[^{}]*[,\s])?roles\s+as\s+(\w+)\s*(?:,[^{}]*)?\}\s*from\s*['"][^'"\n]*AppType['"]`)},
		{Languages: scripts, Kind: useRole, List: true, Pattern: lazy.Regexp(`\b(?:const|let|var)\s*\{([^{}]*)\}\s*=\s*roles\s*[;\n]`)},
		{Languages: scripts, Weight: weight, Pattern: lazy.Regexp(`\bfontFamily['"]?:\s*'((?:[^'\\\n]|\\.)*)'`)},
		{Languages: scripts, Weight: weight, Pattern: lazy.Regexp(`\bfontFamily['"]?:\s*"((?:[^"\\\n]|\\.)*)"`)},
		{Languages: scripts, Weight: weight, Pattern: lazy.Regexp("\\bfontFamily['\"]?:\\s*`([^`\\\\\\n$]*)`")},
		{Languages: scripts, Weight: weight, Pattern: lazy.Regexp(`["']fontFamily["']\s*\]?\s*:\s*["'\x60]([^"'\x60\\\n$]*)["'\x60]`)},
		{Languages: scripts, Pattern: lazy.Regexp(`\bfontFamily=\{?\s*["']([^"'\n]*)["']`)},
		{Languages: scripts, Weight: weight, Kind: useMember, Pattern: lazy.Regexp(`\bfontFamily:\s*(faces\.\w+)`)},
		{Languages: scripts, Weight: weight, Named: true, Pattern: lazy.Regexp(`\bfontFamily['"]?:\s*([A-Za-z_$][\w.]*)\s*(?:[,}\n;)]|as\b)`)},
		{Languages: scripts, Weight: weight, Named: true, Pattern: lazy.Regexp(`["']fontFamily["']\s*:\s*([A-Za-z_$][\w.]*)\s*(?:[,}\n;)]|as\b)`)},
		{Languages: scripts, Pattern: lazy.Regexp(`(?:\bstyled(?:\.\w+|\([^()\n]*\))(?:\.attrs\([^()\n]*\))?(?:<[^<>\n]*>)?|\bcss|\bcreateGlobalStyle)\x60[^\x60]*?\bfont-family:\s*["']?([^;,'"\x60$\n]*[^;,'"\x60$\s])`)},
		{Languages: scripts, Kind: useIOS, Pattern: lazy.Regexp(`\bfontFamily['"]?:\s*Platform\.select\s*\(\s*\{[^{}]*?\bios:\s*['"]([^'"\n]*)['"]`)},
		{Languages: scripts, Kind: useAndroid, Pattern: lazy.Regexp(`\bfontFamily['"]?:\s*Platform\.select\s*\(\s*\{[^{}]*?\bandroid:\s*['"]([^'"\n]*)['"]`)},
		{Languages: scripts, Kind: useIOS, Pattern: lazy.Regexp(`\bfontFamily['"]?:\s*Platform\.OS\s*===?\s*['"]ios['"]\s*\?\s*['"]([^'"\n]*)['"]`)},
		{Languages: scripts, Kind: useAndroid, Pattern: lazy.Regexp(`\bfontFamily['"]?:\s*Platform\.OS\s*===?\s*['"]ios['"]\s*\?\s*['"][^'"\n]*['"]\s*:\s*['"]([^'"\n]*)['"]`)},
		{Languages: scripts, Kind: useFile, Pattern: lazy.Regexp(`\brequire\s*\(\s*['"](\.[^'"\n]*\.(?i:ttf|otf))['"]\s*\)`)},
		{Languages: scripts, Kind: useFile, Pattern: lazy.Regexp(`\bimport\s+\w+\s+from\s+['"](\.[^'"\n]*\.(?i:ttf|otf))['"]`)},
		{Languages: scripts, Kind: useLoad, Pattern: lazy.Regexp(`((?:(?:const|let|var)\s*\[?[^=;\n]*=\s*|return\s+|await\s+|=>\s*|\(\s*|\[\s*|,\s*|void\s+)?\b(?:useFonts|(?:Font\.)?loadAsync)\s*\()`)},
	}
)

// Uses are in the package.
func (s *site) Uses() (string, []platform.Use) { return s.Dir, uses }

// Shares are the packages of the workspace that the app depends on.
func (s *site) Shares() []platform.Share {
	if len(s.Tree.Named("package.json")) < 2 {
		return nil
	}
	return platform.Sharing(s.Tree, s.Dir, platform.Workspace(s.Tree, s.Dir), platform.PlainUses(uses, useIOS, useAndroid, useRole), "loadAsync", "useFonts")
}

// answerer judges names, and those of roles.
func (s *site) answerer(job platform.Job) func(platform.Question) platform.Answer {
	return func(q platform.Question) platform.Answer {
		if q.Use.Kind != useRole {
			return s.answer(q)
		}
		return kit.Role(q, func() []string { return kit.Names(job.Roles) }, "a text of a role that is not there has the look of the platform")
	}
}

// answer goes by a face's name, and by a family's where Android is given families.
func (s *site) answer(q platform.Question) platform.Answer {
	switch q.Use.Kind {
	case useMember:
		return platform.Answer{}
	case useFile:
		return s.answerFile(q)
	case useLoad:
		return s.answerLoad(q)
	case useAndroid:
		return s.answerAndroid(q)
	}
	families := slices.ContainsFunc(q.Plan.Files, func(f platform.File) bool { return strings.Contains(f.Path, "/res/font/") }) ||
		slices.ContainsFunc(q.Plan.Entries, func(e edit.Entry) bool { return e.Place.Key() == appjson.AndroidFonts.Key() })
	if families && slices.ContainsFunc(q.Faces, func(f platform.Face) bool { return f.Family == q.Typed }) {
		return platform.Answer{}
	}
	if isFamily(q) && (q.Use.Kind == useIOS || s.styledFiles(q)) {
		return platform.Answer{} // iOS takes the family's face of the weight that is asked for
	}
	a := platform.AnswerFace(q, installed.Apple|installed.Android)
	if a.Fault == platform.Fine && q.Use.Kind == "" {
		a = s.onAndroid(q)
	}
	if a.Fault == platform.Fine {
		return a
	}
	known := slices.Contains(q.Once("loaded "+s.Dir, s.loaded), q.Typed) || platform.FromPackage(s.Tree, s.Dir, q.Typed) || installed.IsIcon(q.Typed) && s.Tree.Claim(s.Dir) == platform.Whole
	if known || a.Fault != platform.OneSide && s.hasFile(q) {
		return platform.Answer{}
	}
	return a
}

// stems are the names that Android knows fonts by: those of the files in the folder that its text
// engine looks in, and of families that code adds.
func (s *site) stems(q platform.Question) []string {
	return q.Once("stems "+s.Dir, func() []string {
		var out []string
		for _, f := range s.Tree.Under(path.Join(s.Dir, assets)) {
			out = append(out, strings.TrimSuffix(path.Base(f), path.Ext(f)))
		}
		for _, f := range q.Plan.Files {
			out = append(out, strings.TrimSuffix(path.Base(f.Path), path.Ext(f.Path)))
		}
		return append(out, s.loaded()...)
	})
}

// isFamily says whether a name is a family's: iOS finds the face by weight and style then.
func isFamily(q platform.Question) bool {
	return slices.ContainsFunc(q.Faces, func(f platform.Face) bool { return f.Family == q.Typed || f.LegacyFamily == q.Typed })
}

// styledFiles says whether Android has files that are called as a family: the text engine looks for a weight and a style
// under the family's name with an ending of its own (ReactFontManager, createAssetTypeface).
func (s *site) styledFiles(q platform.Question) bool {
	stems := s.stems(q)
	return slices.ContainsFunc([]string{"", "_bold", "_italic", "_bold_italic"}, func(end string) bool { return slices.Contains(stems, q.Typed+end) })
}

// onAndroid judges a PostScript name that iOS answers to: Android goes by the file's name.
func (s *site) onAndroid(q platform.Question) platform.Answer {
	list := platform.FaceOf(q.Faces, q.Typed)
	if len(list) == 0 || len(s.Tree.Under(path.Join(s.Dir, assets))) == 0 || slices.Contains(s.stems(q), q.Typed) {
		return platform.Answer{}
	}
	for _, f := range s.Tree.Under(path.Join(s.Dir, assets)) {
		for _, o := range q.Faces {
			if o.File == f && o.ID() == q.Typed {
				return platform.Answer{Fault: platform.OneSide, Message: fmt.Sprintf("Android knows this font as %q", strings.TrimSuffix(path.Base(f), path.Ext(f))),
					Cause: "iOS goes by the name inside the font, Android by the name of the file, and shows its own font for another", Cure: fmt.Sprintf("rename the file to %s%s, on both platforms: one string serves both then", q.Typed, path.Ext(f))}
			}
		}
	}
	return platform.Answer{}
}

// answerAndroid judges a name for Android alone.
func (s *site) answerAndroid(q platform.Question) platform.Answer {
	stems := s.stems(q)
	if s.styledFiles(q) || slices.Contains(q.System, q.Typed) || platform.FromPackage(s.Tree, s.Dir, q.Typed) {
		return platform.Answer{}
	}
	near := platform.Nearest(q.Typed, stems)
	if near == "" && installed.Has(q.Typed, installed.Android) {
		return platform.Answer{}
	}
	return platform.Answer{Fault: platform.UnknownFace, Message: fmt.Sprintf("Android has no font file %q", face.Short(q.Typed)), Cause: "Android goes by the name of the file in " + assets + ", without its ending",
		Cure: platform.Unknown(near, stems), Instead: near}
}

// answerFile judges the path of a font that code loads.
func (s *site) answerFile(q platform.Question) platform.Answer {
	return platform.AnswerFile(path.Join(path.Dir(q.File), q.Typed), q.FontFiles(s.Tree, s.Dir), "the bundler stops: it cannot resolve the file", "this file", func(f string) string {
		rel := platform.Relative(path.Dir(q.File), f)
		if !strings.HasPrefix(rel, ".") {
			rel = "./" + rel
		}
		return rel
	})
}

var (
	loadedFlag = lazy.Regexp(`^(?:const|let|var)\s*\[\s*(\w+)`)
	oneFlag    = lazy.Regexp(`^(?:const|let|var)\s+(\w+)\s*=`)
)

// A blanked is the source that was asked about last, without comments: code with thousands of loading calls
// is gone through once.
type blanked struct {
	mu         sync.Mutex
	file, code string
	raw        []byte
}

func (b *blanked) of(file string, raw []byte) string {
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.file != file || !bytes.Equal(b.raw, raw) {
		b.file, b.raw, b.code = file, raw, string(language.Of(file).Blank(raw))
	}
	return b.code
}

// answerLoad judges whether what is drawn waits for fonts that load when the app runs: the answer of
// useFonts is looked at, and loadAsync is awaited.
func (s *site) answerLoad(q platform.Question) platform.Answer {
	raw, ok := s.Tree.Glance(q.File, platform.MostSource)
	if !ok {
		return platform.Answer{}
	}
	code := s.blank.of(q.File, raw)
	early := func(message, cure string) platform.Answer {
		return platform.Answer{Fault: platform.TooEarly, Message: message, Cause: "text is drawn before the fonts are there: it shows the system's font, or the app reports an unrecognised font family", Cure: cure}
	}
	if strings.Contains(q.Typed, "useFonts") {
		if strings.Contains(code, "function useFonts") {
			return platform.Answer{}
		}
		flag := loadedFlag.FindStringSubmatch(q.Typed)
		if flag == nil {
			flag = oneFlag.FindStringSubmatch(q.Typed)
		}
		switch {
		case flag == nil && (strings.HasPrefix(q.Typed, "return") || strings.HasPrefix(q.Typed, "=>") || strings.HasPrefix(q.Typed, "(")):
			return platform.Answer{}
		case flag == nil:
			return early("nothing waits for what useFonts returns", "write const [loaded, error] = useFonts(…), and return null, or a placeholder, until loaded")
		case len(lazy.Regexp(`\b`+regexp.QuoteMeta(flag[1])+`\b`).FindAllString(code, 3)) < 2:
			return early(fmt.Sprintf("nothing asks for %s, which says whether the fonts are loaded", flag[1]), fmt.Sprintf("return null, or a placeholder, while !%s", flag[1]))
		}
		return platform.Answer{}
	}
	if !strings.Contains(code, "expo-font") || strings.ContainsAny(q.Typed[:1], "rac=([,") && !strings.HasPrefix(q.Typed, "loadAsync") || strings.Contains(code, "loadAsync") && strings.Contains(code, ".then(") {
		return platform.Answer{}
	}
	return early("nothing waits until loadAsync is done", "write await in front of it, and draw afterwards")
}

// Names under which code loads fonts itself: keys of a map from names to files, and of one that a
// loading call is given.
var (
	loadedKey   = lazy.Regexp(`(?:'([\w .-]+)'|"([\w .-]+)"|\b([A-Za-z_]\w*))\s*:\s*(?:require\s*\(\s*)?["'][^"'\n]*\.(?i:ttf|otf)["']`)
	loadedBlock = lazy.Regexp(`\b(?:useFonts|loadAsync)\s*\(\s*\{([^{}]*)\}`)
	customFont  = lazy.Regexp(`\baddCustomFont\s*\([^,()]*,\s*"([^"\\\n]+)"`)
	blockKey    = lazy.Regexp(`(?:^|,)\s*(?:'([\w .-]+)'|"([\w .-]+)"|([A-Za-z_]\w*))\s*(?:[:,]|$)`)
	required    = lazy.Regexp(`\brequire\s*\(\s*['"](\.[^'"\n]*\.(?i:ttf|otf))['"]`)
	imported    = lazy.Regexp(`\bimport\s+\w+\s+from\s+['"](\.[^'"\n]*\.(?i:ttf|otf))['"]`)
)

// loaded are the names under which the app's code loads fonts.
func (s *site) loaded() []string {
	out := platform.LoadedNames(s.Tree, s.Dir, scripts, loadedKey)
	out = append(out, platform.LoadedNames(s.Tree, path.Join(s.Dir, "android"), []*language.Language{language.Kotlin, language.Java}, customFont)...)
	for _, block := range platform.LoadedNames(s.Tree, s.Dir, scripts, loadedBlock) {
		for rest := block; ; { // keys share their commas
			m := blockKey.FindStringSubmatchIndex(rest)
			if m == nil {
				break
			}
			for i := 2; i < len(m); i += 2 {
				if m[i] >= 0 {
					out = append(out, rest[m[i]:m[i+1]])
				}
			}
			next := strings.IndexByte(rest[m[0]+1:], ',')
			if next < 0 {
				break
			}
			rest = rest[m[0]+1+next:]
		}
	}
	return out
}

// requires are the font files that code loads when the app runs, with the source that does.
func (s *site) requires() map[string]string {
	out := map[string]string{}
	for _, f := range s.Tree.Under(s.Dir) {
		l := language.Of(f)
		if !slices.Contains(scripts, l) || platform.IsTest(f) {
			continue
		}
		raw, ok := s.Tree.Glance(f, platform.MostSource)
		if !ok {
			continue
		}
		if !language.MayMatch(required, raw) && !language.MayMatch(imported, raw) {
			continue
		}
		clean := l.Blank(raw)
		for _, p := range []*lazy.Pattern{required, imported} {
			for _, m := range p.FindAllSubmatch(clean, mostRequired) {
				out[path.Join(path.Dir(f), string(m[1]))] = f
			}
		}
	}
	return out
}

// mostRequired is how many fonts of one source are looked at.
const mostRequired = 500

// hasFile says whether a font that nobody enrolled is in the package under the file's name that is
// typed, which Android goes by: so icon fonts are named.
func (s *site) hasFile(q platform.Question) bool {
	return slices.ContainsFunc(q.Here, func(p platform.Present) bool {
		_, inside := s.Rel(p.Path)
		return inside && strings.TrimSuffix(path.Base(p.Path), path.Ext(p.Path)) == q.Typed && !slices.ContainsFunc(q.Faces, func(f platform.Face) bool { return f.ID() == p.ID })
	})
}

// What React Native says on iOS is of a font that it does not find.
var logLine = lazy.Regexp(`Unrecognized font family '([^']+)'`)

// LogLines are those of the platform in an app's log.
func (Platform) LogLines() []*lazy.Pattern { return []*lazy.Pattern{logLine} }
