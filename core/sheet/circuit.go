package sheet

import (
	"fmt"
	"math"
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
)

// PlanCircuit is the circuit of a stage or of a rail's supply, ready to be solved. Net is
// nil where it has problems.
type PlanCircuit struct {
	*Circuit
	Net *circuit.Net
}

// Limits against hostile sheets.
const maxCircuits, maxCircuitParts = 200, 2000

// circuits reads the stages' circuits. What is wrong with one keeps nobody from tracing: it
// is doubtful, and the circuit is left out.
func (w *planner) circuits() {
	p := w.plan
	parts := 0
	for i := range p.Sheet.Circuits {
		parts += len(p.Sheet.Circuits[i].Parts)
	}
	if len(p.Sheet.Circuits) > maxCircuits || parts > maxCircuitParts {
		w.add(
			Blocking,
			"the sheet",
			"circuits",
			"more than %d circuits, or %d parts in them: split the set into several sheets",
			maxCircuits,
			maxCircuitParts,
		)
		return
	}
	for i := range p.Sheet.Circuits {
		c := &p.Sheet.Circuits[i]
		path := fmt.Sprintf("circuits/%d", i)
		where := "circuit of " + c.Stage
		stage := slices.ContainsFunc(p.Sheet.Stages, func(s Stage) bool { return s.Name == c.Stage })
		_, rail := p.RailIndex(c.Stage)
		_, modification := p.Modification(c.Stage)
		if !stage && !rail && !modification {
			w.add(Doubtful, where, path+"/stage", "%q is no stage, no rail and no modification of this sheet", c.Stage)
		}
		if slices.ContainsFunc(p.Sheet.Circuits[:i], func(x Circuit) bool { return x.Stage == c.Stage }) {
			w.add(Doubtful, where, path+"/stage", "%s has a second circuit; the first is used", c.Stage)
			continue
		}
		out := PlanCircuit{Circuit: c}
		net, problems := (&circuit.Circuit{Name: c.Stage, Parts: c.Parts}).Read()
		for _, x := range problems {
			at := path + "/stage"
			if k := slices.IndexFunc(c.Parts, func(part circuit.Part) bool { return part.Name == x.Where }); k >= 0 {
				at = fmt.Sprintf("%s/parts/%d/value", path, k)
			}
			w.add(Doubtful, where, at, "%s: %s", x.Where, x.Message)
		}
		if len(problems) == 0 {
			out.Net = net
			w.crystals(c)
			if !modification { // what is changed need not stand as the sheet has it
				w.stands(&out, path, where)
				w.amplifies(&out)
			}
		}
		if modification {
			p.Added = append(p.Added, out)
		} else {
			p.Circuits = append(p.Circuits, out)
		}
	}
}

// crystals lets a frequency of which the sheet gives no tolerance be a crystal's, where the
// circuit has one.
func (w *planner) crystals(c *Circuit) {
	if !slices.ContainsFunc(c.Parts, func(x circuit.Part) bool { return x.Kind == circuit.Crystal }) {
		return
	}
	for i := range w.plan.Points {
		p := &w.plan.Points[i]
		if !slices.ContainsFunc(c.Parts, func(x circuit.Part) bool { return slices.Contains(x.Nodes, p.Name) }) {
			continue
		}
		for k := range p.Expected {
			if e := &p.Expected[k]; e.Quantity == Frequency && e.Untold {
				e.Tolerance = resonators["crystal"]
			}
		}
	}
}

// NodeIn is the node of a circuit that a name of the sheet is: a point by either label, a rail by its name or where it is measured.
func (p *Plan) NodeIn(c *PlanCircuit, name string) (node string, ok bool) {
	names := []string{name}
	if i, ok := p.PointIndex(name); ok {
		names = append(names, p.Points[i].Name, p.Points[i].Drawing)
	}
	if i, ok := p.RailIndex(name); ok {
		names = append(names, p.Rails[i].Point)
	}
	for _, x := range names {
		if x != "" && slices.Contains(c.Net.Nodes, x) {
			return x, true
		}
	}
	return "", false
}

// computedShare is the least tolerance of what a circuit computes: devices differ from their
// equations by so much.
const computedShare = 0.05

