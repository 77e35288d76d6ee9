using Xamarin.Forms;

namespace Skerry.Crew
{
    public partial class App : Application
    {
        public App()
        {
            InitializeComponent();
            MainPage = new WatchPage();
        }
    }
}
