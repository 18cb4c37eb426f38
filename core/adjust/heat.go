package adjust

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Current is what a voltage read across a resistor says: amperes through it, and the watts that this current makes in
// what has so many volts across it; zero where those are not known.
type Current struct {
	Amps  float64 `json:"amps"`
	Watts float64 `json:"watts"`
	Says  string  `json:"says"`
}

// CurrentOf turns what is read into a current by Ohm's law, and that into heat; false where the adjustment does not say
// across which resistor it is read, or is one of another kind. A reading in amperes is a current already.
func CurrentOf(a *sheet.PlanAdjustment, si float64, unit quantity.Unit) (Current, bool) {
	c := Current{}
	switch {
	case unit == quantity.Ampere:
		c.Amps = math.Abs(si)
	case unit == quantity.Volt && a.Ohms > 0:
		c.Amps = math.Abs(si) / a.Ohms
	default:
		return c, false
	}
	c.Says = quantity.Rounded(c.Amps, quantity.Ampere)
	if a.Volts > 0 {
		c.Watts = c.Amps * a.Volts
		c.Says += ", " + quantity.Rounded(c.Watts, quantity.Watt) + " in each at " + quantity.Rounded(a.Volts, quantity.Volt)
	}
	return c, true
}

// Idle is what the set takes from the mains while nothing plays, as it follows from its rails and idle currents: Rails are
// what the supply gives (W), Mains that with the transformer's losses: Iron, which it has always (W), and Copper, a share of
// what goes through it. Of names what was counted.
type Idle struct {
	Rails  float64  `json:"rails"`
	Iron   float64  `json:"iron"`
	Copper float64  `json:"copper"`
	Mains  float64  `json:"mains"`
	Of     []string `json:"of"`
}

// Losses of a mains transformer where nobody says them: those of one of 100 to 300 VA, laminated.
const (
	usualIron   = 5.0  // W
	usualCopper = 0.08 // of what goes through
	switchGains = 0.8  // efficiency of a switching supply
)

// IdleOf adds up what the set takes. Biases are the idle currents as they are now, by adjustment. A rail that an output
// stage idles on gives those, whatever it gives at full power; where the stage has a circuit, the rest of it too. Other rails
// give what the sheet says: one made from another by a regulator takes its current from that one, at that one's voltage; by
// switching, its power, with the losses of that. Negative losses stand for nothing said.
func IdleOf(plan *sheet.Plan, biases map[string]float64, iron, copper float64) Idle {
	out := Idle{Iron: iron, Copper: copper, Of: []string{}}
	if iron < 0 {
		out.Iron = usualIron
	}
	if copper < 0 {
		out.Copper = usualCopper
	}
	add := func(name string, watts float64) {
		out.Rails += watts
		out.Of = append(out.Of, fmt.Sprintf("%s %s", name, quantity.Rounded(watts, quantity.Watt)))
	}
	idles := map[int]bool{} // rails that output stages idle on
	for i := range plan.Adjustments {
		a := &plan.Adjustments[i]
		amps, ok := biases[a.Name]
		if !ok || a.Volts == 0 {
			continue
		}
		volts := a.Volts
		if k, ok := plan.RailIndex(a.Adjustment.Volts); ok {
			idles[k] = true
			if other := opposite(plan, k); other >= 0 {
				idles[other] = true
				volts += math.Abs(plan.Rails[other].Volts)
			}
		}
		add(a.Name, amps*volts+besides(plan, a, volts))
	}
	for i := range plan.Rails {
		if r := &plan.Rails[i]; r.LoadA > 0 && !idles[i] {
			volts, gain := takenAt(plan, i)
			add(r.Name, volts*r.LoadA/gain)
		}
	}
	out.Mains = out.Rails/(1-out.Copper) + out.Iron
	return out
}

// besides is what the circuit of an adjustment's stage takes besides the idle current (W); zero where it has none.
func besides(plan *sheet.Plan, a *sheet.PlanAdjustment, volts float64) float64 {
	if a.Circuit < 0 {
		return 0
	}
	rest, err := plan.Circuits[a.Circuit].Net.Rest()
	if err != nil {
		return 0
	}
	across, there := rest.Between(a.From, a.To)
	idle, known := CurrentOf(a, across, quantity.Volt)
	if !there || !known {
		return 0
	}
	taken := 0.0
	for _, p := range plan.Circuits[a.Circuit].Parts {
		if i := slices.IndexFunc(rest.Parts, func(x circuit.PartRest) bool { return x.Name == p.Name }); i >= 0 &&
			p.Kind == circuit.Voltage {
			taken -= rest.Parts[i].Volts * rest.Parts[i].Amps
		}
	}
	return max(0, taken-idle.Amps*volts)
}

