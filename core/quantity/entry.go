package quantity

import (
	"strings"

	"steptrace/core/exchange"
)

// Word is a reading that is noticed, not measured.
type Word string

// Words implements exchange.Enumerated.
func (Word) Words() []string { return exchange.WordsOf(Words) }

// The words that stand for a reading.
const (
	NoWord    Word = ""
	OK        Word = "ok"
	Nothing   Word = "none"
	Weak      Word = "weak"
	Hum       Word = "hum"
	Noisy     Word = "noisy"
	Crackle   Word = "crackle"
	Distorted Word = "distorted"
	CutsOut   Word = "cuts out"
	Partly    Word = "partly"
	Open      Word = "open" // of ohms: more than the meter shows
	Warm      Word = "warm" // of a part, to the hand
	Cold      Word = "cold"
)

// Words are all of them, none first.
var Words = []Word{NoWord, OK, Nothing, Weak, Partly, Hum, Noisy, Crackle, Distorted, CutsOut, Open, Warm, Cold}

// words maps what people type to the word it means.
var words = map[string]Word{
	"ok": OK, "good": OK, "fine": OK, "clean": OK,
	"none": Nothing, "nothing": Nothing, "dead": Nothing, "silent": Nothing, "no": Nothing, "absent": Nothing,
	"weak": Weak, "faint": Weak, "quiet": Weak, "low": Weak,
	"hum": Hum, "buzz": Hum, "hums": Hum, "buzzes": Hum,
	"noisy": Noisy, "noise": Noisy, "hiss": Noisy,
	"crackle": Crackle, "crackles": Crackle, "crackling": Crackle, "scratchy": Crackle,
	"distorted": Distorted, "distortion": Distorted, "clipped": Distorted, "harsh": Distorted,
	"cuts out": CutsOut, "cuts": CutsOut, "intermittent": CutsOut, "comes and goes": CutsOut,
	"warm": Warm, "hot": Warm, "grows warm": Warm, "cold": Cold, "stays cold": Cold,
	"partly": Partly, "partial": Partly, "incomplete": Partly,
}

// IsOpen tells whether a text says that ohms, or a diode test, are beyond what the meter
// shows: "OL", "open", "inf", "over range", ">20M".
func IsOpen(text string) bool {
	t := strings.ToLower(strings.Join(strings.Fields(text), " "))
	switch t {
	case "ol",
		"o.l",
		"o.l.",
		"0l",
		"0.l",
		"open",
		"1.",
		"inf",
		"infinite",
		"infinity",
		"∞",
		"over",
		"over range",
		"overrange",
		"over-range",
		"overload",
		"open circuit":
		return true
	}
	more, ok := strings.CutPrefix(strings.TrimSpace(text), ">") // m and M differ
	if !ok {
		return false
	}
	v, err := ParseAs(more, Ohm)
	return err == nil && v.SI >= openFrom
}

// openFrom is the least, in ohms, beyond which "more than" stands for open: hand meters
// end at some megohms.
const openFrom = 1e6

// Entry is what a person typed for a reading: a value or a word.
type Entry struct {
	Text  string
	Word  Word
	Value Value // where Word is empty
}

// ParseEntry reads a reading as typed. A number without a unit takes the
// fallback. Errors are *ParseError and name the words as well.
func ParseEntry(text string, fallback Unit) (Entry, error) {
	key := strings.ToLower(strings.Join(strings.Fields(text), " "))
	if w, ok := words[key]; ok {
		return Entry{Text: text, Word: w}, nil
	}
	if seen, ok := SeenIn(text); ok {
		return Entry{Text: text, Word: seen.Word()}, nil
	}
	if fallback == Ohm && IsOpen(text) {
		return Entry{Text: text, Word: Open}, nil
	}
	v, err := Parse(text, fallback)
	if err != nil {
		if e, ok := err.(*ParseError); ok {
			e.Help = strings.TrimSuffix(e.Help, ".") + ", or a word: ok, none, weak, partly, hum, noisy, crackle, distorted, cuts out."
		}
		return Entry{}, err
	}
	return Entry{Text: text, Value: v}, nil
}

// ParseGain reads a voltage gain in decibels: "28 dB", "+28", "×25", "x0.4".
func ParseGain(text string) (db float64, err error) {
	runes := tidy(strings.TrimSpace(text))
	if len(runes) > 0 && runes[0] == 'x' {
		v, err := ParseAs(string(runes[1:]), None)
		if err != nil {
			return 0, err
		}
		if v.SI <= 0 {
			return 0, &ParseError{
				Text:    clip(text),
				At:      2,
				Problem: "a gain in times must be above zero",
				Help:    "Write for example ×25, ×0.4 or -8 dB.",
			}
		}
		return DB(v.SI, 1), nil
	}
	v, err := ParseAs(text, Decibel)
	return v.SI, err
}
