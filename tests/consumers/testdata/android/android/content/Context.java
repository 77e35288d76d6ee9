package android.content;

public abstract class Context {
    public abstract android.content.res.Resources getResources();

    public Context getApplicationContext() { return this; }

    public java.io.File getCacheDir() { return new java.io.File(System.getProperty("java.io.tmpdir")); }

    public android.content.res.AssetManager getAssets() { return new android.content.res.AssetManager(); }
}
