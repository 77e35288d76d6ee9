import android.content.Context;
import android.content.res.Resources;
import android.graphics.Typeface;
import android.widget.TextView;
import com.skerryferries.app.AppType;

/** Runs code that has nothing but the platform: a face that is there, and one that is not. */
public class Plain {
    public static void main(String[] args) {
        Context context = new Context() {
            public Resources getResources() { return new Resources(); }
        };
        Resources.raw.put(com.skerryferries.app.R.font.skerry_sans_bold, new byte[20_000]);
        TextView view = new TextView(context);
        AppType.INSTANCE.apply(view, AppType.Role.HEADING);
        System.out.println("there: " + (view.face != Typeface.SERIF) + " " + Typeface.files + " line " + view.line);
        AppType.INSTANCE.apply(view, AppType.Role.BODY);
        System.out.println("missing: " + (view.face == Typeface.DEFAULT));
    }
}
