package circuit

import (
	"math"
	"slices"
)

// view is a net with what is known of how it stands, for predicting readings.
type view struct {
	net   *Net
	near  []float64 // how it stood without its faults; nil: not known
	bad   []int     // parts that have failed
	stood bool      // it was tried
	x     []float64 // at rest, or at the end of a cycle; nil where it does not come to rest
	turn  *turn     // one cycle of what drives it, or one of its own, where it never stands still

	factors *factors[float64] // of the equations at rest
	moves   []move
	moved   map[int][]float64 // what tolerances move of each node that was asked for
	linear  *linear
	hz      float64 // at which linear was solved
	small   []complex128
	swing   float64
	swung   bool              // swing is known
	dead    *factors[float64] // of those with the power off
}

// mainsCycles is how many cycles of the mains are let pass from the peak, until what
// a reservoir holds repeats, and pulsedCycles how many of pulses, until what rings between coils has died away.
const mainsCycles, pulsedCycles = 8, 40

// Settles is how many cycles of what drives a net are let pass until it repeats.
func (n *Net) Settles() int {
	if n.pulsed() {
		return pulsedCycles
	}
	return mainsCycles
}

// view looks at a net, from how it stood without its faults (nil: from nothing).
func (n *Net) view(near []float64, bad ...int) *view { return &view{net: n, near: near, bad: bad} }

// stand lets it come to rest, once; false where it does not.
func (v *view) stand() bool {
	if v.stood {
		return v.x != nil
	}
	v.stood = true
	n := v.net
	hz, alternates := n.alternates()
	begin := n
	if alternates {
		begin = n.atPeak()
	}
	if n.pulsed() && v.near != nil { // it begins as the good one does, which leaves less to die away
		if one, ok := n.throughCycles(n.grown(v.near), n.Settles()/2, 1/hz); ok {
			v.turn, v.x = one, one.x[len(one.x)-1]
			return true
		}
	}
	x, ok := begin.settle(v.near)
	switch {
	case !ok:
		return false
	case alternates:
		v.turn, ok = n.throughCycles(x, n.Settles(), 1/hz)
	case n.Runs():
		v.turn, x, ok = n.cycle(x)
	}
	if ok && v.turn != nil {
		x = v.turn.x[len(v.turn.x)-1]
	}
	if ok {
		v.x = x
	}
	return v.x != nil
}

// Standing is what a good circuit has at a node: volts of DC, and how far they may be off
// with parts as they are sold (two standard deviations).
type Standing struct{ Volts, Within float64 }

// Standing gives it for every node, and how the circuit stands: at rest, or behind a mains
// winding at the end of a cycle. Ok is false where it does not come to rest.
func (n *Net) Standing() (out map[string]Standing, rest *Rest, ok bool) {
	v := n.view(nil)
	if !v.stand() {
		return nil, nil, false
	}
	out = map[string]Standing{}
	for i, name := range n.Nodes {
		p := v.predict(&look{what: DC, node: i, to: ground}, 0)
		out[name] = Standing{p.value, 2 * p.sigma()}
	}
	if n.followed() { // the end of a cycle is no more than one moment of it
		return out, v.turn.state(n), true
	}
	return out, n.state(v.x), true
}

// swings is how far the voltage from a node to another moves in a cycle.
func (v *view) swings(node, to int) float64 {
	low, high := v.turn.reach(node, to)
	return high - low
}

func (v *view) respond(hz float64) {
	if v.linear == nil {
		v.linear = v.net.linear(v.x, 1)
	}
	if v.hz == hz {
		return
	}
	v.hz = hz
	var ok bool
	if v.small, ok = v.linear.solve(hz); !ok {
		v.small = nil
	}
}

func pickComplex(x []complex128, node int) complex128 {
	if node < 0 {
		return 0
	}
	return x[node]
}

// ohms is what a meter shows between two nodes with the power off: its volts are too few to
// make silicon conduct, so that all is linear about no voltage at all.
func (v *view) ohms(a, b int) float64 {
	if v.dead == nil {
		off := v.net.poweredOff()
		v.dead = factorize(off.about(make([]float64, off.size), 1), off.unknowns())
	}
	if !v.dead.ok {
		return mostOhms
	}
	x := make([]float64, v.dead.n)
	for node, amps := range map[int]float64{a: 1, b: -1} {
		if node >= 0 {
			x[node] = amps
		}
	}
	x = v.dead.solve(x)
	return min(math.Abs(volts(x, a)-volts(x, b)), mostOhms)
}

// tolerances is how many of the circuit's values may be off.
func (n *Net) tolerances() int {
	count := 0
	for i := range n.elements {
		count += len(n.elements[i].is.spread)
	}
	return count
}

// movement is what each tolerance (one standard deviation) moves of a node's voltage, to first order: what a part's
// change moves in the equations, through the adjoint at rest.
func (v *view) movement(node int) []float64 {
	if out, ok := v.moved[node]; ok {
		return out
	}
	out := make([]float64, v.net.tolerances())
	if node < 0 {
		return out
	}
	if v.factors == nil {
		st := v.net.about(v.x, 1)
		v.factors = factorize(st, v.net.unknowns())
		v.moves = v.net.moves(v.x)
		v.moved = map[int][]float64{}
	}
	if v.factors.ok {
		unit := make([]float64, v.net.size)
		unit[node] = 1
		y := v.factors.solveTransposed(unit)
		for _, m := range v.moves {
			for k, at := range m.nodes {
				if at >= 0 {
					out[m.tolerance] -= y[at] * m.amps[k]
				}
			}
		}
	}
	v.moved[node] = out
	return out
}

// move is the current that a part's tolerance (one standard deviation) adds into its
// terminals.
type move struct {
	tolerance int
	nodes     []int
	amps      []float64
}

func (n *Net) moves(x []float64) []move {
	var out []move
	count := 0
	for i := range n.elements {
		e := &n.elements[i]
		var before []float64
		for _, s := range e.is.spread {
			count++
			if math.IsInf(e.v[s.field], 1) || e.is.branches > 0 || e.is == capacitor {
				continue // it moves nothing at rest
			}
			if before == nil {
				before = e.is.into(e, x)
			}
			varied := *e
			varied.v = slices.Clone(e.v)
			varied.v[s.field] *= 1 + s.share/8 // an eighth of it, where all is straight
			amps := e.is.into(&varied, x)
			for k := range amps {
				amps[k] = 8 * (amps[k] - before[k])
			}
			out = append(out, move{count - 1, e.nodes, amps})
		}
	}
	return out
}
