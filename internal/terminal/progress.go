package terminal

import (
	"io"
	"sync"
	"time"

	"github.com/schollz/progressbar/v3"
)

// progressDelay keeps short work from flickering.
const progressDelay = 300 * time.Millisecond

// Progress shows a bar on a terminal's stderr once work has taken a while.
type Progress struct {
	mu    sync.Mutex
	w     io.Writer
	what  string
	start time.Time
	bar   *progressbar.ProgressBar
}

// NewProgress returns nil, which shows nothing, unless w is a terminal.
func NewProgress(w io.Writer, what string) *Progress {
	if !IsTerminal(w) || Dumb() {
		return nil
	}
	return &Progress{w: w, what: what, start: time.Now()}
}

// Step says how far the work is.
func (p *Progress) Step(done, total int) {
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

// End takes the bar off.
func (p *Progress) End() {
	if p != nil && p.bar != nil {
		_ = p.bar.Clear()
	}
}
