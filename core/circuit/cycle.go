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
	// repeats is within what share of its length a turn has to be as long as the one before, and patience the steps after which that
	// is eased as their square: what chatters never does the same twice, and a meter shows its mean all the same.
	repeats, patience = 1e-3, 500
	// alike is within what share of how far it moves each node has to come back in a turn, and amid the share of what moves most:
	// what rings comes back as often, and less far.
	alike, amid = 0.02, 0.005
	// begins is the share of what was followed that is left out, as the beginning.
	begins = 0.2
	// mostTurnSteps is after how many steps a circuit that has not repeated is taken to stand, and turnSteps those of a turn at least.
	mostTurnSteps, turnSteps = 12_000, 40
	// mostBrokenSteps is after how many a broken one, of which the good one's turn is known, is taken as it is: what has not found its
	// turn by then chatters.
	mostBrokenSteps = 4000
	// asBegun is how near the end of a driven cycle has to come to its begin, as a share of how far each node goes.
	asBegun = 1e-4
	// mostTurning is how many unknowns one may have: an oscillator's stage has some twenty.
	mostTurning = 60
	// markSwing is the least that a node moves by which turns are told, in volts.
	markSwing = 0.02
	// longestTurn is the longest in seconds.
	longestTurn = 100.0
	// stoppedTurns is how many turns of the good one a net is given to come to rest in, and stoppedVolts by how much at most
	// each node has moved in the last half of them, or in so many steps, where it has.
	stoppedTurns, stoppedVolts, stoppedSteps = 20, 1e-3, 600
	// lostTurns is after how many of its turns a node that has not moved any more has stopped turning so.
	lostTurns = 4
)

// habit is whether a net runs by itself while all is in order, and how; with a fault in it, it is followed then too.
type habit struct {
	of   *Net
	once sync.Once
	runs *turn // nil where it does not
}

// Runs tells whether a good one charges and turns by itself, without end; such a circuit is never at rest.
func (n *Net) Runs() bool { return n.running() != nil }

