package xcode

import (
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit/pbx"
	"notaria/internal/lazy"
)

// Settings are the build settings of one configuration of a target. A value stands in the
// target, or in the file that the target's configuration begins from, or in the project, or in
// the project's file, in this order (Xcode Help, "Build settings reference").
type Settings struct {
	values map[string]string // variables not yet replaced; $(inherited) is
	only   map[string]string // values for one SDK or architecture alone, by KEY[condition]
	files  int               // that were taken in
}

// Bounds of build settings: how deep variables may name variables and files take in files, how
// long a value may become, in bytes, and how many variables and files one may need.
const (
	settingDepth = 8
	settingSize  = 4 << 10
	settingSteps = 256
	// Of a project: how many configurations of a target are looked at, and how many bytes of files
	// of build settings.
	mostConfigurations = 64
	mostConfigured     = 16 << 20
)

var (
	configLine    = lazy.Regexp(`^\s*([A-Za-z_]\w*)((?:\[[^\]]*\])*)\s*=\s*(.*?)\s*;?\s*$`)
	configInclude = lazy.Regexp(`^\s*#include\??\s+"([^"]+)"`)
	conditional   = lazy.Regexp(`^([A-Za-z_]\w*)(\[.*\])$`)
	variable      = lazy.Regexp(`\$(?:\(([A-Za-z_]\w*)((?::[^()]*)?)\)|\{([A-Za-z_]\w*)((?::[^{}]*)?)\})`)
	inherited     = lazy.Regexp(`\$[({]inherited[)}]`)
	notIdentifier = lazy.Regexp(`[^A-Za-z0-9]`)
)

// Set puts a value over what stands under a key.
func (s *Settings) Set(key, value string) {
	if m := conditional.FindStringSubmatch(key); m != nil {
		s.only[m[1]+m[2]] = value
		return
	}
	s.values[key] = inherited.ReplaceAllLiteralString(value, s.values[key])
	if len(s.values[key]) > settingSize {
		s.values[key] = ""
	}
}

// Get is a value with its variables replaced; those that are not known stay.
func (s *Settings) Get(key string) string { return s.whole(s.values[key]) }

func (s *Settings) whole(text string) string {
	steps := settingSteps
	return s.expand(text, settingDepth, &steps)
}

// All are the values of a key that differ: that for all SDKs, and those for one alone.
func (s *Settings) All(key string) []string {
	var out []string
	add := func(v string) {
		if v = s.whole(v); v != "" && !slices.Contains(out, v) {
			out = append(out, v)
		}
	}
	add(s.values[key])
	for _, k := range slices.Sorted(maps.Keys(s.only)) {
		if strings.HasPrefix(k, key+"[") {
			add(s.only[k])
		}
	}
	return out
}

func (s *Settings) expand(text string, depth int, steps *int) string {
	if depth == 0 || len(text) > settingSize {
		return text
	}
	return variable.ReplaceAllStringFunc(text, func(v string) string {
		if *steps--; *steps < 0 {
			return v
		}
		m := variable.FindStringSubmatch(v)
		name, how := m[1]+m[3], m[2]+m[4]
		value, known := s.values[name]
		if !known && !strings.Contains(how, ":default=") {
			return v
		}
		return operate(s.expand(value, depth-1, steps), how)
	})
}

// operate changes a value as the operators behind a variable's name say.
func operate(value, operators string) string {
	for _, op := range strings.Split(strings.TrimPrefix(operators, ":"), ":") {
		switch name, arg, _ := strings.Cut(op, "="); name {
		case "lower":
			value = strings.ToLower(value)
		case "upper":
			value = strings.ToUpper(value)
		case "rfc1034identifier":
			value = notIdentifier.ReplaceAllString(value, "-")
		case "c99extidentifier", "identifier":
			value = notIdentifier.ReplaceAllString(value, "_")
		case "file":
			value = path.Base(value)
		case "dir":
			value = path.Dir(value)
		case "base":
			value = strings.TrimSuffix(path.Base(value), path.Ext(value))
		case "default":
			if value == "" {
				value = arg
			}
		}
	}
	return value
}

// settings are those of each configuration of a target, with the configurations' names in the
// project's order. read returns a file of build settings by its path from the project's folder.
func settings(p *pbx.Project, t pbx.Native, read func(string) ([]byte, error)) []*Settings {
	of := map[string]*pbx.Node{} // the project's configurations
	project := p.Configurations(nil)
	for _, c := range project {
		of[c.Get("name").Str()] = c
	}
	var out []*Settings
	own := p.Configurations(t.Object)[len(project):]
	for _, c := range own[:min(len(own), mostConfigurations)] {
		name := c.Get("name").Str()
		s := &Settings{values: map[string]string{}, only: map[string]string{}}
		for _, v := range []string{"TARGET_NAME", "TARGETNAME", "PRODUCT_NAME", "PRODUCT_MODULE_NAME"} {
			s.values[v] = t.Name
		}
		for _, v := range []string{"SRCROOT", "PROJECT_DIR", "SOURCE_ROOT", "PROJECT_ROOT"} {
			s.values[v] = "."
		}
		s.values["CONFIGURATION"] = name
		if base := path.Base(path.Dir(p.File)); strings.HasSuffix(base, ".xcodeproj") {
			s.values["PROJECT_NAME"] = strings.TrimSuffix(base, ".xcodeproj")
		}
		s.take(p, of[name], read)
		s.take(p, c, read)
		out = append(out, s)
	}
	return out
}

// take puts a configuration's file over the settings, then its own settings.
func (s *Settings) take(p *pbx.Project, c *pbx.Node, read func(string) ([]byte, error)) {
	if at, ok := p.Path(c.Get("baseConfigurationReference").Str()); ok {
		s.file(at, read, 0)
	}
	if at := c.Get("baseConfigurationReferenceRelativePath").Str(); at != "" {
		if dir, ok := p.Path(c.Get("baseConfigurationReferenceAnchor").Str()); ok {
			s.file(path.Join(dir, at), read, 0)
		}
	}
	own := c.Get("buildSettings")
	for _, key := range own.Keys() {
		v := own.Get(key)
		if text := v.Str(); text != "" || !v.IsArray() {
			s.Set(key, text)
		} else {
			s.Set(key, strings.Join(v.List(), " "))
		}
	}
}

// file takes in a file of build settings: KEY = value, a line each, and lines that take in
// another file. One that is not there, another tool makes.
func (s *Settings) file(name string, read func(string) ([]byte, error), depth int) {
	if s.files++; depth > settingDepth || s.files > settingSteps {
		return
	}
	raw, err := read(name)
	if err != nil {
		return
	}
	for _, line := range strings.Split(string(raw), "\n") {
		line, _, _ = strings.Cut(strings.TrimRight(line, "\r"), "//")
		if m := configInclude.FindStringSubmatch(line); m != nil {
			s.file(path.Join(path.Dir(name), m[1]), read, depth+1)
		} else if m := configLine.FindStringSubmatch(line); m != nil {
			s.Set(m[1]+m[2], m[3])
		}
	}
}
