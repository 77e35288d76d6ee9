//go:build unix

package tests

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"notaria/internal/sfnt"
)

// hostileFonts are fonts of few bytes that ask for much work, or much memory.
var hostileFonts = map[string]func(tables map[string][]byte){
	"composites of a large glyph": func(t map[string][]byte) {
		many := make([]int, 60)
		glyf(t, append([][]byte{large(30000)}, repeated(parts(many...), 6000)...))
	},
	"composites of composites": func(t map[string][]byte) {
		list := [][]byte{large(3000)}
		for i := range 5000 {
			list = append(list, parts(max(i-1, 0), i, i))
		}
		glyf(t, list)
	},
	"long edges": func(t map[string][]byte) { glyf(t, append([][]byte{{}}, repeated(large(60000), 8)...)) },
	"lookups that share a subtable": func(t map[string][]byte) {
		const m = 16000 // places have 16 bits
		list := u16(m)
		for range m {
			list = append(list, u16(2+2*m)...)
		}
		list = append(list, u16(1, 0, 1, 8)...) // a lookup of one subtable
		cover := u16(1, 90)
		for g := range 90 {
			cover = append(cover, u16(g+1)...)
		}
		list = append(list, append(u16(1, 6, 1), cover...)...)
		feature := append(u16(1), append([]byte("liga"), u16(8)...)...)
		feature = append(feature, u16(0, min(m, 30000))...)
		for i := range m {
			feature = append(feature, u16(i)...)
		}
		script := append(u16(1), append([]byte("DFLT"), u16(8, 4, 0, 0, 0xFFFF, 1, 0)...)...)
		at := 10
		t["GSUB"] = append(append(append(u16(1, 0, at, at+len(script), at+len(script)+len(feature)), script...), feature...), list...)
	},
	"contexts that call themselves": func(t map[string][]byte) {
		lookup := append(u16(6, 0, 1, 8), u16(3, 0, 1, 18, 0, 2, 0, 0, 0, 0)...) // chained, of one glyph, twice itself
		lookup = append(lookup[:len(lookup)-2], append(u16(1, 90), func() (g []byte) {
			for i := range 90 {
				g = append(g, u16(i+1)...)
			}
			return g
		}()...)...)
		feature := append(append(u16(1), []byte("liga")...), u16(8, 0, 1, 0)...)
		script := append(append(u16(1), []byte("DFLT")...), u16(8, 4, 0, 0, 0xFFFF, 1, 0)...)
		t["GSUB"] = slices.Concat(u16(1, 0, 10, 10+len(script), 10+len(script)+len(feature)), script, feature, u16(1, 4), lookup)
	},
	"layers of layers": func(t map[string][]byte) {
		const n = 1000
		var bases, layers []byte
		for g := range n {
			bases = append(bases, u16(g, 0, 250)...)
		}
		for range 250 {
			layers = append(layers, u16(1, 0)...)
		}
		glyf(t, append([][]byte{{}}, repeated(large(2000), n-1)...))
		t["COLR"] = append(append(append(u16(0, n), u32(14, 14+len(bases))...), u16(250)...), append(bases, layers...)...)
		t["CPAL"] = append(append(u16(0, 1, 1, 1), u32(14)...), append(u16(0), 1, 2, 3, 255)...)
	},
	"one picture of all glyphs":                func(t map[string][]byte) { pictured(t, 6000, 1000) },
	"layers of one list":                       func(t map[string][]byte) { layered(t, 65000, 256) },
	"paints of one graph":                      func(t map[string][]byte) { painted(t, 6000, 255, 70) },
	"variations of all points":                 func(t map[string][]byte) { shifted(t, 6000, 30000, 4095) },
	"another table of regions for each number": func(t map[string][]byte) { regioned(t, 190000, 512) },
	"512 faces on one directory":               func(t map[string][]byte) { glyf(t, append([][]byte{{}}, repeated(large(2000), 900)...)) },
}

// collected are fonts that stand in one collection so many times.
var collected = map[string]int{"512 faces on one directory": 512}

// collection is a file of n faces that are one font.
func collection(font []byte, n int) []byte {
	head := append([]byte("ttcf"), u32(0x10000, n)...)
	shift := len(head) + 4*n
	for range n {
		head = append(head, u32(shift)...)
	}
	font = bytes.Clone(font)
	for i := range int(binary.BigEndian.Uint16(font[4:])) {
		at := font[12+16*i+8:]
		binary.BigEndian.PutUint32(at, binary.BigEndian.Uint32(at)+uint32(shift))
	}
	return append(head, font...)
}

