package substitute

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
)

// Resistor is one as it is bought. Zero and empty: not known.
type Resistor struct {
	Ohms      float64 `json:"ohms"`
	Watts     float64 `json:"watts,omitempty"`
	Tolerance float64 `json:"tolerance,omitempty" jsonschema:"description=as a share"`
	Volts     float64 `json:"volts,omitempty" jsonschema:"description=that its body bears"`
	Flame     bool    `json:"flame,omitempty" jsonschema:"description=flameproof"`
	Fusible   bool    `json:"fusible,omitempty" jsonschema:"description=it opens like a fuse"`
	Wound     bool    `json:"wound,omitempty" jsonschema:"description=wire wound"`
	// Needs is what has to be done for one that is made of several, a line each.
	Needs string `json:"-"`
}

// Stand is what a resistor has to bear. Zero: not known.
type Stand struct {
	Watts  float64 `json:"watts,omitempty" jsonschema:"description=heat in it"`
	Volts  float64 `json:"volts,omitempty" jsonschema:"description=the most across it"`
	Exact  bool    `json:"exact,omitempty" jsonschema:"description=a time\\, a gain or a bias hangs on it"`
	Signal bool    `json:"signal,omitempty" jsonschema:"description=high frequency flows in it"`
}

// cool is how many times its heat a resistor is rated for, so that it stays below what browns a board.
const cool = 2.0

// What a resistor may be off where nothing is printed on it, as a share: as most are sold, and where something hangs on it.
const usualShare, exactShare = 0.05, 0.01

// ResistorFor judges a resistor in the place of another.
//
// Long: all that a resistor is asked for.
func ResistorFor(before, after Resistor, at Stand) Verdict {
	v := begin()
	tolerance := before.Sought(at).Tolerance
	switch off := after.Ohms/before.Ohms - 1; {
	case !(before.Ohms > 0) || !(after.Ohms > 0):
		v.no("its resistance is not known")
	case math.Abs(off) > tolerance*(1+1e-9):
		v.no("%s in place of %s is %s off", quantity.Rounded(after.Ohms, quantity.Ohm), quantity.Rounded(before.Ohms, quantity.Ohm),
			quantity.SignedPercent(off))
	case off != 0:
		v.mind(
			"%s in place of %s: within its tolerance",
			quantity.Rounded(after.Ohms, quantity.Ohm),
			quantity.Rounded(before.Ohms, quantity.Ohm),
		)
	}
	if after.Tolerance > 0 && after.Tolerance > tolerance*(1+1e-9) {
		v.no("its tolerance is %.3g %%, and %.3g %% are needed", 100*after.Tolerance, 100*tolerance)
	}
	v.atLeast("heat", needs(at.Watts*cool, before.Watts), after.Watts, quantity.Watt)
	v.atLeast("volts", max(at.Volts, before.Volts), after.Volts, quantity.Volt)
	switch {
	case before.Fusible && !after.Fusible:
		v.no("the old one opens before something burns: only a fusible one of the same value and heat")
	case before.Fusible && before.Watts > 0 && after.Watts > before.Watts*1.01:
		v.no("a fusible one of more watts opens too late: the same heat as the old one")
	case before.Flame && !after.Flame && !after.Fusible:
		v.no("the old one is flameproof: so has to be the new one")
	}
	if after.Wound && !before.Wound {
		if at.Signal {
			v.no("wire wound is a coil at these frequencies")
		} else {
			v.mind("wire wound: no matter below some kilohertz")
		}
	}
	v.needs(after.Needs)
	if after.Watts > 0 && at.Watts > 0.5 {
		v.mind("it gets hot: legs long enough to stand off the board")
	}
	return v.settle()
}

// Fuse is one as it is bought.
type Fuse struct {
	Amps   float64 `json:"amps"`
	Speed  string  `json:"speed,omitempty" jsonschema:"description=very quick\\, quick\\, medium\\, slow\\, very slow"`
	Volts  float64 `json:"volts,omitempty"`
	Breaks float64 `json:"breaks,omitempty" jsonschema:"description=the current that it can break\\, A"`
	Size   string  `json:"size,omitempty" jsonschema:"description=5x20 mm"`
}

// Speeds are those of IEC 60127, the quickest first.
var Speeds = []string{"very quick", "quick", "medium", "slow", "very slow"}

