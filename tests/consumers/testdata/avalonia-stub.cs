// Stand-ins for the parts of Avalonia that generated and template code uses.
using System;
using System.Collections.Generic;

namespace Avalonia
{
    public class AppBuilder
    {
        public static AppBuilder Configure<T>() where T : Application, new() { return new AppBuilder(); }
        public AppBuilder UsePlatformDetect() { return this; }
        public AppBuilder LogToTrace() { return this; }
        public AppBuilder ConfigureFonts(Action<Media.FontManager> with) { with(Media.FontManager.Current); return this; }
        public void StartWithClassicDesktopLifetime(string[] args) { }
    }

    public class Application
    {
        public object ApplicationLifetime { get; set; }
        public virtual void Initialize() { }
        public virtual void OnFrameworkInitializationCompleted() { }
    }
}

namespace Avalonia.Controls.ApplicationLifetimes
{
    public interface IClassicDesktopStyleApplicationLifetime { Window MainWindow { get; set; } }
}

namespace Avalonia.Markup.Xaml
{
    public static class AvaloniaXamlLoader { public static void Load(object o) { } }
}

namespace Avalonia.Controls
{
    public class Control { public List<string> Classes { get; } = new List<string>(); }
    public class Window : Control { }
}

namespace Avalonia.Media
{
    public enum FontWeight { Thin = 100, ExtraLight = 200, Light = 300, Normal = 400, Medium = 500, SemiBold = 600, Bold = 700, ExtraBold = 800, Black = 900 }
    public enum FontStyle { Normal, Italic, Oblique }
    public enum FontStretch { UltraCondensed = 1, ExtraCondensed, Condensed, SemiCondensed, Normal, SemiExpanded, Expanded, ExtraExpanded, UltraExpanded }

    // Takes an address apart as the framework does: more than one # cannot be read, and a
    // comma begins another family.
    public class FontFamily
    {
        public string Text { get; }
        public string Name { get; }
        public static FontFamily Default { get; } = new FontFamily("$Default");
        public FontFamily(string text)
        {
            string[] parts = text.Split(',')[0].Split('#');
            if (parts.Length > 2) throw new ArgumentException("Couldn't parse " + text);
            Text = text;
            Name = parts[parts.Length - 1].Trim();
            if (parts.Length == 2 && !parts[0].StartsWith("/")) new Uri(parts[0].Trim(), UriKind.Absolute);
        }
    }

    public struct Typeface
    {
        public FontFamily FontFamily { get; }
        public FontWeight Weight { get; }
        public FontStyle Style { get; }
        public FontStretch Stretch { get; }
        public Typeface(FontFamily family, FontStyle style, FontWeight weight, FontStretch stretch)
        {
            FontFamily = family; Style = style; Weight = weight; Stretch = stretch;
        }
    }

    public interface IGlyphTypeface { string FamilyName { get; } }

    public class FontManager
    {
        private class Found : IGlyphTypeface { public string FamilyName { get; set; } }
        public static FontManager Current { get; } = new FontManager();
        public static string Lost;
        public bool TryGetGlyphTypeface(Typeface face, out IGlyphTypeface found)
        {
            found = new Found { FamilyName = face.FontFamily.Name };
            return face.FontFamily.Name != Lost;
        }
        public void AddFontCollection(Fonts.EmbeddedFontCollection c) { Console.WriteLine("collection " + c.Key + " " + c.Source); }
    }
}

namespace Avalonia.Media.Fonts
{
    public class EmbeddedFontCollection
    {
        public Uri Key, Source;
        public EmbeddedFontCollection(Uri key, Uri source) { Key = key; Source = source; }
    }
}

namespace Skerry.Desk
{
    public partial class MainWindow { private void InitializeComponent() { } }
}
