package circuit

import (
	"math"
	"slices"
)

// What a part bears, shows and moves where it stands.

// Figures are those of a part as the circuit has it: its main one (Ω, F, Hz; of a winding its
// copper's Ω, of a Zener diode its V), and the volts that a relay pulls at; 0 where it has none.
type Figures struct {
	Kind         Kind
	Value, Pulls float64
}

// Figures are those of a part; ok is false where there is none of that name.
func (n *Net) Figures(part string) (f Figures, ok bool) {
	at := slices.IndexFunc(n.parts, func(p Part) bool { return p.Name == part })
	if at < 0 {
		return f, false
	}
	e := &n.elements[n.first(at)]
	is := sortOf(n.parts[at].Kind)
	if is.figures != nil {
		f = is.figures(n, e)
	}
	f.Kind = is.kind
	return f, true
}

// OhmsToGround is what a meter shows from a node to ground with the power off; ok is false where
// there is no such node.
func (n *Net) OhmsToGround(node string) (ohms float64, ok bool) {
	at, ok := n.node(node)
	if !ok || at == ground {
		return 0, false
	}
	return n.view(nil).ohms(at, ground), true
}

// Beside is what else connects the ends of a part with the power off, in ohms; ok is false where
// there is no such part, or nothing does.
func (n *Net) Beside(part string) (ohms float64, ok bool) {
	at := slices.IndexFunc(n.parts, func(p Part) bool { return p.Name == part })
	if at < 0 {
		return 0, false
	}
	e := n.elements[n.first(at)]
	lifted := n.With(Fault{part: at, change: opened(0)})
	ohms = lifted.view(nil).ohms(e.nodes[0], e.nodes[1])
	return ohms, ohms < mostOhms
}

// Bears is the most that a part has across any two of its terminals, in volts: at rest, or in a cycle of what goes on. Ok is false
// where there is no such part, or nothing is known of how it stands.
func (n *Net) Bears(part string) (most float64, ok bool) {
	at := slices.IndexFunc(n.parts, func(p Part) bool { return p.Name == part })
	v := n.view(nil)
	if at < 0 || !v.stand() {
		return 0, false
	}
	nodes := n.elements[n.first(at)].nodes
	for i, a := range nodes {
		for _, b := range nodes[i+1:] {
			low, high := volts(v.x, a)-volts(v.x, b), 0.0
			if v.turn != nil {
				low, high = v.turn.reach(a, b)
			}
			most = max(most, math.Abs(low), math.Abs(high))
		}
	}
	return most, true
}

// Leverage is what a part's value moves: of what, and by how large a share for a small share of the value.
type Leverage struct {
	What What
	By   float64
}

// levered is by what share a value is moved to see.
const levered = 0.02

// Leverage tells it: of the frequency where a circuit swings, of the gain at an exit where a signal comes in (from the entry, at
// a frequency in hertz), of the DC there otherwise. Ok is false where a part has no value that could be off, or there is no such
// place.
func (n *Net) Leverage(part, exit string, hz float64) (l Leverage, ok bool) {
	at := slices.IndexFunc(n.parts, func(p Part) bool { return p.Name == part })
	if at < 0 || !Valued(n.parts[at].Kind) {
		return l, false
	}
	node, known := n.node(exit)
	shows := func(net *Net) float64 {
		v := net.view(nil)
		if !v.stand() {
			return 0
		}
		look := look{what: l.What, node: node, to: ground, from: net.entry, part: -1, hz: hz}
		return v.shows(&look, swingShare).value
	}
	switch {
	case n.Signals():
		l.What = Gain
	case !n.Alternates():
		if l.What = Frequency; shows(n) > 0 {
			node, known = 0, true
			break
		}
		l.What = DC
	default:
		l.What = DC
	}
	if !known || node < 0 {
		return l, false
	}
	before := shows(n)
	varied := n.copied()
	first := varied.first(at)
	varied.set(first, main, varied.elements[first].v[main]*(1+levered))
	if after := shows(varied); math.Abs(before) > leastVolts && after != 0 {
		l.By = (after/before - 1) / levered
		return l, true
	}
	return l, false
}
