package flutter

import (
	"fmt"
	"path"
	"slices"
	"strconv"
	"strings"

	"notaria/internal/face"
	"notaria/internal/lazy"
	"notaria/internal/platform"
	"notaria/internal/platform/flutter/pubspec"
)

// Flaws are what is wrong with the fonts of the pubspec, and with fonts that it does not name.
func (s *site) Flaws(known []platform.Face) ([]platform.Flaw, error) {
	file := path.Join(s.Dir, "pubspec.yaml")
	doc, err := platform.ReadDocument(s.Tree, file)
	if err != nil {
		return nil, err
	}
	styles, faults, _, err := pubspec.Look(doc)
	if err != nil {
		return nil, err
	}
	faces := map[string]platform.Face{}
	for _, f := range known {
		faces[f.File] = f
	}
	var out []platform.Flaw
	for _, f := range faults {
		kind := platform.WrongForm
		if f.OutOfPlace {
			kind = platform.OutOfPlace
		}
		x := platform.Flaw{Kind: kind, File: file, Line: f.Line, Message: fmt.Sprintf("expected %s, found %s", f.Expected, face.Short(f.Found)), Cause: "Flutter passes it over, or the build stops", Cure: f.Cure}
		right := f.Instead
		if one, ok := faces[path.Join(s.Dir, f.Path)]; ok && right == "" && f.Old != "" {
			if strings.Contains(f.Expected, "weight") {
				right = strconv.Itoa(rounded(one.Weight))
			} else {
				right = slantOf(one)
			}
		}
		if right != "" {
			x.Mend, x.Cure = platform.OnLine(file, doc.Text, f.Line, f.Old, right), platform.Choose(right, nil)
		}
		out = append(out, x)
	}
	for _, c := range s.inComments(doc.Text) {
		out = append(out, platform.Flaw{Kind: platform.OutOfPlace, File: file, Line: c.Line, Message: fmt.Sprintf("the family %s is declared in a comment", face.Short(c.Family)),
			Cause: "what stands behind # counts for nothing; Flutter shows its own font", Cure: "take the # signs in front of its lines away, and keep the indentation below flutter: fonts:"})
	}
	out = append(out, s.unlike(file, doc.Text, styles, faces)...)
	return append(out, s.undeclared(doc.Text)...), nil
}

// inComments are the families in comments whose files are there, and are not declared otherwise.
func (s *site) inComments(text []byte) []pubspec.Commented {
	var out []pubspec.Commented
	for _, c := range pubspec.InComments(text) {
		declared := slices.ContainsFunc(s.declared, func(a pubspec.Asset) bool { return a.Family == c.Family })
		if !declared && slices.ContainsFunc(c.Paths, func(p string) bool { return slices.Contains(s.Tree.Under(s.Dir), path.Join(s.Dir, p)) }) {
			out = append(out, c)
		}
	}
	return out
}

// strayed are the families that the pubspec declares where Flutter does not look.
func (s *site) strayed() []string {
	doc, err := platform.ReadDocument(s.Tree, path.Join(s.Dir, "pubspec.yaml"))
	if err != nil {
		return nil
	}
	_, _, out, _ := pubspec.Look(doc)
	for _, c := range s.inComments(doc.Text) {
		out = append(out, c.Family)
	}
	return out
}

// rounded is a weight as a pubspec can say it.
func rounded(weight int) int { return min(max((weight+50)/100*100, 100), 900) }

func slantOf(f platform.Face) string {
	if f.Slant != face.Upright {
		return "italic"
	}
	return "normal"
}

