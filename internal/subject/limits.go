package subject

import (
	"slices"
	"strings"

	"notaria/internal/notary"
)

// mostLimits is how many of a role's limits are told.
const mostLimits = 12

// Limits says what of a role the apps of some targets cannot show as it is, a line each: the part, the
// platforms, and why.
func Limits(plan *notary.Plan, role string, of func(target string) bool) []string {
	type reason struct{ part, why string }
	var order []reason
	apps := map[reason][]string{}
	for _, s := range plan.Sites {
		for _, x := range s.Short {
			r := reason{x.Part, x.Why}
			if x.Role != role || !of(s.Target.Name) || slices.Contains(apps[r], s.Target.Title) {
				continue
			}
			if apps[r] == nil {
				order = append(order, r)
			}
			apps[r] = append(apps[r], s.Target.Title)
		}
	}
	var out []string
	for _, r := range order[:min(len(order), mostLimits)] {
		out = append(out, r.part+", on "+strings.Join(apps[r], ", ")+": "+r.why)
	}
	if len(order) > mostLimits {
		out = append(out, "more is told by notaria register --dry-run")
	}
	return out
}
