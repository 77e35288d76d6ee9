package edit

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"
)

// maxPubspec bounds what is given to the YAML parser; real ones are a few KiB.
const maxPubspec = 1 << 20

// Places of containers in a pubspec.
const (
	placeFlutter = "flutter"
	placeFonts   = "fonts"
	familyPrefix = "family:"
)

// A block is a part of the file by lines, counted from 0: its first line, the
// last line with content of its own, and the column of its key or dash.
type yamlBlock struct{ first, last, column int }

type pubspecFamily struct {
	yamlBlock
	name   string
	fonts  *yamlBlock // its fonts: key
	assets []pubspecAsset
	// In flow style: the family, and its list of fonts.
	flow, fontsFlow *flowNode
}

type pubspecAsset struct {
	yamlBlock
	path     string
	flow, in *flowNode // in flow style: the asset, and the list that it is in
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
	flutterFlow, fontsFlow *flowNode
}

// An Asset is a font file that a pubspec declares.
type Asset struct {
	Family, Path string
	Line         int // 1-based
}

// PubspecAssets lists the font files that a pubspec declares.
func PubspecAssets(file string, doc []byte) ([]Asset, error) {
	p, err := parsePubspec(file, doc)
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
	return &Error{p.file, line + 1, expected, found, "mend it by hand, then register again"}
}

// parsePubspec finds the places of things. The YAML parser says what the file
// means; where a block ends is read off the indentation.
func parsePubspec(file string, doc []byte) (p *pubspec, err error) {
	// The parser miscounts lines that end in CR LF; without the CR they are as many.
	text := strings.ReplaceAll(strings.TrimPrefix(string(doc), "\ufeff"), "\r\n", "\n")
	p = &pubspec{file: file, lines: splitLines(string(doc)), nl: newline(doc), child: 2}
	if len(doc) > maxPubspec {
		return nil, p.fail(0, fmt.Sprintf("at most %d bytes", maxPubspec), strconv.Itoa(len(doc)))
	}
	if i := strings.IndexByte(text, '\r'); i >= 0 {
		return nil, p.fail(strings.Count(text[:i], "\n"), "lines that end in LF or CR LF", "a CR alone")
	}
	defer func() {
		if r := recover(); r != nil { // the parser is not ours, and this text is anybody's
			p, err = nil, &Error{file, 0, "YAML", "something that the parser cannot take", "mend it by hand, then register again"}
		}
	}()
	tree, perr := parser.ParseBytes([]byte(text), parser.ParseComments)
	if perr != nil {
		return nil, p.broken(perr)
	}
	if len(tree.Docs) != 1 {
		return nil, p.fail(0, "one YAML document", strconv.Itoa(len(tree.Docs)))
	}
	if tree.Docs[0].Body == nil {
		return p, nil
	}
	for _, kv := range mapping(tree.Docs[0].Body) {
		if key(kv) == placeFlutter {
			return p, p.readFlutter(kv)
		}
	}
	return p, nil
}

var yamlPlace = regexp.MustCompile(`^\[(\d+):\d+\] ([^\n]*)`)

func (p *pubspec) broken(err error) error {
	if m := yamlPlace.FindStringSubmatch(err.Error()); m != nil {
		line, _ := strconv.Atoi(m[1])
		return p.fail(line-1, "YAML", m[2])
	}
	return p.fail(0, "YAML", strings.SplitN(err.Error(), "\n", 2)[0])
}

// mapping gives the pairs of a mapping; the parser wraps a lone pair otherwise.
func mapping(n ast.Node) []*ast.MappingValueNode {
	switch v := n.(type) {
	case *ast.MappingNode:
		return v.Values
	case *ast.MappingValueNode:
		return []*ast.MappingValueNode{v}
	}
	return nil
}

func key(kv *ast.MappingValueNode) string { return scalar(kv.Key) }

func scalar(n ast.Node) string {
	switch v := n.(type) {
	case *ast.StringNode:
		return v.Value
	case *ast.LiteralNode:
		return v.Value.Value
	case nil:
		return ""
	}
	return n.GetToken().Value
}

