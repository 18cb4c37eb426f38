package circuit

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"steptrace/core/quantity"
)

// Drive is the signal that a circuit's signal sources carry in time; nothing drives it
// where Peak is 0.
type Drive struct {
	Shape quantity.Shape
	Peak  float64 // volts
	Hz    float64
}

// Course is a circuit in time: for each node the volts at equal intervals, from Rate.
type Course struct {
	Rate  float64
	Volts map[string][]float64
}

// ErrNoCourse says that a circuit could not be followed in time.
var ErrNoCourse = errors.New(
	"the circuit could not be followed in time: a value may be far from what is usual, or it swings faster than the time asked for. Ask " +
		"for less time",
)

const (
	mostMoments   = 50_000
	mostAgain     = 8   // times that a step is tried again, shorter
	stepsOfPeriod = 100 // at least: a phase is then true to (2π/100)²/12 = 0.03 %
	stepsOfMains  = 40  // where only rectified mains is followed
	edgeShare     = 1e-3
	// Error of a step: a share of what a node has moved so far, and volts (IEEE 1057 asks
	// for less of no scope).
	stepShare, stepVolts = 1e-4, 1e-6
	kickVolts            = 1e-3 // what starts an oscillator
)

// moment is the instant that is being solved for: the states of what stores energy before
// it, by element and winding, and the step to it. Theta is the share of the new instant in
// the rule: one half is trapezoidal, one is backward Euler, which a jump needs.
type moment struct {
	t, h, theta float64
	drive       Drive
	x           []float64 // before
	states      [][2]state
}

// state is what an element stores: of a capacitor its inner voltage and the current into
// it, of a coil its flux and the voltage it induces, of an op-amp's pole its output and
// where that is going.
type state struct{ held, flow float64 }

// at is a drive's volts at a time; a square has edges of a thousandth of its period.
func (d Drive) at(t float64) float64 {
	if d.Peak == 0 {
		return 0
	}
	turn := math.Mod(t*d.Hz, 1)
	switch d.Shape {
	case quantity.Square:
		rise := func(x float64) float64 { return min(x/edgeShare, 1) }
		if turn < 0.5 {
			return d.Peak * (2*rise(turn) - 1)
		}
		return d.Peak * (1 - 2*rise(turn-0.5))
	case quantity.Triangle:
		return d.Peak * (1 - 4*math.Abs(math.Mod(turn+0.25, 1)-0.5))
	}
	return d.Peak * math.Sin(2*math.Pi*turn)
}

// settled is the states of a circuit that has stood for long.
func (n *Net) settled(x []float64) [][2]state {
	out := make([][2]state, len(n.elements))
	for i := range n.elements {
		e := &n.elements[i]
		if e.is.stores != nil {
			out[i] = e.is.stores(e, x)
		}
	}
	return out
}

// passed is the states after a moment, at which the unknowns are x.
func (m *moment) passed(n *Net, x []float64) [][2]state {
	out := n.settled(x)
	for i := range n.elements {
		e := &n.elements[i]
		if e.is.passes != nil {
			e.is.passes(m, e, x, m.states[i], &out[i])
		}
	}
	return out
}

// Follow solves the circuit in time by the trapezoidal rule, from a state of rest, and
// gives so many points from begin to begin + span (s). Steps are as long as their error
// allows, estimated from the third difference. One that nothing drives is kicked by a
// millivolt at its capacitors, so that an oscillator starts.
func (n *Net) Follow(rest *Rest, d Drive, begin, span float64, points int) (*Course, error) {
	if points < 2 || !(span > 0) || begin < 0 {
		return nil, fmt.Errorf("a course of %d points in %g s cannot be", points, span)
	}
	return n.follow(rest.x, d, begin, span, points)
}

