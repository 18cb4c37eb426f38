package circuit

import (
	"math"
)

// thermal is kT/q at 27 °C, in volts.
const thermal = 0.025865

// stamps collect the linear equations of one Newton step: G·x = b.
type stamps struct {
	n int
	g []float64 // row by row
	b []float64
}

func newStamps(n int) *stamps { return &stamps{n, make([]float64, n*n), make([]float64, n)} }

func (s *stamps) conductance(a, b int, g float64) {
	s.add(a, a, g)
	s.add(b, b, g)
	s.add(a, b, -g)
	s.add(b, a, -g)
}

// add adds to the coefficient of unknown k in equation i; ground has neither.
func (s *stamps) add(i, k int, v float64) {
	if i >= 0 && k >= 0 {
		s.g[i*s.n+k] += v
	}
}

// source lets a current flow into a node.
func (s *stamps) source(node int, amps float64) {
	if node >= 0 {
		s.b[node] += amps
	}
}

// control lets the current from a to b follow the voltage from c to d.
func (s *stamps) control(a, b, c, d int, g float64) {
	s.add(a, c, g)
	s.add(a, d, -g)
	s.add(b, c, -g)
	s.add(b, d, g)
}

// fix is the equation of a branch that sets the voltage from a to b, less what its
// current makes across a resistance.
func (s *stamps) fix(branch, a, b int, volts, ohms float64) {
	s.add(a, branch, 1)
	s.add(b, branch, -1)
	s.add(branch, a, 1)
	s.add(branch, b, -1)
	s.add(branch, branch, -ohms)
	s.b[branch] += volts
}

// nonlinear is a part between two nodes, linear about a voltage: current and conductance.
func (s *stamps) nonlinear(a, b int, v, amps, g float64) {
	s.conductance(a, b, g)
	s.source(a, -(amps - g*v))
	s.source(b, amps-g*v)
}

func volts(x []float64, node int) float64 {
	if node < 0 {
		return 0
	}
	return x[node]
}

func (e *element) across(x []float64, a, b int) float64 {
	return volts(x, e.nodes[a]) - volts(x, e.nodes[b])
}

// junction is a diode's current and conductance at a voltage.
func junction(v, is, vt float64) (i, g float64) {
	e := math.Exp(min(v/vt, 300))
	return is * (e - 1), is * e / vt
}

// limit keeps a junction's voltage from leaping where its current would run away
// (Nagel 1975): beyond its knee it goes on by the logarithm.
func limit(v, before, vt, is float64) (float64, bool) {
	knee := vt * math.Log(vt/(math.Sqrt2*is))
	if v <= knee || math.Abs(v-before) <= 2*vt {
		return v, false
	}
	if before <= 0 {
		return vt * math.Log(max(v/vt, 1.1)), true
	}
	if arg := 1 + (v-before)/vt; arg > 0 {
		return before + vt*math.Log(arg), true
	}
	return knee, true
}

// hold limits a junction of an element.
func (s *solving) hold(slot int, v, vt, is float64, limited *bool) float64 {
	w, held := limit(v, s.held[slot], vt, is)
	s.held[slot] = w
	*limited = *limited || held
	return w
}

// atRest lets the junctions of an element stand where a solution has them.
func (s *solving) atRest(i int, x []float64) {
	if e := &s.elements[i]; e.is.junctions != nil {
		e.is.junctions(s, i, e, x)
	}
}
