package android.support.v4.content.res;

import android.content.Context;
import android.graphics.Typeface;

/** The library before AndroidX. */
public final class ResourcesCompat {
    public static Typeface getFont(Context context, int id) { return Typeface.DEFAULT; }
}
