// Package sum does the sums of a bench without a job, typed as one speaks: "120k || 33k", "10 mV +34 dB", "47u 63v at 58",
// "10k 1u", "18 V to 12 V 30 mA".
//
//	a, err := sum.Of("10k 1u") // cut-off 15.9 Hz, time constant 10 ms
//
// What is asked follows from the units of what is typed. The formulas are those of every textbook: Ohm, Joule, Thévenin,
// 1/2πRC, 1/2πfC, 2πfL, 1/2π√LC, ½CV², Arrhenius' rule of ten degrees.
package sum

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/substitute"
)

// Answer is what a sum comes to.
type Answer struct {
	Asked string `json:"asked"` // what was understood
	Says  string `json:"says"`  // the answer
	Lines []Line `json:"lines"` // what follows from it
}

// Line is something more that follows.
type Line struct {
	What string `json:"what"`
	Text string `json:"text"`
}

// Examples are what can be typed.
var Examples = []string{
	"120k || 33k", "4k7 + 330", "10 mV +34 dB", "10k 1u", "100n 1 kHz", "10 mH 100 nF", "12 V 10k 4k7", "18 V to 12 V 30 mA",
	"1200u 76 V to 10 V 2k2", "5 V 220 ohm",
	"1 A 100 Hz 4700u", "47u 63v at 58", "2000 h 105C at 65C", "make 3.74k", "make 15.6n", "47u 63v reads 31u 4 ohm", "100k reads 132k",
	"5 W 62.5 K/W at 40C",
	"selenium 125 V 100 mA", "share 220u 250v 400v", "sink 20 W 50C 150C 1.5 K/W",
}

const maxText = 200

// typed is what was typed, by units.
type typed struct {
	by    map[quantity.Unit][]float64
	hours []float64
	kw    []float64 // kelvins a watt
	at    []quantity.Value
	to    bool
}

var (
	spaced = regexp.MustCompile(
		`(\d)\s+(pF|nF|[uµμ]F|mF|F|[kmuµM]?V(?:pp|rms)?|[munµ]?A|°?C|h|ohms?|[mkM]?Ω|[mkM]?W|[munµ]?H|[kMG]?Hz|dB[a-zA-Z]*|K/W|%)(\s|$|\|)`,
	)
	hoursOf = regexp.MustCompile(`^(\d+(?:[.,]\d+)?)h$`)
	kwOf    = regexp.MustCompile(`^(\d+(?:[.,]\d+)?)K/W$`)
	bare    = regexp.MustCompile(`^[\d.,]+[pnuµμ]$`)
)

// Of works out what is asked. The error says what can be typed.
//
// Long: the forms that there are.
func Of(text string) (Answer, error) {
	text = strings.TrimSpace(text)
	if len(text) > maxText {
		return Answer{}, mend.Errorf("a sum is typed in a few words, for example %s", strings.Join(Examples[:3], "; "))
	}
	for range 2 { // neighbours share the blank between them
		text = spaced.ReplaceAllString(text, "$1$2$3")
	}
	switch lower := strings.ToLower(text); {
	case text == "":
		return Answer{}, mend.Errorf("type a sum, for example %s", strings.Join(Examples[:4], "; "))
	case strings.HasPrefix(lower, "make "):
		return made(text[len("make "):])
	case strings.Contains(text, reads):
		return checked(text)
	case strings.HasPrefix(lower, "selenium "):
		return called(text[len("selenium "):], "IV", selenium)
	case strings.HasPrefix(lower, "share "):
		return called(text[len("share "):], "CVV", share)
	case strings.HasPrefix(lower, "sink "):
		return called(text[len("sink "):], "PTTk", sink)
	case strings.Contains(text, "||"):
		return joined(strings.Split(text, "||"), true)
	case strings.Contains(text, " + "):
		return joined(strings.Split(text, " + "), false)
	}
	t, err := read(text)
	if err != nil {
		return Answer{}, err
	}
	for _, r := range rules {
		if r.fits(t) {
			a, err := r.does(t)
			if err == nil {
				err = finite(a)
			}
			return a, err
		}
	}
	return Answer{}, mend.Errorf("what is asked by this is not known. Type for example %s", strings.Join(Examples, "; "))
}

// called is a sum that is asked for by its name, of certain units.
func called(text, units string, does func(t *typed) (Answer, error)) (Answer, error) {
	t, err := read(text)
	if err != nil {
		return Answer{}, err
	}
	if r := (rule{units: units}); !r.fits(t) {
		return Answer{}, mend.Errorf(
			"something is missing, or too much, in %q. Type for example %s",
			text,
			strings.Join(Examples[len(Examples)-3:], "; "),
		)
	}
	a, err := does(t)
	if err == nil {
		err = finite(a)
	}
	return a, err
}

