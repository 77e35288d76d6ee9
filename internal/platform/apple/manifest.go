package apple

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/xmldoc"
	"notaria/internal/installed"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/apple/xcode"
)

// madeSite is an app whose project file is made from a manifest that people write: project.yml, or
// Project.swift. What is made is not edited, for the next making would undo it. The files go into
// the folder of the app's sources, which such manifests take in as it is; what else is needed, a
// person adds to the manifest.
type madeSite struct {
	platform.Base
	manifest string
	app      string   // the target's name
	sources  []string // folders, from the manifest's
	plist    string   // an Info.plist that people write, from the manifest's folder; "" for one that is made
	swift    bool
	objc     bool
	mac      bool
	oldest   map[string]xcode.Version
}

// makers are the manifests, by name.
var makers = []string{"project.yml", "project.yaml", "Project.swift"}

// makerOf is the manifest that makes a project file in a folder, "" if people write it.
func makerOf(tree platform.Tree, dir string) string {
	for _, base := range makers {
		at := path.Join(dir, base)
		if !slices.Contains(tree.Named(base), at) {
			continue
		}
		if raw, err := tree.Read(at); err == nil && (base == "Project.swift" && strings.Contains(string(raw), "import ProjectDescription") || base != "Project.swift" && yamlTargets.Match(raw)) {
			return at
		}
	}
	return ""
}

var (
	yamlTargets   = lazy.Regexp(`(?m)^targets:\s*(?:#.*)?$`)
	yamlTop       = lazy.Regexp(`^[A-Za-z"']`)
	yamlKey       = lazy.Regexp(`^( *)["']?([A-Za-z][\w .-]*?)["']?:\s*(.*?)\s*(?:\s#.*)?$`)
	yamlItem      = lazy.Regexp(`^\s*-\s*(?:path:\s*)?["']?([^"'\s:{#]+)["']?\s*(?:#.*)?$`)
	swiftTarget   = lazy.Regexp(`\bTarget\s*\(|\.target\s*\(`)
	swiftProduct  = lazy.Regexp(`(?s)name:\s*"([^"\\]+)".*?product:\s*\.(\w+)`)
	swiftSources  = lazy.Regexp(`sources:\s*\[?\s*"([^"\\]+)"`)
	swiftPlist    = lazy.Regexp(`infoPlist:\s*(?:\.file\(path:\s*)?"([^"\\]+)"`)
	swiftDeployed = lazy.Regexp(`\.(iOS|macOS|tvOS|watchOS)\(\s*(?:targetVersion:\s*)?"([\d.]+)"`)
	yamlDeployed  = lazy.Regexp(`(?m)^\s*(iOS|macOS|tvOS|watchOS):\s*["']?(\d[\d.]*)["']?`)
	wildcard      = lazy.Regexp(`/\*.*$`)
)

// madeSites finds the apps of manifests, and returns the folders of these.
func madeSites(found *platform.Found, tree platform.Tree, opt platform.Options, known map[string]bool) (roots []string) {
	for _, base := range makers {
		for _, file := range tree.Named(base) {
			dir := platform.Folder(file)
			if makerOf(tree, dir) != file || generatedBy(tree, path.Dir(dir)) {
				continue
			}
			raw, err := tree.Read(file)
			if err != nil {
				found.Add(path.Dir(file), nil, err)
				continue
			}
			roots = append(roots, dir)
			list := swiftApps(raw)
			if base != "Project.swift" {
				list = yamlApps(raw)
			}
			for _, s := range list {
				known[s.app] = true
				if chosen := opt.List("targets"); len(chosen) > 0 && !slices.Contains(chosen, s.app) {
					continue
				}
				s.Base, s.manifest = platform.Base{Tree: tree, Dir: dir}, file
				s.find()
				s.swift, s.objc, err = spoken(file, opt.Word("code"), s.swift, s.objc)
				found.Add(path.Dir(file), s, err)
				break // the others can take the same folder in
			}
		}
	}
	return roots
}

