package com.badlogic.gdx.graphics.g2d.freetype;

import com.badlogic.gdx.assets.AssetLoaderParameters;
import com.badlogic.gdx.assets.AssetManager;
import com.badlogic.gdx.assets.loaders.AssetLoader;
import com.badlogic.gdx.assets.loaders.FileHandleResolver;
import com.badlogic.gdx.graphics.g2d.BitmapFont;

/** A stand-in that records what it was asked for. */
public class FreetypeFontLoader extends AssetLoader<BitmapFont, FreetypeFontLoader.FreeTypeFontLoaderParameter> {
    public static class FreeTypeFontLoaderParameter extends AssetLoaderParameters<BitmapFont> {
        public String fontFileName;
        public FreeTypeFontGenerator.FreeTypeFontParameter fontParameters = new FreeTypeFontGenerator.FreeTypeFontParameter();
    }

    private final FileHandleResolver resolver;

    public FreetypeFontLoader(FileHandleResolver resolver) { this.resolver = resolver; }

    @Override
    public BitmapFont make(AssetManager manager, String name, FreeTypeFontLoaderParameter parameter) {
        System.out.println(name + " of " + resolver.resolve(parameter.fontFileName).path() + ": " + parameter.fontParameters);
        int[] sorted = parameter.fontParameters.characters.codePoints().distinct().sorted().toArray();
        System.out.println(name + " has " + sorted.length + ": " + new String(sorted, 1, sorted.length - 1));
        return new BitmapFont();
    }
}
