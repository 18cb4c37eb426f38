package circuit

import (
	"fmt"

	"steptrace/core/device"
	"steptrace/core/quantity"
)

// Junction and MOS field-effect transistors of both polarities.
const (
	NJFET Kind = "n-jfet"
	PJFET Kind = "p-jfet"
	NMOS  Kind = "n-mosfet"
	PMOS  Kind = "p-mosfet"
)

const (
	idss, vp, fEarl = 0, 1, 2 // junction FET: at no gate voltage, pinch-off, Early voltage
	mosK, vt        = 0, 1    // MOS FET
	feeds           = 4       // both: the capacitance from drain to gate
)

// gateDrain is that capacitance. What the gate has to its source is left to the circuit: it hardly counts beside this, which the
// stage's gain multiplies.
var gateDrain = field{"capacitance", quantity.Farad, 0, 0, 1e-6}

var (
	_ = define(jfet(NJFET, 1))
	_ = define(jfet(PJFET, -1))
	_ = define(mosfet(NMOS, 1))
	_ = define(mosfet(PMOS, -1))
)

// fet defines what both sorts have, of a polarity. Conducts gives the volts by which the gate
// lets it, and the factor of its current.
func fet(kind Kind, sign float64, conducts func(e *element, vgs float64) (over, k float64)) definition {
	at := func(e *element, vgs, vds float64) channel {
		over, k := conducts(e, vgs)
		return channelBothWays(over, vds, k, 1/e.v[fEarl])
	}
	return definition{
		kind:      kind,
		sign:      Sign{"M-12 0a12 12 0 1 0 24 0a12 12 0 1 0 -24 0M-4 -6v12M-12 0h8M-1 -7v14M-1 -6h3M-1 6h3", "", 12, 1},
		terminals: []string{"drain", "gate", "source"},
		rate:      3,
		check:     "fet",
		role:      transistor,
		faults: always(
			ranging("shorted from drain to source", 0.35, bridged(0, 2), shorts),
			ranging("shorted from gate to source", 0.15, bridged(1, 2), shorts),
			ranging("leaky at its gate", 0.2, bridged(1, 2), leaks),
			ranging("open at its drain", 0.1, cutOff(0), opens),
			ranging("open at its source", 0.1, cutOff(2), opens),
			ranging("open at its gate", 0.1, cutOff(1), opens),
		),
		stamp: func(s *solving, i int, e *element, x []float64) bool {
			vgs, vds := sign*e.across(x, 1, 2), sign*e.across(x, 0, 2)
			f := at(e, vgs, vds)
			f.gm *= s.steep
			d, g, so := e.nodes[0], e.nodes[1], e.nodes[2]
			s.st.control(d, so, g, so, f.gm)
			s.st.control(d, so, d, so, f.gds+s.gmin)
			rest := sign * (f.id - f.gm*vgs - f.gds*vds)
			s.st.source(d, -rest)
			s.st.source(so, rest)
			if s.moment != nil {
				v := e.across(x, 1, 0)
				s.moment.charges(s.st, g, d, s.moment.states[i][0], 1, v, e.v[feeds]*v, e.v[feeds])
			}
			return false
		},
		small: func(l *linear, e *element) { l.c.conductance(e.nodes[1], e.nodes[0], e.v[feeds]) },
		stores: func(e *element, x []float64) [2]state {
			return [2]state{{held: e.v[feeds] * e.across(x, 1, 0)}}
		},
		passes: func(m *moment, _ *element, _ []float64, s [2]state, out *[2]state) {
			out[0].flow = m.change(s[0], out[0].held)
		},
		into: func(e *element, x []float64) []float64 {
			id := sign*at(e, sign*e.across(x, 1, 2), sign*e.across(x, 0, 2)).id + leastGmin*e.across(x, 0, 2)
			return []float64{id, 0, -id}
		},
	}
}

