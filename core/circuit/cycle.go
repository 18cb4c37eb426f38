package circuit

import (
	"math"
	"slices"
	"sync"
)

// A circuit that charges until something turns (an astable, a comparator that feeds itself back, a timer) has no rest: it
// leaves it, not as a sine that grows, but from one end to the other. What its meters show is one turn of it, followed in time
// until it repeats. So it is behind a mains winding, or pulses.

// turn is one turn of a circuit that never stands still, by itself or by what drives it: its points in time, in steps as they were
// taken.
type turn struct {
	t []float64
	x [][]float64
}

// period is how long it takes, in seconds.
func (c *turn) period() float64 { return c.t[len(c.t)-1] - c.t[0] }

const (
	// repeats is within what share of its length a turn has to be as long as the one before.
	repeats = 1e-3
	// begins is the share of what was followed that is left out, as the beginning.
	begins = 0.2
	// mostTurnSteps is after how many steps a circuit that has not repeated is taken to stand, and turnSteps those of a turn at least.
	mostTurnSteps, turnSteps = 12_000, 40
	// mostTurning is how many unknowns one may have: an oscillator's stage has some twenty.
	mostTurning = 60
	// markSwing is the least that a node moves by which turns are told, in volts.
	markSwing = 0.02
	// longestTurn is the longest in seconds.
	longestTurn = 100.0
)

// habit is whether a net runs by itself while all is in order; with a fault in it, it is followed then too.
type habit struct {
	of   *Net
	once sync.Once
	runs bool
}

// Runs tells whether a good one charges and turns by itself, without end; such a circuit is never at rest.
func (n *Net) Runs() bool {
	h := n.habit
	h.once.Do(func() {
		if x, ok := h.of.settle(nil); ok && h.of.restless(x) {
			one, _, ok := h.of.cycle(x)
			h.runs = ok && one != nil
		}
	})
	return h.runs
}

// goesOn tells whether a net's meters show the mean of what goes on.
func (n *Net) goesOn() bool { return n.Alternates() || n.Runs() }

// followed tells a net of which every prediction is followed through time for long: two faults at once are too many to try.
func (n *Net) followed() bool { return n.pulsed() || n.Runs() }

// restless tells whether a net may run by itself: one with a latch, or one whose rest something leaves that grows without
// swinging. Neither the mains nor a signal drives it.
func (n *Net) restless(x []float64) bool {
	if n.Alternates() || n.Signals() || n.size > mostTurning {
		return false
	}
	stores, steers := false, false
	for i := range n.elements {
		e := &n.elements[i]
		if e.is.restless {
			return true
		}
		stores = stores || e.is == capacitor
		steers = steers || e.is.steers || e.is.role == transistor
	}
	return stores && steers && n.leaves(x)
}

// turning is the net as it is followed: with transistors that take time.
func (n *Net) turning() *Net {
	out := n
	for i := range n.elements {
		if late := n.elements[i].is.late; late != nil {
			if out == n {
				out = n.copied()
			}
			late(out, i)
		}
	}
	return out
}

// cycle follows a net from a state until it repeats; nil where it comes to rest, at the state that is given then. Ok is false
// where it cannot be followed.
func (n *Net) cycle(x []float64) (one *turn, rest []float64, ok bool) {
	n = n.turning()
	w := n.walk(x, Drive{}, 1e-6)
	w.sharply()
	w.kick()
	all := turn{[]float64{0}, [][]float64{x}}
	length, look := 0.0, 40
	for steps := 1; steps < mostTurnSteps && w.t < longestTurn; steps++ {
		if !w.step(math.Inf(1)) {
			return nil, nil, false
		}
		all.t, all.x = append(all.t, w.t), append(all.x, w.m.x)
		w.longest = w.t / turnSteps
		if length > 0 {
			w.longest = min(w.longest, length/turnSteps)
		}
		if steps == look {
			look += 10 + look/10
			if one, length = n.repeated(&all); one != nil {
				return one, one.x[len(one.x)-1], true
			}
		}
	}
	return nil, w.m.x, true
}

// throughCycles follows a net that the mains, or pulses, drive, from a state, and gives one cycle (s) behind those that are let pass.
func (n *Net) throughCycles(x []float64, pass, cycle float64) (one *turn, ok bool) {
	w := n.walk(x, Drive{}, n.longestStep(Drive{}, cycle))
	for end := pass; w.t < end; {
		if !w.step(end) {
			return nil, false
		}
	}
	one = &turn{[]float64{w.t}, [][]float64{w.m.x}}
	for end := pass + cycle; w.t < end; {
		if !w.step(end) {
			return nil, false
		}
		one.t, one.x = append(one.t, w.t), append(one.x, w.m.x)
	}
	return one, true
}

