package registry

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"path/filepath"
	"sort"
	"strconv"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/lazy"
	"notaria/internal/pixel"
)

// A Role is what the app's code asks for: a face, and what goes with it.
type Role struct {
	Face       string          `toml:"face"`          // the PostScript name of an enrolled face
	Size       float64         `toml:"size"`          // points on Apple, sp on Android, logical pixels elsewhere
	LineHeight *float64        `toml:"line-height"`   // from baseline to baseline, in the unit of size; the font's own if absent
	Tracking   *float64        `toml:"tracking"`      // thousandths of an em between letters
	Colour     Colour          `toml:"colour"`        // #RRGGBB or #RRGGBBAA
	Outline    *Outline        `toml:"outline"`       // a line along each letter's edge
	Fallback   string          `toml:"fallback"`      // sans, serif or mono: what shows if the face cannot be loaded
	Scale      *bool           `toml:"scale"`         // follows the reader's text size; true if absent
	Extra      *Extra          `toml:"extra-spacing"` // room beside what the face has itself
	Shadow     *Shadow         `toml:"shadow"`        // a copy of each letter below it
	Smooth     *bool           `toml:"smooth"`        // edges in shades, or in full pixels alone; the platform's choice if absent
	Characters *Characters     `toml:"characters"`    // what an atlas holds; what the target chooses if absent
	Place                      // of a variable font
	Pixels                     // what displays and pixel games ask for
	Loading                    // what pages ask for
	On         map[string]Role `toml:"on"` // what differs on a target
}

// Pixels are the keys of a role that is drawn as pixels.
type Pixels struct {
	Bitmap    string `toml:"bitmap"`     // a bitmap font of the project in place of a face: BDF, PCF, PSF, or a sheet
	Height    int    `toml:"height"`     // in pixels; the size, as pixels per em, if absent
	Of        string `toml:"of"`         // what is so high: em, line, digits, capitals, x-height, or characters
	Depth     int    `toml:"depth"`      // bits a pixel: 1, 2, 4 or 8; 1 if absent
	Hinting   string `toml:"hinting"`    // auto, on or off
	Contrast  int    `toml:"contrast"`   // of shades, 0 to 100
	SameWidth string `toml:"same-width"` // characters that get one width: sets and text
	Gap       int    `toml:"gap"`        // least white between two characters, in pixels
	Kerning   *bool  `toml:"kerning"`    // takes the face's pairs over; true if absent
	Missing   string `toml:"missing"`    // what is drawn for characters that the face lacks: none, box, or a character
}

// over is what one target says, over what is said for all.
func (p Pixels) over(all Pixels) Pixels {
	if p.Bitmap != "" { // it takes the place of what is drawn
		all.Height, all.Of, all.Hinting, all.Contrast = 0, "", "", 0
	}
	p.Bitmap, p.Of = cmp.Or(p.Bitmap, all.Bitmap), cmp.Or(p.Of, all.Of)
	p.Height, p.Depth = cmp.Or(p.Height, all.Height), cmp.Or(p.Depth, all.Depth)
	p.Hinting, p.Contrast = cmp.Or(p.Hinting, all.Hinting), cmp.Or(p.Contrast, all.Contrast)
	p.SameWidth, p.Gap = cmp.Or(p.SameWidth, all.SameWidth), cmp.Or(p.Gap, all.Gap)
	p.Missing = cmp.Or(p.Missing, all.Missing)
	if p.Kerning == nil {
		p.Kerning = all.Kerning
	}
	return p
}

// Wish is the role as a bitmap font is asked for, without characters.
func (r Role) Wish() pixel.Wish {
	w := pixel.Wish{Height: r.Height, Of: r.Of, Hinting: r.Hinting}
	if w.Height == 0 {
		w.Height, w.Of = int(math.Round(r.Size)), ""
	}
	w.Depth, w.Contrast, w.Gap = r.Depth, r.Contrast, r.Gap
	if w.Depth == 0 && r.Bitmap == "" { // a bitmap has its own
		w.Depth = 1
	}
	w.Kerning = r.Kerning == nil || *r.Kerning
	if same, err := ParseCharacters(r.SameWidth); err == nil { // the registry was checked
		w.SameWidth, _ = same.Runes()
	}
	w.Missing, _ = ParseMissing(r.Missing)
	return w
}

// OnlyPixels says whether the role is for displays and pixel games alone: it has no size that other
// platforms can take.
func (r Role) OnlyPixels() bool { return r.Size == 0 && (r.Height != 0 || r.Bitmap != "") }

