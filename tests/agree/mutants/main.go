// Mutants breaks real fonts in thousands of seeded ways (bits flipped, ends cut,
// length fields set to extremes) and reads each: nothing may panic, take longer
// than a second, or set aside more memory than a few times the file.
//
//	mutants COUNT FONTS...
package main

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"io/fs"
	"math/rand"
	"os"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"time"

	"notaria/internal/face"
	"notaria/internal/sfnt"
)

// Bounds that no mutant may break.
const (
	mostTime   = time.Second
	mostGrowth = 24 // bytes set aside, all in all, for each byte of the file
	floor      = 8 << 20
	mostSource = 2 << 20
)

func main() {
	count, _ := strconv.Atoi(os.Args[1])
	var files []string
	for _, root := range os.Args[2:] {
		_ = filepath.WalkDir(root, func(name string, d fs.DirEntry, err error) error {
			if err == nil && d.Type().IsRegular() && strings.Contains(" .ttf .otf .ttc .woff .woff2 ", " "+strings.ToLower(filepath.Ext(name))+" ") {
				if info, err := d.Info(); err == nil && info.Size() < mostSource {
					files = append(files, name)
				}
			}
			return nil
		})
	}
	if len(files) == 0 {
		fmt.Println("no fonts")
		os.Exit(2)
	}
	dice := rand.New(rand.NewSource(11))
	var slowest time.Duration
	var hungriest float64
	bad, readable := 0, 0
	for i := range count {
		name := files[dice.Intn(len(files))]
		b, err := os.ReadFile(name)
		if err != nil || len(b) < 64 {
			continue
		}
		b = mutate(dice, b)
		var before, after runtime.MemStats
		runtime.ReadMemStats(&before)
		start := time.Now()
		if read(b) {
			readable++
		}
		took := time.Since(start)
		runtime.ReadMemStats(&after)
		grew := after.TotalAlloc - before.TotalAlloc
		slowest = max(slowest, took)
		hungriest = max(hungriest, float64(grew)/float64(len(b)+floor/mostGrowth))
		if took > mostTime || grew > uint64(len(b))*mostGrowth+floor {
			bad++
			fmt.Printf("mutant %d of %s: %v, %d bytes set aside for %d\n", i, filepath.Base(name), took, grew, len(b))
		}
	}
	fmt.Printf("%d mutants of %d real fonts: %d still readable, slowest %v, most memory %.1f bytes a byte, %d beyond the bounds\n", count, len(files), readable, slowest, hungriest, bad)
	if bad > 0 {
		os.Exit(1)
	}
}

func mutate(dice *rand.Rand, b []byte) []byte {
	for range 1 + dice.Intn(6) {
		at := dice.Intn(len(b))
		switch dice.Intn(5) {
		case 0:
			b[at] ^= 1 << dice.Intn(8)
		case 1:
			b[dice.Intn(min(len(b), 600))] = byte(dice.Intn(256))
		case 2:
			b = b[:max(at, 64)]
		case 3:
			copy(b[at:], b[dice.Intn(len(b)):])
		default:
			at = dice.Intn(min(len(b)-4, 600))
			binary.BigEndian.PutUint32(b[at:], []uint32{0, 1, 0x7fffffff, 0xffffffff, 0x80000000, uint32(len(b))}[dice.Intn(6)])
		}
	}
	return b
}

// read asks for everything that Notaria ever asks of a font.
func read(b []byte) bool {
	file, err := sfnt.Open(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return false
	}
	ok := false
	for i := range min(file.Len(), 4) {
		if _, _, err := face.Read(file.Font(i), face.Options{Coverage: true, Records: true}); err == nil {
			ok = true
		}
		if plain, err := file.Unwrap(i); err == nil {
			if f, err := sfnt.Open(bytes.NewReader(plain), int64(len(plain))); err == nil {
				_ = f.Font(0).CheckOutlines()
			}
		}
	}
	return ok
}
