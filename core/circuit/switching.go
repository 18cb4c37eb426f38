package circuit

import (
	"math"
	"math/cmplx"

	"steptrace/core/quantity"
)

// Switching is what switches its common terminal to and fro between two others, many times in what happens else, for a share of the
// time that its inputs set: a switching regulator's switch and diode, a class D output. It is solved in the mean over a turn
// (Vorpérian, "Simplified analysis of PWM converters using model of PWM switch", 1990): the common has the passive's volts and
// that share of what the active has above them; the active carries that share of the common's current.
const Switching Kind = "switching stage"

// Its pins, and its values: by how much a volt between its inputs changes the share, the most of it, ohms of its switches, and
// how often it switches.
const (
	wActive, wPassive, wCommon, wPlus, wMinus = 0, 1, 2, 3, 4

	wGain, wMost, wOn, wCarrier, wWay = 0, 1, 2, 3, 4
)

// blocks is what a diode has that its current cannot go back through, in ohms.
const blocks = 1e7

var _ = define(definition{
	kind:      Switching,
	sign:      halfway("M-9 -13h18v26h-18zM-6 3h3v-6h4v6h4", "", 13),
	terminals: []string{"active", "passive", "common", "plus", "minus"},
	fields: []field{
		{"gain", quantity.None, 50, 1e-3, 1e6},
		{"most", quantity.Ratio, 1, 0, 1},
		{"on", quantity.Ohm, 0.1, 1e-6, 1e6},
		{"carrier", quantity.Hertz, 100e3, 1, 1e9},
		{byLaw, quantity.None, 1, -1, 1},
	},
	// With a diode its current goes one way only: out of the common where it steps down, into it where it steps up.
	laws:  []law{flag("down", wWay, 1), flag("up", wWay, -1), flag("both ways", wWay, 0)},
	rate:  5,
	check: "chip",
	faults: always(
		fails("not driven, its switch open", 0.35, set(wMost, 0)),
		ranging("shorted in its switch, from active to common", 0.35, bridged(wActive, wCommon), shorts),
		ranging("shorted in its diode or lower switch", 0.2, bridged(wPassive, wCommon), shorts),
		ranging("of high resistance", 0.1, setTo(wOn), []float64{1, 10, 100}),
	),
	branches: 1,
	direct:   func(*element) [][2]int { return [][2]int{{wCommon, wPassive}, {wActive, wCommon}, {wPlus, wMinus}} },
	stamp: func(s *solving, _ int, e *element, x []float64) bool {
		st := s.st
		st.conductance(e.nodes[wPlus], e.nodes[wMinus], 1/inputOhms)
		share, by := e.share(x)
		by *= s.steep
		a, p, c := e.nodes[wActive], e.nodes[wPassive], e.nodes[wCommon]
		d, amps, between := e.across(x, wPlus, wMinus), x[e.branch], e.across(x, wActive, wPassive)
		// Currents into its pins, with I out of the common: share·I, (1 − share)·I, −I.
		st.add(c, e.branch, -1)
		st.add(a, e.branch, share)
		st.add(p, e.branch, 1-share)
		st.control(a, p, e.nodes[wPlus], e.nodes[wMinus], amps*by)
		st.source(a, amps*by*d)
		st.source(p, -amps*by*d)
		// V(common) − V(passive) − share·(V(active) − V(passive)) + on·I = 0
		st.add(e.branch, c, 1)
		st.add(e.branch, p, share-1)
		st.add(e.branch, a, -share)
		st.add(e.branch, e.nodes[wPlus], -by*between)
		st.add(e.branch, e.nodes[wMinus], by*between)
		st.add(e.branch, e.branch, e.on(amps))
		st.b[e.branch] -= by * between * d
		return false
	},
	carrier: func(e *element, x []float64) (hz, peak float64) {
		share, _ := e.share(x)
		return e.v[wCarrier], 2 / math.Pi * e.across(x, wActive, wPassive) * math.Sin(math.Pi*share)
	},
	into: func(e *element, x []float64) []float64 {
		share, _ := e.share(x)
		amps, in := x[e.branch], e.across(x, wPlus, wMinus)/inputOhms
		return []float64{share * amps, (1 - share) * amps, -amps, in, -in}
	},
	off: func(n *Net, e *element) {
		n.cut = append(n.cut, cut{e.branch, ground})
		*e = resistance(e.part, e.nodes[wCommon], e.nodes[wPassive], openOhms)
	},
})

// on is the ohms of its switches at a current out of its common.
func (e *element) on(amps float64) float64 {
	if amps*e.v[wWay] < 0 {
		return blocks
	}
	return e.v[wOn]
}

// share is the share of the time in which the common is at the active, and what that changes by with its inputs.
func (e *element) share(x []float64) (share, by float64) {
	t := math.Tanh(2 * e.v[wGain] * e.across(x, wPlus, wMinus))
	return e.v[wMost] * (1 + t) / 2, e.v[wMost] * e.v[wGain] * (1 - t*t)
}

// switches is the element that switches; nil where none does.
func (n *Net) switches() *element {
	for i := range n.elements {
		if n.elements[i].is.carrier != nil {
			return &n.elements[i]
		}
	}
	return nil
}

// carrier is what is left at a place of how a stage switches, volts peak to peak: the first line of its square at its common
// (peak 2·V·sin(π·share)/π), passed on as a small signal of its frequency.
func (v *view) carrier(e *element, l *look) float64 {
	hz, peak := e.is.carrier(e, v.x)
	b := make([]float64, v.net.size)
	b[e.branch] = peak
	x, ok := v.net.linear(v.x, 1).answer(hz, b)
	if !ok {
		return 0
	}
	return 2 * cmplx.Abs(pickComplex(x, l.node)-pickComplex(x, l.to))
}
