package android.util;

public class TypedValue {
    public static final int COMPLEX_UNIT_DIP = 1;
    public static final int COMPLEX_UNIT_SP = 2;

    /** A screen of three pixels a unit. */
    public static float applyDimension(int unit, float value, DisplayMetrics metrics) { return 3 * value; }
}
