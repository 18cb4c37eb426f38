package circuit

import (
	"math"

	"steptrace/core/device"
	"steptrace/core/quantity"
)

// Comparator tells which of two voltages is the higher: its output is pulled to its lower supply while that is minus, and to
// the upper one otherwise where it has something to do so.
const Comparator Kind = "comparator"

// Its gain, the ohms by which it pulls, whether it pulls upwards too, and how long it takes.
const cGain, pulls, pushes, cDelay = 0, 1, 2, 3

var _ = define(definition{
	kind:      Comparator,
	sign:      halfway("M-9 -13h18v26h-18zM-4 5h4v-10h4", "", 13),
	terminals: []string{"plus", "minus", "output", "upper supply", "lower supply"},
	fields: []field{
		{"gain", quantity.None, 2e5, 10, 1e9},
		{"pulls", quantity.Ohm, 60, 0.1, 1e6},
		{byLaw, quantity.None, 0, 0, 1},
		{"delay", quantity.Second, 1e-6, 1e-10, 1},
	},
	laws:    []law{flag("open collector", pushes, 0), flag("both ways", pushes, 1)},
	types:   &types{[]device.Kind{device.Comparator}, "", nothingTyped},
	rate:    3,
	check:   "chip",
	steers:  true,
	decides: true,
	faults: always(
		ranging("stuck low", 0.35, bridged(2, 4), shorts),
		ranging("dead, its output open", 0.35, cutOff(2), opens),
		ranging("stuck high", 0.15, bridged(2, 3), shorts),
		ranging("leaky at its plus input", 0.08, bridged(0, 4), leaks),
		ranging("leaky at its minus input", 0.07, bridged(1, 4), leaks),
	),
	direct: func(*element) [][2]int { return [][2]int{{0, 4}, {1, 4}, {2, 4}, {2, 3}} },
	stamp: func(s *solving, i int, e *element, x []float64) bool {
		e.inputs(s.st, 4, 0, 1)
		d := e.across(x, 0, 1)
		steep := s.keen * e.v[cGain]
		y, by := 0.0, 0.0
		limited := false
		if s.moment != nil {
			y, by = e.hurries(e.v[cDelay]).after(s.moment, s.moment.states[i][0], e.v[cGain]*d)
			by *= e.v[cGain]
		} else {
			d = s.ease(i, d, steep, &limited)
			y, by = eased(d, steep)
		}
		by *= s.steep
		e.side(s.st, x, side{2, 4, e.pull(), 0}, -y, steered{-by, d, 0, 1})
		e.side(s.st, x, side{2, 3, e.push(), 0}, y, steered{by, d, 0, 1})
		return limited
	},
	into: func(e *element, x []float64) []float64 {
		y := math.Tanh(e.v[cGain] * e.across(x, 0, 1))
		down, up := side{2, 4, e.pull(), 0}.amps(e, x, -y), side{2, 3, e.push(), 0}.amps(e, x, y)
		a, b := e.across(x, 0, 4)/inputOhms, e.across(x, 1, 4)/inputOhms
		return []float64{a, b, down + up, -up, -down - a - b}
	},
	small: func(*linear, *element) {}, // it is faster than what it is asked
	stores: func(e *element, x []float64) [2]state {
		return [2]state{{held: math.Tanh(e.v[cGain] * e.across(x, 0, 1))}}
	},
	passes: func(m *moment, e *element, x []float64, s [2]state, out *[2]state) {
		out[0] = e.hurries(e.v[cDelay]).stood(m, s[0], e.v[cGain]*e.across(x, 0, 1))
	},
	off: func(n *Net, e *element) { *e = resistance(e.part, e.nodes[2], e.nodes[4], openOhms) },
})

func (e *element) pull() float64 { return 1 / e.v[pulls] }

func (e *element) push() float64 { return e.v[pushes] / e.v[pulls] }

// hurries is what goes all the way in a delay, from a 200th of what it is driven by then.
func (e *element) hurries(delay float64) slewing {
	return slewing{eager: 2 / delay / 100, fastest: 2 / delay}
}
