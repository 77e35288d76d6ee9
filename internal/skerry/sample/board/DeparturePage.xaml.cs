using Microsoft.Maui.Controls;

namespace Skerry.Board
{
	/// <summary>The board on the jetty.</summary>
	public partial class DeparturePage : ContentPage
	{
		public DeparturePage()
		{
			InitializeComponent();
		}
	}
}