// repeated is the last turn, where it is as long as the one before; length is what is known of it.
func (n *Net) repeated(all *turn) (one *turn, length float64) {
	last := len(all.t) - 1
	begin, _ := slices.BinarySearch(all.t, begins*all.t[last])
	mark, low, high := -1, 0.0, 0.0
	for i := range n.Nodes { // the node that moves most tells
		l, h := math.Inf(1), math.Inf(-1)
		for _, x := range all.x[begin:] {
			l, h = min(l, x[i]), max(h, x[i])
		}
		if h-l > high-low {
			mark, low, high = i, l, h
		}
	}
	if high-low < markSwing {
		return nil, 0
	}
	middle, armed := (low+high)/2, low+(high-low)/4
	var rises []int // the step before each
	var at []float64
	below := false
	for k := begin; k < last; k++ {
		a, b := all.x[k][mark], all.x[k+1][mark]
		below = below || a < armed
		if below && b >= middle {
			share := 1.0
			if a < middle {
				share = (middle - a) / (b - a)
			}
			rises, at, below = append(rises, k), append(at, all.t[k]+share*(all.t[k+1]-all.t[k])), false
		}
	}
	if len(at) < 3 {
		return nil, 0
	}
	c := len(at) - 1
	length, before := at[c]-at[c-1], at[c-1]-at[c-2]
	if math.Abs(length-before) > repeats*length {
		return nil, length
	}
	return all.between(at[c-1], at[c], rises[c-1], rises[c]), length
}

// between is a piece of it, from after one step to after another.
func (c *turn) between(from, to float64, first, last int) *turn {
	out := &turn{}
	put := func(t float64, k int) {
		share := (t - c.t[k]) / (c.t[k+1] - c.t[k])
		x := make([]float64, len(c.x[k]))
		for i := range x {
			x[i] = c.x[k][i] + share*(c.x[k+1][i]-c.x[k][i])
		}
		out.t, out.x = append(out.t, t), append(out.x, x)
	}
	put(from, first)
	for k := first + 1; k <= last; k++ {
		out.t, out.x = append(out.t, c.t[k]), append(out.x, c.x[k])
	}
	put(to, last)
	return out
}

// mean is a node's volts over a turn.
func (c *turn) mean(node int) float64 {
	sum := 0.0
	for k := 1; k < len(c.t); k++ {
		sum += (volts(c.x[k], node) + volts(c.x[k-1], node)) / 2 * (c.t[k] - c.t[k-1])
	}
	return sum / c.period()
}

// reach is how low and how high the voltage from one node to another comes in a turn.
func (c *turn) reach(node, to int) (low, high float64) {
	low, high = math.Inf(1), math.Inf(-1)
	for _, x := range c.x {
		v := volts(x, node) - volts(x, to)
		low, high = min(low, v), max(high, v)
	}
	return low, high
}

// widest is the node that moves most.
func (c *turn) widest(nodes int) (widest int) {
	most := 0.0
	for i := range nodes {
		if low, high := c.reach(i, ground); high-low > most {
			widest, most = i, high-low
		}
	}
	return widest
}

// duty is the share of a turn in which a node is above its middle.
func (c *turn) duty(node int) float64 {
	low, high := c.reach(node, ground)
	middle, sum := (low+high)/2, 0.0
	for k := 1; k < len(c.t); k++ {
		a, b := volts(c.x[k-1], node)-middle, volts(c.x[k], node)-middle
		share := 0.0
		switch {
		case a >= 0 && b >= 0:
			share = 1
		case a >= 0:
			share = a / (a - b)
		case b > 0:
			share = b / (b - a)
		}
		sum += share * (c.t[k] - c.t[k-1])
	}
	return sum / c.period()
}

// state is what each part carries in the mean of a turn; what latches carry is theirs alone, and is left out.
func (c *turn) state(n *Net) *Rest {
	out := n.state(c.x[len(c.x)-1])
	for i, name := range n.Nodes {
		out.Volts[name] = c.mean(i)
	}
	for i := range out.Parts {
		p := &out.Parts[i]
		p.Volts, p.Amps, p.Watts, p.Bias = 0, 0, 0, 0
	}
	for k := 1; k < len(c.t); k++ {
		share := (c.t[k] - c.t[k-1]) / c.period()
		at := n.state(c.x[k])
		for i := range out.Parts {
			if p, q := &out.Parts[i], &at.Parts[i]; !sortOf(n.parts[i].Kind).restless {
				p.Volts, p.Amps, p.Watts, p.Bias = p.Volts+share*q.Volts, p.Amps+share*q.Amps, p.Watts+share*q.Watts, p.Bias+share*q.Bias
			}
		}
	}
	return out
}
