package apple

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/platform"
	"notaria/internal/platform/apple/xcode"
)

// newer are the words of generated Swift that older systems do not have, with what brought each
// (Apple's documentation of the declaration).
var newer = []struct {
	word  *regexp.Regexp
	since string
}{
	{regexp.MustCompile(`\brelativeTo:|\bfixedSize:|\bFont\.TextStyle\b|\bFont\.Design\b`), since14},
	{regexp.MustCompile(`\bFont\b|\bText\b|\bColor\b|\bView\b|\bSystemDesign\b|\bwithDesign\b|\bCTFontManagerRegisterFontURLs\b`), since13},
	{regexp.MustCompile(`\bUIFontMetrics\b|return \.largeTitle|\bos_log\b`), since11},
}

var (
	available = regexp.MustCompile(`[@#]available\(([^)]*), \*\)`)
	braces    = regexp.MustCompile(`[{}]`)
)

// unchecked lists the lines of Swift that use what is newer than some of the systems that it is for,
// outside of a check of availability.
func unchecked(code string, oldest map[string]xcode.Version) []string {
	code = string(language.Swift.Skeleton([]byte(code)))
	var out []string
	depth := 0
	scopes := []map[string]xcode.Version{oldest} // what holds in the braces around
	var next map[string]xcode.Version            // and in the next ones
	for n, line := range strings.Split(code, "\n") {
		now := scopes[len(scopes)-1]
		if m := available.FindStringSubmatch(line); m != nil {
			raised := raise(now, m[1])
			switch {
			case strings.Contains(line, "guard"):
				scopes[len(scopes)-1] = raised
				next = now // what stands for the others
			case strings.HasPrefix(strings.TrimSpace(line), "@available") || strings.Contains(line, "if "):
				next = raised
			}
			if strings.Contains(line, "if ") {
				now = raised
			}
		} else {
			looked := now
			if next != nil && !strings.HasPrefix(strings.TrimSpace(line), "}") {
				looked = next // a declaration with an attribute
			}
			for _, w := range newer {
				if w.word.MatchString(line) && before(looked, w.since) && !strings.Contains(line, "canImport") && !strings.Contains(line, "import ") {
					out = append(out, fmt.Sprintf("%d: %s", n+1, strings.TrimSpace(line)))
					break
				}
			}
		}
		for _, b := range braces.FindAllString(line, -1) {
			if b == "{" {
				depth++
				scope := scopes[len(scopes)-1]
				if next != nil {
					scope, next = next, nil
				}
				scopes = append(scopes, scope)
			} else if depth--; len(scopes) > 1 {
				scopes = scopes[:len(scopes)-1]
			}
		}
	}
	return out
}

// raise is what holds where a check has passed.
func raise(oldest map[string]xcode.Version, clause string) map[string]xcode.Version {
	out := map[string]xcode.Version{}
	for sdk, v := range oldest {
		out[sdk] = v
		for _, one := range strings.Split(clause, ", ") {
			name, number, _ := strings.Cut(one, " ")
			if since, ok := xcode.ParseVersion(number); ok && systems[sdk] == name && v.Before(since) {
				out[sdk] = since
			}
		}
	}
	return out
}

func v(major, minor int) xcode.Version { return xcode.Version{Major: major, Minor: minor} }

// everyPart is a job whose roles have all that code can express.
func everyPart() platform.Job {
	f := platform.Face{Face: face.Face{PostScript: "SkerrySans-Regular", Family: "Skerry Sans", Style: "Regular", Weight: 400, UnitsPerEm: 1000, Ascent: 950, Descent: -250}, Ext: ".ttf"}
	black := platform.Colour{A: 255}
	return platform.Job{Faces: []platform.Face{f}, Roles: []platform.Role{
		{Name: "departure", Face: f, Size: 40, Scale: true, LineHeight: 44, Tracking: 20, Colour: &black, Outline: &platform.Outline{Width: 1, Colour: black},
			Shadow: &platform.Shadow{X: 1, Y: 1, Colour: black}, Fallback: "serif"},
		{Name: "note", Face: f, Size: 12, Fallback: "mono"},
	}}
}

// TestOldSystems renders the code for systems of every age, and finds nothing in it that is newer
// than them outside of a check. NOTARIA_SWIFT names a folder that gets the code, to be parsed.
func TestOldSystems(t *testing.T) {
	keep := os.Getenv("NOTARIA_SWIFT")
	for name, oldest := range map[string]map[string]xcode.Version{
		"newest": {}, "ios9": {"iphoneos": v(9, 0)}, "ios12": {"iphoneos": v(12, 0)}, "ios13": {"iphoneos": v(13, 4)}, "ios14": {"iphoneos": v(14, 0)},
		"mac10_12": {"macosx": v(10, 12)}, "mac10_15": {"macosx": v(10, 15)}, "watch4": {"watchos": v(4, 0)}, "watch6": {"watchos": v(6, 2)}, "tv10": {"appletvos": v(10, 0)},
		"both12": {"iphoneos": v(12, 0), "macosx": v(12, 0)}, "both10_13": {"iphoneos": v(15, 0), "macosx": v(10, 13)},
	} {
		for _, pack := range []bool{false, true} {
			_, mac := oldest["macosx"]
			both := strings.HasPrefix(name, "both") || pack
			data := newCode(everyPart(), mac || pack, both)
			if pack {
				data.Public, data.Package, data.Files = "public ", true, []string{`"SkerrySans-Regular.ttf"`}
			}
			data.serve(oldest, name == "tv10")
			text, err := platform.Render(templates, swiftFile+".tmpl", data)
			require.NoError(t, err)
			require.Empty(t, unchecked(string(text), oldest), "%s\n%s", name, text)
			require.NotContains(t, string(text), "\n\n\n")
			if keep != "" {
				require.NoError(t, os.WriteFile(filepath.Join(keep, fmt.Sprintf("%s-%t.swift", name, pack)), text, 0o644))
			}
		}
	}
	// The search does notice: code for a new system is wrong on an old one.
	data := newCode(everyPart(), false, false)
	text, err := platform.Render(templates, swiftFile+".tmpl", data)
	require.NoError(t, err)
	require.Greater(t, len(unchecked(string(text), map[string]xcode.Version{"iphoneos": v(12, 0)})), 8)
	require.Len(t, unchecked("if #available(iOS 13.0, *) {\n let c = Color.red\n}\nlet d = Color.red\n", map[string]xcode.Version{"iphoneos": v(12, 0)}), 1)
	require.Len(t, unchecked("func f() {\n guard #available(iOS 13.0, *) else {\n  _ = Color.red\n  return\n }\n _ = Color.blue\n}\n", map[string]xcode.Version{"iphoneos": v(12, 0)}), 1)
}
