package androidx.core.widget;

import android.widget.TextView;

public final class TextViewCompat {
    public static void setLineHeight(TextView view, int pixels) { view.line = pixels; }
}