func (n *Net) follow(x []float64, d Drive, begin, span float64, points int) (*Course, error) {
	longest := n.longestStep(d, span)
	runs := n.Runs()
	if runs {
		n = n.turning()
	}
	w := n.walk(x, d, longest)
	if runs {
		w.sharply()
	}
	if _, driven := n.driven(d); !driven && !n.Alternates() {
		w.kick()
	}
	out := &Course{Rate: float64(points-1) / span, Volts: map[string][]float64{}}
	for _, name := range n.Nodes {
		out.Volts[name] = make([]float64, points)
	}
	next := 0
	for end := begin + span; w.t < end; {
		t, from := w.t, w.m.x
		if !w.step(end) || w.moments > mostMoments {
			return nil, ErrNoCourse
		}
		for h := w.t - t; next < points && begin+float64(next)/out.Rate <= t+h*(1+1e-9); next++ {
			out.put(n, next, from, w.m.x, (begin+float64(next)/out.Rate-t)/h)
		}
	}
	for ; next < points; next++ {
		out.put(n, next, w.m.x, w.m.x, 0)
	}
	return out, nil
}

// longestStep is the longest step (s) over a span: a share of that, and of the period of what drives the net.
func (n *Net) longestStep(d Drive, span float64) float64 {
	mains, alternates := n.alternates()
	hz, driven := n.driven(d)
	steps := float64(stepsOfPeriod)
	if alternates && !driven {
		steps = stepsOfMains
	}
	longest := span / steps
	if fastest := max(mains, hz); fastest > 0 {
		longest = min(longest, 1/(fastest*steps))
	}
	return longest
}

// put puts one point in, so far from one state to the next.
func (c *Course) put(n *Net, point int, from, to []float64, share float64) {
	for i, name := range n.Nodes {
		c.Volts[name][point] = from[i] + share*(to[i]-from[i])
	}
}

// walk goes through time in steps as long as their error allows.
type walk struct {
	s          *solving
	m          *moment
	past       history
	low, high  []float64 // how far each unknown has moved
	t          float64
	h, longest float64 // the next step, and what it may be
	moments    int     // that were solved for
	least      float64 // of the longest, what a step may come down to
	again      int     // times that a step is tried again, shorter
}

// walk begins at a state.
func (n *Net) walk(x []float64, d Drive, longest float64) *walk {
	w := &walk{s: n.solving(), m: &moment{drive: d, x: x, states: n.settled(x), theta: 1}, longest: longest, h: longest / 100,
		least: 1e-6, again: mostAgain}
	for i := range n.elements {
		w.s.atRest(i, x)
	}
	w.s.moment = w.m
	w.low, w.high = slices.Clone(x), slices.Clone(x)
	w.past.add(0, x)
	return w
}

// sharply lets it go by steps as short as a latch needs, which turns in far less time than its capacitor is charged in.
func (w *walk) sharply() { w.least, w.again = 1e-10, 2*mostAgain }

// kick starts an oscillator.
func (w *walk) kick() {
	for i := range w.s.elements {
		if w.s.elements[i].is == capacitor {
			w.m.states[i][0].held += kickVolts
		}
	}
}

// step goes on by one, at most to an end; false where it cannot.
func (w *walk) step(end float64) bool {
	n, m := w.s.Net, w.m
	for again := 0; ; {
		if w.moments++; w.moments > mostMoments {
			return false
		}
		h := min(w.h, w.longest, end-w.t)
		edge, jumps := w.edge()
		if jumps && w.t+h > edge-1e-3*h {
			h = edge - w.t
		}
		m.t, m.h = w.t+h, h
		to, ok := w.s.newton(m.x)
		if !ok {
			if w.h = h / 8; w.h < w.least*w.longest {
				return false
			}
			m.theta = 1
			continue
		}
		worst := w.off(h, to)
		if worst > 4 && h > 10*w.least*w.longest && again < w.again {
			// A stiff node can ring about its value under the trapezoidal rule, by as much
			// however short the step: backward Euler, which damps it, goes once between.
			w.h, m.theta = h*max(0.2, 0.8/math.Cbrt(worst)), 1
			again++
			continue
		}
		m.states = m.passed(n, to)
		m.x, m.theta = to, 0.5
		w.t += h
		if jumps && w.t >= edge-1e-12*edge { // begin anew behind a jump
			w.past = history{}
			w.h, m.theta = w.longest/100, 1
		} else {
			w.h = h * min(2, 0.9/math.Cbrt(max(worst, 1e-3)))
		}
		w.past.add(w.t, to)
		return true
	}
}

