package godot

import (
	"math"
	"path"
	"slices"
	"strconv"

	"notaria/internal/edit"
	"notaria/internal/platform"
	"notaria/internal/platform/godot/textres"
)

// scene is one of the game's that sets fonts of its own.
type scene struct {
	file string
	tags []textres.Tag
	by   map[string]textres.Tag // resources, by kind and id
}

// Bounds of what is looked at for fonts of nodes: larger scenes hold meshes and light, and no
// person sets so many fonts.
const (
	mostScene     = 2 << 20
	mostOverrides = 500
)

func newScene(file string, tags []textres.Tag) scene {
	sc := scene{file, tags, map[string]textres.Tag{}}
	for _, t := range tags {
		if key := t.Name + " " + t.Attribute("id"); t.Name == "ext_resource" || t.Name == "sub_resource" {
			sc.by[key] = t
		}
	}
	return sc
}

// override is a property by which a node sets a font of its own.
type override struct {
	node     textres.Tag
	value    textres.Value
	property string // after it is pointed to a role
	kind     string // of resource that the property then has
	size     float64
}

// overrides are the labels of scenes that set fonts of their own, with the resource of the
// role that each should have. They are taken over only where that is asked for.
func (s *site) overrides(job platform.Job) ([]edit.Entry, error) {
	var out []edit.Entry
	for _, sc := range s.loadScenes() {
		for _, o := range sc.overrides(s.four) {
			res := s.roleFor(job, sc, o)
			if res == "" {
				continue
			}
			out = append(out, edit.Entry{File: sc.file, Syntax: textres.Overrides{}.Name(),
				Place: textres.Override(textres.NodePath(o.node), o.property, o.kind), Value: res})
		}
	}
	return out, nil
}

// loadScenes reads the game's scenes, once. One that cannot be read is left alone: nothing is
// written into it.
func (s *site) loadScenes() []scene {
	if s.scanned {
		return s.scenes
	}
	s.scanned = true
	for _, f := range s.Tree.Under(s.Dir) {
		if path.Ext(f) != ".tscn" || s.excluded(f) {
			continue
		}
		text, ok := s.Tree.Glance(f, mostScene)
		if !ok {
			continue
		}
		if tags, err := textres.Parse(edit.Document{File: f, Text: text}); err == nil {
			s.scenes = append(s.scenes, newScene(f, tags))
		}
	}
	return s.scenes
}

// overrides lists the properties of nodes that name a font, or settings of a Label.
func (sc scene) overrides(four bool) []override {
	var out []override
	for _, t := range sc.tags {
		if t.Name != "node" {
			continue
		}
		size := 0.0
		for _, v := range t.Values {
			if v.Name == "theme_override_font_sizes/font_size" {
				size, _ = strconv.ParseFloat(v.Text, 64)
			}
		}
		_, settled := t.Value("label_settings")
		for _, v := range t.Values {
			if !textres.Properties.MatchString(v.Name) || !textres.Reference.MatchString(v.Text) {
				continue
			}
			o := override{node: t, value: v, property: v.Name, kind: "DynamicFont", size: size}
			switch {
			case !four:
			case v.Name == "label_settings" || v.Name == "theme_override_fonts/font" && t.Attribute("type") == "Label":
				if v.Name != "label_settings" && settled {
					continue // the settings win over it
				}
				o.property, o.kind = "label_settings", "LabelSettings"
			default:
				o.kind = "FontVariation"
			}
			if out = append(out, o); len(out) == mostOverrides {
				return out
			}
		}
	}
	return out
}

// roleFor is the path of the resource that a node should have instead of its own font: that
// of the role with the same face and the nearest size; "" if no role has the face. What
// refers to a role's resource already stays with it.
func (s *site) roleFor(job platform.Job, sc scene, o override) string {
	if res := sc.external(o.value.Text); res != "" {
		for _, r := range job.Roles {
			if res == s.res(fontFile(r.Name)) || res == s.res(settingsFile(r.Name)) {
				return res
			}
		}
	}
	font, size := s.resolve(sc, o.value.Text, 0)
	if o.size > 0 {
		size = o.size
	}
	best, away := "", math.Inf(1)
	for _, r := range job.Roles {
		if font == "" || s.Place(job, r.Face) != font && !s.holdsFace(job, r.Face, font) {
			continue
		}
		if d := math.Abs(r.Size - size); d < away {
			best, away = fontFile(r.Name), d
			if o.kind == "LabelSettings" {
				best = settingsFile(r.Name)
			}
		}
	}
	if best == "" {
		return ""
	}
	return s.res(best)
}

// holdsFace says whether a font file of the game is a copy of a face.
func (s *site) holdsFace(job platform.Job, f platform.Face, file string) bool {
	return slices.Contains(job.Present, platform.Present{Path: file, ID: f.ID()})
}

// external is the path of the external resource that a reference means, "" if it means none.
func (sc scene) external(ref string) string {
	m := textres.Reference.FindStringSubmatch(ref)
	if m == nil || m[1] != "Ext" {
		return ""
	}
	return sc.by["ext_resource "+m[2]].Attribute("path")
}

// mostFollow is how many resources are followed from a label to the font's file.
const mostFollow = 4

// resolve follows a reference to the font's file, and finds the size on the way.
func (s *site) resolve(sc scene, ref string, depth int) (file string, size float64) {
	m := textres.Reference.FindStringSubmatch(ref)
	if m == nil || depth > mostFollow {
		return "", 0
	}
	if m[1] == "Sub" {
		t, ok := sc.by["sub_resource "+m[2]]
		if !ok {
			return "", 0
		}
		return s.follow(sc, t, depth)
	}
	at, ok := s.file(sc.external(ref))
	if !ok || platform.LooksLikeFont(at) {
		return at, 0
	}
	text, ok := s.Tree.Glance(at, mostScene)
	if path.Ext(at) != ".tres" || !ok {
		return "", 0
	}
	tags, err := textres.Parse(edit.Document{File: at, Text: text})
	if err != nil {
		return "", 0
	}
	in := newScene(at, tags)
	for _, t := range tags {
		if t.Name == "resource" {
			return s.follow(in, t, depth)
		}
	}
	return "", 0
}

// follow goes on from a font's resource: to its file, or to the font that it varies.
func (s *site) follow(sc scene, t textres.Tag, depth int) (string, float64) {
	size := 0.0
	for _, key := range []string{"size", "font_size"} {
		if v, ok := t.Value(key); ok {
			size, _ = strconv.ParseFloat(v.Text, 64)
		}
	}
	if v, ok := t.Value("font_path"); ok {
		at, _ := s.file(textres.Unquote(v.Text))
		return at, size
	}
	for _, key := range []string{"font_data", "font", "base_font"} {
		if v, ok := t.Value(key); ok {
			file, inner := s.resolve(sc, v.Text, depth+1)
			return file, max(size, inner)
		}
	}
	return "", size
}
