package platform

import "strings"

// MatchPath matches the parts of a path with those of a pattern, of which ** stands for any folders; part matches one
// of them. It goes back to the last ** alone, for an earlier one can take no more than that one could: the work is at
// most the product of both lengths.
func MatchPath(pattern, name []string, part func(pattern, name string) bool) bool {
	star, back := -1, 0
	i, k := 0, 0
	for k < len(name) {
		switch {
		case i < len(pattern) && pattern[i] == "**":
			if i == len(pattern)-1 {
				return true
			}
			star, back = i, k
			i++
		case i < len(pattern) && part(pattern[i], name[k]):
			i++
			k++
		case star >= 0:
			back++
			i, k = star+1, back
		default:
			return false
		}
	}
	return i == len(pattern) || i == len(pattern)-1 && pattern[i] == "**"
}

// matchPart matches one name with stars, question marks, classes and escapes (gitignore, "Pattern format"; fnmatch).
func matchPart(p, s string) bool {
	star, back := -1, 0
	i, k := 0, 0
	for k < len(s) {
		if i < len(p) && p[i] == '*' {
			star, back = i, k
			i++
			continue
		}
		if n := matchOne(p[i:], s[k]); n > 0 {
			i += n
			k++
			continue
		}
		if star < 0 {
			return false
		}
		back++
		i, k = star+1, back
	}
	return strings.Trim(p[i:], "*") == ""
}

// matchOne matches a byte with the beginning of a pattern, and says how much of it that took; 0 if it does not match.
func matchOne(p string, c byte) int {
	switch {
	case p == "":
		return 0
	case p[0] == '?':
		return 1
	case p[0] == '\\' && len(p) > 1:
		if p[1] == c {
			return 2
		}
		return 0
	case p[0] == '[':
		if end := strings.IndexByte(p[1:], ']'); end >= 1 {
			if inClass(p[1:1+end], c) {
				return end + 2
			}
			return 0
		}
	}
	if p[0] == c {
		return 1
	}
	return 0
}

// inClass says whether a byte is in a class such as a-z or !0-9.
func inClass(class string, c byte) bool {
	not := class[0] == '!' || class[0] == '^'
	if not {
		class = class[1:]
	}
	in := false
	for i := 0; i < len(class); i++ {
		if i+2 < len(class) && class[i+1] == '-' {
			in = in || class[i] <= c && c <= class[i+2]
			i += 2
			continue
		}
		in = in || class[i] == c
	}
	return in != not
}