// highest looks at how much memory a process takes, in KiB, until it ends (Linux; elsewhere 0).
func highest(pid int) func() int {
	most, ended := 0, make(chan struct{})
	go func() {
		defer close(ended)
		for {
			status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
			if err != nil {
				return
			}
			_, rest, ok := strings.Cut(string(status), "VmHWM:")
			if !ok {
				return // it ended, and nobody waited for it yet
			}
			if kib, err := strconv.Atoi(strings.Fields(rest)[0]); err == nil {
				most = max(most, kib)
			}
			time.Sleep(5 * time.Millisecond)
		}
	}()
	return func() int { <-ended; return most }
}

func hostileFont(t *testing.T, name string) []byte {
	t.Helper()
	tables := fontTables(t)
	hostileFonts[name](tables)
	font, err := sfnt.Build(tables)
	require.NoError(t, err)
	if n := collected[name]; n > 0 {
		return collection(font, n)
	}
	return font
}

// A signal ends a run that is far within one font: it takes some seconds otherwise.
func TestSignalWithinAFont(t *testing.T) {
	dir := t.TempDir()
	at := filepath.Join(dir, "font.ttf")
	require.NoError(t, os.WriteFile(at, hostileFont(t, "lookups that share a subtable"), 0o644))
	text := strings.Repeat("Ferry to Holm and Stora Skerry, 07:40 from quay 2\n", 300)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "text.txt"), []byte(text), 0o644))
	for _, signal := range []os.Signal{os.Interrupt, syscall.SIGTERM} {
		cmd := exec.Command(program(t), "specimen", at, "--text-file", filepath.Join(dir, "text.txt"), "--out", filepath.Join(dir, "x.png"))
		cmd.Dir, cmd.Env = dir, append(os.Environ(), "XDG_STATE_HOME="+dir)
		require.NoError(t, cmd.Start())
		time.Sleep(500 * time.Millisecond)
		require.NoError(t, cmd.Process.Signal(signal))
		_ = cmd.Wait()
		require.Equal(t, 3, cmd.ProcessState.ExitCode())
		require.Less(t, cmd.ProcessState.UserTime(), 2*time.Second)
		require.NoFileExists(t, filepath.Join(dir, "x.png"))
	}
}

// reads lets a command read a font, within bounds of memory and of the processor's time, which is wide: what is not
// bounded takes a hundred times as much.
func reads(t *testing.T, line, font string) string {
	t.Helper()
	dir := t.TempDir()
	cmd := exec.Command(program(t), strings.Fields(strings.NewReplacer("FONT", font, "OUT", filepath.Join(dir, "x")).Replace(line))...)
	cmd.Dir, cmd.Env = dir, append(os.Environ(), "XDG_STATE_HOME="+dir)
	timer := time.AfterFunc(2*time.Minute, func() { _ = cmd.Process.Kill() })
	defer timer.Stop()
	var out bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &out
	require.NoError(t, cmd.Start())
	most := highest(cmd.Process.Pid)
	_ = cmd.Wait()
	used := cmd.ProcessState.UserTime() + cmd.ProcessState.SystemTime()
	said := fmt.Sprintf("%s: %v, %d MiB, exit %d: %.150s", line, used, most()>>10, cmd.ProcessState.ExitCode(), out.String())
	require.NotContains(t, out.String(), "goroutine ", said)
	require.GreaterOrEqual(t, cmd.ProcessState.ExitCode(), 0, said)
	require.Less(t, used, 30*time.Second, said)
	require.LessOrEqual(t, most()>>10, 256, said)
	return said
}

// TestHostileFonts lets every reading command see them; each third one, if it is not thorough.
func TestHostileFonts(t *testing.T) {
	for n, name := range slices.Sorted(maps.Keys(hostileFonts)) {
		at := filepath.Join(t.TempDir(), "font.ttf")
		require.NoError(t, os.WriteFile(at, hostileFont(t, name), 0o644))
		for i, line := range readers {
			if (i+n)%times(3, 1) != 0 {
				continue
			}
			t.Run(name+": "+line, func(t *testing.T) { t.Log(reads(t, line, at)) })
		}
	}
}
