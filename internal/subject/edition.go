package subject

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"slices"

	"notaria/internal/face"
	"notaria/internal/notary"
	"notaria/internal/sfnt"
	"notaria/internal/specimen"
)

// An Edition is what changes where a new edition of a face takes the place of the old one.
type Edition struct {
	Name    string   `json:"postscript"`
	File    string   `json:"file"`
	From    string   `json:"from"`
	Old     string   `json:"old_version"`
	New     string   `json:"new_version"`
	Metrics []Metric `json:"metrics"`
	Gained  []string `json:"gained"` // characters, the first of them
	Lost    []string `json:"lost"`
	More    int      `json:"more_gained"` // that are not listed
	Less    int      `json:"more_lost"`
	Texts   []Change `json:"texts"` // those whose width changes by more than a percent, those that change most first
}

// A Metric is a measure of the line that is another one, in thousandths of an em.
type Metric struct {
	Name string `json:"name"`
	Old  int    `json:"old"`
	New  int    `json:"new"`
}

// Bounds of what is listed, and the growth of a text that counts, in percent.
const (
	mostCharacters = 40
	growthThatTold = 1
)

// NewEdition compares an original with what takes its place, by the app's texts.
func NewEdition(ctx context.Context, r notary.Replaced, texts []Text) (Edition, error) {
	e := Edition{Name: r.Name, File: r.File, From: r.From, Old: r.Old.Version, New: r.New.Version, Metrics: []Metric{}, Gained: []string{}, Lost: []string{}, Texts: []Change{}}
	if r.Was == nil {
		return e, nil // the old one is gone: nothing is known of it
	}
	e.metrics(r.Old, r.New)
	var sides [2]One
	var covers [2]sfnt.Coverage
	for i, data := range [][]byte{r.Was, r.Is} {
		file, err := sfnt.Open(bytes.NewReader(data), int64(len(data)))
		if err != nil {
			return e, err
		}
		if covers[i], err = file.Font(0).Coverage(); err != nil {
			return e, err
		}
		sides[i] = One{Name: r.Name, Bytes: len(data), Style: specimen.Style{Size: 16}}
		if sides[i].Type, err = specimen.Load(data, nil); err != nil {
			return e, err
		}
	}
	e.Lost, e.Less = without(covers[0], covers[1])
	e.Gained, e.More = without(covers[1], covers[0])
	c, err := Compare(ctx, sides[0], sides[1], Once(texts), Room{}, nil)
	for _, t := range c.Texts {
		if math.Abs(t.Growth) > growthThatTold {
			e.Texts = append(e.Texts, t)
		}
	}
	slices.SortStableFunc(e.Texts, ByGrowth)
	return e, err
}

// metrics are those of the line, which move text where they change (hhea; OpenType, the horizontal header table).
func (e *Edition) metrics(old, fresh face.Face) {
	em := func(v, units int) int { return int(math.Round(float64(v) * 1000 / float64(max(units, 1)))) }
	for _, m := range []struct {
		name     string
		old, now int
	}{{"ascent", old.Ascent, fresh.Ascent}, {"descent", old.Descent, fresh.Descent}, {"line gap", old.LineGap, fresh.LineGap}} {
		if a, b := em(m.old, old.UnitsPerEm), em(m.now, fresh.UnitsPerEm); a != b {
			e.Metrics = append(e.Metrics, Metric{m.name, a, b})
		}
	}
}

// without are the characters of one set that another has not: the first, and how many more.
func without(a, b sfnt.Coverage) (list []string, more int) {
	list = []string{}
	for _, r := range a {
		for c := r.First; c <= r.Last; c++ {
			switch {
			case b.Has(c):
			case len(list) < mostCharacters:
				list = append(list, fmt.Sprintf("%c", c))
			default:
				more++
			}
		}
	}
	return list, more
}
