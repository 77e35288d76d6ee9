package android.content;

public abstract class Context {
    public abstract android.content.res.Resources getResources();
}
