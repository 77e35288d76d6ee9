// Stand-ins for the parts of .NET MAUI that generated and template code uses.
using System;
using System.Collections.Generic;

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

        public MauiAppBuilder ConfigureFonts(Action<IFontCollection> configure) { configure(new Fonts()); return this; }

        public MauiApp Build() { return new MauiApp(); }
    }
}

namespace Microsoft.Maui.Controls
{
    public class BindableProperty { public string Name; }

    public class Label
    {
        public static readonly BindableProperty FontFamilyProperty = new BindableProperty { Name = "FontFamily" };
        public static readonly BindableProperty FontSizeProperty = new BindableProperty { Name = "FontSize" };
        public static readonly BindableProperty FontAutoScalingEnabledProperty = new BindableProperty { Name = "FontAutoScalingEnabled" };
    }

    public class Setter { public BindableProperty Property; public object Value; }

    public class Style
    {
        public readonly IList<Setter> Setters = new List<Setter>();

        public Style(Type targetType) { }
    }
}
