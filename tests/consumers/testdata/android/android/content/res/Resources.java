package android.content.res;

public class Resources {
    public static class NotFoundException extends RuntimeException {
        private static final long serialVersionUID = 1;
    }

    public android.util.DisplayMetrics getDisplayMetrics() { return new android.util.DisplayMetrics(); }
}
