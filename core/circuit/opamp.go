package circuit

import (
	"math"

	"steptrace/core/device"
	"steptrace/core/quantity"
)

// OpAmp is an operational amplifier with its supplies.
const OpAmp Kind = "opamp"

// Short is what of its supplies it does not reach; slew the volts in a microsecond.
const gain, gbw, rout, rin, short, slew = 0, 1, 2, 3, 4, 5

var _ = define(amplifier(definition{
	kind:      OpAmp,
	terminals: []string{"plus", "minus", "output", "upper supply", "lower supply"},
	types:     opAmpTypes,
	faults: always(
		ranging("stuck at its upper supply", 0.35, stuck(3, -1), kept),
		ranging("stuck at its lower supply", 0.35, stuck(4, 1), kept),
		ranging("dead, its output open", 0.3, cutOff(2), opens),
	),
}, gives{1e6, 75, 1.5, 0}))

// Power is a power amplifier in one package, which a pin lets play.
const Power Kind = "power amplifier"

// Its pin that lets it play, the ground that this is told against, the volts there above which it plays,
// and the current that it gives at most.
const standby, quiet, playsAbove, mostAmps = 5, 6, 6, 7

var _ = define(amplifier(definition{
	kind:      Power,
	terminals: []string{"plus", "minus", "output", "upper supply", "lower supply", "standby", "ground"},
	fields:    []field{{"plays above", quantity.Volt, 2.5, -100, 100}, {"limit", quantity.Ampere, 6, 1e-3, 1e3}},
	types:     &types{[]device.Kind{device.Module}, "", nothingTyped},
	faults: always(
		ranging("shorted from its output to its upper supply", 0.25, bridged(2, 3), shorts),
		ranging("shorted from its output to its lower supply", 0.25, bridged(2, 4), shorts),
		ranging("dead, its output open", 0.3, cutOff(2), opens),
		fails("mute, whatever its standby pin has", 0.2, set(playsAbove, 1e3)),
	),
}, gives{3e6, 0.1, 2.5, 10}))

// gives is what an amplifier in a package has where nothing is said: hertz of unity gain, ohms of its output, volts that it
// stays short of its supplies, volts that it slews in a microsecond (0: by its unity gain).
type gives struct{ hertz, ohms, headroom, slew float64 }

// amplifier is an amplifier in a package: what it does is the same of each.
func amplifier(d definition, usual gives) definition {
	d.sign, d.rate, d.check, d.branches, d.steers = manyLegs, 3, "chip", 1, true
	d.fields = append([]field{
		{"gain", quantity.None, 1e5, 1, 1e9},
		{"unity gain", quantity.Hertz, usual.hertz, 1, 1e12},
		{"output", quantity.Ohm, usual.ohms, 1e-3, 1e6},
		{"input", quantity.Ohm, 1e6, 1, most},
		{"headroom", quantity.Volt, usual.headroom, 0, 100},
		{"slew", quantity.Volt, usual.slew, 0, 1e6},
	}, d.fields...)
	legs := len(d.terminals)
	d.direct = func(*element) [][2]int {
		return append([][2]int{{0, 1}, {2, 4}, {3, 4}}, [][2]int{{standby, quiet}, {quiet, 4}}[:legs-standby]...)
	}
	d.stamp = func(s *solving, i int, e *element, x []float64) bool {
		st := s.st
		st.conductance(e.nodes[0], e.nodes[1], 1/e.v[rin])
		if legs > standby {
			e.inputs(st, quiet, standby)
			e.inputs(st, 4, quiet)
		}
		v, slope := e.opamp(x)
		if s.moment != nil {
			v, slope = e.slews(s.moment, x, s.moment.states[i][0])
		}
		slope *= s.steep
		d := e.across(x, 0, 1)
		// V(out) − rout·I = V + slope·(d − d₀), I into the output
		out := e.nodes[2]
		st.add(out, e.branch, 1)
		st.add(e.supplying(x), e.branch, -1)
		st.add(e.branch, out, 1)
		st.add(e.branch, e.nodes[0], -slope)
		st.add(e.branch, e.nodes[1], slope)
		ohms, rest := e.gives(x[e.branch])
		st.add(e.branch, e.branch, -ohms)
		st.b[e.branch] += v - slope*d + rest
		return false
	}
	d.into = func(e *element, x []float64) []float64 {
		in := e.across(x, 0, 1) / e.v[rin]
		out := []float64{in, -in, x[e.branch], 0, 0, 0, 0}[:legs]
		if out[2] > 0 {
			out[4] = -out[2]
		} else {
			out[3] = -out[2]
		}
		if legs > standby {
			a, b := e.across(x, standby, quiet)/inputOhms, e.across(x, quiet, 4)/inputOhms
			out[standby], out[quiet], out[4] = a, b-a, out[4]-b
		}
		return out
	}
	d.small = func(l *linear, e *element) { // (V(out) − rout·I)·(1 + s·lag) = slope·d
		l.c.add(e.branch, e.nodes[2], e.lag())
		l.c.add(e.branch, e.branch, -e.v[rout]*e.lag())
	}
	d.stores = func(e *element, x []float64) [2]state {
		_, half := e.reaches(x)
		return [2]state{{held: math.Tanh(e.drives(x) / half)}}
	}
	d.passes = func(m *moment, e *element, x []float64, s [2]state, out *[2]state) {
		_, half := e.reaches(x)
		out[0] = e.pace(half).stood(m, s[0], e.drives(x)/half)
	}
	d.off = func(n *Net, e *element) { // its inputs remain, its output is open
		n.cut = append(n.cut, cut{e.branch, ground})
		*e = resistance(e.part, e.nodes[0], e.nodes[1], e.v[rin])
	}
	return d
}

