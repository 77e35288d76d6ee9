// Package apple serves the apps of Apple's platforms. For an Xcode project: font
// files in a group of the project and in the resources phase of each app and
// extension, their paths in Info.plist, and code that loads them by PostScript
// name. For a Swift package: font files among its resources, and code that makes
// them known at run time.
package apple

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/pbx"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/platform"
	"notaria/internal/platform/apple/xcode"
)

// KeyFonts is the list of an app's own fonts in its Info.plist: paths from the
// root of the bundle's resources, with extension. KeyFolder is the Mac's: one
// folder of the bundle's resources in which all fonts lie.
const (
	KeyFonts  = "UIAppFonts"
	KeyFolder = "ATSApplicationFontsPath"
)

// typeFolder is the folder, beside the app's sources, for all that Notaria adds.
const typeFolder = "Type"

// Generated files in that folder.
const (
	swiftFile  = "AppType.swift"
	headerFile = "AppType.h"
	objcFile   = "AppType.m"
)

const macSDK = "macosx"

// Platform is the Apple platform.
type Platform struct{}

// About describes the platform.
func (Platform) About() platform.About {
	return platform.About{
		Name: "apple", Title: "Apple", Kind: platform.ByPostScript, Typed: `UIFont(name: "…", size: 17), NSFont and Font.custom("…", size: 17)`,
		Minimum: "iOS and iPadOS 9, macOS 10.12, tvOS 9, watchOS 2, visionOS (SwiftUI from iOS 13); an Xcode project of objectVersion 46 to 77 or the manifest that it is made from, or a Swift package of tools 5.3",
		Gets:    "files in a group, in a folder reference, or in a folder that is taken in as it is, with its exceptions, for each app and extension; UIAppFonts and ATSApplicationFontsPath in Info.plist files, written out or binary, or in a partial one where the build makes the rest; AppType.swift, or AppType.h and .m. Projects of objectVersion 46 to 77, or the manifests that they are made from. Swift packages: resources, made known at run time",
		Cannot:  []string{"Mac fonts by a copy-files phase of their own (use a folder reference)", "an outline and narrow lines in SwiftUI (use the attributes)"},
		Options: []platform.Option{
			{Key: "targets", Kind: platform.KindList, Help: "the app and extension targets, or the targets of a Swift package, that get the fonts; all, if it is not set"},
			{Key: "code", Kind: platform.KindWord, Help: "swift, objective-c or both; by the sources, if it is not set"},
			{Key: "packages", Kind: platform.KindList, Help: "folders of Swift packages that are served though they belong to an Xcode project"},
		},
	}
}

// Type returns the PostScript name, the only name that UIFont and Font.custom
// answer to in every case.
func (Platform) Type(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		out[i] = f.PostScript
	}
	return out
}

// site is one Xcode project with at least one app.
type site struct {
	platform.Base // the folder that the project's paths start from
	project       *pbx.Project
	file          string // project.pbxproj
	folder        string // where our code goes, from root
	fonts         string // where our fonts go, from root
	targets       []xcode.BuildTarget
	macPath       map[string]string // what a Mac target says under KeyFolder
	swift, objc   map[string]bool   // the targets that get code in each, by name
}

// Sites finds the Xcode projects that build apps, and the Swift packages that
// draw text.
func (Platform) Sites(tree platform.Tree, opt platform.Options) ([]platform.Site, error) {
	var found platform.Found
	var roots []string
	known := map[string]bool{} // names of targets
	for _, file := range tree.Named("project.pbxproj") {
		s, wrong := newSite(tree, file, opt, known)
		for _, err := range wrong {
			found.Add(path.Dir(file), nil, err)
		}
		if s != nil {
			found.Add(path.Dir(file), s, nil)
			roots = append(roots, s.Dir)
		}
	}
	roots = append(roots, madeSites(&found, tree, opt, known)...)
	packageSites(&found, tree, opt, roots, known)
	for _, name := range opt.List("targets") {
		if !known[name] {
			found.Add("", nil, platform.Refuse("notaria.toml", fmt.Sprintf("a target %q in some project, for targets under [target.apple]", name),
				strings.Join(slices.Sorted(maps.Keys(known)), ", "), "correct the name"))
		}
	}
	return found.All()
}

