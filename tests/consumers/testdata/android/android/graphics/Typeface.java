package android.graphics;

import android.content.res.AssetManager;

/** Knows the assets that a test put in, and throws for others, as the real one does. */
public class Typeface {
    public static final Typeface DEFAULT = new Typeface();
    public static final Typeface SANS_SERIF = new Typeface();
    public static final Typeface SERIF = new Typeface();
    public static final Typeface MONOSPACE = new Typeface();
    public static final java.util.Map<String, Typeface> assets = new java.util.HashMap<>();

    /** A face of a family, which says what it is. */
    public static Typeface create(Typeface family, int weight, boolean italic) {
        System.out.println("created " + weight + " " + italic);
        return family;
    }

    /** How many bytes each face from a file had. */
    public static final java.util.List<Long> files = new java.util.ArrayList<>();

    public static Typeface createFromFile(java.io.File file) {
        files.add(file.length());
        return new Typeface();
    }

    public static Typeface createFromAsset(AssetManager manager, String path) {
        Typeface face = assets.get(path);
        if (face == null) {
            throw new RuntimeException("Font asset not found " + path);
        }
        return face;
    }
}
