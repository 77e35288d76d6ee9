import android.content.Context;
import android.content.res.Resources;
import android.graphics.Typeface;
import android.widget.TextView;
import androidx.core.content.res.ResourcesCompat;
import com.skerryferries.app.AppType;

/** Runs the generated code on roles with all that a role can have. */
public class Dressed {
    public static void main(String[] args) {
        Context context = new Context() {
            public Resources getResources() { return new Resources(); }
        };
        for (AppType.Role role : AppType.Role.values()) {
            TextView view = new TextView(context);
            AppType.INSTANCE.apply(view, role);
            String face = view.face == Typeface.SERIF ? "serif" : view.face == Typeface.MONOSPACE ? "mono" : view.face == Typeface.DEFAULT ? "default" : "own";
            System.out.println(role + ": " + face + " " + view.size + " " + (view.unit == 2 ? "sp" : "dp") + " line " + view.line + " tracking " + view.spacing + " colour "
                + Integer.toHexString(view.colour) + " shadow " + view.shadow);
        }
    }
}
