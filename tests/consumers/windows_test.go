package consumers

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"notaria/internal/skerry"
)

// library makes a Windows library (PE32+) that does nothing but lead a name to one of
// another library: Wine lacks one that Go's runtime asks for its random numbers.
func library(name, export, to string) []byte {
	const at = 0x1000 // where its one section is in memory
	var section bytes.Buffer
	text := map[string]uint32{}
	put := func(s string) {
		text[s] = at + 40 + 10 + uint32(section.Len())
		section.WriteString(s + "\x00")
	}
	put(name)
	put(export)
	put(to)
	var b bytes.Buffer
	le := func(values ...any) {
		for _, v := range values {
			_ = binary.Write(&b, binary.LittleEndian, v)
		}
	}
	b.WriteString("MZ")
	b.Write(make([]byte, 58))
	le(uint32(64), []byte("PE\x00\x00"))
	le(uint16(0x8664), uint16(1), uint32(0), uint32(0), uint32(0), uint16(240), uint16(0x2022))
	le(uint16(0x20b), uint16(0), uint32(0), uint32(0x200), uint32(0), uint32(0), uint32(at), uint64(0x180000000), uint32(0x1000), uint32(0x200),
		uint16(6), uint16(0), uint16(0), uint16(0), uint16(6), uint16(0), uint32(0), uint32(0x2000), uint32(0x200), uint32(0), uint16(3), uint16(0x140),
		uint64(0x100000), uint64(0x1000), uint64(0x100000), uint64(0x1000), uint32(0), uint32(16))
	le(uint32(at), uint32(0x200))
	le(make([]byte, 15*8))
	le([]byte(".edata\x00\x00"), uint32(0x200), uint32(at), uint32(0x200), uint32(0x200), uint32(0), uint32(0), uint32(0), uint32(0x40000040))
	b.Write(make([]byte, 0x200-b.Len()))
	le(uint32(0), uint32(0), uint32(0), text[name], uint32(1), uint32(1), uint32(1), uint32(at+40), uint32(at+44), uint32(at+48))
	le(text[to], text[export], uint16(0))
	b.Write(section.Bytes())
	b.Write(make([]byte, 0x400-b.Len()))
	return b.Bytes()
}

// windows is the Windows build of the program under Wine; it skips where there is none.
func windows(t *testing.T) func(dir string, args ...string) *exec.Cmd {
	t.Helper()
	const debian = "/usr/lib/wine/wine64"
	need(t, debian)
	wine := debian
	program := filepath.Join(t.TempDir(), "notaria.exe")
	build := exec.Command("go", "build", "-o", program, "notaria/cmd/notaria")
	build.Env = append(os.Environ(), "GOOS=windows", "GOARCH=amd64", "CGO_ENABLED=0")
	out, err := build.CombinedOutput()
	require.NoError(t, err, string(out))
	prefix := filepath.Join(t.TempDir(), "wine")
	env := append(os.Environ(), "WINEPREFIX="+prefix, "WINEDEBUG=-all", "DISPLAY=")
	first := exec.Command(wine, "wineboot", "--init")
	first.Env = env
	_ = first.Run() // what matters of it is the folder
	lib := filepath.Join(prefix, "drive_c/windows/system32/bcryptprimitives.dll")
	require.NoError(t, os.MkdirAll(filepath.Dir(lib), 0o755))
	require.NoError(t, os.WriteFile(lib, library("bcryptprimitives.dll", "ProcessPrng", "advapi32.SystemFunction036"), 0o644))
	t.Cleanup(func() { // its server would keep the folder
		server := exec.Command(filepath.Join(filepath.Dir(wine), "wineserver"), "-k")
		server.Env = env
		_ = server.Run()
	})
	return func(dir string, args ...string) *exec.Cmd {
		cmd := exec.Command(wine, append([]string{program}, args...)...)
		cmd.Dir, cmd.Env = dir, env
		return cmd
	}
}

// onDisk is a folder of the test that is not in memory: Wine cannot list those that are.
func onDisk(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("/var/tmp", "notaria-test-")
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	return dir
}

