package circuit

import (
	"math"
	"slices"

	"steptrace/core/quantity"
)

// Crystal is a quartz or a ceramic resonator: a series circuit of motional inductance,
// resistance and capacitance, beside the capacitance of its holder (Butterworth and Van Dyke).
const Crystal Kind = "crystal"

const motional, seriR, holder = 1, 2, 3

var _ = define(definition{
	kind:      Crystal,
	sign:      halfway("M-8 -8h16M-8 8h16M-7 -4h14v8h-14z", "", 8),
	terminals: []string{"one side", "the other"},
	fields: []field{
		{"", quantity.Hertz, needed, 1e3, 1e9},
		{"motional", quantity.Farad, 20e-15, 1e-18, 1e-9},
		{"series", quantity.Ohm, 30, 1e-3, 1e6},
		{"holder", quantity.Farad, 5e-12, 1e-15, 1e-9},
	},
	rate:   2,
	check:  "crystal",
	faults: always(fails("dead", 0.9, set(ohms, openOhms))),
	expand: func(r *reading, e element) {
		w := 2 * math.Pi * e.v[main]
		c := e.v[motional]
		r.crystals = append(r.crystals, len(r.elements))
		r.elements = append(r.elements,
			element{inductor, e.part, []int{e.nodes[0], 0}, []float64{1 / (w * w * c), e.v[seriR]}, -1},
			element{capacitor, e.part, []int{0, e.nodes[1]}, []float64{c, 0, math.Inf(1)}, -1},
			element{capacitor, e.part, slices.Clone(e.nodes), []float64{e.v[holder], 0, math.Inf(1)}, -1})
	},
	// Its first element is the inductance, its second the capacitance that resonate.
	figures: func(n *Net, e *element) Figures {
		c := n.elements[n.first(e.part)+1].v[main]
		return Figures{Value: 1 / (2 * math.Pi * math.Sqrt(e.v[main]*c))}
	},
})
