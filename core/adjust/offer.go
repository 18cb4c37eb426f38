package adjust

import (
	"fmt"
	"math"
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Offered are adjustments that the sheet does not have and its circuits do: one for each trimmer that none of the sheet's
// turns, with what it is read at best and what the circuit has there. Their values are computed, so that their tolerance
// says so.
func Offered(plan *sheet.Plan) []sheet.Adjustment {
	out := []sheet.Adjustment{}
	for i := range plan.Circuits {
		c := &plan.Circuits[i]
		if c.Net == nil {
			continue
		}
		for k := range c.Parts {
			p := &c.Parts[k]
			turned := slices.ContainsFunc(plan.Adjustments, func(a sheet.PlanAdjustment) bool { return a.Turn == p.Name })
			if p.Kind != circuit.Pot || p.In == circuit.Outside || turned {
				continue
			}
			if a, ok := offer(c, p.Name); ok {
				out = append(out, a)
			}
		}
	}
	return out
}

// offer is the adjustment of a trimmer: idle current, where a resistor of few ohms at an emitter follows it; else the
// voltage of the node that it moves most.
func offer(c *sheet.PlanCircuit, part string) (sheet.Adjustment, bool) {
	const step = 0.05
	place, _ := c.Net.Stands(part)
	here, there := restAt(c.Net, part, place), restAt(c.Net, part, place+step)
	if place > 0.5 {
		there = restAt(c.Net, part, place-step)
	}
	if here == nil || there == nil {
		return sheet.Adjustment{}, false
	}
	a := sheet.Adjustment{Kind: "other", Turn: part, Stage: c.Stage, Tolerance: string(sheet.FromCircuit)}
	moved := func(x, y float64) float64 { return math.Abs(x-y) / max(math.Abs(x), 1e-3) }
	for k := range c.Parts {
		p := &c.Parts[k]
		const fewOhms, follows = 10, 0.02
		v, err := quantity.ParseAs(p.Value, quantity.Ohm)
		if p.Kind != circuit.Resistor || p.In == circuit.Outside || err != nil || v.SI > fewOhms || !atEmitter(c, p) {
			continue
		}
		x, _ := here.Between(p.Nodes[0], p.Nodes[1])
		y, _ := there.Between(p.Nodes[0], p.Nodes[1])
		if moved(x, y) > follows && math.Abs(x) > 1e-4 {
			a.Name, a.Kind, a.Measure, a.Target = "idle current, "+c.Stage, "bias", "across "+p.Name,
				quantity.Value{SI: math.Abs(x), Unit: quantity.Volt}.Short(3)
			a.Conditions = []string{"no signal", "no load"}
			a.Warm = "15"
			return a, true
		}
	}
	best, most := "", 0.0
	for node, x := range here.Volts {
		if d := math.Abs(x - there.Volts[node]); d > most || d == most && node < best {
			best, most = node, d
		}
	}
	if most < 1e-3 {
		return sheet.Adjustment{}, false
	}
	a.Name, a.Measure = fmt.Sprintf("%s, %s", part, c.Stage), best
	a.Target = quantity.Value{SI: here.Volts[best], Unit: quantity.Volt}.Short(3)
	return a, true
}

func restAt(net *circuit.Net, part string, place float64) *circuit.Rest {
	t := turning{net: net, a: &sheet.PlanAdjustment{Adjustment: &sheet.Adjustment{Turn: part}}}
	rest, ok := t.rest(place)
	if !ok {
		return nil
	}
	return rest
}

// atEmitter tells whether a part hangs at the emitter or source of a transistor of the circuit.
func atEmitter(c *sheet.PlanCircuit, p *circuit.Part) bool {
	return slices.ContainsFunc(c.Parts, func(t circuit.Part) bool {
		const legs, emitter = 3, 2
		if len(t.Nodes) != legs || !slices.Contains([]circuit.Kind{circuit.NPN, circuit.PNP, circuit.NMOS, circuit.PMOS}, t.Kind) {
			return false
		}
		return slices.Contains(p.Nodes, t.Nodes[emitter]) && !circuit.IsGround(t.Nodes[emitter])
	})
}
