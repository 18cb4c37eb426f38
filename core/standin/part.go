package standin

import (
	"fmt"
	"math"
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// A fault can be that of one part: what it does to its stage is then computed from the
// stage's circuit.

// inside is what the faults of a circuit's parts do, by the circuit.
type inside struct {
	net    *circuit.Net    // with the faults
	clips  float64         // where the output sticks, in volts each way of its rest; +Inf: nowhere that was not before
	excess map[int]float64 // by line: current that is drawn beyond that of a good one (A)
}

// breakPart finds the part's failure in its stage's circuit.
func (s *Set) breakPart(f *placed) error {
	c, ok := s.plan.Circuit(f.Block)
	if !ok {
		return fmt.Errorf("the sheet has no circuit of %s that its part %s could be in", f.Block, f.Part)
	}
	all := c.Net.Faults()
	i := slices.IndexFunc(all, func(x circuit.Fault) bool { return x.Part == f.Part && x.What == f.What })
	switch {
	case misfits[f.What] > 0:
		if _, ok := misfitted(c.Parts, f.Part, misfits[f.What]); !ok {
			return fmt.Errorf("%s in the circuit of %s is no resistor or capacitor, for which another is fitted", f.Part, f.Block)
		}
		f.failed = circuit.Fault{Part: f.Part, What: f.What}
	case i < 0:
		return fmt.Errorf("%s has no usual fault %q in the circuit of %s", f.Part, f.What, f.Block)
	case f.Size > 0:
		f.failed = all[i].Grade(f.Size)
	default:
		f.failed = all[i]
	}
	f.Effect, f.Size = Weak, 0
	return nil
}

// breakCircuits works out what the parts that have failed do to their circuits, those of one together: the first of them stands for it.
func (s *Set) breakCircuits() error {
	for i := range s.faults {
		f := &s.faults[i]
		if f.Part == "" || slices.ContainsFunc(s.faults[:i], func(x placed) bool { return x.inside != nil && x.Block == f.Block }) {
			continue
		}
		c, _ := s.plan.Circuit(f.Block)
		net, err := s.broken(c)
		if err != nil {
			return err
		}
		f.inside = &inside{net: net, clips: math.Inf(1)}
		good, okGood := c.Net.Rest()
		bad, okBad := net.Rest()
		if okGood != nil || okBad != nil {
			f.Size = deadDB
			continue // it settles nowhere: nothing passes
		}
		f.Size = s.loss(f.stage, c.Net, good, net, bad)
		f.inside.clips = s.headroom(f.stage, c, good, bad)
		f.inside.excess = s.excess(c, good, bad)
	}
	return nil
}

// broken is a circuit with all its parts that have failed.
func (s *Set) broken(c *sheet.PlanCircuit) (*circuit.Net, error) {
	parts, net := c.Parts, c.Net
	var failed []circuit.Fault
	for i := range s.faults {
		f := &s.faults[i]
		switch {
		case f.Part == "" || f.Block != c.Stage:
		case misfits[f.What] > 0:
			parts, _ = misfitted(parts, f.Part, misfits[f.What])
			read, problems := (&circuit.Circuit{Name: c.Stage, Parts: parts}).Read()
			if len(problems) > 0 {
				return nil, fmt.Errorf("with another for %s the circuit of %s cannot be worked out", f.Part, c.Stage)
			}
			net = read
		default:
			failed = append(failed, f.failed)
		}
	}
	return net.With(failed...), nil
}

// What no part comes to by itself: somebody fitted another.
const (
	TenTimes = "ten times its value"
	ATenth   = "a tenth of its value"
)

var misfits = map[string]float64{TenTimes: 10, ATenth: 0.1}

// misfitted are the parts of a circuit with another resistor or capacitor in the place of one, of so many times its value; false where
// it is neither.
func misfitted(parts []circuit.Part, name string, times float64) ([]circuit.Part, bool) {
	parts = slices.Clone(parts)
	i := slices.IndexFunc(parts, func(p circuit.Part) bool { return p.Name == name })
	if i < 0 {
		return nil, false
	}
	unit, ok := map[circuit.Kind]quantity.Unit{circuit.Resistor: quantity.Ohm, circuit.Capacitor: quantity.Farad}[parts[i].Kind]
	if !ok {
		return nil, false
	}
	v, err := quantity.Parse(parts[i].Value, unit)
	if err != nil {
		return nil, false
	}
	v.SI *= times
	parts[i].Value = v.String()
	return parts, true
}

// loss is by how many dB the broken stage passes less than a good one, at the signal's
// frequency; below zero where it passes more.
func (s *Set) loss(stage int, good *circuit.Net, rest *circuit.Rest, broken *circuit.Net, brokenRest *circuit.Rest) float64 {
	if stage < 0 {
		return 0
	}
	st := &s.plan.Stages[stage]
	if st.From < 0 || st.To < 0 {
		return 0
	}
	hz := 1000.0
	for i := range s.plan.Routes {
		route := &s.plan.Routes[i]
		if at := slices.Index(route.Stages, stage); at >= 0 && route.Levels[at].Hz > 0 {
			hz = route.Levels[at].Hz
			break
		}
	}
	gain := func(n *circuit.Net, rest *circuit.Rest) float64 {
		band, _ := n.Band(rest, s.plan.Points[st.From].Name, s.plan.Points[st.To].Name, hz)
		return math.Max(band.Gain, 1e-9)
	}
	return math.Min(20*math.Log10(gain(good, rest)/gain(broken, brokenRest)), deadDB)
}

// saturated is what a transistor needs at least between its ends to amplify, in volts.
const saturated = 0.3

// headroom is how far the output of a broken stage can swing before the nearer end, where that is nearer than it was; +Inf
// where it is not. The ends are those of the supply, as the circuit has it.
func (s *Set) headroom(stage int, c *sheet.PlanCircuit, good, bad *circuit.Rest) float64 {
	if stage < 0 || s.plan.Stages[stage].To < 0 {
		return math.Inf(1)
	}
	node, ok := s.plan.NodeIn(c, s.plan.Points[s.plan.Stages[stage].To].Name)
	if !ok {
		return math.Inf(1)
	}
	low, high := 0.0, 0.0
	for _, v := range good.Volts {
		low, high = math.Min(low, v), math.Max(high, v)
	}
	room := func(r *circuit.Rest) float64 {
		return math.Max(math.Min(high-r.Volts[node], r.Volts[node]-low)-saturated, 0)
	}
	if now := room(bad); now < 0.8*room(good) && math.Abs(good.Volts[node]-bad.Volts[node]) > saturated {
		return now
	}
	return math.Inf(1)
}

// excess is what is drawn from each line beyond what a good circuit draws, by the currents of the sources that stand for them.
func (s *Set) excess(c *sheet.PlanCircuit, good, bad *circuit.Rest) map[int]float64 {
	out := map[int]float64{}
	for _, p := range c.Parts {
		if p.Kind != circuit.Voltage || len(p.Nodes) == 0 {
			continue
		}
		line := slices.IndexFunc(s.plan.Rails, func(r sheet.PlanRail) bool {
			return slices.ContainsFunc(p.Nodes, func(node string) bool { return node == r.Name || r.Point != "" && node == r.Point })
		})
		if line < 0 {
			continue
		}
		amps := func(r *circuit.Rest) float64 {
			i := slices.IndexFunc(r.Parts, func(x circuit.PartRest) bool { return x.Name == p.Name })
			if i < 0 {
				return 0
			}
			return math.Abs(r.Parts[i].Amps)
		}
		if more := amps(bad) - amps(good); more > 0 {
			out[line] += more
		}
	}
	return out
}

// What a supply is taken for where the sheet does not say more: its rail falls by a twentieth at full load, and by so much for
// each time that load again, until a regulator or a fuse gives up at three times of it.
const (
	fallsBy     = 0.05
	givesUp     = 3.0
	usualLoad   = 0.5 // A, where the sheet has none
	fuseGone    = 0.0
	stillPulled = 0.99
)

// pulledDown is what is left of a line's volts under what is drawn from it beyond a good set's current, and from those that are
// made from the same one: 1 for all of them.
func (s *Set) pulledDown(line int) float64 {
	if line >= len(s.plan.Rails) {
		return 1
	}
	left := 1.0
	for up, steps := line, 0; up >= 0 && steps <= len(s.plan.Rails); up, steps = s.plan.Rails[up].Parent, steps+1 {
		more, _ := s.excessOn(up)
		switch x := more / s.load(up); {
		case x > givesUp:
			left = fuseGone
		default:
			left *= 1 - fallsBy*x
		}
	}
	if left > stillPulled {
		return 1
	}
	return left
}

// PullsDown tells whether something that is wrong draws so much from a rail that its volts are down.
func (s *Set) PullsDown(rail string) bool {
	line, ok := s.plan.RailIndex(rail)
	return ok && s.pulledDown(line) < 1
}

// madeFrom tells whether a rail is another, or is made from it.
func (s *Set) madeFrom(line, from int) bool {
	for steps := 0; line >= 0 && steps <= len(s.plan.Rails); steps++ {
		if line == from {
			return true
		}
		line = s.plan.Rails[line].Parent
	}
	return false
}

// Circuit is the circuit of a stage as it is, with its parts that have failed, and how: those whose failure is there as the set stands.
// Nil: the sheet has none.
func (s *Set) Circuit(stage string, stand Stand) (net *circuit.Net, failed []circuit.Fault) {
	s = s.now(stand)
	c, ok := s.plan.Circuit(stage)
	if !ok {
		return nil, nil
	}
	net, _ = s.netOf(c)
	for i := range s.faults {
		if f := &s.faults[i]; f.Part != "" && f.Block == stage {
			failed = append(failed, f.failed)
		}
	}
	return net, failed
}

// netOf is a circuit with the faults of its parts.
func (s *Set) netOf(c *sheet.PlanCircuit) (net *circuit.Net, broken bool) {
	for i := range s.faults {
		if f := &s.faults[i]; f.inside != nil && f.Block == c.Stage {
			return f.inside.net, true
		}
	}
	return c.Net, false
}

// nodeVolts is the DC at a node of a stage's circuit: of the broken one, and of others where the
// sheet states nothing. Where a rail that the circuit hangs on is down, so is what stands at its nodes.
func (s *Set) nodeVolts(at string) (float64, bool) {
	for i := range s.plan.Circuits {
		c := &s.plan.Circuits[i]
		if c.Net == nil || !slices.Contains(c.Net.Nodes, at) {
			continue
		}
		net, broken := s.netOf(c)
		if point, ok := s.plan.PointIndex(at); ok && !broken {
			if _, stated := s.plan.Expect(point, sheet.DC, ""); stated {
				return 0, false
			}
		}
		standing, _, ok := net.Standing()
		if !ok {
			continue
		}
		volts := standing[at].Volts
		if k := slices.IndexFunc(s.plan.Stages, func(st sheet.PlanStage) bool { return st.Name == c.Stage }); k >= 0 && !broken {
			for _, line := range s.plan.Stages[k].Lines {
				if s.dead(line) {
					volts *= deadRail
				}
			}
		}
		return volts, true
	}
	return 0, false
}

// nodeOhms is the resistance to ground of a node of the broken circuit, or of one that is
// no point of the sheet.
func (s *Set) nodeOhms(at string) (float64, bool) {
	_, point := s.plan.PointIndex(at)
	for i := range s.plan.Circuits {
		c := &s.plan.Circuits[i]
		if c.Net == nil {
			continue
		}
		if net, broken := s.netOf(c); broken || !point {
			if ohms, ok := net.OhmsToGround(at); ok {
				return ohms, true
			}
		}
	}
	return 0, false
}
