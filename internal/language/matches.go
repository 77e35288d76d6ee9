package language

import (
	"bytes"
	"regexp"
	"regexp/syntax"
	"slices"
	"sync"

	"notaria/internal/lazy"
)

// needs are the plans of patterns: to look for a text is many times cheaper than to match a pattern.
var needs sync.Map // of *lazy.Pattern to *plan

// a plan is how a pattern is looked for.
type plan struct {
	some []string // a file must hold one
	// Where every match begins with a text, with so many characters of any kind in front, the pattern
	// is tried at each place of that text alone.
	first    string
	before   int
	boundary bool // a word begins there
	anchored *regexp.Regexp
}

func planOf(p *lazy.Pattern) *plan {
	if v, ok := needs.Load(p); ok {
		return v.(*plan)
	}
	out := &plan{}
	if tree, err := syntax.Parse(p.String(), syntax.Perl); err == nil {
		tree = tree.Simplify()
		out.some = needed(tree)
		if out.first, out.before, out.boundary = beginning(tree); out.first != "" {
			out.anchored, _ = regexp.Compile(`\A(?:` + p.String() + `)`)
		}
	}
	v, _ := needs.LoadOrStore(p, out)
	return v.(*plan)
}

// beginning is the text that every match of a pattern begins with, behind so many single characters and,
// at most, a word's begin; "" if there is none.
func beginning(re *syntax.Regexp) (text string, before int, boundary bool) {
	if re.Op == syntax.OpLiteral {
		re = &syntax.Regexp{Op: syntax.OpConcat, Sub: []*syntax.Regexp{re}}
	}
	if re.Op != syntax.OpConcat {
		return "", 0, false
	}
	for _, sub := range re.Sub {
		switch sub.Op {
		case syntax.OpWordBoundary:
			if before > 0 {
				return "", 0, false
			}
			boundary = true
		case syntax.OpCharClass:
			if before++; boundary || before > 2 || len(sub.Rune) == 0 || sub.Rune[len(sub.Rune)-1] > 0x7f {
				return "", 0, false
			}
		case syntax.OpLiteral:
			if sub.Flags&syntax.FoldCase != 0 || len(sub.Rune) < 3 || boundary && !isWordByte(string(sub.Rune)[0]) {
				return "", 0, false
			}
			return string(sub.Rune), before, boundary
		default:
			return "", 0, false
		}
	}
	return "", 0, false
}

// Matches is p.FindAllSubmatchIndex(text, most), and many times faster where every match holds a text
// that is rare.
func Matches(p *lazy.Pattern, text []byte, most int) [][]int {
	how := planOf(p)
	if !how.may(text) {
		return nil
	}
	if how.anchored == nil {
		return p.FindAllSubmatchIndex(text, most)
	}
	var out [][]int
	end := 0 // of the last match: what it has taken, no other begins with
	for at := 0; len(out) < most; {
		i := bytes.Index(text[at:], []byte(how.first))
		if i < 0 {
			break
		}
		from := at + i - how.before
		next := at + i + 1
		if from >= end && !(how.boundary && from > 0 && isWordByte(text[from-1])) {
			if m := how.anchored.FindSubmatchIndex(text[from:]); m != nil {
				for k := range m {
					if m[k] >= 0 {
						m[k] += from
					}
				}
				out = append(out, m)
				end = m[1]
				next = max(next, end)
			}
		}
		at = next
	}
	return out
}

// MayMatch says whether a pattern could match in a text, or in what is left of it without comments.
func MayMatch(p *lazy.Pattern, text []byte) bool { return planOf(p).may(text) }

func (p *plan) may(text []byte) bool {
	return len(p.some) == 0 || slices.ContainsFunc(p.some, func(s string) bool { return bytes.Contains(text, []byte(s)) })
}

func isWordByte(c byte) bool {
	return c == '_' || c >= '0' && c <= '9' || c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z'
}

// mostNeeded is how many texts are looked for instead of one pattern.
const mostNeeded = 12

// needed finds texts of which every match of a pattern holds one; nil if there are no such, or only
// short ones.
func needed(re *syntax.Regexp) []string {
	switch re.Op {
	case syntax.OpLiteral:
		if re.Flags&syntax.FoldCase == 0 && len(re.Rune) > 1 {
			return []string{string(re.Rune)}
		}
	case syntax.OpCapture, syntax.OpPlus:
		return needed(re.Sub[0])
	case syntax.OpConcat:
		var best []string
		for _, sub := range re.Sub {
			if list := needed(sub); list != nil && shortest(list) > shortest(best) {
				best = list
			}
		}
		return best
	case syntax.OpAlternate:
		var all []string
		for _, sub := range re.Sub {
			list := needed(sub)
			if list == nil || len(all)+len(list) > mostNeeded {
				return nil
			}
			all = append(all, list...)
		}
		return all
	}
	return nil
}

func shortest(list []string) int {
	if len(list) == 0 {
		return 0
	}
	n := len(list[0])
	for _, s := range list {
		n = min(n, len(s))
	}
	return n
}
