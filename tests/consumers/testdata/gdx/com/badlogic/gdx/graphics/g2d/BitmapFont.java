package com.badlogic.gdx.graphics.g2d;

public class BitmapFont {
    private int disposed;
    private final BitmapFontData data = new BitmapFontData();

    public static class Glyph { public int xadvance = 8; }

    public static class BitmapFontData {
        public float lineHeight = 30, ascent = 5, spaceXadvance = 8;
        private final Glyph space = new Glyph();

        public Glyph getGlyph(char ch) { return ch == ' ' ? space : null; }

        public void setLineHeight(float height) { lineHeight = height; }
    }

    public BitmapFontData getData() { return data; }

    public void draw(SpriteBatch batch, CharSequence text, float x, float y) {}

    public void dispose() {
        if (++disposed > 1) {
            throw new IllegalStateException("disposed twice");
        }
        System.out.println("disposed");
    }
}
