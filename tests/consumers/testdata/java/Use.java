import android.content.Context;
import android.content.res.Resources;
import android.graphics.Typeface;
import android.widget.TextView;
import androidx.core.content.res.ResourcesCompat;
import com.skerryferries.app.AppType;

/** Runs the generated Kotlin: a face that is there, one that is null, one that throws. */
public class Use {
    public static void main(String[] args) {
        Context context = new Context() {
            public Resources getResources() { return new Resources(); }
        };
        Typeface bold = new Typeface();
        ResourcesCompat.fonts.put(com.skerryferries.app.R.font.skerry_sans_bold, bold);
        TextView view = new TextView(context);
        AppType.INSTANCE.apply(view, AppType.Role.HEADING);
        System.out.println("there: " + (view.face == bold) + " " + view.size + " " + view.unit);
        AppType.INSTANCE.apply(view, AppType.Role.BODY);
        System.out.println("null: " + (view.face == Typeface.DEFAULT));
        System.out.println(AppType.INSTANCE.report(context));
        ResourcesCompat.throwsOnMissing = true;
        System.out.println("throws: " + (AppType.INSTANCE.typeface(context, AppType.Role.BODY) == Typeface.DEFAULT));
    }
}
