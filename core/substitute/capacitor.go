package substitute

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/quantity"
)

// Dielectric is what a capacitor is made of, as far as it matters for where it may go.
type Dielectric string

// The dielectrics.
const (
	Electrolytic Dielectric = "electrolytic"
	Bipolar      Dielectric = "bipolar electrolytic"
	Tantalum     Dielectric = "tantalum"
	Film         Dielectric = "film"
	Polystyrene  Dielectric = "polystyrene"
	Ceramic      Dielectric = "ceramic"        // class 2: of much capacitance in little room
	Stable       Dielectric = "stable ceramic" // class 1
	Mica         Dielectric = "mica"
	Paper        Dielectric = "paper"
)

// Dielectrics lists them.
var Dielectrics = []Dielectric{Electrolytic, Bipolar, Tantalum, Film, Polystyrene, Ceramic, Stable, Mica, Paper}

// Words implements exchange.Enumerated.
func (Dielectric) Words() []string { return exchange.WordsOf(Dielectrics) }

func (d Dielectric) polar() bool { return d == Electrolytic || d == Tantalum }

// keeps tells whether it keeps its value with temperature, voltage and years.
func (d Dielectric) keeps() bool {
	return slices.Contains([]Dielectric{Film, Polystyrene, Stable, Mica}, d)
}

// Capacitor is one as it is bought: SI units, lengths in millimetres. Zero and empty: not known.
type Capacitor struct {
	Farads     float64    `json:"farads"`
	Volts      float64    `json:"volts,omitempty"`
	Tolerance  float64    `json:"tolerance,omitempty" jsonschema:"description=as a share"`
	Dielectric Dielectric `json:"dielectric,omitempty"`
	Class      string     `json:"class,omitempty" jsonschema:"description=for mains: X1\\, X2\\, Y1\\, Y2"`
	Celsius    float64    `json:"celsius,omitempty"`
	Hours      float64    `json:"hours,omitempty" jsonschema:"description=of life at that temperature"`
	Ohms       float64    `json:"ohms,omitempty" jsonschema:"description=series resistance"`
	Amps       float64    `json:"amps,omitempty" jsonschema:"description=ripple current"`
	Pitch      float64    `json:"pitch,omitempty" jsonschema:"description=of its leads\\, mm"`
	Across     float64    `json:"across,omitempty" jsonschema:"description=diameter\\, mm"`
	High       float64    `json:"high,omitempty" jsonschema:"description=mm"`
	Surface    bool       `json:"surface,omitempty" jsonschema:"description=surface mount"`
	LowOhms    bool       `json:"lowOhms,omitempty" jsonschema:"description=of low series resistance by its maker's word"`
	// Needs is what has to be done for one that is made of several, a line each.
	Needs string `json:"-"`
}

// Use is what a capacitor does in its place.
type Use string

// The uses.
const (
	Reservoir Use = "reservoir"
	Line      Use = "supply line"
	Coupling  Use = "coupling"
	Bypass    Use = "bypass"
	Timing    Use = "timing"
	Tuning    Use = "tuning"
	Switching Use = "switching ripple"
	Mains     Use = "across mains"
	Earth     Use = "mains to ground"
	Crossover Use = "crossover"
)

// Uses lists them, in the order they are offered.
var Uses = []Use{Reservoir, Line, Coupling, Bypass, Timing, Tuning, Switching, Mains, Earth, Crossover}

// Words implements exchange.Enumerated.
func (Use) Words() []string { return exchange.WordsOf(Uses) }

// Post is what a capacitor has to bear and do where it stands. Zero: not known.
type Post struct {
	Use     Use     `json:"use"`
	Volts   float64 `json:"volts,omitempty" jsonschema:"description=the most across it at work"`
	Celsius float64 `json:"celsius,omitempty" jsonschema:"description=about it"`
	Amps    float64 `json:"amps,omitempty" jsonschema:"description=of ripple through it"`
	Ohms    float64 `json:"ohms,omitempty" jsonschema:"description=with which it makes its cut-off"`
	Turns   bool    `json:"turns,omitempty" jsonschema:"description=its polarity turns"`
	Across  float64 `json:"across,omitempty" jsonschema:"description=room for its diameter\\, mm"`
	High    float64 `json:"high,omitempty" jsonschema:"description=room upward\\, mm"`
}

