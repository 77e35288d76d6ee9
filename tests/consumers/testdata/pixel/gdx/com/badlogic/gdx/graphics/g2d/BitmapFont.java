package com.badlogic.gdx.graphics.g2d;

import java.util.HashMap;
import java.util.Map;

/** A stand-in with the fields that fonts are made of, as the library declares them. */
public class BitmapFont {
    public final BitmapFontData data;
    public final TextureRegion region;
    public boolean owns;

    public static class Glyph {
        public int id, srcX, srcY, width, height, xoffset, yoffset, xadvance;
        public final Map<Integer, Integer> kerning = new HashMap<>();

        public void setKerning(int ch, int value) { kerning.put(ch, value); }
    }

    public static class BitmapFontData {
        public float lineHeight, capHeight = 1, ascent, descent, down, xHeight = 1, spaceXadvance;
        public final Map<Integer, Glyph> glyphs = new HashMap<>();

        public void setGlyph(int ch, Glyph glyph) { glyphs.put(ch, glyph); }

        public Glyph getGlyph(char ch) { return glyphs.get((int) ch); }
    }

    public BitmapFont(BitmapFontData data, TextureRegion region, boolean integer) {
        this.data = data;
        this.region = region;
    }

    public void setOwnsTexture(boolean owns) { this.owns = owns; }
}
