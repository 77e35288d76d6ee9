// Wrap writes every plain font below the folders given as WOFF 2 and as WOFF into the
// output folder, and prints pairs of paths, wrapped and original: what the outline
// comparison reads. Fonts of more than four megabytes are left out, and of the others every
// one but those of EVERY is, to keep the time down. It ends with what the packing did, on
// stderr.
//
// usage: wrap EVERY OUTPUT FOLDER...
package main

import (
	"bytes"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"time"

	"notaria/internal/sfnt"
)

const most = 4 << 20

func main() {
	every, err := strconv.Atoi(os.Args[1])
	if err != nil || every < 1 {
		fmt.Fprintln(os.Stderr, "usage: wrap EVERY OUTPUT FOLDER...")
		os.Exit(2)
	}
	var list []string
	for _, root := range os.Args[3:] {
		_ = filepath.WalkDir(root, func(name string, d fs.DirEntry, err error) error {
			ext := strings.ToLower(filepath.Ext(name))
			if err != nil || !d.Type().IsRegular() || ext != ".ttf" && ext != ".otf" {
				return nil
			}
			if info, err := d.Info(); err == nil && info.Size() <= most {
				list = append(list, name)
			}
			return nil
		})
	}
	w := wrapper{out: os.Args[2]}
	jobs := make(chan int)
	var group sync.WaitGroup
	for range 2 {
		group.Go(func() {
			for i := range jobs {
				w.wrap(list[i], i)
			}
		})
	}
	for i := 0; i < len(list); i += every {
		jobs <- i
	}
	close(jobs)
	group.Wait()
	fmt.Fprintf(os.Stderr, "wrapped %d fonts, %d refused: %d bytes became %d, %.1f MB/s a core\n", w.fonts, w.refused, w.before, w.after, float64(w.before)/1e6/w.busy.Seconds())
	if w.refused > w.fonts/20 {
		os.Exit(1)
	}
}

// wrapper keeps the sums of several workers.
type wrapper struct {
	out string

	mu             sync.Mutex
	fonts, refused int
	before, after  int
	busy           time.Duration
}

func (w *wrapper) wrap(name string, n int) {
	b, err := os.ReadFile(name)
	if err != nil {
		return
	}
	var tables map[string][]byte
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	if err == nil {
		tables, err = file.Font(0).Tables()
	}
	start := time.Now()
	var two, one []byte
	if err == nil {
		two, err = sfnt.BuildWOFF2(tables, sfnt.Fast)
	}
	busy := time.Since(start)
	if err == nil {
		one, err = sfnt.BuildWOFF(tables)
	}
	w.mu.Lock()
	defer w.mu.Unlock()
	if err != nil {
		w.refused++
		fmt.Fprintf(os.Stderr, "%s: %v\n", name, err)
		return
	}
	w.fonts, w.before, w.after, w.busy = w.fonts+1, w.before+len(b), w.after+len(two), w.busy+busy
	for ext, content := range map[string][]byte{"woff2": two, "woff": one} {
		to := filepath.Join(w.out, fmt.Sprintf("%05d.%s", n, ext))
		if err := os.WriteFile(to, content, 0o644); err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		fmt.Printf("%s\t%s\n", to, name)
	}
}
