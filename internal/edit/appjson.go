package edit

import (
	"slices"
)

// An app.json of Expo holds its plugins as a list; fonts are properties of one:
//
//	{"expo": {"plugins": [["expo-font", {"fonts": ["./assets/fonts/X.ttf"]}]]}}
//
// Entries have the Place "fonts" and the file's path as Value. Containers are
// recorded by what had to be made, with the text that stood there before.
const (
	fontPlugin    = "expo-font"
	placePlugins  = "plugins"  // the key, or the list that was empty
	placePlugin   = "plugin"   // the plugin's element, or its bare name
	placeFontList = "fontlist" // the list of fonts
)

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
	if a.fonts = a.props.get("fonts"); a.fonts != nil && a.fonts.kind != '[' {
		return nil, fail(a.fonts, `a list under "fonts"`, "another value")
	}
	return a, nil
}

// AppJSONFonts lists the font files that an app.json names, with their lines.
func AppJSONFonts(file string, doc []byte) (values []string, lines []int, err error) {
	a, err := parseAppJSON(file, doc)
	if err != nil || a.fonts == nil {
		return nil, nil, err
	}
	for _, v := range a.fonts.values {
		values, lines = append(values, v.str()), append(lines, lineOf(doc, v.from))
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
			if a, err = a.drop(e.Value); err != nil {
				return nil, nil, err
			}
		}
	}
	var now []Entry
	for _, e := range want {
		if a.has(e.Value) {
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
	if len(now) == 0 {
		if a, err = a.prune(containers); err != nil {
			return nil, nil, err
		}
		return a.doc, nil, nil
	}
	for _, place := range sortedKeys(containers) {
		now = append(now, containers[place])
	}
	return a.doc, now, nil
}

func (a *appJSON) has(path string) bool {
	return a.fonts != nil && slices.ContainsFunc(a.fonts.values, func(v *jsonNode) bool { return v.str() == path })
}

// add names a font, making first what it lies in.
func (a *appJSON) add(e Entry, containers map[string]Entry) (*appJSON, error) {
	step := jsonIndent(a.doc, a.root)
	made := func(place, was string) {
		containers[place] = Entry{File: a.file, Syntax: SyntaxAppJSON, Place: place, Made: []string{was}}
	}
	list := []string{`"fonts": [`, step + quoteJSON(e.Value), "]"}
	plugin := append([]string{"[", step + quoteJSON(fontPlugin) + ",", step + "{"}, indentAll(list, step+step)...)
	plugin = append(plugin, step+"}", "]")
	switch {
	case a.fonts != nil:
		if len(a.fonts.values) == 0 {
			made(placeFontList, string(a.doc[a.fonts.from:a.fonts.to]))
		}
		return a.splice(a.fonts.insertion(a.doc, step, []string{quoteJSON(e.Value)}))
	case a.props != nil:
		was := ""
		if len(a.props.values) == 0 {
			was = string(a.doc[a.props.from:a.props.to])
		}
		made(placeFontList, was)
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

// drop takes a font out of the list.
func (a *appJSON) drop(path string) (*appJSON, error) {
	if a.fonts == nil {
		return a, nil
	}
	for i, v := range a.fonts.values {
		if v.str() == path {
			return a.splice(a.fonts.removal(i, ""))
		}
	}
	return a, nil
}

// prune takes out the containers of ours that nothing is left in, from the
// inside outwards.
func (a *appJSON) prune(containers map[string]Entry) (*appJSON, error) {
	was := func(place string) (string, bool) {
		e, ok := containers[place]
		if !ok || len(e.Made) == 0 {
			return "", ok
		}
		return e.Made[0], ok
	}
	if a.fonts == nil || len(a.fonts.values) > 0 {
		return a, nil
	}
	if text, ok := was(placeFontList); ok {
		if text != "" && a.props.index["fonts"] == 0 && len(a.props.values) == 1 && text[0] == '{' {
			return a.splice(splice{a.props.from, a.props.to, text})
		}
		if text != "" && text[0] == '[' {
			return a.splice(splice{a.fonts.from, a.fonts.to, text})
		}
		return a.splice(a.props.removal(a.props.index["fonts"], ""))
	}
	text, ok := was(placePlugin)
	if !ok || len(a.props.values) > 1 {
		return a, nil
	}
	v := a.plugins.values[a.at]
	if text != "" {
		return a.splice(splice{v.from, v.to, text})
	}
	list, ours := was(placePlugins)
	switch {
	case ours && len(a.plugins.values) == 1 && list != "" && list[0] == '[':
		return a.splice(splice{a.plugins.from, a.plugins.to, list})
	case ours && len(a.plugins.values) == 1:
		return a.splice(a.expo.removal(a.expo.index["plugins"], list))
	}
	return a.splice(a.plugins.removal(a.at, ""))
}
