package audit

import (
	"bytes"
	"strings"

	"notaria/internal/platform"
)

// mostAliases is how many other names one file gives to what has the roles: who writes a file gives one.
const mostAliases = 20

// span is a part of a source, in bytes.
type span struct{ from, to int }

// typedAt are the places of what is typed at the matches of a use.
func (s *source) typedAt(u *platform.Use, found [][]int) []span {
	var out []span
	aliases := map[string]bool{}
	for _, m := range found {
		if m[2] < 0 || s.inString(m[0]) {
			continue
		}
		switch name := string(s.clean[m[2]:m[3]]); {
		case u.Member != nil:
			if !aliases[name] && len(aliases) < mostAliases {
				aliases[name] = true
				out = append(out, s.through(name, u)...)
			}
		case u.List:
			out = append(out, s.listed(m[2], m[3])...)
		default:
			out = append(out, span{m[2], m[3]})
		}
	}
	return out
}

// through are the members that are asked of a name: as a word, and not as a member itself.
func (s *source) through(name string, u *platform.Use) []span {
	var out []span
	for at := 0; len(out) < mostAsks; {
		i := bytes.Index(s.skeleton[at:], []byte(name))
		if i < 0 {
			break
		}
		from := at + i
		at = from + len(name)
		if from > 0 && (s.skeleton[from-1] == '.' && !bytes.HasSuffix(s.skeleton[:from], []byte("...")) || isWord(s.skeleton[from-1])) || at < len(s.skeleton) && isWord(s.skeleton[at]) {
			continue
		}
		if m := u.Member.FindSubmatchIndex(s.clean[at:min(len(s.clean), at+mostAfter)]); m != nil {
			if a, b := firstGroup(m); a >= 0 {
				out = append(out, span{at + a, at + b})
			}
		}
	}
	return out
}

func isWord(b byte) bool {
	return b == '_' || b == '$' || b >= '0' && b <= '9' || b >= 'a' && b <= 'z' || b >= 'A' && b <= 'Z'
}

// listed are the names of a list: what is before a colon, an "as" or a default. Quotes around one do not count.
func (s *source) listed(from, to int) []span {
	var out []span
	for at := from; at < to; {
		end := to
		if i := bytes.IndexByte(s.clean[at:to], ','); i >= 0 {
			end = at + i
		}
		part := string(s.clean[at:end])
		word := strings.TrimLeft(part, " \t\r\n'\"")
		begin := at + len(part) - len(word)
		n := 0
		for n < len(word) && isWord(word[n]) {
			n++
		}
		if n > 0 {
			out = append(out, span{begin, begin + n})
		}
		at = end + 1
	}
	return out
}

// judge judges what a source asks for in one way.
func (a *pass) judge(k asker, u *platform.Use, l loaded, faces []platform.Face) {
	found := l.found[u.Pattern]
	if !u.Named {
		for _, at := range l.src.typedAt(u, found) {
			a.ask(k.site, u, l.src, at.from, at.to, faces)
		}
		return
	}
	for _, m := range found {
		if m[2] >= 0 && !l.src.inString(m[0]) {
			styled := (&ask{use: u, from: m[2], to: m[3]}).askedBeside(l.src)
			a.references = append(a.references, reference{k, u, l.file, string(l.src.clean[m[2]:m[3]]), len(styled) > 0})
		}
	}
}
