package com.badlogic.gdx.graphics;

import com.badlogic.gdx.files.FileHandle;
import java.awt.image.BufferedImage;
import java.io.IOException;
import javax.imageio.ImageIO;

public class Texture {
    public enum TextureFilter { Nearest, Linear }

    public final BufferedImage image;

    public Texture(FileHandle file) {
        try {
            image = ImageIO.read(file.file);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    public void setFilter(TextureFilter min, TextureFilter mag) { System.out.println("filters " + min + " " + mag); }
}
