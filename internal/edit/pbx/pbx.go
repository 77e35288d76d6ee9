package pbx

import (
	"fmt"
	"slices"
	"strings"

	"notaria/internal/edit"
)

// TakeOver takes files and settings over, with the groups that hold nothing else.
func (Syntax) TakeOver(doc edit.Document, want, mine []edit.Entry) []edit.Entry {
	p, err := Parse(doc)
	if err != nil {
		return nil
	}
	out, _ := edit.Take(want, mine, func(e edit.Entry) (edit.Entry, bool) {
		if strings.HasSuffix(e.Value, ".plist") {
			return e, false // what keeps an Info.plist out of the resources stays
		}
		e.Made = p.made(e)
		return e, len(e.Made) > 0
	})
	p.takeGroups(out)
	return out
}

// takeGroups adds to entries the groups that hold nothing else.
func (p *Project) takeGroups(out []edit.Entry) {
	ours := map[string]bool{}
	for _, e := range out {
		for _, id := range e.Made {
			ours[id] = true
		}
	}
	for i, e := range out {
		group := p.parents[p.reference(e.Value)]
		o := p.objects.Get(group)
		if !ours[e.Mark()] || o.Get("isa").Str() != "PBXGroup" || group == p.project.Get("mainGroup").Str() {
			continue
		}
		if !slices.ContainsFunc(o.Get("children").List(), func(id string) bool { return !ours[id] }) {
			out[i].Made = slices.Insert(out[i].Made, 1, group) // the order of add
		}
	}
}

// Paste says what to do in the project editor: nobody writes such a file by hand.
func (Syntax) Paste(want []edit.Entry) string {
	return edit.PasteBy(want, func(at edit.Place, list []edit.Entry) []string {
		files := strings.Join(edit.Each(list, func(e edit.Entry) string { return e.Value }), ", ")
		switch at.Kind {
		case KindSetting:
			return []string{"set in the build settings of the target " + at.Name + ": " + files}
		case KindReference:
			return []string{"add to the project, without a target: " + files}
		case KindMembership:
			return []string{"tick the target " + at.Name + " under Target Membership of: " + files}
		}
		return []string{"add to the " + phases[at.Kind].name + " phase of the target " + at.Name + ": " + files}
	})
}

// Missing returns what the project does not know, or a target does not build.
func (Syntax) Missing(doc edit.Document, want []edit.Entry) ([]edit.Lack, error) {
	p, err := Parse(doc)
	if err != nil {
		return nil, err
	}
	var out []edit.Lack
	for _, e := range want {
		l := edit.Lack{Entry: e, Build: true}
		switch p.Missing(e) {
		case "setting":
			l.Build = false
			l.Message = fmt.Sprintf("the target %s does not set %s", e.Place.Name, e.Value)
			l.Cause = "without it the build does not take in the Info.plist that names the fonts"
		case "membership":
			l.Message = fmt.Sprintf("%s is in a synchronized folder but missing from its membership exceptions for the target %s", e.Value, e.Place.Name)
			l.Cause = "another target's folder gives up only the files that are named, and an Info.plist in a target's own folder stops the build"
		case "reference":
			l.Message = fmt.Sprintf("%s is on disk, but not in the project", e.Value)
			l.Cause = "a file that is only in the folder is not built into the app"
		case "phase":
			l.Message = fmt.Sprintf("%s is in the project, but not in the %s phase of the target %s", e.Value, e.Place.Kind, e.Place.Name)
			l.Cause = "only files in that phase are built into the app; a tick at \"Target Membership\" is missing"
		default:
			continue
		}
		out = append(out, l)
	}
	return out, nil
}
