package substitute

import (
	"math"
	"slices"
	"strings"

	"steptrace/core/device"
	"steptrace/core/quantity"
)

// Place is what a semiconductor has to bear and do where it stands, in SI units. Zero: not known; then what it was rated for
// stands for it.
type Place struct {
	Volts   float64 `json:"volts,omitempty" jsonschema:"description=the most across it"`
	Amps    float64 `json:"amps,omitempty" jsonschema:"description=the most through it\\, peaks included"`
	Watts   float64 `json:"watts,omitempty" jsonschema:"description=heat in it"`
	Celsius float64 `json:"celsius,omitempty" jsonschema:"description=of the air or the heat sink about it"`
	Gain    float64 `json:"gain,omitempty" jsonschema:"description=the least that will do"`
	Hz      float64 `json:"hz,omitempty" jsonschema:"description=the transition frequency that will do"`
	Sink    bool    `json:"sink,omitempty" jsonschema:"description=it is bolted to a heat sink"`
	Switch  bool    `json:"switch,omitempty" jsonschema:"description=it switches: nothing hangs on its bias"`
	Pair    bool    `json:"pair,omitempty" jsonschema:"description=one of several that share the work"`
}

// The margins that a known duty is given (the trade's derating in round figures, as MIL-HDBK-338B has it for equipment on
// the ground: voltage to 80 %, current to 70 % of the rating).
const (
	voltsMargin = 1 / 0.8
	ampsMargin  = 1 / 0.7
	// warm is the air in a set where nobody says.
	warm = 45.0
	// slower is how far below the original's a transition frequency may be: tables mix least and typical ones.
	slower = 0.7
	// faster is how many times above it one begins to oscillate where the old one did not.
	faster = 8.0
	// keener is how many times the original's highest gain asks for a look at the loop.
	keener = 4.0
)

// Spare tells whether a rating leaves the usual margin over what a part works at.
func Spare(rated, volts float64) bool { return volts*voltsMargin <= rated }

// hottest is what a junction bears, °C: silicon in plastic 150, germanium 85.
func hottest(t *device.Type) float64 {
	if t.Row.Material == "germanium" {
		return 85
	}
	return 150
}

// Bears is the heat that a type bears with the air, or the heat sink it is bolted to, at a temperature: its rating at 25 °C,
// falling in a line to nothing where the junction has no more to give (the derating curve of every data sheet). A rating for
// a held case counts where there is a sink; without one what the case gives off to air. 0: not known.
func Bears(t *device.Type, celsius float64, sink bool) float64 {
	left := (hottest(t) - celsius) / (hottest(t) - 25)
	switch {
	case left <= 0:
		return 0
	case t.OfCase && !sink && t.Case != nil && t.Case.Air > 0:
		return (hottest(t) - celsius) / t.Case.Air
	case t.OfCase && !sink:
		return 0
	}
	return t.Watts * min(left, 1)
}

// Semiconductor judges a type in the place of another.
func Semiconductor(before, after *device.Type, at Place) Verdict {
	v := begin()
	if !v.sameSort(before, after, at) {
		return v.settle()
	}
	if alike(before, after) {
		v.legs(before, after, at)
		v.partner(before, after, at)
		return v.settle()
	}
	if ofFour(before, after) {
		v.bridge(before, after, at)
		return v.settle()
	}
	switch before.Kind {
	case device.Transistor:
		v.ratings(before, after, at)
		v.transistor(before, after, at)
	case device.MOSFET, device.JFET:
		v.ratings(before, after, at)
		v.gate(before, after, at)
	case device.Diode, device.Rectifier, device.Bridge:
		v.ratings(before, after, at)
		v.diode(before, after, at)
	case device.Zener:
		v.zener(before, after, at)
	case device.Regulator, device.Reference:
		v.ratings(before, after, at)
		v.regulator(before, after)
	case device.OpAmp, device.Comparator, device.Timer, device.Switch:
		v.ratings(before, after, at)
		v.chip(before, after, at)
	case device.Optocoupler:
		v.ratings(before, after, at)
		v.atLeast("transfer, in per cent", before.Gain.Least, after.Gain.Least, quantity.None)
	default: // tubes and modules: another type is another part
		v.no("a %s is replaced by its own type, or by one that the workshop's record confirms", before.Kind)
	}
	v.legs(before, after, at)
	v.partner(before, after, at)
	return v.settle()
}

