package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// OpAmp is an operational amplifier with its supplies.
const OpAmp Kind = "opamp"

const gain, gbw, rout, rin, short = 0, 1, 2, 3, 4 // the last: what of its supplies it does not reach

var _ = define(definition{
	kind:      OpAmp,
	sign:      manyLegs,
	terminals: []string{"plus", "minus", "output", "upper supply", "lower supply"},
	fields: []field{
		{"gain", quantity.None, 1e5, 1, 1e9},
		{"unity gain", quantity.Hertz, 1e6, 1, 1e12},
		{"output", quantity.Ohm, 75, 1e-3, 1e6},
		{"input", quantity.Ohm, 1e6, 1, most},
		{"headroom", quantity.Volt, 1.5, 0, 100},
	},
	types: opAmpTypes,
	rate:  3,
	check: unchecked,
	faults: always(
		ranging("stuck at its upper supply", 0.35, stuck(3, -1), kept),
		ranging("stuck at its lower supply", 0.35, stuck(4, 1), kept),
		ranging("dead, its output open", 0.3, cutOff(2), opens),
	),
	branches: 1,
	direct:   func(*element) [][2]int { return [][2]int{{0, 1}, {2, 4}, {3, 4}} },
	stamp: func(s *solving, i int, e *element, x []float64) bool {
		st := s.st
		st.conductance(e.nodes[0], e.nodes[1], 1/e.v[rin])
		v, slope := e.opamp(x)
		slope *= s.steep
		d := e.across(x, 0, 1)
		follows, before := s.moment.follows(i, e)
		// V(out) − rout·I = what it follows of V + slope·(d − d₀), I into the output
		out := e.nodes[2]
		st.add(out, e.branch, 1)
		st.add(e.supplying(x), e.branch, -1)
		st.add(e.branch, out, 1)
		st.add(e.branch, e.nodes[0], -follows*slope)
		st.add(e.branch, e.nodes[1], follows*slope)
		st.add(e.branch, e.branch, -e.v[rout])
		st.b[e.branch] += follows*(v-slope*d) + before
		return false
	},
	into: func(e *element, x []float64) []float64 {
		in := e.across(x, 0, 1) / e.v[rin]
		out := []float64{in, -in, x[e.branch], 0, 0}
		if out[2] > 0 {
			out[4] = -out[2]
		} else {
			out[3] = -out[2]
		}
		return out
	},
	small: func(l *linear, e *element) { // (V(out) − rout·I)·(1 + s·lag) = slope·d
		l.c.add(e.branch, e.nodes[2], e.lag())
		l.c.add(e.branch, e.branch, -e.v[rout]*e.lag())
	},
	stores: func(e *element, x []float64) [2]state {
		v, _ := e.opamp(x)
		return [2]state{{v, v}}
	},
	passes: func(m *moment, e *element, _ []float64, s [2]state, out *[2]state) {
		share, before := m.followed(e, s[0])
		out[0].held = share*out[0].flow + before
	},
	off: func(n *Net, e *element) { // its inputs remain, its output is open
		n.cut = append(n.cut, cut{e.branch, ground})
		*e = resistance(e.part, e.nodes[0], e.nodes[1], e.v[rin])
	},
})

// opamp is the open output of an op-amp that has had time, and its gain there.
func (e *element) opamp(x []float64) (v, slope float64) {
	upper, lower := volts(x, e.nodes[3]), volts(x, e.nodes[4])
	half := max((upper-lower)/2-e.v[short], 1e-3)
	t := math.Tanh(e.v[gain] * e.across(x, 0, 1) / half)
	return (upper+lower)/2 + half*t, e.v[gain] * max(1-t*t, 1e-9)
}

// lag is the time constant of an op-amp's pole, in seconds.
func (e *element) lag() float64 { return e.v[gain] / (2 * math.Pi * e.v[gbw]) }

// supplying is the supply node that an op-amp's output current goes to or comes from.
func (e *element) supplying(x []float64) int {
	if x[e.branch] > 0 {
		return e.nodes[4]
	}
	return e.nodes[3]
}

// follows is how much of where an op-amp is going it comes to, and what remains of before.
func (m *moment) follows(i int, e *element) (share, before float64) {
	if m == nil {
		return 1, 0
	}
	return m.followed(e, m.states[i][0])
}

func (m *moment) followed(e *element, s state) (share, before float64) {
	k := m.h / e.lag()
	return k * m.theta / (1 + k*m.theta), (s.held + k*(1-m.theta)*(s.flow-s.held)) / (1 + k*m.theta)
}

// kept is how far from a supply an output that is stuck there stays, in volts, and stuckOhms what holds it there.
var kept = []float64{0.05, 1, 3}

const stuckOhms = 60.0

// stuck holds an op-amp's output near one of its supplies, on the side that the sign says.
func stuck(supply int, sign float64) func(volts float64) change {
	return func(volts float64) change {
		return func(n *Net, i int) {
			out, held, part := n.elements[i].nodes[2], n.elements[i].nodes[supply], n.elements[i].part
			n.cutLeg(i, 2, openOhms)
			n.elements = append(n.elements, resistance(part, out, held, stuckOhms),
				element{sorts[Current], part, []int{held, out}, []float64{sign * volts / stuckOhms}, -1})
		}
	}
}
