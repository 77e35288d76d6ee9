package apple

import (
	"fmt"
	"strings"

	"notaria/internal/platform/apple/xcode"
)

// What the generated code uses, by the systems that brought it (Apple's documentation of each
// declaration): relativeTo: and title2 of SwiftUI; SwiftUI and the designs of the system's font;
// UIFontMetrics and the large title. What a target promises to run on decides which of these
// stand behind a check of availability.
const (
	since14 = "iOS 14.0, macOS 11.0, tvOS 14.0, watchOS 7.0"
	since13 = "iOS 13.0, macOS 10.15, tvOS 13.0, watchOS 6.0"
	since11 = "iOS 11.0, tvOS 11.0, watchOS 5.0"
	least   = "iOS 9.0, macOS 10.12, tvOS 9.0, watchOS 2.0" // that can be served
)

// names of the systems in code, by SDK.
var systems = map[string]string{"iphoneos": "iOS", "macosx": "macOS", "appletvos": "tvOS", "watchos": "watchOS"}

// before says whether some system of a target is older than those of a list.
func before(oldest map[string]xcode.Version, list string) bool {
	return tooOld(oldest, list) != ""
}

// tooOld is the first SDK, in the list's order, whose oldest system is older than the list's.
func tooOld(oldest map[string]xcode.Version, list string) string {
	for _, one := range strings.Split(list, ", ") {
		name, number, _ := strings.Cut(one, " ")
		since, _ := xcode.ParseVersion(number)
		for sdk, system := range systems {
			if have, ok := oldest[sdk]; ok && system == name && have.Before(since) {
				return sdk
			}
		}
	}
	return ""
}

// oldest are the oldest systems of several targets, by SDK.
func oldest(targets []xcode.BuildTarget) map[string]xcode.Version {
	out := map[string]xcode.Version{}
	for _, t := range targets {
		for sdk, v := range t.Oldest {
			if have, ok := out[sdk]; !ok || v.Before(have) {
				out[sdk] = v
			}
		}
	}
	return out
}

// unservable says what of a target's systems is older than any that can be served, and the
// oldest that can; "" if none is.
func unservable(t xcode.BuildTarget) (found, expected string) {
	sdk := tooOld(t.Oldest, least)
	if sdk == "" {
		return "", ""
	}
	for _, one := range strings.Split(least, ", ") {
		if strings.HasPrefix(one, systems[sdk]+" ") {
			expected = one
		}
	}
	return fmt.Sprintf("%s %d.%d", systems[sdk], t.Oldest[sdk].Major, t.Oldest[sdk].Minor), expected
}

// serve has the code run on the systems that its targets promise. A large title is none of
// tvOS's styles.
func (c *code) serve(oldest map[string]xcode.Version, tv bool) {
	c.Old, c.Older, c.Oldest = before(oldest, since14), before(oldest, since13), before(oldest, since11)
	c.Fallbacks = false
	for i := range c.Roles {
		r := &c.Roles[i]
		if c.Older { // a constant of the system's is not there on an older one
			switch r.Design {
			case ".serif":
				r.ObjCDesign = `@"serif"`
			case ".monospaced":
				r.ObjCDesign = `@"monospaced"`
			default:
				r.ObjCDesign = ""
			}
		}
		c.Fallbacks = c.Fallbacks || r.ObjCDesign != ""
		if c.Oldest || tv {
			r.StyleArg = strings.Replace(r.StyleArg, "StyleLargeTitle", "StyleTitle1", 1)
		}
	}
}

// The clauses of checks.
func (code) Since14() string { return since14 }
func (code) Since13() string { return since13 }
func (code) Since11() string { return since11 }