// alike tells whether two types are one under two names.
func alike(a, b *device.Type) bool {
	x, y := a.Row, b.Row
	x.Type, y.Type, x.Pair, y.Pair = "", "", "", ""
	return a == b || a.Name == b.Name || x == y && x.Volts+x.Note != "" && x.Legs != ""
}

// sameSort tells whether it is the same kind of part at all.
func (v *Verdict) sameSort(before, after *device.Type, at Place) bool {
	a, b := before.Row, after.Row
	kinds := []device.Kind{before.Kind, after.Kind}
	straight := func(k device.Kind) bool { return k == device.Diode || k == device.Rectifier }
	switch {
	case ofFour(before, after):
		return true
	case before.Kind != after.Kind && !(straight(kinds[0]) && straight(kinds[1])):
		v.no("it is a %s, and the old one is a %s", after.Kind, before.Kind)
	case before.Kind == device.Transistor && before.Darlington() != after.Darlington():
		v.no("one of them is two transistors in one: its base drop is twice as large, its gain many times")
	case a.Polarity != "" && b.Polarity == "":
		v.no("its polarity is not known")
	case a.Polarity != b.Polarity && a.Polarity != "":
		v.no("it is %s, and the old one is %s", b.Polarity, a.Polarity)
	case a.Material == "silicon" && b.Material == "germanium":
		v.no("germanium leaks and bears less heat: not in place of silicon")
	case a.Material == "germanium" && b.Material == "silicon" && before.Kind == device.Transistor && !at.Switch:
		v.change("silicon needs 0.65 V at its base where germanium has 0.2 V: change the bias divider, and set the current anew")
		return true
	default:
		return true
	}
	return false
}

// ofFour tells whether a bridge is to be made of four single diodes.
func ofFour(before, after *device.Type) bool {
	return before.Kind == device.Bridge && after.Kind == device.Rectifier
}

// bridge judges one of four diodes that are to make a bridge: each carries half of the current, and has the whole of the volts
// across it.
func (v *Verdict) bridge(before, after *device.Type, at Place) {
	v.atLeast("volts", needs(at.Volts*voltsMargin, before.Volts), after.Volts, quantity.Volt)
	v.atLeast("current", needs(at.Amps*ampsMargin, before.Amps)/2, after.Amps, quantity.Ampere)
	v.change(
		"four of them: two cathodes together are plus, two anodes minus, and the winding goes to the two joints of an anode with a " +
			"cathode",
	)
	v.mind("each of them tested before, and its ring seen; a shorted one shorts the winding")
	if at.Sink {
		v.no("the old one is bolted to a sink, and gets rid of its heat there: a bridge of its kind")
	}
}

// ratings are what every semiconductor has to bear: what its duty asks for with the usual margin, or, where nobody knows the
// duty, what the old one bore.
func (v *Verdict) ratings(before, after *device.Type, at Place) {
	v.atLeast("volts", needs(at.Volts*voltsMargin, before.Volts), after.Volts, quantity.Volt)
	v.atLeast("current", needs(at.Amps*ampsMargin, before.Amps), after.Amps, quantity.Ampere)
	celsius := at.Celsius
	if celsius == 0 {
		celsius = warm
	}
	switch has := Bears(after, celsius, at.Sink); {
	case at.Watts > 0:
		v.atLeast("heat at "+quantity.Rounded(celsius, quantity.Celsius), at.Watts, has, quantity.Watt)
	case before.Watts == 0:
	case before.OfCase == after.OfCase || at.Sink:
		v.atLeast("heat", before.Watts, after.Watts, quantity.Watt)
	case before.OfCase: // it stood free, so its case is what it gives off
		v.atLeast("heat in free air", Bears(before, 25, false), after.Watts, quantity.Watt)
	default:
		v.atLeast("heat in free air", before.Watts, Bears(after, 25, false), quantity.Watt)
	}
}

