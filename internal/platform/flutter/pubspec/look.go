package pubspec

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/goccy/go-yaml/ast"

	"notaria/internal/edit"
	"notaria/internal/edit/yamldoc"
)

// A Style is what a pubspec says of one font file beside its path. Lines are 1-based, 0 where there
// is none.
type Style struct {
	Family, Path          string
	Line                  int
	Weight, Slant         string // as they are written
	WeightLine, SlantLine int
	OutOfPlace            bool // the line is where Flutter does not look
	Expected, Found, Cure string
	Old, Instead          string // on the line
	Whole                 bool   // the entry is wrong, and not its weight or slant
}

// keys of a pubspec that mean a font.
const (
	keyWeight = "weight"
	keyStyle  = "style"
)

// mostFlaws is how many flaws of one pubspec are told.
const mostFlaws = 100

// Look reads what a pubspec says of fonts, wherever it stands, and what is wrong with it: docs.flutter.dev,
// "Flutter pubspec options", fonts. Faults have Expected set; strayed
// are the families of lists that stand where Flutter does not look.
func Look(d edit.Document) (styles, faults []Style, strayed []string, err error) {
	if _, err := parse(d); err != nil {
		return nil, nil, nil, err
	}
	text := strings.ReplaceAll(strings.TrimPrefix(string(d.Text), "\ufeff"), "\r\n", "\n")
	tree, perr := yamldoc.Parse(text)
	if perr != nil || len(tree.Docs) != 1 || tree.Docs[0].Body == nil {
		return nil, nil, nil, nil
	}
	l := &looker{}
	l.walk(tree.Docs[0].Body, nil)
	return l.styles, l.faults, l.strayed, nil
}

type looker struct {
	styles, faults []Style
	strayed        []string
}

// A Commented family is one that stands in a comment.
type Commented struct {
	Family string
	Line   int // 1-based
	Paths  []string
}

// InComments are the families that a pubspec declares in comments, as its template does.
func InComments(text []byte) []Commented {
	var out []Commented
	n := 0
	for line := range strings.Lines(string(text)) {
		n++
		line, is := strings.CutPrefix(strings.TrimSpace(line), "#")
		if !is {
			continue
		}
		key, value, _ := strings.Cut(strings.TrimLeft(strings.TrimSpace(line), "- "), ":")
		value = strings.Trim(strings.TrimSpace(value), `"'`)
		switch {
		case key == "family" && value != "" && len(out) < mostFlaws:
			out = append(out, Commented{Family: value, Line: n})
		case key == "asset" && value != "" && len(out) > 0 && len(out[len(out)-1].Paths) < mostFlaws:
			last := &out[len(out)-1]
			last.Paths = append(last.Paths, value)
		}
	}
	return out
}

func lineOf(n ast.Node) int { return n.GetToken().Position.Line }

func (l *looker) fault(n ast.Node, f Style) {
	if f.Line = lineOf(n); len(l.faults) < mostFlaws {
		l.faults = append(l.faults, f)
	}
}

// walk looks for lists of fonts below keys; the path is that of the keys.
func (l *looker) walk(n ast.Node, path []string) {
	if len(path) > 6 {
		return
	}
	for _, kv := range yamldoc.Pairs(n) {
		key := yamldoc.Key(kv)
		at := append(slices.Clone(path), key)
		switch {
		case key != keyFonts:
			l.walk(kv.Value, at)
		case slices.Equal(path, []string{keyFlutter}):
			l.families(kv)
		case holdsFamilies(kv.Value):
			for _, i := range items(kv.Value) {
				if f := find(i, "family"); f != nil {
					l.strayed = append(l.strayed, yamldoc.Text(f.Value))
				}
			}
			l.fault(kv.Key, Style{OutOfPlace: true, Expected: "fonts: below flutter:", Found: "it " + below(path), Cure: "indent it by two spaces below flutter:, beside uses-material-design:"})
		}
	}
}

func below(path []string) string {
	if len(path) == 0 {
		return "at the left margin, beside flutter:"
	}
	return "below " + strings.Join(path, ": ") + ":"
}

func items(n ast.Node) []ast.Node {
	if s, ok := n.(*ast.SequenceNode); ok {
		return s.Values
	}
	return nil
}

func find(n ast.Node, key string) *ast.MappingValueNode {
	for _, kv := range yamldoc.Pairs(n) {
		if yamldoc.Key(kv) == key {
			return kv
		}
	}
	return nil
}

func holdsFamilies(n ast.Node) bool {
	return slices.ContainsFunc(items(n), func(i ast.Node) bool { return find(i, "family") != nil || find(i, "asset") != nil })
}

func isNull(n ast.Node) bool {
	_, null := n.(*ast.NullNode)
	return n == nil || null
}

// families reads the list below flutter: fonts:.
func (l *looker) families(kv *ast.MappingValueNode) {
	if isNull(kv.Value) {
		return
	}
	list := items(kv.Value)
	if list == nil {
		l.fault(kv.Key, Style{Whole: true, Expected: "a list of families, each with a dash", Found: "no list", Cure: "write - family: in front of each"})
	}
	for _, item := range list {
		family, fonts := find(item, "family"), find(item, keyFonts)
		switch {
		case family == nil:
			l.fault(item, Style{Whole: true, Expected: "- family: with its fonts: below it", Found: "an entry without family:", Cure: "indent it below its family: two spaces for fonts:, four for - asset:"})
			continue
		case fonts == nil || isNull(fonts.Value) || items(fonts.Value) == nil:
			l.fault(family.Key, Style{Whole: true, Expected: "fonts: below the family, with a list of - asset:", Found: "a family without fonts", Cure: "indent fonts: as far as family:, and - asset: further"})
			continue
		}
		for _, one := range items(fonts.Value) {
			l.asset(yamldoc.Text(family.Value), one)
		}
	}
}

func (l *looker) asset(family string, n ast.Node) {
	asset := find(n, "asset")
	if asset == nil {
		l.fault(n, Style{Whole: true, Expected: "- asset: with a path", Found: "an entry without asset:", Cure: "write - asset: fonts/File.ttf"})
		return
	}
	s := Style{Family: family, Path: yamldoc.Text(asset.Value), Line: lineOf(asset.Key)}
	if kv := find(n, keyWeight); kv != nil {
		s.Weight, s.WeightLine = yamldoc.Text(kv.Value), lineOf(kv.Key)
		if w, err := strconv.Atoi(s.Weight); err != nil || w < 100 || w > 900 || w%100 != 0 {
			l.fault(kv.Key, Style{Family: family, Path: s.Path, Expected: "a weight from 100 to 900, in hundreds", Found: fmt.Sprintf("%q", s.Weight), Cure: "write the number", Old: s.Weight})
			s.Weight = ""
		}
	}
	if kv := find(n, keyStyle); kv != nil {
		s.Slant, s.SlantLine = yamldoc.Text(kv.Value), lineOf(kv.Key)
		if s.Slant != "italic" && s.Slant != "normal" {
			f := Style{Family: family, Path: s.Path, Expected: "style: italic or style: normal", Found: fmt.Sprintf("%q", s.Slant), Cure: "write italic or normal, in small letters", Old: s.Slant}
			if low := strings.ToLower(s.Slant); low == "italic" || low == "normal" {
				f.Instead = low
			}
			l.fault(kv.Key, f)
			s.Slant = ""
		}
	}
	l.styles = append(l.styles, s)
}