// FuseFor judges a fuse in the place of another: the same current and the same speed, never more of either.
func FuseFor(before, after Fuse) Verdict {
	v := begin()
	switch {
	case !(before.Amps > 0) || !(after.Amps > 0):
		v.no("its current is not known: it is printed beside its holder")
	case after.Amps > before.Amps*(1+1e-9):
		v.no("never a larger fuse: %s for %s lets the set burn before it opens",
			quantity.Rounded(after.Amps, quantity.Ampere), quantity.Rounded(before.Amps, quantity.Ampere))
	case after.Amps < before.Amps*(1-1e-9):
		v.no("a smaller one opens at the set's own inrush: %s are due", quantity.Rounded(before.Amps, quantity.Ampere))
	}
	switch {
	case before.Speed == "" || after.Speed == "":
		v.no("its speed is not known: %s", strings.Join(Speeds, ", "))
	case before.Speed != after.Speed:
		v.no("%s, and %s is due", after.Speed, before.Speed)
	}
	v.atLeast("volts", before.Volts, after.Volts, quantity.Volt)
	v.atLeast("breaking current", before.Breaks, after.Breaks, quantity.Ampere)
	if before.Size != "" && after.Size != before.Size {
		v.no("it is %s, the holder takes %s", orUnknown(after.Size), before.Size)
	}
	v.mind("why the old one opened is found before power goes on")
	return v.settle()
}

func orUnknown(s string) string {
	if s == "" {
		return "of unknown size"
	}
	return s
}

// Relay is one as it is bought.
type Relay struct {
	Volts    float64 `json:"volts"` // of its coil
	AC       bool    `json:"ac,omitempty"`
	Ohms     float64 `json:"ohms,omitempty" jsonschema:"description=of its coil"`
	Contacts string  `json:"contacts,omitempty" jsonschema:"description=how many and which: 2 changeover"`
	Amps     float64 `json:"amps,omitempty"`
	Across   float64 `json:"across,omitempty" jsonschema:"description=volts that its contacts switch"`
	Signal   bool    `json:"signal,omitempty" jsonschema:"description=contacts for small signals\\, gold on silver"`
	Pins     string  `json:"pins,omitempty"`
}

// Task is what a relay has to do. Driver is the current that what drives it gives.
type Task struct {
	Driver float64 `json:"driver,omitempty"`
	Amps   float64 `json:"amps,omitempty"`
	Volts  float64 `json:"volts,omitempty"`
	Signal bool    `json:"signal,omitempty" jsonschema:"description=it switches small signals\\, or a loudspeaker at low level"`
}

// RelayFor judges a relay in the place of another.
//
// Long: all that a relay is asked for.
func RelayFor(before, after Relay, at Task) Verdict {
	v := begin()
	// Relays pull in at three quarters of their volts, and bear a tenth more for good.
	const least, most = 0.9, 1.1
	switch x := after.Volts / before.Volts; {
	case !(before.Volts > 0) || !(after.Volts > 0):
		v.no("the volts of its coil are not known")
	case before.AC != after.AC && !v.ownSupply(after):
		v.no("its coil is for %s, and it gets %s", current(after.AC), current(before.AC))
	case before.AC != after.AC:
	case x < least && !after.AC && after.Ohms > 0:
		ohms, watts := Dropper(before.Volts, after.Volts, after.Volts/after.Ohms)
		v.change("a resistor of %s, %s, in series with its coil", quantity.Rounded(quantity.E24.Nearest(ohms), quantity.Ohm),
			quantity.Rounded(sold(soldWatts, watts*cool), quantity.Watt))
	case x < least:
		v.no(
			"its coil burns: it is for %s, and gets %s",
			quantity.Rounded(after.Volts, quantity.Volt),
			quantity.Rounded(before.Volts, quantity.Volt),
		)
	case x > most && v.ownSupply(after):
	case x > most:
		v.no(
			"it does not pull: its coil is for %s, and gets %s: a small supply of its own, or another",
			quantity.Rounded(after.Volts, quantity.Volt),
			quantity.Rounded(before.Volts, quantity.Volt),
		)
	}
	driver := at.Driver
	if driver == 0 && before.Ohms > 0 {
		driver = before.Volts / before.Ohms
	}
	takes := 0.0
	if after.Ohms > 0 {
		takes = after.Volts / after.Ohms
	}
	if !v.supplied {
		v.atMost("coil current", driver, takes, quantity.Ampere)
	}
	v.atLeast("contact current", cmp.Or(at.Amps, before.Amps), after.Amps, quantity.Ampere)
	v.atLeast("contact volts", cmp.Or(at.Volts, before.Across), after.Across, quantity.Volt)
	if (before.Signal || at.Signal) && !after.Signal {
		v.no("its contacts are for power: small signals do not keep them clean. One with contacts for signals")
	}
	if before.Contacts != "" && before.Contacts != after.Contacts {
		v.no("it has %s, and %s are needed", orNotKnown(after.Contacts), before.Contacts)
	}
	if before.Pins != "" && before.Pins != after.Pins {
		v.change("its pins are others: find coil and contacts by ohms, and wire it")
	}
	if !after.AC {
		v.mind("the clamp diode across its coil is there, and the right way round")
	}
	return v.settle()
}

