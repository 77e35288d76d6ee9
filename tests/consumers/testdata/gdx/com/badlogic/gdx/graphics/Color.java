package com.badlogic.gdx.graphics;

public class Color {
    private final int rgba;

    public static final Color WHITE = new Color(0xffffffff), BLACK = new Color(0x000000ff);

    public Color(int rgba8888) { this.rgba = rgba8888; }

    @Override
    public String toString() { return String.format("%08x", rgba); }
}
