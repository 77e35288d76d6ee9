package edit

import "strings"

// A build setting of a target is an entry of its own kind: Place is
// "setting:TARGET", Value "KEY=value". It is put into each configuration of the
// target that does not set the key.
const (
	settingKind = "setting"
	madeSetting = "setting"
)

// configurations are the build settings of a target's own configurations.
func (p *Project) configurations(target *node) []*node {
	var out []*node
	for _, id := range p.objects.get(target.get("buildConfigurationList").str(), "buildConfigurations").list() {
		if s := p.objects.get(id, "buildSettings"); s != nil && s.kind == dictNode {
			out = append(out, s)
		}
	}
	return out
}

func (p *Project) target(name string) *node {
	for _, t := range p.Targets() {
		if t.Name == name {
			return p.objects.get(t.id)
		}
	}
	return nil
}

// missingSetting says "setting" unless every configuration of the target has it.
func (p *Project) missingSetting(target, assignment string) string {
	key, value, _ := strings.Cut(assignment, "=")
	for _, s := range p.configurations(p.target(target)) {
		if s.get(key).str() != value {
			return "setting"
		}
	}
	return ""
}

// addSetting sets the key where it is not set, in its place by the alphabet as
// far as the others are in order.
func (d *draftProject) addSetting(t BuildTarget, assignment string) []string {
	key, value, _ := strings.Cut(assignment, "=")
	var made []string
	for _, s := range d.configurations(d.Project.objects.get(t.id)) {
		if s.get(key) != nil {
			continue
		}
		made = []string{madeSetting}
		text := quoteOpenStep(key) + " = " + quoteOpenStep(value) + ";"
		at := s.to - 1
		for _, p := range s.pairs {
			if p.key.text > key {
				at = p.key.from
				break
			}
		}
		start := lineStart(d.doc, at)
		if start <= s.from {
			d.splices = append(d.splices, splice{s.from + 1, s.from + 1, " " + text})
			continue
		}
		indent := indentOf(d.doc, at)
		if at == s.to-1 {
			indent += "\t"
		}
		d.splices = append(d.splices, splice{start, start, indent + text + d.nl})
	}
	return made
}

// dropSetting takes a setting of ours out again.
func (d *draftProject) dropSetting(target, assignment string) {
	key, value, _ := strings.Cut(assignment, "=")
	for _, s := range d.configurations(d.target(target)) {
		for _, p := range s.pairs {
			if p.key.text != key || p.val.str() != value {
				continue
			}
			d.splices = append(d.splices, wholeRange(d.doc, p.key.from, p.end)) // on one line it came in with a space before it
		}
	}
}
