// Package xcode knows what Xcode's projects and Swift packages mean: which targets draw
// text, and what their build settings say.
package xcode

import (
	"io/fs"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/edit/pbx"
)

// A BuildTarget is an app, or an extension of one, that a project file builds. Paths are from
// the project's folder.
type BuildTarget struct {
	Name         string
	Extension    bool
	Platforms    []string           // SDKs without "simulator", such as "iphoneos" and "macosx"
	InfoPlists   []string           // one for each configuration that differs
	Generated    bool               // the build makes the Info.plist, or fills it up
	Synchronized []string           // folders that the target takes in as they are
	Folders      []string           // folders that its resources phase copies whole
	Sources      []string           // files of its sources phase
	Compiles     bool               // it has a sources phase
	Copies       bool               // it has a resources phase
	Swift        bool               // its settings name a version of Swift
	Oldest       map[string]Version // of the systems that it is to run on, by SDK; none for the newest alone
	id           string
}

// A Version is that of a system, such as 13.4.
type Version struct{ Major, Minor int }

// Before says whether a version is older than another.
func (v Version) Before(w Version) bool {
	return v.Major < w.Major || v.Major == w.Major && v.Minor < w.Minor
}

// ParseVersion reads a version; false for what is none.
func ParseVersion(s string) (Version, bool) {
	var v Version
	major, rest, _ := strings.Cut(strings.TrimSpace(s), ".")
	minor, _, _ := strings.Cut(rest, ".")
	var err, err2 error
	v.Major, err = strconv.Atoi(major)
	if minor != "" {
		v.Minor, err2 = strconv.Atoi(minor)
	}
	return v, err == nil && err2 == nil && v.Major > 0 && v.Minor >= 0
}

// deployment are the settings that name the oldest system, by SDK (Xcode Help, "Build settings
// reference").
var deployment = map[string]string{
	"iphoneos": "IPHONEOS_DEPLOYMENT_TARGET", "macosx": "MACOSX_DEPLOYMENT_TARGET", "appletvos": "TVOS_DEPLOYMENT_TARGET", "watchos": "WATCHOS_DEPLOYMENT_TARGET",
}

// productTypes are the beginnings of the types of what draws text, and whether it
// is an extension. What has no view of its own is not among them.
var productTypes = []struct {
	prefix    string
	extension bool
}{
	{"com.apple.product-type.application", false},
	{"com.apple.product-type.app-extension", true},
	{"com.apple.product-type.extensionkit-extension", true},
	{"com.apple.product-type.watchkit", true},
	{"com.apple.product-type.tv-app-extension", true},
}

// without are exceptions to productTypes: containers without code or views.
var without = map[string]bool{"com.apple.product-type.application.watchapp2-container": true, "com.apple.product-type.app-extension.intents-service": true}

// Targets lists the targets that build an app or an extension of one. read returns a file of
// build settings by its path from the project's folder.
func Targets(p *pbx.Project, read func(string) ([]byte, error)) []BuildTarget {
	room := mostConfigured
	bounded := func(name string) ([]byte, error) {
		raw, err := read(name)
		if room -= len(raw) + 1<<10; room < 0 {
			return nil, fs.ErrNotExist // a file that takes in itself, thousands of times
		}
		return raw, err
	}
	var out []BuildTarget
	for _, t := range p.Natives() {
		for _, k := range productTypes {
			if strings.HasPrefix(t.Product, k.prefix) && !without[t.Product] {
				out = append(out, buildTarget(p, t, k.extension, bounded))
				break
			}
		}
	}
	return out
}

