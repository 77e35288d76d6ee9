// Runs what the template and the generated class do.
using System;

public static class Use
{
    public static void Main()
    {
        Skerry.Board.MauiProgram.CreateMauiApp();
        foreach (var s in Skerry.Board.AppType.Heading.Setters)
            Console.WriteLine(s.Property.Name + " " + s.Value);
    }
}
