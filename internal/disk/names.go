package disk

import (
	"path"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// versionControl are the folders in which version control keeps what it runs and what
// it believes.
var versionControl = []string{".git", ".hg", ".svn", ".jj", ".bzr", "_darcs"}

// shortNames are what Windows calls some of them (8.3), before the digit.
var shortNames = []string{"git~", "hg~", "svn~", "jj~", "bzr~"}

// IsVersionControl says whether a folder's name is, on any file system, that of version
// control: capitals, points and spaces at the end, a stream's name, and code points
// that some file systems ignore (HFS+ and others) make no difference.
func IsVersionControl(name string) bool {
	name, _, _ = strings.Cut(name, ":") // a stream of NTFS
	name = strings.Map(func(r rune) rune {
		if unicode.Is(unicode.Cf, r) || unicode.Is(unicode.Variation_Selector, r) || unicode.Is(unicode.Other_Default_Ignorable_Code_Point, r) {
			return -1
		}
		return unicode.ToLower(r)
	}, norm.NFKC.String(name))
	name = strings.TrimRight(name, ". ")
	for _, v := range versionControl {
		if name == v {
			return true
		}
	}
	for _, s := range shortNames {
		if rest, ok := strings.CutPrefix(name, s); ok && len(rest) == 1 && rest[0] >= '0' && rest[0] <= '9' {
			return true
		}
	}
	return false
}

// guarded refuses what is in version control's folders, and the folders themselves.
func guarded(name string) error {
	for _, part := range strings.Split(name, "/") {
		if IsVersionControl(part) {
			return wrong(name, "a path outside version control's own folders", part, "correct the path: Notaria never writes or removes anything there")
		}
	}
	return nil
}

// devices are names that mean a device on Windows, whatever ending they have.
var devices = map[string]bool{"con": true, "prn": true, "aux": true, "nul": true, "conin$": true, "conout$": true}

// IsReserved says whether a file's name is not to be had on Windows: a device's, or one
// with a sign or an end that no file may have there.
func IsReserved(base string) bool {
	if strings.ContainsAny(base, "<>:\"|?*\\") || strings.TrimRight(base, ". ") != base ||
		strings.ContainsFunc(base, func(r rune) bool { return r < ' ' }) {
		return true
	}
	stem, _, _ := strings.Cut(base, ".")
	if stem = strings.TrimRight(stem, " "); len(stem) > len("conout$") {
		return false
	}
	stem = strings.ToLower(stem)
	if devices[stem] {
		return true
	}
	for _, port := range []string{"com", "lpt"} {
		if rest, ok := strings.CutPrefix(stem, port); ok && len([]rune(rest)) == 1 && strings.ContainsAny(rest, "0123456789¹²³") {
			return true
		}
	}
	return false
}

// portable refuses new names that not every system can hold.
func portable(name string) error {
	if base := path.Base(name); IsReserved(base) {
		return wrong(name, "a file name that every system can hold", base+", which Windows reserves or does not allow", "choose another name")
	}
	return nil
}
