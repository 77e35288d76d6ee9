package com.badlogic.gdx.assets.loaders;

import com.badlogic.gdx.assets.AssetLoaderParameters;
import com.badlogic.gdx.assets.AssetManager;

/** Of the stand-in: the real one has other abstract parts. */
public abstract class AssetLoader<T, P extends AssetLoaderParameters<T>> {
    public abstract T make(AssetManager manager, String name, P parameter);
}