// unlike compares what a pubspec says of files with what is in them.
func (s *site) unlike(file string, text []byte, styles []pubspec.Style, faces map[string]platform.Face) []platform.Flaw {
	var out []platform.Flaw
	silent := map[string][]pubspec.Style{} // by family: without a weight and a slant
	for _, st := range styles {
		f, ok := faces[path.Join(s.Dir, st.Path)]
		if !ok || f.Variable {
			continue
		}
		if st.Weight == "" && st.WeightLine == 0 && st.SlantLine == 0 {
			silent[st.Family] = append(silent[st.Family], st)
		}
		if w, err := strconv.Atoi(st.Weight); err == nil && max(w-f.Weight, f.Weight-w) >= 100 {
			right := strconv.Itoa(rounded(f.Weight))
			out = append(out, platform.Flaw{Kind: platform.Unlike, File: file, Line: st.WeightLine, Message: fmt.Sprintf("%s is declared as weight %s, and is of weight %d", st.Path, st.Weight, f.Weight),
				Cause: "Flutter chooses among the files of a family by weight: this one shows where another was asked for", Cure: platform.Choose("weight: "+right, nil), Mend: platform.OnLine(file, text, st.WeightLine, st.Weight, right)})
		}
		if st.Slant != "" && st.Slant != slantOf(f) {
			out = append(out, platform.Flaw{Kind: platform.Unlike, File: file, Line: st.SlantLine, Message: fmt.Sprintf("%s is declared as style %s, and is %s", st.Path, st.Slant, f.Slant),
				Cause: "Flutter chooses among the files of a family by slant", Cure: platform.Choose("style: "+slantOf(f), nil), Mend: platform.OnLine(file, text, st.SlantLine, st.Slant, slantOf(f))})
		}
	}
	for _, list := range silent {
		first := faces[path.Join(s.Dir, list[0].Path)]
		for _, st := range list[1:] {
			f := faces[path.Join(s.Dir, st.Path)]
			one, other := first, f
			if max(f.Weight-400, 400-f.Weight) < max(first.Weight-400, 400-first.Weight) {
				one, other = f, first
			}
			if rounded(one.Weight) == rounded(other.Weight) && one.Slant == other.Slant {
				continue
			}
			say := "weight: " + strconv.Itoa(rounded(other.Weight))
			if other.Slant != face.Upright {
				say += " and style: italic"
			}
			out = append(out, platform.Flaw{Kind: platform.NoWeight, File: file, Line: st.Line, Message: fmt.Sprintf("%s and %s are in one family, and nothing tells them apart", path.Base(one.File), path.Base(other.File)),
				Cause: "a file without weight: and style: is declared as 400, upright", Cure: fmt.Sprintf("write %s below the asset %s", say, path.Base(other.File))})
		}
	}
	slices.SortFunc(out, func(a, b platform.Flaw) int { return a.Line - b.Line })
	return out
}

var (
	// nativePart is a folder of a part of a Flutter project that has fonts of its own.
	nativePart = lazy.Regexp(`^(?:android|ios|macos|web|windows|linux|build|test|integration_test|example)/`)
	assetLine  = lazy.Regexp(`(?m)^\s*-\s*["']?([\w./@ -]+)["']?\s*$`)
)

// undeclared are fonts of the package that its pubspec does not name.
func (s *site) undeclared(text []byte) []platform.Flaw {
	if len(s.strayed()) > 0 {
		return nil // the cause is a finding of its own
	}
	named := map[string]bool{}
	for _, a := range s.declared {
		named[path.Join(s.Dir, a.Path)] = true
	}
	for _, m := range assetLine.FindAllSubmatch(text, mostAssets) { // loaded when the app runs
		named[path.Join(s.Dir, string(m[1]))] = true
	}
	var out []platform.Flaw
	for _, f := range s.Tree.Under(s.Dir) {
		rel, _ := s.Rel(f)
		if !platform.IsFont(f) || named[f] || named[path.Dir(f)] || nativePart.MatchString(rel) || s.nested(rel) {
			continue
		}
		out = append(out, platform.Flaw{Kind: platform.NotNamed, File: f, Subject: f, Message: fmt.Sprintf("%s is in the package, and pubspec.yaml does not declare it", rel),
			Cause: "Flutter builds in only the files that the pubspec names", Cure: "declare it below flutter: fonts:, or enrol it and register it, or delete it"})
	}
	return out
}

const mostAssets = 2000

// nested says whether a file is of another package in a folder below.
func (s *site) nested(rel string) bool {
	for dir := path.Dir(rel); dir != "." && dir != "/"; dir = path.Dir(dir) {
		if slices.Contains(s.Tree.Named("pubspec.yaml"), path.Join(s.Dir, dir, "pubspec.yaml")) {
			return true
		}
	}
	return false
}
