// Package pubspec is the form of a Flutter package's pubspec.yaml, as far as its fonts
// go.
package pubspec

import (
	"bytes"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/goccy/go-yaml/ast"

	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/edit/yamldoc"
	"notaria/internal/fault"
	"notaria/internal/lazy"
)

// mostPubspec bounds what is given to the YAML parser; real ones are a few KiB.
const mostPubspec = 1 << 20

// Keys of containers in a pubspec.
const (
	keyFlutter = "flutter"
	keyFonts   = "fonts"
)

// Kinds of places: an entry is an asset below the family that its place names; the
// others are containers.
const (
	KindFamily  edit.Kind = "family"
	kindFlutter edit.Kind = "flutter"
	kindFonts   edit.Kind = "fonts"
)

// Family is the place of a family's assets.
func Family(name string) edit.Place { return edit.Place{Kind: KindFamily, Name: name} }

var (
	flutterPlace = edit.Place{Kind: kindFlutter}
	fontsPlace   = edit.Place{Kind: kindFonts}
)

// Syntax is the form of a pubspec.yaml.
type Syntax struct{}

// Name is how entries name this syntax.
func (Syntax) Name() string { return "pubspec" }

// A block is a part of the file by lines, counted from 0: its first line, the
// last line with content of its own, and the column of its key or dash.
type yamlBlock struct{ first, last, column int }

type pubspecFamily struct {
	yamlBlock
	name   string
	fonts  *yamlBlock // its fonts: key
	assets []pubspecAsset
	// In flow style: the family, and its list of fonts.
	flow, fontsFlow *yamldoc.Flow
}

type pubspecAsset struct {
	yamlBlock
	path     string
	flow, in *yamldoc.Flow // in flow style: the asset, and the list that it is in
}

// pubspec is where the fonts of a Flutter package are declared:
//
//	flutter:
//	  fonts:
//	    - family: Skerry Sans
//	      fonts:
//	        - asset: fonts/SkerrySans-Bold.ttf
//	          weight: 700
type pubspec struct {
	file     string
	lines    []string // with their ends
	nl       string
	flutter  *yamlBlock
	fonts    *yamlBlock
	families []pubspecFamily
	child    int // column of the keys below flutter:
	// In flow style:
	flutterFlow, fontsFlow *yamldoc.Flow
}

// An Asset is a font file that a pubspec declares.
type Asset struct {
	Family, Path string
	Line         int // 1-based
}

// Assets lists the font files that a pubspec declares.
func Assets(d edit.Document) ([]Asset, error) {
	p, err := parse(d)
	if err != nil {
		return nil, err
	}
	var out []Asset
	for _, f := range p.families {
		for _, a := range f.assets {
			out = append(out, Asset{f.name, a.path, a.first + 1})
		}
	}
	return out, nil
}

func (p *pubspec) fail(line int, expected, found string) error {
	return &fault.Error{File: p.file, Line: line + 1, Expected: expected, Found: found, Cure: edit.Mend}
}

// parsePubspec finds the places of things. The YAML parser says what the file
// means; where a block ends is read off the indentation.
func parse(d edit.Document) (*pubspec, error) {
	file, doc := d.File, d.Text
	// The parser miscounts lines that end in CR LF; without the CR they are as many.
	text := strings.ReplaceAll(strings.TrimPrefix(string(doc), "\ufeff"), "\r\n", "\n")
	p := &pubspec{file: file, lines: splitLines(string(doc)), nl: splice.Newline(doc), child: 2}
	if len(doc) > mostPubspec {
		return nil, p.fail(0, fmt.Sprintf("at most %d bytes", mostPubspec), strconv.Itoa(len(doc)))
	}
	if i := strings.IndexByte(text, '\r'); i >= 0 {
		return nil, p.fail(strings.Count(text[:i], "\n"), "lines that end in LF or CR LF", "a CR alone")
	}
	tree, perr := yamldoc.Parse(text)
	if perr != nil {
		return nil, p.broken(perr)
	}
	if len(tree.Docs) != 1 {
		return nil, p.fail(0, "one YAML document", strconv.Itoa(len(tree.Docs)))
	}
	if tree.Docs[0].Body == nil {
		return p, nil
	}
	for _, kv := range yamldoc.Pairs(tree.Docs[0].Body) {
		if yamldoc.Key(kv) == keyFlutter {
			return p, p.readFlutter(kv)
		}
	}
	return p, nil
}