// edge is the next time at which what drives it jumps.
func (w *walk) edge() (at float64, jumps bool) {
	at, jumps = w.m.drive.edge(w.t)
	for i := range w.s.elements {
		if e := &w.s.elements[i]; e.is.jumps != nil {
			if next := e.is.jumps(e, w.t); !jumps || next < at {
				at, jumps = next, true
			}
		}
	}
	return at, jumps
}

// off is the error of a step in what is allowed.
func (w *walk) off(h float64, to []float64) (worst float64) {
	for i := range w.s.Nodes {
		w.low[i], w.high[i] = min(w.low[i], to[i]), max(w.high[i], to[i])
		if third, ok := w.past.third(i, w.t+h, to[i]); ok {
			worst = max(worst, h*h*h/2*math.Abs(third)/(stepShare*(w.high[i]-w.low[i])+stepVolts))
		}
	}
	return worst
}

// edge is the next time at which a drive's slope jumps.
func (d Drive) edge(t float64) (float64, bool) {
	if d.Peak == 0 || d.Shape != quantity.Square && d.Shape != quantity.Triangle {
		return 0, false
	}
	turns := t*d.Hz + 1e-9
	whole := math.Floor(turns)
	places := []float64{edgeShare, 0.5, 0.5 + edgeShare, 1}
	if d.Shape == quantity.Triangle {
		places = []float64{0.25, 0.75, 1.25}
	}
	for _, p := range places {
		if whole+p > turns {
			return (whole + p) / d.Hz, true
		}
	}
	return (whole + 1) / d.Hz, true
}

// history is the last three moments.
type history struct {
	t [3]float64
	x [3][]float64
	n int
}

func (p *history) add(t float64, x []float64) {
	p.t[2], p.t[1], p.t[0] = p.t[1], p.t[0], t
	p.x[2], p.x[1], p.x[0] = p.x[1], p.x[0], x
	p.n++
}

// third is the third divided difference of an unknown with a new value; ok is false before
// there are three others.
func (p *history) third(i int, t, v float64) (float64, bool) {
	if p.n < 3 {
		return 0, false
	}
	a, b, c := (v-p.x[0][i])/(t-p.t[0]), (p.x[0][i]-p.x[1][i])/(p.t[0]-p.t[1]), (p.x[1][i]-p.x[2][i])/(p.t[1]-p.t[2])
	return ((a-b)/(t-p.t[1]) - (b-c)/(p.t[0]-p.t[2])) / (t - p.t[2]), true
}

// Wave is a node in time from rest, or behind a mains winding from its peak; ok is false where
// it cannot be followed.
func (n *Net) Wave(d Drive, node string, begin, span float64, points int) ([]float64, bool) {
	start := n
	if n.Alternates() {
		start = n.atPeak()
	}
	x, ok := start.settle(nil)
	if !ok {
		return nil, false
	}
	c, err := n.follow(x, d, begin, span, points)
	if err != nil {
		return nil, false
	}
	w, ok := c.Volts[node]
	return w, ok
}

// Signals tells whether a signal source feeds the circuit.
func (n *Net) Signals() bool {
	return slices.ContainsFunc(n.elements, func(e element) bool { return e.is.role == signal })
}

// Mains is the frequency of a mains winding that feeds the circuit; 0 where none does.
func (n *Net) Mains() float64 {
	hz, _ := n.alternates()
	return hz
}
