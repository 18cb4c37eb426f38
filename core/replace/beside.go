package replace

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/device"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Beside is a part that is looked at because another failed, and why.
type Beside struct {
	Part string `json:"part"`
	Why  string `json:"why"`
}

const (
	// overheated is from how many times its heat when all is well a part is looked at, and from how much of it.
	overheated  = 4.0
	overheatedW = 0.1
	mostBeside  = 8
	overRating  = 1.0
)

// beside lists what else to look at: parts that the fault drives beyond what they bear, or far beyond what they had, by the
// circuit computed with that fault in it; then the transistors and what stands in the leads of the one that failed.
func beside(pc *sheet.PlanCircuit, good *circuit.Rest, part, what string) []Beside {
	out := hurt(pc, good, part, what)
	for _, b := range neighbours(pc, part) {
		if !slices.ContainsFunc(out, func(x Beside) bool { return x.Part == b.Part }) {
			out = append(out, b)
		}
	}
	return out[:min(len(out), mostBeside)]
}

// hurt lists the parts that a fault overloads.
func hurt(pc *sheet.PlanCircuit, good *circuit.Rest, part, what string) []Beside {
	out := []Beside{}
	faults := pc.Net.Faults()
	i := slices.IndexFunc(faults, func(f circuit.Fault) bool { return f.Part == part && strings.HasPrefix(what, f.What) })
	if i < 0 || good == nil {
		return out
	}
	broken, err := pc.Net.With(faults[i].Hard()).Rest()
	if err != nil {
		return out
	}
	for k := range broken.Parts {
		now := &broken.Parts[k]
		at := slices.IndexFunc(good.Parts, func(p circuit.PartRest) bool { return p.Name == now.Name })
		if now.Name == part || at < 0 || !there(pc, now.Name) {
			continue
		}
		was := good.Parts[at].Watts
		switch {
		case now.Rated > 0 && now.Watts > overRating*now.Rated:
			out = append(out, Beside{now.Name, fmt.Sprintf("it bears %s and gets %s from this fault",
				quantity.Rounded(now.Rated, quantity.Watt), quantity.Rounded(now.Watts, quantity.Watt))})
		case now.Watts > overheatedW && now.Watts > overheated*max(was, 1e-3):
			out = append(out, Beside{now.Name, fmt.Sprintf("%s in it from this fault, %s when all is well",
				quantity.Rounded(now.Watts, quantity.Watt), quantity.Rounded(was, quantity.Watt))})
		}
	}
	return out
}

func there(pc *sheet.PlanCircuit, name string) bool {
	parts := pc.Circuit.Parts
	i := slices.IndexFunc(parts, func(p circuit.Part) bool { return p.Name == name })
	return i >= 0 && parts[i].There()
}

// neighbours lists the transistors, diodes and small resistors that share a lead with a semiconductor: a shorted one takes
// them along. Supplies and ground join everything, and count for nothing.
func neighbours(pc *sheet.PlanCircuit, part string) []Beside {
	parts := pc.Circuit.Parts
	i := slices.IndexFunc(parts, func(p circuit.Part) bool { return p.Name == part })
	if i < 0 || circuit.BiasAt(parts[i].Kind) == "" {
		return nil
	}
	common := map[string]bool{}
	for k := range parts {
		if !parts[k].There() {
			for _, n := range parts[k].Nodes {
				common[n] = true
			}
		}
	}
	shares := func(p *circuit.Part) bool {
		return slices.ContainsFunc(p.Nodes, func(n string) bool {
			return slices.Contains(parts[i].Nodes, n) && !common[n] && !circuit.IsGround(n)
		})
	}
	const small = 100.0 // ohms: a resistor in the lead of a transistor, which opens with it
	var out []Beside
	for k := range parts {
		p := &parts[k]
		if k == i || !p.There() || !shares(p) {
			continue
		}
		switch ohms, err := quantity.ParseAs(p.Value, quantity.Ohm); {
		case circuit.BiasAt(p.Kind) != "":
			out = append(out, Beside{p.Name, fmt.Sprintf("it works into %s: a shorted one takes it along", part)})
		case p.Kind == circuit.Diode || p.Kind == circuit.Zener:
			out = append(out, Beside{p.Name, "a diode on the same lead"})
		case p.Kind == circuit.Resistor && err == nil && ohms.SI <= small:
			out = append(out, Beside{p.Name, "in its lead: it opens, or drifts, when it carries a short"})
		}
	}
	return out
}

// byRule is what is looked at where there is no circuit to compute.
func byRule(before *thing, what string) []Beside {
	d := before.device
	switch {
	case before.sort == Fuse:
		return []Beside{{"what it feeds", "a fuse opens for a reason: ohms from its far end to ground first"}}
	case d == nil || !strings.Contains(what, "short"):
		return []Beside{}
	case d.Kind == device.Transistor || d.Kind == device.MOSFET:
		return []Beside{
			{"its partner", "in pairs and in parallel one takes the other along"},
			{"its driver", "it carried the fault"},
			{"the resistors in its leads", "they open, or drift"},
			{"its insulating washer", "a hole in it is a short"},
		}
	case d.Kind == device.Rectifier || d.Kind == device.Bridge:
		return []Beside{
			{"the reservoir behind it", "it had alternating volts across it"},
			{"the fuse before it", "of the right value, not bridged"},
		}
	}
	return []Beside{}
}

// drawn says what a stage takes from its supplies at rest, for the first power: "42 mA from +".
func drawn(pc *sheet.PlanCircuit, rest *circuit.Rest) string {
	if rest == nil {
		return ""
	}
	var out []string
	for i := range pc.Circuit.Parts {
		p := &pc.Circuit.Parts[i]
		k := slices.IndexFunc(rest.Parts, func(r circuit.PartRest) bool { return r.Name == p.Name })
		if p.Kind != circuit.Voltage || k < 0 || math.Abs(rest.Parts[k].Amps) < 1e-5 {
			continue
		}
		out = append(out, fmt.Sprintf("this stage takes %s from %s when all is well",
			quantity.Rounded(math.Abs(rest.Parts[k].Amps), quantity.Ampere), p.Nodes[0]))
	}
	return strings.Join(out, "; ")
}

// lampOf says what the whole set takes by its rails when all is well, and of how many watts a lamp in series is fit for it; empty
// where the sheet gives no loads. Of what goes in, a quarter is lost on the way (the trade's figure for transformer and regulators).
func lampOf(p *sheet.Plan) string {
	watts := 0.0
	for i := range p.Rails {
		if r := &p.Rails[i]; r.Parent < 0 && r.Signal < 0 {
			watts += math.Abs(r.Volts) * r.LoadA
		}
	}
	if watts == 0 {
		return ""
	}
	const arrives = 0.75
	takes := watts / arrives
	lamps := []float64{25, 40, 60, 100, 150, 200}
	i := slices.IndexFunc(lamps, func(w float64) bool { return w >= 1.5*takes })
	if i < 0 {
		i = len(lamps) - 1
	}
	return fmt.Sprintf("by its rails the set takes some %s when all is well: a lamp of %g W glows, and does not shine",
		quantity.Rounded(takes, quantity.Watt), lamps[i])
}

// spanOf is what a part of a stage may have across it: all that its supplies hold between them.
func spanOf(rest *circuit.Rest) float64 {
	low, high := 0.0, 0.0
	for _, v := range rest.Volts {
		low, high = min(low, v), max(high, v)
	}
	return high - low
}
