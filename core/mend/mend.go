// Package mend marks the errors that a person can mend: what they say is what is wrong, and
// what to do about it. Every other error is one of the program or of the machine.
package mend

import (
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"
)

// Error is an error that a person can mend.
type Error interface {
	error
	// Mendable marks it.
	Mendable()
}

// amiss is the usual one.
type amiss struct{ err error }

func (e *amiss) Error() string { return e.err.Error() }
func (e *amiss) Unwrap() error { return errors.Unwrap(e.err) }
func (e *amiss) Mendable()     {}

// Errorf says what is wrong, as fmt.Errorf does.
func Errorf(format string, args ...any) error { return &amiss{fmt.Errorf(format, args...)} }

// Is tells whether a person can mend an error.
func Is(err error) bool {
	var e Error
	return errors.As(err, &e)
}

// Capital begins a sentence; of nothing it makes nothing.
func Capital(text string) string {
	r, n := utf8.DecodeRuneInString(text)
	if n == 0 {
		return text
	}
	return string(unicode.ToUpper(r)) + text[n:]
}

// Sentence makes a sentence of what is wrong, which begins with a small letter and has no full stop.
func Sentence(text string) string {
	if text != "" && !strings.HasSuffix(text, ".") && !strings.HasSuffix(text, "?") {
		text += "."
	}
	return Capital(text)
}

// Text refuses what is too long, or no readable text, of something that a person writes; most in characters.
func Text(what, s string, most int) error {
	if utf8.RuneCountInString(s) > most || !utf8.ValidString(s) {
		return Errorf("the %s is longer than %d characters, or no readable text", what, most)
	}
	return nil
}

// Day refuses what is no day (2026-12-03), and no blank either.
func Day(text string) error {
	if _, err := time.Parse(time.DateOnly, text); text != "" && err != nil {
		return Errorf("%q is no day: write it as 2026-12-03, or leave it out", text)
	}
	return nil
}
