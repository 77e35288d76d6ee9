package shape

import (
	"slices"

	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype/tables"
)

// mostWords is how many ligatures of words are listed of a font.
const mostWords = 4000

// leastWord is how many letters a ligature has at least that is a word: fi, ffl and their like are none.
const leastWord = 4

// Words are the texts that ligatures of the face make one glyph of, where they are names, as fonts of icons have them: letters of ASCII, digits
// and underscores, in the order of the alphabet. A font that has a few such ligatures is no font of icons, and gets none.
func (f *Face) Words() []string {
	if !f.listed {
		f.words, f.listed = f.listWords(), true
	}
	return f.words
}

func (f *Face) listWords() []string {
	chars := map[font.GID]byte{}
	for c := byte(' '); c < 0x7F; c++ {
		if g := f.Paths.Index(rune(c)); g != 0 && (c == '_' || c >= '0' && c <= '9' || c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z') {
			chars[font.GID(g)] = c
		}
	}
	var out []string
	for _, l := range f.face.GSUB.Lookups {
		for _, s := range l.Subtables {
			subs, ok := s.(tables.LigatureSubs)
			if !ok {
				continue
			}
			for g, c := range chars {
				if i, covered := subs.Coverage.Index(tables.GlyphID(g)); covered && i < len(subs.LigatureSets) {
					out = append(out, wordsOf(subs.LigatureSets[i], c, chars)...)
				}
			}
		}
	}
	slices.Sort(out)
	if out = slices.Compact(out); len(out) < 10 {
		return nil
	}
	return out[:min(len(out), mostWords)]
}

func wordsOf(set tables.LigatureSet, first byte, chars map[font.GID]byte) (out []string) {
	for _, l := range set.Ligatures {
		if len(l.ComponentGlyphIDs)+1 < leastWord {
			continue
		}
		word := []byte{first}
		for _, g := range l.ComponentGlyphIDs {
			if c, ok := chars[font.GID(g)]; ok {
				word = append(word, c)
			}
		}
		if len(word) == len(l.ComponentGlyphIDs)+1 {
			out = append(out, string(word))
		}
	}
	return out
}
