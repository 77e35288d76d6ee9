package sfnt

// GlyphIn finds a character in one subtable of a character map.
func GlyphIn(sub []byte, r rune) int { return (&Glyphs{sub: sub, count: 1000}).index(r) }

// Tags lists the font's tables in ascending order.
func (f *Font) Tags() []Tag {
	tags := make([]Tag, len(f.tables))
	for i, t := range f.tables {
		tags[i] = t.tag
	}
	return tags
}