// window is how many times the old value may stand in for it: from least to most as it is, to far with a change.
type window struct{ least, most, far float64 }

// windows are those of the uses. The trade: a reservoir a half larger charges through the same rectifier, one that is
// twice as large is looked at for inrush; lines and couplings take more; what sets a time or a frequency takes none.
var windows = map[Use]window{
	Reservoir: {0.8, 1.5, 2.2}, Line: {0.8, 5, 10}, Coupling: {0.8, 3, 10}, Bypass: {0.8, 3, 10}, Switching: {0.8, 1.6, 2.5},
	Timing: {0.98, 1.02, 1.02}, Tuning: {0.98, 1.02, 1.02}, Crossover: {0.95, 1.05, 1.05}, Mains: {0.8, 1.2, 1.2}, Earth: {0.5, 1.05, 1.05},
}

// ofMany is from how many times its volts at work on an electrolytic's rating is needlessly high: it is larger, its series
// resistance often higher, and its oxide, never formed to that, thins to what it gets.
const ofMany = 6.0

// CapacitorFor judges a capacitor in the place of another. Of the old one what is not known is not asked for, but its value.
func CapacitorFor(before, after Capacitor, at Post) Verdict {
	v := begin()
	v.value(before, after, at)
	v.atLeast("volts", needs(at.Volts*voltsMargin, before.Volts), after.Volts, quantity.Volt)
	if at.Volts > 0 && after.Dielectric == Electrolytic && after.Volts > ofMany*at.Volts && after.Volts > 2*before.Volts {
		v.mind("%s on %s: larger than need be, of more series resistance, and never formed to its rating",
			quantity.Rounded(after.Volts, quantity.Volt), quantity.Rounded(at.Volts, quantity.Volt))
	}
	v.dielectric(before, after, at)
	v.mains(before, after, at)
	v.heat(before, after, at)
	v.ripple(before, after, at)
	v.room(before, after, at)
	v.needs(after.Needs)
	return v.settle()
}

// value: the capacitance, by what it does.
func (v *Verdict) value(before, after Capacitor, at Post) {
	if after.Farads <= 0 || before.Farads <= 0 {
		v.no("its capacitance is not known")
		return
	}
	w, ok := windows[at.Use]
	if !ok {
		w = windows[Timing] // nobody knows what it does: the very value
	}
	if at.Use == Timing || at.Use == Tuning || !ok {
		// Exact as far as the old one was: what its tolerance was, but 2 % at least.
		t := max(before.Tolerance, 0.02)
		w = window{1 - t, 1 + t, 1 + t}
		if after.Tolerance > t*(1+1e-9) {
			v.no("its tolerance is %.3g %%, and what it sets needs %.3g %%: pick one out by meter", 100*after.Tolerance, 100*t)
		}
	}
	x := after.Farads / before.Farads
	told := fmt.Sprintf("%s in place of %s", quantity.Capacitance(after.Farads), quantity.Capacitance(before.Farads))
	switch {
	case x < w.least*(1-1e-9):
		v.no("%s: too little%s", told, cutOff(before, after, at))
	case x <= w.most*(1+1e-9):
		if x < 0.95 || x > 1.05 {
			v.mind("%s%s", told, cutOff(before, after, at))
		}
	case x <= w.far*(1+1e-9):
		why := ""
		switch at.Use {
		case Reservoir, Switching:
			why = ": see that the rectifier, the fuse and the switch bear the inrush"
		case Coupling, Bypass:
			why = ": it takes longer to charge, and lets lower frequencies through"
		}
		v.change("%s%s", told, why)
	default:
		v.no("%s: too much%s", told, cutOff(before, after, at))
	}
}