var yamlPlace = lazy.Regexp(`^\[(\d+):\d+\] ([^\n]*)`)

func (p *pubspec) broken(err error) error {
	if m := yamlPlace.FindStringSubmatch(err.Error()); m != nil {
		line, _ := strconv.Atoi(m[1])
		return p.fail(line-1, "YAML", strings.TrimPrefix(m[2], "found "))
	}
	return p.fail(0, "YAML", strings.SplitN(err.Error(), "\n", 2)[0])
}

// block is the part of the file that a key begins.
func (p *pubspec) block(n ast.Node) *yamlBlock {
	pos := n.GetToken().Position
	b := &yamlBlock{first: pos.Line - 1, column: pos.Column - 1}
	b.last = p.end(b.first, b.column)
	return b
}

// end is the last line with content of a block that begins at a line with its
// key or dash at a column: what follows is blank, a comment, or further left.
func (p *pubspec) end(first, column int) int {
	last := first
	for i := first + 1; i < len(p.lines); i++ {
		text := strings.TrimRight(p.lines[i], "\r\n")
		trimmed := strings.TrimLeft(text, " ")
		if trimmed == "" || strings.HasPrefix(trimmed, "#") {
			continue
		}
		indent := len(text) - len(trimmed)
		dash := strings.HasPrefix(trimmed, "- ") || trimmed == "-"
		keyed := !strings.HasPrefix(strings.TrimLeft(p.lines[first], " \ufeff"), "-")
		if indent < column || indent == column && !(dash && keyed) {
			break
		}
		last = i
	}
	return last
}

func (p *pubspec) readFlutter(kv *ast.MappingValueNode) error {
	p.flutter = p.block(kv.Key)
	if yamldoc.IsFlow(kv.Value) {
		var err error
		if p.flutterFlow, err = p.flow(kv.Value); err != nil {
			return err
		}
		if fonts := p.flutterFlow.Get(keyFonts); fonts != nil {
			return p.readFlowFonts(fonts, p.flutter.first)
		}
		return nil
	}
	for i, child := range yamldoc.Pairs(kv.Value) {
		if i == 0 {
			p.child = child.Key.GetToken().Position.Column - 1
		}
		if yamldoc.Key(child) != keyFonts {
			continue
		}
		p.fonts = p.block(child.Key)
		if _, null := child.Value.(*ast.NullNode); null || child.Value == nil {
			return nil
		}
		if yamldoc.IsFlow(child.Value) {
			list, err := p.flow(child.Value)
			if err != nil {
				return err
			}
			return p.readFlowFonts(list, p.fonts.first)
		}
		list, ok := child.Value.(*ast.SequenceNode)
		if !ok {
			return p.fail(p.fonts.first, "fonts: as a list with dashes", "another form; "+p.paste())
		}
		for _, item := range list.Values {
			if err := p.readFamily(list, item); err != nil {
				return err
			}
		}
	}
	return nil
}

// dashBlock is an item of a list: its dash is where the list's entries begin.
func (p *pubspec) dashBlock(list *ast.SequenceNode, item ast.Node) yamlBlock {
	column := list.Start.Position.Column - 1
	first := item.GetToken().Position.Line - 1
	for _, kv := range yamldoc.Pairs(item) {
		first = min(first, kv.Key.GetToken().Position.Line-1)
	}
	return yamlBlock{first, p.end(first, column), column}
}

