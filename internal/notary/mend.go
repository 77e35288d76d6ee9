package notary

import (
	"context"
	"errors"
	"io/fs"
	"maps"
	"slices"

	"notaria/internal/change"
	"notaria/internal/edit"
	"notaria/internal/edit/splice"
	"notaria/internal/fault"
	"notaria/internal/platform"
)

// Mend makes the set of changes that mends flaws. Edits come first, then entries of manifests, then
// moves; with a plan, what registering it would change follows. What cannot be done without harm is
// left: an edit of bytes that are others by now, an entry for a manifest of an unknown form, a move
// to where a file is.
func (p *Project) Mend(ctx context.Context, cures []platform.Mending, plan *Plan) (*change.Set, error) {
	set := p.set()
	var all platform.Mending
	for _, m := range cures {
		all.Edits, all.Entries, all.Moves = append(all.Edits, m.Edits...), append(all.Entries, m.Entries...), append(all.Moves, m.Moves...)
	}
	for _, step := range []func() error{
		func() error { return exchange(set, all.Edits) },
		func() error { return p.enter(set, all.Entries) },
		func() error { return move(set, all.Moves) },
	} {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if err := step(); err != nil {
			return nil, err
		}
	}
	if plan == nil {
		return set, nil
	}
	return p.changes(ctx, set, plan, Options{})
}

// exchange carries out edits. The same one twice is one; of those that overlap none is made, for one of two flaws that
// are about the same bytes is not what it seems, and both stay findings.
func exchange(set *change.Set, edits []platform.Edit) error {
	of := map[string][]platform.Edit{}
	for _, e := range edits {
		if !slices.Contains(of[e.File], e) {
			of[e.File] = append(of[e.File], e)
		}
	}
	for _, file := range slices.Sorted(maps.Keys(of)) {
		text, err := set.Read(file)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return err
		}
		var list []splice.Edit
		for i, e := range of[file] {
			overlaps := slices.ContainsFunc(of[file], func(o platform.Edit) bool { return o != e && o.From < e.To && e.From < o.To })
			if is := e.To >= e.From && e.To <= len(text) && string(text[e.From:e.To]) == e.Old; is && !overlaps {
				list = append(list, of[file][i].Edit)
			}
		}
		after, err := splice.Apply(text, list)
		if err == nil {
			err = set.Write(file, after)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// enter makes manifests hold entries that are nobody's: Notaria does not put them on its ledger.
func (p *Project) enter(set *change.Set, entries []edit.Entry) error {
	type group struct{ file, syntax string }
	groups := map[group][]edit.Entry{}
	var order []group
	for _, e := range entries {
		g := group{e.File, e.Syntax}
		if groups[g] == nil {
			order = append(order, g)
		}
		groups[g] = append(groups[g], e)
	}
	for _, g := range order {
		syntax, err := p.Syntax(groups[g][0])
		if err != nil {
			return err
		}
		text, err := set.Read(g.file)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return err
		}
		after, _, err := syntax.Reconcile(edit.Document{File: g.file, Text: text}, groups[g], nil)
		var f *fault.Error
		if errors.As(err, &f) {
			continue // of a form that a person must mend
		}
		if err == nil {
			err = set.Write(g.file, after)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// move gives files other names, where no file is there.
func move(set *change.Set, moves []platform.Move) error {
	for _, m := range moves {
		text, err := set.Read(m.From)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return err
		}
		if _, err := set.Read(m.To); !errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err := set.Write(m.To, text); err != nil {
			return err
		}
		if err := set.Remove(m.From); err != nil {
			return err
		}
	}
	return nil
}
