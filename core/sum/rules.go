package sum

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/substitute"
)

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
	{"CRVV", true, discharge},
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
			quantity.Counted(life, 3) + " hours",
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
		case !substitute.Spare(rated, v):
			says = "within what is printed on it; a fifth less is usual"
		}
		a.Lines = append(a.Lines, Line{"its " + substitute.Shown(rated, quantity.Volt), says})
	}
	return a, nil
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

// discharge is how long a resistor takes to bring a capacitor from some volts down to others: R·C·ln(V₁/V₂), what it has to turn into
// heat, and how much of that at first (V₁²/R).
func discharge(t *typed) (Answer, error) {
	r, c, v := t.one(quantity.Ohm), t.one(quantity.Farad), t.by[quantity.Volt]
	if !(v[0] > v[1] && v[1] > 0) {
		return Answer{}, mend.Errorf("a resistor brings a capacitor down, never quite to nothing: the larger first, " +
			"as 1200u 76 V to 10 V 2k2")
	}
	return Answer{
		substitute.Shown(c, quantity.Farad) + " from " + substitute.Shown(v[0], quantity.Volt) + " down to " +
			substitute.Shown(v[1], quantity.Volt) + " through " + substitute.Shown(r, quantity.Ohm),
		seconds(r * c * math.Log(v[0]/v[1])),
		[]Line{
			{"heat at first", substitute.Shown(v[0]*v[0]/r, quantity.Watt)},
			{"in it at first", quantity.Rounded(c*v[0]*v[0]/2, "J")},
			{"", "measure it before a hand goes in: capacitors recharge by themselves"},
		},
	}, nil
}