// yamlApps are the apps of a project.yml: of each target what stands at its own depth.
func yamlApps(raw []byte) []*madeSite {
	var out []*madeSite
	var now *madeSite
	in, depth, list := false, 0, ""
	for _, line := range strings.Split(string(raw), "\n") {
		line = strings.TrimRight(line, "\r")
		if yamlTop.MatchString(line) {
			in, now = yamlTargets.MatchString(line), nil
			continue
		}
		if m := yamlItem.FindStringSubmatch(line); in && now != nil && list == "sources" && m != nil {
			now.sources = append(now.sources, m[1])
			continue
		}
		m := yamlKey.FindStringSubmatch(line)
		if !in || m == nil {
			continue
		}
		switch indent, key, value := len(m[1]), m[2], strings.Trim(m[3], `"'`); {
		case now == nil || indent <= depth:
			now = &madeSite{app: key}
			depth = indent
			out = append(out, now)
		case key == "type":
			now.swift = value == "application" // until it is found out
			list = ""
		case key == "platform":
			now.mac = value == "macOS"
			list = ""
		case key == "sources":
			list = "sources"
			for _, s := range strings.FieldsFunc(value, func(r rune) bool { return strings.ContainsRune("[], ", r) }) {
				now.sources = append(now.sources, strings.Trim(s, `"'`))
			}
		case key == "INFOPLIST_FILE":
			now.plist = value
		case key == "info":
			now.plist, list = "", "info"
		default:
			list = ""
		}
	}
	deployed := map[string]xcode.Version{}
	for _, m := range yamlDeployed.FindAllSubmatch(raw, -1) {
		deploy(deployed, string(m[1]), string(m[2]))
	}
	out = slices.DeleteFunc(out, func(s *madeSite) bool { return !s.swift })
	for _, s := range out {
		s.swift, s.oldest = false, deployed
	}
	return out
}

// swiftApps are the apps of a Project.swift.
func swiftApps(raw []byte) []*madeSite {
	var out []*madeSite
	text := string(language.Swift.Blank(raw))
	skeleton := language.Swift.Skeleton([]byte(text))
	for _, m := range swiftTarget.FindAllStringIndex(text, xcode.MostTargets) {
		end := language.Closing(skeleton, m[1]-1)
		if end < 0 {
			continue
		}
		call := text[m[1]:end]
		of := swiftProduct.FindStringSubmatch(call)
		if of == nil || of[2] != "app" {
			continue
		}
		s := &madeSite{app: of[1], mac: strings.Contains(call, ".macOS") || strings.Contains(call, ".mac"), oldest: map[string]xcode.Version{}}
		if m := swiftSources.FindStringSubmatch(call); m != nil {
			s.sources = []string{m[1]}
		}
		if m := swiftPlist.FindStringSubmatch(call); m != nil {
			s.plist = m[1]
		}
		for _, m := range swiftDeployed.FindAllStringSubmatch(call, -1) {
			deploy(s.oldest, m[1], m[2])
		}
		out = append(out, s)
	}
	return out
}

func deploy(into map[string]xcode.Version, system, version string) {
	for sdk, name := range systems {
		if v, ok := xcode.ParseVersion(version); ok && name == system {
			into[sdk] = v
		}
	}
}

// find settles the folder of the sources and their language.
func (s *madeSite) find() {
	folder := ""
	for _, f := range append(slices.Clone(s.sources), s.app, "Sources", "App") {
		if f = wildcard.ReplaceAllString(f, ""); len(s.Tree.Under(path.Join(s.Dir, f))) > 0 {
			folder = f
			break
		}
	}
	s.sources = []string{folder}
	s.swift, s.objc = written(s.Tree.Under(path.Join(s.Dir, folder)))
	s.objc = s.objc && !s.swift
	if s.plist != "" && !slices.Contains(s.Tree.Named(path.Base(s.plist)), path.Join(s.Dir, s.plist)) {
		s.plist = ""
	}
	sdks := []string{"iphoneos", "appletvos", "watchos"}
	if s.mac {
		sdks = []string{"macosx"}
	}
	kept := map[string]xcode.Version{}
	for _, sdk := range sdks {
		if v, ok := s.oldest[sdk]; ok {
			kept[sdk] = v
		}
	}
	s.oldest = kept
}