// needs is what is asked for: by the duty where it is known, and never more than the old one bore.
func needs(duty, old float64) float64 {
	switch {
	case duty > 0 && old > 0:
		return min(duty, old)
	case duty > 0:
		return duty
	}
	return old
}

// secondVolts is from where on a bipolar bears less than its watts, since the current gathers in one spot of it (second
// breakdown): the safe areas that data sheets draw bend there, at 30 to 60 V.
const secondVolts = 40.0

// safeArea holds a bipolar's heat against its volts and its peak current. They do not come together: into a resistance it has half
// of its volts at half of its current, into a loudspeaker, which stores, up to twice of that heat for moments.
func (v *Verdict) safeArea(after *device.Type, at Place) {
	if at.Volts < secondVolts || after.Watts == 0 || at.Amps == 0 || at.Switch {
		return
	}
	celsius := at.Celsius
	if celsius == 0 {
		celsius = warm
	}
	bears, heat := Bears(after, celsius, at.Sink), at.Volts/2*at.Amps/2
	if heat > bears {
		v.no("safe area: half of %s at half of %s are %s, and it bears %s", quantity.Rounded(at.Volts, quantity.Volt),
			quantity.Rounded(at.Amps, quantity.Ampere), quantity.Rounded(heat, quantity.Watt), quantity.Rounded(bears, quantity.Watt))
		return
	}
	v.mind("safe area: %s into a resistance, twice that for moments into a loudspeaker; beyond %s a bipolar bears less than its watts: "+
		"hold the curve of its sheet against it", quantity.Rounded(heat, quantity.Watt), quantity.Rounded(secondVolts, quantity.Volt))
}

// transistor: gain, speed and safe area.
func (v *Verdict) transistor(before, after *device.Type, at Place) {
	v.safeArea(after, at)
	v.atLeast("gain", needs(at.Gain, before.Gain.Least), after.Gain.Least, quantity.None)
	v.speed(before, after, at)
	if strings.Contains(before.Row.Note, "low noise") && !strings.Contains(after.Row.Note, "low noise") {
		v.mind("the old one was chosen for its low noise")
	}
	if before.Gain.Most > 0 && after.Gain.Least > keener*before.Gain.Most {
		v.mind("it has many times the old one's gain: see that the stage does not oscillate")
	}
}

// speed: the transition frequency.
func (v *Verdict) speed(before, after *device.Type, at Place) {
	needed := before.Hz * slower
	if at.Hz > 0 {
		needed = at.Hz
	}
	v.atLeast("transition frequency", needed, after.Hz, quantity.Hertz)
	if before.Hz > 0 && after.Hz > faster*before.Hz {
		v.mind("it is many times as fast: look for oscillation, and give the base its stopper resistor")
	}
}

// gate: field-effect transistors are biased by their threshold or pinch-off.
func (v *Verdict) gate(before, after *device.Type, at Place) {
	a, b := before.Opens, after.Opens
	switch {
	case a == device.Range{} || at.Switch && before.Kind == device.MOSFET && b.Most > 0 && b.Most <= a.Most*1.05:
	case b == device.Range{}:
		v.no("the volts at which it opens are not known")
	case b.Least >= a.Most && a.Most > 0, a.Least >= b.Most && b.Most > 0:
		v.no("it opens at %s, the old one at %s: its bias cannot be set", volts(b), volts(a))
	case a != b:
		v.change("it opens at %s, the old one at %s: set its current anew", volts(b), volts(a))
	}
}

