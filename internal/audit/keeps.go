package audit

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/edit/splice"
	"notaria/internal/face"
	"notaria/internal/notary"
	"notaria/internal/platform"
)

// keepFace makes sure that what shows after a mending is what the name meant: a family's name in the place of a bold
// face's leads to the regular one, unless the weight is asked for beside it. Where the platform's own way to ask for it
// is known it is written there, else the change is left to a person. elsewhere says that the name is followed from
// where it is used, and that a weight is asked for there.
func (a *pass) keepFace(k *ask, src *source, faces []platform.Face, followed, elsewhere bool) {
	if k.mending.Empty() || k.answer.Fault != platform.UnknownFace && k.answer.Fault != platform.FileAsName || platform.LooksLikeFont(k.answer.Instead) {
		return
	}
	asked := k.askedBeside(src)
	if len(asked) == 0 && elsewhere {
		asked = []string{"bold"} // or another one: it is not asked for here
	}
	meant, ok := faceMeant(k.typed, faces)
	switch {
	case !ok && saysStyle(k.typed) && !saysStyle(k.answer.Instead):
		k.leave("no face of that name is there: choose one that is")
	case !ok:
		k.keepFamily(asked, faces)
	case isOwnName(k.answer.Instead, meant) || meant.Variable:
	default:
		family := a.called(k.site, k.answer.Instead, faces)
		if len(family) == 0 {
			family = familyNamed(meant.Family, faces) // the app has its own name for the family
		}
		k.keepStyle(src, family, meant, asked, followed)
	}
}

// called are the faces that a name leads to: a family's, or one that the app gives to fonts.
func (a *pass) called(s notary.SitePlan, name string, faces []platform.Face) []platform.Face {
	out := familyNamed(name, faces)
	for _, h := range a.held[siteKey(s)] {
		if h.Alias == name {
			for _, f := range faces {
				if f.File == h.File {
					out = append(out, f)
				}
			}
		}
	}
	return out
}

// keepFamily is keepFace for a name that is no face's, in whose place that of one face comes: with a weight beside it,
// the family's face of that weight was meant.
func (k *ask) keepFamily(asked []string, faces []platform.Face) {
	one := slices.IndexFunc(faces, func(f platform.Face) bool { return isOwnName(k.answer.Instead, f) && f.Family != k.answer.Instead })
	if one < 0 || len(asked) == 0 || isOwnName(k.typed, faces[one]) { // the last is an address that has the face's file in it
		return
	}
	if f := chosen(familyNamed(faces[one].Family, faces), asked); f.ID() != faces[one].ID() || !isRegular(f) {
		name := strings.ReplaceAll(k.answer.Instead, faces[one].ID(), f.ID()) // also within an address
		k.leave(platform.Choose(name, nil) + ", and take out " + strings.Join(asked, " and ") + ": that is one face, which has its weight")
	}
}

// keepStyle is keepFace for the name of a face, in whose place that of its family comes.
func (k *ask) keepStyle(src *source, family []platform.Face, meant platform.Face, asked []string, followed bool) {
	if got := chosen(family, asked); got.Weight == meant.Weight && got.Slant == meant.Slant {
		return
	}
	words := styleOf(meant)
	if file, _, address := strings.Cut(k.answer.Instead, "#"); address && platform.LooksLikeFont(file) {
		k.leave(fmt.Sprintf("write the address of the file that has %s, with its family behind #", words))
		return
	}
	if k.use.Beside == nil || len(asked) > 0 || followed {
		k.leave(platform.Choose(k.answer.Instead, nil) + ", and ask for " + words + " beside it")
		return
	}
	more, ok := src.insertion(k.from, k.to, k.use.Sep, k.use.Beside(meant))
	if !ok {
		k.leave(platform.Choose(k.answer.Instead, nil) + ", and ask for " + words + " beside it")
		return
	}
	k.mending.Edits = append(k.mending.Edits, platform.Edit{File: src.file, Edit: more})
	k.answer.Cure = platform.Choose(k.answer.Instead, nil) + ", with " + strings.Join(k.use.Beside(meant), " and ")
}

