// Package credits makes the attribution of a project's fonts: who made them, under which licence, and
// its text, in the forms that apps show it in.
package credits

import (
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"strings"
	"unicode"

	"notaria/internal/fault"
	"notaria/internal/notary"
	"notaria/internal/platform"
)

// A Credit describes fonts that share a family, a maker and a licence.
type Credit struct {
	Family    string   `json:"family"`
	Faces     []string `json:"faces"` // PostScript names
	Copyright string   `json:"copyright"`
	SPDX      string   `json:"spdx"`    // identifier of the licence; "" where it is not recognised
	Licence   string   `json:"licence"` // its name, or what the font itself says of it
	URL       string   `json:"url"`
	File      string   `json:"file"` // of the licence's text in the project
	Text      string   `json:"text"`
}

// mostText is how long a licence's text may be, in bytes.
const mostText = 1 << 20

// Collect lists the credits of the project's enrolled faces, in the order of their families.
func Collect(p *notary.Project) ([]Credit, error) {
	var out []Credit
	for _, e := range p.Registry.Faces {
		f, _, err := p.Original(e.Name)
		if err != nil {
			return nil, err
		}
		c := Credit{Family: plain(platform.FamilyOf(f)), Faces: []string{f.ID()}, Copyright: plain(f.Copyright), URL: plain(f.LicenseURL), File: e.Licence, Licence: plain(f.License)}
		if e.Licence != "" {
			raw, err := p.Dir.Read(e.Licence, mostText)
			if errors.Is(err, fs.ErrNotExist) {
				return nil, &fault.Error{File: e.Licence, Expected: "the licence of " + e.Name, Found: "no file", Cure: "bring it back, or enrol the face again"}
			}
			if err != nil {
				return nil, err
			}
			c.Text = text(raw)
		}
		if c.SPDX = Recognise(c.Text + "\n" + f.License + "\n" + f.LicenseURL); c.SPDX != "" {
			c.Licence = nameOf(c.SPDX)
		} else if i := strings.IndexByte(c.Licence, '\n'); i >= 0 {
			c.Licence = c.Licence[:i]
		}
		if i := slices.IndexFunc(out, func(o Credit) bool {
			return o.Family == c.Family && o.Copyright == c.Copyright && o.File == c.File && o.SPDX == c.SPDX
		}); i >= 0 {
			out[i].Faces = append(out[i].Faces, f.ID())
			continue
		}
		out = append(out, c)
	}
	slices.SortStableFunc(out, func(a, b Credit) int { return strings.Compare(a.Family, b.Family) })
	return out, nil
}

// plain is a font's own text without control characters and white at its ends.
func plain(s string) string { return strings.TrimSpace(text([]byte(s))) }

// text is a file's text in UTF-8, with line feeds alone, and without control characters.
func text(raw []byte) string {
	s := strings.NewReplacer("\r\n", "\n", "\r", "\n", "\uFEFF", "").Replace(strings.ToValidUTF8(string(raw), "\uFFFD"))
	s = strings.Map(func(r rune) rune {
		if r != '\n' && r != '\t' && (unicode.IsControl(r) || unicode.Is(unicode.Bidi_Control, r)) {
			return -1
		}
		return r
	}, s)
	lines := strings.Split(s, "\n")
	for i, l := range lines {
		lines[i] = strings.TrimRight(l, " \t")
	}
	return strings.TrimSpace(strings.Join(lines, "\n"))
}

// Lacks says what nobody can credit: faces without a copyright and a licence.
func Lacks(list []Credit) []string {
	var out []string
	for _, c := range list {
		if c.SPDX == "" && c.Text == "" && c.Licence == "" {
			out = append(out, fmt.Sprintf("%s: neither the font nor the project says under which licence it is", c.Family))
		}
	}
	return out
}
