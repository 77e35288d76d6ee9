// Stand-ins for the parts of WinUI that generated and template code uses.
using System;
using System.Collections.Generic;

namespace Microsoft.UI.Xaml
{
    public class Style { public string Key; }
    public class LaunchActivatedEventArgs { }
    public class Application
    {
        public static Application Current = new Application();
        public class Dictionary { public object this[string key] { get { return new Style { Key = key }; } } }
        public Dictionary Resources = new Dictionary();
        protected virtual void OnLaunched(LaunchActivatedEventArgs args) { }
    }
    public class Window { public void Activate() { } }
}

namespace Microsoft.UI.Xaml.Controls
{
    public class TextBlock { public Style Style; }
    public class Control { public Style Style; }
}

namespace Microsoft.UI.Xaml.Media
{
    public class FontFamily { public string Source; public FontFamily(string text) { Source = text; } }
}

namespace Skerry.Pilot
{
    public partial class MainWindow { private void InitializeComponent() { } }
    public partial class App { private void InitializeComponent() { } }
}

public static class Use
{
    public static void Main()
    {
        foreach (var f in typeof(Skerry.Pilot.AppType.Families).GetFields())
            Console.WriteLine(((Microsoft.UI.Xaml.Media.FontFamily)f.GetValue(null)).Source);
        foreach (var r in Skerry.Pilot.AppType.All)
        {
            var block = new Microsoft.UI.Xaml.Controls.TextBlock();
            var control = new Microsoft.UI.Xaml.Controls.Control();
            r.Dress(block);
            r.Dress(control);
            Console.WriteLine(block.Style.Key + " " + control.Style.Key);
        }
        Console.WriteLine(Skerry.Pilot.AppType.Report());
    }
}
