package androidx.core.content.res;

import android.content.Context;
import android.content.res.Resources;
import android.graphics.Typeface;

/** Knows the font resources that a test put in; returns null or throws for others, as the real one may. */
public final class ResourcesCompat {
    public static final java.util.Map<Integer, Typeface> fonts = new java.util.HashMap<>();
    public static boolean throwsOnMissing;

    public static Typeface getFont(Context context, int id) throws Resources.NotFoundException {
        Typeface face = fonts.get(id);
        if (face == null && throwsOnMissing) {
            throw new Resources.NotFoundException();
        }
        return face;
    }
}
