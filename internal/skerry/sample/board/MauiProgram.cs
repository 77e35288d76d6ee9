using Microsoft.Maui.Hosting;

namespace Skerry.Board
{
	public static class MauiProgram
	{
		public static MauiApp CreateMauiApp()
		{
			var builder = MauiApp.CreateBuilder();
			builder
				.UseMauiApp<App>()
				.ConfigureFonts(fonts =>
				{
					// fonts.AddFont("Capstan.ttf", "Capstan");
				});

			return builder.Build();
		}
	}
}
