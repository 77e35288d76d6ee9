package audit

import (
	"cmp"
	"path"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/edit/splice"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// mostOriginal is how large a font file is that could be an original, in bytes.
const mostOriginal = 64 << 20

// foundAgain are the originals and licence texts that are not where notaria.toml says, by their paths, and that stand
// elsewhere in the project with the same bytes, as the ledger notes them. Copies that Notaria placed in apps are no
// originals.
func foundAgain(p *notary.Project) map[string]string {
	out, sums := map[string]string{}, map[string]string{}
	for _, e := range p.Registry.Faces {
		for _, name := range []string{e.File, e.Licence} {
			w, ok := p.Ledger.Wrote(name)
			if name == "" || !ok || p.Tree.There(name) || out[name] != "" {
				continue
			}
			var at []string
			for _, f := range p.Tree.Under("") {
				if !platform.IsFont(f) && path.Base(f) != path.Base(name) || platform.IsFont(f) != platform.IsFont(name) {
					continue
				}
				if have, placed := p.Ledger.Wrote(f); placed && len(have.Owners) > 0 {
					continue
				}
				sum, known := sums[f]
				if !known {
					sum, _ = p.Dir.Sum(f, mostOriginal) // "" for what cannot be read, which is no original
					sums[f] = sum
				}
				if sum == w.SHA256 {
					at = append(at, f)
				}
			}
			if len(at) == 1 {
				out[name] = at[0]
			}
		}
	}
	return out
}

// readdress is the mending that has notaria.toml and the ledger name files where they are now.
func readdress(p *notary.Project, moved map[string]string) platform.Mending {
	var m platform.Mending
	for _, file := range []string{registry.FileName, registry.LedgerName} {
		text, err := p.Dir.Read(file, mostSource)
		if err != nil {
			return platform.Mending{}
		}
		for from, to := range moved {
			m.Edits = append(m.Edits, quoted(file, string(text), from, to)...)
		}
		if file == registry.FileName {
			m.Edits = append(m.Edits, folderEdit(p, string(text), moved)...)
		}
	}
	slices.SortFunc(m.Edits, func(a, b platform.Edit) int {
		return cmp.Or(strings.Compare(a.File, b.File), cmp.Compare(a.From, b.From))
	})
	return m
}

// quoted exchanges a path wherever it stands in quotes.
func quoted(file, text, from, to string) []platform.Edit {
	var out []platform.Edit
	for _, q := range []string{strconv.Quote(from), "'" + from + "'"} {
		for at := 0; ; {
			i := strings.Index(text[at:], q)
			if i < 0 {
				break
			}
			at += i + 1
			out = append(out, platform.Edit{File: file, Edit: splice.Edit{From: at, To: at + len(from), Text: to}, Old: from})
		}
	}
	return out
}

var folderLine = lazy.Regexp(`(?m)^folder\s*=\s*["']([^"'\n]*)["']`)

// folderEdit lets notaria.toml name another folder of originals, where all of them went there.
func folderEdit(p *notary.Project, text string, moved map[string]string) []platform.Edit {
	to := ""
	for _, e := range p.Registry.Faces {
		now, ok := moved[e.File]
		if !ok || path.Dir(e.File) != p.Registry.Folder || to != "" && path.Dir(now) != to {
			return nil
		}
		to = path.Dir(now)
	}
	m := folderLine.FindStringSubmatchIndex(text)
	if m == nil || to == "" || to == p.Registry.Folder {
		return nil
	}
	return []platform.Edit{{File: registry.FileName, Edit: splice.Edit{From: m[2], To: m[3], Text: to}, Old: text[m[2]:m[3]]}}
}
