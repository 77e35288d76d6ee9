package registry

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
)

// Loading is how a page gets the face of a role; apps have their faces with them, and no platform but the web has a use for it.
type Loading struct {
	FontDisplay string `toml:"font-display"` // what shows while the face is loading, as CSS has it; the target's if absent
	Preload     *bool  `toml:"preload"`      // a page loads it before its style sheet asks for it; true if absent
}

// FontDisplays are the values of font-display (CSS Fonts 4, 4.9).
var FontDisplays = []string{"auto", "block", "swap", "fallback", "optional"}

// Preloads says whether pages load the face early.
func (l Loading) Preloads() bool { return l.Preload == nil || *l.Preload }

// over is what one target says, over what is said for all.
func (l Loading) over(all Loading) Loading {
	all.FontDisplay = cmp.Or(l.FontDisplay, all.FontDisplay)
	if l.Preload != nil {
		all.Preload = l.Preload
	}
	return all
}

func (l Loading) validate(wrong complaint) error {
	if l.FontDisplay != "" && !slices.Contains(FontDisplays, l.FontDisplay) {
		return wrong("font-display", "a font-display of "+strings.Join(FontDisplays, ", "), fmt.Sprintf("%q", l.FontDisplay), Instead(l.FontDisplay, FontDisplays, ""))
	}
	return nil
}
