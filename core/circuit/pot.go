package circuit

import (
	"math"
	"slices"

	"steptrace/core/quantity"
)

// Pot is a potentiometer or a trimmer.
const Pot Kind = "pot"

const at = 1

var _ = define(definition{
	kind:      Pot,
	sign:      Sign{boxSign + "M-18 0h12m-4 -3l4 3l-4 3", "", 11, 1},
	terminals: []string{"one end", "wiper", "the other end"},
	fields:    []field{{"", quantity.Ohm, needed, 1e-3, most}, {"at", quantity.None, 0.5, 0, 1}},
	rate:      5,
	spread:    []spread{{main, 0.1}},
	check:     "sweep",
	faults: always(
		ranging("open at its wiper", 0.5, cutOff(1), opens),
		ranging("open at one end", 0.25, cutOff(0), opens),
		ranging("open at the other end", 0.25, cutOff(2), opens),
	),
	direct: func(*element) [][2]int { return [][2]int{{0, 1}, {1, 2}} },
	stamp: func(s *solving, _ int, e *element, _ []float64) bool {
		a, b := e.halves()
		s.st.conductance(e.nodes[0], e.nodes[1], 1/a)
		s.st.conductance(e.nodes[1], e.nodes[2], 1/b)
		return false
	},
	into: func(e *element, x []float64) []float64 {
		top, bottom := e.halves()
		a, b := e.across(x, 0, 1)/top, e.across(x, 1, 2)/bottom
		return []float64{a, b - a, -b}
	},
})

// halves are a pot's resistances from its ends to its wiper.
func (e *element) halves() (a, b float64) {
	t := math.Max(1e-6, math.Min(1-1e-6, e.v[at]))
	return e.v[main] * t, e.v[main] * (1 - t)
}

// Stands is where a pot or trimmer stands: the share of its travel from its first end; false where the circuit has none of
// that name.
func (n *Net) Stands(part string) (float64, bool) {
	if i := n.pot(part); i >= 0 {
		return n.elements[i].v[at], true
	}
	return 0, false
}

// Turned is the circuit with a pot or trimmer at another place, 0 to 1; false where it has none of that name.
func (n *Net) Turned(part string, place float64) (*Net, bool) {
	i := n.pot(part)
	if i < 0 {
		return nil, false
	}
	out := n.copied()
	out.set(i, at, math.Max(0, math.Min(1, place)))
	return out, true
}

func (n *Net) pot(part string) int {
	return slices.IndexFunc(n.elements, func(e element) bool { return e.is.kind == Pot && n.parts[e.part].Name == part })
}
