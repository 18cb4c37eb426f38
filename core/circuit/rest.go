package circuit

import (
	"errors"
	"math"
	"slices"
)

// Rest is a circuit at rest: what stands at its nodes (volts), and what its parts carry.
type Rest struct {
	Volts map[string]float64 `json:"volts"`
	Parts []PartRest         `json:"parts"`

	x []float64 // the unknowns
}

// PartRest is a part at rest: the voltage across it (from its first terminal to its
// second; of a transistor from collector to emitter, of a FET from drain to source), the
// current into its first terminal, and what it turns into heat; Rated is how much of that it
// may, where that is known. A bipolar has the voltage of its emitter junction, and a FET that
// from gate to source, as Bias.
type PartRest struct {
	Name  string  `json:"name"`
	Volts float64 `json:"volts"`
	Amps  float64 `json:"amps"`
	Watts float64 `json:"watts"`
	Rated float64 `json:"rated,omitempty"`
	Bias  float64 `json:"bias,omitempty"`
}

// Between is the voltage from one node to another; nothing said stands for ground. False where one is not in the circuit.
func (r *Rest) Between(from, to string) (float64, bool) {
	at := func(node string) (float64, bool) {
		if node == "" || IsGround(node) {
			return 0, true
		}
		x, ok := r.Volts[node]
		return x, ok
	}
	a, there := at(from)
	b, here := at(to)
	return a - b, there && here
}

// ErrUnsettled says that no state of rest was found.
var ErrUnsettled = errors.New(
	"no state of rest was found: the circuit may have none, or a value may be far from what is usual. Look for a part connected to the " +
		"wrong node",
)

// solving is a search for a state, at rest or (with a moment) at the next instant.
type solving struct {
	*Net
	gmin   float64   // across every junction
	share  float64   // of the sources
	held   []float64 // junction voltages of the step before, by element and junction
	moment *moment
	steep  float64 // share of what transistors and op-amps amplify small signals by
	keen   float64 // share of how steeply what decides does so

	st *stamps
	lu factors[float64]
}

const (
	mostSteps = 60
	leastGmin = 1e-12
	// settled is how little the last step may change: a volt's share, and volts.
	settledShare, settledVolts = 1e-9, 1e-10
	// passingShare and passingVolts are so much in time: a large inductance over a short step
	// leaves no more digits.
	passingShare, passingVolts = 1e-7, 1e-8
	mostVolts                  = 1e7
	// openContact is what is left of a contact that is open, in ohms.
	openContact = 1e9
)

// Rest finds the circuit's state of rest. The error is ErrUnsettled where there is none
// to be found.
func (n *Net) Rest() (*Rest, error) {
	x, ok := n.settle(nil)
	if !ok {
		return nil, ErrUnsettled
	}
	return n.state(x), nil
}

// settle finds the unknowns at rest, from those of the circuit before a fault was put in
// (nil: from nothing).
func (n *Net) settle(near []float64) ([]float64, bool) {
	s := n.solving()
	x := make([]float64, n.size)
	if near != nil {
		x = n.grown(near)
		for i := range n.elements {
			s.atRest(i, x)
		}
		if x, ok := s.newton(x); ok {
			return x, true
		}
		clear(s.held)
		x = make([]float64, n.size)
	}
	if x, ok := s.newton(x); ok {
		return x, true
	}
	// A conductance across the junctions, taken away step by step.
	if x, ok := s.along(func(t float64) { s.gmin = math.Pow(10, -2-10*t) }, make([]float64, n.size)); ok {
		return x, true
	}
	s.gmin = leastGmin
	if s.decides() { // what decides made to do so step by step
		if x, ok := s.along(func(t float64) { s.keen = math.Pow(10, -5*(1-t)) }, make([]float64, n.size)); ok {
			return x, true
		}
		s.keen = 1
	}
	// The sources brought up step by step.
	return s.along(func(t float64) { s.share = t }, make([]float64, n.size))
}

// grown is a state of the net without its faults, as it is with them: what was cut stands at first where it hung.
func (n *Net) grown(near []float64) []float64 {
	x := make([]float64, n.size)
	copy(x, near)
	for _, c := range n.cut {
		if c.at >= len(near) && c.from >= 0 {
			x[c.at] = near[c.from]
		}
	}
	return x
}

// decides tells whether something in it turns from one end to the other within millivolts.
func (n *Net) decides() bool {
	return slices.ContainsFunc(n.elements, func(e element) bool { return e.is.decides })
}

