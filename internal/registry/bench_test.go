package registry

import (
	"fmt"
	"strings"
	"testing"
)

// many is a registry with so many faces and roles.
func many(faces, roles int) []byte {
	var b strings.Builder
	for i := range faces {
		fmt.Fprintf(&b, "[[face]]\nname = \"F%d\"\nfile = \"type/F%d.ttf\"\n\n", i, i)
	}
	for i := range roles {
		fmt.Fprintf(&b, "[role.r%d]\nface = \"F%d\"\nsize = 17\n\n", i, i%faces)
	}
	return []byte(b.String())
}

// The cost of a role grows with how many there are in the TOML parser alone, which keeps a
// list of them; so there is a limit.
func BenchmarkParse(b *testing.B) {
	for _, n := range []int{300, 3000} {
		text := many(n/10, n)
		b.Run(fmt.Sprintf("%d-roles", n), func(b *testing.B) {
			for b.Loop() {
				if _, err := Parse(text); err != nil {
					b.Fatal(err)
				}
			}
			b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N*n), "ns/role")
		})
	}
}
