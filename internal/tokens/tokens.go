// Package tokens reads and writes roles as typography tokens of the Design Tokens Community Group
// (Design Tokens Format Module 2025.10), so that designers' files and the registry stay one.
//
// https://www.designtokens.org/tr/2025.10/format/
package tokens

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/face"
	"notaria/internal/fault"
)

// A Role is a role as tokens know it. Lengths are in pixels; what a token does not say is nil or empty.
type Role struct {
	Name       string
	Families   []string // the first that is there counts
	Face       string   // PostScript name: said by Notaria's own extension
	Weight     int      // 1 to 999; 0 where it is not said
	Size       float64
	LineHeight *float64 // from baseline to baseline; nil for the face's own
	OwnLine    float64  // the face's own, by the size: a token must say something
	Tracking   *float64 // thousandths of an em
	Colour     string   // #RRGGBB, or #RRGGBBAA
}

// extension is Notaria's part of a token's $extensions.
const extension = "notaria"

// Largest is how large a file of tokens may be, in bytes.
const Largest = 8 << 20

// groups are the tokens of roles by the name of their group: "typography" with a token for each role, and "colour" for
// those that have a colour.
func groups(roles []Role) (map[string]map[string]any, error) {
	type dimension struct {
		Value float64 `json:"value"`
		Unit  string  `json:"unit"`
	}
	type value struct {
		Family   any       `json:"fontFamily"`
		Size     dimension `json:"fontSize"`
		Weight   int       `json:"fontWeight"`
		Letter   dimension `json:"letterSpacing"`
		LineSize float64   `json:"lineHeight"`
	}
	type own struct {
		Face    string  `json:"face,omitempty"`
		OwnLine float64 `json:"own_line,omitempty"` // lineHeight, where the role leaves it to the face
	}
	type token struct {
		Value      value          `json:"$value"`
		Extensions map[string]own `json:"$extensions"`
	}
	type colour struct {
		Value struct {
			Space      string     `json:"colorSpace"`
			Components [3]float64 `json:"components"`
			Alpha      float64    `json:"alpha"`
			Hex        string     `json:"hex"`
		} `json:"$value"`
		Extensions map[string]own `json:"$extensions"`
	}
	text, colours := map[string]any{"$type": "typography"}, map[string]any{"$type": "color"}
	for _, r := range roles {
		v := value{Family: strings.Join(r.Families, ", "), Size: dimension{r.Size, "px"}, Weight: r.Weight, Letter: dimension{0, "px"}}
		if len(r.Families) > 1 {
			v.Family = r.Families
		}
		if r.Tracking != nil {
			v.Letter.Value = round(*r.Tracking * r.Size / 1000)
		}
		if r.LineHeight != nil {
			v.LineSize = round(*r.LineHeight / r.Size)
		}
		its := own{Face: r.Face}
		if r.LineHeight == nil {
			v.LineSize, its.OwnLine = round(r.OwnLine), round(r.OwnLine)
		}
		text[r.Name] = token{v, map[string]own{extension: its}}
		if r.Colour != "" {
			var c colour
			parts, ok := hex(r.Colour)
			if !ok {
				return nil, fault.Form("expected a colour such as #0B3D5C for the role %s, found %q", r.Name, r.Colour)
			}
			c.Value.Space, c.Value.Alpha, c.Value.Hex = "srgb", round(float64(parts[3])/255), strings.ToLower(r.Colour[:7])
			for i := range 3 {
				c.Value.Components[i] = round(float64(parts[i]) / 255)
			}
			c.Extensions = map[string]own{extension: {}}
			colours[r.Name] = c
		}
	}
	out := map[string]map[string]any{groupType: text}
	if len(colours) > 1 {
		out[groupColour] = colours
	}
	return out, nil
}

// Names of groups.
const (
	groupType   = "typography"
	groupColour = "colour"
)

// Write makes a file of tokens.
func Write(roles []Role) ([]byte, error) {
	g, err := groups(roles)
	if err != nil {
		return nil, err
	}
	return []byte(strings.Join(rendered(g, "  "), "\n") + "\n"), nil
}

// rendered is a value as lines of JSON.
func rendered(v any, step string) []string {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	e.SetIndent("", step)
	_ = e.Encode(v) // of maps, structs and numbers: nothing can fail
	return strings.Split(strings.TrimSuffix(b.String(), "\n"), "\n")
}

func round(v float64) float64 { return math.Round(v*1e4) / 1e4 }

func hex(s string) (out [4]uint8, ok bool) {
	out[3] = 255
	s = strings.TrimPrefix(s, "#")
	if len(s) != 6 && len(s) != 8 {
		return out, false
	}
	for i := 0; i < len(s); i += 2 {
		v, err := strconv.ParseUint(s[i:i+2], 16, 8)
		if err != nil {
			return out, false
		}
		out[i/2] = uint8(v)
	}
	return out, true
}

