import com.badlogic.gdx.Application.ApplicationType;
import com.badlogic.gdx.Gdx;
import com.badlogic.gdx.Graphics;
import com.badlogic.gdx.assets.AssetManager;
import com.badlogic.gdx.graphics.g2d.BitmapFont;
import skerry.mooring.AppType;

/** Runs the generated code: on a phone of twice the density, then on a desk. */
public class Use {
    public static void main(String[] arguments) {
        Gdx.graphics = new Graphics() {
            public float getDensity() { return 2; }

            public int getWidth() { return 800; }

            public int getBackBufferWidth() { return 800; }
        };
        Gdx.app = () -> ApplicationType.Android;
        AssetManager manager = new AssetManager();
        AppType.load(manager);
        try {
            AppType.values()[0].font(manager);
        } catch (IllegalStateException early) {
            System.out.println(early.getMessage());
        }
        manager.finishLoading();
        for (AppType role : AppType.values()) {
            BitmapFont.BitmapFontData data = role.font(manager).getData();
            System.out.println(role + " line " + data.lineHeight + " ascent " + data.ascent + " space " + data.spaceXadvance + " " + data.getGlyph(' ').xadvance);
        }
        System.out.println(AppType.report(manager));
        AppType.unload(manager);
        AppType.unload(manager);
        Gdx.app = () -> ApplicationType.Desktop;
        System.out.println("desk " + AppType.screenScale());
    }
}
