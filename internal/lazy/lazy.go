// Package lazy holds what is costly to make, and makes it when it is first used. A run of one
// command needs few of the program's patterns, templates and tables; without this, every run
// would pay for all of them before its first line.
//
// In test programs all of it is made at once, so that a pattern which does not compile fails
// every test of its package, and not the one user whose project needs it.
package lazy

import (
	"os"
	"regexp"
	"strings"
	"sync"
)

// inTest says whether this is a test program.
var inTest = strings.HasSuffix(strings.TrimSuffix(os.Args[0], ".exe"), ".test")

// A Value is made when it is first asked for.
type Value[T any] struct {
	once sync.Once
	make func() T
	v    T
}

// Of is what a function makes, later.
func Of[T any](make func() T) *Value[T] {
	v := &Value[T]{make: make}
	if inTest {
		v.Get()
	}
	return v
}

// Get is the value.
func (v *Value[T]) Get() T {
	v.once.Do(func() { v.v, v.make = v.make(), nil })
	return v.v
}

// A Set is one of words, made when it is first asked.
type Set struct{ words *Value[map[string]bool] }

// Words is the set of the words of a text.
func Words(text string) *Set {
	return &Set{Of(func() map[string]bool {
		m := map[string]bool{}
		for w := range strings.FieldsSeq(text) {
			m[w] = true
		}
		return m
	})}
}

// Has says whether a word is in the set; none is in a nil one.
func (s *Set) Has(word string) bool { return s != nil && s.words.Get()[word] }

// A Pattern is a regular expression that is compiled when it is first used. Its methods are those
// of regexp.Regexp.
type Pattern struct {
	text string
	once sync.Once
	re   *regexp.Regexp
}

// Regexp is regexp.MustCompile, later.
func Regexp(text string) *Pattern {
	p := &Pattern{text: text}
	if inTest {
		p.compiled()
	}
	return p
}

func (p *Pattern) compiled() *regexp.Regexp {
	p.once.Do(func() { p.re = regexp.MustCompile(p.text) })
	return p.re
}

// Find is regexp.Regexp.Find.
func (p *Pattern) Find(b []byte) []byte { return p.compiled().Find(b) }

// FindIndex is regexp.Regexp.FindIndex.
func (p *Pattern) FindIndex(b []byte) []int { return p.compiled().FindIndex(b) }

// FindString is regexp.Regexp.FindString.
func (p *Pattern) FindString(s string) string { return p.compiled().FindString(s) }

// FindStringIndex is regexp.Regexp.FindStringIndex.
func (p *Pattern) FindStringIndex(s string) []int { return p.compiled().FindStringIndex(s) }

// FindSubmatch is regexp.Regexp.FindSubmatch.
func (p *Pattern) FindSubmatch(b []byte) [][]byte { return p.compiled().FindSubmatch(b) }

// FindSubmatchIndex is regexp.Regexp.FindSubmatchIndex.
func (p *Pattern) FindSubmatchIndex(b []byte) []int { return p.compiled().FindSubmatchIndex(b) }

// FindStringSubmatch is regexp.Regexp.FindStringSubmatch.
func (p *Pattern) FindStringSubmatch(s string) []string { return p.compiled().FindStringSubmatch(s) }

// FindStringSubmatchIndex is regexp.Regexp.FindStringSubmatchIndex.
func (p *Pattern) FindStringSubmatchIndex(s string) []int {
	return p.compiled().FindStringSubmatchIndex(s)
}

// FindAllIndex is regexp.Regexp.FindAllIndex.
func (p *Pattern) FindAllIndex(b []byte, n int) [][]int { return p.compiled().FindAllIndex(b, n) }

// FindAllString is regexp.Regexp.FindAllString.
func (p *Pattern) FindAllString(s string, n int) []string { return p.compiled().FindAllString(s, n) }

// FindAllStringIndex is regexp.Regexp.FindAllStringIndex.
func (p *Pattern) FindAllStringIndex(s string, n int) [][]int {
	return p.compiled().FindAllStringIndex(s, n)
}

// FindAllSubmatch is regexp.Regexp.FindAllSubmatch.
func (p *Pattern) FindAllSubmatch(b []byte, n int) [][][]byte {
	return p.compiled().FindAllSubmatch(b, n)
}

// FindAllSubmatchIndex is regexp.Regexp.FindAllSubmatchIndex.
func (p *Pattern) FindAllSubmatchIndex(b []byte, n int) [][]int {
	return p.compiled().FindAllSubmatchIndex(b, n)
}

// FindAllStringSubmatch is regexp.Regexp.FindAllStringSubmatch.
func (p *Pattern) FindAllStringSubmatch(s string, n int) [][]string {
	return p.compiled().FindAllStringSubmatch(s, n)
}

// FindAllStringSubmatchIndex is regexp.Regexp.FindAllStringSubmatchIndex.
func (p *Pattern) FindAllStringSubmatchIndex(s string, n int) [][]int {
	return p.compiled().FindAllStringSubmatchIndex(s, n)
}

// Match is regexp.Regexp.Match.
func (p *Pattern) Match(b []byte) bool { return p.compiled().Match(b) }

// MatchString is regexp.Regexp.MatchString.
func (p *Pattern) MatchString(s string) bool { return p.compiled().MatchString(s) }

// ReplaceAll is regexp.Regexp.ReplaceAll.
func (p *Pattern) ReplaceAll(b, with []byte) []byte { return p.compiled().ReplaceAll(b, with) }

// ReplaceAllString is regexp.Regexp.ReplaceAllString.
func (p *Pattern) ReplaceAllString(s, with string) string {
	return p.compiled().ReplaceAllString(s, with)
}

// ReplaceAllLiteralString is regexp.Regexp.ReplaceAllLiteralString.
func (p *Pattern) ReplaceAllLiteralString(s, with string) string {
	return p.compiled().ReplaceAllLiteralString(s, with)
}

// ReplaceAllFunc is regexp.Regexp.ReplaceAllFunc.
func (p *Pattern) ReplaceAllFunc(b []byte, with func([]byte) []byte) []byte {
	return p.compiled().ReplaceAllFunc(b, with)
}

// ReplaceAllStringFunc is regexp.Regexp.ReplaceAllStringFunc.
func (p *Pattern) ReplaceAllStringFunc(s string, with func(string) string) string {
	return p.compiled().ReplaceAllStringFunc(s, with)
}

// Split is regexp.Regexp.Split.
func (p *Pattern) Split(s string, n int) []string { return p.compiled().Split(s, n) }

// Expand is regexp.Regexp.Expand.
func (p *Pattern) Expand(dst, template, src []byte, match []int) []byte {
	return p.compiled().Expand(dst, template, src, match)
}

// String is the expression's source.
func (p *Pattern) String() string { return p.text }
