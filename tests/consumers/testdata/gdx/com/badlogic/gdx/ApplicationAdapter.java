package com.badlogic.gdx;

public abstract class ApplicationAdapter {
    public void create() {}

    public void render() {}

    public void dispose() {}
}