func volts(r device.Range) string {
	low, high := quantity.Rounded(r.Least, quantity.Volt), quantity.Rounded(r.Most, quantity.Volt)
	switch {
	case r.Least == 0:
		return "up to " + high
	case r.Most == 0:
		return low + " or more"
	}
	return low + " to " + high
}

// diode: speed and drop.
func (v *Verdict) diode(before, after *device.Type, at Place) {
	schottky := func(t *device.Type) bool { return strings.Contains(t.Row.Note, "Schottky") }
	switch {
	case before.Row.Material == "germanium" && after.Row.Material == "silicon" && !schottky(after):
		v.no("a detector lives on germanium's small drop, 0.3 V: silicon mutes what is weak. A small Schottky diode does it")
	case schottky(before) && !schottky(after):
		v.no("its drop is twice that of the Schottky diode that was there: what runs from it gets less, and it gets hot")
	case schottky(after) && !schottky(before) && before.Row.Material == "silicon":
		v.mind("a Schottky diode leaks when hot")
	}
	switch {
	case schottky(after): // it has no recovery to speak of
	case before.Seconds > 0:
		v.atMost("recovery", before.Seconds*1.5, after.Seconds, quantity.Second)
	case at.Switch && after.Seconds == 0:
		v.no("it works at a switching frequency, and its recovery is not known: take a fast one")
	}
}

// zener: its voltage first. Marked values are as good as their tolerance, 5 % mostly: within a half of that it is the same.
func (v *Verdict) zener(before, after *device.Type, at Place) {
	const same = 0.025
	if off := after.Volts/before.Volts - 1; math.Abs(off) > same {
		v.no("it holds %s, and %s are due", quantity.Rounded(after.Volts, quantity.Volt), quantity.Rounded(before.Volts, quantity.Volt))
	}
	celsius := at.Celsius
	if celsius == 0 {
		celsius = warm
	}
	if at.Watts > 0 {
		v.atLeast("heat at "+quantity.Rounded(celsius, quantity.Celsius), at.Watts, Bears(after, celsius, at.Sink), quantity.Watt)
	} else {
		v.atLeast("heat", before.Watts, after.Watts, quantity.Watt)
	}
	if a, b := before.GainAt, after.GainAt; a > 0 && b > 0 && (a > 3*b || b > 3*a) {
		v.mind("its voltage is marked at %s, the old one's at %s: measure it at the current it has here",
			quantity.Rounded(b, quantity.Ampere), quantity.Rounded(a, quantity.Ampere))
	}
}

// regulator: the very voltage.
func (v *Verdict) regulator(before, after *device.Type) {
	if before.Drop != after.Drop {
		v.no("it gives %s, and %s are due", orNone(after.Drop), orNone(before.Drop))
	}
}

func orNone(x float64) string {
	if x == 0 {
		return "what its resistors set"
	}
	return quantity.Rounded(x, quantity.Volt)
}

// chip: as many in the case, inputs of the same kind, as fast.
func (v *Verdict) chip(before, after *device.Type, at Place) {
	a, b := before.Row.Note, after.Row.Note
	for _, x := range []struct{ word, why string }{
		{"field-effect input", "the old one's inputs draw no current: here it may have high resistances about it"},
		{"one supply", "the old one works down to its lower supply; this one does not"},
		{"open collector", "the old one's output only pulls down"},
	} {
		if strings.Contains(a, x.word) && !strings.Contains(b, x.word) {
			v.no("%s", x.why)
		}
	}
	if strings.Contains(b, "not stable below") && !strings.Contains(a, "not stable below") {
		v.change("it is not stable at low gain: a capacitor between its compensation pins")
	}
	if strings.Contains(a, "low noise") && !strings.Contains(b, "low noise") {
		v.mind("the old one was chosen for its low noise")
	}
	v.speed(before, after, at)
}

