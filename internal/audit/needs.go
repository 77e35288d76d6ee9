package audit

import (
	"bytes"
	"regexp"
	"regexp/syntax"
	"sync"
)

// needs are texts of which a file must hold one for a pattern to match anywhere in it: to look for a
// text is many times cheaper than to match a pattern. None means that nothing is known.
var needs sync.Map // of *regexp.Regexp to []string

// mayMatch says whether a pattern could match in a text.
func mayMatch(p *regexp.Regexp, text []byte) bool {
	list, ok := needs.Load(p)
	if !ok {
		var found []string
		if tree, err := syntax.Parse(p.String(), syntax.Perl); err == nil {
			found = needed(tree.Simplify())
		}
		list, _ = needs.LoadOrStore(p, found)
	}
	some := list.([]string)
	for _, s := range some {
		if bytes.Contains(text, []byte(s)) {
			return true
		}
	}
	return len(some) == 0
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
