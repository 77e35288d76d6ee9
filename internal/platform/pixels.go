package platform

import (
	"math"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
)

// FileNames are the names that the files of faces get where code asks for a font by its file.
func FileNames(faces []face.Face) []string {
	out := make([]string, len(faces))
	for i, f := range faces {
		ext := strings.ToLower(path.Ext(f.File))
		if !IsFont(f.File) {
			ext = ".ttf"
		}
		out[i] = FileBase(f.ID()) + ext
	}
	return out
}

// Pixels is a length in whole pixels, as games count them: at least one where there is any.
func Pixels(length float64) int {
	n := int(math.Round(length))
	if n == 0 && length > 0 {
		return 1
	}
	return n
}

// Body is the role that text without a role gets: one that is called so, else the one whose
// size is nearest to 16. There must be one.
func (j Job) Body() Role {
	for _, name := range []string{"body", "text", "copy", "default", "base"} {
		if i := slices.IndexFunc(j.Roles, func(r Role) bool { return r.Name == name }); i >= 0 {
			return j.Roles[i]
		}
	}
	return slices.MinFunc(j.Roles, func(a, b Role) int {
		return int(math.Abs(a.Size-16)*1e4) - int(math.Abs(b.Size-16)*1e4)
	})
}

// WholePixels lists the lengths of roles that are no whole pixels, for platforms that count
// these alone; lengths are those of a role that the platform has.
func WholePixels(job Job, platform string, lengths func(Role) map[string]float64) []Shortfall {
	var out []Shortfall
	for _, r := range job.Roles {
		parts := lengths(r)
		for _, part := range []string{"size", PartTracking, PartSpace, PartOutline} {
			if v, ok := parts[part]; ok && math.Abs(v-float64(Pixels(v))) > 0.1 {
				out = append(out, Shortfall{r.Name, part, platform + " counts whole pixels: it is rounded"})
			}
		}
	}
	return out
}

// NoBlur lists the shadows that a platform draws with sharp edges alone.
func NoBlur(job Job) []Shortfall {
	var out []Shortfall
	for _, r := range job.Roles {
		if r.Shadow != nil && r.Shadow.Blur > 0 {
			out = append(out, Shortfall{r.Name, PartShadow, "a shadow there has no blur"})
		}
	}
	return out
}

// LineGap is what stands between the descent of a line and the ascent of the next, by the
// role's line height, else by the face's own (hhea.lineGap): for platforms that have something
// else there if nothing is said.
func (r Role) LineGap() float64 {
	if r.Face.UnitsPerEm <= 0 {
		return 0
	}
	em := r.Size / float64(r.Face.UnitsPerEm)
	if r.LineHeight == 0 {
		return round(em * float64(r.Face.LineGap))
	}
	return round(r.LineHeight - em*float64(r.Face.Ascent-r.Face.Descent))
}

// Fraction is a colour's parts from 0 to 1.
func (c Colour) Fraction() [4]float64 {
	part := func(v uint8) float64 { return round(float64(v) / 255) }
	return [4]float64{part(c.R), part(c.G), part(c.B), part(c.A)}
}