// newSite reads one project; nil if it builds no app that is served. Beside a site, the errors are
// of targets that are not served.
func newSite(tree platform.Tree, file string, opt platform.Options, known map[string]bool) (*site, []error) {
	doc, err := platform.ReadDocument(tree, file)
	if err != nil {
		return nil, []error{err}
	}
	root := platform.Folder(path.Dir(file))
	if generatedBy(tree, path.Dir(root)) || makerOf(tree, root) != "" {
		return nil, nil
	}
	p, err := pbx.Parse(doc)
	if err != nil {
		return nil, []error{err}
	}
	s := &site{Base: platform.Base{Tree: tree, Dir: root}, project: p, file: file, macPath: map[string]string{}}
	s.targets = xcode.Targets(p, func(name string) ([]byte, error) { return tree.Read(path.Join(root, name)) })
	if !slices.ContainsFunc(s.targets, func(t xcode.BuildTarget) bool { return !t.Extension }) {
		return nil, nil
	}
	for _, t := range s.targets {
		known[t.Name] = true
	}
	s.choose(opt.List("targets"))
	unserved := s.settle()
	if len(s.targets) == 0 {
		return nil, unserved
	}
	s.folder = s.typeFolder()
	if err := s.fontFolder(); err != nil {
		return nil, []error{err}
	}
	if err := s.language(opt.Word("code")); err != nil {
		return nil, []error{err}
	}
	return s, unserved
}

// generatedBy says whether a project is the native part of an app that brings its
// fonts in another way.
func generatedBy(tree platform.Tree, app string) bool {
	return tree.Claim(app) == platform.Whole
}

// partial is the Info.plist that Notaria makes for a target whose build makes
// the rest of it: the build merges the two. It is beside the project, where no
// folder that is taken in as it is can pick it up as a resource.
func partial(t xcode.BuildTarget) string {
	return "AppType-" + platform.PlainBase(t.Name) + "-Info.plist"
}

// typeFolder puts our folder beside the first app's Info.plist or its sources. Where a folder is
// there whose name differs from ours by capitals, such as that of the originals, ours gets another
// name: on most Macs both would be one.
func (s *site) typeFolder() string {
	dir := s.codeFolder()
	at := path.Join(s.Dir, dir, typeFolder)
	if platform.Spelled(s.Tree, at) != at {
		return path.Join(dir, "App"+typeFolder)
	}
	return path.Join(dir, typeFolder)
}

// codeFolder is where the first app's sources are.
func (s *site) codeFolder() string {
	list := slices.Clone(s.targets)
	slices.SortStableFunc(list, func(a, b xcode.BuildTarget) int {
		switch {
		case a.Extension == b.Extension:
			return 0
		case a.Extension:
			return 1
		}
		return -1
	})
	for _, t := range list {
		if len(t.Synchronized) > 0 {
			return t.Synchronized[0]
		}
		for _, p := range t.InfoPlists {
			if !strings.HasPrefix(p, "../") {
				return platform.Folder(p)
			}
		}
		if len(s.Tree.Under(path.Join(s.Dir, t.Name))) > 0 {
			return t.Name
		}
		for _, f := range t.Sources {
			if !strings.HasPrefix(f, "../") {
				return platform.Folder(f)
			}
		}
	}
	return ""
}

// fontFolder puts the fonts beside our code, unless the project has a folder of
// fonts that is copied whole.
func (s *site) fontFolder() error {
	s.fonts = s.folder
	for _, t := range s.targets {
		for _, dir := range t.Folders {
			if slices.ContainsFunc(s.Tree.Under(path.Join(s.Dir, dir)), platform.IsFont) {
				s.fonts = dir
			}
		}
		for _, p := range t.InfoPlists {
			at := path.Join(s.Dir, p)
			doc, err := platform.ReadDocument(s.Tree, at)
			if err != nil {
				return err
			}
			value, _, err := xmldoc.String(doc, KeyFolder)
			if err != nil {
				return err
			}
			s.macPath[t.Name] = strings.TrimSuffix(value, "/")
		}
	}
	return nil
}

