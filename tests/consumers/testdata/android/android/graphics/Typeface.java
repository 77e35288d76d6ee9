package android.graphics;

public class Typeface {
    public static final Typeface DEFAULT = new Typeface();
}