func (p *pubspec) readFamily(list *ast.SequenceNode, item ast.Node) error {
	if yamldoc.IsFlow(item) {
		flow, err := p.flow(item)
		if err != nil {
			return err
		}
		p.readFlowFamily(flow)
		p.families[len(p.families)-1].yamlBlock = p.dashBlock(list, item)
		return nil
	}
	f := pubspecFamily{yamlBlock: p.dashBlock(list, item)}
	if yamldoc.Pairs(item) == nil {
		return p.fail(f.first, "a family with its fonts below", "another form; "+p.paste())
	}
	for _, kv := range yamldoc.Pairs(item) {
		switch yamldoc.Key(kv) {
		case "family":
			f.name = yamldoc.Text(kv.Value)
		case keyFonts:
			f.fonts = p.block(kv.Key)
			if yamldoc.IsFlow(kv.Value) {
				var err error
				if f.fontsFlow, err = p.flow(kv.Value); err != nil {
					return err
				}
				p.readFlowAssets(&f)
				continue
			}
			assets, ok := kv.Value.(*ast.SequenceNode)
			if _, null := kv.Value.(*ast.NullNode); null || kv.Value == nil {
				continue
			}
			if !ok {
				return p.fail(f.fonts.first, "fonts: as a list with dashes", "another form; "+p.paste())
			}
			for _, a := range assets.Values {
				asset := pubspecAsset{yamlBlock: p.dashBlock(assets, a)}
				for _, x := range yamldoc.Pairs(a) {
					if yamldoc.Key(x) == "asset" {
						asset.path = yamldoc.Text(x.Value)
					}
				}
				f.assets = append(f.assets, asset)
			}
		}
	}
	p.families = append(p.families, f)
	return nil
}

// paste shows the form that works.
func (p *pubspec) paste() string {
	return "write it as: flutter: / fonts: / - family: Name / fonts: / - asset: fonts/File.ttf, each on a line of its own"
}

func splitLines(s string) []string {
	lines := strings.SplitAfter(s, "\n")
	if lines[len(lines)-1] == "" {
		lines = lines[:len(lines)-1]
	}
	return lines
}

// Reconcile adds and drops one asset after the other; each parses anew. A document whose last line
// has no end keeps it so.
func (Syntax) Reconcile(d edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	if n := len(d.Text); n == 0 || d.Text[n-1] == '\n' {
		return reconcile(d, want, owned)
	}
	nl := splice.Newline(d.Text)
	text, now, err := reconcile(d.With(append(bytes.Clone(d.Text), nl...)), want, owned)
	return bytes.TrimSuffix(text, []byte(nl)), now, err
}

func reconcile(d edit.Document, want, owned []edit.Entry) ([]byte, []edit.Entry, error) {
	p, err := parse(d)
	if err != nil {
		return nil, nil, err
	}
	containers := map[string]edit.Entry{}
	mine, wanted := map[string]bool{}, map[string]edit.Entry{}
	for _, e := range want {
		wanted[e.Key()] = e
	}
	for _, e := range owned {
		if e.Value == "" {
			containers[e.Place.Key()] = e
			continue
		}
		if w, ok := wanted[e.Key()]; ok && slices.Equal(w.With, e.With) {
			mine[e.Key()] = true
			continue
		}
		if p, err = p.drop(e); err != nil {
			return nil, nil, err
		}
	}
	var now []edit.Entry
	for _, e := range want {
		if p.has(e.Value) {
			if mine[e.Key()] {
				now = append(now, e)
			}
			continue
		}
		var made []edit.Entry
		if p, made, err = p.add(e); err != nil {
			return nil, nil, err
		}
		for _, c := range made {
			containers[c.Place.Key()] = c
		}
		now = append(now, e)
	}
	if p, err = p.prune(containers, now); err != nil {
		return nil, nil, err
	}
	for _, key := range slices.Sorted(maps.Keys(containers)) {
		now = append(now, containers[key])
	}
	return []byte(strings.Join(p.lines, "")), now, nil
}

func (p *pubspec) has(path string) bool {
	for _, f := range p.families {
		for _, a := range f.assets {
			if a.path == path {
				return true
			}
		}
	}
	return false
}

func (p *pubspec) family(name string) *pubspecFamily {
	for i := range p.families {
		if p.families[i].name == name {
			return &p.families[i]
		}
	}
	return nil
}