// legs: how it goes into the holes and onto the sink.
func (v *Verdict) legs(before, after *device.Type, at Place) {
	f, err := device.Fit(before, after, device.Solder, at.Sink)
	if err != nil && before.Name == after.Name { // whatever its order is
		v.mind("it goes in as the old one came out")
		return
	}
	if err != nil {
		v.no("%s", err.Error())
		return
	}
	if v.Fitting = f; !f.Straight() {
		v.change("%s", f.Says)
	}
	if before.Case == nil || after.Case == nil || !at.Sink {
		return
	}
	a, b := before.Case, after.Case
	switch {
	case !b.Sink && at.Watts > 0 && Bears(after, max(at.Celsius, warm), false) >= at.Watts:
		v.change("it cannot be bolted to the heat sink, and gets rid of its heat without")
	case !b.Sink:
		v.no("it cannot be bolted to the heat sink")
	case a.Tab < 0 && b.Tab >= 0:
		v.change("its tab is not insulated, as the old one's was: washer, bush and paste")
	case a.Tab >= 0 && b.Tab >= 0 && before.Legs[a.Tab] != after.Legs[b.Tab]:
		v.change("its tab is its %s, the old one's was the %s: insulate it from the sink", after.Legs[b.Tab], before.Legs[a.Tab])
	case b.Tab >= 0:
		v.mind("washer and paste renewed, and no connection from its tab to the sink where it was insulated")
	}
}

// partner: what works in a pair is renewed in a pair.
func (v *Verdict) partner(before, after *device.Type, at Place) {
	if !at.Pair {
		return
	}
	if before.Name == after.Name {
		v.mind("renew all that share the work with it: gains within 10 %% of one another")
		return
	}
	other := ""
	if after.Row.Pair != "" {
		other = ", by " + after.Row.Pair + " on the other side"
	}
	v.change("renew its partner too%s; gains within 10 %% of one another", other)
}

// Ranked is a type that was judged.
type Ranked struct {
	Type    *device.Type
	Verdict Verdict
}

// Semiconductors judges all of a table in the place of a type, what fits first: as it is before with a change, the workshop's
// drawer before what has to be ordered, the nearest ratings before the far ones. What does not fit is left out unless it is
// in the drawer, and of the right polarity. At most so many.
func Semiconductors(table *device.Table, before *device.Type, at Place, drawer map[string]int, most int) []Ranked {
	var out []Ranked
	for i := range table.Types() {
		after := &table.Types()[i]
		if after.Kind != before.Kind && !(before.Kind == device.Diode && after.Kind == device.Rectifier ||
			before.Kind == device.Rectifier && after.Kind == device.Diode || ofFour(before, after)) {
			continue
		}
		v := Semiconductor(before, after, at)
		if v.Grade == Unfit && (drawer[after.Name] == 0 || after.Row.Polarity != before.Row.Polarity) {
			continue
		}
		out = append(out, Ranked{after, v})
	}
	rank := func(r *Ranked) (grade, have int, far float64) {
		grade = slices.Index([]Grade{Fits, Changed, Unfit}, r.Verdict.Grade)
		if drawer[r.Type.Name] == 0 {
			have = 1
		}
		if r.Type.Name == before.Name {
			return grade, have, -1
		}
		a, b := before, r.Type
		for _, x := range [][2]float64{{a.Volts, b.Volts}, {a.Amps, b.Amps}, {a.Watts, b.Watts}, {a.Hz, b.Hz}} {
			if x[0] > 0 && x[1] > 0 {
				far += math.Abs(math.Log(x[1] / x[0]))
			}
		}
		return grade, have, far + float64(len(r.Verdict.Changes)) + 0.3*float64(len(r.Verdict.Mind))
	}
	slices.SortStableFunc(out, func(a, b Ranked) int {
		ga, ha, fa := rank(&a)
		gb, hb, fb := rank(&b)
		switch {
		case ga != gb:
			return ga - gb
		case ha != hb:
			return ha - hb
		case fa < fb:
			return -1
		case fa > fb:
			return 1
		}
		return 0
	})
	return out[:min(len(out), most)]
}
