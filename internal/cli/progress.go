package cli

import (
	"io"
	"sync"
	"time"

	"github.com/schollz/progressbar/v3"
)

// progressDelay keeps short work from flickering.
const progressDelay = 300 * time.Millisecond

// progress shows a bar on a terminal's stderr once work has taken a while.
type progress struct {
	mu    sync.Mutex
	w     io.Writer
	what  string
	start time.Time
	bar   *progressbar.ProgressBar
}

// newProgress returns nil, which shows nothing, unless w is a terminal.
func newProgress(w io.Writer, what string) *progress {
	if !isTerminal(w) || dumb() {
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
	if p.bar == nil {
		if time.Since(p.start) < progressDelay {
			return
		}
		p.bar = progressbar.NewOptions(total, progressbar.OptionSetWriter(p.w), progressbar.OptionSetDescription(p.what),
			progressbar.OptionShowCount(), progressbar.OptionClearOnFinish(), progressbar.OptionThrottle(100*time.Millisecond))
	}
	_ = p.bar.Set(done)
}

func (p *progress) end() {
	if p != nil && p.bar != nil {
		_ = p.bar.Clear()
	}
}
