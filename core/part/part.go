// Package part judges single parts by what meters show of them.
//
//	verdict, err := part.Judge("transistor", map[string]string{"1-2": "0.65", "2-1": "OL", …})
//
// Every check knows its fields, what has to be done before it, the limits of what it can
// tell, and which further reading would make it sure. Limits are those of standards where
// there are some, and stand with their source beside each check.
package part

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
)

// Check is a sort of check: its fields, and the caution that comes before it.
type Check struct {
	Name    string  `json:"name"`
	Title   string  `json:"title"`
	Caution string  `json:"caution"`
	Fields  []Field `json:"fields"`
	// Letters are what the names of such parts usually begin with on a board.
	Letters []string `json:"letters"`

	judge func(g *given) Verdict
}

// Field is a reading or a figure that a check asks for. One with choices takes one of them.
type Field struct {
	Name    string   `json:"name"`
	Title   string   `json:"title"`
	Hint    string   `json:"hint"`
	Needed  bool     `json:"needed"`
	Choices []string `json:"choices,omitempty"`

	unit   quantity.Unit
	most   float64 // beyond it a number is a mistake; 0: no limit
	open   bool    // "open" and "OL" are understood, as infinite
	signed bool    // it may be below zero
	text   bool    // taken as it is, and read by the check itself
	hint   string  // what a number beyond most probably was
}

// Judgement is what a part is found to be.
type Judgement string

// Good, bad, or not to be told by these readings.
const (
	Good   Judgement = "good"
	Bad    Judgement = "bad"
	Unsure Judgement = "not sure"
)

// Verdict is what a check comes to: what the part is, why, what these readings cannot
// show, and what other reading would make it sure.
type Verdict struct {
	Judgement Judgement `json:"judgement" jsonschema:"enum=good,enum=bad,enum=not sure"`
	What      string    `json:"what"`
	Why       []string  `json:"why"`
	Limits    []string  `json:"limits"`
	Sure      []string  `json:"sure"`
	Wrong     bool      `json:"wrong"` // another part is fitted than belongs there
}

func verdict(j Judgement, format string, args ...any) Verdict {
	return Verdict{Judgement: j, What: fmt.Sprintf(format, args...), Why: []string{}, Limits: []string{}, Sure: []string{}}
}

func (v *Verdict) because(format string, args ...any) {
	v.Why = append(v.Why, fmt.Sprintf(format, args...))
}
func (v *Verdict) limit(format string, args ...any) {
	v.Limits = append(v.Limits, fmt.Sprintf(format, args...))
}
func (v *Verdict) surer(format string, args ...any) {
	v.Sure = append(v.Sure, fmt.Sprintf(format, args...))
}

// worse makes a verdict bad, or unsure where it was good.
func (v *Verdict) worse(j Judgement, format string, args ...any) {
	what := fmt.Sprintf(format, args...)
	if j == Bad && v.Judgement != Bad || j == Unsure && v.Judgement == Good {
		v.Judgement, v.What = j, what
	} else if j == Bad {
		v.What += "; " + what
	}
	v.because("%s", what)
}

// BadField says what is wrong with a field.
type BadField struct{ Field, Problem string }

func (e *BadField) Error() string { return e.Field + ": " + e.Problem }

// Mendable implements mend.Error.
func (e *BadField) Mendable() {}

// Kinds are all checks.
func Kinds() []Check {
	all := []Check{
		transistorKind,
		fetKind,
		diodeKind,
		bridgeKind,
		capacitorKind,
		resistorKind,
		relayKind,
		windingKind,
		speakerKind,
		fuseKind,
		thermistorKind,
		crystalKind,
		sweepKind,
		networkKind,
		continuityKind,
		chipKind,
		pairKind,
	}
	for i := range all {
		all[i].Letters = letters[all[i].Name]
	}
	return all
}

// letters begin the names of parts on boards and drawings: after IEC 81346-2, and those that older
// drawings have.
var letters = map[string][]string{
	"transistor": {
		"Q",
		"TR",
		"VT",
	}, "diode": {"D", "ZD", "LED"}, "bridge": {"BR", "DB"}, "capacitor": {"C"}, "resistor": {"R"}, "relay": {"K", "RL", "RLY"},
	"winding": {
		"L",
		"T",
		"TX",
	}, "speaker": {"LS", "SP"}, "fuse": {"F", "FS"}, "thermistor": {"TH", "NTC", "PTC"}, "crystal": {"X", "Y", "XL"}, "sweep": {"RV", "VR",
		"S", "SW"},
	"network": {"RN", "PEC"}, "continuity": {"J", "P", "W"}, "chip": {"U", "IC", "N"},
}

