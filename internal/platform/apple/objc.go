package apple

import (
	"slices"
	"strings"

	"notaria/internal/lazy"
)

// claimed are words that cannot name a class method without a clash: those of C
// and Objective-C, and what every object answers to.
var claimed = lazy.Words("auto break case char const continue default do double else enum extern float for goto if inline int long register restrict return " +
	"short signed sizeof static struct switch typedef union unsigned void volatile while asm typeof bool true false nil id self super in out inout bycopy byref oneway " +
	"class new alloc init copy mutableCopy load initialize description debugDescription hash superclass version names report retain release autorelease dealloc zone")

// objectiveC makes the members of the code fit Objective-C: no backquotes, and
// no method that objects have already.
func (c *code) objectiveC() {
	c.Roles = slices.Clone(c.Roles)
	for i := range c.Roles {
		m := strings.Trim(c.Roles[i].Member, "`")
		switch {
		case family(m):
			m = "role" + strings.ToUpper(m[:1]) + m[1:]
		case claimed.Has(m):
			m += "Type"
		}
		c.Roles[i].Member = m
	}
}

// family says whether a method's name makes the compiler take its result for an
// owned object (Automatic Reference Counting, "Method families").
func family(name string) bool {
	for _, f := range []string{"alloc", "copy", "init", "mutableCopy", "new"} {
		if rest, ok := strings.CutPrefix(name, f); ok && (rest == "" || rest[0] < 'a' || rest[0] > 'z') {
			return true
		}
	}
	return false
}
