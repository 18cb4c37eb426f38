package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// Optocoupler is a light-emitting diode that a phototransistor sees: the transistor lets the
// diode's current pass times its transfer ratio, until it saturates.
const Optocoupler Kind = "optocoupler"

const oIs, oN, transfer = 0, 1, 2

// saturates is the volts by which a phototransistor that saturates comes out of that.
const saturates = 0.12

var _ = define(definition{
	kind:      Optocoupler,
	sign:      halfway("M-9 -13h18v26h-18zM-5 -2l8 -3m-8 8l8 -3", "", 13),
	terminals: []string{"anode", "cathode", "collector", "emitter"},
	// A gallium arsenide diode has 1.1 V at 1 mA, and another tenth at ten times that.
	fields: []field{
		{byLaw, quantity.Ampere, saturation(1.1, 1e-3, 1.7), 1e-40, 1},
		{byLaw, quantity.None, 1.7, 0.5, 10},
		{"transfer", quantity.None, 1, 1e-3, 100},
	},
	types:  optocouplerTypes,
	laws:   []law{junctionDrop(oIs, oN)},
	rate:   3,
	spread: []spread{{transfer, 0.25}},
	check:  unchecked,
	faults: always(
		ranging("without light, its diode open", 0.25, cutOff(0), opens),
		ranging("tired, of little light", 0.35, scaled(transfer), tired),
		ranging("shorted in its diode", 0.1, bridged(0, 1), shorts),
		ranging("shorted from collector to emitter", 0.2, bridged(2, 3), shorts),
		ranging("open at its collector", 0.1, cutOff(2), opens),
	),
	direct: func(*element) [][2]int { return [][2]int{{0, 1}, {2, 3}} },
	stamp: func(s *solving, i int, e *element, x []float64) (limited bool) {
		v := s.hold(2*i, e.across(x, 0, 1), e.v[oN]*thermal, e.v[oIs], &limited)
		amps, g := junction(v, e.v[oIs], e.v[oN]*thermal)
		s.st.nonlinear(e.nodes[0], e.nodes[1], v, amps+s.gmin*v, g+s.gmin)
		vce := e.across(x, 2, 3)
		ic, byLight, byVolts := e.phototransistor(amps, vce)
		by := s.steep * byLight * g
		c, em := e.nodes[2], e.nodes[3]
		s.st.control(c, em, e.nodes[0], e.nodes[1], by)
		s.st.conductance(c, em, byVolts+s.gmin)
		rest := ic - by*v - byVolts*vce
		s.st.source(c, -rest)
		s.st.source(em, rest)
		return limited
	},
	into: func(e *element, x []float64) []float64 {
		v, vce := e.across(x, 0, 1), e.across(x, 2, 3)
		amps, _ := junction(v, e.v[oIs], e.v[oN]*thermal)
		ic, _, _ := e.phototransistor(amps, vce)
		return append(through(amps+leastGmin*v), through(ic+leastGmin*vce)...)
	},
	junctions: func(s *solving, i int, e *element, x []float64) { s.held[2*i] = e.across(x, 0, 1) },
})

// phototransistor is the current through it, and what that changes by with the diode's current
// and with the volts across it; the wrong way round it lets nothing pass.
func (e *element) phototransistor(led, vce float64) (ic, byLight, byVolts float64) {
	lit := e.v[transfer] * max(led, 0)
	if vce <= 0 || lit == 0 {
		return 0, 0, 0
	}
	t := math.Tanh(vce / saturates)
	return lit * t, e.v[transfer] * t, lit * (1 - t*t) / saturates
}
