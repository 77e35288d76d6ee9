package notary

import (
	"notaria/internal/change"
	"notaria/internal/registry"
)

// ForEditors plans a JSON Schema beside notaria.toml, which names it in its first line: editors that know TOML then
// complete its keys, and say which are wrong.
func (p *Project) ForEditors(schema []byte) (*change.Set, error) {
	set := p.set()
	if err := writeText(set, registry.SchemaName, schema); err != nil {
		return nil, err
	}
	for i := range set.Files {
		set.Files[i].Summed = "generated"
	}
	p.Registry.NameSchema()
	return set, writeText(set, registry.FileName, p.Registry.Text())
}
