using Avalonia.Controls;

namespace Skerry.Desk
{
    /// <summary>What the clerk at the ticket desk sees.</summary>
    public partial class MainWindow : Window
    {
        public MainWindow()
        {
            InitializeComponent();
        }
    }
}
