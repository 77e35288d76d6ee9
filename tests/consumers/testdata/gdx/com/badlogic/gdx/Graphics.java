package com.badlogic.gdx;

public interface Graphics {
    float getDensity();

    int getWidth();

    int getBackBufferWidth();
}
