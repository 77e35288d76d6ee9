package apple

import (
	"embed"
	"slices"
	"strings"
	"text/template"

	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/setting"
)

//go:embed *.tmpl
var texts embed.FS

var templates = lazy.Of(func() *template.Template { return template.Must(template.ParseFS(texts, "*.tmpl")) })

// taken are the generated types' own members.
var taken = lazy.Words("isThere isFound missing report registered face size style lineHeight tracking colour outlineWidth outlineColour fallback font " +
	"nativeFont attributes lineSpacing scaled swiftColour swiftStyle swiftDesign native systemFont nativeStyle allCases rawValue hash hashValue description")

// member makes a name a legal Swift member.
func member(name, kind string) string {
	if name == "" || name[0] >= '0' && name[0] <= '9' {
		name = kind + name
	}
	switch {
	case taken.Has(name):
		return name + "Type"
	case language.Swift.Reserved.Has(name):
		return "`" + name + "`"
	}
	return name
}

var useWords = []string{"AppType", "appType"}

// shows are the ways of SwiftUI, and of UIKit or AppKit; the one that the app is written with comes first.
func shows(job platform.Job, at platform.Base, swift, objc, mac bool) func(string) []platform.Showing {
	return func(role string) []platform.Showing {
		kit := "UIKit"
		if mac {
			kit = "AppKit"
		}
		var ways []platform.Showing
		if swift {
			ways = []platform.Showing{platform.Way("SwiftUI", `Text("07:40").appType(.{member})`), platform.Way(kit, `label.font = AppType.UI.{member}`)}
			if !at.Holds("import SwiftUI", ".swift") && at.Holds("import "+kit, ".swift") {
				slices.Reverse(ways)
			}
		}
		if objc {
			ways = append(ways, platform.Way("Objective-C", `label.font = [AppType {method}];`))
		}
		code := code{}
		for _, r := range job.Roles {
			code.Roles = append(code.Roles, codeRole{Member: roleMember(r.Name)})
		}
		names := map[string][]string{}
		for _, r := range code.Roles {
			names["member"] = append(names["member"], r.Member)
		}
		code.objectiveC()
		for _, r := range code.Roles {
			names["method"] = append(names["method"], r.Member)
		}
		return platform.Ways(job.Roles, role, names, ways...)
	}
}

func roleMember(role string) string { return member(language.Camel(language.Words(role)), "role") }

// codeFace is a face as code names it.
type codeFace struct{ Member, Pascal, Literal, ObjC string }

// codeRole is a role as code writes it; empty fields are omitted.
type codeRole struct {
	platform.RoleText
	Member, Face, FacePascal, Style, UIStyle, StyleArg, About, Design, ObjCDesign string
}

// code is what the templates of this platform show.
type code struct {
	Public                               string // before what another module may use
	Kit, Font                            string
	ColorClass, StyleType                string
	Both, Mac, Package                   bool
	Old, Older, Oldest                   bool // serves systems before iOS 14, 13 and 11, and their like
	Lengths, Colours, Fallbacks, Shadows bool // some role has one
	Faces                                []codeFace
	Roles                                []codeRole
	Files                                []string
}

// designs are the system's designs by a role's fallback, in Swift and Objective-C.
var designs = map[string][2]string{
	"sans": {".default", "Default"}, "serif": {".serif", "Serif"}, "mono": {".monospaced", "Monospaced"},
}

// newCode puts a job into the words of the templates.
func newCode(job platform.Job, mac, both bool) code {
	data := code{Kit: "UIKit", Font: "UIFont", ColorClass: "UIColor", StyleType: "UIFontTextStyle", Mac: mac && !both, Both: both}
	switch {
	case both:
		data.Kit, data.Font, data.ColorClass, data.StyleType = "UIKit or AppKit", "AppTypeFont", "AppTypeColor", "NSString *"
	case mac:
		data.Kit, data.Font, data.ColorClass = "AppKit", "NSFont", "NSColor"
	}
	members := data.addFaces(job)
	for _, r := range job.Roles {
		role := codeRole{RoleText: r.Text(), Member: roleMember(r.Name), Face: members[r.Face.ID()].Member, FacePascal: members[r.Face.ID()].Pascal,
			About: language.Swift.Comment(r.About("pt")), StyleArg: "nil"}
		style := setting.Nearest(r.Size)
		role.Style, role.UIStyle = style.Swift, "UIFontTextStyle"+style.ObjC
		if r.Scale {
			if role.StyleArg = role.UIStyle; both {
				role.StyleArg = "AppTypeStyle(" + role.UIStyle + ")"
			}
		}
		role.Design = designs[r.Fallback][0]
		role.ObjCDesign = objcDesign(r.Fallback, data.Mac, both)
		data.Lengths = data.Lengths || role.LineHeight != "" || role.Letter != ""
		data.Colours = data.Colours || role.Colour != nil || role.OutlineColour != nil || role.Shadow != nil
		data.Shadows = data.Shadows || role.Shadow != nil
		data.Fallbacks = data.Fallbacks || role.ObjCDesign != ""
		data.Roles = append(data.Roles, role)
	}
	return data
}

// addFaces names each face.
func (c *code) addFaces(job platform.Job) map[string]codeFace {
	names := make([]string, len(job.Faces))
	for i, f := range job.Faces {
		names[i] = language.Camel(language.Words(f.ID()))
	}
	members := map[string]codeFace{}
	for i, name := range language.Unique(names) {
		m := member(name, "face")
		plain := strings.TrimSuffix(strings.Trim(m, "`"), "Type")
		if plain == "" {
			plain = "Type"
		}
		face := codeFace{Member: m, Pascal: strings.ToUpper(plain[:1]) + plain[1:], Literal: language.Swift.Literal(job.Faces[i].PostScript), ObjC: language.ObjectiveC.Literal(job.Faces[i].PostScript)}
		members[job.Faces[i].ID()] = face
		c.Faces = append(c.Faces, face)
	}
	return members
}

// objcDesign names a design in Objective-C, "" for none.
func objcDesign(fallback string, mac, both bool) string {
	d, ok := designs[fallback]
	switch {
	case !ok:
		return ""
	case both:
		return "AppTypeDesign(" + d[1] + ")"
	case mac:
		return "NSFontDescriptorSystemDesign" + d[1]
	}
	return "UIFontDescriptorSystemDesign" + d[1]
}