// ParseMissing reads what is drawn for characters that a face lacks.
func ParseMissing(s string) (rune, error) {
	switch {
	case s == "" || s == None:
		return 0, nil
	case s == "box":
		return pixel.Box, nil
	}
	if r := []rune(s); len(r) == 1 {
		return r[0], nil
	}
	return 0, fault.Form("expected none, box, or one character, found %q", s)
}

// validatePixels checks those keys.
func (r Role) validatePixels(wrong complaint) error {
	if r.Bitmap != "" && (!filepath.IsLocal(filepath.FromSlash(r.Bitmap)) || strings.ContainsAny(r.Bitmap, "\\:")) {
		return wrong("bitmap", "a bitmap by its path in the project", fmt.Sprintf("%q", r.Bitmap), "write it from the folder of notaria.toml on, with slashes")
	}
	if _, err := ParseMissing(r.Missing); err != nil {
		return wrong("missing", "a missing of none, box, or one character", fmt.Sprintf("%q", r.Missing), "use one of them")
	}
	if same, err := ParseCharacters(r.SameWidth); err != nil {
		return wrong("same-width", "characters for same-width", err, "write sets and text, such as: digits")
	} else if _, err := same.Runes(); err != nil {
		return wrong("same-width", "characters for same-width", err, "write sets and text, such as: digits")
	}
	if r.Bitmap != "" && (r.Height != 0 || r.Of != "" || r.Hinting != "" || r.Contrast != 0 || r.At() != nil) {
		return wrong("bitmap", "a face for height, of, hinting, contrast and axes", "a bitmap, which is drawn already", "take these keys out, or the bitmap")
	}
	if r.Height == 0 && r.Of != "" {
		return wrong("of", "a height that \"of\" belongs to", "none", "write the height in pixels")
	}
	if w := r.Wish(); r.Height != 0 || r.Depth != 0 || r.Hinting != "" || r.Contrast != 0 || r.Gap != 0 {
		if r.Bitmap != "" { // its own height and depth are checked where it is read
			w.Height, w.Depth = 1, cmp.Or(w.Depth, 1)
		}
		if err := w.Check(); err != nil {
			var e *fault.Error
			if errors.As(err, &e) {
				return wrong("height", e.Expected, e.Found, "correct it")
			}
			return err
		}
	}
	return nil
}

// An Outline is a line drawn around each letter.
type Outline struct {
	Width  float64 `toml:"width"`  // in the unit of size
	Colour Colour  `toml:"colour"` // #RRGGBB or #RRGGBBAA
}

// Extra is room beside what the face has itself, in the unit of size.
type Extra struct {
	Space  float64 `toml:"space"`  // after each space
	Top    float64 `toml:"top"`    // above each line
	Bottom float64 `toml:"bottom"` // below each line
}

// A Shadow is a copy of each letter below it. All lengths are in the unit of size; X
// grows to the right, Y downwards.
type Shadow struct {
	X      float64 `toml:"x"`      // to the right
	Y      float64 `toml:"y"`      // downwards
	Blur   float64 `toml:"blur"`   // how soft its edge is
	Colour Colour  `toml:"colour"` // "none" for no shadow, on one target
}

// Scales says whether the role follows the reader's text size.
func (r Role) Scales() bool { return r.Scale == nil || *r.Scale }

// None takes a colour or a fallback off again on one target.
const None = "none"

// For is the role as one target shows it: what is said for that target takes the
// place of what is said for all.
func (r Role) For(target string) Role {
	o, ok := r.On[target]
	if !ok {
		return r
	}
	if o.Face != "" || o.Bitmap != "" { // axes are those of a face
		r.Place = Place{}
	}
	if o.Face != "" {
		r.Face = o.Face
	}
	if o.Size != 0 {
		r.Size = o.Size
	}
	if o.LineHeight != nil {
		r.LineHeight = o.LineHeight
	}
	if o.Tracking != nil {
		r.Tracking = o.Tracking
	}
	if o.Colour.Text != "" {
		r.Colour = o.Colour
	}
	if o.Outline != nil {
		r.Outline = o.Outline
	}
	if o.Fallback != "" {
		r.Fallback = o.Fallback
	}
	if o.Scale != nil {
		r.Scale = o.Scale
	}
	if o.Extra != nil {
		r.Extra = o.Extra
	}
	if o.Shadow != nil {
		r.Shadow = o.Shadow
	}
	if o.Smooth != nil {
		r.Smooth = o.Smooth
	}
	if o.Characters != nil {
		r.Characters = o.Characters
	}
	r.Place, r.Pixels, r.Loading = o.Place.over(r.Place), o.Pixels.over(r.Pixels), o.Loading.over(r.Loading)
	return r
}

