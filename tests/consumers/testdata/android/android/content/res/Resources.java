package android.content.res;

public class Resources {
    public static class NotFoundException extends RuntimeException {}
}
