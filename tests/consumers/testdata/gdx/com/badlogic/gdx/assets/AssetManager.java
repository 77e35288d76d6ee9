package com.badlogic.gdx.assets;

import com.badlogic.gdx.assets.loaders.AssetLoader;
import com.badlogic.gdx.assets.loaders.FileHandleResolver;
import com.badlogic.gdx.files.FileHandle;
import com.badlogic.gdx.graphics.g2d.BitmapFont;
import java.util.LinkedHashMap;
import java.util.Map;

/** A stand-in that makes what was queued, by the loader of its type and ending. */
public class AssetManager {
    private final Map<String, AssetLoader<?, ?>> loaders = new LinkedHashMap<>();
    private final Map<String, Object> loaded = new LinkedHashMap<>();
    private final Map<String, Runnable> queue = new LinkedHashMap<>();

    public FileHandleResolver getFileHandleResolver() { return FileHandle::new; }

    public <T, P extends AssetLoaderParameters<T>> void setLoader(Class<T> type, AssetLoader<T, P> loader) { setLoader(type, null, loader); }

    public <T, P extends AssetLoaderParameters<T>> void setLoader(Class<T> type, String suffix, AssetLoader<T, P> loader) {
        loaders.put(type.getSimpleName() + " " + (suffix == null ? "" : suffix), loader);
    }

    @SuppressWarnings("unchecked")
    public synchronized <T> void load(String fileName, Class<T> type, AssetLoaderParameters<T> parameter) {
        AssetLoader<T, AssetLoaderParameters<T>> loader = (AssetLoader<T, AssetLoaderParameters<T>>) loaders.get(type.getSimpleName() + " " + fileName.substring(fileName.lastIndexOf('.')));
        if (loader == null || loaders.get("FreeTypeFontGenerator ") == null) {
            throw new IllegalStateException("no loader for " + fileName);
        }
        queue.put(fileName, () -> {
            loaded.put(fileName, loader.make(this, fileName, parameter));
            if (parameter.loadedCallback != null) {
                parameter.loadedCallback.finishedLoading(this, fileName, type);
            }
        });
    }

    public void finishLoading() {
        queue.values().forEach(Runnable::run);
        queue.clear();
    }

    public boolean isLoaded(String fileName) { return loaded.containsKey(fileName); }

    public <T> T get(String fileName, Class<T> type) { return type.cast(loaded.get(fileName)); }

    public void unload(String fileName) { ((BitmapFont) loaded.remove(fileName)).dispose(); }

    public void dispose() { }
}
