using Microsoft.Maui.Hosting;

namespace Skerry.Board
{
	public static class MauiProgram
	{
		public static Microsoft.Maui.Hosting.MauiApp CreateMauiApp()
		{
			var builder = Microsoft.Maui.Hosting.MauiApp.CreateBuilder();
			builder
				.ConfigureFonts(fonts =>
				{
					// fonts.AddFont("Capstan.ttf", "Capstan");
				});

			return builder.Build();
		}
	}
}