// stands compares what a circuit has at rest with what the sheet states, and lends it to
// points of which the sheet states no DC.
func (w *planner) stands(c *PlanCircuit, path, where string) {
	if c.Net.Alternates() {
		return // what the sheet states of a supply is under its load
	}
	standing, _, ok := c.Net.Standing()
	if !ok {
		w.add(Doubtful, where, path+"/stage", "%v", circuit.ErrUnsettled)
		return
	}
	for _, node := range c.Net.Nodes {
		i, ok := w.plan.PointIndex(node)
		if !ok {
			continue
		}
		p, s := &w.plan.Points[i], standing[node]
		within := max(s.Within, computedShare*math.Abs(s.Volts))
		p.PeakVolts = max(p.PeakVolts, math.Abs(s.Volts)+within)
		k := slices.IndexFunc(p.Expected, func(e Expected) bool { return e.Quantity == DC })
		if k < 0 {
			p.Expected = append(
				p.Expected,
				Expected{
					Quantity:  DC,
					Value:     quantity.Value{SI: s.Volts, Unit: quantity.Volt},
					Tolerance: quantity.Tolerance{Low: within, High: within, Unit: quantity.Volt},
					Source:    FromCircuit,
				},
			)
			continue
		}
		stated := &p.Expected[k]
		low, high := stated.Tolerance.Bounds(stated.Value.SI)
		if s.Volts+within < low || s.Volts-within > high {
			w.add(
				Doubtful,
				where,
				path+"/stage",
				"it has %s at %s, where the sheet states %s: a part's value or the sheet is wrong. The view of the circuit says which "+
					"parts would explain it",
				quantity.Rounded(s.Volts, quantity.Volt),
				p.Name,
				quantity.Rounded(stated.Value.SI, quantity.Volt),
			)
		}
	}
}

// amplifies lends a stage of which the sheet states no gain that of its circuit, at the
// frequency that the sheet has up to there.
func (w *planner) amplifies(c *PlanCircuit) {
	p := w.plan
	i := slices.IndexFunc(p.Stages, func(s PlanStage) bool { return s.Name == c.Stage })
	if i < 0 || p.Stages[i].GainKnown || p.Stages[i].From < 0 || p.Stages[i].To < 0 || c.Net.Alternates() {
		return
	}
	hz := w.frequencyAt(p.Stages[i].From, map[int]bool{})
	rest, err := c.Net.Rest()
	if hz <= 0 || err != nil {
		return
	}
	if band, ok := c.Net.Band(rest, p.Points[p.Stages[i].From].Name, p.Points[p.Stages[i].To].Name, hz); ok {
		p.Stages[i].GainDB, p.Stages[i].GainKnown = quantity.DB(band.Gain, 1), true
	}
}

// frequencyAt is the signal's frequency at a point, or at the nearest before it that states one; 0
// where none does.
func (w *planner) frequencyAt(point int, seen map[int]bool) float64 {
	if seen[point] {
		return 0
	}
	seen[point] = true
	for _, e := range w.plan.Points[point].Expected {
		if e.Quantity == Frequency {
			return e.Value.SI
		}
	}
	for i := range w.plan.Stages {
		if s := &w.plan.Stages[i]; s.To == point && s.From >= 0 {
			if hz := w.frequencyAt(s.From, seen); hz > 0 {
				return hz
			}
		}
	}
	return 0
}

// Circuit finds the circuit of a stage, a rail or a modification that can be solved.
func (p *Plan) Circuit(stage string) (*PlanCircuit, bool) {
	for _, all := range [][]PlanCircuit{p.Circuits, p.Added} {
		if i := slices.IndexFunc(all, func(c PlanCircuit) bool { return c.Stage == stage && c.Net != nil }); i >= 0 {
			return &all[i], true
		}
	}
	return nil, false
}

// InCircuit tells whether a name is a node of a stage's circuit.
func (p *Plan) InCircuit(node string) bool {
	return slices.ContainsFunc(p.Circuits, func(c PlanCircuit) bool { return c.Net != nil && slices.Contains(c.Net.Nodes, node) })
}