func (s *site) Path() string { return path.Dir(s.file) }

func (s *site) Title() string { return "Apple " + s.Path() }

func (s *site) next() string {
	return "build the app again in Xcode; if it runs already, delete it from the device first, for old bundles are kept"
}

// layout is where the faces of one job are, from the project's folder.
type layout struct {
	*site
	job platform.Job
	at  map[string]string // by the face's name
}

func (s *site) layout(job platform.Job) *layout {
	l := &layout{s, job, map[string]string{}}
	for _, f := range job.Faces {
		l.at[f.ID()] = s.place(job, f)
	}
	return l
}

func (l *layout) place(f platform.Face) string { return l.at[f.ID()] }

// place is where a face belongs, from the project's folder: where somebody put it, if the
// project takes it from there, else where ours go.
func (s *site) place(job platform.Job, f platform.Face) string {
	at, ok := job.At(f, func(p string) bool {
		rel := s.from(p)
		return s.project.Has(rel) || s.whole(rel) != "" || slices.ContainsFunc(s.targets, func(t xcode.BuildTarget) bool {
			return takes(t, rel) && !s.project.Excepted(t.Name, rel) // not one that somebody held back
		})
	})
	if ok {
		return s.from(at)
	}
	return path.Join(s.fonts, f.Base())
}

// from is a path of the tree as the project writes it: also ../Shared/Fonts/X.ttf.
func (s *site) from(name string) string { return platform.Relative(s.Dir, name) }

// whole finds the folder reference that a file is in, or "".
func (s *site) whole(rel string) string {
	for _, t := range s.targets {
		for _, dir := range t.Folders {
			if strings.HasPrefix(rel, dir+"/") {
				return dir
			}
		}
	}
	return ""
}

// inBundle is a file's path from the root of the bundle's resources: the files of
// a group land at the root, those of a folder reference keep their folder.
func (s *site) inBundle(rel string) string {
	if dir := s.whole(rel); dir != "" {
		return path.Base(dir) + rel[len(dir):]
	}
	return path.Base(rel)
}

// takes says whether a target takes a file in without any mention of it.
func takes(t xcode.BuildTarget, rel string) bool {
	return slices.ContainsFunc(t.Synchronized, func(dir string) bool { return strings.HasPrefix(rel, dir+"/") })
}

// anyTakes says whether some target does.
func (s *site) anyTakes(rel string) bool {
	return slices.ContainsFunc(s.targets, func(t xcode.BuildTarget) bool { return takes(t, rel) })
}

// Plan is each face once, under its PostScript name; its entry in Info.plist and in the
// resources phase of every app and extension; the code in the app's language, in the
// sources phase; and the partial Info.plist of targets that have none.
func (s *site) Plan(job platform.Job) (platform.Plan, error) {
	if err := allNamed(s.Path(), job); err != nil {
		return platform.Plan{}, err
	}
	if err := s.outside(job); err != nil {
		return platform.Plan{}, err
	}
	l := s.layout(job)
	p := platform.Plan{Next: s.next(), Answer: s.answer, Files: job.CopiesAt(func(f platform.Face) string { return path.Join(s.Dir, l.place(f)) })}
	var err error
	if p.Entries, err = l.entries(); err != nil {
		return p, err
	}
	if p.Code, err = l.code(); err != nil {
		return p, err
	}
	if s.any(s.swift) {
		p.Short = swiftShortfalls(job)
	}
	isMac := slices.ContainsFunc(l.targets, mac)
	p.Show = shows(job, s.Base, s.any(s.swift), s.any(s.objc), isMac && !slices.ContainsFunc(l.targets, touch))
	return p, nil
}

