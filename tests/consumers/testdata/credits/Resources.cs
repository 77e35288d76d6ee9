using System;
using System.Collections;
using System.Resources;
using System.Text;

/// <summary>Prints a string of a .resx as .NET reads it. usage: Resources.exe FILE NAME</summary>
static class Resources
{
    static int Main(string[] args)
    {
        Console.OutputEncoding = new UTF8Encoding(false);
        using (var reader = new ResXResourceReader(args[0]))
        {
            foreach (DictionaryEntry entry in reader)
            {
                if ((string)entry.Key == args[1])
                {
                    Console.Write((string)entry.Value + "\n");
                    return 0;
                }
            }
        }
        return 1;
    }
}
