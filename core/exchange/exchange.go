// Package exchange reads and writes the files that Step Trace exchanges with the
// world: strict JSON in, tidy JSON out, and the line of whatever is wrong.
package exchange

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
)

// FileError says where a file cannot be read, and why. Line is zero where it is about the
// file as a whole.
type FileError struct {
	Line    int
	Problem string
	cause   error
}

func (e *FileError) Error() string {
	if e.Line == 0 {
		return e.Problem
	}
	return fmt.Sprintf("line %d: %s", e.Line, e.Problem)
}

// Unwrap gives what it came from, if anything.
func (e *FileError) Unwrap() error { return e.cause }

// Mendable implements mend.Error.
func (e *FileError) Mendable() {}

// Wrong says what is wrong with a file as a whole, as fmt.Errorf does.
func Wrong(format string, args ...any) *FileError {
	err := fmt.Errorf(format, args...)
	return &FileError{Problem: err.Error(), cause: errors.Unwrap(err)}
}

// Decode reads one JSON value into v, refuses fields that v does not
// have and anything after the value, and names the line of what it refuses.
func Decode(data []byte, v any) error {
	if err := bounded(data); err != nil {
		return err
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	err := d.Decode(v)
	if err == nil {
		if _, more := d.Token(); more != io.EOF {
			return &FileError{Line: lineAt(data, d.InputOffset()), Problem: "something follows after the end"}
		}
		return nil
	}
	offset := d.InputOffset()
	var syntax *json.SyntaxError
	var kind *json.UnmarshalTypeError
	switch {
	case errors.As(err, &syntax):
		return &FileError{Line: lineAt(data, syntax.Offset), Problem: "not JSON: " + syntax.Error()}
	case errors.As(err, &kind):
		return &FileError{
			Line: lineAt(data, kind.Offset),
			Problem: fmt.Sprintf(
				"%s holds a %s where %s is expected",
				orWord(kind.Field, "the file"),
				kind.Value,
				kindName(kind.Type.Kind().String()),
			),
		}
	case errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF):
		return &FileError{Line: lineAt(data, int64(len(data))), Problem: "the file ends in the middle"}
	}
	return &FileError{Line: lineAt(data, offset), Problem: err.Error()}
}

func orWord(s, instead string) string {
	if s == "" {
		return instead
	}
	return s
}

func kindName(kind string) string {
	switch kind {
	case "slice":
		return "a list"
	case "string":
		return "a text"
	case "struct":
		return "an object"
	}
	return "a number"
}

func lineAt(data []byte, offset int64) int {
	offset = min(max(offset, 0), int64(len(data)))
	return 1 + bytes.Count(data[:offset], []byte("\n"))
}

// Encode writes a value indented, with characters as they are and no list that is
// null. The value must be one that JSON can hold: no number that is not finite.
func Encode(v any) []byte {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	if err := e.Encode(Whole(v)); err != nil {
		panic(err) // a mistake in the program: whatever comes in is checked
	}
	return b.Bytes()
}

// Enumerated is a kind of text that is one of a few words.
type Enumerated interface {
	// Words are all that it can be, in the order they are offered.
	Words() []string
}

// WordsOf are words as texts.
func WordsOf[T ~string](list []T) []string {
	out := make([]string, len(list))
	for i, x := range list {
		out[i] = string(x)
	}
	return out
}
