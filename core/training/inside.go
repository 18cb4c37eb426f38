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
	net, _, _ := b.Set.Circuit(stage)
	if net == nil {
		return "", mend.Errorf("the manual has no circuit of %s", stage)
	}
	text, ok := net.Shows("", r)
	if !ok {
		return "", mend.Errorf("the set that is practised on does not show that. Read volts, ohms or a gain")
	}
	return strings.ReplaceAll(text, "−", "-"), nil
}

// What good parts are taken for, and what their failures make of them.
const (
	driftedTimes = 2.0
	silicon      = 0.62  // V
	emitterMore  = 0.015 // V more than the collector's junction
	shortedV     = 0.003 // V
	shortedOhms  = "0.2"
	usualGain    = 180
)

// Part is what meters show of a part of a stage, out of its circuit: the fields of its kind of check (core/part), as they are typed.
// Errors can be mended by a person: of chips, relays and controls the bench has nothing but their places in the circuit.
func (b *Bench) Part(stage, name, kind string) (map[string]string, error) {
	net, failed, what := b.Set.Circuit(stage)
	if net == nil {
		return nil, mend.Errorf("the manual has no circuit of %s", stage)
	}
	f, ok := net.Figures(name)
	if !ok {
		return nil, mend.Errorf("%s has no part called %s", stage, name)
	}
	if failed != name {
		what = ""
	}
	for _, c := range b.Plan.Circuits { // what is marked on it is what it was, whatever it is now
		if i := slices.IndexFunc(c.Parts, func(p circuit.Part) bool { return p.Name == name }); c.Stage == stage && i >= 0 {
			if c.Net != nil {
				f, _ = c.Net.Figures(name)
			}
		}
	}
	switch what { // what is marked on another that was fitted is what it is
	case standin.TenTimes:
		f.Value *= 10
	case standin.ATenth:
		f.Value /= 10
	}
	if made, ok := shownBy[kind]; ok && circuit.CheckOf(f.Kind) == kind {
		out := made(&f, what)
		out["where"] = "out of circuit"
		if kind == "continuity" || kind == "winding" {
			delete(out, "where")
		}
		return out, nil
	}
	return nil, mend.Errorf("%s cannot be measured by itself in practice: judge it by what stands at its legs", name)
}

// shownBy makes what meters show, by the kind of check.
var shownBy = map[string]func(f *circuit.Figures, what string) map[string]string{
	"resistor": resistorShows, "capacitor": capacitorShows, "diode": diodeShows, "transistor": transistorShows, "continuity": jointShows,
}

func ohms(x float64) string { return quantity.Value{SI: x, Unit: quantity.Ohm}.Short(3) }

func resistorShows(f *circuit.Figures, what string) map[string]string {
	is := f.Value
	out := map[string]string{"value": ohms(f.Value)}
	switch what {
	case "open":
		out["measured"] = "open"
		return out
	case "shorted":
		is = 0.2
	case "drifted high":
		is *= driftedTimes
	case "drifted low":
		is /= driftedTimes
	default:
		is *= 1.01
	}
	out["measured"] = ohms(is)
	return out
}

func capacitorShows(f *circuit.Figures, what string) map[string]string {
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
	switch what {
	case "open", "low in capacitance":
		out["measured"] = farads(f.Value / 20)
	case "shorted":
		out["measured"], out["ohms"] = farads(f.Value*20), shortedOhms
	case "leaky":
		out["ohms"] = "1k2"
	case "of high ESR":
		out["esr"] = ohms(60 * math.Max(esr, 1))
	case "of too much capacitance":
		out["measured"] = farads(3 * f.Value)
	}
	return out
}

func diodeShows(_ *circuit.Figures, what string) map[string]string {
	out := map[string]string{"kind": "silicon", "forward": fmt.Sprintf("%.3f V", silicon), "back": "open"}
	switch what {
	case "open":
		out["forward"] = "open"
	case "shorted":
		out["forward"], out["back"] = fmt.Sprintf("%.3f V", shortedV), fmt.Sprintf("%.3f V", shortedV)
	case "leaky":
		out["back"] = "1.2 V"
	}
	return out
}

// transistorShows has its legs in the order collector, base, emitter.
func transistorShows(f *circuit.Figures, what string) map[string]string {
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
		out[x+"-"+y], out[y+"-"+x] = fmt.Sprintf("%.3f V", shortedV), fmt.Sprintf("%.3f V", shortedV)
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
	switch what {
	case "open at its base":
		cut(b)
	case "open at its collector":
		cut(c)
	case "open at its emitter":
		cut(e)
	case "shorted from base to emitter":
		short(b, e)
		delete(out, "gain")
	case "shorted from collector to base":
		short(c, b)
		delete(out, "gain")
	case "shorted from collector to emitter":
		short(c, e)
		delete(out, "gain")
	case "of little gain":
		out["gain"], out["least"] = "9", "80"
	case "leaky from collector to base", "leaky from collector to emitter":
		out["leakage"] = "900 µA"
	}
	return out
}

func jointShows(_ *circuit.Figures, what string) map[string]string {
	switch what {
	case "open":
		return map[string]string{"ohms": "open"}
	case "resistive":
		return map[string]string{"ohms": "47"}
	}
	return map[string]string{"ohms": "0.03"}
}
