package cli

import (
	"fmt"
	"io"
	"sync"
	"time"
)

// progressDelay keeps short work from flickering.
const progressDelay = 300 * time.Millisecond

// progress shows a count on a terminal's stderr once work has taken a while.
type progress struct {
	mu    sync.Mutex
	w     io.Writer
	what  string
	start time.Time
	last  time.Time
	shown bool
}

// newProgress gives nil, which shows nothing, unless w is a terminal.
func newProgress(w io.Writer, what string) *progress {
	if !isTerminal(w) {
		return nil
	}
	return &progress{w: w, what: what, start: time.Now()}
}

func (p *progress) step(done, total int) {
	if p == nil {
		return
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	now := time.Now()
	if now.Sub(p.start) < progressDelay || now.Sub(p.last) < 100*time.Millisecond {
		return
	}
	p.last, p.shown = now, true
	fmt.Fprintf(p.w, "\r%s: %d of %d", p.what, done, total)
}

func (p *progress) end() {
	if p != nil && p.shown {
		fmt.Fprint(p.w, "\r\x1b[K")
	}
}
