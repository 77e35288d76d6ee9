package android.util;

public class DisplayMetrics {
    public float density = 2;
}