// jfet defines one whose gate is a junction.
func jfet(kind Kind, sign float64) definition {
	d := fet(kind, sign, func(e *element, vgs float64) (over, k float64) {
		return vgs + e.v[vp], 2 * e.v[idss] / (e.v[vp] * e.v[vp])
	})
	d.fields = []field{{"IDSS", quantity.Ampere, 5e-3, 1e-9, 100}, {"pinch-off", quantity.Volt, 2, 1e-3, 100}, early, watts, gateDrain}
	d.types = gateTypes(device.JFET, map[Kind]string{NJFET: "n", PJFET: "p"}[kind], "pinch-off")
	d.spread = []spread{{idss, 0.15}, {vp, 0.08}}
	d.direct = func(*element) [][2]int { return [][2]int{{0, 1}, {1, 2}} }
	channel, into := d.stamp, d.into
	d.stamp = func(s *solving, i int, e *element, x []float64) (limited bool) {
		channel(s, i, e, x)
		g, so := e.nodes[1], e.nodes[2]
		v := s.hold(2*i, sign*e.across(x, 1, 2), thermal, usualIs, &limited)
		amps, gg := junction(v, usualIs, thermal)
		s.st.control(g, so, g, so, gg+s.gmin)
		s.st.source(g, -sign*(amps-gg*v))
		s.st.source(so, sign*(amps-gg*v))
		return limited
	}
	d.into = func(e *element, x []float64) []float64 {
		out := into(e, x)
		ig, _ := junction(sign*e.across(x, 1, 2), usualIs, thermal)
		ig = sign*ig + leastGmin*e.across(x, 1, 2)
		out[1], out[2] = ig, out[2]-ig
		return out
	}
	d.junctions = func(s *solving, i int, e *element, x []float64) { s.held[2*i] = sign * e.across(x, 1, 2) }
	return d
}

// mosfet defines one whose gate is insulated.
func mosfet(kind Kind, sign float64) definition {
	d := fet(kind, sign, func(e *element, vgs float64) (over, k float64) { return vgs - e.v[vt], e.v[mosK] })
	d.fields = []field{{byLaw, quantity.Ampere, 0.1, 1e-9, 1e4}, {"threshold", quantity.Volt, 2, -50, 50}, early, watts, gateDrain}
	d.laws = []law{gateCurrent}
	d.types = gateTypes(device.MOSFET, map[Kind]string{NMOS: "n", PMOS: "p"}[kind], "threshold")
	d.spread = []spread{{mosK, 0.15}, {vt, 0.05}}
	d.direct = func(*element) [][2]int { return [][2]int{{0, 2}} }
	return d
}

// gateCurrent gives a MOS FET its factor: the current at volts of the gate.
var gateCurrent = law{"current", func(text string, v []float64) error {
	amps, volts, err := currentAt(text)
	over := volts - v[vt]
	switch {
	case err != nil:
		return err
	case over <= 0:
		return fmt.Errorf(
			"at %s it does not conduct yet: its threshold is %s",
			quantity.Rounded(volts, quantity.Volt),
			quantity.Rounded(v[vt], quantity.Volt),
		)
	}
	if v[mosK] = 2 * amps / (over * over); !(v[mosK] >= 1e-9 && v[mosK] <= 1e4) {
		return fmt.Errorf("%s cannot be", text)
	}
	return nil
}}

// channel are a FET's current and what it changes by.
type channel struct{ id, gm, gds float64 }

// channelBothWays is that of a FET, which works the other way round too (Shichman and Hodges).
func channelBothWays(over, vds, k, lambda float64) channel {
	if vds < 0 {
		turned := channelOf(over-vds, -vds, k, lambda)
		return channel{-turned.id, -turned.gm, turned.gm + turned.gds}
	}
	return channelOf(over, vds, k, lambda)
}

func channelOf(over, vds, k, lambda float64) channel {
	switch {
	case over <= 0:
		return channel{}
	case vds >= over:
		base := k / 2 * over * over
		return channel{base * (1 + lambda*vds), k * over * (1 + lambda*vds), base * lambda}
	}
	base := k * (over*vds - vds*vds/2)
	return channel{base * (1 + lambda*vds), k * vds * (1 + lambda*vds), k*(over-vds)*(1+lambda*vds) + base*lambda}
}
