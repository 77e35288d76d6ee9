package pbx

import (
	"strings"

	"notaria/internal/edit/splice"
)

// A build setting of a target is an entry of its own kind: its value is KEY=value. It is
// put into each configuration of the target that does not set the key.
const madeSetting = "setting"

// configurations are the build settings of a target's own configurations.
func (p *Project) configurations(target *Node) []*Node {
	var out []*Node
	for _, id := range p.objects.Get(target.Get("buildConfigurationList").Str(), "buildConfigurations").List() {
		if s := p.objects.Get(id, "buildSettings"); s != nil && s.kind == dictNode {
			out = append(out, s)
		}
	}
	return out
}

// named is a native target's object, nil if there is none of that name.
func (p *Project) named(name string) *Node {
	t, _ := p.native(name)
	return t.Object
}

// missingSetting says "setting" unless every configuration of the target has it.
func (p *Project) missingSetting(target, assignment string) string {
	key, value, _ := strings.Cut(assignment, "=")
	for _, s := range p.configurations(p.named(target)) {
		if s.Get(key).Str() != value {
			return "setting"
		}
	}
	return ""
}

// addSetting sets the key where it is not set, in its place by the alphabet as
// far as the others are in order.
func (d *draftProject) addSetting(t Native, assignment string) []string {
	key, value, _ := strings.Cut(assignment, "=")
	var made []string
	for _, s := range d.configurations(t.Object) {
		if s.Get(key) != nil {
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
		start := splice.LineStart(d.Text, at)
		if start <= s.from {
			d.splices = append(d.splices, splice.Replace(s.from+1, s.from+1, " "+text))
			continue
		}
		indent := splice.IndentOf(d.Text, at)
		if at == s.to-1 {
			indent += "\t"
		}
		d.splices = append(d.splices, splice.Replace(start, start, indent+text+d.nl))
	}
	return made
}

// dropSetting takes a setting of ours out again.
func (d *draftProject) dropSetting(target, assignment string) {
	key, value, _ := strings.Cut(assignment, "=")
	for _, s := range d.configurations(d.named(target)) {
		for _, p := range s.pairs {
			if p.key.text != key || p.val.Str() != value {
				continue
			}
			d.splices = append(d.splices, splice.WholeRange(d.Text, p.key.from, p.end)) // on one line it came in with a space before it
		}
	}
}
