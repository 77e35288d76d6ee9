using Microsoft.Maui.Controls;

namespace Skerry.Board
{
	public partial class App : Application
	{
		public App()
		{
			InitializeComponent();
			MainPage = new DeparturePage();
		}
	}
}
