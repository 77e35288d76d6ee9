package registry

import (
	"bytes"
	"encoding"
	"fmt"
	"reflect"
	"strconv"
	"strings"

	"github.com/pelletier/go-toml/v2/unstable"

	"notaria/internal/language"
)

// A Key is the way to a value of notaria.toml: the names of tables and keys; [0], [1] and so on are the tables of a list.
type Key []string

func (k Key) String() string { return strings.ReplaceAll(strings.Join(k, "."), ".[", "[") }

// table names a table as people write its head.
func (k Key) table() string {
	if len(k) == 0 {
		return FileName
	}
	if isPlace(k[len(k)-1]) {
		return "[[" + k[:len(k)-1].plain() + "]]"
	}
	return "[" + k.plain() + "]"
}

// plain is a key without the numbers of tables.
func (k Key) plain() string {
	var out []string
	for _, name := range k {
		if !isPlace(name) {
			out = append(out, name)
		}
	}
	return strings.Join(out, ".")
}

func isPlace(name string) bool { return strings.HasPrefix(name, "[") }

func place(n int) string { return "[" + strconv.Itoa(n) + "]" }

// SiteKey is the way to a [[site]]; the first one is 0.
func SiteKey(n int) Key { return Key{"site", place(n)} }

// A walker goes through the keys of a text, in the order of the file.
type walker struct {
	text     []byte
	at, line int            // a place that was counted
	lists    map[string]int // how many tables a list has so far
	// visit gets each key with its line, and what it holds: nil for the head of a table. It says whether to go on.
	visit func(k Key, line int, value *unstable.Node) bool
}

// walk goes through all keys, up to where the text is not TOML, or visit says that it is enough.
func walk(text []byte, visit func(k Key, line int, value *unstable.Node) bool) {
	w := walker{text: text, line: 1, lists: map[string]int{}, visit: visit}
	var p unstable.Parser
	p.Reset(text)
	var table Key
	for p.NextExpression() {
		e := p.Expression()
		switch e.Kind {
		case unstable.Table, unstable.ArrayTable:
			var line int
			table, line = w.head(e)
			if !visit(table, line, nil) {
				return
			}
		case unstable.KeyValue:
			if !w.pair(table, e) {
				return
			}
		}
	}
}

// lineAt is the line of a place in the text; places come in order.
func (w *walker) lineAt(offset uint32) int {
	if to := int(offset); to > w.at {
		w.line += bytes.Count(w.text[w.at:to], []byte{'\n'})
		w.at = to
	}
	return w.line
}

// head is the key of a table, with the numbers of tables in lists, and its line.
func (w *walker) head(e *unstable.Node) (Key, int) {
	var k Key
	line := 0
	for it := e.Key(); it.Next(); {
		if line == 0 {
			line = w.lineAt(it.Node().Raw.Offset)
		}
		k = append(k, string(it.Node().Data))
		list := k.String()
		switch last := it.IsLast(); {
		case last && e.Kind == unstable.ArrayTable:
			k = append(k, place(w.lists[list]))
			w.lists[list]++
		case w.lists[list] > 0:
			k = append(k, place(w.lists[list]-1))
		}
	}
	return k, line
}

// deepest is how deep values are looked through: what Notaria knows is at most three tables deep.
const deepest = 20

func (w *walker) pair(table Key, e *unstable.Node) bool {
	k, line := append(Key(nil), table...), 0
	for it := e.Key(); it.Next(); {
		if line == 0 {
			line = w.lineAt(it.Node().Raw.Offset)
		}
		k = append(k, string(it.Node().Data))
	}
	return w.value(k, line, e.Value())
}

func (w *walker) value(k Key, line int, v *unstable.Node) bool {
	if len(k) > deepest || !w.visit(k, line, v) {
		return false
	}
	n := 0
	for it := v.Children(); it.Next(); n++ {
		switch {
		case v.Kind == unstable.InlineTable && !w.pair(k, it.Node()),
			v.Kind == unstable.Array && !w.value(append(append(Key(nil), k...), place(n)), line, it.Node()):
			return false
		}
	}
	return true
}

// Line is the line of a key, or of the table that it would be in; 0 where none of it is there.
func (r *Registry) Line(key Key) int {
	best, line := 0, 0
	walk(r.text, func(k Key, at int, _ *unstable.Node) bool {
		n := 0
		for n < len(k) && n < len(key) && k[n] == key[n] {
			n++
		}
		if n < len(k) && n < len(key)-1 {
			return true // another table
		}
		score := 2 * n
		if n == len(k) {
			score++
		}
		if n > 0 && score > best {
			best, line = score, at
		}
		return best <= 2*len(key)
	})
	return line
}

// has says whether a key is written.
func (r *Registry) has(key Key) bool {
	found := false
	walk(r.text, func(k Key, _ int, _ *unstable.Node) bool {
		found = k.String() == key.String()
		return !found
	})
	return found
}

// Wrong says what is not right with a key, with its line.
func (r *Registry) Wrong(key Key, expected, found, cure string) error {
	return wrong(r.Line(key), expected, found, cure)
}

// step is the type of what is below a table or a list; ok is false for a name that is not known there.
func step(t reflect.Type, name string) (below reflect.Type, ok bool) {
	switch t = value(t); {
	case t.Kind() == reflect.Interface:
		return t, true
	case t.Kind() == reflect.Slice && isPlace(name), t.Kind() == reflect.Map:
		return t.Elem(), true
	case t.Kind() == reflect.Struct:
		for _, f := range reflect.VisibleFields(t) {
			if tag := f.Tag.Get("toml"); tag != "" && tag == name {
				return f.Type, true
			}
		}
	}
	return nil, false
}

// value is a type without pointers.
func value(t reflect.Type) reflect.Type {
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	return t
}

