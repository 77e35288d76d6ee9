// Runs what the template and the generated class do, and prints every role.
using System;
using Avalonia.Controls;
using Avalonia.Media;

public static class Use
{
    public static void Main(string[] args)
    {
        Skerry.Desk.Program.BuildAvaloniaApp();
        foreach (var r in Skerry.Desk.AppType.All)
        {
            var c = new Control();
            r.Dress(c);
            Console.WriteLine(c.Classes[0] + " FontFamily " + r.Typeface.FontFamily.Text);
            Console.WriteLine(c.Classes[0] + " FontSize " + r.Size.ToString(System.Globalization.CultureInfo.InvariantCulture));
            Console.WriteLine(c.Classes[0] + " FontWeight " + r.Typeface.Weight);
            Console.WriteLine(c.Classes[0] + " FontStyle " + r.Typeface.Style);
            FontManager.Lost = r.Name;
            Console.WriteLine(c.Classes[0] + " missing " + string.Join("; ", Skerry.Desk.AppType.Missing()));
            Console.WriteLine(Skerry.Desk.AppType.Report());
            FontManager.Lost = null;
        }
        Console.WriteLine("missing: " + string.Join("; ", Skerry.Desk.AppType.Missing()));
    }
}
