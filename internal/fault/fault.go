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
	File     string // project-relative path, or the app meant; "" for a request, or where it is not known yet
	Line     int    // 1-based; 0 if the whole file is meant
	Place    string // in the file, for what has no lines; "" if the whole is meant
	Expected string
	Found    string
	Cure     string // "" where it is not known yet
}

// At is the place in the form that editors open: file:line.
func (e *Error) At() string {
	if e.Line > 0 {
		return fmt.Sprintf("%s:%d", e.File, e.Line)
	}
	return e.File
}

func (e *Error) Error() string {
	s := "expected " + e.Expected + ", found " + e.Found
	if e.Place != "" {
		s = e.Place + ": " + s
	}
	if e.Cure != "" {
		s += "; " + e.Cure
	}
	if e.File == "" {
		return s
	}
	return e.At() + ": " + s
}

// Form is an error of a sentence: "PLACE: expected A, found B; CURE", of which the place and the cure can be left out.
// The sentence is taken apart before the arguments are in it, so that nothing of theirs is taken for a part of it.
func Form(format string, args ...any) error {
	part := func(s string) string {
		n := len(verbs(s))
		n = min(n, len(args))
		text := fmt.Sprintf(s, args[:n]...)
		args = args[n:]
		return text
	}
	place, rest, ok := strings.Cut(format, "expected ")
	if !ok {
		return fmt.Errorf(format, args...)
	}
	expected, rest, _ := strings.Cut(rest, ", found ")
	found, cure, _ := strings.Cut(rest, "; ")
	return &Error{Place: strings.TrimSuffix(part(place), ": "), Expected: part(expected), Found: part(found), Cure: part(cure)}
}

// verbs are the verbs of a format, each of which takes one argument.
func verbs(format string) (out []byte) {
	for i := 0; i < len(format); i++ {
		if format[i] != '%' {
			continue
		}
		for i++; i < len(format) && strings.IndexByte("+-# 0123456789.", format[i]) >= 0; i++ {
		}
		if i < len(format) && format[i] != '%' {
			out = append(out, format[i])
		}
	}
	return out
}

// Of is an error about something in a file, in the one form: what is known of the error already, its expected, found,
// place and cure, stays; one that has its file already stays as it is.
func Of(file, about string, err error, cure string) error {
	var e *Error
	if !errors.As(err, &e) {
		return &Error{File: file, Expected: about, Found: err.Error(), Cure: cure}
	}
	if e.File != "" {
		return err
	}
	if e.Place != "" {
		about += ", " + e.Place
	}
	if e.Cure != "" {
		cure = e.Cure + "; " + cure
	}
	return &Error{File: file, Expected: e.Expected + " (" + about + ")", Found: e.Found, Cure: cure}
}

// A UseError is wrong use of a command: what was typed does not fit together, and nothing was done.
type UseError struct{ Err error }

func (e *UseError) Error() string { return e.Err.Error() }
func (e *UseError) Unwrap() error { return e.Err }

// Use says what is wrong with what was typed.
func Use(format string, args ...any) error { return &UseError{fmt.Errorf(format, args...)} }
