// Stand-ins for the parts of .NET MAUI that generated and template code uses.
using System;
using System.Collections.Generic;

namespace Microsoft.Maui
{
    public interface IFontRegistrar { string GetFont(string font); }
}

namespace Microsoft.Maui.Hosting
{
    public interface IFontCollection { }

    public static class FontCollectionExtensions
    {
        public static IFontCollection AddFont(this IFontCollection fonts, string filename, string alias = null)
        {
            Console.WriteLine(filename + " as " + alias);
            return fonts;
        }
    }

    public class MauiApp
    {
        public static MauiAppBuilder CreateBuilder() { return new MauiAppBuilder(); }
    }

    public class MauiAppBuilder
    {
        private class Fonts : IFontCollection { }

        public MauiAppBuilder UseMauiApp<T>() { return this; }

        public MauiAppBuilder ConfigureFonts(Action<IFontCollection> configure) { configure(new Fonts()); return this; }

        public MauiApp Build() { return new MauiApp(); }
    }
}

namespace Microsoft.Maui.Graphics
{
    public class Color
    {
        private string text;

        public static Color FromArgb(string text) { return new Color { text = text }; }

        public override string ToString() { return text; }
    }

    public struct Point
    {
        private readonly double x, y;

        public Point(double x, double y) { this.x = x; this.y = y; }

        public override string ToString() { return x + "," + y; }
    }
}

namespace Microsoft.Maui.Controls
{
    public class BindableProperty { public string Name; }

    public class Label
    {
        private static BindableProperty Make(string name) { return new BindableProperty { Name = name }; }

        public static readonly BindableProperty FontFamilyProperty = Make("FontFamily");
        public static readonly BindableProperty FontSizeProperty = Make("FontSize");
        public static readonly BindableProperty FontAutoScalingEnabledProperty = Make("FontAutoScalingEnabled");
        public static readonly BindableProperty CharacterSpacingProperty = Make("CharacterSpacing");
        public static readonly BindableProperty LineHeightProperty = Make("LineHeight");
        public static readonly BindableProperty ShadowProperty = Make("Shadow");
        public static readonly BindableProperty TextColorProperty = Make("TextColor");
    }

    public class Brush { }

    public class SolidColorBrush : Brush
    {
        private readonly Microsoft.Maui.Graphics.Color color;

        public SolidColorBrush(Microsoft.Maui.Graphics.Color color) { this.color = color; }

        public override string ToString() { return color.ToString(); }
    }

    public class Shadow
    {
        public Brush Brush;
        public Microsoft.Maui.Graphics.Point Offset;
        public float Radius, Opacity;

        public override string ToString() { return "Shadow Brush=" + Brush + " Offset=" + Offset + " Radius=" + Radius + " Opacity=" + Opacity; }
    }

    public class Setter { public BindableProperty Property; public object Value; }

    public class Style
    {
        public readonly IList<Setter> Setters = new List<Setter>();

        public Style(Type targetType) { }
    }

    public class Page { }

    public class ContentPage : Page { }

    public class Application { public Page MainPage; }
}

namespace Skerry.Board
{
    public partial class App { private void InitializeComponent() { } }

    public partial class DeparturePage { private void InitializeComponent() { } }
}
