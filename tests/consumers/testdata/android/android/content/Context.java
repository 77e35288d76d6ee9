package android.content;

public abstract class Context {
    public abstract android.content.res.Resources getResources();

    public Context getApplicationContext() { return this; }

    public android.content.res.AssetManager getAssets() { return new android.content.res.AssetManager(); }
}
