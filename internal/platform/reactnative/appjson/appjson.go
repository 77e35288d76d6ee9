// Package appjson is the form of Expo's app.json. It holds its plugins as a list, and
// fonts are properties of one:
//
//	{"expo": {"plugins": [["expo-font", {"fonts": ["./assets/fonts/X.ttf"]}]]}}
package appjson

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"notaria/internal/edit"
	"notaria/internal/edit/jsonc"
	"notaria/internal/edit/splice"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// fontPlugin is the plugin's name.
const fontPlugin = "expo-font"

// Kinds of places. An entry is a font's path in a list among the plugin's properties,
// or, in the list for Android, a family: an object in compact JSON. Containers are
// recorded by what had to be made, with the text that stood there before.
const (
	KindFont    edit.Kind = "font"
	kindPlugins edit.Kind = "plugins" // the key, or the list that was empty
	kindPlugin  edit.Kind = "plugin"  // the plugin's element, or its bare name
	kindList    edit.Kind = "list"    // a list of fonts
)

// Places of fonts.
var (
	Fonts        = edit.Place{Kind: KindFont, Path: []string{"fonts"}}
	AndroidFonts = edit.Place{Kind: KindFont, Path: []string{"android", "fonts"}}
	IOSFonts     = edit.Place{Kind: KindFont, Path: []string{"ios", "fonts"}}
)

var fontPlaces = []edit.Place{Fonts, AndroidFonts, IOSFonts}

func isAndroid(p edit.Place) bool { return slices.Equal(p.Path, AndroidFonts.Path) }

// listOf is the container of a place.
func listOf(p edit.Place) edit.Place { return edit.Place{Kind: kindList, Path: p.Path} }

var (
	pluginsPlace = edit.Place{Kind: kindPlugins}
	pluginPlace  = edit.Place{Kind: kindPlugin}
)

// Syntax is the form of an app.json.
type Syntax struct{}

// Name is how entries name this syntax.
func (Syntax) Name() string { return "appjson" }

// appJSON is a parsed app.json with the parts that fonts need.
type appJSON struct {
	edit.Document
	root    *jsonc.Node
	expo    *jsonc.Node
	plugins *jsonc.Node
	at      int                    // of the plugin in the list, -1 if it is not there
	props   *jsonc.Node            // its properties
	lists   map[string]*jsonc.Node // by the key of their place
}

func parse(doc edit.Document) (*appJSON, error) {
	root, err := jsonc.Parse(doc)
	if err != nil {
		return nil, err
	}
	a := &appJSON{Document: doc, root: root, expo: root.Get("expo"), at: -1, lists: map[string]*jsonc.Node{}}
	fail := func(n *jsonc.Node, expected, found string) error {
		return doc.Fail(n.From, expected, found, `write it as "plugins": [["expo-font", {"fonts": ["./assets/fonts/File.ttf"]}]] below "expo"`)
	}
	if a.expo == nil {
		a.expo = root // the flat form
	}
	if a.expo.Kind != '{' {
		return nil, fail(root, `an object "expo"`, "another value")
	}
	if a.plugins = a.expo.Get("plugins"); a.plugins == nil {
		return a, nil
	}
	if a.plugins.Kind != '[' {
		return nil, fail(a.plugins, `a list under "plugins"`, "another value")
	}
	for i, v := range a.plugins.Values {
		named := v.Str() == fontPlugin
		if v.Kind == '[' && len(v.Values) > 0 && v.Values[0].Str() == fontPlugin {
			named = true
			if len(v.Values) != 2 || v.Values[1].Kind != '{' {
				return nil, fail(v, "an object of properties behind "+fontPlugin, "another form")
			}
			a.props = v.Values[1]
		}
		if !named {
			continue
		}
		if a.at >= 0 {
			return nil, fail(v, "the plugin "+fontPlugin+" once", "it twice")
		}
		a.at = i
	}
	for _, place := range fontPlaces {
		list := a.props.Get(place.Path...)
		if list != nil && list.Kind != '[' {
			return nil, fail(list, `a list under "fonts"`, "another value")
		}
		if list != nil {
			a.lists[place.Key()] = list
		}
	}
	return a, nil
}