// solving begins a search.
func (n *Net) solving() *solving {
	return &solving{
		Net:   n,
		gmin:  leastGmin,
		share: 1,
		steep: 1,
		keen:  1,
		held:  make([]float64, 2*len(n.elements)),
		st:    newStamps(n.size),
		lu:    factors[float64]{order: n.unknowns()},
	}
}

// along follows a solution while something is changed from 0 to 1, by as large steps as
// settle.
func (s *solving) along(change func(t float64), x []float64) ([]float64, bool) {
	clear(s.held)
	step := 0.1
	for t := 0.0; ; {
		change(t)
		before := append([]float64(nil), s.held...)
		next, ok := s.newton(x)
		switch {
		case ok && t >= 1:
			return next, true
		case ok:
			x = next
			step *= 1.5
		case t == 0 || step < 1e-5:
			return nil, false
		default: // back, and on by less
			copy(s.held, before)
			t -= step
			step /= 4
		}
		t = min(1, t+step)
	}
}

// newton goes from a guess to a solution, which is another slice.
func (s *solving) newton(x []float64) ([]float64, bool) {
	x = append([]float64(nil), x...)
	share, least := settledShare, settledVolts
	if s.moment != nil {
		share, least = passingShare, passingVolts
	}
	for range mostSteps {
		limited := s.assemble(x)
		s.lu.take(s.st.n, s.st.g)
		if s.lu.factorize(math.Abs); !s.lu.ok {
			return nil, false
		}
		next := s.lu.solve(s.st.b)
		done := !limited
		for i := range x {
			v := next[i]
			if math.IsNaN(v) || math.IsInf(v, 0) {
				return nil, false
			}
			if math.Abs(v-x[i]) > least+share*math.Abs(v) {
				done = false
			}
			x[i] = v
		}
		if done {
			return x, s.physical(x)
		}
	}
	return nil, false
}

// physical tells whether nothing stands at volts that no stage has: a current that has nowhere
// to go makes them.
func (s *solving) physical(x []float64) bool {
	return !slices.ContainsFunc(x[:len(s.Nodes)], func(v float64) bool { return math.Abs(v) > mostVolts })
}

// assemble writes all equations about a state; it tells whether a junction was held back.
func (s *solving) assemble(x []float64) (limited bool) {
	clear(s.st.g)
	clear(s.st.b)
	for i := range s.elements {
		if e := &s.elements[i]; e.is.stamp(s, i, e, x) {
			limited = true
		}
	}
	for i := range s.Nodes { // what holds a node that only junctions reach
		s.st.add(i, i, leastGmin)
	}
	for _, c := range s.cut {
		s.st.add(c.at, c.at, leastGmin)
	}
	return limited
}

// about is the circuit's equations, linear about a state: there no junction is held back.
// Steep is the share of their steepness that transistors and op-amps have: 1 for small signals.
func (n *Net) about(x []float64, steep float64) *stamps {
	s := n.solving()
	s.steep = steep
	for i := range n.elements {
		s.atRest(i, x)
	}
	s.assemble(x)
	return s.st
}

// state works out what each part carries.
func (n *Net) state(x []float64) *Rest {
	r := &Rest{Volts: map[string]float64{}, Parts: make([]PartRest, len(n.parts)), x: x}
	for i, name := range n.Nodes {
		r.Volts[name] = x[i]
	}
	seen := make([]bool, len(n.parts))
	for i := range n.elements {
		e := &n.elements[i]
		amps := e.is.into(e, x)
		p := &r.Parts[e.part]
		if !seen[e.part] {
			seen[e.part] = true
			*p = PartRest{Name: n.parts[e.part].Name, Volts: volts(x, e.nodes[0]) - volts(x, e.nodes[1]), Amps: amps[0]}
			if e.is.role == transistor {
				p.Volts, p.Bias = volts(x, e.nodes[0])-volts(x, e.nodes[2]), volts(x, e.nodes[1])-volts(x, e.nodes[2])
			}
			if may := e.rated(); !math.IsInf(may, 1) {
				p.Rated = may
			}
		}
		for k, node := range e.nodes {
			p.Watts += volts(x, node) * amps[k]
		}
	}
	return r
}

// rated is what an element may turn into heat.
func (e *element) rated() float64 {
	for i, f := range e.is.fields {
		if f.name == watts.name {
			return e.v[i]
		}
	}
	return math.Inf(1)
}
