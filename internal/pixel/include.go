package pixel

import (
	"path/filepath"
	"strings"

	"notaria/internal/language"
	"notaria/internal/lazy"
)

// Included is a header as an #include writes it; "" stays.
func Included(header string) string {
	if header == "" || strings.HasPrefix(header, "<") || strings.HasPrefix(header, `"`) {
		return header
	}
	return `"` + header + `"`
}

// JavaPackage is the package of a folder of sources, "" where its path shows none.
func JavaPackage(folder string) string {
	at, err := filepath.Abs(folder)
	if err != nil {
		return ""
	}
	parts := strings.Split(filepath.ToSlash(at), "/")
	for i := len(parts) - 1; i > 0; i-- {
		if parts[i] == "java" || parts[i] == "src" {
			return packageOf(parts[i+1:])
		}
	}
	return ""
}

var packagePart = lazy.Regexp(`^[a-z_][a-z0-9_]*$`)

// packageOf is a package of folders, "" where one of them can be no part of it.
func packageOf(folders []string) string {
	for _, f := range folders {
		if !packagePart.MatchString(f) || language.Java.Reserved.Has(f) {
			return ""
		}
	}
	return strings.Join(folders, ".")
}