// gives is the ohms of an output at a current into it, and the volts that go with them: beyond its limit it gives way.
func (e *element) gives(amps float64) (ohms, rest float64) {
	if len(e.v) > mostAmps && math.Abs(amps) > e.v[mostAmps] {
		return e.v[rout] + beyondOhms, -math.Copysign(beyondOhms*e.v[mostAmps], amps)
	}
	return e.v[rout], 0
}

// reaches is the middle between an op-amp's supplies, and how far its output comes to either side of it.
func (e *element) reaches(x []float64) (middle, half float64) {
	upper, lower := volts(x, e.nodes[3]), volts(x, e.nodes[4])
	return (upper + lower) / 2, max((upper-lower)/2-e.v[short], 1e-3)
}

// plays is 1 where nothing keeps an amplifier from playing, and less where its standby pin does.
func (e *element) plays(x []float64) float64 {
	if len(e.nodes) <= standby {
		return 1
	}
	y, _ := eased(e.across(x, standby, quiet)-e.v[playsAbove], pinSteep)
	return (1 + y) / 2
}

// drives is where an op-amp's output would go if it had no supplies.
func (e *element) drives(x []float64) float64 { return e.plays(x) * e.v[gain] * e.across(x, 0, 1) }

// opamp is the open output of an op-amp that has had time, and its gain there.
func (e *element) opamp(x []float64) (v, slope float64) {
	middle, half := e.reaches(x)
	t := math.Tanh(e.drives(x) / half)
	return middle + half*t, e.plays(x) * e.v[gain] * max(1-t*t, 1e-9)
}

// slews is that of one on its way.
func (e *element) slews(m *moment, x []float64, s state) (v, slope float64) {
	middle, half := e.reaches(x)
	y, by := e.pace(half).after(m, s, e.drives(x)/half)
	return middle + half*y, e.plays(x) * e.v[gain] * max(by, 1e-9)
}

// usualSlew is the slew rate of an op-amp for each hertz of its unity gain, in volts a second, where nothing is said: that of a
// bipolar input pair, whose current its compensation has to be charged by (0.5 V/µs at 1 MHz).
const usualSlew = 0.5

// pace is how fast an op-amp's output moves, as a share of how far it comes.
func (e *element) pace(half float64) slewing {
	fastest := e.v[slew] * 1e6
	if fastest == 0 {
		fastest = usualSlew * e.v[gbw]
	}
	return slewing{eager: 1 / e.lag(), fastest: fastest / half}
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
