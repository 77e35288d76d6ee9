// Package fault is the one form of error that people meet: what was expected, what
// was found, and the cure, with the file and the line.
package fault

import (
	"errors"
	"fmt"
	"strings"
)

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

// Of is an error about something in a file, in the one form: an error that says "expected …, found
// …" keeps both, with what it is about in front of what was expected; one that has its file
// already stays as it is.
func Of(file, about string, err error, cure string) error {
	var whole *Error
	if errors.As(err, &whole) {
		return err
	}
	place, text := "", err.Error()
	if i := strings.Index(text, "expected "); i >= 0 {
		place, text = text[:i], text[i+len("expected "):]
	} else {
		return &Error{File: file, Expected: about, Found: text, Cure: cure}
	}
	expected, found, ok := strings.Cut(text, ", found ")
	if !ok {
		return &Error{File: file, Expected: about, Found: err.Error(), Cure: cure}
	}
	if place = strings.TrimSuffix(place, ": "); place != "" {
		about += ", " + place
	}
	return &Error{File: file, Expected: expected + " (" + about + ")", Found: found, Cure: cure}
}

// A UseError is wrong use of a command: what was typed does not fit together, and nothing was done.
type UseError struct{ Err error }

func (e *UseError) Error() string { return e.Err.Error() }
func (e *UseError) Unwrap() error { return e.Err }

// Use says what is wrong with what was typed.
func Use(format string, args ...any) error { return &UseError{fmt.Errorf(format, args...)} }
