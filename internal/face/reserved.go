package face

import (
	"strings"

	"notaria/internal/lazy"
)

// reservedClause is how licences say which names changed copies may not have (SIL Open Font Licence
// 1.1, preamble and condition 3): with Reserved Font Name "A", or Reserved Font Names A and B.
var reservedClause = lazy.Regexp(`(?i)\breserved\s+font\s+names?:?\s+([^\n]{1,200})`)

var reservedParts = lazy.Regexp(`["“”'‘’]([^"“”'‘’\n]+)["“”'‘’]|([^,;"“”\n]+)`)

// ReservedName is the name that a licence reserves and that a face has among its own; "" if there is
// none. The licence's own definition of the term names nothing.
func ReservedName(licence []byte, f Face) string {
	have := []string{f.Family, f.LegacyFamily, f.Full, f.PostScript}
	for _, clause := range reservedClause.FindAllSubmatch(licence, -1) {
		for _, m := range reservedParts.FindAllSubmatch(clause[1], -1) {
			for _, name := range lazy.Regexp(`\s+(?:and|or)\s+`).Split(string(m[1])+string(m[2]), -1) {
				name = strings.Trim(name, " .\t\r")
				if len(name) >= 3 && len(name) <= 60 && holdsName(have, name) {
					return name
				}
			}
		}
	}
	return ""
}

// holdsName says whether a name is one of a face's, or whole words of it.
func holdsName(have []string, name string) bool {
	plain := func(s string) string {
		return " " + strings.Join(strings.Fields(strings.NewReplacer("-", " ", "_", " ").Replace(strings.ToLower(s))), " ") + " "
	}
	for _, h := range have {
		if strings.Contains(plain(h), plain(name)) {
			return true
		}
	}
	return false
}