// outside refuses a project that builds in a face's file from a folder which is not seen: a second
// file of that name in its resources would stop the build.
func (s *site) outside(job platform.Job) error {
	for _, t := range s.targets {
		files, _ := xcode.Resources(s.project, t)
		files = slices.DeleteFunc(files, func(f string) bool { return !strings.HasPrefix(path.Join(s.Dir, f), "../") })
		for _, f := range append(files, xcode.Away(s.project, t)...) {
			if slices.ContainsFunc(job.Faces, func(face platform.Face) bool { return face.Base() == path.Base(f) }) {
				return platform.Refuse(s.file, fmt.Sprintf("the font %s of the target %q inside the project's folder", path.Base(f), t.Name), f+", which is outside of it",
					"name a folder that holds both with --project, or take that file out of the target")
			}
		}
	}
	return nil
}

// allNamed makes sure that each face has the name that these platforms answer to.
func allNamed(site string, job platform.Job) error {
	for _, f := range job.Faces {
		if f.PostScript == "" {
			return platform.Refuse(site, "a PostScript name in each face", fmt.Sprintf("none in %q", face.Short(f.Full)), "strike that face, and enrol it again with --mend-names")
		}
	}
	return nil
}

func (l *layout) entries() ([]edit.Entry, error) {
	if len(l.job.Faces) == 0 {
		return nil, nil
	}
	var out []edit.Entry
	for _, t := range l.targets {
		list, err := l.manifestEntries(t)
		if err != nil {
			return nil, err
		}
		out = append(out, list...)
		for _, f := range l.job.Faces {
			out = l.build(out, t, pbx.KindResources, l.place(f))
		}
		if len(l.job.Roles) == 0 {
			continue
		}
		out = l.languageEntries(out, t)
	}
	return unique(out), nil
}

// languageEntries have a target build the code in its language. A folder that is taken in as it is
// brings the code of another target's language along: that is held back.
func (l *layout) languageEntries(out []edit.Entry, t xcode.BuildTarget) []edit.Entry {
	for _, c := range []struct {
		in   map[string]bool
		base string
		kind edit.Kind
	}{{l.swift, swiftFile, pbx.KindSources}, {l.objc, headerFile, pbx.KindReference}, {l.objc, objcFile, pbx.KindSources}} {
		rel := path.Join(l.folder, c.base)
		switch {
		case c.in[t.Name]:
			out = l.build(out, t, c.kind, rel)
		case l.any(c.in) && c.kind == pbx.KindSources && takes(t, rel):
			out = append(out, l.projectEntry(pbx.KindMembership, t, rel))
		}
	}
	return out
}

// unique drops entries that are there already, such as a header that two targets
// refer to.
func unique(list []edit.Entry) []edit.Entry {
	seen := map[string]bool{}
	return slices.DeleteFunc(list, func(e edit.Entry) bool {
		was := seen[e.Key()]
		seen[e.Key()] = true
		return was
	})
}

// projectEntry is an entry of the project file, for a target.
func (s *site) projectEntry(kind edit.Kind, t xcode.BuildTarget, value string) edit.Entry {
	return edit.Entry{File: s.file, Syntax: pbx.Syntax{}.Name(), Place: edit.Place{Kind: kind, Name: t.Name}, Value: value}
}

// build adds what takes a file into a target, in the way that the project has for its
// place.
func (s *site) build(out []edit.Entry, t xcode.BuildTarget, kind edit.Kind, rel string) []edit.Entry {
	dir := s.whole(rel)
	switch {
	case takes(t, rel):
		return out
	case dir != "" && slices.Contains(t.Folders, dir):
		return out
	case dir != "":
		return append(out, s.projectEntry(pbx.KindResources, t, dir))
	case s.anyTakes(rel) && strings.HasSuffix(rel, ".h"):
		return out // headers are found by their folder
	case s.anyTakes(rel):
		return append(out, s.projectEntry(pbx.KindMembership, t, rel))
	}
	return append(out, s.projectEntry(kind, t, rel))
}

