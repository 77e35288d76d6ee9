package document

import (
	"notaria/internal/notary"
	"notaria/internal/subject"
)

// Swap is the answer of swap.
type Swap struct {
	Schema  string    `json:"schema"` // notaria/swap/1
	Project string    `json:"project"`
	DryRun  bool      `json:"dry_run"`
	Pairs   []Pair    `json:"pairs"`
	Sites   []Site    `json:"sites"`
	Refused []Refused `json:"not_served"`
	Changes []Change  `json:"files"`
}

// Pair is a face with the one that takes its place.
type Pair struct {
	From       string             `json:"from"`
	To         string             `json:"to"`
	Roles      []string           `json:"roles"`
	Difference string             `json:"difference,omitempty"`
	Compared   subject.Comparison `json:"compared"` // by the project's own texts
}

// NewSwap makes the answer of swap.
func NewSwap(p *notary.Project, s *notary.Swapping, compared []subject.Comparison, dry bool) Swap {
	d := Swap{"notaria/swap/1", p.Root, dry, []Pair{}, NewSites(s.Plan), NewRefused(s.Plan), changes(s.Set)}
	for i, x := range s.Pairs {
		d.Pairs = append(d.Pairs, Pair{x.From.ID(), x.To.ID(), x.Roles, x.Off, compared[i]})
	}
	return d
}
