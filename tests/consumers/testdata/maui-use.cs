// Runs what the template and the generated class do, and prints every style.
using System;
using System.Reflection;
using Microsoft.Maui.Controls;

public class Services : IServiceProvider, Microsoft.Maui.IFontRegistrar
{
    public object GetService(Type type) { return type == typeof(Microsoft.Maui.IFontRegistrar) ? this : null; }

    public string GetFont(string font) { return font == "SkerrySans-Bold" ? null : "/fonts/" + font; }
}

public static class Use
{
    public static void Main()
    {
        Skerry.Board.MauiProgram.CreateMauiApp();
        Console.WriteLine(Skerry.Board.AppType.Report(new Services()));
        foreach (FieldInfo f in typeof(Skerry.Board.AppType).GetFields())
            foreach (var s in ((Style)f.GetValue(null)).Setters)
                Console.WriteLine(f.Name + "Type " + s.Property.Name + " " + s.Value);
    }
}
