package com.badlogic.gdx.graphics.g2d;

import com.badlogic.gdx.graphics.Texture;

public class TextureRegion {
    public final Texture texture;

    public TextureRegion(Texture texture) { this.texture = texture; }
}
