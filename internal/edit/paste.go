package edit

import (
	"fmt"
	"strings"
)

// Paste is what a person writes into a manifest so that it holds entries, where
// Notaria leaves the file alone: the exact text, or, for a project file, what to do
// in its editor. "" if there is nothing to write.
func Paste(syntax string, want []Entry) string {
	var places []string
	by := map[string][]Entry{}
	for _, e := range want {
		if by[e.Place] == nil {
			places = append(places, e.Place)
		}
		by[e.Place] = append(by[e.Place], e)
	}
	var lines []string
	for _, place := range places {
		lines = append(lines, pasteAt(syntax, place, by[place])...)
	}
	if len(lines) > 0 && syntax == SyntaxPubspec {
		lines = append([]string{"flutter:", "  fonts:"}, lines...)
	}
	return strings.Join(lines, "\n")
}

func pasteAt(syntax, place string, list []Entry) []string {
	kind, name, _ := strings.Cut(place, ":")
	switch syntax {
	case SyntaxPlist:
		return pastePlist(place, list)
	case SyntaxProject:
		return pasteProject(kind, name, list)
	case SyntaxPubspec:
		out := []string{"    - family: " + yamlScalar(name), "      fonts:"}
		for _, e := range list {
			out = append(out, assetLines(e, 8)...)
		}
		return out
	case SyntaxAppJSON:
		if keys := strings.Split(place, "."); len(keys) > 1 {
			return []string{"among the properties of " + fontPlugin + ": " + strings.Join(trimAll(nested(keys, each(list, func(e Entry) string {
				if place == PlaceAndroidFonts {
					return e.Value
				}
				return quoteJSON(e.Value)
			}), "")), " ")}
		}
		return []string{`"plugins": [[` + quoteJSON(fontPlugin) + `, {"fonts": [` + strings.Join(each(list, func(e Entry) string { return quoteJSON(e.Value) }), ", ") + `]}]]`}
	case SyntaxAddFont:
		return each(list, func(e Entry) string {
			return fmt.Sprintf("fonts.AddFont(%s, %s);", QuoteSharp(e.Value), QuoteSharp(name))
		})
	case SyntaxXML:
		return each(list, func(e Entry) string { return elementText(place, e.Value) })
	case SyntaxSource:
		return each(list, func(e Entry) string { return e.Value })
	case SyntaxPackage:
		return each(list, func(e Entry) string { return "resources: [.process(" + quoteSwift(e.Value) + ")]" })
	case SyntaxByHand:
		return []string{place}
	}
	return nil
}

func each(list []Entry, text func(Entry) string) []string {
	out := make([]string, len(list))
	for i, e := range list {
		out[i] = text(e)
	}
	return out
}

func pastePlist(place string, list []Entry) []string {
	if key, isString := strings.CutPrefix(place, PlaceString); isString {
		return []string{"<key>" + EscapeXML(key) + "</key>", "<string>" + EscapeXML(list[0].Value) + "</string>"}
	}
	out := []string{"<key>" + EscapeXML(place) + "</key>", "<array>"}
	out = append(out, each(list, func(e Entry) string { return "\t<string>" + EscapeXML(e.Value) + "</string>" })...)
	return append(out, "</array>")
}

// pasteProject says what to do in the project editor: nobody writes such a file by
// hand.
func pasteProject(kind, name string, list []Entry) []string {
	files := strings.Join(each(list, func(e Entry) string { return e.Value }), ", ")
	switch kind {
	case settingKind:
		return []string{"set in the build settings of the target " + name + ": " + files}
	case referenceKind:
		return []string{"add to the project, without a target: " + files}
	case membershipKind:
		return []string{"tick the target " + name + " under Target Membership of: " + files}
	}
	return []string{"add to the " + phases[kind].name + " phase of the target " + name + ": " + files}
}