// cutOff tells what becomes of the frequency from which it lets through, f = 1/2πRC.
func cutOff(before, after Capacitor, at Post) string {
	if at.Ohms <= 0 || at.Use != Coupling && at.Use != Bypass {
		return ""
	}
	return fmt.Sprintf(", its cut-off goes from %s to %s", quantity.Frequency(round3(CutOff(at.Ohms, before.Farads))),
		quantity.Frequency(round3(CutOff(at.Ohms, after.Farads))))
}

// round3 rounds to three figures.
func round3(x float64) float64 {
	if x == 0 || math.IsInf(x, 0) {
		return x
	}
	p := math.Pow(10, math.Floor(math.Log10(math.Abs(x)))-2)
	return math.Round(x/p) * p
}

// dielectric: of what it is made, by what it does.
//
// Long: the trade's reasons against, the gravest first.
func (v *Verdict) dielectric(before, after Capacitor, at Post) {
	d, was := after.Dielectric, before.Dielectric
	switch {
	case d == "":
		v.no("of what kind it is, is not known")
		return
	case d == Paper:
		v.no("old paper leaks: film does it better")
	case at.Turns && d.polar():
		v.no("its polarity turns here: a bipolar one, or film")
	case d == Tantalum && was != Tantalum && (at.Use == Reservoir || at.Use == Switching || at.Use == Line):
		v.no("tantalum fails short where a supply can push current: an electrolytic of low series resistance, or film")
	case (at.Use == Timing || at.Use == Tuning) && !d.keeps() && was != d:
		v.no("it sets a time or a frequency, and %s drifts with temperature, volts and years: film, stable ceramic, polystyrene or mica", d)
	case at.Use == Tuning && d == Film && was != Film && before.Farads < 2e-9:
		v.no("film loses too much at high frequency: stable ceramic, mica or polystyrene")
	case at.Use == Crossover && !slices.Contains([]Dielectric{Film, Bipolar}, d):
		v.no("a crossover carries alternating current: film, or a bipolar electrolytic")
	case at.Use == Coupling && d.polar() && was != "" && !was.polar() && was != Bipolar:
		v.no("it leaks where the old one did not, and shifts the bias behind it: film")
	case at.Use == Coupling && d == Ceramic && was != Ceramic:
		v.no("ceramic of this kind changes with the signal and picks up knocks: film")
	case (at.Use == Mains || at.Use == Earth) && d.polar():
		v.no("alternating mains destroy it")
	case was == Bipolar && d.polar():
		v.no("the old one is bipolar: so has to be the new one, or film")
	}
	if was.polar() && d.keeps() {
		v.mind("film has no polarity, and does not dry out")
	}
	if d.polar() {
		v.mind("polarity checked twice: against the picture, and against the board")
	}
}

// mains: safety classes, IEC 60384-14. X stands across, Y to what a person touches; a Y may do what an X does, never the
// other way round, and a lower figure does what a higher one does.
func (v *Verdict) mains(before, after Capacitor, at Post) {
	need := before.Class
	switch {
	case at.Use == Mains && need == "":
		need = "X2"
	case at.Use == Earth && (need == "" || need[0] == 'X'):
		need = "Y2"
	case at.Use != Mains && at.Use != Earth && need == "":
		if after.Class != "" && (at.Use == Timing || at.Use == Tuning) {
			v.no("a safety capacitor gives its value up piece by piece: not where it sets a time")
		}
		return
	}
	has := after.Class
	if has == "" {
		v.no("here a fault is a fire or a shock: only a capacitor of class %s", need)
		return
	}
	if has[0] == 'X' && need[0] == 'Y' || has[0] == need[0] && has[1] > need[1] {
		v.no("class %s is needed, it is %s", need, has)
	}
}

