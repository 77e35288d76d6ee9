package skerry.mooring.lwjgl3;

import com.badlogic.gdx.backends.lwjgl3.Lwjgl3Application;
import com.badlogic.gdx.backends.lwjgl3.Lwjgl3ApplicationConfiguration;
import skerry.mooring.Mooring;

/** Starts the game on a desk. */
public class Launcher {
    public static void main(String[] arguments) {
        new Lwjgl3Application(new Mooring(), new Lwjgl3ApplicationConfiguration());
    }
}
