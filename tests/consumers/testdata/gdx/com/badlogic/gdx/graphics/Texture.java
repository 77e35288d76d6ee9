package com.badlogic.gdx.graphics;

public class Texture {
    public enum TextureFilter { Nearest, Linear }
}