// heat: the temperature class, and the life that follows from it (Arrhenius in the trade's words: ten degrees, half the life).
func (v *Verdict) heat(before, after Capacitor, at Post) {
	if !after.Dielectric.polar() && after.Dielectric != Bipolar {
		return
	}
	if before.Celsius > 0 {
		v.atLeast("temperature", before.Celsius, after.Celsius, quantity.Celsius)
	}
	if at.Celsius <= 0 {
		return
	}
	if before.Celsius == 0 {
		v.atLeast("temperature", at.Celsius, after.Celsius, quantity.Celsius)
	}
	if after.Hours > 0 && after.Celsius > 0 {
		const short = 8000.0 // a year of days and nights
		if life := Life(after.Hours, after.Celsius, at.Celsius); life < short {
			v.mind(
				"at %s it lives some %s hours: a cooler place, or one of more hours",
				quantity.Rounded(at.Celsius, quantity.Celsius),
				quantity.Counted(life, 2),
			)
		}
	}
}

// ripple: where switching current flows its series resistance and its ripple current count.
func (v *Verdict) ripple(before, after Capacitor, at Post) {
	if after.Dielectric != Electrolytic && after.Dielectric != Bipolar && after.Dielectric != Tantalum {
		return
	}
	v.atLeast("ripple current", max(at.Amps, before.Amps), after.Amps, quantity.Ampere)
	switch {
	case before.Ohms > 0:
		v.atMost("series resistance", before.Ohms, after.Ohms, quantity.Ohm)
	case at.Use == Switching && after.Ohms == 0 && !after.LowOhms:
		v.no("switching ripple flows here: one of low series resistance, by its sheet")
	}
}

// room: size, lead spacing, how it is fitted.
func (v *Verdict) room(before, after Capacitor, at Post) {
	switch {
	case before.Surface && !after.Surface:
		v.change("it has leads, the board takes none: short leads onto the pads, held with glue")
	case !before.Surface && after.Surface:
		v.no("it has no leads: the board wants some")
	case before.Pitch > 0 && after.Pitch > 0 && math.Abs(before.Pitch-after.Pitch) > 0.6:
		v.change("its leads are %.3g mm apart, the holes %.3g mm: bend them, and sleeve them", after.Pitch, before.Pitch)
	}
	if at.Across > 0 && after.Across > at.Across {
		v.no("it is %.3g mm across, and there is room for %.3g mm", after.Across, at.Across)
	}
	if at.High > 0 && after.High > at.High {
		if after.Across > 0 && at.Across >= after.High {
			v.change("it is %.3g mm high, there is room for %.3g mm: laid down and tied", after.High, at.High)
		} else {
			v.no("it is %.3g mm high, and there is room for %.3g mm", after.High, at.High)
		}
	}
}

// Says writes a capacitor so that CapacitorOf reads it: "47 µF 63 V electrolytic 105 °C".
func (c *Capacitor) Says() string {
	esr, pitch := told(c.Ohms, quantity.Ohm), ""
	if esr != "" {
		esr = "esr " + esr
	}
	if c.Pitch > 0 {
		pitch = fmt.Sprintf("%.3g mm", c.Pitch)
	}
	return spoken(quantity.Capacitance(c.Farads), told(c.Volts, quantity.Volt), percent(c.Tolerance), string(c.Dielectric), c.Class,
		told(c.Celsius, quantity.Celsius), map[bool]string{true: "low esr"}[c.LowOhms], esr, told(c.Amps, quantity.Ampere), pitch,
		map[bool]string{true: "surface mount"}[c.Surface])
}

// spoken joins what there is.
func spoken(words ...string) string {
	return strings.Join(slices.DeleteFunc(words, func(w string) bool { return w == "" }), " ")
}

// told writes a figure where it is known.
func told(x float64, unit quantity.Unit) string {
	if x == 0 {
		return ""
	}
	return quantity.Rounded(x, unit)
}

func percent(share float64) string {
	if share == 0 {
		return ""
	}
	return fmt.Sprintf("%.3g %%", 100*share)
}
