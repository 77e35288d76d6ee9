package android.widget;

import android.content.Context;
import android.graphics.Typeface;

public class TextView {
    private final Context context;
    public Typeface face;
    public int unit;
    public float size;

    public TextView(Context context) { this.context = context; }

    public final Context getContext() { return context; }

    public Typeface getTypeface() { return face; }

    public void setTypeface(Typeface face) { this.face = face; }

    public void setTextSize(int unit, float size) { this.unit = unit; this.size = size; }
}
