package apple

import (
	"bytes"
	"embed"
	"fmt"
	"sort"
	"strings"
	"text/template"

	"notaria/internal/target"
)

//go:embed *.tmpl
var texts embed.FS

var templates = template.Must(template.ParseFS(texts, "*.tmpl"))

// reserved are Swift's reserved words that cannot name a member without
// backquotes ("The Swift Programming Language", Lexical Structure).
var reserved = words("Any as associatedtype await break case catch class continue default defer deinit do else enum extension " +
	"fallthrough false fileprivate for func guard if import in init inout internal is let nil open operator private " +
	"precedencegroup protocol public repeat rethrows return self Self static struct subscript super switch throw throws " +
	"true try typealias var where while Type Protocol")

// taken are the generated types' own members.
var taken = words("isThere isFound missing report registered face size style lineHeight tracking colour outlineWidth outlineColour fallback font " +
	"nativeFont attributes lineSpacing scaled swiftColour native systemFont nativeStyle allCases rawValue hash hashValue description")

func words(s string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(s) {
		m[w] = true
	}
	return m
}

// member makes a name a legal Swift member.
func member(name, kind string) string {
	if name == "" || name[0] >= '0' && name[0] <= '9' {
		name = kind + name
	}
	switch {
	case taken[name]:
		return name + "Type"
	case reserved[name]:
		return "`" + name + "`"
	}
	return name
}

// codeFace is a face as code names it.
type codeFace struct{ Member, Pascal, Literal, ObjC string }

// codeRole is a role as code says it; what is "" is not said.
type codeRole struct {
	Member, Face, FacePascal, Size, Style, UIStyle, StyleArg, About               string
	LineHeight, Tracking, Colour, OutlineWidth, OutlineColour, Design, ObjCDesign string
	Scale                                                                         bool
}

// code is what the templates of this platform show.
type code struct {
	Public                      string // before what another module may use
	Kit, Font                   string
	ColorClass, StyleType       string
	Both, Mac, Package          bool
	Lengths, Colours, Fallbacks bool // some role has one
	Faces                       []codeFace
	Roles                       []codeRole
	Files                       []string
}

// designs are the system's designs by a role's fallback, in Swift and Objective-C.
var designs = map[string][2]string{
	"sans": {".default", "Default"}, "serif": {".serif", "Serif"}, "mono": {".monospaced", "Monospaced"},
}

// newCode puts a job into the words of the templates.
func newCode(job target.Job, mac, both bool) code {
	data := code{Kit: "UIKit", Font: "UIFont", ColorClass: "UIColor", StyleType: "UIFontTextStyle", Mac: mac && !both, Both: both}
	switch {
	case both:
		data.Kit, data.Font, data.ColorClass, data.StyleType = "UIKit or AppKit", "AppTypeFont", "AppTypeColor", "NSString *"
	case mac:
		data.Kit, data.Font, data.ColorClass = "AppKit", "NSFont", "NSColor"
	}
	members := data.addFaces(job)
	for _, r := range job.Roles {
		role := codeRole{Member: member(target.Camel(target.Words(r.Name)), "role"), Face: members[r.Face.ID()].Member, FacePascal: members[r.Face.ID()].Pascal,
			Size: target.Number(r.Size), Scale: r.Scale, About: target.Comment(r.About("pt")), StyleArg: "nil"}
		role.Style, role.UIStyle = textStyle(r.Size)
		if r.Scale {
			if role.StyleArg = role.UIStyle; both {
				role.StyleArg = "AppTypeStyle(" + role.UIStyle + ")"
			}
		}
		role.extras(r)
		role.ObjCDesign = objcDesign(r.Fallback, data.Mac, both)
		data.Lengths = data.Lengths || role.LineHeight != "" || role.Tracking != ""
		data.Colours = data.Colours || role.Colour != "" || role.OutlineColour != ""
		data.Fallbacks = data.Fallbacks || role.ObjCDesign != ""
		data.Roles = append(data.Roles, role)
	}
	return data
}

// addFaces names each face.
func (c *code) addFaces(job target.Job) map[string]codeFace {
	names := make([]string, len(job.Faces))
	for i, f := range job.Faces {
		names[i] = target.Camel(target.Words(f.ID()))
	}
	members := map[string]codeFace{}
	for i, name := range target.Unique(names) {
		m := member(name, "face")
		plain := strings.TrimSuffix(strings.Trim(m, "`"), "Type")
		if plain == "" {
			plain = "Type"
		}
		face := codeFace{Member: m, Pascal: strings.ToUpper(plain[:1]) + plain[1:], Literal: literal(job.Faces[i].PostScript), ObjC: quoteObjC(job.Faces[i].PostScript)}
		members[job.Faces[i].ID()] = face
		c.Faces = append(c.Faces, face)
	}
	return members
}

// extras are the optional parts of a role.
func (c *codeRole) extras(r target.Role) {
	if r.LineHeight > 0 {
		c.LineHeight = target.Number(r.LineHeight)
	}
	if r.Tracking != 0 {
		c.Tracking = target.Number(r.Letter())
	}
	if r.Colour != nil {
		c.Colour = r.Colour.RGBA()
	}
	if r.Outline != nil {
		c.OutlineWidth, c.OutlineColour = target.Number(r.Outline.Width), r.Outline.Colour.RGBA()
	}
	if d, ok := designs[r.Fallback]; ok {
		c.Design = d[0]
	}
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

// render writes one of the generated files.
func render(name string, data code) ([]byte, error) {
	var b bytes.Buffer
	err := templates.ExecuteTemplate(&b, name+".tmpl", data)
	return b.Bytes(), err
}

// textStyles are Apple's text styles by their size at the standard setting, from
// the Human Interface Guidelines; a role scales along with the nearest.
var textStyles = []struct {
	size        float64
	swift, objc string
}{
	{11, ".caption2", "Caption2"}, {12, ".caption", "Caption1"}, {13, ".footnote", "Footnote"},
	{15, ".subheadline", "Subheadline"}, {16, ".callout", "Callout"}, {17, ".body", "Body"},
	{20, ".title3", "Title3"}, {22, ".title2", "Title2"}, {28, ".title", "Title1"}, {34, ".largeTitle", "LargeTitle"},
}

// textStyle gives the SwiftUI and Objective-C spelling of the nearest text style.
func textStyle(size float64) (swift, objc string) {
	i := sort.Search(len(textStyles), func(i int) bool { return textStyles[i].size >= size })
	switch {
	case i == len(textStyles):
		i--
	case i > 0 && size-textStyles[i-1].size < textStyles[i].size-size:
		i--
	}
	return textStyles[i].swift, "UIFontTextStyle" + textStyles[i].objc
}

// literal writes a Swift string literal.
func literal(s string) string { return target.Quoted(s, '"', "", target.Braced) }

// quoteObjC writes an Objective-C string. What is not printable ASCII is written
// in octal, byte by byte of UTF-8: an octal escape ends after three digits,
// whatever follows. A question mark is escaped, for two of them begin a trigraph.
func quoteObjC(s string) string {
	return "@" + target.Quoted(s, '"', "?", func(r rune) string {
		out := ""
		for _, b := range []byte(string(r)) {
			out += fmt.Sprintf(`\%03o`, b)
		}
		return out
	})
}
