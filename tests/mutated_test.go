package tests

import (
	"bytes"
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/cli"
	"notaria/internal/sfnt"
)

// forms are small fonts that have all tables which something is drawn of.
var forms = []func(t map[string][]byte){
	func(map[string][]byte) {},
	func(t map[string][]byte) { pictured(t, 100, 40) },
	func(t map[string][]byte) { layered(t, 100, 3) },
	func(t map[string][]byte) { painted(t, 100, 3, 2) },
	func(t map[string][]byte) { shifted(t, 100, 12, 3) },
	func(t map[string][]byte) { regioned(t, 20, 4) },
}

// mutated changes some places of some tables, six bytes of changes for each: to what is least or most, by a little, or
// to anything.
func mutated(tables map[string][]byte, changes []byte) {
	tags := slices.Sorted(maps.Keys(tables))
	for ; len(changes) >= 6; changes = changes[6:] {
		tag := tags[int(changes[0])%len(tags)]
		b := bytes.Clone(tables[tag])
		if len(b) < 4 {
			continue
		}
		at := (int(changes[1])<<16 | int(changes[2])<<8 | int(changes[3])) >> (changes[4] >> 4) % (len(b) - 1) // heads more often
		switch changes[4] & 15 {
		case 0, 1:
			b[at], b[at+1] = 0xFF, 0xFF
		case 2, 3:
			b[at], b[at+1] = 0, 0
		case 4:
			b[at+1]++
		case 5:
			b[at]--
		case 6:
			b = b[:at]
		case 7:
			copy(b[at:], b[int(changes[5])%len(b):])
		default:
			b[at] = changes[5]
		}
		tables[tag] = b
	}
}

// readers are the commands that read a font and answer.
var readers = []string{"names --json FONT", "specimen FONT --out OUT.png", "specimen FONT --out OUT.svg", "specimen FONT --view in-depth --out OUT.html", "measure FONT --text Departures", "label FONT --text Quay --out OUT.png", "compare FONT FONT --text Quay", "pixel FONT --as c --name sign", "pixel FONT --as c --name sign --coordinates wght=800", "names --all FONT"}

// mostMade is how many bytes a command may make in all while it reads a small font, many of them one after the other.
const mostMade = 2 << 30

// throughAll lets every reading command see a font, in this process: none panics, all answer in a form that they
// have, and none makes more than it may. Output says in which form a specimen is drawn, below 0 in all three.
func throughAll(t *testing.T, font []byte, output int) {
	dir := t.TempDir()
	at := filepath.Join(dir, "font.ttf")
	require.NoError(t, os.WriteFile(at, font, 0o644))
	for i, line := range readers {
		if strings.HasPrefix(line, "specimen") && output >= 0 && i != 1+output%3 {
			continue
		}
		args := strings.Fields(strings.NewReplacer("FONT", at, "OUT", filepath.Join(dir, fmt.Sprint(i)), "--as c", "--as c --out "+dir).Replace(line))
		var before, after runtime.MemStats
		runtime.ReadMemStats(&before)
		var out, alarm bytes.Buffer
		code := cli.Execute(args, strings.NewReader(""), &out, &alarm)
		runtime.ReadMemStats(&after)
		require.Contains(t, []int{0, 1, 3}, code, "%s: %s", line, alarm.String())
		require.NotContains(t, alarm.String(), "goroutine ", line)
		require.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(mostMade), line)
		if code == 3 {
			require.NotEmpty(t, out.String()+alarm.String(), line)
		}
	}
}

func form(t *testing.T, kind byte, changes []byte) ([]byte, bool) {
	tables := fontTables(t)
	forms[int(kind)%len(forms)](tables)
	mutated(tables, changes)
	font, err := sfnt.Build(tables)
	return font, err == nil
}

// TestMutatedFonts lets every reading command see plain fonts, variable ones and those in colour, of which some bytes
// were changed.
func TestMutatedFonts(t *testing.T) {
	t.Setenv("XDG_STATE_HOME", t.TempDir())
	for i := range times(30, 500) {
		r := rand.New(rand.NewPCG(uint64(i), 1))
		changes := make([]byte, 6*(i/len(forms)%5))
		for k := range changes {
			changes[k] = byte(r.Uint32())
		}
		font, ok := form(t, byte(i), changes)
		if !ok {
			continue
		}
		t.Run(fmt.Sprint(i), func(t *testing.T) { throughAll(t, font, i/len(forms)) })
	}
}

// The way from bytes to a picture, a measure and a page.
func FuzzWay(f *testing.F) {
	for i := range forms {
		f.Add(byte(i), []byte{})
	}
	f.Fuzz(func(t *testing.T, kind byte, changes []byte) {
		if len(changes) > 60 {
			return
		}
		t.Setenv("XDG_STATE_HOME", t.TempDir())
		if font, ok := form(t, kind, changes); ok {
			throughAll(t, font, -1)
		}
	})
}
