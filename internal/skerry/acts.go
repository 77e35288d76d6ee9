package skerry

import (
	"os"
	"path/filepath"
	"strings"
)

// What is done by hand in the story of the demo; each says what it did.

const (
	labelFile   = "ios/SkerryFerries/TicketLabel.swift"
	projectFile = "ios/SkerryFerries.xcodeproj/project.pbxproj"
	labelBefore = "UIFont.boldSystemFont(ofSize: 28)"
	labelWrong  = `UIFont(name: "SkerrySans-Blod", size: 28)`
	labelRight  = `UIFont(name: "SkerrySans-Bold", size: 28)`
)

// Break mistypes a name and takes a font out of the build phase.
func Break(dir string) string {
	replaceIn(dir, labelFile, labelBefore, labelWrong)
	name := filepath.Join(dir, filepath.FromSlash(projectFile))
	text, err := os.ReadFile(name)
	if err != nil {
		return err.Error()
	}
	var kept []string
	for _, l := range strings.SplitAfter(string(text), "\n") {
		if !strings.HasSuffix(strings.TrimSpace(l), "/* SkerrySans-Regular.ttf in Resources */,") {
			kept = append(kept, l)
		}
	}
	if err := os.WriteFile(name, []byte(strings.Join(kept, "")), 0o644); err != nil {
		return err.Error()
	}
	return "  " + labelFile + ": a label asks for \"SkerrySans-Blod\"\n" +
		"  " + projectFile + ":\n    SkerrySans-Regular.ttf is taken out of the resources phase"
}

// Mend corrects the name.
func Mend(dir string) string {
	replaceIn(dir, labelFile, labelWrong, labelRight)
	return "  " + labelFile + ":\n    \"SkerrySans-Blod\" becomes \"SkerrySans-Bold\""
}

// dressing is what the heading gets in notaria.toml, and where it differs.
const dressing = `line-height = 34
tracking = 10 # thousandths of an em
colour = "#0B3D5C"
outline = { width = 1, colour = "#FFFFFF" }
fallback = "serif"

[role.heading.on.android]
size = 30
`

// Dress gives the heading lines, colour and an outline.
func Dress(dir string) string {
	always, differs, _ := strings.Cut(dressing, "\n\n")
	const head = "[role.heading]\nface = \"SkerrySans-Bold\"\n"
	replaceIn(dir, "notaria.toml", head, head+always+"\n")
	name := filepath.Join(dir, "notaria.toml")
	if b, err := os.ReadFile(name); err == nil {
		_ = os.WriteFile(name, append(b, "\n"+differs...), 0o644)
	}
	return "  notaria.toml, [role.heading]: line-height, tracking, colour, outline and fallback;\n    on Android 30 points instead of 28"
}

// lights are the roles of the departure board.
const lights = `[role.departure]
face = "LanternDigits-Regular"
height = 34
of = "digits"
same-width = "digits"
characters = { sets = ["digits"], text = ":" }

[role.quay]
face = "BeaconMono-Regular"
height = 9
of = "capitals"
characters = { sets = ["ascii"], app-strings = true }
`

// Light gives the departure board its roles.
func Light(dir string) string {
	name := filepath.Join(dir, "notaria.toml")
	if b, err := os.ReadFile(name); err == nil {
		_ = os.WriteFile(name, append(b, "\n"+lights...), 0o644)
	}
	return "  notaria.toml: [role.departure] in Lantern Digits, digits 34 pixels high;\n    [role.quay] in Beacon Mono, capitals 9 pixels high"
}

func replaceIn(dir, file, old, text string) {
	name := filepath.Join(dir, filepath.FromSlash(file))
	if b, err := os.ReadFile(name); err == nil {
		_ = os.WriteFile(name, []byte(strings.Replace(string(b), old, text, 1)), 0o644)
	}
}