// leave makes the mending a step for a person.
func (k *ask) leave(cure string) { k.mending, k.answer.Cure = platform.Mending{}, cure }

// askedBeside are the weights and slants that are asked for in the same brackets as the name, but for regular ones.
func (k *ask) askedBeside(src *source) []string {
	var out []string
	add := func(word string) {
		for _, w := range strings.Split(word, "|") {
			if weight, italic, ok := platform.StyleWord(w); ok && (italic || weight > 0) {
				out = append(out, w)
			}
		}
	}
	if k.use.Styles != nil {
		if from, to, ok := src.between(k.from, k.use.Bracket, closing[k.use.Bracket]); ok {
			for _, m := range k.use.Styles.FindAllSubmatchIndex(src.clean[from:to], mostAsks) {
				if at, end := firstGroup(m); at >= 0 && (k.use.Bracket == '<' || !src.nested(from, from+m[0])) {
					add(string(src.clean[from+at : from+end]))
				}
			}
		}
	}
	if k.use.Weight != nil {
		if from, to, ok := src.around(k.from); ok {
			for _, m := range k.use.Weight.FindAllSubmatchIndex(src.clean[from:to], mostAsks) {
				if !src.nested(from, from+m[0]) {
					add(string(src.clean[from+m[4] : from+m[5]]))
				}
			}
		}
	}
	if k.use.After != nil {
		if _, to, ok := src.between(k.from, '(', ')'); ok {
			behind := src.clean[to:min(len(src.clean), to+mostAfter)]
			if at, end := firstGroup(k.use.After.FindSubmatchIndex(behind)); at >= 0 {
				add(string(behind[at:end]))
			}
		}
	}
	return out
}

// mostAfter is how far behind a call it is looked for what is asked for on top of it, in bytes.
const mostAfter = 80

// firstGroup is the first group of a match that took part in it.
func firstGroup(m []int) (from, to int) {
	for i := 2; i+1 < len(m); i += 2 {
		if m[i] >= 0 {
			return m[i], m[i+1]
		}
	}
	return -1, -1
}

// plainName is a name without what people leave out or put in when they type it.
func plainName(s string) string {
	if platform.LooksLikeFont(s) {
		s = strings.TrimSuffix(path.Base(s), path.Ext(s))
	}
	return strings.Map(func(r rune) rune {
		if r == ' ' || r == '-' || r == '_' {
			return -1
		}
		return r
	}, strings.ToLower(s))
}