// Differs lists the targets on which any role differs, in alphabetical order,
// each with one of the roles.
func (r *Registry) Differs() (targets []string, role map[string]string) {
	role = map[string]string{}
	for _, name := range r.RoleNames() {
		for t := range r.Roles[name].On {
			if role[t] == "" {
				targets = append(targets, t)
				role[t] = name
			}
		}
	}
	sort.Strings(targets)
	return targets, role
}

// Fallbacks are the kinds of font that every platform brings itself.
var Fallbacks = []string{"sans", "serif", "mono"}

var colourForm = lazy.Regexp(`^#(?:[0-9A-Fa-f]{6}|[0-9A-Fa-f]{8})$`)

// A Colour is #RRGGBB or #RRGGBBAA, an opaque one needs no last pair; it is read once, with the registry.
type Colour struct {
	Text       string // as it is written
	R, G, B, A uint8
	OK         bool // the text is a colour
}

// UnmarshalText reads a colour; what is none is kept, and told where it stands.
func (c *Colour) UnmarshalText(text []byte) error {
	*c = ParseColour(string(text))
	return nil
}

// ParseColour reads a colour.
func ParseColour(s string) Colour {
	c := Colour{Text: s}
	if !colourForm.MatchString(s) {
		return c
	}
	if len(s) == 7 {
		s += "ff"
	}
	n, err := strconv.ParseUint(s[1:], 16, 32)
	c.R, c.G, c.B, c.A, c.OK = uint8(n>>24), uint8(n>>16), uint8(n>>8), uint8(n), err == nil
	return c
}

// validateRole checks a role as each target will see it.
func (r *Registry) validateRole(name string, faces map[string]bool) error {
	if !ValidRole(name) {
		return r.Wrong(Key{"role", name}, "role names of small letters, digits and hyphens", fmt.Sprintf("%q", name), "rename the role")
	}
	role := r.Roles[name]
	if err := role.validate(r.complaint(fmt.Sprintf("the role %q", name), Key{"role", name}), faces, r.FaceNames); err != nil {
		return err
	}
	for _, target := range sortedTargets(role.On) {
		if role.On[target].On != nil {
			return r.Wrong(Key{"role", name, "on", target, "on"}, fmt.Sprintf("what differs in [role.%s.on.%s]", name, target), "another table \"on\" in it", "take it out")
		}
		if err := role.For(target).validate(r.complaint(fmt.Sprintf("the role %q on %s", name, target), Key{"role", name, "on", target}, Key{"role", name}), faces, r.FaceNames); err != nil {
			return err
		}
	}
	return nil
}

func sortedTargets(on map[string]Role) []string {
	out := make([]string, 0, len(on))
	for t := range on {
		out = append(out, t)
	}
	sort.Strings(out)
	return out
}

// mostSize bounds sizes, line heights and outlines: beyond it nothing is text.
const mostSize = 1000

// A complaint says what is wrong with a key of a role.
type complaint func(key, expected string, found any, cure string) error

// complaint is one about a role that is called so, whose keys are in one of some tables: the first that has one counts.
func (r *Registry) complaint(what string, tables ...Key) complaint {
	return func(key, expected string, found any, cure string) error {
		at := tables[0]
		for _, table := range tables {
			if full := append(table[:len(table):len(table)], key); r.has(full) {
				at = full
				break
			}
		}
		return r.Wrong(at, expected+" for "+what, fmt.Sprint(found), cure)
	}
}

