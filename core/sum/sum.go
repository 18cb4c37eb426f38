// Package sum does the sums of a bench without a job, typed as one speaks: "120k || 33k", "10 mV +34 dB", "47u 63v at 58",
// "10k 1u", "18 V to 12 V 30 mA".
//
//	a, err := sum.Of("10k 1u") // cut-off 15.9 Hz, time constant 10 ms
//
// What is asked follows from the units of what is typed. The formulas are those of every textbook: Ohm, Joule, Thévenin,
// 1/2πRC, 1/2πfC, 2πfL, 1/2π√LC, ½CV², Arrhenius' rule of ten degrees.
package sum

import (
	"cmp"
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
	"120k || 33k", "4k7 + 330", "10 mV +34 dB", "10k 1u", "100n 1 kHz", "10 mH 100 nF", "12 V 10k 4k7", "18 V to 12 V 30 mA", "5 V 220 ohm",
	"1 A 100 Hz 4700u", "47u 63v at 58", "2000 h 105C at 65C", "make 3.74k", "make 15.6n", "5 W 62.5 K/W at 40C",
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
	count int
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
		return make2(text[len("make "):])
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

// selenium is the resistor in series with a silicon rectifier in the place of a selenium one.
func selenium(t *typed) (Answer, error) {
	v, i := t.one(quantity.Volt), t.one(quantity.Ampere)
	ohms, watts := substitute.SeleniumDropper(v, i)
	if ohms <= 0 || i <= 0 {
		return Answer{}, mend.Errorf("so few plates drop no more than silicon: no resistor is needed")
	}
	return Answer{fmt.Sprintf("silicon for selenium, %s rms, %s", substitute.Shown(v, quantity.Volt), substitute.Shown(i, quantity.Ampere)),
		substitute.Shown(quantity.E12.Nearest(ohms), quantity.Ohm), []Line{
			{"exactly", substitute.Shown(ohms, quantity.Ohm)}, {"heat in it", substitute.Shown(watts, quantity.Watt)},
			{"mind", "the volts behind it are measured before the set runs for long"},
		}}, nil
}

// share are the resistors across two electrolytics in series.
func share(t *typed) (Answer, error) {
	v := t.by[quantity.Volt]
	ohms := substitute.SharingOhms(t.one(quantity.Farad), v[0], v[1])
	if ohms <= 0 {
		return Answer{}, mend.Errorf("two of %s do not bear %s with anything to share", substitute.Shown(v[0], quantity.Volt),
			substitute.Shown(v[1], quantity.Volt))
	}
	return Answer{fmt.Sprintf("two of %s %s in series on %s", substitute.Shown(t.one(quantity.Farad), quantity.Farad),
		substitute.Shown(v[0], quantity.Volt), substitute.Shown(v[1], quantity.Volt)), "at most " + substitute.Shown(ohms, quantity.Ohm),
		[]Line{{"across each, heat", substitute.Shown(v[1]*v[1]/4/ohms, quantity.Watt)}}}, nil
}

// sink is the thermal resistance that a heat sink may have.
func sink(t *typed) (Answer, error) {
	c := t.by[quantity.Celsius]
	k := substitute.SinkFor(t.one(quantity.Watt), c[0], c[1], t.kw[0])
	if !(k > 0) {
		return Answer{}, mend.Errorf("no sink is large enough: the part itself is in the way")
	}
	return Answer{fmt.Sprintf(
		"sink for %s, %s to %s",
		substitute.Shown(t.one(quantity.Watt), quantity.Watt),
		substitute.Shown(
			c[0],
			quantity.Celsius,
		),
		substitute.Shown(c[1], quantity.Celsius),
	), fmt.Sprintf("%.3g K/W or less", k), []Line{}}, nil
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
		t.count++
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

// make2 makes a value of one or two that are sold.
func make2(text string) (Answer, error) {
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

// rule is a form of sum, by the units of what is typed.
type rule struct {
	units string // as typed, each a letter, in alphabetical order; behind a colon what stands behind "at"
	to    bool
	does  func(t *typed) (Answer, error)
}

// letters of the units in a rule.
var letters = map[quantity.Unit]string{
	quantity.Ohm: "R", quantity.Farad: "C", quantity.Henry: "L", quantity.Hertz: "f", quantity.Volt: "V", quantity.Ampere: "I",
	quantity.Watt: "P", quantity.Decibel: "d", quantity.Celsius: "T",
}

// fits tells whether a rule is for what was typed.
func (r *rule) fits(t *typed) bool {
	var have []string
	for unit, list := range t.by {
		for range list {
			have = append(have, cmp.Or(letters[unit], "?"))
		}
	}
	for range t.hours {
		have = append(have, "h")
	}
	for range t.kw {
		have = append(have, "k")
	}
	slices.Sort(have)
	behind := ""
	for _, v := range t.at {
		behind += cmp.Or(letters[v.Unit], "?")
	}
	units := strings.Join(have, "")
	if behind != "" {
		units += ":" + behind
	}
	return units == r.units && t.to == r.to
}

func (t *typed) one(u quantity.Unit) float64 { return t.by[u][0] }

// rounded4 keeps a figure more, for what was typed.
func rounded4(x float64, unit quantity.Unit) string {
	return quantity.Value{SI: x, Unit: unit}.Short(4)
}

var seconds = func(x float64) string { return quantity.Rounded(x, quantity.Second) }

// rules are the forms, by the units that they need.
var rules = []rule{
	{"CR", false, func(t *typed) (Answer, error) {
		r, c := t.one(quantity.Ohm), t.one(quantity.Farad)
		return Answer{"cut-off of " + substitute.Shown(r, quantity.Ohm) + " with " + substitute.Shown(c, quantity.Farad),
			substitute.Shown(
				substitute.CutOff(r, c),
				quantity.Hertz,
			), []Line{{"time constant", seconds(r * c)}, {"settled to 1 %", seconds(r * c * math.Log(100))}}}, nil
	}},
	{"Cf", false, reactance}, {"C:f", false, reactance}, {"Lf", false, reactance}, {"L:f", false, reactance},
	{"CL", false, func(t *typed) (Answer, error) {
		l, c := t.one(quantity.Henry), t.one(quantity.Farad)
		return Answer{"resonance of " + substitute.Shown(l, quantity.Henry) + " with " + substitute.Shown(c, quantity.Farad),
			substitute.Shown(
				1/(2*math.Pi*math.Sqrt(l*c)),
				quantity.Hertz,
			), []Line{{"√(L/C)", substitute.Shown(math.Sqrt(l/c), quantity.Ohm)}}}, nil
	}},
	{"RV", false, func(t *typed) (Answer, error) {
		r, v := t.one(quantity.Ohm), t.one(quantity.Volt)
		return Answer{
			substitute.Shown(v, quantity.Volt) + " across " + substitute.Shown(r, quantity.Ohm),
			substitute.Shown(v/r, quantity.Ampere),
			[]Line{{"heat", substitute.Shown(v*v/r, quantity.Watt)}},
		}, nil
	}},
	{"IR", false, func(t *typed) (Answer, error) {
		r, i := t.one(quantity.Ohm), t.one(quantity.Ampere)
		return Answer{
			substitute.Shown(i, quantity.Ampere) + " through " + substitute.Shown(r, quantity.Ohm),
			substitute.Shown(i*r, quantity.Volt),
			[]Line{{"heat", substitute.Shown(i*i*r, quantity.Watt)}},
		}, nil
	}},
	{"IV", false, func(t *typed) (Answer, error) {
		i, v := t.one(quantity.Ampere), t.one(quantity.Volt)
		return Answer{
			substitute.Shown(v, quantity.Volt) + " at " + substitute.Shown(i, quantity.Ampere),
			substitute.Shown(v*i, quantity.Watt),
			[]Line{{"as a resistance", substitute.Shown(v/i, quantity.Ohm)}},
		}, nil
	}},
	{"PR", false, func(t *typed) (Answer, error) {
		p, r := t.one(quantity.Watt), t.one(quantity.Ohm)
		return Answer{
			substitute.Shown(p, quantity.Watt) + " in " + substitute.Shown(r, quantity.Ohm),
			substitute.Shown(math.Sqrt(p*r), quantity.Volt) + " rms",
			[]Line{
				{"peak of a sine", substitute.Shown(math.Sqrt(2*p*r), quantity.Volt)},
				{"current, rms", substitute.Shown(math.Sqrt(p/r), quantity.Ampere)},
			},
		}, nil
	}},
	{"RRV", false, divider},
	{"IVV", true, func(t *typed) (Answer, error) {
		v := t.by[quantity.Volt]
		ohms, watts := substitute.Dropper(v[0], v[1], t.one(quantity.Ampere))
		if ohms <= 0 {
			return Answer{}, mend.Errorf("a resistor brings volts down: the larger first, as 18 V to 12 V 30 mA")
		}
		return Answer{fmt.Sprintf("from %s down to %s at %s", substitute.Shown(v[0], quantity.Volt), substitute.Shown(v[1], quantity.Volt),
			substitute.Shown(t.one(quantity.Ampere), quantity.Ampere)), substitute.Shown(ohms, quantity.Ohm), []Line{
			{
				"nearest of E24",
				substitute.Shown(quantity.E24.Nearest(ohms), quantity.Ohm),
			}, {"heat in it", substitute.Shown(watts, quantity.Watt)},
			{"rated", "twice that, so that it does not brown the board"},
		}}, nil
	}},
	{"CIf", false, func(t *typed) (Answer, error) {
		i, f, c := t.one(quantity.Ampere), t.one(quantity.Hertz), t.one(quantity.Farad)
		return Answer{
			fmt.Sprintf(
				"ripple of %s on %s at %s",
				substitute.Shown(i, quantity.Ampere),
				substitute.Shown(c, quantity.Farad),
				substitute.Shown(f, quantity.Hertz),
			),
			quantity.Value{SI: substitute.Ripple(i, f, c), Unit: quantity.Volt, Form: quantity.PeakPeak}.Short(3),
			[]Line{},
		}, nil
	}},
	{"CV", false, stored}, {"CV:V", false, stored}, {"C:V", false, stored},
	{"Vd", false, func(t *typed) (Answer, error) {
		v, d := t.one(quantity.Volt), t.one(quantity.Decibel)
		return Answer{
			substitute.Shown(v, quantity.Volt) + " and " + quantity.SignedDB(d),
			substitute.Shown(v*quantity.Times(d), quantity.Volt),
			[]Line{{"times", fmt.Sprintf("%.4g", quantity.Times(d))}},
		}, nil
	}},
	{"d", false, func(t *typed) (Answer, error) {
		d := t.one(quantity.Decibel)
		return Answer{
			quantity.SignedDB(d),
			fmt.Sprintf("×%.4g in volts", quantity.Times(d)),
			[]Line{{"in watts", fmt.Sprintf("×%.4g", quantity.Times(2*d))}},
		}, nil
	}},
	{"VV", false, func(t *typed) (Answer, error) {
		v := t.by[quantity.Volt]
		if v[0] <= 0 || v[1] <= 0 {
			return Answer{}, mend.Errorf("levels are above zero")
		}
		return Answer{
			"from " + substitute.Shown(v[0], quantity.Volt) + " to " + substitute.Shown(v[1], quantity.Volt),
			quantity.SignedDB(quantity.DB(v[1], v[0])),
			[]Line{{"times", fmt.Sprintf("%.4g", v[1]/v[0])}},
		}, nil
	}},
	{"V", false, func(t *typed) (Answer, error) {
		v := t.one(quantity.Volt)
		a := Answer{Asked: substitute.Shown(v, quantity.Volt) + " of a sine, rms", Lines: []Line{}}
		for _, e := range (quantity.Value{SI: v, Unit: quantity.Volt, Form: quantity.RMS}).Equals(quantity.Sine) {
			a.Lines = append(a.Lines, Line{e.Name, e.Value})
		}
		if len(a.Lines) == 0 {
			return a, mend.Errorf("a level is above zero")
		}
		a.Says = a.Lines[0].Text + " " + a.Lines[0].What
		return a, nil
	}},
	{"Th:T", false, func(t *typed) (Answer, error) {
		h, rated, at := t.hours[0], t.one(quantity.Celsius), t.at[0].SI
		life := substitute.Life(h, rated, at)
		return Answer{
			fmt.Sprintf("%.6g h at %s, at %s", h, substitute.Shown(rated, quantity.Celsius), substitute.Shown(at, quantity.Celsius)),
			fmt.Sprintf(
				"%.3g hours",
				life,
			),
			[]Line{{"day and night", fmt.Sprintf("%.2g years", life/8766)}, {"rule", "ten degrees, half the life"}},
		}, nil
	}},
	{"Pk:T", false, func(t *typed) (Answer, error) {
		return Answer{
			"heat through a thermal resistance",
			substitute.Shown(substitute.Junction(t.at[0].SI, t.one(quantity.Watt), t.kw[0]), quantity.Celsius),
			[]Line{},
		}, nil
	}},
}

func reactance(t *typed) (Answer, error) {
	f := 0.0
	if list := t.by[quantity.Hertz]; len(list) > 0 {
		f = list[0]
	} else {
		f = t.at[0].SI
	}
	if list := t.by[quantity.Farad]; len(list) > 0 {
		return Answer{substitute.Shown(list[0], quantity.Farad) + " at " + substitute.Shown(f, quantity.Hertz),
			substitute.Shown(substitute.Reactance(f, list[0]), quantity.Ohm), []Line{}}, nil
	}
	l := t.one(quantity.Henry)
	return Answer{
		substitute.Shown(l, quantity.Henry) + " at " + substitute.Shown(f, quantity.Hertz),
		substitute.Shown(2*math.Pi*f*l, quantity.Ohm),
		[]Line{},
	}, nil
}

func divider(t *typed) (Answer, error) {
	v, r := t.one(quantity.Volt), t.by[quantity.Ohm]
	sum := r[0] + r[1]
	return Answer{
		fmt.Sprintf(
			"%s over %s and %s to ground",
			substitute.Shown(v, quantity.Volt),
			substitute.Shown(r[0], quantity.Ohm),
			substitute.Shown(r[1], quantity.Ohm),
		),
		substitute.Shown(v*r[1]/sum, quantity.Volt),
		[]Line{
			{
				"current",
				substitute.Shown(v/sum, quantity.Ampere),
			}, {"it looks like", substitute.Shown(substitute.ParallelOhms(r[0], r[1]), quantity.Ohm)},
			{"heat in the upper", substitute.Shown(v*v/sum/sum*r[0], quantity.Watt)},
		},
	}, nil
}

// stored is what a capacitor holds at its volts, and whether those it works at leave the usual margin.
func stored(t *typed) (Answer, error) {
	c := t.one(quantity.Farad)
	v, rated := 0.0, 0.0
	if list := t.by[quantity.Volt]; len(list) > 0 {
		rated, v = list[0], list[0]
	}
	if len(t.at) > 0 {
		v = t.at[0].SI
	}
	a := Answer{Asked: substitute.Shown(c, quantity.Farad) + " at " + substitute.Shown(v, quantity.Volt),
		Says: quantity.Rounded(c*v*v/2, "J"), Lines: []Line{}}
	const empty, drain = 10.0, 10e3
	if v > empty {
		a.Lines = append(a.Lines, Line{"below 10 V through 10 kΩ after", seconds(drain * c * math.Log(v/empty))},
			Line{"heat in that at first", substitute.Shown(v*v/drain, quantity.Watt)})
	}
	if rated > 0 && len(t.at) > 0 {
		says := "enough"
		switch {
		case v > rated:
			says = "too little: it must not be more than what is printed on it"
		case v > 0.8*rated:
			says = "within what is printed on it; a fifth less is usual"
		}
		a.Lines = append(a.Lines, Line{"its " + substitute.Shown(rated, quantity.Volt), says})
	}
	return a, nil
}
