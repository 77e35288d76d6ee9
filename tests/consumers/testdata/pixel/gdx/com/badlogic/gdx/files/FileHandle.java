package com.badlogic.gdx.files;

import java.io.File;

public class FileHandle {
    public final File file;

    public FileHandle(File file) { this.file = file; }

    public FileHandle sibling(String name) { return new FileHandle(new File(file.getParentFile(), name)); }
}
