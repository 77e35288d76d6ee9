package com.badlogic.gdx.graphics.g2d.freetype;

import com.badlogic.gdx.assets.AssetLoaderParameters;
import com.badlogic.gdx.assets.AssetManager;
import com.badlogic.gdx.assets.loaders.AssetLoader;
import com.badlogic.gdx.assets.loaders.FileHandleResolver;

public class FreeTypeFontGeneratorLoader extends AssetLoader<FreeTypeFontGenerator, FreeTypeFontGeneratorLoader.FreeTypeFontGeneratorParameters> {
    public static class FreeTypeFontGeneratorParameters extends AssetLoaderParameters<FreeTypeFontGenerator> { }

    public FreeTypeFontGeneratorLoader(FileHandleResolver resolver) { }

    @Override
    public FreeTypeFontGenerator make(AssetManager manager, String name, FreeTypeFontGeneratorParameters parameter) { return new FreeTypeFontGenerator(); }
}
