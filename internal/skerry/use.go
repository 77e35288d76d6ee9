package skerry

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

// written is what a developer writes into an app's code to show the role body.
type written struct{ file, old, text string }

// uses are written once the fonts are registered: before that, nothing of it compiles.
var uses = []written{
	{"android/app/src/main/res/layout/departures.xml", "        android:text=\"@string/next_boat\"", "        android:text=\"@string/next_boat\"\n        android:textAppearance=\"@style/TextAppearance.AppType.Body\""},
	{"beacon/main.c", "#include <pango/pangocairo.h>\n", "#include <pango/pangocairo.h>\n\n#include \"apptype/apptype.h\"\n"},
	{"beacon/main.c", "  pango_layout_set_text", "  app_type_load (\"apptype/fonts\", NULL);\n  pango_layout_set_font_description (layout, app_type_body ());\n  pango_layout_set_text"},
	{"board/DeparturePage.xaml", "FontSize=\"28\"", "Style=\"{StaticResource BodyType}\""},
	{"cargo/src/cargo/CargoList.java", "        add(new JLabel(\"12 crates for Holm\"));", "        JLabel crates = new JLabel(\"12 crates for Holm\");\n        SwingType.BODY.dress(crates);\n        add(crates);"},
	{"chart/Chart.qml", "import QtQuick 2.15\n", "import QtQuick 2.15\nimport AppType 1.0\n"},
	{"chart/Chart.qml", "        text: \"Holm", "        font: AppType.body\n        text: \"Holm"},
	{"crew/Crew/WatchPage.xaml", "FontSize=\"28\"", "Style=\"{StaticResource BodyType}\""},
	{"deckgame/lib/main.dart", "import 'package:flutter/material.dart';\n", "import 'package:flutter/material.dart';\n\nimport 'app_type.dart';\n"},
	{"deckgame/lib/main.dart", "TextStyle(fontSize: 28)", "AppType.body"},
	{"desk/MainWindow.axaml", "<TextBlock Text=", "<TextBlock Classes=\"type-body\" Text="},
	{"fleet/App.tsx", "import {SafeAreaView, StyleSheet, Text} from 'react-native';\n", "import {SafeAreaView} from 'react-native';\n\nimport {AppText} from './AppType';\n"},
	{"fleet/App.tsx", "<Text style={styles.title}>Three boats out</Text>", "<AppText use=\"body\">Three boats out</AppText>"},
	{"fleet/App.tsx", "\nconst styles = StyleSheet.create({\n  title: {fontSize: 28},\n});\n", ""},
	{"gangway/app/main-page.xml", "<Label text=", "<Label class=\"type-body\" text="},
	{"gate/main/gate.c", "#include \"lvgl.h\"\n", "#include \"lvgl.h\"\n\n#include \"app_type.h\"\n"},
	{"gate/main/gate.c", "    lv_label_set_text", "    app_type_style_body(title);\n    lv_label_set_text"},
	{"harbour/Harbour/HarbourApp.swift", "Text(\"Harbour\")", "Text(\"Harbour\").appType(.body)"},
	{"heritage/src/Kiosk.mxml", "<s:Label text=", "<s:Label styleName=\"typeBody\" text="},
	{"ios/SkerryFerries/DeparturesView.swift", "Text(departure.quay).font(.body)", "Text(departure.quay).appType(.body)"},
	{"jetty/src/main.cpp", "#include <U8g2lib.h>\n", "#include <U8g2lib.h>\n\n#include \"apptype/app_type.h\"\n"},
	{"jetty/src/main.cpp", "u8g2_font_10x20_tf", "APP_TYPE_BODY"},
	{"kiosk/Desk.tsx", "import {Text, View} from 'react-native';\n", "import {View} from 'react-native';\n\nimport {AppText} from './AppType';\n"},
	{"kiosk/Desk.tsx", "<Text style={{fontSize: 28}}>Next boat: 07:40, Holm</Text>", "<AppText use=\"body\">Next boat: 07:40, Holm</AppText>"},
	{"lamps/lamps.py", "            words = pygame.font.SysFont(None, 28).render(island, True, (255, 255, 255))\n            screen.blit(words, (100, 66 + n * 90))\n", "            app_type.BODY.draw(screen, island, (100, 66 + n * 90))\n"},
	{"lamps/lamps.py", "import pygame\n", "import pygame\n\nimport app_type\n"},
	{"lookout/MainWindow.xaml", "<TextBlock Text=", "<TextBlock Style=\"{StaticResource BodyType}\" Text="},
	{"mooring/core/src/main/java/skerry/mooring/Mooring.java", "        font = new BitmapFont();", "        AppType.load(assets);\n        assets.finishLoading();\n        font = AppType.BODY.font(assets);"},
	{"office/Office/AppDelegate.m", "#import <Cocoa/Cocoa.h>\n", "#import <Cocoa/Cocoa.h>\n\n#import \"AppType.h\"\n"},
	{"office/Office/AppDelegate.m", "[NSFont boldSystemFontOfSize:28]", "[AppType body]"},
	{"pier/src/main/java/com/skerryferries/pier/ArrivalsBoard.java", "        next.setId(\"next\");", "        AppType.BODY.dress(next);\n        next.setId(\"next\");"},
	{"pilot/MainWindow.xaml", "<TextBlock Text=", "<TextBlock Style=\"{StaticResource BodyType}\" Text="},
	{"sonar/main.c", "#include <SDL_ttf.h>\n", "#include <SDL_ttf.h>\n\n#include \"apptype/apptype.h\"\n"},
	{"sonar/main.c", "    while (running", "    if (app_type_load(NULL, 1) != 0)\n    {\n        SDL_Log(\"%s\", SDL_GetError());\n        return 1;\n    }\n    SDL_BlitSurface(app_type_render(APP_TYPE_BODY, \"12 m\"), NULL, SDL_GetWindowSurface(window), NULL);\n    SDL_UpdateWindowSurface(window);\n    while (running"},
	{"stow/main.lua", "local crates =", "local apptype = require(\"apptype\")\n\nlocal crates ="},
	{"stow/main.lua", "  love.graphics.print(\"Stow the cargo\", 40, 40)", "  apptype.body:draw(\"Stow the cargo\", 40, 40)"},
	{"tide/tide.py", "        window.set_child(Gtk.Label(label=\"High water at 11:52\"))", "        app_type.style()\n        label = Gtk.Label(label=\"High water at 11:52\")\n        label.add_css_class(\"type-body\")\n        window.set_child(label)"},
	{"timetable/composeApp/src/commonMain/kotlin/com/skerryferries/timetable/App.kt", "BasicText(\"07:40 Holm\")", "BasicText(\"07:40 Holm\", style = AppTextStyles.body)"},
	{"watch/app.js", "g.setFont(\"6x8\", 2);", "require(\"app_type\");\ng.setFontBody();"},
	{"waves/sketch.js", "function setup() {", "function preload() {\n  AppType.load();\n}\n\nfunction setup() {"},
	{"waves/sketch.js", "  text('Tides of the week', 40, 60);", "  AppType.body.text('Tides of the week', 40, 60);"},
	{"web/index.html", "  <p>Six islands", "  <p class=\"type-body\">Six islands"},
}

// Use lets the apps of a sample show the role body, as their developers write it: in those that are in the folder. It
// returns the files that it changed.
func Use(dir string) ([]string, error) {
	var files []string
	for _, w := range uses {
		name := filepath.Join(dir, filepath.FromSlash(w.file))
		text, err := os.ReadFile(name)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return files, err
		}
		if done := strings.Contains(string(text), w.text); done && w.text != "" || w.text == "" && !strings.Contains(string(text), w.old) {
			continue // of an earlier time
		}
		if n := strings.Count(string(text), w.old); n != 1 {
			return files, fmt.Errorf("%s: expected one %q, found %d", w.file, w.old, n)
		}
		if err := os.WriteFile(name, []byte(strings.Replace(string(text), w.old, w.text, 1)), 0o644); err != nil {
			return files, err
		}
		if len(files) == 0 || files[len(files)-1] != w.file {
			files = append(files, w.file)
		}
	}
	return files, nil
}
