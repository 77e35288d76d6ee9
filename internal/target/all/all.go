// Package all lists the platforms. Adding one is a package and a line here.
package all

import (
	"notaria/internal/target"
	"notaria/internal/target/android"
	"notaria/internal/target/apple"
	"notaria/internal/target/board"
	"notaria/internal/target/dotnet"
	"notaria/internal/target/flex"
	"notaria/internal/target/flutter"
	"notaria/internal/target/godot"
	"notaria/internal/target/gtk"
	"notaria/internal/target/javafx"
	"notaria/internal/target/libgdx"
	"notaria/internal/target/p5"
	"notaria/internal/target/qt"
	"notaria/internal/target/reactnative"
	"notaria/internal/target/sdl"
	"notaria/internal/target/web"
)

// Targets are all platforms, in the order in which people meet them.
var Targets = []target.Target{
	apple.Target{},
	android.Target{},
	flutter.Target{},
	reactnative.Target{},
	reactnative.Expo{},
	dotnet.Maui{},
	dotnet.Xamarin{},
	dotnet.Avalonia{},
	dotnet.WPF{},
	dotnet.WinUI{},
	javafx.Target{},
	javafx.Swing{},
	flex.Target{},
	web.Target{},
	qt.Target{},
	gtk.Target{},
	godot.Target{},
	libgdx.Target{},
	p5.Target{},
	sdl.Love{},
	sdl.Pygame{},
	sdl.SDL{},
	board.LVGL{},
	board.U8g2{},
	board.Espruino{},
	board.Display{},
}

// Named finds a platform by its one-word name.
func Named(name string) (target.Target, bool) {
	for _, t := range Targets {
		if t.About().Name == name {
			return t, true
		}
	}
	return nil, false
}