// KindOf is the kind of a part by the letters before its number; empty where they are none of these.
func KindOf(name string) string {
	head := strings.ToUpper(strings.TrimRight(strings.TrimSpace(name), "0123456789abcdefghijklmnopqrstuvwxyz"))
	for kind, of := range letters {
		if slices.Contains(of, head) {
			return kind
		}
	}
	return ""
}

// Limits on what is typed.
const maxFieldText = 400

// Judge judges a part of a kind by what was given. Errors are *BadField.
func Judge(kind string, texts map[string]string) (Verdict, error) {
	return check(kind, texts, Place{})
}

func check(kind string, texts map[string]string, place Place) (Verdict, error) {
	all := Kinds()
	i := slices.IndexFunc(all, func(k Check) bool { return k.Name == kind })
	if i < 0 {
		return Verdict{}, &BadField{"kind", fmt.Sprintf("%q is no check that is known", kind)}
	}
	g := &given{numbers: map[string]float64{}, texts: map[string]string{}, place: place}
	for name := range texts {
		if !slices.ContainsFunc(all[i].Fields, func(f Field) bool { return f.Name == name }) {
			return Verdict{}, &BadField{name, fmt.Sprintf("a check of a %s has no such field", all[i].Name)}
		}
	}
	for _, f := range all[i].Fields {
		if err := g.take(f, strings.TrimSpace(texts[f.Name])); err != nil {
			return Verdict{}, err
		}
	}
	v := all[i].judge(g)
	if g.wrong != nil {
		return Verdict{}, g.wrong
	}
	return v, nil
}

// given is what was typed, with its numbers.
type given struct {
	numbers map[string]float64
	texts   map[string]string
	place   Place // in a circuit, where it is known
	wrong   error // found while it was judged
}

func (g *given) take(f Field, text string) error {
	switch {
	case text == "" && f.Needed:
		return &BadField{f.Title, "it is needed"}
	case text == "":
		return nil
	case len(text) > maxFieldText:
		return &BadField{f.Title, fmt.Sprintf("it is longer than %d characters", maxFieldText)}
	case len(f.Choices) > 0:
		text = strings.ToLower(text)
		if !slices.Contains(f.Choices, text) {
			return &BadField{f.Title, fmt.Sprintf("%q is none of %s", text, strings.Join(f.Choices, ", "))}
		}
		g.texts[f.Name] = text
		return nil
	case f.text:
		g.texts[f.Name] = text
		return nil
	case f.open && quantity.IsOpen(text):
		g.numbers[f.Name] = math.Inf(1)
		return nil
	}
	v, err := quantity.ParseAs(text, f.unit)
	switch {
	case err != nil:
		return &BadField{f.Title, err.Error()}
	case v.SI < 0 && f.unit != quantity.None && !f.signed:
		return &BadField{f.Title, fmt.Sprintf("%s is below zero: were the leads the other way round?", text)}
	case f.most > 0 && v.SI > f.most:
		return &BadField{f.Title, fmt.Sprintf("%s is more than %s. %s", v, quantity.Value{SI: f.most, Unit: f.unit}, f.hint)}
	}
	g.numbers[f.Name] = v.SI
	return nil
}

// number is a field's number; ok is false where it was not given.
func (g *given) number(name string) (float64, bool) {
	x, ok := g.numbers[name]
	return x, ok
}

// or is a field's number, or another.
func (g *given) or(name string, other float64) float64 {
	if x, ok := g.numbers[name]; ok {
		return x
	}
	return other
}

// The words of values.
func inVolts(x float64) string {
	if math.IsInf(x, 1) {
		return "open"
	}
	return quantity.Rounded(x, quantity.Volt)
}

func inOhms(x float64) string {
	if math.IsInf(x, 1) {
		return "open"
	}
	return quantity.Rounded(x, quantity.Ohm)
}

// isolated is the caution of every check that is made with the power off.
const isolated = "Power off, mains plug out, reservoirs shown empty. Follow local rules; work inside mains-fed sets belongs to those " +
	"licensed for it."

// diodeTest is a reading of a meter's diode test.
func diodeTest(name, title, hint string, needed bool) Field {
	return Field{
		Name:   name,
		Title:  title,
		Hint:   hint,
		Needed: needed,
		unit:   quantity.Volt,
		most:   4,
		open:   true,
		hint:   "A diode test shows volts, up to about 3: was it read in mV? Then write mV behind it",
	}
}

func resistance(name, title, hint string, needed bool) Field {
	return Field{Name: name, Title: title, Hint: hint, Needed: needed, unit: quantity.Ohm, open: true}
}

func choice(name, title string, choices ...string) Field {
	return Field{Name: name, Title: title, Choices: choices}
}
