package platform

import (
	"bytes"
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// FromPackage says whether a family comes with a library that the package in a folder depends on: an
// icon font with one of icons, a family with one of its name, such as @somewhere/open-sans.
func FromPackage(tree Tree, dir, name string) bool {
	plain := installed.Plain(name)
	for dep := range Dependencies(tree, dir) {
		base := installed.Plain(dep[strings.LastIndexByte(dep, '/')+1:])
		if strings.Contains(base, "icon") && installed.IsIcon(name) || len(base) > 3 && strings.Contains(dep, "/") && strings.Contains(dep, "font") && strings.HasPrefix(plain, base) {
			return true
		}
	}
	return false
}

// LoadedNames are the names that an app's own code loads fonts under when it runs: the groups of
// patterns in its sources of some languages.
func LoadedNames(tree Tree, dir string, languages []*language.Language, patterns ...*lazy.Pattern) []string {
	var out []string
	for _, f := range tree.Under(dir) {
		l := language.Of(f)
		if !slices.Contains(languages, l) {
			continue
		}
		raw, ok := tree.Glance(f, MostSource)
		if !ok {
			continue
		}
		var clean []byte
		for _, p := range patterns {
			if !language.MayMatch(p, raw) {
				continue // most sources load nothing
			}
			if clean == nil {
				clean = l.Blank(raw)
			}
			for _, m := range language.Matches(p, clean, mostLoaded) {
				for i := 2; i < len(m); i += 2 {
					if m[i] >= 0 && m[i] < m[i+1] {
						out = append(out, string(clean[m[i]:m[i+1]]))
					}
				}
			}
		}
	}
	return out
}

// mostLoaded is how many matches of one pattern in a file are looked at.
const mostLoaded = 500

// testFolder and testFile are where tests are, by the customs of the languages.
var (
	testFolder = lazy.Regexp(`(?:^|/)(?:tests?|testsuites?|reftests?|test[-_]?data|fixtures|__tests__|__mocks__|__snapshots__|specs?|androidTest|testFixtures|commonTest|integration_test|test_driver|[\w.-]*(?:UITests?|Tests?|\.Tests?))/`)
	testFile   = lazy.Regexp(`(?:_test\.(?:dart|py|go)|[.-](?:test|spec)\.[cm]?[jt]sx?|[a-z0-9]Tests?\.(?:swift|m|mm|kt|java|cs|cpp)|(?:^|/)test_\w+\.(?:py|gd))$`)
)

// IsTest says whether a source is a test's, by its path from the app's folder: what it asks for is
// not in the app, and wrong names may be its business.
func IsTest(rel string) bool {
	if !strings.Contains(rel, "est") && !strings.Contains(rel, "spec") && !strings.Contains(rel, "fixtures") && !strings.Contains(rel, "__") {
		return false // most files
	}
	return testFolder.MatchString(rel) || testFile.MatchString(rel)
}

// othersFolder is where other people's code is: what is built there is not the app.
var othersFolder = lazy.Regexp(`(?i)(?:^|/)(?:third[-_]?party|3rd[-_]?party|extern|externals?|vendor|vendored|node_modules|bower_components|submodules|deps)/`)

// IsOthers says whether a file is other people's, by its path from the app's folder.
func IsOthers(rel string) bool { return othersFolder.MatchString(rel) }

// testsAlone are folders that nothing but tests are in: an app can be called SpeedTest, or be about fixtures.
var testsAlone = lazy.Regexp(`(?:^|/)(?:tests?|testsuites?|reftests?|__tests__|androidTest|test[-_]?data)/`)

// InTests says whether a file is in such a folder. What asks for fonts is judged by IsTest, which takes more for a test:
// there silence does no harm.
func InTests(rel string) bool { return testsAlone.MatchString(rel) }

// exampleFolder shows how a library is used.
var exampleFolder = lazy.Regexp(`(?i)(?:^|/)(?:examples?|samples?)/`)

// IsExample says whether an app, by its folder, is an example: beside a real app it is none to give fonts to.
func IsExample(app string) bool { return exampleFolder.MatchString(app + "/") }

// WhyNotOwn says what NotOwn found, "" for nothing.
func WhyNotOwn(app string) string {
	switch {
	case IsOthers(app + "/"):
		return "in a folder of other people's code"
	case InTests(app + "/"):
		return "in a folder of tests"
	}
	return ""
}

// NotOwn says whether an app, by its folder, is other people's or a test's.
func NotOwn(app string) bool { return WhyNotOwn(app) != "" }

// nameLike is what a family can be that is written out, and not put together.
var nameLike = lazy.Regexp(`^[\pL][\pL\pN .'_-]*$`)

// Foreign says whether a family can be no font that a system or a library brings, as far as that is
// known: an app that asks for it must bring it.
func Foreign(name string) bool {
	name = strings.TrimSpace(name)
	return len(name) > 1 && len(name) <= 80 && nameLike.MatchString(name) && !installed.Has(name, installed.Any) && !installed.IsDesktop(name) && !installed.IsIcon(name)
}

// AnswerForeign is the answer to a family that an app asks for and does not bring; what says where
// families are looked for.
func AnswerForeign(typed, what string, names []string) Answer {
	return Answer{Fault: UnknownFace, Message: fmt.Sprintf("nothing brings a family %q", face.Short(typed)), Cause: what, Cure: Unknown("", names)}
}

// Unloaded are those of some fonts that no code of an app loads: neither their names nor their folder are
// in its sources, and no loading call is made with a name that is put together. loader finds the calls, up
// to what is in their parentheses.
func Unloaded(tree Tree, dir string, fonts []string, languages []*language.Language, loader *lazy.Pattern) []string {
	if len(fonts) > mostLoaded {
		return nil // nobody wrote that by hand
	}
	left := map[string]bool{}
	for _, f := range fonts {
		left[f] = true
	}
	for _, file := range tree.Under(dir) {
		l := language.Of(file)
		if slices.Contains(dataEndings, strings.ToLower(path.Ext(file))) && len(left) > 0 {
			if raw, ok := tree.Glance(file, MostSource); ok { // which code reads: a list of assets, a theme
				maps.DeleteFunc(left, func(f string, _ bool) bool { return bytes.Contains(raw, []byte(path.Base(f))) })
			}
		}
		if !slices.Contains(languages, l) || IsTest(file) || len(left) == 0 {
			continue
		}
		raw, ok := tree.Glance(file, MostSource)
		if !ok {
			continue
		}
		clean := l.Blank(raw)
		for _, m := range loader.FindAllIndex(clean, mostLoaded) {
			if open := clean[m[1]:min(m[1]+200, len(clean))]; !quotedFont.Match(open[:endOfCall(open)]) {
				return nil // a name that is put together
			}
		}
		for f := range left {
			if strings.Contains(string(clean), path.Base(f)) {
				delete(left, f)
			}
		}
	}
	elsewhere(tree, dir, left, languages)
	out := slices.Collect(maps.Keys(left))
	slices.Sort(out)
	return out
}

// elsewhere takes out what sources outside of the app's folder name: a library beside it can load its fonts.
func elsewhere(tree Tree, dir string, left map[string]bool, languages []*language.Language) {
	if dir == "" || len(left) == 0 {
		return
	}
	for _, file := range tree.Under("") {
		if _, inside := Below(dir, file); inside || !slices.Contains(languages, language.Of(file)) || IsTest(file) {
			continue
		}
		if raw, ok := tree.Glance(file, MostSource); ok {
			maps.DeleteFunc(left, func(f string, _ bool) bool { return bytes.Contains(raw, []byte(path.Base(f))) })
		}
	}
}

// dataEndings are those of files in which an app can name the fonts that its code loads.
var dataEndings = []string{".json", ".jsonc", ".yaml", ".yml", ".toml", ".ini", ".cfg", ".conf", ".properties", ".dat", ".csv", ".xml", ".theme", ".lst"}

var quotedFont = lazy.Regexp(`(?i)["'][^"'\n]*\.(?:ttf|otf|ttc)["']`)

// endOfCall is where a call ends, of which the text is what follows its opening parenthesis.
func endOfCall(text []byte) int {
	depth := 1
	for i, c := range text {
		switch c {
		case '(':
			depth++
		case ')':
			if depth--; depth == 0 {
				return i
			}
		}
	}
	return len(text)
}

// Loading makes a flaw of each font that nothing loads.
func Loading(fonts []string, what, cure string) []Flaw {
	var out []Flaw
	for _, f := range fonts {
		out = append(out, Flaw{Kind: NotNamed, File: f, Subject: f, Message: fmt.Sprintf("nothing in the app loads %s", path.Base(f)), Cause: what, Cure: cure + ", or enrol it and register it, or delete it"})
	}
	return out
}