// isFlow says whether a value is written in braces or brackets.
func isFlow(n ast.Node) bool {
	switch v := n.(type) {
	case *ast.MappingNode:
		return v.IsFlowStyle
	case *ast.SequenceNode:
		return v.IsFlowStyle
	}
	return false
}

// block is the part of the file that a key begins.
func (p *pubspec) block(n ast.Node) *yamlBlock {
	pos := n.GetToken().Position
	b := &yamlBlock{first: pos.Line - 1, column: pos.Column - 1}
	b.last = p.end(b.first, b.column)
	return b
}

// end is the last line with content of a block that begins at a line with its
// key or dash at a column: what follows is blank, a remark, or further left.
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
	if isFlow(kv.Value) {
		var err error
		if p.flutterFlow, err = p.flow(kv.Value); err != nil {
			return err
		}
		if fonts := p.flutterFlow.get(placeFonts); fonts != nil {
			return p.readFlowFonts(fonts, p.flutter.first)
		}
		return nil
	}
	for i, child := range mapping(kv.Value) {
		if i == 0 {
			p.child = child.Key.GetToken().Position.Column - 1
		}
		if key(child) != placeFonts {
			continue
		}
		p.fonts = p.block(child.Key)
		if _, null := child.Value.(*ast.NullNode); null || child.Value == nil {
			return nil
		}
		if isFlow(child.Value) {
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
	for _, kv := range mapping(item) {
		first = min(first, kv.Key.GetToken().Position.Line-1)
	}
	return yamlBlock{first, p.end(first, column), column}
}

func (p *pubspec) readFamily(list *ast.SequenceNode, item ast.Node) error {
	if isFlow(item) {
		flow, err := p.flow(item)
		if err != nil {
			return err
		}
		p.readFlowFamily(flow)
		p.families[len(p.families)-1].yamlBlock = p.dashBlock(list, item)
		return nil
	}
	f := pubspecFamily{yamlBlock: p.dashBlock(list, item)}
	if mapping(item) == nil {
		return p.fail(f.first, "a family with its fonts below", "another form; "+p.paste())
	}
	for _, kv := range mapping(item) {
		switch key(kv) {
		case "family":
			f.name = scalar(kv.Value)
		case placeFonts:
			f.fonts = p.block(kv.Key)
			if isFlow(kv.Value) {
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
				for _, x := range mapping(a) {
					if key(x) == "asset" {
						asset.path = scalar(x.Value)
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

// reconcilePubspec adds and drops one asset after the other; each parses anew.
func reconcilePubspec(file string, doc []byte, want, owned []Entry) ([]byte, []Entry, error) {
	p, err := parsePubspec(file, doc)
	if err != nil {
		return nil, nil, err
	}
	containers := map[string]Entry{}
	mine, wanted := map[string]bool{}, map[string]Entry{}
	for _, e := range want {
		wanted[e.Key()] = e
	}
	for _, e := range owned {
		if e.Value == "" {
			containers[e.Place] = e
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
	var now []Entry
	for _, e := range want {
		if p.has(e.Value) {
			if mine[e.Key()] {
				now = append(now, e)
			}
			continue
		}
		var made []Entry
		if p, made, err = p.add(e); err != nil {
			return nil, nil, err
		}
		for _, c := range made {
			containers[c.Place] = c
		}
		now = append(now, e)
	}
	if p, err = p.prune(containers, now); err != nil {
		return nil, nil, err
	}
	for _, place := range sortedKeys(containers) {
		now = append(now, containers[place])
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

// replace gives the document with lines [from, to) exchanged, parsed anew.
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
	return parsePubspec(p.file, []byte(b.String()))
}

// add declares an asset, and whatever has to be there for it; it returns the
// containers that were made.
func (p *pubspec) add(e Entry) (*pubspec, []Entry, error) {
	name := strings.TrimPrefix(e.Place, familyPrefix)
	var made []Entry
	container := func(place, what string) {
		made = append(made, Entry{File: p.file, Syntax: SyntaxPubspec, Place: place, Made: []string{what}})
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
		container(placeFonts, "fonts")
	default:
		if n := len(p.lines); n > 0 && !strings.HasSuffix(p.lines[n-1], "\n") {
			return nil, nil, p.fail(n-1, "a newline at the end of the file", "none")
		}
		lines = append(lines, "", "flutter:", "  fonts:")
		container(placeFlutter, "flutter")
	}
	if at > 0 && at <= len(p.lines) && !strings.HasSuffix(p.lines[at-1], "\n") {
		return nil, nil, p.fail(at-1, "a newline at the end of the file", "none")
	}
	pad := strings.Repeat(" ", dash)
	lines = append(lines, pad+"- family: "+yamlScalar(name), pad+"  fonts:")
	container(e.Place, "family")
	q, err := p.replace(at, at, append(lines, assetLines(e, dash+4)...))
	return q, made, err
}

func assetLines(e Entry, dash int) []string {
	pad := strings.Repeat(" ", dash)
	lines := []string{pad + "- asset: " + yamlScalar(e.Value)}
	for _, w := range e.With {
		lines = append(lines, pad+"  "+w)
	}
	return lines
}

// drop takes an asset out.
func (p *pubspec) drop(e Entry) (*pubspec, error) {
	for _, f := range p.families {
		for _, a := range f.assets {
			if a.path != e.Value || f.name != strings.TrimPrefix(e.Place, familyPrefix) {
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
func (p *pubspec) prune(containers map[string]Entry, now []Entry) (*pubspec, error) {
	used := map[string]bool{}
	for _, e := range now {
		used[e.Place] = true
	}
	var err error
	for _, place := range sortedKeys(containers) {
		if !strings.HasPrefix(place, familyPrefix) || used[place] {
			continue
		}
		f := p.family(strings.TrimPrefix(place, familyPrefix))
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
		delete(containers, place)
	}
	if _, ours := containers[placeFonts]; ours && p.flutterFlow != nil && p.fontsFlow != nil && len(p.families) == 0 {
		delete(containers, placeFonts)
		return p.cutFlow(p.flutterFlow, p.fontsFlow)
	}
	if _, ours := containers[placeFonts]; ours && p.fonts != nil && len(p.families) == 0 {
		delete(containers, placeFonts)
		return p.replace(p.fonts.first, p.fonts.last+1, nil)
	}
	if _, ours := containers[placeFlutter]; ours && p.flutter != nil && len(p.families) == 0 && len(now) == 0 {
		delete(containers, placeFlutter)
		from := p.flutter.first
		if from > 0 && strings.TrimSpace(p.lines[from-1]) == "" {
			from--
		}
		return p.replace(from, p.flutter.last+1, nil)
	}
	return p, nil
}

var plainYAML = regexp.MustCompile(`^[A-Za-z][A-Za-z0-9._/-]*( [A-Za-z0-9._/-]+)*$`)

// yamlWords mean something else than text when they stand without quotes.
var yamlWords = map[string]bool{"true": true, "false": true, "null": true, "yes": true, "no": true, "on": true, "off": true, "y": true, "n": true}

// yamlScalar writes a string, in quotes where it could be taken for anything
// else.
func yamlScalar(s string) string {
	if plainYAML.MatchString(s) && !yamlWords[strings.ToLower(s)] {
		return s
	}
	var b strings.Builder
	b.WriteByte('"')
	for _, r := range s {
		switch {
		case r == '"' || r == '\\':
			b.WriteByte('\\')
			b.WriteRune(r)
		case r < 0x20 || r >= 0x7f && r <= 0xffff:
			fmt.Fprintf(&b, `\u%04X`, r)
		case r > 0xffff:
			fmt.Fprintf(&b, `\U%08X`, r)
		default:
			b.WriteRune(r)
		}
	}
	b.WriteByte('"')
	return b.String()
}
