package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// TimingPin is the oscillator of a controller chip that hangs on one pin: a resistor charges a capacitor there up to one
// voltage, then the chip discharges it down to another. MirroredPin has a second pin, whose current to ground a mirror
// charges the capacitor by.
const (
	TimingPin   Kind = "timing pin"
	MirroredPin Kind = "mirrored timing pin"
)

// Its thresholds, the current by which it discharges, ohms of its output; the volts at the current pin, and the mirror's ratio.
const rUpper, rLower, rSinks, rOut, rPin, rMirror = 0, 1, 2, 3, 4, 5

// settlesWithin is the voltage at which its sink has nothing left to sink from.
const settlesWithin = 0.1

var _ = define(rampChip(TimingPin, []string{"supply", "ground", "timing", "output"}, nil))

var _ = define(rampChip(MirroredPin, []string{"supply", "ground", "timing", "output", "current"}, []field{
	{"pin", quantity.Volt, 2.5, 0.01, 100}, {"mirror", quantity.None, 1, 1e-3, 1e3},
}))

// rampChip defines one of them.
//
// Long: its equations, one after the other.
func rampChip(kind Kind, terminals []string, more []field) definition {
	const supply, ground, timing, output, current = 0, 1, 2, 3, 4
	mirrored := len(terminals) > current
	mirror := func(e *element, x []float64) (amps float64) { // into the current pin
		return (e.across(x, current, ground) - e.v[rPin]) / mirrorOhms
	}
	sink := func(e *element, x []float64, y float64) (amps, byVolts float64) { // into the timing pin
		t := math.Tanh(e.across(x, timing, ground) / settlesWithin)
		on, _ := half(-y)
		share := e.v[rSinks] * on
		return share * t, share * (1 - t*t) / settlesWithin
	}
	drive := func(e *element, x []float64) float64 {
		at := e.across(x, timing, ground)
		set, reset := over(e.v[rLower]-at), over(at-e.v[rUpper])
		return latchDrive * (set - reset*(1-set))
	}
	off := func(e *element, x []float64) float64 { // how far its pin is below the middle
		return (e.v[rUpper]+e.v[rLower])/2 - e.across(x, timing, ground)
	}
	middle := func(e *element, x []float64) float64 {
		y, _ := eased(off(e, x), restGain)
		return y
	}
	direct := [][2]int{{supply, ground}, {timing, ground}, {output, ground}}
	if mirrored {
		direct = append(direct, [2]int{current, ground})
	}
	return definition{
		kind: kind, sign: manyLegs, terminals: terminals, rate: 3, check: "chip", restless: true, decides: true,
		fields: append([]field{
			{"upper", quantity.Volt, 2.8, 1e-3, 1e3}, {"lower", quantity.Volt, 1.1, 0, 1e3},
			{"sinks", quantity.Ampere, 8e-3, 1e-9, 10}, {"output", quantity.Ohm, 50, 1e-2, 1e6},
		}, more...),
		faults: always(
			fails("its oscillator dead, sinking all the time", 0.3, set(rUpper, 0)),
			ranging("leaky at its timing pin", 0.2, bridged(timing, ground), leaks),
			ranging("shorted at its timing pin", 0.1, bridged(timing, ground), shorts),
			ranging("stuck low at its output", 0.2, bridged(output, ground), shorts),
			ranging("dead, its output open", 0.2, cutOff(output), opens),
		),
		direct: func(*element) [][2]int { return direct },
		stamp: func(s *solving, i int, e *element, x []float64) bool {
			st := s.st
			e.inputs(st, ground, supply, timing, output)
			at, limited := e.across(x, timing, ground), false
			y, by, shift := 0.0, 0.0, 0.0
			if s.moment != nil {
				y, _ = latched.after(s.moment, s.moment.states[i][0], drive(e, x))
			} else {
				steep, wants := s.keen*restGain, off(e, x)
				eases := s.ease(i, wants, steep, &limited)
				y, by = eased(eases, steep)
				by, shift = s.steep*by, wants-eases
			}
			e.side(st, x, side{output, ground, 1 / e.v[rOut], 0}, -y, steered{by, at + shift, timing, ground})
			e.side(st, x, side{output, supply, 1 / e.v[rOut], 0}, y, steered{-by, at + shift, timing, ground})
			amps, g := sink(e, x, y)
			st.nonlinear(e.nodes[timing], e.nodes[ground], at, amps, g)
			_, slope := half(-y) // what it sinks grows as its pin rises
			steep := e.v[rSinks] * slope * by * math.Tanh(at/settlesWithin)
			st.nonlinear(e.nodes[timing], e.nodes[ground], at+shift, 0, steep)
			if mirrored {
				st.conductance(e.nodes[current], e.nodes[ground], 1/mirrorOhms)
				st.source(e.nodes[current], e.v[rPin]/mirrorOhms)
				st.source(e.nodes[ground], -e.v[rPin]/mirrorOhms)
				// What flows out of the current pin comes from the supply into the capacitor.
				st.control(e.nodes[timing], e.nodes[supply], e.nodes[current], e.nodes[ground], e.v[rMirror]/mirrorOhms)
				st.source(e.nodes[timing], e.v[rMirror]*e.v[rPin]/mirrorOhms)
				st.source(e.nodes[supply], -e.v[rMirror]*e.v[rPin]/mirrorOhms)
			}
			return limited
		},
		into: func(e *element, x []float64) []float64 {
			y := middle(e, x)
			out := make([]float64, len(terminals))
			for _, p := range []int{supply, timing, output} {
				flow(out, p, ground, e.across(x, p, ground)/inputOhms)
			}
			flow(out, output, ground, side{output, ground, 1 / e.v[rOut], 0}.amps(e, x, -y))
			flow(out, output, supply, side{output, supply, 1 / e.v[rOut], 0}.amps(e, x, y))
			amps, _ := sink(e, x, y)
			flow(out, timing, ground, amps)
			if mirrored {
				flow(out, current, ground, mirror(e, x))
				flow(out, timing, supply, e.v[rMirror]*mirror(e, x))
			}
			return out
		},
		small:  func(*linear, *element) {},
		stores: func(e *element, x []float64) [2]state { y := middle(e, x); return [2]state{{held: y}} },
		passes: func(m *moment, e *element, x []float64, s [2]state, out *[2]state) {
			out[0] = latched.stood(m, s[0], drive(e, x))
		},
		off: func(_ *Net, e *element) { *e = resistance(e.part, e.nodes[supply], e.nodes[ground], inputOhms) },
	}
}

// mirrorOhms is what a current pin gives way by: little beside any resistor that hangs on it.
const mirrorOhms = 1.0