// replace returns the document with lines [from, to) exchanged, parsed anew.
func (p *pubspec) replace(from, to int, lines []string) (*pubspec, error) {
	if from < 0 || to < from || to > len(p.lines) {
		return nil, p.fail(0, "YAML whose lines can be told", "something else")
	}
	var b strings.Builder
	for _, l := range p.lines[:from] {
		b.WriteString(l)
	}
	for _, l := range lines {
		b.WriteString(l + p.nl)
	}
	for _, l := range p.lines[to:] {
		b.WriteString(l)
	}
	return parse(edit.Document{File: p.file, Text: []byte(b.String())})
}

// add declares an asset, and whatever has to be there for it; it returns the
// containers that were made.
func (p *pubspec) add(e edit.Entry) (*pubspec, []edit.Entry, error) {
	name := e.Place.Name
	var made []edit.Entry
	container := func(place edit.Place, what string) {
		made = append(made, edit.Entry{File: p.file, Syntax: Syntax{}.Name(), Place: place, Made: []string{what}})
	}
	f := p.family(name)
	if q, ok, err := p.addFlow(e, f, container); ok {
		return q, made, err
	}
	switch {
	case f != nil && len(f.assets) > 0:
		last := f.assets[len(f.assets)-1]
		p, err := p.replace(last.last+1, last.last+1, assetLines(e, last.column))
		return p, nil, err
	case f != nil && f.fonts != nil:
		p, err := p.replace(f.fonts.first+1, f.fonts.first+1, assetLines(e, f.fonts.column+2))
		return p, nil, err
	case f != nil:
		return nil, nil, p.fail(f.first, "fonts: below the family "+name, "none")
	}
	at, dash, lines := len(p.lines), p.child+2, []string(nil)
	switch {
	case p.fonts != nil:
		at = p.fonts.last + 1
		if len(p.families) > 0 {
			dash = p.families[0].column
		} else {
			dash = p.fonts.column + 2
		}
	case p.flutter != nil:
		at = p.flutter.last + 1
		lines = append(lines, strings.Repeat(" ", p.child)+"fonts:")
		container(fontsPlace, "fonts")
	default:
		lines = append(lines, "", "flutter:", "  fonts:")
		container(flutterPlace, "flutter")
	}
	pad := strings.Repeat(" ", dash)
	lines = append(lines, pad+"- family: "+yamldoc.Scalar(name), pad+"  fonts:")
	container(e.Place, "family")
	q, err := p.replace(at, at, append(lines, assetLines(e, dash+4)...))
	return q, made, err
}

func assetLines(e edit.Entry, dash int) []string {
	pad := strings.Repeat(" ", dash)
	lines := []string{pad + "- asset: " + yamldoc.Scalar(e.Value)}
	for _, w := range e.With {
		lines = append(lines, pad+"  "+w)
	}
	return lines
}

// drop takes an asset out.
func (p *pubspec) drop(e edit.Entry) (*pubspec, error) {
	for _, f := range p.families {
		for _, a := range f.assets {
			if a.path != e.Value || f.name != e.Place.Name {
				continue
			}
			if a.flow != nil {
				return p.cutFlow(a.in, a.flow)
			}
			return p.replace(a.first, a.last+1, nil)
		}
	}
	return p, nil
}

// prune takes out the containers of ours that nothing is left in.
func (p *pubspec) prune(containers map[string]edit.Entry, now []edit.Entry) (*pubspec, error) {
	used := map[string]bool{}
	for _, e := range now {
		used[e.Place.Key()] = true
	}
	var err error
	for _, key := range slices.Sorted(maps.Keys(containers)) {
		place := containers[key].Place
		if place.Kind != KindFamily || used[key] {
			continue
		}
		f := p.family(place.Name)
		switch {
		case f == nil || len(f.assets) > 0:
		case f.flow != nil && p.fontsFlow != nil:
			if p, err = p.cutFlow(p.fontsFlow, f.flow); err != nil {
				return nil, err
			}
		default:
			if p, err = p.replace(f.first, f.last+1, nil); err != nil {
				return nil, err
			}
		}
		delete(containers, key)
	}
	if _, ours := containers[fontsPlace.Key()]; ours && p.flutterFlow != nil && p.fontsFlow != nil && len(p.families) == 0 {
		delete(containers, fontsPlace.Key())
		return p.cutFlow(p.flutterFlow, p.fontsFlow)
	}
	if _, ours := containers[fontsPlace.Key()]; ours && p.fonts != nil && len(p.families) == 0 {
		delete(containers, fontsPlace.Key())
		return p.replace(p.fonts.first, p.fonts.last+1, nil)
	}
	if _, ours := containers[flutterPlace.Key()]; ours && p.flutter != nil && len(p.families) == 0 && len(now) == 0 {
		delete(containers, flutterPlace.Key())
		from := p.flutter.first
		if from > 0 && strings.TrimSpace(p.lines[from-1]) == "" {
			from--
		}
		return p.replace(from, p.flutter.last+1, nil)
	}
	return p, nil
}

