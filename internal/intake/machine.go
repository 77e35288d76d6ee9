package intake

import (
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
)

// MachineFolders are where the fonts of this machine are, those of the system and those of the user: by the XDG base
// directories and the default folders of fontconfig, Apple's domains, and the two folders of Windows. No other program
// is asked. Folders that are not there are left out.
func MachineFolders() []string {
	home, _ := os.UserHomeDir()
	var list []string
	switch runtime.GOOS {
	case "windows":
		list = append(list, filepath.Join(os.Getenv("WINDIR"), "Fonts"))
		if local := os.Getenv("LOCALAPPDATA"); local != "" {
			list = append(list, filepath.Join(local, "Microsoft", "Windows", "Fonts"))
		}
	case "darwin", "ios":
		list = append(list, "/System/Library/Fonts", "/Library/Fonts")
		if home != "" {
			list = append(list, filepath.Join(home, "Library", "Fonts"))
		}
	default:
		data := os.Getenv("XDG_DATA_HOME")
		if data == "" && home != "" {
			data = filepath.Join(home, ".local", "share")
		}
		dirs := os.Getenv("XDG_DATA_DIRS")
		if dirs == "" {
			dirs = "/usr/local/share:/usr/share"
		}
		for _, d := range append(strings.Split(dirs, ":"), data) {
			if filepath.IsAbs(d) {
				list = append(list, filepath.Join(d, "fonts"))
			}
		}
		if home != "" {
			list = append(list, filepath.Join(home, ".fonts"))
		}
	}
	var out []string
	for _, d := range list {
		if info, err := os.Stat(d); err == nil && info.IsDir() && !slices.Contains(out, d) {
			out = append(out, d)
		}
	}
	return out
}

// OfFamilies leaves the faces of some families, by their names in any capitals; and what is said of their files. It also
// returns the names that no family has.
func (h *Haul) OfFamilies(names []string) (missing []string) {
	known := map[string]bool{}
	for _, f := range h.Faces {
		known[strings.ToLower(f.Family)] = true
	}
	is := func(f Found, name string) bool { // the legacy name is shared by families, and counts where no other is so
		return strings.EqualFold(f.Family, name) || !known[strings.ToLower(name)] && strings.EqualFold(f.LegacyFamily, name)
	}
	for _, n := range names {
		if !slices.ContainsFunc(h.Faces, func(f Found) bool { return is(f, n) }) {
			missing = append(missing, n)
		}
	}
	h.Faces = slices.DeleteFunc(h.Faces, func(f Found) bool {
		return !slices.ContainsFunc(names, func(n string) bool { return is(f, n) })
	})
	files := map[string]bool{}
	for _, f := range h.Faces {
		files[f.File] = true
	}
	kept := h.Problems[:0:0]
	for _, p := range h.Problems {
		if files[p.File] {
			kept = append(kept, p)
		}
	}
	h.Problems, h.Junk = kept, 0
	return missing
}
