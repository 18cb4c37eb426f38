package circuit

import (
	"steptrace/core/quantity"
)

// Inductor is a coil, with the resistance of its wire.
const Inductor Kind = "inductor"

const ohms = 1

var inductor = define(definition{
	kind:      Inductor,
	sign:      halfway("M0 -12a4 4 0 0 1 0 8a4 4 0 0 1 0 8a4 4 0 0 1 0 8", "", 12),
	terminals: []string{"one end", "the other"},
	fields:    []field{{"", quantity.Henry, needed, least, 1e4}, {"resistance", quantity.Ohm, 1e-3, 1e-9, most}},
	rate:      0.6,
	spread:    []spread{{main, 0.05}},
	check:     "winding",
	faults:    always(ranging("open", 0.5, setTo(ohms), opens), ranging("shorted in its turns", 0.5, scaled(main), turns)),
	branches:  1,
	direct:    ends,
	stamp: func(s *solving, i int, e *element, _ []float64) bool {
		s.st.fix(e.branch, e.nodes[0], e.nodes[1], 0, e.v[ohms])
		s.moment.coil(s.st, i, e, e.v[main])
		return false
	},
	into:    func(e *element, x []float64) []float64 { return through(x[e.branch]) },
	figures: value(ohms),
	small:   func(l *linear, e *element) { l.c.add(e.branch, e.branch, -e.v[main]) },
	moved: func(e *element, x, y []complex128, w float64) complex128 {
		return y[e.branch] * x[e.branch] * complex(0, w*e.v[main])
	},
	stores: func(e *element, x []float64) [2]state { return [2]state{{held: e.v[main] * x[e.branch]}} },
	passes: induces,
})

func (m *moment) coil(st *stamps, i int, e *element, henry float64) {
	if m == nil {
		return
	}
	st.add(e.branch, e.branch, -henry/(m.h*m.theta))
	st.b[e.branch] -= m.induced(m.states[i][0])
}

// induced is what of a winding's voltage its state before makes.
func (m *moment) induced(s state) float64 {
	return s.held/(m.h*m.theta) + (1-m.theta)/m.theta*s.flow
}

// induces is the state of coils after a moment: the voltages that their fluxes induced.
func induces(m *moment, e *element, _ []float64, s [2]state, out *[2]state) {
	for k := range e.is.branches {
		out[k].flow = (out[k].held-s[k].held)/(m.h*m.theta) - (1-m.theta)/m.theta*s[k].flow
	}
}
