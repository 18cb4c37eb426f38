package circuit

import (
	"slices"

	"steptrace/core/device"
	"steptrace/core/quantity"
)

// Timer is the timer of eight pins: two comparators at thirds of its supply set and reset a latch, which works its output and
// a transistor that discharges.
const Timer Kind = "timer"

// The pins in their usual order, and its values: ohms of its output, of its discharge, of each of its divider's three, and
// what its output stays below its supply.
const (
	tGround, tTrigger, tOutput, tReset, tControl, tThreshold, tDischarge, tSupply = 0, 1, 2, 3, 4, 5, 6, 7

	tOut, tSink, tThird, tShort = 0, 1, 2, 3
)

// latched is a latch of 100 ns that holds itself; latchDrive is what sets it, and resetVolts what its reset pin has to have.
var latched = slewing{eager: 2e6, fastest: 2e7, holds: 20}

const latchDrive, resetVolts = 60.0, 0.7

var _ = define(definition{
	kind:      Timer,
	sign:      manyLegs,
	terminals: []string{"ground", "trigger", "output", "reset", "control", "threshold", "discharge", "supply"},
	fields: []field{
		{"output", quantity.Ohm, 15, 1e-2, 1e6},
		{"discharge", quantity.Ohm, 12, 1e-2, 1e6},
		{"divider", quantity.Ohm, 5e3, 10, 1e9},
		{"headroom", quantity.Volt, 1.3, 0, 100},
	},
	types: &types{[]device.Kind{device.Timer}, "", nothingTyped},
	rate:  3,
	check: "chip",
	faults: always(
		ranging("stuck low", 0.25, bridged(tOutput, tGround), shorts),
		ranging("stuck high", 0.15, bridged(tOutput, tSupply), shorts),
		ranging("dead, its output open", 0.25, cutOff(tOutput), opens),
		ranging("open at its discharge", 0.15, cutOff(tDischarge), opens),
		ranging("leaky at its threshold", 0.1, bridged(tThreshold, tGround), leaks),
		ranging("shorted in its supply", 0.1, bridged(tSupply, tGround), shorts),
	),
	direct: func(*element) [][2]int {
		return [][2]int{{1, 0}, {3, 0}, {4, 0}, {4, 7}, {5, 0}, {6, 0}, {7, 0}, {2, 0}}
	},
	stamp: func(s *solving, i int, e *element, x []float64) bool {
		st := s.st
		e.inputs(st, tGround, tTrigger, tReset, tThreshold, tDischarge)
		st.conductance(e.nodes[tSupply], e.nodes[tControl], 1/e.v[tThird])
		st.conductance(e.nodes[tControl], e.nodes[tGround], 1/(2*e.v[tThird]))
		if s.moment != nil { // nothing of a moment steers a latch
			y, _ := latched.after(s.moment, s.moment.states[i][0], e.latch(x))
			e.moves(st, x, y, nil)
			return false
		}
		limited := false
		steep := s.keen * restGain
		mean := e.across(x, tThreshold, tGround)/2 + e.across(x, tTrigger, tGround)/2
		off := 0.75*e.across(x, tControl, tGround) - mean
		eases := s.ease(i, off, steep, &limited)
		y, by := eased(eases, steep)
		held := over(resetVolts - e.across(x, tReset, tGround))
		y, by = y*(1-held)-held, s.steep*by*(1-held)
		shift := eases - off
		e.moves(st, x, y, []steered{
			{0.75 * by, e.across(x, tControl, tGround) + shift/0.75, tControl, tGround},
			{-by / 2, e.across(x, tThreshold, tGround), tThreshold, tGround},
			{-by / 2, e.across(x, tTrigger, tGround), tTrigger, tGround},
		})
		return limited
	},
	into: func(e *element, x []float64) []float64 {
		y := e.balanced(x)
		out := make([]float64, 8)
		for _, p := range []int{tTrigger, tReset, tThreshold, tDischarge} {
			flow(out, p, tGround, e.across(x, p, tGround)/inputOhms)
		}
		flow(out, tSupply, tControl, e.across(x, tSupply, tControl)/e.v[tThird])
		flow(out, tControl, tGround, e.across(x, tControl, tGround)/(2*e.v[tThird]))
		for _, o := range e.down() {
			flow(out, o.pin, o.supply, o.amps(e, x, -y))
		}
		flow(out, tOutput, tSupply, e.up().amps(e, x, y))
		return out
	},
	small:  func(*linear, *element) {},
	stores: func(e *element, x []float64) [2]state { y := e.balanced(x); return [2]state{{held: y}} },
	passes: func(m *moment, e *element, x []float64, s [2]state, out *[2]state) {
		out[0] = latched.stood(m, s[0], e.latch(x))
	},
	off:      func(_ *Net, e *element) { *e = resistance(e.part, e.nodes[tSupply], e.nodes[tGround], 3*e.v[tThird]) },
	restless: true,
	decides:  true,
})

// latch is what sets the latch, or resets it: the trigger below half the control's volts wins over the threshold above them,
// and the reset over both.
func (e *element) latch(x []float64) float64 {
	control := e.across(x, tControl, tGround)
	set := over(control/2 - e.across(x, tTrigger, tGround))
	reset := over(e.across(x, tThreshold, tGround) - control)
	held := over(resetVolts - e.across(x, tReset, tGround))
	return latchDrive * ((set-reset*(1-set))*(1-held) - held)
}

// down are the sides by which a timer pulls down: its output, and what discharges. Up is the other.
func (e *element) down() [2]side {
	return [2]side{{tOutput, tGround, 1 / e.v[tOut], 0}, {tDischarge, tGround, 1 / e.v[tSink], 0}}
}

func (e *element) up() side { return side{tOutput, tSupply, 1 / e.v[tOut], e.v[tShort]} }

// moves writes what a timer's latch works.
func (e *element) moves(st *stamps, x []float64, y float64, by []steered) {
	down := slices.Clone(by)
	for k := range down {
		down[k].by = -down[k].by
	}
	for _, o := range e.down() {
		e.side(st, x, o, -y, down...)
	}
	e.side(st, x, e.up(), y, by...)
}

// balanced is how far a timer is up that stands between: by the mean of its inputs, held against the middle of its thirds.
func (e *element) balanced(x []float64) float64 {
	mean := (e.across(x, tThreshold, tGround) + e.across(x, tTrigger, tGround)) / 2
	y, _ := eased(0.75*e.across(x, tControl, tGround)-mean, restGain)
	held := over(resetVolts - e.across(x, tReset, tGround))
	return y*(1-held) - held
}

// restGain is how steeply a latch is steered at rest.
const restGain = 50.0