// Read finds the typography tokens of a file, in the order of their names; a colour token of the same
// name belongs to one. References to other tokens are followed. The list of problems says which tokens
// could not be read, and why.
func Read(text []byte) (roles []Role, problems []string, err error) {
	var tree map[string]any
	if err := json.Unmarshal(bytes.TrimPrefix(text, []byte("\uFEFF")), &tree); err != nil {
		return nil, nil, fault.Form("expected JSON, found something else (%v)", err)
	}
	r := reader{root: tree, colours: map[string]string{}, order: orderOf(text)}
	r.group(tree, nil, "", 0)
	for i := range r.roles {
		if c, ok := r.colours[r.roles[i].Name]; ok {
			r.roles[i].Colour = c
		}
	}
	slices.SortFunc(r.roles, func(a, b Role) int { return strings.Compare(a.Name, b.Name) })
	slices.Sort(r.problems)
	for i := 1; i < len(r.roles); i++ {
		if r.roles[i].Name == r.roles[i-1].Name {
			return nil, nil, fault.Form("expected one typography token for each role, found two that become the role %q; rename one", r.roles[i].Name)
		}
	}
	return r.roles, r.problems, nil
}

// mostDepth is how deep groups and references go.
const mostDepth = 32

type reader struct {
	root     map[string]any
	roles    []Role
	colours  map[string]string
	problems []string
	order    map[string][]string // keys of groups, by their path, as they stand in the file
}

// orderOf lists the keys of each object by its path, which the map of a decoder does not keep. A key that stands twice
// is one, at its last place, as the decoder has it.
func orderOf(text []byte) map[string][]string {
	d := json.NewDecoder(bytes.NewReader(bytes.TrimPrefix(text, []byte("\uFEFF"))))
	out := map[string][]string{}
	var value func(path string, depth int)
	value = func(path string, depth int) {
		t, err := d.Token()
		open, ok := t.(json.Delim)
		for err == nil && ok && (open == '{' || open == '[') && d.More() {
			below := path
			if open == '{' {
				key, _ := d.Token() // a string: the text was read before
				name, _ := key.(string)
				if below = name; depth > 0 {
					below = path + "\x00" + name
				}
				if i := slices.Index(out[path], name); i >= 0 && len(out[path]) < mostOrdered {
					out[path] = slices.Delete(out[path], i, i+1)
				}
				out[path] = append(out[path], name)
			}
			value(below, depth+1)
		}
		if ok {
			_, _ = d.Token() // the end
		}
	}
	value("", 0)
	return out
}

// mostOrdered is how many keys of one object are compared for being there twice.
const mostOrdered = 1000

// group walks a group and its tokens; a type is inherited by what is in it.
func (r *reader) group(g map[string]any, path []string, kind string, depth int) {
	if depth > mostDepth {
		r.fail(path, "groups are nested too deep")
		return
	}
	if t, ok := g["$type"].(string); ok {
		kind = t
	}
	if v, is := g["$value"]; is {
		r.token(g, v, path, kind)
		return
	}
	for _, name := range r.order[strings.Join(path, "\x00")] {
		child := g[name]
		if sub, ok := child.(map[string]any); ok && !strings.HasPrefix(name, "$") {
			r.group(sub, append(slices.Clone(path), name), kind, depth+1)
		}
	}
}

func (r *reader) fail(path []string, why string) {
	r.problems = append(r.problems, strings.Join(path, ".")+": "+why)
}

func (r *reader) token(g map[string]any, v any, path []string, kind string) {
	switch kind {
	case "color":
		if c, ok := r.colour(r.follow(v, 0)); ok {
			name := RoleName(path)
			if first, twice := r.colours[name]; twice && first != c {
				r.fail(path, "another colour token stands for the role "+name+" further up, "+first+", and counts")
			} else {
				r.colours[name] = c
			}
		}
	case "typography":
		parts, ok := r.follow(v, 0).(map[string]any)
		if !ok {
			r.fail(path, "expected an object as its $value")
			return
		}
		role, err := r.role(parts)
		if err != nil {
			r.fail(path, err.Error())
			return
		}
		if role.Name = RoleName(path); role.Name == "" {
			r.fail(path, "expected a name with a letter")
			return
		}
		if ext, ok := g["$extensions"].(map[string]any); ok {
			if own, ok := ext[extension].(map[string]any); ok {
				role.Face, _ = own["face"].(string)
				if line, ok := own["own_line"].(float64); ok && role.LineHeight != nil && math.Abs(*role.LineHeight-line*role.Size) < 0.01 {
					role.LineHeight = nil
				}
			}
		}
		r.roles = append(r.roles, role)
	}
}

