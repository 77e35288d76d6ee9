package edit

import (
	"bytes"
	"encoding/json"
	"slices"
	"strings"
)

// An app.json of Expo holds its plugins as a list; fonts are properties of one:
//
//	{"expo": {"plugins": [["expo-font", {"fonts": ["./assets/fonts/X.ttf"]}]]}}
//
// Entries have the Place "fonts" and the file's path as Value. So have those of the
// Place "ios.fonts"; those of "android.fonts" have a family as Value, an object in
// compact JSON. Containers are recorded by what had to be made, with the text that
// stood there before.
const (
	fontPlugin    = "expo-font"
	placePlugins  = "plugins"  // the key, or the list that was empty
	placePlugin   = "plugin"   // the plugin's element, or its bare name
	placeFontList = "fontlist" // the list of fonts; of others with a blank and their place
)

// Lists of fonts among the plugin's properties, as Place and as keys.
const (
	PlaceAndroidFonts = "android.fonts"
	PlaceIOSFonts     = "ios.fonts"
)

var fontPlaces = []string{"fonts", PlaceAndroidFonts, PlaceIOSFonts}

// listPlace is the container's place of a list.
func listPlace(place string) string {
	if place == "fonts" {
		return placeFontList
	}
	return placeFontList + " " + place
}

// appJSON is a parsed app.json with the parts that fonts need.
type appJSON struct {
	file    string
	doc     []byte
	root    *jsonNode
	expo    *jsonNode
	plugins *jsonNode
	at      int       // of the plugin in the list, -1 if it is not there
	props   *jsonNode // its properties
	fonts   *jsonNode
	lists   map[string]*jsonNode // by place
}

func parseAppJSON(file string, doc []byte) (*appJSON, error) {
	root, err := parseJSON(file, doc)
	if err != nil {
		return nil, err
	}
	a := &appJSON{file: file, doc: doc, root: root, expo: root.get("expo"), at: -1}
	fail := func(n *jsonNode, expected, found string) error {
		return &Error{file, lineOf(doc, n.from), expected, found, `write it as "plugins": [["expo-font", {"fonts": ["./assets/fonts/File.ttf"]}]] below "expo"`}
	}
	if a.expo == nil || a.expo.kind != '{' {
		return nil, fail(root, `an object "expo"`, "none")
	}
	if a.plugins = a.expo.get("plugins"); a.plugins == nil {
		return a, nil
	}
	if a.plugins.kind != '[' {
		return nil, fail(a.plugins, `a list under "plugins"`, "another value")
	}
	for i, v := range a.plugins.values {
		named := v.str() == fontPlugin
		if v.kind == '[' && len(v.values) > 0 && v.values[0].str() == fontPlugin {
			named = true
			if len(v.values) != 2 || v.values[1].kind != '{' {
				return nil, fail(v, "an object of properties behind "+fontPlugin, "another form")
			}
			a.props = v.values[1]
		}
		if !named {
			continue
		}
		if a.at >= 0 {
			return nil, fail(v, "the plugin "+fontPlugin+" once", "it twice")
		}
		a.at = i
	}
	a.lists = map[string]*jsonNode{}
	for _, place := range fontPlaces {
		list := a.props.get(strings.Split(place, ".")...)
		if list != nil && list.kind != '[' {
			return nil, fail(list, `a list under "fonts"`, "another value")
		}
		if list != nil {
			a.lists[place] = list
		}
	}
	a.fonts = a.lists["fonts"]
	return a, nil
}

// AppJSONFonts lists the font files that an app.json names, with their lines.
func AppJSONFonts(file string, doc []byte) (values []string, lines []int, err error) {
	a, err := parseAppJSON(file, doc)
	if err != nil {
		return nil, nil, err
	}
	add := func(v *jsonNode) {
		if s := v.str(); s != "" {
			values, lines = append(values, s), append(lines, lineOf(doc, v.from))
		}
	}
	for _, place := range fontPlaces {
		if a.lists[place] == nil {
			continue
		}
		for _, v := range a.lists[place].values {
			add(v)
			if defs := v.get("fontDefinitions"); defs != nil {
				for _, d := range defs.values {
					add(d.get("path"))
				}
			}
		}
	}
	return values, lines, nil
}

