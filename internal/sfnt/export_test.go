package sfnt

// GlyphIn finds a character in one subtable of a character map.
func GlyphIn(sub []byte, r rune) int { return (&Glyphs{sub: sub, count: 1000}).index(r) }
