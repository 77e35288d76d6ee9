package cli

import (
	"image/color"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"github.com/spf13/pflag"

	"notaria/internal/lazy"
	"notaria/internal/pixel"
)

// panelOptions are the flags of a simulated display.
type panelOptions struct {
	size, kind, colours string
	puts                []string
	zoom                int
	lines               bool
	preview             string
}

func (o *panelOptions) flags(f *pflag.FlagSet) {
	f.StringVar(&o.size, "panel", "", "simulate a display of so many pixels, such as 128x64")
	f.StringArrayVar(&o.puts, "put", nil, "put text on the panel: 'X,Y TEXT' with its baseline at Y; 'ROLE@X,Y TEXT' in a role's font")
	f.StringVar(&o.kind, "panel-kind", "mono", "what the panel shows: mono, grey (16 shades) or colour (16 bits)")
	f.StringVar(&o.colours, "panel-colours", "#7FD6FF,#05080C", "the colours of ink and ground")
	f.StringVar(&o.preview, "preview", "", "write the panel into this PNG file; into the terminal, if absent")
	f.IntVar(&o.zoom, "zoom", 6, "how many times as large the picture is")
	f.BoolVar(&o.lines, "pixel-lines", true, "lines between the pixels of the picture")
}

// shownPanel is a panel with what was put on it.
type shownPanel struct{ *pixel.Panel }

var putForm = lazy.Regexp(`^(?:([^@\s]+)@)?(-?\d{1,4}),(-?\d{1,4}) (.*)$`)

// drawPanel puts the texts on a panel; nil where none was asked for.
func (a *app) drawPanel(f *pixel.Font, o panelOptions) (*shownPanel, error) {
	if o.size == "" {
		if len(o.puts) > 0 || o.preview != "" {
			return nil, wrongUse("pixel: expected --panel with the size of the display, such as 128x64, for --put and --preview")
		}
		return nil, nil
	}
	wide, err := size("panel", o.size)
	if err != nil {
		return nil, err
	}
	if !slices.Contains(pixel.PanelKinds, o.kind) {
		return nil, wrongUse("pixel: expected %s for --panel-kind, found %q", strings.Join(pixel.PanelKinds, ", "), o.kind)
	}
	inkText, groundText, _ := strings.Cut(o.colours, ",")
	ink, err := colourOf("panel-colours", strings.TrimSpace(inkText))
	if err != nil {
		return nil, err
	}
	ground, err := colourOf("panel-colours", strings.TrimSpace(groundText))
	if err != nil || ink == nil || ground == nil {
		return nil, wrongUse("pixel: expected two colours such as #7FD6FF,#05080C for --panel-colours, found %q", o.colours)
	}
	p, err := pixel.NewPanel(wide[0], wide[1], o.kind, ink.(color.NRGBA), ground.(color.NRGBA))
	if err != nil {
		return nil, wrongUse("pixel: %v", err)
	}
	for _, put := range o.puts {
		if err := a.put(p, f, put); err != nil {
			return nil, err
		}
	}
	if o.preview != "" {
		if _, err := p.Picture(o.zoom, o.lines); err != nil {
			return nil, wrongUse("pixel: %v", err)
		}
	}
	return &shownPanel{p}, nil
}

// put puts one text on a panel, and warns of ink that is beyond it.
func (a *app) put(p *pixel.Panel, f *pixel.Font, put string) error {
	m := putForm.FindStringSubmatch(put)
	if m == nil {
		return wrongUse("pixel: expected a place and a text such as '4,40 07:40' for --put, found %q", put)
	}
	if m[1] != "" {
		role, _, err := a.drawRole(m[1])
		if err != nil {
			return err
		}
		f = role
	}
	x, _ := strconv.Atoi(m[2])
	y, _ := strconv.Atoi(m[3])
	if beyond := p.Put(f, x, y, m[4]); beyond > 0 {
		a.note("%s %s of %q lie beyond the panel", a.paint.Warn("careful:"), plural(beyond, "pixel"), m[4])
	}
	if _, all := f.Width(m[4]); !all {
		a.note("%s characters of %q are not in the font", a.paint.Warn("careful:"), m[4])
	}
	return nil
}

// write writes the panel's picture: into a new file, or over one that is a PNG.
func (p *shownPanel) write(o panelOptions) error {
	b, err := p.PNG(o.zoom, o.lines)
	if err != nil {
		return err
	}
	if old, err := os.ReadFile(o.preview); err == nil && !pixel.IsPNG(old) {
		return wrongUse("pixel: expected a new file, or a PNG, for --preview, found another: %s", o.preview)
	}
	if err := os.MkdirAll(filepath.Dir(o.preview), 0o755); err != nil {
		return err
	}
	return os.WriteFile(o.preview, b, 0o644)
}
