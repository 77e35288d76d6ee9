package platform

import (
	"crypto/sha256"
	"fmt"
	"strings"

	"notaria/internal/disk"
)

// FileBase turns a face's name into a file name that every system takes, for a
// font's name is untrusted text. Names that are safe already stay as they are;
// others end in six digits of their SHA-256, so that two never become one.
func FileBase(name string) string {
	s := PlainBase(name)
	if s == name {
		return s
	}
	sum := sha256.Sum256([]byte(name))
	return fmt.Sprintf("%s-%x", s, sum[:3])
}

// mostBase is the longest file name made of a face's name, without its ending.
const mostBase = 80

// PlainBase is FileBase without digits: two names can give one.
func PlainBase(name string) string {
	s := strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= 'A' && r <= 'Z', r >= '0' && r <= '9', r == '-', r == '_', r == '.':
			return r
		}
		return '-'
	}, name) // gives name itself, without a copy, where nothing changes
	if s = strings.Trim(s, "-."); len(s) > mostBase {
		s = s[:mostBase]
	}
	if s == "" {
		return "face"
	}
	if disk.IsReserved(s) { // a device on Windows, whatever its ending
		return "face-" + s
	}
	return s
}