// ownSupply asks for a supply of its own for a relay, and tells whether there is one.
func (v *Verdict) ownSupply(r Relay) bool {
	supply, ok := SupplyFor(r.Volts, r.Ohms, leastMains)
	if !ok || r.AC {
		return false
	}
	v.change("%s", supply.Says())
	v.mind("what drove the old coil now switches this one: its transistor has to bear %s and carry %s; where it cannot, the old "+
		"coil's line works a small transistor", quantity.Rounded(supply.Most*openHigher, quantity.Volt),
		quantity.Rounded(r.Volts/r.Ohms, quantity.Ampere))
	v.mind("mains wiring: insulation, fuse and distances as local rules have them, by those licensed for it")
	v.supplied = true
	return true
}

// leastMains is the lower of the mains' frequencies, which needs the larger reservoir.
const leastMains = 50.0

func orNotKnown(s string) string {
	if s == "" {
		return "contacts that are not known"
	}
	return s
}

func current(ac bool) string {
	if ac {
		return "alternating current"
	}
	return "direct current"
}

// Control is a potentiometer as it is bought.
type Control struct {
	Ohms   float64 `json:"ohms"`
	Law    string  `json:"law,omitempty" jsonschema:"description=linear\\, logarithmic\\, reverse"`
	Gangs  int     `json:"gangs,omitempty"`
	Shaft  string  `json:"shaft,omitempty" jsonschema:"description=6 mm flat\\, 4 mm split"`
	Watts  float64 `json:"watts,omitempty"`
	Switch bool    `json:"switch,omitempty"`
}

// ControlFor judges a control in the place of another. Controls are sold at 20 %.
func ControlFor(before, after Control) Verdict {
	v := begin()
	switch off := after.Ohms/before.Ohms - 1; {
	case !(before.Ohms > 0) || !(after.Ohms > 0):
		v.no("its resistance is not known")
	case math.Abs(off) > 0.25:
		v.no("%s in place of %s", quantity.Rounded(after.Ohms, quantity.Ohm), quantity.Rounded(before.Ohms, quantity.Ohm))
	}
	switch {
	case before.Law == "":
	case after.Law == "":
		v.no("its law is not known: measure it at half its turn")
	case after.Law != before.Law:
		v.no("it is %s, the old one %s: all its effect would be at one end", after.Law, before.Law)
	}
	if max(before.Gangs, 1) != max(after.Gangs, 1) {
		v.no("it has %d tracks, and %d are needed", max(after.Gangs, 1), max(before.Gangs, 1))
	}
	v.atLeast("heat", before.Watts, after.Watts, quantity.Watt)
	if before.Switch && !after.Switch {
		v.change("it has no switch: one elsewhere")
	}
	if before.Shaft != "" && after.Shaft != before.Shaft {
		v.change("its shaft is %s, the knob wants %s: cut, file or sleeve it", orUnknown(after.Shaft), before.Shaft)
	}
	return v.settle()
}

// Matches is what has to be the same of parts that have few figures, and where each may differ: said plainly.
//
// Source: the trade, and IEC 60122 (crystals), IEC 60738 and 60539 (thermistors).
var Matches = map[string][]string{
	"crystal": {
		"frequency to the last figure",
		"fundamental or overtone",
		"load capacitance, or the frequency will be off by some tens of ppm",
		"holder and pins",
	},
	"thermistor": {
		"resistance cold",
		"which way it goes: hotter less, or hotter more",
		"the current that it carries for good",
		"size: its mass sets how long it takes",
	},
	"winding": {
		"turns ratio, or volts in and out",
		"current, and resistance of each winding within a tenth",
		"which end is the beginning",
		"insulation: tested for mains where it parts mains",
	},
	"module": {
		"the same number, or one that the workshop's record confirms",
		"its firmware and adjustments go with it: write them down before",
	},
}

// ModuleFor judges a module or board by its number: the same, or confirmed by the workshop's record.
func ModuleFor(before, after string, confirmed []string) Verdict {
	v := begin()
	switch {
	case strings.TrimSpace(before) == "" || strings.TrimSpace(after) == "":
		v.no("its number is not known: it is printed on it")
	case SameNumber(before, after):
		v.mind("its firmware and adjustments: write them down before")
	case slices.ContainsFunc(confirmed, func(c string) bool { return SameNumber(c, after) }):
		v.change("adjustments and firmware as the old one had: the workshop's record says that it works")
	default:
		v.no("%s", fmt.Sprintf("%s is not %s, and no record of the workshop confirms it", after, before))
	}
	return v.settle()
}

// SameNumber tells whether two numbers of modules are one, however they are spaced.
func SameNumber(a, b string) bool {
	return strings.EqualFold(strings.Join(strings.Fields(a), ""), strings.Join(strings.Fields(b), ""))
}
