// Package tokens reads and writes roles as typography tokens of the Design Tokens Community Group
// (Design Tokens Format Module 2025.10), so that designers' files and the registry stay one.
//
// https://www.designtokens.org/tr/2025.10/format/
package tokens

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
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
	r := reader{root: tree, colours: map[string]string{}, ofColours: map[string][]string{}, order: orderOf(text)}
	r.expand(tree, nil, 0)
	r.group(tree, nil, "", 0)
	r.settle()
	for i := range r.roles {
		if c, ok := r.colours[r.roles[i].Name]; ok {
			r.roles[i].Colour = c
		}
		r.problems = append(r.problems, r.ofColours[r.roles[i].Name]...)
	}
	slices.SortFunc(r.roles, func(a, b Role) int { return strings.Compare(a.Name, b.Name) })
	slices.Sort(r.problems)
	return r.roles, slices.Compact(r.problems), nil
}

// settle tells tokens apart that become one role: by all of their path. Of those whose paths are alike as well the first counts.
func (r *reader) settle() {
	count := map[string]int{}
	for _, role := range r.roles {
		count[role.Name]++
	}
	taken := map[string]bool{}
	kept := r.roles[:0]
	for i, role := range r.roles {
		path := r.paths[i]
		if count[role.Name] > 1 {
			short := role.Name
			if whole := wholeName(path); whole != "" {
				role.Name = whole
			}
			r.fail(path, "several tokens become the role "+short+": this one is called "+role.Name)
		}
		if taken[role.Name] {
			r.fail(path, "a token further up is called "+role.Name+" already, and counts")
			continue
		}
		taken[role.Name] = true
		kept = append(kept, role)
	}
	r.roles = kept
}

// mostDepth is how deep groups and references go.
const mostDepth = 32

type reader struct {
	root      map[string]any
	roles     []Role
	paths     [][]string // of roles
	inherited int        // members that groups have of others
	colours   map[string]string
	ofColours map[string][]string // what is to be told of colours, by their roles
	problems  []string
	order     map[string][]string // keys of groups, by their path, as they stand in the file
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
	if v, is := valueOf(g); is {
		if g["$type"] == nil {
			if t := r.typeBehind(v, 0); t != "" {
				kind = t
			}
		}
		r.token(g, v, path, kind)
		return
	}
	for _, name := range r.order[joined(path)] {
		sub, ok := g[name].(map[string]any)
		if !ok || special(name) {
			continue
		}
		below := append(slices.Clone(path), name)
		if name == "$root" { // the group itself as a token (Format Module, 6.2)
			below = path
		}
		r.group(sub, below, kind, depth+1)
	}
}

// valueOf is the value of a token, which can be a reference to another one as a whole.
func valueOf(g map[string]any) (any, bool) {
	if v, is := g["$value"]; is {
		return v, true
	}
	if ref, is := g["$ref"].(string); is {
		return map[string]any{"$ref": ref}, true
	}
	return nil, false
}

// typeBehind is the type of the token that a reference leads to: a token without a type has that (Format Module, 7.2).
func (r *reader) typeBehind(v any, depth int) string {
	path, ok := reference(v)
	if !ok || depth > mostDepth {
		return ""
	}
	if n := len(path); n > 0 && path[n-1] == "$value" {
		path = path[:n-1]
	}
	kind := ""
	for i := range len(path) + 1 {
		if g, ok := r.at(path[:i]).(map[string]any); ok {
			if t, ok := g["$type"].(string); ok {
				kind = t
			}
		}
	}
	if g, ok := r.at(path).(map[string]any); ok && g["$type"] == nil {
		if v, is := valueOf(g); is {
			if t := r.typeBehind(v, depth+1); t != "" {
				return t
			}
		}
	}
	return kind
}

