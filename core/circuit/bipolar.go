package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// NPN and PNP are bipolar transistors.
const (
	NPN Kind = "npn"
	PNP Kind = "pnp"
)

// Speed is the transition frequency, and crossed the capacitance from collector to base.
const qIs, bf, br, vaf, speed, crossed = 0, 1, 2, 3, 5, 6

var (
	_ = define(bipolar(NPN, 1, "M0 7l-4.5 -0.5l2.6 -3.4z"))
	_ = define(bipolar(PNP, -1, "M-5 2l4.5 0.7l-2.6 3.4z"))
)

// bipolar defines one of a polarity, with its arrow (Ebers and Moll, with the Early effect).
func bipolar(kind Kind, sign float64, arrow string) definition {
	return definition{
		kind:      kind,
		sign:      Sign{"M-12 0a12 12 0 1 0 24 0a12 12 0 1 0 -24 0M-5 -7v14M-12 0h7M-5 -2L0 -7M-5 2L0 7", arrow, 12, 1},
		terminals: []string{"collector", "base", "emitter"},
		fields: []field{
			{byLaw, quantity.Ampere, usualIs, 1e-20, 1},
			{"gain", quantity.None, usualBeta, 0.01, 1e6},
			{"reverse gain", quantity.None, 2, 0.01, 1e6},
			{"Early voltage", quantity.Volt, usualVaf, 1, 1e9},
			watts,
			{"transition", quantity.Hertz, math.Inf(1), 1e3, math.Inf(1)},
			{"capacitance", quantity.Farad, 0, 0, 1e-3},
		},
		laws:   []law{baseDrop},
		types:  transistorTypes(map[Kind]string{NPN: "npn", PNP: "pnp"}[kind]),
		rate:   3,
		spread: []spread{{bf, 0.15}, {qIs, 0.8}},
		check:  "transistor",
		role:   transistor,
		faults: always(
			ranging("shorted from collector to emitter", 0.33, bridged(0, 2), shorts),
			ranging("shorted from base to emitter", 0.13, bridged(1, 2), shorts),
			ranging("shorted from collector to base", 0.13, bridged(0, 1), shorts),
			ranging("open at its base", 0.09, cutOff(1), opens),
			ranging("open at its collector", 0.09, cutOff(0), opens),
			ranging("open at its emitter", 0.09, cutOff(2), opens),
			ranging("of little gain", 0.06, scaled(bf), tired),
			ranging("leaky from collector to emitter", 0.04, bridged(0, 2), legLeaks),
			ranging("leaky from collector to base", 0.04, bridged(0, 1), legLeaks),
		),
		direct: func(*element) [][2]int { return [][2]int{{0, 1}, {1, 2}} },
		stamp: func(s *solving, i int, e *element, x []float64) (limited bool) {
			vbe := s.hold(2*i, sign*e.across(x, 1, 2), thermal, e.v[qIs], &limited)
			vbc := s.hold(2*i+1, sign*e.across(x, 1, 0), thermal, e.v[qIs], &limited)
			q := e.bipolar(vbe, vbc, s.gmin)
			q.gmf, q.gpi = s.steep*q.gmf, s.steep*q.gpi
			st := s.st
			c, b, em := e.nodes[0], e.nodes[1], e.nodes[2]
			// Currents into collector and base, linear about (vbe, vbc).
			st.control(c, em, b, em, q.gmf)
			st.control(c, em, b, c, q.gmr)
			st.source(c, -sign*(q.ic-q.gmf*vbe-q.gmr*vbc))
			st.source(em, sign*(q.ic-q.gmf*vbe-q.gmr*vbc))
			st.control(b, em, b, em, q.gpi)
			st.control(b, em, b, c, q.gmu)
			st.source(b, -sign*(q.ib-q.gpi*vbe-q.gmu*vbc))
			st.source(em, sign*(q.ib-q.gpi*vbe-q.gmu*vbc))
			if s.moment != nil {
				qbe, cbe := e.charge(vbe)
				s.moment.charges(st, b, em, s.moment.states[i][0], sign, vbe, qbe, s.steep*cbe)
				s.moment.charges(st, b, c, s.moment.states[i][1], sign, vbc, e.v[crossed]*vbc, e.v[crossed])
			}
			return limited
		},
		into: func(e *element, x []float64) []float64 {
			q := e.bipolar(sign*e.across(x, 1, 2), sign*e.across(x, 1, 0), leastGmin)
			return []float64{sign * q.ic, sign * q.ib, -sign * (q.ic + q.ib)}
		},
		junctions: func(s *solving, i int, e *element, x []float64) {
			s.held[2*i], s.held[2*i+1] = sign*e.across(x, 1, 2), sign*e.across(x, 1, 0)
		},
		late: takesTime,
		small: func(l *linear, e *element) {
			_, cbe := e.charge(sign * e.across(l.x, 1, 2))
			l.c.conductance(e.nodes[1], e.nodes[2], l.steep*cbe)
			l.c.conductance(e.nodes[1], e.nodes[0], e.v[crossed])
		},
		stores: func(e *element, x []float64) [2]state {
			qbe, _ := e.charge(sign * e.across(x, 1, 2))
			return [2]state{{held: qbe}, {held: e.v[crossed] * sign * e.across(x, 1, 0)}}
		},
		passes: func(m *moment, _ *element, _ []float64, s [2]state, out *[2]state) {
			for k := range out {
				out[k].flow = m.change(s[k], out[k].held)
			}
		},
	}
}

var baseDrop = law{"drop", func(text string, v []float64) error {
	volts, amps, err := pairOf(text, dropAmps)
	if err != nil {
		return err
	}
	v[qIs] = saturation(volts, amps, 1)
	return bounded(v[qIs])
}}

// usualSpeed (Hz) and usualFarads are those of a small transistor of which nothing is said, where it has to turn over by itself: in the
// middle of what the table of types has.
const usualSpeed, usualFarads = 150e6, 5e-12

func takesTime(n *Net, i int) {
	e := &n.elements[i]
	if math.IsInf(e.v[speed], 1) {
		n.set(i, speed, usualSpeed)
	}
	if e.v[crossed] == 0 {
		n.set(i, crossed, usualFarads)
	}
}

// charge is what its base holds (C), and what that changes by with the voltage of the emitter junction (F): the forward
// current for the time that it takes to cross, 1/(2π·f_T) (Gummel and Poon).
func (e *element) charge(vbe float64) (coulombs, farads float64) {
	if math.IsInf(e.v[speed], 1) {
		return 0, 0
	}
	amps, slope := junction(vbe, e.v[qIs], thermal)
	crossing := 1 / (2 * math.Pi * e.v[speed])
	return crossing * amps, crossing * slope
}

// currents are a bipolar's, and what they change by: gmf and gpi with the
// voltage of the emitter junction, gmr and gmu with the collector's.
type currents struct{ ic, ib, gmf, gmr, gpi, gmu float64 }

func (e *element) bipolar(vbe, vbc, gmin float64) currents {
	is := e.v[qIs]
	f, gf := junction(vbe, is, thermal)
	r, gr := junction(vbc, is, thermal)
	early := 1 - vbc/e.v[vaf]
	return currents{
		ic:  (f-r)*early - r/e.v[br] - gmin*vbc,
		ib:  f/e.v[bf] + r/e.v[br] + gmin*(vbe+vbc),
		gmf: gf * early,
		gmr: -gr*early - (f-r)/e.v[vaf] - gr/e.v[br] - gmin,
		gpi: gf/e.v[bf] + gmin,
		gmu: gr/e.v[br] + gmin,
	}
}
