// Package fault is the one form of error that people meet: what was expected, what
// was found, and the cure, with the file and the line.
package fault

import "fmt"

// An Error says what is wrong with a file, an app or a request, and how to mend it.
type Error struct {
	File     string // project-relative path, or the app meant; "" for a request
	Line     int    // 1-based; 0 if the whole file is meant
	Expected string
	Found    string
	Cure     string
}

// At is the place in the form that editors open: file:line.
func (e *Error) At() string {
	if e.Line > 0 {
		return fmt.Sprintf("%s:%d", e.File, e.Line)
	}
	return e.File
}

func (e *Error) Error() string {
	s := "expected " + e.Expected + ", found " + e.Found + "; " + e.Cure
	if e.File == "" {
		return s
	}
	return e.At() + ": " + s
}
