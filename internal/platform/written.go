package platform

import (
	"strings"

	"notaria/internal/edit"
	"notaria/internal/lazy"
)

// general are the syntaxes in which an entry can be any line, element or key. For each,
// what platforms write in it besides what names a font file or generated code. The other
// syntaxes know fonts alone by themselves.
var general = map[string]*lazy.Pattern{
	"source": lazy.Regexp(`^(?:implementation\(compose\.components\.resources\)|import [\w.]+\.(?:ReactFontManager|R);?|ReactFontManager\.getInstance\(\)\.addCustomFont\(.*\);?|\w+[ (]+["']com\.badlogicgames\.gdx:gdx-freetype(?:-platform)?:[^"'\n]*["']\)?)$`),
	"plist":  lazy.Regexp(`^(?:UIAppFonts|ATSApplicationFontsPath)$`),
	"xml":    lazy.Regexp(`^$`),
	// An app's list of files, whose own ones no ledger takes out.
	"storage": lazy.Regexp(`^$`),
}

// generated is in the names of all generated code.
var generated = lazy.Regexp(`(?i)app[_-]?(?:type|text)`)

// Writes says whether an entry is one that a platform can have written. A ledger is a
// claim that anybody can write: what it lists beyond this is not taken out of a manifest.
func Writes(e edit.Entry) bool {
	form, ok := general[e.Syntax]
	if !ok || e.Value == "" { // what was made around entries goes only when it is empty
		return true
	}
	text := e.Value
	if e.Syntax == "plist" {
		return form.MatchString(e.Place.Name)
	}
	return form.MatchString(text) || generated.MatchString(text) || LooksLikeFont(strings.Trim(text, `"');`)) || fontIn.MatchString(text)
}

// fontIn finds a font file's name in a line.
var fontIn = lazy.Regexp(`(?i)\.(?:ttf|otf|ttc|otc|woff2?)\b`)
