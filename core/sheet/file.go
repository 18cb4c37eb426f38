package sheet

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
)

// FileError says where a file cannot be read, and why.
type FileError struct {
	Line    int
	Problem string
}

func (e *FileError) Error() string { return fmt.Sprintf("line %d: %s", e.Line, e.Problem) }

// ReadJSON reads a sheet file. Unknown fields, a foreign format or a newer
// version are refused; errors are *FileError.
func ReadJSON(data []byte) (*Sheet, error) {
	var s Sheet
	if err := DecodeStrict(data, &s); err != nil {
		return nil, err
	}
	if s.Format != Format {
		return nil, &FileError{1, fmt.Sprintf("this is no service sheet: its format is %q, expected %q", s.Format, Format)}
	}
	if s.Version != Version {
		return nil, &FileError{1, fmt.Sprintf("version %d of the sheet format is not known here; this program reads version %d", s.Version, Version)}
	}
	s.fill()
	return &s, nil
}

// fill makes absent lists empty ones, so that what is written has them all.
func (s *Sheet) fill() {
	if s.Points == nil {
		s.Points = []Point{}
	}
	if s.Stages == nil {
		s.Stages = []Stage{}
	}
	if s.Rails == nil {
		s.Rails = []Rail{}
	}
	if s.Routes == nil {
		s.Routes = []RouteName{}
	}
	for i := range s.Points {
		if s.Points[i].Expect == nil {
			s.Points[i].Expect = []Expectation{}
		}
	}
}

// DecodeStrict reads one JSON value into v, refuses fields that v does not
// have and anything after the value, and names the line of what it refuses.
func DecodeStrict(data []byte, v any) error {
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	err := d.Decode(v)
	if err == nil {
		if _, more := d.Token(); more != io.EOF {
			return &FileError{lineAt(data, d.InputOffset()), "something follows after the end"}
		}
		return nil
	}
	offset := d.InputOffset()
	var syntax *json.SyntaxError
	var kind *json.UnmarshalTypeError
	switch {
	case errors.As(err, &syntax):
		return &FileError{lineAt(data, syntax.Offset), "not JSON: " + syntax.Error()}
	case errors.As(err, &kind):
		return &FileError{lineAt(data, kind.Offset), fmt.Sprintf("%s holds a %s where %s is expected", orWord(kind.Field, "the file"), kind.Value, kindName(kind.Type.Kind().String()))}
	case errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF):
		return &FileError{lineAt(data, int64(len(data))), "the file ends in the middle"}
	}
	return &FileError{lineAt(data, offset), err.Error()}
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

// WriteJSON writes the sheet file; ReadJSON gives the same sheet back.
func (s *Sheet) WriteJSON() []byte {
	out := *s // the sheet may be in use elsewhere
	out.Points = slices.Clone(s.Points)
	out.Format, out.Version = Format, Version
	out.fill()
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	// Encode fails only for values a Sheet cannot hold.
	_ = e.Encode(out)
	return b.Bytes()
}