// The Windows build does to a project what every other build does, byte by byte; and two
// commands at once leave what one after the other leaves.
func TestWindows(t *testing.T) {
	t.Parallel()
	onWindows := windows(t)
	root := onDisk(t)
	archive := filepath.Join(root, "download.zip")
	story := [][]string{{"names", archive}, {"enrol", archive, "--styles", "regular,bold,light"}, {"register"}, {"check"}, {"register", "--dry-run"}, {"targets"},
		{"strike", "SkerrySans-Light"}, {"strike", "SkerrySans-Bold", "--roles-to", "SkerrySans-Regular"}, {"check"}, {"strike", "Skerry Sans", "--with-roles"}}
	a, b := filepath.Join(root, "here"), filepath.Join(root, "there")
	for _, dir := range []string{a, b} {
		require.NoError(t, skerry.Place(dir))
	}
	require.NoError(t, os.Rename(filepath.Join(a, skerry.ArchiveName), archive))
	require.NoError(t, os.Remove(filepath.Join(b, skerry.ArchiveName)))
	registered := filepath.Join(root, "registered")
	for _, args := range story {
		if args[0] == "check" {
			for _, dir := range []string{a, b} {
				_, err := skerry.Use(dir)
				require.NoError(t, err)
			}
		}
		out := notaria(t, 0, a, args...)
		text, err := onWindows(b, args...).Output()
		var exit *exec.ExitError
		if errors.As(err, &exit) {
			text = append(text, exit.Stderr...)
		}
		require.NoError(t, err, "%v: %s", args, text)
		require.Equal(t, contents(t, a), contents(t, b), "%v", args)
		require.Equal(t, strings.ReplaceAll(out, archive, "X"), strings.ReplaceAll(string(text), archive, "X"), "%v", args)
		if args[0] == "targets" {
			require.NoError(t, os.CopyFS(registered, os.DirFS(b)))
		}
	}
	foldedCase(t, onWindows, filepath.Join(root, "renamed"), registered)

	many := 16
	if os.Getenv("NOTARIA_THOROUGH") == "" {
		many = 4
	}
	goal := ""
	for i := range many {
		dir := filepath.Join(root, fmt.Sprint("pair", i))
		require.NoError(t, os.CopyFS(dir, os.DirFS(registered)))
		pair := [][]string{{"strike", "SkerrySans-Light"}, {[]string{"register", "check", "survey", "register"}[i%4]}}
		if i%4 == 3 {
			pair[1] = append(pair[1], "--dry-run")
		}
		var wait sync.WaitGroup
		for _, args := range pair {
			wait.Go(func() {
				out, err := onWindows(dir, args...).CombinedOutput()
				var exit *exec.ExitError
				if err != nil && !(errors.As(err, &exit) && exit.ExitCode() == 1 && args[0] != "strike") {
					t.Errorf("%v: %v: %s", args, err, out)
				}
			})
		}
		wait.Wait()
		now := fmt.Sprint(contents(t, dir))
		if goal == "" {
			goal = now
		}
		require.Equal(t, goal, now, "pair %d: %v", i, pair)
		require.False(t, strings.Contains(now, "SkerrySans-Light"))
		require.NoError(t, os.RemoveAll(dir))
	}
}

// foldedCase is a project in which somebody renamed an app's folder by capitals alone, on a
// disk that folds them: its fonts are the same files, and stay.
func foldedCase(t *testing.T, onWindows func(dir string, args ...string) *exec.Cmd, dir, from string) {
	require.NoError(t, os.CopyFS(dir, os.DirFS(from)))
	require.NoError(t, os.Rename(filepath.Join(dir, "deckgame"), filepath.Join(dir, "DeckGame")))
	out, err := onWindows(dir, "register").CombinedOutput()
	require.NoError(t, err, string(out))
	now := contents(t, dir)
	require.Contains(t, now, "DeckGame/fonts/SkerrySans-Bold.ttf", string(out))
	require.Contains(t, now, "DeckGame/lib/app_type.dart", string(out))
	out, err = onWindows(dir, "check").CombinedOutput()
	require.NoError(t, err, string(out))
}

// contents maps the files below a folder to what they hold.
func contents(t *testing.T, root string) map[string]string {
	t.Helper()
	out := map[string]string{}
	require.NoError(t, fs.WalkDir(os.DirFS(root), ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		b, err := os.ReadFile(filepath.Join(root, name))
		out[name] = string(b)
		return err
	}))
	return out
}
