package notary

import (
	"context"
	"time"
)

// How often, and how long apart, a project is looked at again while another run changes it.
const (
	looks     = 200
	lookAgain = 50 * time.Millisecond
)

// Steady loads a project and finds something out of it, without changing it. What another
// run changes meanwhile is half of before and half of after: it is looked at again. Commands
// that change the project hold it, and are not disturbed.
func Steady(ctx context.Context, load func() (*Project, error), find func(*Project) error) (*Project, error) {
	for n := 1; ; n++ {
		p, err := load()
		if err != nil {
			return nil, err
		}
		err = find(p)
		if again := p.Looks() && (p.Changed() || err != nil && p.AtWork()); !again || n == looks || ctx.Err() != nil {
			if err != nil {
				p.Close()
				return nil, err
			}
			return p, nil
		}
		p.Close()
		time.Sleep(lookAgain)
	}
}
