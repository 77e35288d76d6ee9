import android.content.Context;
import android.content.res.Resources;
import android.graphics.Typeface;
import com.skerryferries.app.AppType;

/** Runs the generated code of a module that keeps its fonts as assets. */
public class Assets {
    public static void main(String[] args) {
        Context context = new Context() {
            public Resources getResources() { return new Resources(); }
        };
        Typeface bold = new Typeface();
        Typeface.assets.put("fonts/SkerrySans-Bold.ttf", bold);
        System.out.println("heading: " + (AppType.INSTANCE.typeface(context, AppType.Role.HEADING) == bold));
        System.out.println("body: " + (AppType.INSTANCE.typeface(context, AppType.Role.BODY) == Typeface.DEFAULT));
    }
}
