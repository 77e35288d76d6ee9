// Package xcode knows what Xcode's projects and Swift packages mean: which targets draw
// text, and what their build settings say.
package xcode

import (
	"slices"
	"strings"

	"notaria/internal/edit/pbx"
)

// A BuildTarget is an app, or an extension of one, that a project file builds.
type BuildTarget struct {
	Name         string
	Extension    bool
	Platforms    []string // SDKs without "simulator", such as "iphoneos" and "macosx"
	InfoPlists   []string // from the project's folder, one for each configuration that differs
	Generated    bool     // the build makes the Info.plist, or fills it up
	Synchronized []string // folders that the target takes in as they are, from the project's folder
	Folders      []string // folders that its resources phase copies whole, from the project's folder
	Configs      []string // files of build settings that its configurations and the project's begin from
	id           string
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

// Targets lists the targets that build an app or an extension of one.
func Targets(p *pbx.Project) []BuildTarget {
	var out []BuildTarget
	for _, t := range p.Natives() {
		for _, k := range productTypes {
			if strings.HasPrefix(t.Product, k.prefix) && !without[t.Product] {
				out = append(out, buildTarget(p, t, k.extension))
				break
			}
		}
	}
	return out
}

func buildTarget(p *pbx.Project, t pbx.Native, extension bool) BuildTarget {
	b := BuildTarget{Name: t.Name, id: t.ID, Extension: extension}
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
	sdk, supported := "", ""
	seen := map[string]bool{}
	for _, c := range p.Configurations(t.Object) {
		s := c.Get("buildSettings")
		if v := s.Get("SDKROOT").Str(); v != "" {
			sdk = v
		}
		if v := s.Get("SUPPORTED_PLATFORMS").Str(); v != "" {
			supported = v
		}
		b.Generated = b.Generated || s.Get("GENERATE_INFOPLIST_FILE").Str() == "YES"
		if v := s.Get("INFOPLIST_FILE").Str(); v != "" && !seen[v] {
			seen[v] = true
			b.InfoPlists = append(b.InfoPlists, expand(v, b.Name))
		}
	}
	b.Platforms = platforms(sdk, supported)
	b.Configs = configs(p, t)
	return b
}

// Setting takes in a setting from a file that the target's configurations begin
// from; what the project file says has the last word.
func (b *BuildTarget) Setting(key, value string) {
	switch key {
	case "INFOPLIST_FILE":
		if at := expand(value, b.Name); len(b.InfoPlists) == 0 && value != "" {
			b.InfoPlists = []string{at}
		}
	case "GENERATE_INFOPLIST_FILE":
		b.Generated = b.Generated || value == "YES"
	}
}

// configs are the files that configurations name as their base, the target's first.
func configs(p *pbx.Project, t pbx.Native) []string {
	var own, all []string
	for _, c := range p.Configurations(t.Object) {
		if at, ok := p.Path(c.Get("baseConfigurationReference").Str()); ok {
			all = append(all, at)
		}
	}
	for _, c := range p.Configurations(nil) {
		if at, ok := p.Path(c.Get("baseConfigurationReference").Str()); ok {
			own = append(own, at)
		}
	}
	var out []string
	for _, at := range append(all[len(own):], own...) {
		if !slices.Contains(out, at) {
			out = append(out, at)
		}
	}
	return out
}

// platforms are the SDKs that a target is built with; one that reports nothing is
// built for iOS.
func platforms(sdk, supported string) []string {
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
	return []string{strings.TrimRight(sdk, "0123456789.")}
}

// expand replaces the variables that people put into INFOPLIST_FILE.
func expand(s, target string) string {
	for _, v := range []string{"SRCROOT", "PROJECT_DIR", "SOURCE_ROOT"} {
		s = strings.TrimPrefix(strings.TrimPrefix(s, "$("+v+")/"), "${"+v+"}/")
	}
	for _, v := range []string{"TARGET_NAME", "TARGETNAME", "PRODUCT_NAME"} {
		s = strings.ReplaceAll(strings.ReplaceAll(s, "$("+v+")", target), "${"+v+"}", target)
	}
	return s
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
