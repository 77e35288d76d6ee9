// Runs what the template and the generated class do, and prints every style.
using System;
using System.Reflection;
using Microsoft.Maui.Controls;

public static class Use
{
    public static void Main()
    {
        Skerry.Board.MauiProgram.CreateMauiApp();
        foreach (FieldInfo f in typeof(Skerry.Board.AppType).GetFields())
            foreach (var s in ((Style)f.GetValue(null)).Setters)
                Console.WriteLine(f.Name + "Type " + s.Property.Name + " " + s.Value);
    }
}
