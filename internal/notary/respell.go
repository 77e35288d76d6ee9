package notary

import (
	"path"
	"slices"
	"strings"

	"notaria/internal/registry"
)

// respell brings the ledger to the names that folders and files have now, on a disk on
// which names that differ by capitals alone are the same file: somebody renamed them.
func (p *Project) respell() {
	if !slices.ContainsFunc(p.Ledger.Files, func(f registry.Written) bool { return !p.Tree.Has(f.Path) }) &&
		!slices.ContainsFunc(p.Ledger.Entries, func(e registry.Entry) bool { return !p.Tree.Has(e.File) }) {
		return
	}
	now := map[string]string{} // by the name in small letters
	for _, f := range p.Tree.Under("") {
		for name := f; name != "."; name = path.Dir(name) {
			low := strings.ToLower(name)
			if _, ok := now[low]; ok {
				break // and its folders
			}
			now[low] = name
		}
	}
	seen := map[string]string{}
	spell := func(name string) string {
		if to, ok := seen[name]; ok {
			return to
		}
		to, ok := now[strings.ToLower(name)]
		if !ok || to == name || !p.Dir.Same(name, to) {
			to = name
		}
		seen[name] = to
		return to
	}
	owners := func(list []registry.Owner) []registry.Owner {
		out := make([]registry.Owner, 0, len(list))
		for _, o := range list {
			out = append(out, registry.Owner{Target: o.Target, App: spell(o.App)})
		}
		if len(out) == 0 {
			return nil
		}
		return out
	}
	old := p.Ledger
	p.Ledger = &registry.Ledger{Schema: old.Schema}
	for _, f := range old.Files {
		f.Path, f.Owners = spell(f.Path), owners(f.Owners)
		p.Ledger.Record(f)
	}
	for _, dir := range old.Folders {
		p.Ledger.Folders = append(p.Ledger.Folders, spell(dir))
	}
	for _, e := range old.Entries {
		e.File, e.Owners = spell(e.File), owners(e.Owners)
		p.Ledger.Entries = append(p.Ledger.Entries, e)
	}
}