// goneName says whether a name is that of a font which a manifest of the app names, and which is not there: the name has
// no other cause.
func (a *pass) goneName(s notary.SitePlan, typed string) bool {
	key := siteKey(s)
	gone, known := a.gone[key]
	if !known {
		for _, h := range a.held[key] {
			if _, planned := a.missing[h.File]; planned || !h.Strict || h.File != "" && a.p.Tree.There(h.File) {
				continue
			}
			for _, n := range []string{h.Alias, h.Name, h.Value} {
				if plain := plainName(path.Base(strings.ReplaceAll(n, `\`, "/"))); plain != "" && plain != "." {
					gone = append(gone, plain)
				}
			}
		}
		a.gone[key] = gone
	}
	return slices.Contains(gone, plainName(typed))
}

// isOwnName says whether a name is one face's, in whatever way it is written: also as a resource, or as an address that
// has the face's file in it.
func isOwnName(name string, f platform.Face) bool {
	if file, _, address := strings.Cut(name, "#"); address && platform.LooksLikeFont(file) {
		name = file
	}
	plain := plainName(strings.TrimPrefix(name, "@font/"))
	return slices.ContainsFunc(append(platform.NamesOfFile(f), f.ID(), f.Full), func(n string) bool { return n != "" && plainName(n) == plain })
}

// faceMeant is the face that a name means, which is no family's; false if it could be one of several.
func faceMeant(typed string, faces []platform.Face) (platform.Face, bool) {
	typed = strings.TrimSpace(typed[strings.LastIndexByte(typed, '#')+1:]) // of an address
	plain := plainName(typed)
	var meant []platform.Face
	for _, f := range faces {
		if plain == plainName(f.Family) && !isRegular(f) {
			continue // a face that is called as its family is
		}
		if isOwnName(typed, f) && !slices.ContainsFunc(meant, func(m platform.Face) bool { return m.Weight == f.Weight && m.Slant == f.Slant }) {
			meant = append(meant, f)
		}
	}
	if len(meant) != 1 {
		return platform.Face{}, false
	}
	return meant[0], true
}

func isRegular(f platform.Face) bool { return f.Weight == 400 && f.Slant == face.Upright }

// saysStyle says whether a name has a word of a weight or of a slant other than the regular ones.
func saysStyle(name string) bool {
	return slices.ContainsFunc(styleParts(name), func(w string) bool {
		weight, italic, ok := platform.StyleWord(w)
		return ok && (italic || weight > 0 && weight != 400)
	})
}

// styleParts are the words of a name behind the first.
func styleParts(name string) []string {
	if platform.LooksLikeFont(name) {
		name = strings.TrimSuffix(name, path.Ext(name))
	}
	words := strings.FieldsFunc(name, func(r rune) bool { return r == ' ' || r == '-' || r == '_' })
	return words[min(1, len(words)):]
}

// chosen is the face of a family that shows for weights and slants that are asked for: of the slant, the nearest weight.
func chosen(family []platform.Face, asked []string) platform.Face {
	weight, slanted := 400, false
	for _, word := range asked {
		n, italic, ok := platform.StyleWord(word)
		if ok && n > 0 {
			weight = n
		}
		slanted = slanted || italic
	}
	var best platform.Face
	least := -1
	for _, f := range family {
		d := max(f.Weight-weight, weight-f.Weight)
		if (f.Slant != face.Upright) != slanted {
			d += 2000
		}
		if least < 0 || d < least {
			best, least = f, d
		}
	}
	return best
}

// styleOf says which weight and slant a face has.
func styleOf(f platform.Face) string {
	words := fmt.Sprintf("weight %d", f.Weight)
	if f.Slant != face.Upright {
		words += ", " + string(f.Slant)
	}
	return words
}

// insertion writes further properties behind the one whose value is at a place, as it is written itself: on lines of
// their own, or on the same line. false where it is not known where that one ends.
func (s *source) insertion(from, to int, sep string, more []string) (splice.Edit, bool) {
	end := to
	if from > 0 && end < len(s.text) && s.text[end] == s.text[from-1] && strings.IndexByte("\"'`", s.text[end]) >= 0 {
		end++
	}
	if sep == ";" { // of a style sheet: behind the list
		n := bytes.IndexAny(s.skeleton[end:min(len(s.skeleton), end+mostBraces)], ";{}")
		if n < 0 || s.skeleton[end+n] == '{' {
			return splice.Edit{}, false
		}
		end += len(bytes.TrimRight(s.clean[end:end+n], " \t\r\n"))
	}
	begin := bytes.LastIndexByte(s.text[:from], '\n') + 1
	line := s.text[begin:from]
	indent := line[:len(line)-len(bytes.TrimLeft(line, " \t"))]
	gap := " "
	if ownLine(line) {
		gap = "\n" + string(indent)
		if begin > 1 && s.text[begin-2] == '\r' {
			gap = "\r" + gap
		}
	} else if sep == "" && strings.Contains(more[0], ":") { // QML: two on one line
		sep = ";"
	}
	var out strings.Builder
	for _, m := range more {
		out.WriteString(sep + gap + m)
	}
	return splice.Replace(end, end, out.String()), true
}

// ownLine says whether what stands in front of a value on its line is nothing but its property.
func ownLine(line []byte) bool {
	line = bytes.TrimRight(bytes.TrimSpace(line), `"'`)
	line = bytes.TrimSpace(line)
	if n := len(line); n == 0 || line[n-1] != ':' && line[n-1] != '=' {
		return false
	}
	return len(bytes.TrimLeft(bytes.TrimSpace(line[:len(line)-1]), "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ.-_")) == 0
}
