package disk

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"

	"notaria/internal/fault"
)

// stateFolder is where this user's programs keep what they must remember: of the XDG
// base directories the state, on Windows the local application data.
func stateFolder() string {
	if runtime.GOOS == "windows" {
		if dir := os.Getenv("LocalAppData"); filepath.IsAbs(dir) {
			return filepath.Join(dir, "notaria")
		}
		return ""
	}
	if dir := os.Getenv("XDG_STATE_HOME"); filepath.IsAbs(dir) {
		return filepath.Join(dir, "notaria")
	}
	if home := os.Getenv("HOME"); filepath.IsAbs(home) {
		return filepath.Join(home, ".local", "state", "notaria")
	}
	return ""
}

// State opens the folder where Notaria keeps, for this user on this machine, what no
// project can supply: the journals of runs, and who is at work. With make it is made if
// it is not there; without, nil is returned then.
func State(make bool) (*Folder, error) {
	dir := stateFolder()
	if dir == "" {
		return nil, stateFault("this user's state folder", "no home folder: neither XDG_STATE_HOME nor HOME is set")
	}
	if make {
		if err := os.MkdirAll(dir, 0o700); err != nil {
			return nil, stateFault(dir+", in which runs are noted", err.Error())
		}
	}
	info, err := os.Lstat(dir)
	switch {
	case errors.Is(err, fs.ErrNotExist) || err == nil && !info.IsDir() && !make:
		return nil, nil
	case err != nil:
		return nil, stateFault(dir+", in which runs are noted", err.Error())
	}
	if uid, known := Owner(info); known && uid != os.Geteuid() {
		return nil, stateFault(dir+" that belongs to this user", "another user's")
	}
	if runtime.GOOS != "windows" && info.Mode().Perm()&0o022 != 0 {
		return nil, &fault.Error{File: dir, Expected: "a state folder that only this user may write", Found: fmt.Sprintf("mode %04o", info.Mode().Perm()), Cure: "chmod 700 it"}
	}
	return Open(dir)
}

func stateFault(expected, found string) error {
	return &fault.Error{Expected: expected, Found: found, Cure: "set HOME, or XDG_STATE_HOME to a folder of yours (on Windows LocalAppData)"}
}