func buildTarget(p *pbx.Project, t pbx.Native, extension bool, read func(string) ([]byte, error)) BuildTarget {
	b := BuildTarget{Name: t.Name, id: t.ID, Extension: extension, Oldest: map[string]Version{}}
	b.phases(p, t)
	sdk, supported := "", ""
	for _, s := range settings(p, t, read) {
		if v := s.Get("SDKROOT"); v != "" {
			sdk = v
		}
		if v := s.Get("SUPPORTED_PLATFORMS"); v != "" {
			supported = v
		}
		b.Generated = b.Generated || strings.EqualFold(s.Get("GENERATE_INFOPLIST_FILE"), "YES")
		b.Swift = b.Swift || s.Get("SWIFT_VERSION") != ""
		for _, v := range s.All("INFOPLIST_FILE") {
			if v = path.Clean(v); !slices.Contains(b.InfoPlists, v) {
				b.InfoPlists = append(b.InfoPlists, v)
			}
		}
		for _, sdk := range slices.Sorted(maps.Keys(deployment)) {
			for _, text := range s.All(deployment[sdk]) {
				if v, ok := ParseVersion(text); ok && (b.Oldest[sdk] == Version{} || v.Before(b.Oldest[sdk])) {
					b.Oldest[sdk] = v
				}
			}
		}
	}
	b.Platforms = platforms(sdk, supported)
	maps.DeleteFunc(b.Oldest, func(sdk string, _ Version) bool { return !slices.Contains(b.Platforms, sdk) })
	return b
}

// phases takes in what a target builds.
func (b *BuildTarget) phases(p *pbx.Project, t pbx.Native) {
	for _, g := range t.Object.Get("fileSystemSynchronizedGroups").List() {
		if at, ok := p.Path(g); ok {
			b.Synchronized = append(b.Synchronized, at)
		}
	}
	refs, _ := p.PhaseFiles(t.ID, pbx.KindResources)
	for _, ref := range refs {
		if at, ok := p.Path(ref); ok && p.Object(ref).Get("lastKnownFileType").Str() == "folder" {
			b.Folders = append(b.Folders, at)
		}
	}
	refs, _ = p.PhaseFiles(t.ID, pbx.KindSources)
	for _, ref := range refs {
		if at, ok := p.Path(ref); ok {
			b.Sources = append(b.Sources, at)
		}
	}
	b.Copies, b.Compiles = p.HasPhase(t.ID, pbx.KindResources), p.HasPhase(t.ID, pbx.KindSources)
}

// platforms are the SDKs that a target is built with; one that reports nothing is
// built for iOS.
func platforms(sdk, supported string) []string {
	if name, isPath := strings.CutSuffix(path.Base(sdk), ".sdk"); isPath { // …/MacOSX10.15.sdk
		sdk = strings.ToLower(name)
	}
	sdk = strings.TrimRight(sdk, "0123456789.")
	var out []string
	for _, w := range strings.Fields(supported) {
		if !strings.Contains(w, "simulator") && !strings.Contains(w, "$(") {
			out = append(out, w)
		}
	}
	switch {
	case len(out) > 0 && (sdk == "auto" || sdk == "" || slices.Contains(out, sdk)):
		return out
	case sdk == "" || sdk == "auto":
		return []string{"iphoneos"}
	}
	return []string{sdk}
}

// Away lists the files in a target's resources phase whose place cannot be told from the project's
// folder, such as those of an absolute path, as the project names them.
func Away(p *pbx.Project, t BuildTarget) []string {
	refs, _ := p.PhaseFiles(t.id, pbx.KindResources)
	var out []string
	for _, ref := range refs {
		if _, ok := p.Path(ref); !ok {
			if at := p.Object(ref).Get("path").Str(); at != "" {
				out = append(out, at)
			}
		}
	}
	return out
}

// Resources lists the files in a target's resources phase, from the project's folder,
// each with the line of its mention.
func Resources(p *pbx.Project, t BuildTarget) (files []string, lines []int) {
	refs, at := p.PhaseFiles(t.id, pbx.KindResources)
	for i, ref := range refs {
		if f, ok := p.Path(ref); ok {
			files, lines = append(files, f), append(lines, at[i])
		}
	}
	return files, lines
}
