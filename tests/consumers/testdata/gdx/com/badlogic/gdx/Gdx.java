package com.badlogic.gdx;

public class Gdx {
    public static Application app;
    public static Graphics graphics;
}
