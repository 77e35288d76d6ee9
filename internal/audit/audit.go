// Package audit answers one question: why would this font not show? Each rule
// has an id, and each finding a cause and a cure in plain words.
//
// The rules compare the plan with the disk; they never decide for themselves
// what ought to be there.
package audit

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"sort"
	"strings"

	"notaria/internal/change"
	"notaria/internal/edit"
	"notaria/internal/notary"
	"notaria/internal/target"
)

// The rules' ids.
const (
	FileMissing     = "file-missing"           // a planned file is not there
	FileDiffers     = "file-differs"           // it is, with other content
	EntryNoFile     = "entry-without-file"     // a manifest names a file that is not there
	FileNoEntry     = "file-without-entry"     // a font file lies in the app, and no manifest names it
	NotInBuild      = "not-in-build-phase"     // the project does not build the file into the app
	UnknownName     = "unknown-font-name"      // code asks for a face that nobody enrolled
	FileNameAsFont  = "file-name-as-font-name" // code asks for a file instead of a face
	UnknownResource = "unknown-font-resource"  // code asks for a font resource that is not there
	WeightOnFace    = "weight-on-a-face"       // a weight or slant is asked for on top of one face's name
	NotServed       = "app-not-served"         // an app, or one of its manifests, cannot be read
)

// Rules lists the rules in order, with what each looks for.
var Rules = []struct{ ID, Looks string }{
	{FileMissing, "a file that should be in the app is not on disk"},
	{FileDiffers, "a file of ours has another content than the plan says"},
	{EntryNoFile, "a manifest names a font file that is not there"},
	{FileNoEntry, "a font file lies in the app, but no manifest names it"},
	{NotInBuild, "a file is on disk, but the target does not build it in"},
	{UnknownName, "code asks for a face that no enrolled face answers to"},
	{FileNameAsFont, "code types the file's name where the font's belongs"},
	{UnknownResource, "code or layout asks for a font resource that is not there"},
	{NotServed, "an app, or one of its manifests, cannot be read or served"},
	{WeightOnFace, "a style asks for a weight or italic beside the name of one face"},
}

// A Finding is one reason why a font would not show.
type Finding struct {
	Rule    string `json:"rule"`
	Target  string `json:"target"`
	Site    string `json:"site"` // the app's path
	File    string `json:"file"`
	Line    int    `json:"line,omitempty"`
	Message string `json:"message"`
	Cause   string `json:"cause"`
	Cure    string `json:"cure"`
}

// auditor collects findings over a plan.
type auditor struct {
	p     *notary.Project
	plan  *notary.Plan
	set   *change.Set
	found []Finding
}

// Check holds the plan against the disk. The findings are in the order of
// files, lines and rules.
//
// Apps that cannot be planned for are findings, too.
func Check(ctx context.Context, p *notary.Project, plan *notary.Plan, unserved ...notary.Unserved) ([]Finding, error) {
	a := &auditor{p: p, plan: plan, set: &change.Set{Root: p.Root}}
	for _, u := range unserved {
		if !a.notServed(u.Target, u.Site, u.Err) {
			return nil, u.Err
		}
	}
	for _, s := range plan.Sites {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		before := len(a.found)
		missing, err := a.files(s)
		if err != nil {
			return nil, err
		}
		if err := a.entries(s, missing); err != nil && !a.notServed(s.Target.Name, s.Site.Path(), err) {
			return nil, err
		}
		if err := a.code(s); err != nil {
			return nil, err
		}
		for i := range a.found[before:] {
			a.found[before+i].Site = s.Site.Path()
		}
	}
	sort.SliceStable(a.found, func(i, j int) bool {
		x, y := a.found[i], a.found[j]
		if x.File != y.File {
			return x.File < y.File
		}
		if x.Line != y.Line {
			return x.Line < y.Line
		}
		return x.Rule < y.Rule
	})
	return a.found, nil
}

