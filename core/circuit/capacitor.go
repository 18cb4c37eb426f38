package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// openFarads is what is left of a capacitor that is open: its leads and the board beside it.
var openFarads = []float64{0.3e-12, 4e-12, 30e-12}

// wrongPart is the share of a part's failures in which somebody has fitted one of another value.
const wrongPart = 0.01

// Capacitor is a capacitor, with its equivalent series resistance and its leakage.
const Capacitor Kind = "capacitor"

const esr, leak = 1, 2

var capacitor = define(definition{
	kind:      Capacitor,
	sign:      halfway("M-10 -3h20M-10 3h20", "", 3),
	terminals: []string{"plus", "minus"},
	fields: []field{
		{"", quantity.Farad, needed, least, 1e3},
		{"ESR", quantity.Ohm, 0, 0, most},
		{"leakage", quantity.Ohm, math.Inf(1), 1e-3, math.Inf(1)},
	},
	rate:   4,
	spread: []spread{{main, 0.05}},
	check:  "capacitor",
	alone:  "its capacitance, leakage and ESR",
	faults: always(
		ranging("shorted", 0.35, setTo(leak), shorts),
		ranging("leaky", 0.2, setTo(leak), leaks),
		ranging("open", 0.25, setTo(main), openFarads),
		drifts("low in capacitance", 0.1, empty),
		drifts("of too much capacitance", wrongPart, more),
		ranging("of high ESR", 0.1, setTo(esr), dried),
	),
	direct: func(e *element) [][2]int {
		if math.IsInf(e.v[leak], 1) {
			return nil
		}
		return ends(e)
	},
	stamp: func(s *solving, i int, e *element, _ []float64) bool {
		if !math.IsInf(e.v[leak], 1) {
			s.st.conductance(e.nodes[0], e.nodes[1], 1/e.v[leak])
		}
		s.moment.capacitor(s.st, i, e)
		return false
	},
	into:    func(e *element, x []float64) []float64 { return through(e.across(x, 0, 1) / e.v[leak]) },
	figures: value(main),
	small: func(l *linear, e *element) {
		if e.v[esr] == 0 {
			l.c.conductance(e.nodes[0], e.nodes[1], e.v[main])
		}
	},
	apart: func(n *Net, i int, e *element) {
		if ohms := e.v[esr]; ohms > 0 {
			n.set(i, esr, 0)
			n.cutLeg(i, 0, ohms)
		}
	},
	moved: func(e *element, x, y []complex128, w float64) complex128 {
		return -between(y, e) * between(x, e) * e.admittance(w)
	},
	stores: func(e *element, x []float64) [2]state { return [2]state{{held: e.across(x, 0, 1)}} },
	passes: func(m *moment, e *element, x []float64, s [2]state, out *[2]state) {
		r := m.h*m.theta/e.v[main] + e.v[esr]
		amps := (e.across(x, 0, 1) - s[0].held - m.h*(1-m.theta)/e.v[main]*s[0].flow) / r
		out[0] = state{e.across(x, 0, 1) - e.v[esr]*amps, amps}
	},
})

// admittance is a capacitor's, in series with its ESR.
func (e *element) admittance(w float64) complex128 {
	return complex(0, w*e.v[main]) / complex(1, w*e.v[main]*e.v[esr])
}

func (m *moment) capacitor(st *stamps, i int, e *element) {
	if m == nil {
		return
	}
	s := m.states[i][0]
	r := m.h*m.theta/e.v[main] + e.v[esr]
	from := s.held + m.h*(1-m.theta)/e.v[main]*s.flow
	st.conductance(e.nodes[0], e.nodes[1], 1/r)
	st.source(e.nodes[0], from/r)
	st.source(e.nodes[1], -from/r)
}

// change is the current (A) that a charge of which this was the state before comes by to what it is (C).
func (m *moment) change(s state, coulombs float64) float64 {
	return (coulombs-s.held)/(m.h*m.theta) - (1-m.theta)/m.theta*s.flow
}

// charges lets a charge between two nodes change: it is so much at a voltage (turned by a sign), and changes by farads with it.
func (m *moment) charges(st *stamps, a, b int, s state, sign, volts, coulombs, farads float64) {
	g := farads / (m.h * m.theta)
	amps := m.change(s, coulombs)
	st.conductance(a, b, g)
	st.source(a, -sign*(amps-g*volts))
	st.source(b, sign*(amps-g*volts))
}
