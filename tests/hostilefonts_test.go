//go:build unix

package tests

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/png"
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
	"notaria/internal/skerry/letters"
)

// u16 and u32 are numbers as fonts hold them.
func u16(v ...int) (out []byte) {
	for _, x := range v {
		out = binary.BigEndian.AppendUint16(out, uint16(x))
	}
	return out
}

func u32(v ...int) (out []byte) {
	for _, x := range v {
		out = binary.BigEndian.AppendUint32(out, uint32(x))
	}
	return out
}

// glyf makes the tables of outlines.
func glyf(tables map[string][]byte, glyphs [][]byte) {
	var data, at []byte
	for _, g := range glyphs {
		at = append(at, u32(len(data))...)
		data = append(append(data, g...), make([]byte, (4-len(g)%4)%4)...)
	}
	at = append(at, u32(len(data))...)
	head, maxp, hhea := bytes.Clone(tables["head"]), bytes.Clone(tables["maxp"]), bytes.Clone(tables["hhea"])
	binary.BigEndian.PutUint16(head[50:], 1) // long places
	binary.BigEndian.PutUint16(maxp[4:], uint16(len(glyphs)))
	binary.BigEndian.PutUint16(hhea[34:], uint16(len(glyphs)))
	var hmtx []byte
	for range glyphs {
		hmtx = append(hmtx, u16(500, 0)...)
	}
	tables["glyf"], tables["loca"], tables["head"], tables["maxp"], tables["hhea"], tables["hmtx"] = data, at, head, maxp, hhea, hmtx
	// Each letter of ASCII is a glyph, and so are private ones.
	groups := u32(' ', '~', 1, 0xE000, 0xE000+min(len(glyphs), 6000)-1-96, 96)
	tables["cmap"] = append(append(u16(0, 1, 3, 10), u32(12)...), append(append(u16(12, 0), u32(16+len(groups), 0, len(groups)/12)...), groups...)...)
	for _, t := range []string{"GSUB", "GPOS", "GDEF", "kern", "gasp", "fpgm", "prep", "cvt ", "DSIG", "COLR", "CPAL"} {
		delete(tables, t)
	}
}

// large is an outline of many points; each is a step of a zigzag.
func large(points int) []byte {
	out := u16(1, 0, 0, 1000, 1000, points-1, 0)
	flags, xs, ys := []byte{}, []byte{}, []byte{}
	for i := range points {
		flags, xs = append(flags, 1), append(xs, u16(1-2*(i%2))...)
		ys = append(ys, u16(700-1400*(i%2))...)
	}
	return append(append(append(out, flags...), xs...), ys...)
}

// parts is a glyph of others.
func parts(of ...int) []byte {
	out := u16(0xFFFF, 0, 0, 1000, 1000)
	for i, g := range of {
		flags := 3 | 0x20
		if i == len(of)-1 {
			flags = 3
		}
		out = append(out, u16(flags, g, 0, 0)...)
	}
	return out
}

func repeated(g []byte, n int) (out [][]byte) {
	for range n {
		out = append(out, g)
	}
	return out
}

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
	"one picture of all glyphs": func(t map[string][]byte) {
		glyf(t, repeated([]byte{}, 6000))
		var b bytes.Buffer
		_ = png.Encode(&b, image.NewNRGBA(image.Rect(0, 0, 1000, 1000)))
		strike := u16(1000, 72)
		data := append(u16(0, 0), append([]byte("png "), b.Bytes()...)...)
		for i := range 6001 { // each second one has the whole picture
			strike = append(strike, u32(4+4*6001+(i%2)*len(data))...)
		}
		strike = append(strike, data...)
		t["sbix"] = append(append(u16(1, 1), u32(1, 12)...), strike...)
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
	b, err := letters.Font(letters.Styles[1])
	require.NoError(t, err)
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	tables, err := file.Font(0).Tables()
	require.NoError(t, err)
	hostileFonts[name](tables)
	font, err := sfnt.Build(tables)
	require.NoError(t, err)
	return font
}

// A signal ends a run that is far within one font: it takes some seconds otherwise.
func TestSignalWithinAFont(t *testing.T) {
	dir := t.TempDir()
	at := filepath.Join(dir, "font.ttf")
	require.NoError(t, os.WriteFile(at, hostileFont(t, "contexts that call themselves"), 0o644))
	for _, signal := range []os.Signal{os.Interrupt, syscall.SIGTERM} {
		cmd := exec.Command(program(t), "specimen", at, "--out", filepath.Join(dir, "x.png"))
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

// TestHostileFonts lets every reading command see them, within bounds of memory and of the processor's time, which is
// wide: what is not bounded takes a hundred times as much.
func TestHostileFonts(t *testing.T) {
	commands := []string{"names --json FONT", "specimen FONT --out OUT.png", "specimen FONT --out OUT.svg", "specimen FONT --view in-depth --out OUT.html", "measure FONT --text Departures", "label FONT --text Quay --out OUT.png", "compare FONT FONT --text Quay", "pixel FONT --as c --name sign", "names --all FONT"}
	for name := range hostileFonts {
		font := hostileFont(t, name)
		dir := t.TempDir()
		at := filepath.Join(dir, "font.ttf")
		require.NoError(t, os.WriteFile(at, font, 0o644))
		for _, line := range commands {
			t.Run(name+": "+line, func(t *testing.T) {
				cmd := exec.Command(program(t), strings.Fields(strings.NewReplacer("FONT", at, "OUT", filepath.Join(t.TempDir(), "x")).Replace(line))...)
				cmd.Dir, cmd.Env = t.TempDir(), append(os.Environ(), "XDG_STATE_HOME="+dir)
				timer := time.AfterFunc(2*time.Minute, func() { _ = cmd.Process.Kill() })
				defer timer.Stop()
				var out bytes.Buffer
				cmd.Stdout, cmd.Stderr = &out, &out
				require.NoError(t, cmd.Start())
				most := highest(cmd.Process.Pid)
				_ = cmd.Wait()
				used := cmd.ProcessState.UserTime() + cmd.ProcessState.SystemTime()
				t.Logf("%d bytes: %v, %d MiB, exit %d: %.150s", len(font), used, most()>>10, cmd.ProcessState.ExitCode(), out.String())
				require.NotContains(t, out.String(), "goroutine ")
				require.GreaterOrEqual(t, cmd.ProcessState.ExitCode(), 0, "it had to be ended")
				require.Less(t, used, 30*time.Second)
				require.LessOrEqual(t, most()>>10, 256)
			})
		}
	}
}