// notServed makes a finding of an error that says what is wrong with an app or one of
// its manifests; false for any other.
func (a *auditor) notServed(platform, site string, err error) bool {
	f := Finding{Rule: NotServed, Target: platform, Site: site, File: site}
	var manifest *edit.Error
	var app *target.SiteError
	switch {
	case errors.As(err, &manifest):
		f.File, f.Line, f.Cure = manifest.File, manifest.Line, manifest.Cure
		f.Message, f.Cause = "expected "+manifest.Expected, "found "+manifest.Found
	case errors.As(err, &app):
		f.Message, f.Cause, f.Cure = app.Site+": expected "+app.Expected, "found "+app.Found, app.Cure
		if f.File == "" {
			f.File = app.Site
		}
	default:
		return false
	}
	a.add(f)
	return true
}

func (a *auditor) add(f Finding) { a.found = append(a.found, f) }

// files compares the planned files with the disk, and returns those missing.
func (a *auditor) files(s notary.SitePlan) (map[string]bool, error) {
	missing := map[string]bool{}
	for _, f := range s.Files {
		want, err := a.p.Content(f)
		if err != nil {
			return nil, err
		}
		have, err := a.set.Read(f.Path)
		switch {
		case errors.Is(err, fs.ErrNotExist):
			missing[f.Path] = true
			a.add(a.missingFile(s, f.Path))
		case err != nil:
			return nil, err
		case change.Sum(have) != change.Sum(want):
			a.add(Finding{Rule: FileDiffers, Target: s.Target.Name, File: f.Path,
				Message: "this file is not what the registry asks for",
				Cause:   "notaria.toml or a face changed since the last register, or somebody edited the file",
				Cure:    "run: notaria register"})
		}
	}
	return missing, nil
}

// missingFile says whether a file of nearly that name is there: names that
// differ by capitals work on the Mac's disk and fail on the phone.
func (a *auditor) missingFile(s notary.SitePlan, name string) Finding {
	f := Finding{Rule: FileMissing, Target: s.Target.Name, File: name,
		Message: "this file should be in the app, and is not there",
		Cause:   "it was never registered, or it was deleted or moved", Cure: "run: notaria register"}
	for _, other := range a.p.Tree.Under(path.Dir(name)) {
		if other != name && strings.EqualFold(other, name) {
			f.Cause = fmt.Sprintf("a file is there under a name that differs by capitals: %s", path.Base(other))
			f.Cure = "delete that one, then run: notaria register"
		}
	}
	return f
}

