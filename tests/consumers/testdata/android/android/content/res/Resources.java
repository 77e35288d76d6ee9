package android.content.res;

public class Resources {
    public static class NotFoundException extends RuntimeException {
        private static final long serialVersionUID = 1;
    }

    /** The bytes of resources that a test put in; others are not there. */
    public static final java.util.Map<Integer, byte[]> raw = new java.util.HashMap<>();

    public java.io.InputStream openRawResource(int id) {
        byte[] bytes = raw.get(id);
        if (bytes == null) {
            throw new NotFoundException();
        }
        return new java.io.ByteArrayInputStream(bytes);
    }

    /** From API 26. */
    public android.graphics.Typeface getFont(int id) { return android.graphics.Typeface.DEFAULT; }

    public android.util.DisplayMetrics getDisplayMetrics() { return new android.util.DisplayMetrics(); }
}
