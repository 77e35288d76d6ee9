package registry

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"notaria/internal/lazy"
)

// SetRoleNumber gives a role's key another number, and SetRoleText another text. Comments, and what else
// stands in the role, stay as they are; a key that is not there is added below the face.
func (r *Registry) SetRoleNumber(name, key string, value float64) error {
	return r.setRole(name, key, strconv.FormatFloat(value, 'f', -1, 64))
}

// SetRoleText is SetRoleNumber for a text.
func (r *Registry) SetRoleText(name, key, value string) error {
	return r.setRole(name, key, quote(value))
}

func (r *Registry) setRole(name, key, literal string) error {
	line := lazy.Regexp(`^\s*` + regexp.QuoteMeta(key) + `\s*=\s*("(?:[^"\\]|\\.)*"|'[^']*'|[-+\w.]+)`)
	for _, b := range r.blocks() {
		if strings.Join(b.key, ".") != "role."+name {
			continue
		}
		lines := strings.SplitAfter(string(r.text[b.from:b.to]), "\n")
		face := 0
		for i, l := range lines {
			if m := line.FindStringSubmatchIndex(l); m != nil {
				lines[i] = l[:m[2]] + literal + l[m[3]:]
				return r.replace(b, lines)
			}
			if faceLine.MatchString(l) {
				face = i
			}
		}
		end := "\n"
		if strings.HasSuffix(lines[face], "\r\n") {
			end = "\r\n"
		}
		if !strings.HasSuffix(lines[face], "\n") {
			lines[face] += end
		}
		lines[face] += key + " = " + literal + end
		return r.replace(b, lines)
	}
	return r.Wrong(Key{"role", name}, fmt.Sprintf("a block [role.%s]", name), "none", "write the role as a block of its own")
}

// replace exchanges a block's lines, and reads all anew: what does not hold is not kept.
func (r *Registry) replace(b block, lines []string) error {
	text := string(r.text[:b.from]) + strings.Join(lines, "") + string(r.text[b.to:])
	next, err := Parse([]byte(text))
	if err != nil {
		return err
	}
	*r = *next
	return nil
}
