package instrument

import (
	"embed"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"regexp"
	"slices"
	"strings"
)

// Role is what an instrument is.
type Role string

// The kinds. Level and frequency are set on a generator; a tester measures parts; a logger has many inputs.
const (
	Scope     Role = "scope"
	Generator Role = "generator"
	Meter     Role = "meter"
	Tester    Role = "tester"
	Logger    Role = "logger"
)

// Kinds lists them.
var Roles = []Role{Scope, Generator, Meter, Tester, Logger}

// Answer is what comes back for a message.
type Answer string

// The answers. Samples come as a definite-length block (IEEE 488.2) of signed bytes,
// of 16-bit integers or 32-bit floats with their least byte first, or as numbers with
// commas between.
const (
	Silent  Answer = ""
	Text    Answer = "text"
	Number  Answer = "number"
	Failure Answer = "error" // a number, 0 for none, and words
	Int8    Answer = "int8"
	Int16   Answer = "int16"
	Float32 Answer = "float32"
	Numbers Answer = "numbers"
)

var answers = []Answer{Silent, Text, Number, Failure, Int8, Int16, Float32, Numbers}

// word is one line of a table: the message of an action, and what it answers.
type word struct {
	message string
	answer  Answer
}

// Words is the command table of an instrument: its own words for each action.
type Words map[string]word

//go:embed words/*.csv
var shipped embed.FS

// Usual is the command table that a kind of instrument begins with, as text: messages
// in the manner of SCPI-99. Another instrument's differing words go in its place.
func Usual(kind Role) string {
	data, err := shipped.ReadFile("words/" + string(kind) + ".csv")
	if err != nil {
		return ""
	}
	return string(data)
}

// asked are the actions of each kind that have to be there, and what is filled in.
var asked = map[Role][]string{
	Scope:     {"span", "range", "take", "interval", "scale", "offset", "samples"},
	Generator: {"frequency", "level", "on", "off"},
	Meter:     {"dc", "ac"},
	Tester:    {"capacitance"},
	Logger:    {"temperature"},
}

// fills are the places that a message may have, and the actions whose they are.
var fills = regexp.MustCompile(`\{[a-z]*\}`)

var places = []string{"{seconds}", "{points}", "{volts}", "{channel}", "{coupling}", "{factor}", "{shape}", "{hz}"}

// Limits on a table that a person writes.
const maxWords, maxMessage = 100, 200

// ReadWords reads a command table: CSV with the columns action, message, answer. An
// error names the line.
func ReadWords(kind Role, text string) (Words, error) {
	if !slices.Contains(Roles, kind) {
		return nil, fmt.Errorf("%q is no kind of instrument: use scope, generator, meter, tester or logger", string(kind))
	}
	r := csv.NewReader(strings.NewReader(text))
	r.FieldsPerRecord = -1
	r.TrimLeadingSpace = true
	words := Words{}
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("the table of messages cannot be read: %w", err)
		}
		line, _ := r.FieldPos(0)
		for len(row) < 3 {
			row = append(row, "")
		}
		action, message, answer := strings.TrimSpace(row[0]), strings.TrimSpace(row[1]), Answer(strings.TrimSpace(row[2]))
		switch {
		case action == "action" || action == "":
			continue
		case len(words) >= maxWords || len(message) > maxMessage:
			return nil, fmt.Errorf("line %d: a table has up to %d messages of %d characters", line, maxWords, maxMessage)
		case message == "" || strings.ContainsAny(message, "\n\r"):
			return nil, fmt.Errorf("line %d: %q has no message: take the line out where the instrument has none", line, action)
		case !slices.Contains(answers, answer):
			return nil, fmt.Errorf(
				"line %d: %q is no answer: use text, number, numbers, error, int8, int16, float32, or nothing",
				line,
				string(answer),
			)
		}
		for _, place := range fills.FindAllString(message, -1) {
			if !slices.Contains(places, place) {
				return nil, fmt.Errorf("line %d: nothing is known to fill in for %s: use %s", line, place, strings.Join(places, ", "))
			}
		}
		words[action] = word{message, answer}
	}
	for _, action := range asked[kind] {
		if _, ok := words[action]; !ok {
			return nil, fmt.Errorf("the table has no message for %q, which a %s needs", action, kind)
		}
	}
	return words, nil
}

// fill writes a message with what is filled in.
func (w word) fill(with map[string]string) string {
	return fills.ReplaceAllStringFunc(w.message, func(place string) string { return with[strings.Trim(place, "{}")] })
}
