// Stand-ins for the parts of WPF that generated and template code uses.
using System;
using System.Collections.Generic;
using System.Windows.Media;

namespace System.Windows
{
    public class DependencyObject { public Dictionary<string, object> Set = new Dictionary<string, object>(); }
    public class Application { }
    public class Window : DependencyObject { }
    public struct FontStyle { public string Name; }
    public static class FontStyles
    {
        public static FontStyle Normal = new FontStyle { Name = "Normal" }, Italic = new FontStyle { Name = "Italic" }, Oblique = new FontStyle { Name = "Oblique" };
    }
    public struct FontStretch { public int N; }
    public static class FontStretches { public static FontStretch Normal, Condensed, SemiCondensed, ExtraCondensed, UltraCondensed, SemiExpanded, Expanded, ExtraExpanded, UltraExpanded; }
    public struct FontWeight
    {
        public int N;
        public static FontWeight FromOpenTypeWeight(int n) { if (n < 1 || n > 999) throw new ArgumentOutOfRangeException(); return new FontWeight { N = n }; }
    }
    public static class SystemFonts { public static FontFamily MessageFontFamily { get { return new FontFamily("Segoe UI"); } } }
}

namespace System.Windows.Media
{
    public class FontFamily
    {
        public string Source { get; }
        public FontFamily(string text) { if (text.Split('#').Length > 2) throw new ArgumentException(text); Source = text; }
    }
    public class GlyphTypeface
    {
        public IDictionary<string, string> FamilyNames = new Dictionary<string, string>(), Win32FamilyNames = new Dictionary<string, string>();
    }
    public class Typeface
    {
        public static string Lost;
        public FontFamily FontFamily; public FontStyle Style; public FontWeight Weight; public FontStretch Stretch;
        public Typeface(FontFamily family, FontStyle style, FontWeight weight, FontStretch stretch) { FontFamily = family; Style = style; Weight = weight; Stretch = stretch; }
        public bool TryGetGlyphTypeface(out GlyphTypeface found)
        {
            string name = FontFamily.Source.Substring(FontFamily.Source.IndexOf('#') + 1);
            found = new GlyphTypeface();
            found.FamilyNames["en-us"] = name == Lost ? "Segoe UI" : name;
            return true;
        }
    }
}

namespace System.Windows.Documents
{
    public static class TextElement
    {
        public static void SetFontFamily(DependencyObject e, FontFamily v) { e.Set["FontFamily"] = v.Source; }
        public static void SetFontWeight(DependencyObject e, FontWeight v) { e.Set["FontWeight"] = v.N; }
        public static void SetFontStyle(DependencyObject e, FontStyle v) { e.Set["FontStyle"] = v.Name; }
        public static void SetFontStretch(DependencyObject e, FontStretch v) { e.Set["FontStretch"] = v.N; }
        public static void SetFontSize(DependencyObject e, double v) { e.Set["FontSize"] = v.ToString(System.Globalization.CultureInfo.InvariantCulture); }
    }
}

namespace Skerry.Lookout
{
    public partial class MainWindow { private void InitializeComponent() { } }
}

public static class Use
{
    public static void Main()
    {
        foreach (var f in typeof(Skerry.Lookout.AppType).GetFields())
        {
            var r = f.GetValue(null) as Skerry.Lookout.AppTypeRole;
            if (r == null) continue;
            var e = new System.Windows.DependencyObject();
            r.Dress(e);
            foreach (string key in new[] { "FontFamily", "FontSize", "FontWeight", "FontStyle" })
                Console.WriteLine(f.Name + "Type " + key + " " + e.Set[key]);
            Typeface.Lost = r.Name;
            Console.WriteLine(f.Name + "Type missing " + string.Join("; ", Skerry.Lookout.AppType.Missing()));
            Typeface.Lost = null;
        }
        Console.WriteLine(Skerry.Lookout.AppType.Report());
        Console.WriteLine("missing: " + string.Join("; ", Skerry.Lookout.AppType.Missing()));
    }
}