// flow reads the value in flow style that a node stands for.
func (p *pubspec) flow(n ast.Node) (*yamldoc.Flow, error) {
	var line, column int
	switch v := n.(type) {
	case *ast.MappingNode:
		line, column = v.Start.Position.Line, v.Start.Position.Column
	case *ast.SequenceNode:
		line, column = v.Start.Position.Line, v.Start.Position.Column
	}
	at := 0
	for i := 0; i < line-1 && i < len(p.lines); i++ {
		at += len(p.lines[i])
	}
	doc := strings.Join(p.lines, "")
	for i := 1; i < column && at < len(doc); i++ {
		_, size := utf8.DecodeRuneInString(doc[at:])
		at += size
	}
	if v, ok := yamldoc.ReadFlow(doc, at); ok {
		return v, nil
	}
	return nil, p.fail(line-1, "a list or mapping in flow style", "one that cannot be told apart; "+p.paste())
}

// readFlowFonts reads the families of a list in flow style.
func (p *pubspec) readFlowFonts(list *yamldoc.Flow, line int) error {
	if list.Kind != '[' {
		return p.fail(line, "fonts: as a list", "something else; "+p.paste())
	}
	p.fontsFlow = list
	for _, item := range list.Items {
		p.readFlowFamily(item)
	}
	return nil
}

func (p *pubspec) readFlowFamily(item *yamldoc.Flow) {
	f := pubspecFamily{yamlBlock: yamlBlock{first: p.lineAt(item.From)}, flow: item, fontsFlow: item.Get(keyFonts)}
	if name := item.Get("family"); name != nil {
		f.name = name.Text
	}
	p.readFlowAssets(&f)
	p.families = append(p.families, f)
}

func (p *pubspec) readFlowAssets(f *pubspecFamily) {
	if f.fontsFlow == nil || f.fontsFlow.Kind != '[' {
		f.fontsFlow = nil
		return
	}
	for _, a := range f.fontsFlow.Items {
		if at := a.Get("asset"); at != nil {
			f.assets = append(f.assets, pubspecAsset{yamlBlock: yamlBlock{first: p.lineAt(a.From)}, path: at.Text, flow: a, in: f.fontsFlow})
		}
	}
}

func (p *pubspec) lineAt(at int) int { return strings.Count(strings.Join(p.lines, "")[:at], "\n") }

// splice returns the document with a range of its bytes exchanged, parsed anew.
func (p *pubspec) splice(from, to int, text string) (*pubspec, error) {
	doc := strings.Join(p.lines, "")
	return parse(edit.Document{File: p.file, Text: []byte(doc[:from] + text + doc[to:])})
}

// appendFlow puts text last into a list or mapping.
func (p *pubspec) appendFlow(in *yamldoc.Flow, text string) (*pubspec, error) {
	if n := len(in.Items); n > 0 {
		at := in.Items[n-1].To
		return p.splice(at, at, ", "+text)
	}
	return p.splice(in.From+1, in.From+1, text)
}