func (r Role) validate(wrong complaint, faces map[string]bool, known func() []string) error {
	switch {
	case r.Face == "" && r.Bitmap != "" && r.OnlyPixels():
	case !faces[r.Face]:
		return wrong("face", "an enrolled face", fmt.Sprintf("%q", r.Face), Instead(r.Face, known(), "enrol a face"))
	case r.OnlyPixels():
	case !(r.Size > 0 && r.Size <= mostSize):
		return wrong("size", "a size of more than 0 and at most 1000", r.Size, "write its size in points")
	case r.LineHeight != nil && !(*r.LineHeight > 0 && *r.LineHeight <= mostSize):
		return wrong("line-height", "a line-height of more than 0 and at most 1000", *r.LineHeight, "write the distance of two baselines, in the unit of size")
	case r.Tracking != nil && !(*r.Tracking >= -1000 && *r.Tracking <= 1000):
		return wrong("tracking", "a tracking of -1000 to 1000", *r.Tracking, "write it in thousandths of an em")
	case r.Colour.Text != "" && r.Colour.Text != None && !r.Colour.OK:
		return wrong("colour", "a colour such as #0B3D5C or #0B3D5C80", fmt.Sprintf("%q", r.Colour.Text), "write it as #RRGGBB, or #RRGGBBAA")
	case r.Fallback != "" && r.Fallback != None && !strings.Contains(" "+strings.Join(Fallbacks, " ")+" ", " "+r.Fallback+" "):
		return wrong("fallback", "a fallback of "+strings.Join(Fallbacks, ", "), fmt.Sprintf("%q", r.Fallback), Instead(r.Fallback, Fallbacks, ""))
	}
	if o := r.Outline; o != nil {
		switch {
		case !(o.Width >= 0 && o.Width <= mostSize):
			return wrong("outline", "an outline's width of 0 to 1000", o.Width, "write it in the unit of size")
		case o.Width > 0 && !o.Colour.OK:
			return wrong("outline", "an outline's colour such as #0B3D5C", fmt.Sprintf("%q", o.Colour.Text), "write it as #RRGGBB, or #RRGGBBAA")
		}
	}
	if err := r.validatePixels(wrong); err != nil {
		return err
	}
	if err := r.Loading.validate(wrong); err != nil {
		return err
	}
	if err := r.Place.validate(wrong); err != nil {
		return err
	}
	return r.validateFurther(wrong)
}

// validateFurther checks what games and drawn text ask of a role.
func (r Role) validateFurther(wrong complaint) error {
	within := func(least float64, values ...float64) (float64, bool) {
		for _, v := range values {
			if !(v >= least && v <= mostSize) {
				return v, false
			}
		}
		return 0, true
	}
	if e := r.Extra; e != nil {
		if v, ok := within(-mostSize, e.Space, e.Top, e.Bottom); !ok {
			return wrong("extra-spacing", "an extra-spacing of -1000 to 1000", v, "write space, top and bottom in the unit of size")
		}
	}
	if s := r.Shadow; s != nil {
		if v, ok := within(-mostSize, s.X, s.Y); !ok {
			return wrong("shadow", "a shadow's x and y of -1000 to 1000", v, "write them in the unit of size")
		}
		if v, ok := within(0, s.Blur); !ok {
			return wrong("shadow", "a shadow's blur of 0 to 1000", v, "write it in the unit of size")
		}
		if !s.Colour.OK && s.Colour.Text != None {
			return wrong("shadow", "a shadow's colour such as #00000080", fmt.Sprintf("%q", s.Colour.Text), "write it as #RRGGBB, or #RRGGBBAA")
		}
	}
	if c := r.Characters; c != nil {
		list, err := c.Runes()
		if err == nil && len(list) > mostCharacters {
			err = fmt.Errorf("more than %d of them", mostCharacters)
		}
		if err != nil {
			return wrong("characters", "characters", err, "write them as U+0020-007E, as a set, or as text")
		}
	}
	return nil
}

// cutRole takes a role out, with the tables below it.
func (r *Registry) cutRole(name string) error {
	if !r.cutBelow("role." + name) {
		return r.Wrong(Key{"role", name}, fmt.Sprintf("the role %q as a block [role.%s]", name, name), "another form", "write it as a block")
	}
	delete(r.Roles, name)
	return nil
}

// cutDifferences takes out what roles say for single targets about a face that
// goes.
func (r *Registry) cutDifferences(face string) error {
	for _, name := range r.RoleNames() {
		for _, target := range sortedTargets(r.Roles[name].On) {
			if r.Roles[name].On[target].Face != face {
				continue
			}
			if key := "role." + name + ".on." + target; !r.cutBelow(key) {
				return r.Wrong(Key{"role", name, "on", target}, "what differs as a block ["+key+"]", "another form", "write it as a block")
			}
			delete(r.Roles[name].On, target)
		}
	}
	return nil
}

// cutBelow takes out a table and all tables below it.
func (r *Registry) cutBelow(key string) bool {
	found := false
	for again := true; again; {
		again = false
		for _, b := range r.blocks() {
			if k := strings.Join(b.key, "."); !b.array && (k == key || strings.HasPrefix(k, key+".")) {
				r.cut(b)
				found, again = true, true
				break // places have moved
			}
		}
	}
	return found
}