// follow resolves a reference, "{group.token}", as often as one leads to another.
func (r *reader) follow(v any, depth int) any {
	s, ok := v.(string)
	if !ok || depth > mostDepth || !strings.HasPrefix(s, "{") || !strings.HasSuffix(s, "}") {
		return v
	}
	var at any = r.root
	for _, part := range strings.Split(s[1:len(s)-1], ".") {
		g, ok := at.(map[string]any)
		if !ok {
			return nil
		}
		at = g[part]
	}
	if g, ok := at.(map[string]any); ok {
		return r.follow(g["$value"], depth+1)
	}
	return nil
}

// role reads the value of a typography token.
func (r *reader) role(parts map[string]any) (Role, error) {
	var out Role
	switch f := r.follow(parts["fontFamily"], 0).(type) {
	case string:
		out.Families = []string{f}
	case []any:
		for _, x := range f {
			if s, ok := r.follow(x, 0).(string); ok {
				out.Families = append(out.Families, s)
			}
		}
	}
	size, ok := r.length(parts["fontSize"])
	if !ok || !(size > 0) {
		return out, fmt.Errorf("expected a fontSize in px or rem")
	}
	out.Size = round(size)
	switch w := r.follow(parts["fontWeight"], 0).(type) {
	case float64:
		out.Weight = int(w)
	case string:
		if out.Weight, _ = face.WeightOf(w); out.Weight == 0 { // Format Module, 8.4
			if n, err := strconv.Atoi(w); err == nil {
				out.Weight = n
			} else {
				return out, fault.Form("expected a fontWeight of 1 to 1000, or a word such as bold, found %q", w)
			}
		}
	}
	if v, said := parts["lineHeight"]; said {
		if n, ok := r.follow(v, 0).(float64); ok && n > 0 {
			n = round(n * size)
			out.LineHeight = &n
		} else if l, ok := r.length(v); ok && l > 0 {
			l = round(l)
			out.LineHeight = &l
		}
	}
	if v, ok := r.length(parts["letterSpacing"]); ok {
		v = math.Round(v / size * 1000)
		out.Tracking = &v
	}
	return out, nil
}

// length is a dimension in pixels; a rem is the reader's usual size, 16 pixels. Older files write it as a
// text: "28px".
func (r *reader) length(v any) (float64, bool) {
	switch v := r.follow(v, 0).(type) {
	case map[string]any:
		n, ok := r.follow(v["value"], 0).(float64)
		unit, _ := v["unit"].(string)
		return perUnit(n, unit, ok)
	case string:
		i := strings.LastIndexAny(v, "0123456789.") + 1
		n, err := strconv.ParseFloat(v[:i], 64)
		return perUnit(n, v[i:], err == nil)
	case float64:
		return v, true
	}
	return 0, false
}

func perUnit(n float64, unit string, ok bool) (float64, bool) {
	switch {
	case !ok || math.IsNaN(n) || math.Abs(n) > 1e6:
		return 0, false
	case unit == "px":
		return n, true
	case unit == "rem":
		return n * 16, true
	}
	return 0, false
}

// colour is a colour token's value: an object of the colour module in sRGB, or the text that older files
// have.
func (r *reader) colour(v any) (string, bool) {
	switch v := v.(type) {
	case string:
		if _, ok := hex(v); ok && strings.HasPrefix(v, "#") {
			return strings.ToUpper(v), true
		}
	case map[string]any:
		parts, _ := v["components"].([]any)
		if v["colorSpace"] != "srgb" || len(parts) != 3 {
			return "", false
		}
		out := "#"
		alpha, given := v["alpha"].(float64)
		for _, p := range append(parts, any(alpha)) {
			n, ok := p.(float64)
			if !ok || n < 0 || n > 1 {
				return "", false
			}
			out += fmt.Sprintf("%02X", int(math.Round(n*255)))
		}
		if !given || alpha == 1 {
			out = out[:7]
		}
		return out, true
	}
	return "", false
}

// leading are groups that say what their tokens are; they are no part of a role's name.
var leading = []string{"typography", "type", "text", "font", "fonts", "colour", "color", "colours", "colors"}

// RoleName is the role that a token stands for: its path in small letters, joined by hyphens.
func RoleName(path []string) string {
	if len(path) > 1 && slices.Contains(leading, strings.ToLower(path[0])) {
		path = path[1:]
	}
	var b strings.Builder
	for _, r := range strings.ToLower(strings.Join(path, "-")) {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			b.WriteRune(r)
		case b.Len() > 0 && !strings.HasSuffix(b.String(), "-"):
			b.WriteByte('-')
		}
	}
	name := strings.Trim(b.String(), "-")
	return strings.TrimLeft(name, "0123456789-")
}
