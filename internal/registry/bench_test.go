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

// The cost of a role grows little with how many there are; what grows is the TOML parser's
// own list of tables.
func BenchmarkParse(b *testing.B) {
	for _, n := range []int{1000, 10_000} {
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
