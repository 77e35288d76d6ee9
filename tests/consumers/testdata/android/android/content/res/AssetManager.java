package android.content.res;

public class AssetManager {
}
