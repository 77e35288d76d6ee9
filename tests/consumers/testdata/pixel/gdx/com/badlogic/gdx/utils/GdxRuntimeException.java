package com.badlogic.gdx.utils;

public class GdxRuntimeException extends RuntimeException {
    private static final long serialVersionUID = 1;

    public GdxRuntimeException(String message) { super(message); }
}