// entries compares the planned entries, and all others of the same manifests,
// with the disk.
func (a *auditor) entries(s notary.SitePlan, missing map[string]bool) error {
	byFile := map[string][]edit.Entry{}
	var order []string
	for _, e := range s.Entries {
		if byFile[e.File] == nil {
			order = append(order, e.File)
		}
		byFile[e.File] = append(byFile[e.File], e)
	}
	for _, file := range order {
		list := byFile[file]
		doc, err := a.set.Read(file)
		if err != nil {
			return err
		}
		switch list[0].Syntax {
		case edit.SyntaxPlist:
			err = a.plist(s, file, doc, list, missing)
		case edit.SyntaxAddFont:
			err = a.addFont(s, file, doc, list)
		case edit.SyntaxAppJSON:
			err = a.appJSON(s, file, doc, list, missing)
		case edit.SyntaxPubspec:
			err = a.pubspec(s, file, doc, list, missing)
		case edit.SyntaxProject:
			err = a.project(s, file, doc, list, missing)
		case edit.SyntaxByHand:
			a.byHand(s, file, doc, list)
		default:
			a.lines(s, file, doc, list)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// fontEndings are the endings of files that Apple's manifests may name.
var fontEndings = map[string]bool{".ttf": true, ".otf": true, ".ttc": true}

func (a *auditor) plist(s notary.SitePlan, file string, doc []byte, list []edit.Entry, missing map[string]bool) error {
	list, err := a.plistStrings(s, file, doc, list)
	if err != nil || len(list) == 0 {
		return err
	}
	values, lines, err := edit.PlistArray(file, doc, list[0].Place)
	if err != nil {
		return err
	}
	key := list[0].Place
	named := map[string]bool{}
	for _, v := range values {
		named[v], named[path.Base(v)] = true, true
	}
	for _, e := range list {
		if !named[e.Value] {
			a.add(Finding{Rule: FileNoEntry, Target: s.Target.Name, File: file,
				Message: fmt.Sprintf("%s does not name %s", key, e.Value),
				Cause:   "the system loads only the files that this list names", Cure: "run: notaria register"})
		}
	}
	// Fonts that lie in the app by another hand.
	inApp := a.fontsBelow(path.Dir(file))
	for _, f := range inApp {
		if base := path.Base(f); !named[base] && !planned(list, base) {
			a.add(Finding{Rule: FileNoEntry, Target: s.Target.Name, File: f,
				Message: fmt.Sprintf("%s of %s does not name this file", key, file),
				Cause:   "the system loads only the files that this list names",
				Cure:    "enrol the file and register it, or delete it"})
		}
	}
	// An extension can name what lies in the folder of its app.
	if root := path.Dir(s.Site.Path()); path.Ext(s.Site.Path()) == ".xcodeproj" {
		inApp = a.fontsBelow(root)
	}
	for i, v := range values {
		if f, bad := a.namedFile(s, file, v, inApp, missing); bad {
			f.Line = lines[i]
			a.add(f)
		}
	}
	return nil
}

// plistStrings compares the strings among the planned entries, and returns the
// others.
func (a *auditor) plistStrings(s notary.SitePlan, file string, doc []byte, list []edit.Entry) ([]edit.Entry, error) {
	var rest []edit.Entry
	for _, e := range list {
		key, isString := strings.CutPrefix(e.Place, edit.PlaceString)
		if !isString {
			rest = append(rest, e)
			continue
		}
		have, line, err := edit.PlistString(file, doc, key)
		if err != nil {
			return nil, err
		}
		if have != e.Value {
			a.add(Finding{Rule: FileNoEntry, Target: s.Target.Name, File: file, Line: line,
				Message: fmt.Sprintf("%s is %q, and the fonts land in %q", key, have, e.Value),
				Cause:   "a Mac app loads the fonts of this one folder of its resources", Cure: "run: notaria register"})
		}
	}
	return rest, nil
}

// byHand looks whether a person wrote what Notaria cannot.
func (a *auditor) byHand(s notary.SitePlan, file string, doc []byte, list []edit.Entry) {
	for _, e := range list {
		if !edit.Holds(doc, e.Value) {
			a.add(Finding{Rule: FileNoEntry, Target: s.Target.Name, File: file,
				Message: fmt.Sprintf("%s does not name %s", path.Base(file), e.Value),
				Cause:   "the file is a program, into which Notaria does not write", Cure: "add by hand: " + e.Place})
		}
	}
}

// lines looks for what stands in a manifest as elements or lines of code.
func (a *auditor) lines(s notary.SitePlan, file string, doc []byte, list []edit.Entry) {
	for _, e := range list {
		out, _, err := edit.Reconcile(file, e.Syntax, doc, []edit.Entry{e}, nil)
		f := Finding{Rule: FileNoEntry, Target: s.Target.Name, File: file, Message: fmt.Sprintf("%s does not hold %s", path.Base(file), e.Value),
			Cause: "without it the build does not take the font in, or the app does not know of it", Cure: "run: notaria register"}
		if err != nil {
			f.Cure = err.Error()
		}
		if err != nil || !bytes.Equal(out, doc) {
			a.add(f)
		}
	}
}

// addFont compares the fonts that the program registers with the plan and the disk.
func (a *auditor) addFont(s notary.SitePlan, file string, doc []byte, list []edit.Entry) error {
	fonts, err := edit.AddedFonts(file, doc)
	if err != nil {
		return err
	}
	files := map[string]bool{}
	for _, f := range fonts {
		files[f.File] = true
		there := slices.ContainsFunc(a.p.Tree.Under(path.Join(s.Site.Path(), "Resources")), func(p string) bool { return path.Base(p) == f.File })
		if planned := slices.ContainsFunc(s.Files, func(p target.File) bool { return path.Base(p.Path) == f.File }); !there && !planned {
			a.add(Finding{Rule: EntryNoFile, Target: s.Target.Name, File: file, Line: f.Line,
				Message: fmt.Sprintf("%q is registered here, and there is no such file below Resources", f.File),
				Cause:   "the file was deleted or renamed, or the name is mistyped: the app says nothing and shows the system font", Cure: "correct the name, or take the line out"})
		}
	}
	for _, e := range list {
		if !files[e.Value] {
			a.add(Finding{Rule: FileNoEntry, Target: s.Target.Name, File: file,
				Message: fmt.Sprintf("ConfigureFonts does not register %s", e.Value),
				Cause:   "a font is known by the alias that it is registered under, and by nothing else", Cure: "run: notaria register"})
		}
	}
	return nil
}

// appJSON compares the plugin's fonts with the plan and the disk.
func (a *auditor) appJSON(s notary.SitePlan, file string, doc []byte, list []edit.Entry, missing map[string]bool) error {
	values, lines, err := edit.AppJSONFonts(file, doc)
	if err != nil {
		return err
	}
	for _, e := range list {
		if e.Place == edit.PlaceAndroidFonts {
			a.lines(s, file, doc, []edit.Entry{e})
		} else if !slices.Contains(values, e.Value) {
			a.add(Finding{Rule: FileNoEntry, Target: s.Target.Name, File: file,
				Message: fmt.Sprintf("the fonts of the plugin expo-font do not name %s", e.Value),
				Cause:   "the plugin puts only these files into the apps; a plain list in place of {\"fonts\": […]} does nothing, and says nothing", Cure: "run: notaria register"})
		}
	}
	for i, v := range values {
		at := path.Join(path.Dir(file), v)
		if _, err := a.set.Read(at); err != nil && !missing[at] {
			a.add(Finding{Rule: EntryNoFile, Target: s.Target.Name, File: file, Line: lines[i],
				Message: fmt.Sprintf("%q is named here, and there is no such file", v),
				Cause:   "the file was deleted or renamed, or the path is mistyped", Cure: "correct the path (it counts from app.json), or take the line out"})
		}
	}
	return nil
}

// pubspec compares declared assets with the plan and the disk.
func (a *auditor) pubspec(s notary.SitePlan, file string, doc []byte, list []edit.Entry, missing map[string]bool) error {
	assets, err := edit.PubspecAssets(file, doc)
	if err != nil {
		return err
	}
	family := map[string]string{}
	for _, x := range assets {
		family[x.Path] = x.Family
	}
	for _, e := range list {
		want := strings.TrimPrefix(e.Place, "family:")
		switch have, ok := family[e.Value]; {
		case !ok:
			a.add(Finding{Rule: FileNoEntry, Target: s.Target.Name, File: file,
				Message: fmt.Sprintf("no family declares %s", e.Value),
				Cause:   "a line is missing, indented wrongly, or still a remark: then Flutter says nothing and shows its own font", Cure: "run: notaria register"})
		case have != want:
			a.add(Finding{Rule: FileNoEntry, Target: s.Target.Name, File: file,
				Message: fmt.Sprintf("%s is declared under the family %q, and code asks for %q", e.Value, have, want),
				Cause:   "Flutter finds a font by its declared family alone", Cure: fmt.Sprintf("write family: %s", want)})
		}
	}
	for _, x := range assets {
		at := path.Join(path.Dir(file), x.Path)
		if _, err := a.set.Read(at); err != nil && !missing[at] && !strings.HasPrefix(x.Path, "packages/") {
			a.add(Finding{Rule: EntryNoFile, Target: s.Target.Name, File: file, Line: x.Line,
				Message: fmt.Sprintf("%q is declared here, and there is no such file", x.Path),
				Cause:   "the file was deleted or renamed, or the path is mistyped: the build stops", Cure: "correct the path (it counts from the pubspec), or take the lines out"})
		}
	}
	return nil
}

func planned(list []edit.Entry, base string) bool {
	for _, e := range list {
		if path.Base(e.Value) == base {
			return true
		}
	}
	return false
}

// fontsBelow lists the font files below a folder, without the originals.
func (a *auditor) fontsBelow(dir string) []string {
	var out []string
	for _, f := range a.p.Tree.Under(dir) {
		if fontEndings[strings.ToLower(path.Ext(f))] && !strings.HasPrefix(f, a.p.Registry.Folder+"/") {
			out = append(out, f)
		}
	}
	return out
}

// namedFile checks one value of a manifest: is there such a file?
func (a *auditor) namedFile(s notary.SitePlan, file, value string, inApp []string, missing map[string]bool) (Finding, bool) {
	f := Finding{Rule: EntryNoFile, Target: s.Target.Name, File: file,
		Message: fmt.Sprintf("%q is named here, and there is no such file", value),
		Cause:   "the file was deleted or renamed, or the name is mistyped",
		Cure:    "correct the name, or take the line out"}
	for _, have := range inApp {
		base := path.Base(have)
		switch {
		case (base == value || strings.HasSuffix(have, "/"+value)) && !missing[have]:
			return f, false
		case strings.EqualFold(base, value):
			f.Cause = fmt.Sprintf("the file's name differs by capitals: %s", base)
			f.Cure = fmt.Sprintf("write %q", base)
		case base == path.Base(value):
			f.Cause = "a folder is named that is not in the bundle: files of a group land at its root"
			f.Cure = fmt.Sprintf("write %q", base)
		case path.Ext(value) == "" && strings.TrimSuffix(base, path.Ext(base)) == value:
			f.Cause = "the file's ending is left out"
			f.Cure = fmt.Sprintf("write %q", base)
		}
	}
	return f, true
}

func (a *auditor) project(s notary.SitePlan, file string, doc []byte, list []edit.Entry, missing map[string]bool) error {
	p, err := edit.ParseProject(file, doc)
	if err != nil {
		return err
	}
	root := path.Dir(path.Dir(file))
	for _, e := range list {
		if missing[path.Join(root, e.Value)] {
			continue // said already
		}
		kind, name, _ := strings.Cut(e.Place, ":")
		f := Finding{Rule: NotInBuild, Target: s.Target.Name, File: file, Cure: "run: notaria register"}
		switch p.Missing(e) {
		case "setting":
			f.Rule = FileNoEntry
			f.Message = fmt.Sprintf("the target %s does not set %s", name, e.Value)
			f.Cause = "without it the build does not take in the Info.plist that names the fonts"
		case "membership":
			f.Message = fmt.Sprintf("%s lies in a folder that is taken in as it is, and is no exception for the target %s", e.Value, name)
			f.Cause = "another target's folder gives up only the files that are named, and an Info.plist in a target's own folder stops the build"
		case "reference":
			f.Message = fmt.Sprintf("%s is on disk, but not in the project", e.Value)
			f.Cause = "a file that only lies in the folder is not built into the app"
		case "phase":
			f.Message = fmt.Sprintf("%s is in the project, but not in the %s phase of the target %s", e.Value, kind, name)
			f.Cause = "only files in that phase are built into the app; a tick at \"Target Membership\" is missing"
		default:
			continue
		}
		a.add(f)
	}
	return nil
}