// takenAt is at which voltage a rail's current is taken from the winding in the end, and the efficiency of what is in
// between.
func takenAt(plan *sheet.Plan, rail int) (volts, gain float64) {
	volts, gain = math.Abs(plan.Rails[rail].Volts), 1
	for range plan.Rails { // a circle ends here
		r := &plan.Rails[rail]
		if r.Parent < 0 {
			break
		}
		if strings.HasPrefix(r.Rectifier, "switching") {
			gain *= switchGains
		} else {
			volts = math.Max(volts, math.Abs(plan.Rails[r.Parent].Volts))
		}
		rail = r.Parent
	}
	return volts, gain
}

// opposite is the rail of the same voltage below ground; -1 where there is none.
func opposite(plan *sheet.Plan, rail int) int {
	const alike = 0.1
	v := plan.Rails[rail].Volts
	return slices.IndexFunc(plan.Rails, func(r sheet.PlanRail) bool { return v != 0 && math.Abs(r.Volts/v+1) < alike })
}

// Cabinet is how warm the set gets inside where it is going to stand: PerWatt is its thermal resistance (°C/W), Inside the
// temperature at the warmest place around it (°C), Spare what is left below the allowed one (below zero: too warm), Most the
// watts that it may have there.
type Cabinet struct {
	PerWatt float64 `json:"perWatt"`
	Inside  float64 `json:"inside"`
	Spare   float64 `json:"spare"`
	Most    float64 `json:"most"`
	Says    string  `json:"says"`
}

// CabinetOf judges the heat: with so many watts the inside was measured so warm in a room so warm (°C); the rise is
// proportional to the watts (thermal resistance). Warmest is the room it may have to stand in, allowed what the inside may
// have. Errors name a value that cannot be.
func CabinetOf(watts, inside, room, warmest, allowed float64) (Cabinet, error) {
	switch {
	case !(watts > 0):
		return Cabinet{}, mend.Errorf("without watts there is no rise: read what the set takes while it idles")
	case !(inside > room):
		return Cabinet{}, mend.Errorf("the inside is no warmer than the room: wait until it has warmed up, half an hour at least")
	case !(allowed > warmest):
		return Cabinet{}, mend.Errorf("what is allowed inside has to be above the warmest room")
	}
	c := Cabinet{PerWatt: (inside - room) / watts}
	c.Inside = warmest + c.PerWatt*watts
	c.Spare = allowed - c.Inside
	c.Most = (allowed - warmest) / c.PerWatt
	degrees := func(x float64) string { return quantity.Value{SI: math.Round(x), Unit: quantity.Celsius}.Short(3) }
	if c.Spare < 0 {
		c.Says = fmt.Sprintf(
			"The cabinet cannot get rid of it: %s inside in a room of %s, %s allowed. It may idle at %s at most: "+
				"less idle current, or more air.",
			degrees(c.Inside),
			degrees(warmest),
			degrees(allowed),
			quantity.Rounded(c.Most, quantity.Watt),
		)
	} else {
		c.Says = fmt.Sprintf("The cabinet gets rid of it: %s inside in a room of %s, %s allowed; up to %s idle.",
			degrees(c.Inside), degrees(warmest), degrees(allowed), quantity.Rounded(c.Most, quantity.Watt))
	}
	return c, nil
}

// figures are those of a heat entry, in SI units; NaN where nothing was said.
type figures struct{ watts, inside, room, warmest, allowed, iron, copper float64 }

// What is taken where nobody says it: a warm day in a small room, and the insides of a set with electrolytics for 85 °C
// that are to last.
const usualWarmest, usualAllowed = 35.0, 60.0