// Files lists the font files that an app.json names, with their lines.
func Files(doc edit.Document) (values []string, lines []int, err error) {
	a, err := parse(doc)
	if err != nil {
		return nil, nil, err
	}
	line := splice.Liner(doc.Text)
	add := func(v *jsonc.Node) {
		if s := v.Str(); s != "" {
			values, lines = append(values, s), append(lines, line(v.From))
		}
	}
	for _, place := range fontPlaces {
		list := a.lists[place.Key()]
		if list == nil {
			continue
		}
		for _, v := range list.Values {
			add(v)
			if defs := v.Get("fontDefinitions"); defs != nil {
				for _, d := range defs.Values {
					add(d.Get("path"))
				}
			}
		}
	}
	return values, lines, nil
}

func (a *appJSON) splice(e splice.Edit) (*appJSON, error) {
	text, err := a.Apply(e)
	if err != nil {
		return nil, err
	}
	return parse(a.With(text))
}

// Reconcile adds and drops one font after the other; each parses anew.
func (Syntax) Reconcile(doc edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	a, err := parse(doc)
	if err != nil {
		return nil, nil, err
	}
	containers, mine, wanted := map[string]edit.Entry{}, map[string]bool{}, edit.Keys(want)
	for _, e := range owned {
		switch {
		case e.Value == "":
			e.Made = harmless(e.Made)
			containers[e.Place.Key()] = e
		case wanted[e.Key()]:
			mine[e.Key()] = true
		default:
			if a, err = a.drop(e); err != nil {
				return nil, nil, err
			}
		}
	}
	var now []edit.Entry
	for _, e := range want {
		if a.position(e) >= 0 {
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
		return a.Text, nil, nil
	}
	for _, key := range slices.Sorted(maps.Keys(containers)) {
		now = append(now, containers[key])
	}
	return a.Text, now, nil
}

// position finds an entry's element in its list, -1 if it is not there.
func (a *appJSON) position(e edit.Entry) int {
	if list := a.lists[e.Place.Key()]; list != nil {
		android := isAndroid(e.Place)
		return slices.IndexFunc(list.Values, func(v *jsonc.Node) bool {
			if android {
				return compact(a.Text[v.From:v.To]) == e.Value
			}
			return v.Str() == e.Value
		})
	}
	return -1
}

// putBack is what can have stood where Notaria put something: something empty, or the
// plugin by its name.
var putBack = lazy.Regexp(`^[][{}\s,]*("` + fontPlugin + `")?[][{}\s,]*$`)

// harmless leaves out what a ledger, which anybody can write, says was there before and
// cannot have been.
func harmless(made []string) []string {
	if len(made) > 0 && !putBack.MatchString(made[0]) {
		return append([]string{""}, made[1:]...)
	}
	return made
}

// compact is a value without white space and comments; "" if it is not JSON.
func compact(text []byte) string {
	var b bytes.Buffer
	if json.Compact(&b, language.JSON.Blank(text)) != nil {
		return ""
	}
	return b.String()
}

// element returns an entry's lines.
func element(e edit.Entry, step string) []string {
	if !isAndroid(e.Place) {
		return []string{language.JSON.Literal(e.Value)}
	}
	var b bytes.Buffer
	if json.Indent(&b, []byte(e.Value), "", step) != nil {
		return []string{language.JSON.Literal(e.Value)}
	}
	return strings.Split(b.String(), "\n")
}

// nested puts lines into lists and objects of these keys.
func nested(keys []string, lines []string, step string) []string {
	open, shut := "[", "]"
	if len(keys) > 1 {
		lines, open, shut = nested(keys[1:], lines, step), "{", "}"
	}
	return append(append([]string{language.JSON.Literal(keys[0]) + ": " + open}, splice.Indented(lines, step)...), shut)
}

// add names a font, making first what it is in.
func (a *appJSON) add(e edit.Entry, containers map[string]edit.Entry) (*appJSON, error) {
	step := jsonc.Indent(a.Text, a.root)
	made := func(place edit.Place, was ...string) {
		containers[place.Key()] = edit.Entry{File: a.File, Syntax: Syntax{}.Name(), Place: place, Made: was}
	}
	keys := e.Place.Path
	if len(keys) == 0 {
		return nil, a.Fail(-1, "the list of fonts that an entry belongs in", "none", "restore "+a.File+" and the ledger from version control")
	}
	list := nested(keys, element(e, step), step)
	plugin := append([]string{"[", step + language.JSON.Literal(fontPlugin) + ",", step + "{"}, splice.Indented(list, step+step)...)
	plugin = append(plugin, step+"}", "]")
	switch have := a.lists[e.Place.Key()]; {
	case have != nil:
		if len(have.Values) == 0 {
			made(listOf(e.Place), string(a.Text[have.From:have.To]))
		}
		return a.splice(have.Insertion(a.Text, step, element(e, step)))
	case a.props.Get(keys[0]) != nil: // the object is there, the list is not
		parent := a.props.Get(keys[0])
		if parent.Kind != '{' {
			return nil, a.Fail(parent.From, "an object under "+keys[0], "another value", "correct it, then register again")
		}
		was := ""
		if len(parent.Values) == 0 {
			was = string(a.Text[parent.From:parent.To])
		}
		made(listOf(e.Place), was)
		return a.splice(parent.Insertion(a.Text, step, nested(keys[1:], element(e, step), step)))
	case a.props != nil:
		was := ""
		if len(a.props.Values) == 0 {
			was = string(a.Text[a.props.From:a.props.To])
		}
		made(listOf(e.Place), was, keys[0])
		return a.splice(a.props.Insertion(a.Text, step, list))
	case a.at >= 0:
		v := a.plugins.Values[a.at]
		made(pluginPlace, string(a.Text[v.From:v.To]))
		indent := splice.IndentOf(a.Text, v.From)
		return a.splice(splice.Replace(v.From, v.To, joinIndented(plugin, splice.Newline(a.Text), indent)))
	case a.plugins != nil:
		if len(a.plugins.Values) == 0 {
			made(pluginsPlace, string(a.Text[a.plugins.From:a.plugins.To]))
		}
		made(pluginPlace, "")
		return a.splice(a.plugins.Insertion(a.Text, step, plugin))
	}
	was := ""
	if len(a.expo.Values) == 0 {
		was = string(a.Text[a.expo.From:a.expo.To])
	}
	made(pluginsPlace, was)
	made(pluginPlace, "")
	lines := append([]string{`"plugins": [`}, splice.Indented(plugin, step)...)
	return a.splice(a.expo.Insertion(a.Text, step, append(lines, "]")))
}

func joinIndented(lines []string, nl, indent string) string {
	out := lines[0]
	for _, l := range lines[1:] {
		out += nl + indent + l
	}
	return out
}

// drop takes a font out of its list.
func (a *appJSON) drop(e edit.Entry) (*appJSON, error) {
	if i := a.position(e); i >= 0 {
		return a.splice(a.lists[e.Place.Key()].Removal(i, ""))
	}
	return a, nil
}

// prune takes out the containers of ours that nothing is left in, from the
// inside outwards.
func (a *appJSON) prune(containers map[string]edit.Entry) (*appJSON, error) {
	var err error
	for _, place := range fontPlaces {
		c, ours := containers[listOf(place).Key()]
		if list := a.lists[place.Key()]; list == nil || len(list.Values) > 0 || !ours && !a.pluginIsOurs(containers) {
			continue
		}
		delete(containers, listOf(place).Key())
		if a, err = a.cutList(place, c.Made, ours); err != nil {
			return nil, err
		}
	}
	return a.prunePlugin(containers)
}

func (a *appJSON) pluginIsOurs(containers map[string]edit.Entry) bool {
	_, ours := containers[pluginPlace.Key()]
	return ours
}

// cutList takes an empty list out, and the object around it if that came with it;
// made is what was recorded when the list was.
func (a *appJSON) cutList(place edit.Place, made []string, ours bool) (*appJSON, error) {
	keys := place.Path
	list, parent := a.lists[place.Key()], a.props
	was := ""
	if len(made) > 0 {
		was = made[0]
	}
	if was != "" && was[0] == '[' {
		return a.splice(splice.Replace(list.From, list.To, was))
	}
	if len(keys) > 1 {
		parent = a.props.Get(keys[0])
		if whole := len(made) > 1 || !ours; !whole || len(parent.Values) > 1 {
			if was != "" && len(parent.Values) == 1 && !whole {
				return a.splice(splice.Replace(parent.From, parent.To, was))
			}
			return a.splice(parent.Removal(parent.Index[keys[1]], ""))
		}
		parent = a.props
	}
	if was != "" && len(parent.Values) == 1 {
		return a.splice(splice.Replace(parent.From, parent.To, was))
	}
	return a.splice(parent.Removal(parent.Index[keys[0]], ""))
}

// prunePlugin takes the plugin out if it is ours and reports nothing any more.
func (a *appJSON) prunePlugin(containers map[string]edit.Entry) (*appJSON, error) {
	c, ours := containers[pluginPlace.Key()]
	if !ours || a.props == nil || len(a.props.Values) > 0 {
		return a, nil
	}
	v := a.plugins.Values[a.at]
	if len(c.Made) > 0 && c.Made[0] != "" {
		return a.splice(splice.Replace(v.From, v.To, c.Made[0]))
	}
	list, made := containers[pluginsPlace.Key()]
	was := ""
	if len(list.Made) > 0 {
		was = list.Made[0]
	}
	switch {
	case made && len(a.plugins.Values) == 1 && was != "" && was[0] == '[':
		return a.splice(splice.Replace(a.plugins.From, a.plugins.To, was))
	case made && len(a.plugins.Values) == 1:
		return a.splice(a.expo.Removal(a.expo.Index["plugins"], was))
	}
	return a.splice(a.plugins.Removal(a.at, ""))
}

// TakeOver takes fonts alone: the plugin can have other uses.
func (Syntax) TakeOver(_ edit.Document, want, mine []edit.Entry) []edit.Entry {
	out, _ := edit.Take(want, mine, func(e edit.Entry) (edit.Entry, bool) { return e, true })
	return out
}

// Paste is the plugin with its lists.
func (Syntax) Paste(want []edit.Entry) string {
	return edit.PasteBy(want, func(at edit.Place, list []edit.Entry) []string {
		values := edit.Each(list, func(e edit.Entry) string {
			if isAndroid(at) {
				return e.Value
			}
			return language.JSON.Literal(e.Value)
		})
		if len(at.Path) > 1 {
			return []string{"among the properties of " + fontPlugin + ": " + strings.Join(splice.Trimmed(nested(at.Path, values, "")), " ")}
		}
		return []string{`"plugins": [[` + language.JSON.Literal(fontPlugin) + `, {"fonts": [` + strings.Join(values, ", ") + `]}]]`}
	})
}

// Missing returns the fonts that the plugin's lists do not name.
func (Syntax) Missing(doc edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	a, err := parse(doc)
	if err != nil {
		return nil, err
	}
	var out []edit.Lack
	for _, e := range want {
		if a.position(e) >= 0 {
			continue
		}
		what := e.Value
		var family struct {
			Name string `json:"fontFamily"`
		}
		if isAndroid(e.Place) && json.Unmarshal([]byte(e.Value), &family) == nil {
			what = fmt.Sprintf("the family %q", family.Name)
		}
		out = append(out, edit.Lack{Entry: e, Message: fmt.Sprintf("the fonts of the plugin %s do not name %s", fontPlugin, what),
			Cause: `the plugin puts only these files into the apps; a plain list in place of {"fonts": […]} does nothing, and the build does not report it`})
	}
	return out, nil
}
