package change

import (
	"errors"
	"fmt"
	"slices"
)

// undo puts every file back and takes away what this run made. While files were only
// being staged no target has been touched, and new content, half written perhaps, just
// goes. What cannot be put back stays in its copy, and the journal with it.
func (r *runner) undo() error {
	var errs []error
	if r.j.State == staging {
		for _, st := range r.j.Steps {
			if st.New != "" && !r.dir.Missing(st.New) {
				errs = append(errs, r.dir.Remove(st.New))
			}
		}
	} else {
		r.j.State = undoing
		errs = append(errs, r.save(r.j))
		for _, st := range slices.Backward(r.j.Steps) {
			if err := r.putBack(st); err != nil {
				errs = append(errs, r.stuck(st, err))
			}
		}
	}
	for _, d := range slices.Backward(r.j.Folders) {
		if !r.dir.Missing(d) {
			_ = r.dir.RemoveFolder(d) // one with something in it stays
		}
	}
	errs = append(errs, r.sync())
	if err := first(errs); err != nil {
		return err
	}
	return errors.Join(r.drop(), r.told())
}

// first is the first of some errors, and how many more there are: a disk that may not be
// written gives one for every file.
func first(errs []error) error {
	errs = slices.DeleteFunc(errs, func(err error) bool { return err == nil })
	switch n := len(errs) - 1; {
	case n < 0:
		return nil
	case n == 0:
		return errs[0]
	default:
		return fmt.Errorf("%w (and %d more of the kind)", errs[0], n)
	}
}

// stuck says where the copy of a file is that could not be put back.
func (r *runner) stuck(st step, err error) error {
	if at := r.copyOf(st, st.Before); at != "" {
		return fmt.Errorf("%s: %w; what was there before is in %s", st.Path, err, at)
	}
	return fmt.Errorf("%s: %w", st.Path, err)
}

// copyOf is the companion file that holds a content, "" if none does.
func (r *runner) copyOf(st step, sum string) string {
	for _, name := range []string{st.Old, st.New} {
		if name != "" && sum != "" && r.holds(name, sum) {
			return name
		}
	}
	return ""
}

// putBack undoes one step, if it was done; what somebody else has written in the
// meantime is theirs and stays, and so do the copies of what it took the place of.
func (r *runner) putBack(st step) error {
	copy := r.copyOf(st, st.Before)
	switch gone := r.dir.Missing(st.Path); {
	case gone && copy != "":
		if err := r.dir.Move(copy, st.Path); err != nil {
			return err
		}
	case gone:
	case st.After != "" && r.holds(st.Path, st.After):
		if err := r.takeOut(st, copy); err != nil {
			return err
		}
	case st.Before == "" || r.holds(st.Path, st.Before):
	case copy != "": // theirs is there, and this may be the last of what was there before
		r.kept = append(r.kept, copy)
	}
	for _, name := range []string{st.New, st.Old} {
		if slices.Contains(r.kept, name) {
			continue
		}
		if err := r.discard(name, st); err != nil {
			return err
		}
	}
	return nil
}

// takeOut takes what this run wrote out of its place again, and puts in what was there.
func (r *runner) takeOut(st step, copy string) error {
	if st.Before != "" && copy == "" {
		return wrong(st.Path, "a copy of what was there before", "none: somebody removed it", "restore the file from version control, then run: notaria register --discard-journal")
	}
	if copy != "" {
		err := r.dir.Swap(copy, st.Path)
		if err == nil && !r.holds(copy, st.After) { // saved just now
			if err := r.dir.Swap(copy, st.Path); err != nil {
				return err
			}
			r.kept = append(r.kept, copy)
			return nil
		}
		if !errors.Is(err, errors.ErrUnsupported) {
			return err
		}
	}
	if copy != st.New && !r.dir.Missing(st.New) {
		if err := r.discard(st.New, st); err != nil || !r.dir.Missing(st.New) {
			return err
		}
	}
	aside := st.New
	if copy == st.New {
		aside = st.Old
	}
	if err := r.dir.Move(st.Path, aside); err != nil {
		return err
	}
	if !r.holds(aside, st.After) { // saved just now
		return r.dir.Move(aside, st.Path)
	}
	if copy == "" {
		return nil
	}
	return r.dir.Move(copy, st.Path)
}