// manifestEntries has a target's Info.plist name the fonts.
func (l *layout) manifestEntries(t xcode.BuildTarget) ([]edit.Entry, error) {
	folder, err := l.macFolder(t)
	if err != nil {
		return nil, err
	}
	var out []edit.Entry
	if len(t.InfoPlists) == 0 {
		out = append(out, l.projectEntry(pbx.KindSetting, t, "INFOPLIST_FILE="+partial(t)))
	}
	for _, plist := range t.InfoPlists {
		if takes(t, plist) { // or the build copies it as a resource, too, and stops
			out = append(out, l.projectEntry(pbx.KindMembership, t, plist))
		}
		e := edit.Entry{File: path.Join(l.Dir, plist), Syntax: xmldoc.List{}.Name()}
		for _, f := range l.job.Faces {
			if touch(t) {
				e.Place, e.Value = edit.Place{Kind: xmldoc.KindArray, Name: KeyFonts}, l.inBundle(l.place(f))
				out = append(out, e)
			}
		}
		if folder != "" {
			e.Place, e.Value = edit.Place{Kind: xmldoc.KindString, Name: KeyFolder}, folder
			out = append(out, e)
		}
	}
	return out, nil
}

// any says whether some target is among those of a language.
func (s *site) any(in map[string]bool) bool {
	return slices.ContainsFunc(s.targets, func(t xcode.BuildTarget) bool { return in[t.Name] })
}

func mac(t xcode.BuildTarget) bool { return slices.Contains(t.Platforms, macSDK) }

// touch says whether a target is built for any platform but the Mac.
func touch(t xcode.BuildTarget) bool {
	return slices.ContainsFunc(t.Platforms, func(p string) bool { return p != macSDK })
}

// macFolder is the one folder of a Mac target in which all fonts are, "" for any other
// target.
func (l *layout) macFolder(t xcode.BuildTarget) (string, error) {
	if !mac(t) {
		return "", nil
	}
	folder := ""
	for i, f := range l.job.Faces {
		at := path.Dir(l.inBundle(l.place(f)))
		if i > 0 && at != folder {
			return "", platform.Refuse(l.Path(), "all fonts of a Mac app in one folder of its resources", fmt.Sprintf("%q and %q", folder, at),
				"move them into one group or folder reference, then register again")
		}
		folder = at
	}
	if have := l.macPath[t.Name]; have != "" && have != folder {
		return "", platform.Refuse(l.Path(), fmt.Sprintf("%s = %q in the Info.plist of %s, where the fonts are", KeyFolder, folder, t.Name), fmt.Sprintf("%q", have),
			fmt.Sprintf("put a folder reference %q with a font in it into the resources phase, or write %q there, then register again", have, folder))
	}
	return folder, nil
}

// code is the partial Info.plist of targets that have none, and the sources.
func (l *layout) code() ([]platform.File, error) {
	var out []platform.File
	for _, t := range l.targets {
		if len(t.InfoPlists) == 0 && t.Generated && len(l.job.Faces) > 0 {
			folder, err := l.macFolder(t)
			if err != nil {
				return nil, err
			}
			out = append(out, platform.Code(path.Join(l.Dir, partial(t)), l.partialPlist(t, folder)))
		}
	}
	if len(l.job.Roles) == 0 {
		return out, nil
	}
	for _, c := range []struct {
		in    map[string]bool
		swift bool
	}{{l.swift, true}, {l.objc, false}} {
		served := slices.DeleteFunc(slices.Clone(l.targets), func(t xcode.BuildTarget) bool { return !c.in[t.Name] })
		if len(served) == 0 {
			continue
		}
		isMac := slices.ContainsFunc(served, mac)
		data := newCode(l.job, isMac, isMac && slices.ContainsFunc(served, touch))
		data.serve(oldest(served), slices.ContainsFunc(served, func(t xcode.BuildTarget) bool { return slices.Contains(t.Platforms, "appletvos") }))
		code, err := sources(data, path.Join(l.Dir, l.folder), c.swift, !c.swift)
		if err != nil {
			return nil, err
		}
		out = append(out, code...)
	}
	return out, nil
}