func (s *madeSite) Title() string { return "Apple " + s.Path() }

func (s *madeSite) next() string {
	return "make the project again from " + path.Base(s.manifest) + ", then build the app"
}

// folder is where our files go.
func (s *madeSite) folder() string {
	at := path.Join(s.Dir, s.sources[0], typeFolder)
	if platform.Spelled(s.Tree, at) != at {
		return path.Join(s.Dir, s.sources[0], "App"+typeFolder)
	}
	return at
}

func (s *madeSite) place(job platform.Job, f platform.Face) string {
	at, ok := job.At(f, func(p string) bool { return strings.HasPrefix(p, path.Join(s.Dir, s.sources[0])+"/") })
	if ok {
		return at
	}
	return path.Join(s.folder(), f.Base())
}

// Plan is each face below the sources, the code beside it, and what names the fonts: in an
// Info.plist that people write, else by hand in the manifest.
func (s *madeSite) Plan(job platform.Job) (platform.Plan, error) {
	if err := allNamed(s.Path(), job); err != nil {
		return platform.Plan{}, err
	}
	p := platform.Plan{Next: s.next(), Answer: s.answer, Files: job.CopiesAt(func(f platform.Face) string { return s.place(job, f) })}
	var bases []string
	for _, f := range p.Files {
		bases = append(bases, language.Swift.Literal(path.Base(f.Path)))
	}
	for _, f := range p.Files {
		e := edit.Entry{File: s.manifest, Syntax: edit.ByHand{}.Name(), Place: edit.Place{Kind: edit.KindByHand, Name: s.toAdd(bases)}, Value: path.Base(f.Path)}
		switch {
		case s.mac && s.plist != "":
			e = edit.Entry{File: path.Join(s.Dir, s.plist), Syntax: xmldoc.List{}.Name(), Place: edit.Place{Kind: xmldoc.KindString, Name: KeyFolder}, Value: "."}
		case s.mac:
			e.Value = KeyFolder
		case s.plist != "":
			e = edit.Entry{File: path.Join(s.Dir, s.plist), Syntax: xmldoc.List{}.Name(), Place: edit.Place{Kind: xmldoc.KindArray, Name: KeyFonts}, Value: path.Base(f.Path)}
		}
		p.Entries = append(p.Entries, e)
	}
	p.Entries = unique(p.Entries)
	if len(job.Roles) == 0 {
		return p, nil
	}
	if s.swift {
		p.Short = swiftShortfalls(job)
	}
	p.Words = useWords
	p.Show = shows(job, s.Base, s.swift, s.objc, s.mac)
	data := newCode(job, s.mac, false)
	data.serve(s.oldest, s.oldest["appletvos"] != xcode.Version{})
	var err error
	p.Code, err = sources(data, s.folder(), s.swift, s.objc)
	return p, err
}

// toAdd is what a person adds to the manifest so that the Info.plist names the fonts.
func (s *madeSite) toAdd(bases []string) string {
	if path.Ext(s.manifest) == ".swift" {
		if s.mac {
			return fmt.Sprintf(`to infoPlist: .extendingDefault(with: [%q: "."]), and to resources: ["%s/**"]`, KeyFolder, path.Base(s.folder()))
		}
		return fmt.Sprintf(`to infoPlist: .extendingDefault(with: [%q: [%s]]), and the folder of the fonts to resources: ["%s/*.ttf", "%s/*.otf"]`,
			KeyFonts, strings.Join(bases, ", "), platform.Relative(s.Dir, s.folder()), platform.Relative(s.Dir, s.folder()))
	}
	if s.mac {
		return fmt.Sprintf("targets: %s: info: properties: {%s: .}", s.app, KeyFolder)
	}
	return fmt.Sprintf("targets: %s: info: properties: {%s: [%s]}", s.app, KeyFonts, strings.Join(bases, ", "))
}

// Uses are below the manifest's folder.
func (s *madeSite) Uses() (string, []platform.Use) { return s.Dir, uses }

// answer goes by PostScript names.
func (s *madeSite) answer(q platform.Question) platform.Answer {
	return platform.AnswerFace(q, installed.Apple)
}
