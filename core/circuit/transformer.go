package circuit

import (
	"steptrace/core/quantity"
)

// Windings is a transformer of two windings.
const Windings Kind = "transformer"

const ratio, coupling, windOhms = 1, 2, 3 // the last of the first winding

var _ = define(definition{
	kind:      Windings,
	sign:      manyLegs,
	terminals: []string{"primary start", "primary end", "secondary start", "secondary end"},
	fields: []field{
		{"", quantity.Henry, needed, least, 1e4},
		{"ratio", quantity.None, 1, 1e-4, 1e4},
		{"coupling", quantity.None, 0.99, 0, 0.99999},
		{"resistance", quantity.Ohm, 1, 1e-6, most},
	},
	rate:   1,
	spread: []spread{{main, 0.05}},
	check:  "winding",
	faults: always(
		ranging("open in its first winding", 0.3, cutOff(0), opens),
		ranging("open in its second winding", 0.3, cutOff(2), opens),
		ranging("shorted in its turns", 0.4, bridged(2, 3), shorts),
	),
	branches: 2,
	direct:   func(*element) [][2]int { return [][2]int{{0, 1}, {2, 3}} },
	stamp: func(s *solving, i int, e *element, _ []float64) bool {
		s.st.fix(e.branch, e.nodes[0], e.nodes[1], 0, e.v[windOhms])
		s.st.fix(e.branch+1, e.nodes[2], e.nodes[3], 0, e.v[windOhms]*e.v[ratio]*e.v[ratio])
		s.moment.windings(s.st, i, e)
		return false
	},
	into: func(e *element, x []float64) []float64 {
		return append(through(x[e.branch]), through(x[e.branch+1])...)
	},
	figures: value(windOhms),
	small: func(l *linear, e *element) {
		for k, row := range e.inductances() {
			for j, h := range row {
				l.c.add(e.branch+k, e.branch+j, -h)
			}
		}
	},
	stores: func(e *element, x []float64) (out [2]state) {
		l := e.inductances()
		for k := range 2 {
			out[k].held = l[k][0]*x[e.branch] + l[k][1]*x[e.branch+1]
		}
		return out
	},
	passes: induces,
})

func (m *moment) windings(st *stamps, i int, e *element) {
	if m == nil {
		return
	}
	l := e.inductances()
	for k := range 2 {
		for j := range 2 {
			st.add(e.branch+k, e.branch+j, -l[k][j]/(m.h*m.theta))
		}
		st.b[e.branch+k] -= m.induced(m.states[i][k])
	}
}

// inductances are those of a transformer's windings, and between them.
func (e *element) inductances() [2][2]float64 {
	l, r := e.v[main], e.v[ratio]
	between := e.v[coupling] * l * r
	return [2][2]float64{{l, between}, {between, l * r * r}}
}
