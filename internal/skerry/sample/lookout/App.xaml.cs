using System.Windows;

namespace Skerry.Lookout
{
    public partial class App : Application
    {
    }
}
