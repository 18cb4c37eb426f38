package training

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/standin"
)

// Inside a stage the bench answers as its circuit does with what is wrong with it; a part by itself as such a part does with its failure.

// Inside is what is read in a stage's circuit, as it is typed. Errors can be mended by a person.
func (b *Bench) Inside(stage string, r circuit.NodeReading) (string, error) {
	net, _ := b.Set.Circuit(stage, b.Stand)
	if net == nil {
		return "", mend.Errorf("the manual has no circuit of %s", stage)
	}
	text, ok := net.Shows("", r)
	if !ok {
		return "", mend.Errorf("the set that is practised on does not show that. Read volts, ohms or a gain")
	}
	return strings.ReplaceAll(text, "−", "-"), nil
}

// What good parts are taken for, and what their failures make of them where these are of no certain severity.
const (
	driftedTimes = 2.0
	silicon      = 0.62  // V
	emitterMore  = 0.015 // V more than the collector's junction
	shortedV     = 0.003 // V
	shortedOhms  = 0.2
	leakyOhms    = 1200.0
	leastTested  = 2.0  // V, that a diode test shows
	testedBy     = 1e-3 // A, that it sends
	workingVolts = 10.0 // at which leakage is read
	usualGain    = 180.0
	leastGood    = 80 // of a gain by its data
	roomDegrees  = 22.0
	usualB       = 3500.0 // K, of an NTC
	coilVolts    = 1.35   // that a coil is for, of those that it pulls at
)

// or is how grave a failure is, or as usual.
func or(failed *circuit.Fault, usual float64) float64 {
	if x := failed.Severity(); x > 0 {
		return x
	}
	return usual
}

// Part is what meters show of a part of a stage, out of its circuit: the fields of its kind of check (core/part), as they are typed.
// Errors can be mended by a person: of chips, relays and controls the bench has nothing but their places in the circuit.
func (b *Bench) Part(stage, name, kind string) (map[string]string, error) {
	net, all := b.Set.Circuit(stage, b.Stand)
	if net == nil {
		return nil, mend.Errorf("the manual has no circuit of %s", stage)
	}
	f, ok := net.Figures(name)
	if !ok {
		return nil, mend.Errorf("%s has no part called %s", stage, name)
	}
	var failed circuit.Fault
	if i := slices.IndexFunc(all, func(x circuit.Fault) bool { return x.Part == name }); i >= 0 {
		failed = all[i]
	}
	for _, c := range b.Plan.Circuits { // what is marked on it is what it was, whatever it is now
		if i := slices.IndexFunc(c.Parts, func(p circuit.Part) bool { return p.Name == name }); c.Stage == stage && i >= 0 {
			if c.Net != nil {
				f, _ = c.Net.Figures(name)
			}
			if v, err := quantity.Parse(c.Parts[i].Value, quantity.Ohm); err == nil && c.Parts[i].Kind == circuit.Pot {
				f.Value = v.SI
			}
		}
	}
	switch failed.What { // what is marked on another that was fitted is what it is
	case standin.TenTimes:
		f.Value *= 10
	case standin.ATenth:
		f.Value /= 10
	}
	if made, ok := shownBy[kind]; ok && circuit.CheckOf(f.Kind) == kind {
		out := made(&f, &failed)
		if slices.Contains(placed, kind) {
			out["where"] = "out of circuit"
		}
		return out, nil
	}
	return nil, mend.Errorf("%s cannot be measured by itself in practice: judge it by what stands at its legs", name)
}

// placed are the kinds of check that ask where a part is.
var placed = []string{"resistor", "capacitor", "diode", "transistor", "fet"}

// shownBy makes what meters show, by the kind of check.
var shownBy = map[string]func(f *circuit.Figures, failed *circuit.Fault) map[string]string{
	"resistor": resistorShows, "capacitor": capacitorShows, "diode": diodeShows, "transistor": transistorShows,
	"continuity": jointShows, "relay": relayShows, "sweep": controlShows, "winding": windingShows, "thermistor": thermistorShows,
	"crystal": crystalShows, "fet": fetShows,
}

func ohms(x float64) string {
	const open = 40e6 // beyond what meters show
	if x > open {
		return "open"
	}
	return quantity.Value{SI: x, Unit: quantity.Ohm}.Short(3)
}

func resistorShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	is := 1.01 * f.Value
	switch failed.What {
	case "open":
		is = math.Inf(1)
	case "shorted":
		is = or(failed, shortedOhms)
	case "drifted high":
		is *= or(failed, driftedTimes)
	case "drifted low":
		is *= or(failed, 1/driftedTimes)
	}
	return map[string]string{"value": ohms(f.Value), "measured": ohms(is)}
}

func capacitorShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	farads := func(x float64) string { return quantity.Value{SI: x, Unit: quantity.Farad}.Short(3) }
	const wet = 0.9e-6 // F: smaller ones are films
	kind, esr := "film", 0.05
	if f.Value > wet {
		kind, esr = "aluminium", 12e-6/f.Value
		esr = math.Min(math.Max(esr, 0.08), 4)
	}
	out := map[string]string{"kind": kind, "value": farads(f.Value), "measured": farads(0.97 * f.Value)}
	if kind == "aluminium" {
		out["volts"] = "25 V"
		out["esr"] = ohms(esr)
	}
	switch failed.What {
	case "open":
		out["measured"] = farads(f.Value / 20)
	case "low in capacitance":
		out["measured"] = farads(f.Value * or(failed, 1/driftedTimes))
	case "shorted":
		out["measured"], out["ohms"] = farads(f.Value*20), ohms(or(failed, shortedOhms))
	case "leaky":
		out["ohms"] = ohms(or(failed, leakyOhms))
		out["leakage"], out["at"] = leakage(or(failed, leakyOhms)), fmt.Sprintf("%g V", workingVolts)
	case "of high ESR":
		out["esr"] = ohms(esr + or(failed, 30))
	case "of too much capacitance":
		out["measured"] = farads(f.Value * or(failed, driftedTimes))
	}
	return out
}

// tested is what a diode test shows across so many ohms.
func tested(ohms float64) string {
	if v := testedBy * ohms; v < leastTested {
		return fmt.Sprintf("%.3f V", v)
	}
	return "open"
}

// leakage is what flows through so many ohms at working volts.
func leakage(ohms float64) string {
	return quantity.Value{SI: workingVolts / ohms, Unit: quantity.Ampere}.Short(2)
}

func diodeShows(_ *circuit.Figures, failed *circuit.Fault) map[string]string {
	out := map[string]string{"kind": "silicon", "forward": fmt.Sprintf("%.3f V", silicon), "back": "open"}
	switch failed.What {
	case "open":
		out["forward"] = "open"
	case "shorted":
		across := fmt.Sprintf("%.3f V", min(testedBy*or(failed, shortedOhms), silicon))
		out["forward"], out["back"] = across, across
	case "leaky":
		out["back"], out["leakage"] = tested(or(failed, leakyOhms)), leakage(or(failed, leakyOhms))
	}
	return out
}

// transistorShows has its legs in the order collector, base, emitter.
func transistorShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	const c, b, e = "1", "2", "3"
	out := map[string]string{"gain": fmt.Sprint(usualGain)}
	for _, pair := range []string{"1-2", "2-1", "1-3", "3-1", "2-3", "3-2"} {
		out[pair] = "open"
	}
	junction := func(leg string, volts float64) {
		pair := b + "-" + leg
		if f.Kind == circuit.PNP {
			pair = leg + "-" + b
		}
		out[pair] = fmt.Sprintf("%.3f V", volts)
	}
	short := func(x, y string) {
		across := fmt.Sprintf("%.3f V", testedBy*or(failed, shortedOhms))
		out[x+"-"+y], out[y+"-"+x] = across, across
		delete(out, "gain")
	}
	junction(c, silicon)
	junction(e, silicon+emitterMore)
	cut := func(leg string) {
		for pair := range out {
			if pair != "gain" && strings.Contains(pair, leg) {
				out[pair] = "open"
			}
		}
		delete(out, "gain")
	}
	switch failed.What {
	case "open at its base":
		cut(b)
	case "open at its collector":
		cut(c)
	case "open at its emitter":
		cut(e)
	case "shorted from base to emitter":
		short(b, e)
	case "shorted from collector to base":
		short(c, b)
	case "shorted from collector to emitter":
		short(c, e)
	case "of little gain":
		out["gain"], out["least"] = fmt.Sprintf("%.2g", usualGain*or(failed, 0.05)), fmt.Sprint(leastGood)
	case "leaky from collector to base", "leaky from collector to emitter":
		out["leakage"] = leakage(or(failed, 10e3))
	}
	return out
}

func jointShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	switch failed.What {
	case "open":
		return map[string]string{"ohms": "open"}
	case "resistive":
		return map[string]string{"ohms": ohms(or(failed, 47))}
	}
	return map[string]string{"ohms": "0.03"}
}

// relayShows is its coil out of the set, and its contact with the coil on a bench supply.
func relayShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	out := map[string]string{
		"coil": "dc", "rated": ohms(f.Value), "ohms": ohms(f.Value), "volts": fmt.Sprintf("%.3g V", coilVolts*f.Pulls), "clicks": "yes",
		"made": "0.04", "open": "open",
	}
	switch failed.What {
	case "open in its coil":
		out["ohms"], out["clicks"], out["made"] = "open", "no", "open"
	case "shorted in its coil's turns":
		out["ohms"] = ohms(f.Value * or(failed, 0.4))
	case "open in its contact":
		out["made"] = "open"
	case "resistive in its contact":
		out["made"] = ohms(or(failed, 47))
	case "welded or stuck in its contact", "welded or stuck on its worked side":
		out["open"] = "0.04"
	case "stuck on its side at rest":
		out["made"] = "open"
	}
	return out
}

// controlShows is its wiper against one end, in five steps.
func controlShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	const steps = 4
	readings := make([]string, 0, steps+1)
	for i := range steps + 1 {
		is := fmt.Sprintf("%.4g", f.Value*float64(i)/steps+0.4)
		if failed.What == "open at its wiper" || failed.What == "open at one end" {
			is = "open"
		}
		readings = append(readings, is)
	}
	out := map[string]string{"kind": "control", "value": ohms(f.Value), "readings": strings.Join(readings, " "), "turned": "smooth"}
	if failed.What == "open at the other end" { // read against that one
		for i := range readings {
			readings[i] = "open"
		}
		out["readings"] = strings.Join(readings, " ")
	}
	return out
}

// windingShows is a winding by its ohms and by how it rings.
func windingShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	const good, short = 12, 2 // swings down to a tenth
	out := map[string]string{"ohms": "2.4", "should": "2.4", "rings": fmt.Sprint(good)}
	switch failed.What {
	case "open", "open in its first winding", "open in its second winding":
		out["ohms"] = "open"
		delete(out, "rings")
	case "shorted in its turns":
		out["rings"] = fmt.Sprint(short)
	}
	return out
}

// thermistorShows is one at the room's temperature, of its ohms at 25 °C.
func thermistorShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	is := f.Value * math.Exp(usualB*(1/(roomDegrees+273.15)-1/298.15))
	switch failed.What {
	case "open":
		is = math.Inf(1)
	case "drifted high":
		is *= or(failed, driftedTimes)
	case "drifted low":
		is *= or(failed, 1/driftedTimes)
	}
	return map[string]string{"kind": "ntc", "r25": ohms(f.Value), "temperature": fmt.Sprint(roomDegrees), "ohms": ohms(is)}
}

func crystalShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	hz := quantity.Frequency(f.Value)
	out := map[string]string{"nominal": hz, "hz": hz, "ohms": "open"}
	if failed.What == "dead" {
		out["hz"] = "0 Hz"
	}
	return out
}

// fetShows is a junction FET of the n or p channel.
func fetShows(f *circuit.Figures, failed *circuit.Fault) map[string]string {
	junction, channel := fmt.Sprintf("%.3f V", silicon), "0.150 V"
	out := map[string]string{
		"kind": "n junction",
		"gs":   junction,
		"gd":   junction,
		"sg":   "open",
		"dg":   "open",
		"ds":   channel,
		"sd":   channel,
	}
	if strings.HasPrefix(string(f.Kind), "p") {
		out["kind"], out["gs"], out["gd"], out["sg"], out["dg"] = "p junction", "open", "open", junction, junction
	}
	cut := func(pairs ...string) {
		for _, pair := range pairs {
			out[pair] = "open"
		}
	}
	across := fmt.Sprintf("%.3f V", testedBy*or(failed, shortedOhms))
	switch failed.What {
	case "shorted from drain to source":
		out["ds"], out["sd"] = across, across
	case "shorted from gate to source":
		out["gs"], out["sg"] = across, across
	case "leaky at its gate":
		out["sg"] = tested(or(failed, leakyOhms))
	case "open at its drain":
		cut("gd", "dg", "ds", "sd")
	case "open at its source":
		cut("gs", "sg", "ds", "sd")
	case "open at its gate":
		cut("gs", "sg", "gd", "dg")
	}
	return out
}