func (a *appJSON) splice(s splice) (*appJSON, error) {
	return parseAppJSON(a.file, apply(a.doc, []splice{s}))
}

// reconcileAppJSON adds and drops one font after the other; each parses anew.
func reconcileAppJSON(file string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	a, err := parseAppJSON(file, doc)
	if err != nil {
		return nil, nil, err
	}
	containers, mine, wanted := map[string]Entry{}, map[string]bool{}, keys(want)
	for _, e := range owned {
		switch {
		case e.Value == "":
			containers[e.Place] = e
		case wanted[e.Key()]:
			mine[e.Key()] = true
		default:
			if a, err = a.drop(e); err != nil {
				return nil, nil, err
			}
		}
	}
	var now []Entry
	for _, e := range want {
		if a.has(e) {
			if mine[e.Key()] {
				now = append(now, e)
			}
			continue
		}
		if a, err = a.add(e, containers); err != nil {
			return nil, nil, err
		}
		now = append(now, e)
	}
	if a, err = a.prune(containers); err != nil {
		return nil, nil, err
	}
	if len(now) == 0 {
		return a.doc, nil, nil
	}
	for _, place := range sortedKeys(containers) {
		now = append(now, containers[place])
	}
	return a.doc, now, nil
}

// position finds an entry's element in its list, -1 if it is not there.
func (a *appJSON) position(e Entry) int {
	if list := a.lists[e.Place]; list != nil {
		return slices.IndexFunc(list.values, func(v *jsonNode) bool {
			if e.Place == PlaceAndroidFonts {
				return compactJSON(a.doc[v.from:v.to]) == e.Value
			}
			return v.str() == e.Value
		})
	}
	return -1
}

func (a *appJSON) has(e Entry) bool { return a.position(e) >= 0 }

// compactJSON is a value without white space and remarks; "" if it is not JSON.
func compactJSON(text []byte) string {
	var b bytes.Buffer
	if json.Compact(&b, BlankComments(text)) != nil {
		return ""
	}
	return b.String()
}

// element gives an entry's lines.
func (a *appJSON) element(e Entry, step string) []string {
	if e.Place != PlaceAndroidFonts {
		return []string{quoteJSON(e.Value)}
	}
	var b bytes.Buffer
	if json.Indent(&b, []byte(e.Value), "", step) != nil {
		return []string{e.Value}
	}
	return strings.Split(b.String(), "\n")
}

// nested puts lines into lists and objects of these keys.
func nested(keys []string, lines []string, step string) []string {
	open, shut := "[", "]"
	if len(keys) > 1 {
		lines, open, shut = nested(keys[1:], lines, step), "{", "}"
	}
	return append(append([]string{quoteJSON(keys[0]) + ": " + open}, indentAll(lines, step)...), shut)
}

// add names a font, making first what it lies in.
func (a *appJSON) add(e Entry, containers map[string]Entry) (*appJSON, error) {
	step := jsonIndent(a.doc, a.root)
	made := func(place string, was ...string) {
		containers[place] = Entry{File: a.file, Syntax: SyntaxAppJSON, Place: place, Made: was}
	}
	keys := strings.Split(e.Place, ".")
	list := nested(keys, a.element(e, step), step)
	plugin := append([]string{"[", step + quoteJSON(fontPlugin) + ",", step + "{"}, indentAll(list, step+step)...)
	plugin = append(plugin, step+"}", "]")
	switch have := a.lists[e.Place]; {
	case have != nil:
		if len(have.values) == 0 {
			made(listPlace(e.Place), string(a.doc[have.from:have.to]))
		}
		return a.splice(have.insertion(a.doc, step, a.element(e, step)))
	case a.props.get(keys[0]) != nil: // the object is there, the list is not
		parent := a.props.get(keys[0])
		if parent.kind != '{' {
			return nil, &Error{a.file, lineOf(a.doc, parent.from), "an object under " + keys[0], "another value", "correct it, then register again"}
		}
		was := ""
		if len(parent.values) == 0 {
			was = string(a.doc[parent.from:parent.to])
		}
		made(listPlace(e.Place), was)
		return a.splice(parent.insertion(a.doc, step, nested(keys[1:], a.element(e, step), step)))
	case a.props != nil:
		was := ""
		if len(a.props.values) == 0 {
			was = string(a.doc[a.props.from:a.props.to])
		}
		made(listPlace(e.Place), was, keys[0])
		return a.splice(a.props.insertion(a.doc, step, list))
	case a.at >= 0:
		v := a.plugins.values[a.at]
		made(placePlugin, string(a.doc[v.from:v.to]))
		indent := indentOf(a.doc, v.from)
		return a.splice(splice{v.from, v.to, joinIndented(plugin, newline(a.doc), indent)})
	case a.plugins != nil:
		if len(a.plugins.values) == 0 {
			made(placePlugins, string(a.doc[a.plugins.from:a.plugins.to]))
		}
		made(placePlugin, "")
		return a.splice(a.plugins.insertion(a.doc, step, plugin))
	}
	was := ""
	if len(a.expo.values) == 0 {
		was = string(a.doc[a.expo.from:a.expo.to])
	}
	made(placePlugins, was)
	made(placePlugin, "")
	lines := append([]string{`"plugins": [`}, indentAll(plugin, step)...)
	return a.splice(a.expo.insertion(a.doc, step, append(lines, "]")))
}

