package shape

import (
	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype/tables"

	"notaria/internal/fault"
)

// A lookup for a context applies others, which can be contexts too. The library bounds how deep they go, and how much it does for a text,
// but not by so much that a text of some hundred letters comes to an end: a font whose lookups apply themselves, or each two others, takes
// minutes. Such fonts are refused before a text is shaped. Of 809 real fonts none applies more than 8 so.

// mostApplied is how many lookups may be applied at one place of a text by one lookup, those within counted.
const mostApplied = 256

// nested refuses lookups that apply themselves, or too many others.
func nested(f *font.Font) error {
	var gsub, gpos [][]rule
	for _, l := range f.GSUB.Lookups {
		var rules []rule
		for _, s := range l.Subtables {
			rules = append(rules, substitutions(s)...)
		}
		gsub = append(gsub, rules)
	}
	for _, l := range f.GPOS.Lookups {
		var rules []rule
		for _, s := range l.Subtables {
			rules = append(rules, positions(s)...)
		}
		gpos = append(gpos, rules)
	}
	for name, lookups := range map[string][][]rule{"GSUB": gsub, "GPOS": gpos} {
		n := counter{lookups: lookups, known: make([]int, len(lookups))}
		for i := range lookups {
			if n.applied(i) > mostApplied {
				return fault.Form("expected lookups of %s that apply at most %d others at a place, found lookup %d, which applies itself or more", name, mostApplied, i)
			}
		}
	}
	return nil
}

// A rule is the lookups that a context applies.
type rule = []tables.SequenceLookupRecord

// A counter counts what lookups apply; known is 0 for those that were not counted, and below 0 for those that are being counted.
type counter struct {
	lookups [][]rule
	known   []int
}

func (c *counter) applied(lookup int) int {
	switch {
	case lookup >= len(c.known):
		return 0
	case c.known[lookup] < 0:
		return mostApplied + 1 // it is within itself
	case c.known[lookup] > 0:
		return c.known[lookup]
	}
	c.known[lookup] = -1
	most := 0
	for _, r := range c.lookups[lookup] {
		sum := 0
		for _, x := range r {
			sum = min(sum+c.applied(int(x.LookupListIndex)), mostApplied+1)
		}
		most = max(most, sum)
	}
	c.known[lookup] = 1 + most
	return c.known[lookup]
}

func substitutions(s tables.GSUBLookup) []rule {
	switch s := s.(type) {
	case tables.ContextualSubs:
		switch d := s.Data.(type) {
		case tables.ContextualSubs1:
			return ofSets(d.SeqRuleSet)
		case tables.ContextualSubs2:
			return ofSets(d.ClassSeqRuleSet)
		case tables.ContextualSubs3:
			return []rule{d.SeqLookupRecords}
		}
	case tables.ChainedContextualSubs:
		switch d := s.Data.(type) {
		case tables.ChainedContextualSubs1:
			return ofChainedSets(d.ChainedSeqRuleSet)
		case tables.ChainedContextualSubs2:
			return ofChainedSets(d.ChainedClassSeqRuleSet)
		case tables.ChainedContextualSubs3:
			return []rule{d.SeqLookupRecords}
		}
	}
	return nil
}

func positions(s tables.GPOSLookup) []rule {
	switch s := s.(type) {
	case tables.ContextualPos:
		switch d := s.Data.(type) {
		case tables.ContextualPos1:
			return ofSets(d.SeqRuleSet)
		case tables.ContextualPos2:
			return ofSets(d.ClassSeqRuleSet)
		case tables.ContextualPos3:
			return []rule{d.SeqLookupRecords}
		}
	case tables.ChainedContextualPos:
		switch d := s.Data.(type) {
		case tables.ChainedContextualPos1:
			return ofChainedSets(d.ChainedSeqRuleSet)
		case tables.ChainedContextualPos2:
			return ofChainedSets(d.ChainedClassSeqRuleSet)
		case tables.ChainedContextualPos3:
			return []rule{d.SeqLookupRecords}
		}
	}
	return nil
}

func ofSets(sets []tables.SequenceRuleSet) (out []rule) {
	for _, s := range sets {
		for _, r := range s.SeqRule {
			out = append(out, r.SeqLookupRecords)
		}
	}
	return out
}

func ofChainedSets(sets []tables.ChainedSequenceRuleSet) (out []rule) {
	for _, s := range sets {
		for _, r := range s.ChainedSeqRules {
			out = append(out, r.SeqLookupRecords)
		}
	}
	return out
}
