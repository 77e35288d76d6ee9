using System.Windows;

namespace Skerry.Lookout
{
    /// <summary>What the lookout has seen.</summary>
    public partial class MainWindow : Window
    {
        public MainWindow()
        {
            InitializeComponent();
        }
    }
}