// reference takes a reference apart: {a.b}, or an object with a $ref that is a JSON pointer.
func reference(v any) ([]string, bool) {
	switch v := v.(type) {
	case string:
		if strings.HasPrefix(v, "{") && strings.HasSuffix(v, "}") {
			return strings.Split(v[1:len(v)-1], "."), true
		}
	case map[string]any:
		if s, ok := v["$ref"].(string); ok && strings.HasPrefix(s, "#/") {
			return pointer(s), true
		}
	}
	return nil, false
}

func (r *reader) fail(path []string, why string) {
	r.problems = append(r.problems, strings.Join(path, ".")+": "+why)
}

func (r *reader) token(g map[string]any, v any, path []string, kind string) {
	modes := modesOf(g)
	if modes != "" {
		modes = "its modes (" + modes + ") are not taken: the $value counts"
	}
	switch kind {
	case "color":
		c, why := r.colour(r.follow(v, 0))
		name := RoleName(path)
		for _, w := range []string{why, modes} {
			if w != "" { // told if there is such a role: palettes have many colours that are none of ours
				r.ofColours[name] = append(r.ofColours[name], strings.Join(path, ".")+": "+w)
			}
		}
		if c != "" {
			if first, twice := r.colours[name]; twice && first != c {
				r.fail(path, "another colour token stands for the role "+name+" further up, "+first+", and counts")
			} else {
				r.colours[name] = c
			}
		}
	case "typography":
		if modes != "" {
			r.fail(path, modes)
		}
		parts, ok := r.follow(v, 0).(map[string]any)
		if !ok {
			r.fail(path, "expected an object as its $value")
			return
		}
		role, err := r.role(parts, path)
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
		r.roles, r.paths = append(r.roles, role), append(r.paths, path)
	}
}

// modesOf are the names of a token's modes, which tools for design keep in extensions of their own; "" for none.
func modesOf(g map[string]any) string {
	ext, _ := g["$extensions"].(map[string]any)
	for _, of := range slices.Sorted(maps.Keys(ext)) {
		key := of[strings.LastIndexByte(of, '.')+1:]
		v, ok := ext[of].(map[string]any)
		if ok && key != "mode" && key != "modes" {
			if v, ok = v["modes"].(map[string]any); !ok {
				continue
			}
		}
		if ok && len(v) > 0 {
			return face.Short(strings.Join(slices.Sorted(maps.Keys(v)), ", "))
		}
	}
	return ""
}

// follow resolves a reference, "{group.token}" or {"$ref": "#/group/token"}, as often as one leads to another.
func (r *reader) follow(v any, depth int) any {
	path, ok := reference(v)
	if !ok || depth > mostDepth {
		return v
	}
	at := r.at(path)
	if g, isMap := at.(map[string]any); isMap {
		if value, is := valueOf(g); is {
			return r.follow(value, depth+1)
		}
		if root, is := g["$root"].(map[string]any); is {
			value, _ := valueOf(root)
			return r.follow(value, depth+1)
		}
	}
	if _, pointed := v.(map[string]any); !pointed {
		return nil // braces lead to tokens alone
	}
	return r.follow(at, depth+1)
}

// taken are the members of a typography token that become a role's.
var taken = []string{"fontFamily", "fontSize", "fontWeight", "lineHeight", "letterSpacing"}

// role reads the value of a typography token. What of it is not taken is told.
func (r *reader) role(parts map[string]any, path []string) (Role, error) {
	var out Role
	for _, key := range slices.Sorted(maps.Keys(parts)) {
		if !slices.Contains(taken, key) {
			r.fail(append(slices.Clone(path), face.Short(key)), "is not taken: a role has no such part")
		}
	}
	part := func(key, why string) { r.fail(append(slices.Clone(path), key), why+", and is not taken") }
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
		if n, ok := r.factor(v); ok && n > 0 {
			n = round(n * size)
			out.LineHeight = &n
		} else if l, ok := r.length(v); ok && l > 0 {
			l = round(l)
			out.LineHeight = &l
		} else {
			part("lineHeight", fmt.Sprintf("expected a factor, percent, px or rem, found %s", seen(r.follow(v, 0))))
		}
	}
	if v, said := parts["letterSpacing"]; said {
		of, isText := r.follow(v, 0).(string)
		percent, isPercent := strings.CutSuffix(of, "%")
		n, err := strconv.ParseFloat(strings.TrimSpace(percent), 64)
		switch l, ok := r.length(v); {
		case isText && isPercent && err == nil && math.Abs(n) <= 1000: // of the size
			n = math.Round(n * 10)
			out.Tracking = &n
		case ok && !unitless(r.follow(v, 0)):
			l = math.Round(l / size * 1000)
			out.Tracking = &l
		default:
			part("letterSpacing", fmt.Sprintf("expected px, rem or percent, found %s", seen(r.follow(v, 0))))
		}
	}
	return out, nil
}

