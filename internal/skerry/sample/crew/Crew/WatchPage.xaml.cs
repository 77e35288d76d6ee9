using Xamarin.Forms;

namespace Skerry.Crew
{
    /// <summary>Who is on watch, on each boat.</summary>
    public partial class WatchPage : ContentPage
    {
        public WatchPage()
        {
            InitializeComponent();
        }
    }
}