// running is a turn of the good one; nil where it does not run by itself.
func (n *Net) running() *turn {
	h := n.habit
	h.once.Do(func() {
		if x, ok := h.of.settle(nil); ok && h.of.restless(x) {
			if one, _, ok := h.of.follows(x, nil); ok {
				h.runs = one
			}
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

// cycle follows a net, which runs by itself while all is in order, until it repeats; nil where it comes to rest, at the state that
// is given then. Ok is false where it cannot be followed. It goes on from where the good one is at the end of a turn, or else begins
// at a state of rest.
func (n *Net) cycle(x []float64) (one *turn, rest []float64, ok bool) {
	if good := n.running(); good != nil {
		if one, rest, ok = n.follows(n.grown(good.x[len(good.x)-1]), good); ok {
			return one, rest, true
		}
	}
	return n.follows(x, nil)
}

// follows follows a net from a state until it repeats, or comes to rest. Good is a turn of the good one, at whose end it begins; nil
// where it begins at rest, and is kicked out of it.
func (n *Net) follows(x []float64, good *turn) (one *turn, rest []float64, ok bool) {
	n = n.turning()
	usual, most := 0.0, mostTurnSteps
	w := n.walk(x, Drive{}, 1e-6)
	if good != nil {
		usual, most = good.period(), mostBrokenSteps
		w.longest = usual / turnSteps
		w.h = w.longest / 100
	} else {
		w.kick()
	}
	w.sharply()
	all := turn{[]float64{0}, [][]float64{x}}
	length, look := 0.0, 40
	for steps := 1; steps < most && w.t < longestTurn; steps++ {
		if !w.step(math.Inf(1)) {
			return nil, nil, false
		}
		all.t, all.x = append(all.t, w.t), append(all.x, w.m.x)
		w.longest = max(w.t, usual) / turnSteps
		if length > 0 {
			w.longest = min(w.longest, length/turnSteps)
		}
		if steps == look {
			look += 10 + look/10
			if one, length = n.repeats(&all); one != nil {
				return one, one.x[len(one.x)-1], true
			}
			if usual > 0 {
				if rest, ok := n.stopped(&all, usual); ok {
					return nil, rest, true
				}
			}
		}
	}
	return nil, w.m.x, true
}

// stopped is the state of rest that a net has come to by itself: where nothing has moved for many turns of the good one (s), or for
// so many steps, since what holds itself between two states takes ever shorter ones.
func (n *Net) stopped(all *turn, usual float64) (rest []float64, ok bool) {
	last := len(all.t) - 1
	begin := last - stoppedSteps
	if all.t[last] > stoppedTurns*usual {
		begin, _ = slices.BinarySearch(all.t, all.t[last]/2)
	}
	if begin < 0 {
		return nil, false
	}
	half := turn{all.t[begin:], all.x[begin:]}
	for i := range n.Nodes {
		if low, high := half.reach(i, ground); high-low > stoppedVolts {
			return nil, false
		}
	}
	rest, ok = n.settle(all.x[last])
	for i := range n.Nodes {
		ok = ok && math.Abs(rest[i]-all.x[last][i]) < markSwing
	}
	if !ok && all.t[last] <= stoppedTurns*usual {
		return all.x[last], true
	}
	return rest, ok
}

// throughCycles follows a net that the mains, or pulses, drive, from a state, and gives the first cycle (s) that ends as it began, or
// the last of so many.
func (n *Net) throughCycles(x []float64, most int, cycle float64) (one *turn, ok bool) {
	w := n.walk(x, Drive{}, n.longestStep(Drive{}, cycle))
	for k := 1; k <= most+1; k++ {
		one = &turn{[]float64{w.t}, [][]float64{w.m.x}}
		for end := float64(k) * cycle; w.t < end; {
			if !w.step(end) {
				return nil, false
			}
			one.t, one.x = append(one.t, w.t), append(one.x, w.m.x)
		}
		if n.ends(one) {
			break
		}
	}
	return one, true
}

// ends tells whether a cycle ends as it began.
func (n *Net) ends(one *turn) bool {
	first, last := one.x[0], one.x[len(one.x)-1]
	for i := range n.Nodes {
		low, high := one.reach(i, ground)
		if math.Abs(last[i]-first[i]) > asBegun*max(math.Abs(low), math.Abs(high)) {
			return false
		}
	}
	return true
}

// repeats is the last turn, where it is as the one before; length is what is known of it. It is looked for in what was followed but
// for its beginning in time, or, where that is a moment beside what came before, in its steps.
func (n *Net) repeats(all *turn) (one *turn, length float64) {
	last := len(all.t) - 1
	begin, _ := slices.BinarySearch(all.t, begins*all.t[last])
	one, length = n.repeated(all, begin)
	if one == nil && begin < last/2 {
		if late, short := n.repeated(all, last/2); late != nil || length == 0 {
			return late, short
		}
	}
	return one, length
}

// repeated looks for it behind a step.
func (n *Net) repeated(all *turn, begin int) (one *turn, length float64) {
	last := len(all.t) - 1
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
	if all.t[last]-at[c] > lostTurns*(at[c]-at[c-1]) {
		return nil, 0
	}
	length, before := at[c]-at[c-1], at[c-1]-at[c-2]
	eased := max(1, math.Pow(float64(last)/patience, 2))
	if math.Abs(length-before) > repeats*eased*length {
		return nil, length
	}
	one = all.between(at[c-1], at[c], rises[c-1], rises[c])
	first, back := one.x[0], one.x[len(one.x)-1]
	for i := range n.Nodes {
		l, h := one.reach(i, ground)
		if math.Abs(back[i]-first[i]) > eased*(alike*(h-l)+amid*(high-low)) {
			return nil, length
		}
	}
	return one, length
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