// unitless says whether a length has no unit and is not 0, so that nobody knows what it counts.
func unitless(v any) bool {
	n, ok := v.(float64)
	return ok && n != 0
}

// seen is a value of a file in a message.
func seen(v any) string {
	raw, err := json.Marshal(v)
	if err != nil {
		return "something else"
	}
	return face.Short(string(raw))
}

// factor is a line height as a factor of the size: 1.5, "1.5" or "150%".
func (r *reader) factor(v any) (float64, bool) {
	switch v := r.follow(v, 0).(type) {
	case float64:
		return v, v <= 1000
	case string:
		text, percent := strings.CutSuffix(strings.TrimSpace(v), "%")
		n, err := strconv.ParseFloat(text, 64)
		if percent {
			n /= 100
		}
		return n, err == nil && n <= 1000
	}
	return 0, false
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

// colour is a colour token's value in sRGB: an object of the colour module, or the text that older files have. why says what is not taken of
// it, or taken as something else.
func (r *reader) colour(v any) (c, why string) {
	switch v := v.(type) {
	case string:
		if _, ok := hex(v); ok && strings.HasPrefix(v, "#") {
			return strings.ToUpper(v), ""
		}
	case map[string]any:
		name, _ := v["colorSpace"].(string)
		parts, _ := r.follow(v["components"], 0).([]any)
		convert, known := spaces[name]
		if !known || len(parts) != 3 {
			break
		}
		var in vector
		for i, p := range parts {
			n, ok := r.follow(p, 0).(float64) // "none" is 0
			if _, word := p.(string); !ok && !word || math.Abs(n) > 1e4 {
				return "", "expected three numbers as its components, found " + seen(parts) + ", and is not taken"
			}
			in[i] = n
		}
		out, outside := "#", false
		for _, n := range convert(in) {
			outside = outside || n < -0.0005 || n > 1.0005
			out += fmt.Sprintf("%02X", int(math.Round(min(max(n, 0), 1)*255)))
		}
		if outside {
			why = "is out of sRGB: the nearest colour within, " + out + ", is taken"
			if own, _ := v["hex"].(string); len(own) == 7 && strings.HasPrefix(own, "#") {
				if _, ok := hex(own); ok {
					out, why = strings.ToUpper(own), "is out of sRGB: its own hex, "+strings.ToUpper(own)+", is taken"
				}
			}
		}
		if alpha, given := r.follow(v["alpha"], 0).(float64); given && alpha < 1 {
			out += fmt.Sprintf("%02X", int(math.Round(max(alpha, 0)*255)))
		}
		return out, why
	}
	return "", "expected a colour such as #0B3D5C, or a colorSpace with components, found " + seen(v) + ", and is not taken"
}

// leading are groups that say what their tokens are; they are no part of a role's name.
var leading = []string{"typography", "type", "text", "font", "fonts", "colour", "color", "colours", "colors"}

// RoleName is the role that a token stands for: its path in small letters, joined by hyphens.
func RoleName(path []string) string {
	if len(path) > 1 && slices.Contains(leading, strings.ToLower(path[0])) {
		path = path[1:]
	}
	return wholeName(path)
}

// wholeName is a path as a role's name, with all of its groups.
func wholeName(path []string) string {
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
