package android.graphics;

public class Paint {
    public static class FontMetricsInt {
    }

    public int getFontMetricsInt(FontMetricsInt into) { return 10; }
}