// sources renders the code in one language or both.
func sources(data code, folder string, swift, objc bool) ([]platform.File, error) {
	var out []platform.File
	add := func(names ...string) error {
		for _, name := range names {
			text, err := platform.Render(templates, name+".tmpl", data)
			if err != nil {
				return err
			}
			out = append(out, platform.Code(path.Join(folder, name), text))
		}
		return nil
	}
	if swift {
		if err := add(swiftFile); err != nil {
			return nil, err
		}
	}
	if objc {
		data.objectiveC()
		return out, add(headerFile, objcFile)
	}
	return out, nil
}

// partialPlist names the fonts and nothing else. The names are safe file names.
func (l *layout) partialPlist(t xcode.BuildTarget, folder string) []byte {
	var b strings.Builder
	b.WriteString(`<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE plist PUBLIC "-//Apple//DTD PLIST 1.0//EN" "http://www.apple.com/DTDs/PropertyList-1.0.dtd">
<!-- Code generated by Notaria; DO NOT EDIT. The build merges this with what it makes itself. -->
<plist version="1.0">
<dict>
`)
	if folder != "" {
		b.WriteString("\t<key>" + KeyFolder + "</key>\n\t<string>" + language.EscapeXML(folder) + "</string>\n")
	}
	if touch(t) {
		b.WriteString("\t<key>" + KeyFonts + "</key>\n\t<array>\n")
		for _, f := range l.job.Faces {
			b.WriteString("\t\t<string>" + language.EscapeXML(l.inBundle(l.place(f))) + "</string>\n")
		}
		b.WriteString("\t</array>\n")
	}
	b.WriteString("</dict>\n</plist>\n")
	return []byte(b.String())
}

// swiftShortfalls are what SwiftUI cannot express; the attributes express all.
func swiftShortfalls(job platform.Job) []platform.Shortfall {
	out := platform.Shortfalls(job, map[string]string{platform.PartShadow: "SwiftUI's Text has it by .shadow(color:radius:x:y:); the attributes of the role have it, in attributed text", platform.PartOutline: "SwiftUI's Text draws no outline; the attributes of the role do, in attributed text"})
	for _, r := range job.Roles {
		if r.LineHeight > 0 && r.LineHeight < r.NaturalLine() {
			out = append(out, platform.Shortfall{Role: r.Name, Part: platform.PartLine,
				Why: fmt.Sprintf("SwiftUI's Text keeps the face's own %s at least; the attributes of the role do not", language.Number(r.NaturalLine()))})
		}
	}
	return out
}

// Held lists the fonts in every Info.plist and resources phase.
func (s *site) Held() ([]platform.Held, error) {
	var out []platform.Held
	for _, t := range s.targets {
		files, lines := xcode.Resources(s.project, t)
		for i, f := range files {
			if platform.IsFont(f) {
				out = append(out, platform.Held{Manifest: s.file, Line: lines[i], Value: "resources of " + t.Name + ": " + f, File: path.Join(s.Dir, f), Bundle: t.Name + ": " + s.inBundle(f), Part: t.Name,
					Strict: !strings.HasPrefix(path.Join(s.Dir, f), "../"), Name: f, Hint: platform.Hint{Cause: "the file was deleted, moved or renamed, and the project still builds it in: the build stops", Cure: "take it out of the target, or bring it back"}})
			}
		}
		for _, p := range t.InfoPlists {
			doc, values, lines, err := s.listed(p)
			if err != nil {
				return nil, err
			}
			for i, v := range values {
				h := platform.Held{Manifest: doc.File, Line: lines[i], Value: v, File: s.find(files, v), Part: t.Name}
				// Where the resources phase names the file, its lack is told there.
				h.Strict = !slices.ContainsFunc(files, func(f string) bool { return s.inBundle(f) == v })
				if h.File == "" {
					h.Hint = hint(s.Tree, s.Dir, v)
				}
				h.Write = func(file string) string {
					if rel, ok := s.Rel(file); ok {
						return s.inBundle(rel)
					}
					return ""
				}
				out = append(out, h)
			}
		}
	}
	return out, nil
}

