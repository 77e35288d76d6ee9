// Package all lists the platforms. Adding one is a package and a line here.
package all

import (
	"notaria/internal/platform"
	"notaria/internal/platform/android"
	"notaria/internal/platform/apple"
	"notaria/internal/platform/board"
	"notaria/internal/platform/dotnet"
	"notaria/internal/platform/flex"
	"notaria/internal/platform/flutter"
	"notaria/internal/platform/godot"
	"notaria/internal/platform/gtk"
	"notaria/internal/platform/javafx"
	"notaria/internal/platform/libgdx"
	"notaria/internal/platform/nativescript"
	"notaria/internal/platform/p5"
	"notaria/internal/platform/qt"
	"notaria/internal/platform/reactnative"
	"notaria/internal/platform/sdl"
	"notaria/internal/platform/web"
)

// Platforms are all of them, in the order in which people meet them.
var Platforms = []platform.Platform{
	apple.Platform{},
	android.Platform{},
	flutter.Platform{},
	reactnative.Platform{},
	reactnative.Expo{},
	nativescript.Platform,
	dotnet.Maui,
	dotnet.Xamarin,
	dotnet.Avalonia,
	dotnet.WPF,
	dotnet.WinUI,
	javafx.Platform,
	javafx.Swing,
	flex.Platform,
	web.Platform{},
	qt.Platform,
	gtk.Platform,
	godot.Platform,
	libgdx.Platform,
	p5.Platform,
	sdl.Love,
	sdl.Pygame,
	sdl.SDL,
	board.LVGL,
	board.U8g2,
	board.Espruino,
	board.Display,
}

// Named finds a platform by its one-word name.
func Named(name string) (platform.Platform, bool) {
	for _, t := range Platforms {
		if t.About().Name == name {
			return t, true
		}
	}
	return nil, false
}
