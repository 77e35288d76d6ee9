// Stand-ins for the parts of Xamarin.Forms that generated and template code uses.
using System;
using System.Collections.Generic;



namespace Xamarin.Forms
{
    public class BindableProperty { public string Name; }

    public class Label
    {
        private static BindableProperty Make(string name) { return new BindableProperty { Name = name }; }

        public static readonly BindableProperty FontFamilyProperty = Make("FontFamily");
        public static readonly BindableProperty FontSizeProperty = Make("FontSize");
        public static readonly BindableProperty CharacterSpacingProperty = Make("CharacterSpacing");
        public static readonly BindableProperty LineHeightProperty = Make("LineHeight");
        public static readonly BindableProperty TextColorProperty = Make("TextColor");
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

namespace Skerry.Crew
{
    public partial class App { private void InitializeComponent() { } }

    public partial class WatchPage { private void InitializeComponent() { } }
}

namespace Xamarin.Forms
{
    [AttributeUsage(AttributeTargets.Assembly, AllowMultiple = true)]
    public class ExportFontAttribute : Attribute
    {
        public ExportFontAttribute(string file) { File = file; }

        public string File { get; }

        public string Alias { get; set; }
    }

    public class Color
    {
        private string text;

        public static Color FromHex(string text) { return new Color { text = text }; }

        public override string ToString() { return text; }
    }

    public static class Device
    {
        public const string iOS = "iOS";
        public const string Android = "Android";

        public static string RuntimePlatform { get { return Environment.GetEnvironmentVariable("PLATFORM"); } }
    }
}