func indentAll(lines []string, by string) []string {
	out := make([]string, len(lines))
	for i, l := range lines {
		out[i] = by + l
	}
	return out
}

func joinIndented(lines []string, nl, indent string) string {
	out := lines[0]
	for _, l := range lines[1:] {
		out += nl + indent + l
	}
	return out
}

// drop takes a font out of its list.
func (a *appJSON) drop(e Entry) (*appJSON, error) {
	if i := a.position(e); i >= 0 {
		return a.splice(a.lists[e.Place].removal(i, ""))
	}
	return a, nil
}

// prune takes out the containers of ours that nothing is left in, from the
// inside outwards.
func (a *appJSON) prune(containers map[string]Entry) (*appJSON, error) {
	var err error
	for _, place := range fontPlaces {
		c, ours := containers[listPlace(place)]
		if list := a.lists[place]; list == nil || len(list.values) > 0 || !ours && !a.pluginIsOurs(containers) {
			continue
		}
		delete(containers, listPlace(place))
		if a, err = a.cutList(place, c.Made, ours); err != nil {
			return nil, err
		}
	}
	return a.prunePlugin(containers)
}

func (a *appJSON) pluginIsOurs(containers map[string]Entry) bool {
	_, ours := containers[placePlugin]
	return ours
}

// cutList takes an empty list out, and the object around it if that came with it;
// made is what was recorded when the list was.
func (a *appJSON) cutList(place string, made []string, ours bool) (*appJSON, error) {
	keys := strings.Split(place, ".")
	list, parent := a.lists[place], a.props
	was := ""
	if len(made) > 0 {
		was = made[0]
	}
	if was != "" && was[0] == '[' {
		return a.splice(splice{list.from, list.to, was})
	}
	if len(keys) > 1 {
		parent = a.props.get(keys[0])
		if whole := len(made) > 1 || !ours; !whole || len(parent.values) > 1 {
			if was != "" && len(parent.values) == 1 && !whole {
				return a.splice(splice{parent.from, parent.to, was})
			}
			return a.splice(parent.removal(parent.index[keys[1]], ""))
		}
		parent = a.props
	}
	if was != "" && len(parent.values) == 1 {
		return a.splice(splice{parent.from, parent.to, was})
	}
	return a.splice(parent.removal(parent.index[keys[0]], ""))
}

// prunePlugin takes the plugin out if it is ours and says nothing any more.
func (a *appJSON) prunePlugin(containers map[string]Entry) (*appJSON, error) {
	c, ours := containers[placePlugin]
	if !ours || a.props == nil || len(a.props.values) > 0 {
		return a, nil
	}
	v := a.plugins.values[a.at]
	if len(c.Made) > 0 && c.Made[0] != "" {
		return a.splice(splice{v.from, v.to, c.Made[0]})
	}
	all, made := containers[placePlugins]
	was := ""
	if len(all.Made) > 0 {
		was = all.Made[0]
	}
	switch {
	case made && len(a.plugins.values) == 1 && was != "" && was[0] == '[':
		return a.splice(splice{a.plugins.from, a.plugins.to, was})
	case made && len(a.plugins.values) == 1:
		return a.splice(a.expo.removal(a.expo.index["plugins"], was))
	}
	return a.splice(a.plugins.removal(a.at, ""))
}
