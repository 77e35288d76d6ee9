package notary

import (
	"notaria/internal/change"
	"notaria/internal/edit"
)

// A Task is something that a person must add to a file, because Notaria does not
// write into it.
type Task struct{ File, Add string }

// Tasks lists what plans want and files do not hold, each once.
func (p *Project) Tasks(plan *Plan) ([]Task, error) {
	set := &change.Set{Root: p.Root}
	var out []Task
	told := map[Task]bool{}
	for _, s := range plan.Sites {
		for _, e := range s.Entries {
			if e.Syntax != edit.SyntaxByHand {
				continue
			}
			doc, err := set.Read(e.File)
			if err != nil {
				return nil, err
			}
			if t := (Task{e.File, e.Place}); !edit.Holds(doc, e.Value) && !told[t] {
				told[t] = true
				out = append(out, t)
			}
		}
	}
	return out, nil
}
