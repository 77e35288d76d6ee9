package skerry.mooring.android;

import android.os.Bundle;
import com.badlogic.gdx.backends.android.AndroidApplication;
import skerry.mooring.Mooring;

/** Starts the game on a phone. */
public class Launcher extends AndroidApplication {
    @Override
    protected void onCreate(Bundle savedInstanceState) {
        super.onCreate(savedInstanceState);
        initialize(new Mooring());
    }
}
