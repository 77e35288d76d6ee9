// A stand-in for the parts of Godot that generated code in C# uses, and a program that runs it.
using System;

namespace Godot
{
    public class Resource { public string Path; }

    public class Font : Resource { public string GetFontName() { return "Skerry Sans"; } }

    public class LabelSettings : Resource { public Font Font = new Font(); }

    public class DynamicFont : Resource { public Resource FontData = new Resource(); }

    public static class GD
    {
        public static T Load<T>(string path) where T : class
        {
            if (path.Contains("body"))
            {
                return null;
            }
            var found = Activator.CreateInstance<T>();
            ((Resource)(object)found).Path = path;
            return found;
        }

        public static void PushError(string text) { Console.WriteLine("error " + text); }
    }
}

public static class Use
{
    public static void Main()
    {
        foreach (var p in typeof(AppType).GetProperties())
        {
            var r = (Godot.Resource)p.GetValue(null, null);
            Console.WriteLine(p.Name + " " + (r == null ? "nothing" : r.GetType().Name + " " + r.Path));
        }
        Console.WriteLine(AppType.Report());
        foreach (var f in typeof(AppType).GetFields())
        {
            Console.WriteLine(f.Name + " " + f.GetValue(null));
        }
    }
}
