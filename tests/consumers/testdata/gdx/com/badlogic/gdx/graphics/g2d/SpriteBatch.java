package com.badlogic.gdx.graphics.g2d;

public class SpriteBatch {
    public void begin() {}

    public void end() {}

    public void dispose() {}
}