// finite refuses what no bench has.
func finite(a Answer) error {
	for _, l := range append(a.Lines, Line{Text: a.Says}) {
		if strings.Contains(l.Text, "Inf") || strings.Contains(l.Text, "NaN") || strings.Contains(l.Text, "not a number") {
			return mend.Errorf("that comes to nothing that can be: a value of zero, or far too large")
		}
	}
	return nil
}

// read takes a text apart.
func read(text string) (*typed, error) {
	t := &typed{by: map[quantity.Unit][]float64{}}
	words := strings.Fields(text)
	for i := 0; i < len(words); i++ {
		w := strings.TrimSuffix(words[i], ",")
		at := false
		switch strings.ToLower(w) {
		case "to":
			t.to = true
			continue
		case "at", "on":
			if i++; i == len(words) {
				return nil, mend.Errorf("behind %q something is missing", w)
			}
			w, at = words[i], true
		case "/", "over", "with", "and", "through":
			continue
		}
		if m := hoursOf.FindStringSubmatch(w); m != nil && !at {
			v, _ := quantity.ParseAs(m[1], quantity.None) // digits
			t.hours = append(t.hours, v.SI)
			continue
		}
		if m := kwOf.FindStringSubmatch(w); m != nil {
			v, _ := quantity.ParseAs(m[1], quantity.None)
			t.kw = append(t.kw, v.SI)
			continue
		}
		if bare.MatchString(w) {
			w += "F"
		}
		fallback := quantity.Ohm
		if at && len(t.by[quantity.Farad]) > 0 {
			fallback = quantity.Volt
		}
		v, err := quantity.Parse(w, fallback)
		if err != nil {
			return nil, err
		}
		if at {
			t.at = append(t.at, v)
			continue
		}
		t.by[v.Unit] = append(t.by[v.Unit], v.SI)
	}
	return t, nil
}

// joined sums what stands in parallel, or in series.
func joined(parts []string, parallel bool) (Answer, error) {
	unit, values := quantity.None, []float64{}
	for _, p := range parts {
		if p = strings.TrimSpace(p); bare.MatchString(p) {
			p += "F"
		}
		v, err := quantity.Parse(p, quantity.Ohm)
		switch {
		case err != nil:
			return Answer{}, err
		case unit != quantity.None && v.Unit != unit,
			!slices.Contains([]quantity.Unit{quantity.Ohm, quantity.Farad, quantity.Henry}, v.Unit):
			return Answer{}, mend.Errorf("ohms with ohms, farads with farads: not %q", p)
		case !(v.SI > 0):
			return Answer{}, mend.Errorf("%q cannot be", p)
		}
		unit = v.Unit
		values = append(values, v.SI)
	}
	adds := parallel == (unit == quantity.Farad)
	total := 0.0
	for _, x := range values {
		if adds {
			total += x
		} else {
			total += 1 / x
		}
	}
	if !adds {
		total = 1 / total
	}
	how := map[bool]string{true: "in parallel", false: "in series"}[parallel]
	a := Answer{Asked: fmt.Sprintf("%d %s", len(values), how), Says: substitute.Shown(total, unit), Lines: []Line{}}
	return a, finite(a)
}

// made makes a value of one or two that are sold.
func made(text string) (Answer, error) {
	w := strings.TrimSpace(text)
	if bare.MatchString(w) {
		w += "F"
	}
	v, err := quantity.Parse(w, quantity.Ohm)
	switch {
	case err != nil:
		return Answer{}, err
	case v.Unit != quantity.Ohm && v.Unit != quantity.Farad || !(v.SI > 0):
		return Answer{}, mend.Errorf("%q is made of resistors or of capacitors: type ohms or farads", w)
	}
	series, of := quantity.E24, "E24"
	if v.Unit == quantity.Farad {
		series, of = quantity.E12, "E12"
	}
	a := Answer{Asked: rounded4(v.SI, v.Unit) + " of one or two of " + of, Lines: []Line{}}
	for i, m := range substitute.Combine(v.SI, series, v.Unit == quantity.Farad, 4) {
		text := m.Says(v.Unit)
		off := "exact"
		if math.Abs(m.Error) > 5e-7 {
			off = quantity.SignedPercent(m.Error)
		}
		if i == 0 {
			a.Says = text
			a.Lines = append(a.Lines, Line{"off by", off})
			continue
		}
		a.Lines = append(a.Lines, Line{"or " + text, off})
	}
	return a, nil
}
