// Prints what the assembly exports, and every style.
using System;
using System.Reflection;
using Xamarin.Forms;

public static class Use
{
    public static void Main()
    {
        foreach (ExportFontAttribute a in typeof(Skerry.Crew.AppType).Assembly.GetCustomAttributes(typeof(ExportFontAttribute), false))
            Console.WriteLine(a.File + " as " + a.Alias);
        Console.WriteLine(typeof(Skerry.Crew.AppType).GetMethod("Report")?.Invoke(null, null)); // not before aliases
        foreach (FieldInfo f in typeof(Skerry.Crew.AppType).GetFields())
            foreach (var s in ((Style)f.GetValue(null)).Setters)
                Console.WriteLine(f.Name + "Type " + s.Property.Name + " " + s.Value);
    }
}
