package com.badlogic.gdx.files;

public class FileHandle {
    private final String path;

    public FileHandle(String path) { this.path = path; }

    public boolean exists() { return new java.io.File(System.getProperty("assets"), path).exists(); }

    public String path() { return path; }
}
