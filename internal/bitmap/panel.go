package bitmap

import (
	"fmt"
	"image/color"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/language"
	"notaria/internal/lazy"
	"notaria/internal/pixel"
)

// PanelOptions are those of a simulated display.
type PanelOptions struct {
	Size, Kind, Colours string
	Puts                []string
	Zoom                int
	Lines               bool
	Preview             string
}

// A Shown panel has what was put on it; Careful says what of that does not show.
type Shown struct {
	*pixel.Panel
	Careful []string
}

var putForm = lazy.Regexp(`^(?:([^@\s]+)@)?(-?\d{1,4}),(-?\d{1,4}) (.*)$`)

// Panel puts the texts on a panel; nil where none was asked for.
func (m Maker) Panel(f *pixel.Font, o PanelOptions) (*Shown, error) {
	if o.Size == "" {
		if len(o.Puts) > 0 || o.Preview != "" {
			return nil, fault.Use("pixel: expected --panel with the size of the display, such as 128x64, for --put and --preview")
		}
		return nil, nil
	}
	wide, err := size("panel", o.Size)
	if err != nil {
		return nil, err
	}
	if !slices.Contains(pixel.PanelKinds, o.Kind) {
		return nil, fault.Use("pixel: expected %s for --panel-kind, found %q", strings.Join(pixel.PanelKinds, ", "), o.Kind)
	}
	inkText, groundText, _ := strings.Cut(o.Colours, ",")
	ink, err := ColourOf("panel-colours", strings.TrimSpace(inkText))
	if err != nil {
		return nil, err
	}
	ground, err := ColourOf("panel-colours", strings.TrimSpace(groundText))
	if err != nil || ink == nil || ground == nil {
		return nil, fault.Use("pixel: expected two colours such as #7FD6FF,#05080C for --panel-colours, found %q", o.Colours)
	}
	p, err := pixel.NewPanel(wide[0], wide[1], o.Kind, ink.(color.NRGBA), ground.(color.NRGBA))
	if err != nil {
		return nil, fault.Use("pixel: %v", err)
	}
	shown := &Shown{Panel: p}
	for _, put := range o.Puts {
		if err := m.put(shown, f, put); err != nil {
			return nil, err
		}
	}
	if o.Preview != "" {
		if !strings.EqualFold(filepath.Ext(o.Preview), ".png") {
			return nil, fault.Use("pixel: expected a file that ends with .png for --preview, found %q", o.Preview)
		}
		if _, err := p.Picture(o.Zoom, o.Lines); err != nil {
			return nil, fault.Use("pixel: %v", err)
		}
	}
	return shown, nil
}

// put puts one text on a panel, and warns of ink that is beyond it.
func (m Maker) put(p *Shown, f *pixel.Font, put string) error {
	at := putForm.FindStringSubmatch(put)
	if at == nil {
		return fault.Use("pixel: expected a place and a text such as '4,40 07:40' for --put, found %q", put)
	}
	if at[1] != "" {
		role, _, err := m.role(at[1])
		if err != nil {
			return err
		}
		f = role
	}
	x, _ := strconv.Atoi(at[2])
	y, _ := strconv.Atoi(at[3])
	if beyond := p.Put(f, x, y, at[4]); beyond > 0 {
		p.Careful = append(p.Careful, fmt.Sprintf("%s of %q lie beyond the panel", language.Plural(beyond, "pixel"), at[4]))
	}
	if _, all := f.Width(at[4]); !all {
		p.Careful = append(p.Careful, fmt.Sprintf("characters of %q are not in the font", at[4]))
	}
	return nil
}