// known are the keys of a table.
func known(t reflect.Type) []string {
	var out []string
	if t = value(t); t.Kind() == reflect.Struct {
		for _, f := range reflect.VisibleFields(t) {
			if tag := f.Tag.Get("toml"); tag != "" {
				out = append(out, tag)
			}
		}
	}
	return out
}

var unmarshaler = reflect.TypeFor[encoding.TextUnmarshaler]()

// wants says in words what a value of a type is, and whether a node is one.
func wants(t reflect.Type, k Key, v *unstable.Node) (words string, fits bool) {
	kind := unstable.InlineTable // a table's head is as good as a table in a line
	if v != nil {
		kind = v.Kind
	}
	t = value(t)
	switch {
	case t.Kind() == reflect.Interface:
		return "", true
	case t.Kind() == reflect.String, reflect.PointerTo(t).Implements(unmarshaler):
		return "a text in quotation marks", kind == unstable.String
	}
	switch t.Kind() {
	case reflect.Float64:
		return "a number", kind == unstable.Float || kind == unstable.Integer
	case reflect.Int:
		return "a whole number", kind == unstable.Integer
	case reflect.Bool:
		return "true or false, without quotation marks", kind == unstable.Bool
	case reflect.Slice:
		if t.Elem().Kind() == reflect.Struct {
			return "tables [[" + k.plain() + "]]", kind == unstable.Array
		}
		return `a list of texts, such as ["a", "b"]`, kind == unstable.Array
	}
	return "a table", kind == unstable.InlineTable
}

// is says what a node is.
func is(v *unstable.Node) string {
	switch {
	case v == nil || v.Kind == unstable.InlineTable:
		return "a table"
	case v.Kind == unstable.Array:
		return "a list"
	case v.Kind == unstable.String:
		return fmt.Sprintf("the text %q", short(string(v.Data)))
	}
	return short(string(v.Data))
}

// written is the cure for a value of another kind: the value as it would be, where that is certain.
func written(t reflect.Type, k Key, v *unstable.Node, words string) string {
	if v == nil {
		return "write " + words
	}
	text := short(string(v.Data))
	_, err := strconv.ParseFloat(text, 64)
	yes, no := strconv.ParseBool(text)
	switch t = value(t); {
	case v.Kind == unstable.String && t.Kind() == reflect.Slice:
		return fmt.Sprintf("write [%q]", text)
	case v.Kind == unstable.String && (t.Kind() == reflect.Float64 || t.Kind() == reflect.Int) && err == nil:
		return fmt.Sprintf("write %s = %s", k[len(k)-1], text)
	case v.Kind == unstable.String && t.Kind() == reflect.Bool && no == nil:
		return fmt.Sprintf("write %s = %t", k[len(k)-1], yes)
	case t.Kind() == reflect.String && (v.Kind == unstable.Integer || v.Kind == unstable.Float):
		return fmt.Sprintf("write %q", text)
	}
	return "write " + words
}

func short(s string) string {
	if len(s) > 40 {
		return strings.ToValidUTF8(s[:40], "") + "…"
	}
	return s
}

// unfit finds the first key that is not known, or whose value is of another kind; nil if there is none.
func unfit(text []byte) error {
	var found error
	walk(text, func(k Key, line int, v *unstable.Node) bool {
		t := reflect.TypeFor[Registry]()
		for i, name := range k {
			below, ok := step(t, name)
			switch {
			case ok:
				t = below
				continue
			case isPlace(name):
				found = wrong(line, "one table ["+k[:i].plain()+"]", "[["+k[:i].plain()+"]]", "write ["+k[:i].plain()+"]")
			default:
				found = wrong(line, "a key that "+k[:i].table()+" has", fmt.Sprintf("%q", short(name)), instead(name, known(t)))
			}
			return false
		}
		if words, fits := wants(t, k, v); !fits {
			found = wrong(line, words+" for "+k.plain(), is(v), written(t, k, v, words))
		}
		return found == nil
	})
	return found
}

// meant are words that people bring along for keys of ours.
var meant = map[string]string{
	"font": "face", "family": "face", "font-family": "face", "typeface": "face", "letter-spacing": "tracking", "spacing": "tracking",
	"font-size": "size", "text-size": "size", "leading": "line-height", "line-spacing": "line-height", "stroke": "outline", "border": "outline",
	"antialias": "smooth", "smoothing": "smooth", "path": "file", "axes": "coordinates", "variations": "coordinates",
	"glyphs": "characters", "chars": "characters", "charset": "characters", "subset": "characters", "roles": "role", "faces": "face",
}

// inFace are words for what a face has, and a role therefore has not.
var inFace = []string{"weight", "font-weight", "bold", "style", "font-style", "italic", "width", "stretch"}

// instead is the cure for a key that is not known.
func instead(typed string, keys []string) string {
	word := meant[strings.ToLower(strings.ReplaceAll(typed, "_", "-"))]
	has := func(key string) bool { return strings.Contains(" "+strings.Join(keys, " ")+" ", " "+key+" ") }
	switch {
	case word != "" && has(word):
		return fmt.Sprintf("write %q", word)
	case strings.Contains(" "+strings.Join(inFace, " ")+" ", " "+strings.ToLower(typed)+" ") && has("size"):
		return `name the face that has it in "face": each weight, width and slant is a face`
	}
	return Instead(typed, keys, "take it out")
}

// Instead is the cure for a word that is none of those that can be written.
func Instead(typed string, words []string, otherwise string) string {
	if near := language.NearWord(typed, words); near != "" {
		return fmt.Sprintf("write %q", near)
	}
	if len(words) == 0 {
		return otherwise
	}
	return "use one of: " + strings.Join(words, ", ")
}