// listed are the fonts that an Info.plist names, with their lines.
func (s *site) listed(plist string) (doc edit.Document, values []string, lines []int, err error) {
	if doc, err = platform.ReadDocument(s.Tree, path.Join(s.Dir, plist)); err == nil {
		values, lines, err = xmldoc.Array(doc, KeyFonts)
	}
	return doc, values, lines, err
}

// hint says why an Info.plist's value leads to no file.
func hint(tree platform.Tree, dir, value string) (h platform.Hint) {
	if platform.LooksLikeFont(value) && !platform.IsFont(value) {
		return platform.Hint{Cause: "Apple's systems take no " + strings.ToUpper(strings.TrimPrefix(path.Ext(value), ".")) + " files", Cure: "take the font as .ttf or .otf"}
	}
	for _, f := range tree.Under(dir) {
		base := path.Base(f)
		if !platform.IsFont(f) {
			continue
		}
		cause := ""
		switch {
		case strings.EqualFold(base, value):
			cause = "the file's name differs by capitals: " + base
		case base == path.Base(value):
			cause = "a folder is named that is not in the bundle: files of a group are at its root"
		case path.Ext(value) == "" && strings.TrimSuffix(base, path.Ext(base)) == value:
			cause = "the file's ending is left out"
		default:
			continue
		}
		h = platform.Hint{Cause: cause, Cure: fmt.Sprintf("write %q", base)}
	}
	return h
}

// find is the file that Info.plist means, "" if there is none.
func (s *site) find(built []string, value string) string {
	for _, f := range built {
		if at := path.Join(s.Dir, f); s.inBundle(f) == value && slices.Contains(s.Tree.Named(path.Base(at)), at) {
			return at
		}
	}
	for _, f := range s.Tree.Under(s.Dir) {
		if rel, ok := s.Rel(f); ok && s.inBundle(rel) == value && platform.IsFont(f) {
			return f
		}
	}
	return ""
}

// Loose lists the font files beside an Info.plist that it does not name.
func (s *site) Unlisted() ([]platform.Held, error) {
	var out []platform.Held
	for _, t := range s.targets {
		for _, p := range t.InfoPlists {
			doc, values, _, err := s.listed(p)
			if err != nil {
				return nil, err
			}
			at := doc.File
			for _, f := range s.Tree.Under(path.Dir(at)) {
				named := slices.ContainsFunc(values, func(v string) bool { return path.Base(v) == path.Base(f) })
				if platform.IsFont(f) && !named && touch(t) {
					out = append(out, platform.Held{Manifest: at, Value: KeyFonts, File: f})
				}
			}
		}
	}
	var fonts []string
	for _, h := range out {
		fonts = append(fonts, h.File)
	}
	known := registered(s.Tree, s.Dir, fonts)
	return slices.DeleteFunc(out, func(h platform.Held) bool { return known[h.File] }), nil
}

// Syntaxes are those of project files and of Swift packages.
func (Platform) Syntaxes() []edit.Syntax { return []edit.Syntax{pbx.Syntax{}, xcode.Package{}} }

// OwnsEntry says that the lists of fonts in an Info.plist are written here.
func (Platform) OwnsEntry(e edit.Entry) bool {
	return e.Syntax == "plist" && (e.Place.Name == "UIAppFonts" || e.Place.Name == "ATSApplicationFontsPath")
}

// Skips are the folders of the package managers, and of Xcode.
func (Platform) Skips() []platform.Skip {
	return []platform.Skip{{Folder: "Pods"}, {Folder: "Carthage"}, {Folder: "DerivedData"}}
}
