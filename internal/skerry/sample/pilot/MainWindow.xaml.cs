using Microsoft.UI.Xaml;

namespace Skerry.Pilot
{
    /// <summary>The way into the harbour.</summary>
    public sealed partial class MainWindow : Window
    {
        public MainWindow()
        {
            InitializeComponent();
        }
    }
}
