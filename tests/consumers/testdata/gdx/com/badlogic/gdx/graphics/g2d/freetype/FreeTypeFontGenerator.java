package com.badlogic.gdx.graphics.g2d.freetype;

import com.badlogic.gdx.graphics.Color;
import com.badlogic.gdx.graphics.Texture.TextureFilter;

public class FreeTypeFontGenerator {
    public static class FreeTypeFontParameter {
        public int size = 16;
        public boolean mono;
        public Color color = Color.WHITE;
        public float borderWidth = 0;
        public Color borderColor = Color.BLACK;
        public int shadowOffsetX, shadowOffsetY;
        public Color shadowColor = new Color(0x000000c0);
        public int spaceX, spaceY;
        public String characters = "";
        public TextureFilter minFilter = TextureFilter.Nearest, magFilter = TextureFilter.Nearest;

        @Override
        public String toString() {
            return "size " + size + " mono " + mono + " colour " + color + " border " + borderWidth + " " + borderColor + " shadow " + shadowOffsetX + " " + shadowOffsetY + " "
                + shadowColor + " space " + spaceX + " " + spaceY + " filters " + minFilter + " " + magFilter;
        }
    }
}
