package android.app;

public class Application extends android.content.Context {
    public void onCreate() { }

    public android.content.res.Resources getResources() { return new android.content.res.Resources(); }
}