// cutFlow takes an item out, or the pair that it is the value of, with one comma.
func (p *pubspec) cutFlow(in, item *yamldoc.Flow) (*pubspec, error) {
	doc := strings.Join(p.lines, "")
	from, to := item.From, item.To
	for i, v := range in.Items {
		if v == item && in.Kind == '{' {
			from = in.Starts[i]
		}
	}
	switch before := strings.TrimRight(doc[:from], " "); {
	case strings.HasSuffix(before, ","):
		from = len(before) - 1
	case strings.HasPrefix(doc[to:], ", "):
		to += 2
	}
	return p.splice(from, to, "")
}

// addFlow declares an asset in flow style, where the file is so; ok says whether it
// is.
func (p *pubspec) addFlow(e edit.Entry, f *pubspecFamily, container func(place edit.Place, what string)) (out *pubspec, ok bool, err error) {
	asset := "{asset: " + yamldoc.FlowScalar(e.Value)
	for _, w := range e.With {
		asset += ", " + w
	}
	asset += "}"
	family := "{family: " + yamldoc.FlowScalar(e.Place.Name) + ", fonts: [" + asset + "]}"
	switch {
	case f != nil && f.fontsFlow != nil:
		out, err = p.appendFlow(f.fontsFlow, asset)
		return out, true, err
	case f != nil && f.flow != nil:
		return nil, true, p.fail(f.first, "fonts: in the family", "none")
	case f != nil:
		return nil, false, nil
	case p.fontsFlow != nil:
		container(e.Place, "family")
		out, err = p.appendFlow(p.fontsFlow, family)
		return out, true, err
	case p.flutterFlow != nil:
		container(e.Place, "family")
		container(fontsPlace, "fonts")
		out, err = p.appendFlow(p.flutterFlow, "fonts: ["+family+"]")
		return out, true, err
	}
	return nil, false, nil
}

// TakeOver takes assets with the families whose fonts are all Notaria's then, and the
// list of families if they all are.
func (s Syntax) TakeOver(d edit.Document, want, mine []edit.Entry) []edit.Entry {
	out, have := edit.Take(want, mine, func(e edit.Entry) (edit.Entry, bool) { return e, true })
	p, err := parse(d)
	if err != nil || len(out) == 0 {
		return out
	}
	add := func(place edit.Place, mark string) {
		if e := (edit.Entry{File: d.File, Syntax: s.Name(), Place: place, Made: []string{mark}}); !have[e.Key()] {
			out = append(out, e)
		}
	}
	all := true
	for _, f := range p.families {
		theirs := slices.ContainsFunc(f.assets, func(a pubspecAsset) bool {
			return !have[edit.Entry{File: d.File, Syntax: s.Name(), Place: Family(f.name), Value: a.path}.Key()]
		})
		if all = all && !theirs; !theirs {
			add(Family(f.name), "family")
		}
	}
	if all {
		add(fontsPlace, "fonts")
	}
	return out
}

// Paste is the block of the fonts.
func (Syntax) Paste(want []edit.Entry) string {
	text := edit.PasteBy(want, func(at edit.Place, list []edit.Entry) []string {
		out := []string{"    - family: " + yamldoc.Scalar(at.Name), "      fonts:"}
		for _, e := range list {
			out = append(out, assetLines(e, 8)...)
		}
		return out
	})
	if text == "" {
		return ""
	}
	return "flutter:\n  fonts:\n" + text
}

// Missing returns the assets that are not declared under their family.
func (Syntax) Missing(d edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	assets, err := Assets(d)
	if err != nil {
		return nil, err
	}
	declared := map[string]Asset{}
	for _, a := range assets {
		declared[a.Path] = a
	}
	var out []edit.Lack
	for _, e := range want {
		switch have, ok := declared[e.Value]; {
		case !ok:
			out = append(out, edit.Lack{Entry: e, Message: "no family declares " + e.Value,
				Cause: "a line is missing, indented wrongly, or still a comment: then Flutter reports nothing and shows its own font"})
		case have.Family != e.Place.Name:
			out = append(out, edit.Lack{Entry: e, Line: have.Line, Message: fmt.Sprintf("%s is declared under the family %q, and code asks for %q", e.Value, have.Family, e.Place.Name),
				Cause: "Flutter finds a font by its declared family alone", Cure: "write family: " + e.Place.Name})
		}
	}
	return out, nil
}