func (h *Heat) figures() (f figures, err error) {
	read := func(into *float64, text string, unit quantity.Unit, least, most, missing float64) {
		*into = missing
		if strings.TrimSpace(text) == "" || err != nil {
			return
		}
		var v quantity.Value
		if v, err = quantity.ParseAs(text, unit); err == nil && (v.SI < least || v.SI > most) {
			err = mend.Errorf("%s cannot be: from %s to %s", text, quantity.Rounded(least, unit), quantity.Rounded(most, unit))
		}
		*into = v.SI
	}
	const coldest, hottest, mostWatts, mostCopper = -40, 250, 20e3, 0.6
	read(&f.watts, h.Watts, quantity.Watt, 0, mostWatts, math.NaN())
	read(&f.inside, h.Inside, quantity.Celsius, coldest, hottest, math.NaN())
	read(&f.room, h.Room, quantity.Celsius, coldest, hottest, math.NaN())
	read(&f.warmest, h.Warmest, quantity.Celsius, coldest, hottest, usualWarmest)
	read(&f.allowed, h.Allowed, quantity.Celsius, coldest, hottest, usualAllowed)
	read(&f.iron, h.Iron, quantity.Watt, 0, mostWatts, -1)
	read(&f.copper, h.Copper, quantity.Ratio, 0, mostCopper, -1)
	return f, err
}

// Idling is what was measured of the heat, and what that says: what is expected from the mains beside what it takes, and
// whether the cabinet gets rid of it. Cabinet is nil where the temperatures are not known yet.
type Idling struct {
	Heat     Heat     `json:"heat"`
	Expected Idle     `json:"expected"`
	Watts    float64  `json:"watts"`
	Verdict  string   `json:"verdict" jsonschema:"enum=within,enum=high,enum=low,enum="`
	Says     string   `json:"says"`
	Cabinet  *Cabinet `json:"cabinet" jsonschema:"nullable"`
	Doubt    string   `json:"doubt"` // why the cabinet is not judged
}

// idleShare is by how much the watts may differ from what is expected: the losses are usual ones, loads are rounded.
const idleShare = 0.25

// IdlingOf judges the last such entry; false where there is nothing to go by.
func IdlingOf(plan *sheet.Plan, entries []Entry) (Idling, bool) {
	out := Idling{}
	biases := map[string]float64{}
	for i := range plan.Adjustments {
		a := &plan.Adjustments[i]
		if r, ok := lastRead(entries, a.Name); ok {
			if c, ok := CurrentOf(a, r.SI, r.Unit); ok {
				biases[a.Name] = c.Amps
			}
		} else if c, ok := CurrentOf(a, a.Target.SI, a.Target.Unit); ok && a.Sought == sheet.SoughtValue {
			biases[a.Name] = c.Amps
		}
	}
	for i := len(entries) - 1; i >= 0; i-- {
		if h := entries[i].Heat; h != nil && !entries[i].Struck {
			out.Heat = *h
			break
		}
	}
	f, err := out.Heat.figures()
	if err != nil { // it was taken by an older program
		f = figures{math.NaN(), math.NaN(), math.NaN(), usualWarmest, usualAllowed, -1, -1}
	}
	out.Expected = IdleOf(plan, biases, f.iron, f.copper)
	known := out.Expected.Rails > 0
	if known {
		out.Says = fmt.Sprintf(
			"From rails and idle currents %s is expected from the mains.",
			quantity.Rounded(out.Expected.Mains, quantity.Watt),
		)
	}
	if math.IsNaN(f.watts) {
		return out, known
	}
	out.Watts = f.watts
	if known {
		out.Verdict = "within"
		word := "as it should be"
		switch ratio := f.watts / out.Expected.Mains; {
		case ratio > 1+idleShare:
			out.Verdict, word = "high", "too much: an idle current, a rail's load, or a transformer with shorted turns"
		case ratio < 1-idleShare:
			out.Verdict, word = "low", "too little: part of it does not run"
		}
		out.Says = fmt.Sprintf("It takes %s; %s is expected: %s.", quantity.Rounded(f.watts, quantity.Watt),
			quantity.Rounded(out.Expected.Mains, quantity.Watt), word)
	}
	if math.IsNaN(f.inside) || math.IsNaN(f.room) {
		out.Doubt = "With the temperature inside, and that of the room, the cabinet is judged too."
		return out, true
	}
	c, err := CabinetOf(f.watts, f.inside, f.room, f.warmest, f.allowed)
	if err != nil {
		out.Doubt = mend.Sentence(err.Error())
		return out, true
	}
	out.Cabinet = &c
	return out, true
}
