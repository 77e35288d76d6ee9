package android.widget;

import android.content.Context;
import android.content.res.Resources;
import android.graphics.Typeface;

public class TextView {
    private final Context context;
    public Typeface face;
    public int unit;
    public float size;
    public float spacing;
    public int colour;
    public int line;
    public String shadow = "none";

    public TextView(Context context) { this.context = context; }

    public final Context getContext() { return context; }

    public Resources getResources() { return context.getResources(); }

    public Typeface getTypeface() { return face; }

    public void setTypeface(Typeface face) { this.face = face; }

    public void setTextSize(int unit, float size) { this.unit = unit; this.size = size; }

    public float getLetterSpacing() { return spacing; }

    public void setLetterSpacing(float spacing) { this.spacing = spacing; }

    public void setShadowLayer(float radius, float x, float y, int colour) {
        this.shadow = radius + " " + x + " " + y + " " + Integer.toHexString(colour);
    }

    /** Of a font whose lines are 10 pixels high. */
    public android.graphics.Paint getPaint() { return new android.graphics.Paint(); }

    public void setLineSpacing(float add, float mult) { this.line = 10 + (int) add; }

    public void setTextColor(int colour) { this.colour = colour; }
}
