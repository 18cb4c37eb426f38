package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// Controlled is an amplifier whose gain a voltage sets, by so many decibels a volt, about the middle of its supplies.
const Controlled Kind = "controlled amplifier"

// Its pins, and its values: gain at no control (V/V), dB for a volt of it, the most that it amplifies, ohms of its input and output,
// volts that it stays short of its supplies.
const (
	vIn, vOut, vControl, vGround, vUpper, vLower = 0, 1, 2, 3, 4, 5

	vGain, vPerVolt, vMost, vInOhms, vOutOhms, vShort = 0, 1, 2, 3, 4, 5
)

var _ = define(definition{
	kind:      Controlled,
	sign:      manyLegs,
	terminals: []string{"input", "output", "control", "ground", "upper supply", "lower supply"},
	fields: []field{
		{"gain", quantity.None, 1, 1e-6, 1e6},
		{"per volt", quantity.Decibel, -20, -1e4, 1e4},
		{"most", quantity.None, 10, 1e-6, 1e6},
		{"input", quantity.Ohm, 20e3, 1, most},
		{"output", quantity.Ohm, 100, 1e-3, 1e6},
		{"headroom", quantity.Volt, 1.5, 0, 100},
	},
	rate:  3,
	check: "chip",
	faults: always(
		ranging("dead, its output open", 0.35, cutOff(vOut), opens),
		fails("mute, whatever its control has", 0.2, set(vMost, 1e-6)),
		ranging("leaky at its control", 0.15, bridged(vControl, vLower), leaks),
		ranging("shorted from its output to its upper supply", 0.15, bridged(vOut, vUpper), shorts),
		ranging("shorted from its output to its lower supply", 0.15, bridged(vOut, vLower), shorts),
	),
	branches: 1,
	direct: func(*element) [][2]int {
		return [][2]int{{vIn, vUpper}, {vIn, vLower}, {vOut, vLower}, {vControl, vGround}, {vGround, vLower}, {vUpper, vLower}}
	},
	stamp: func(s *solving, _ int, e *element, x []float64) bool {
		st := s.st
		e.inputs(st, vGround, vControl)
		e.inputs(st, vLower, vGround)
		for _, supply := range []int{vUpper, vLower} { // it holds its input in the middle
			st.conductance(e.nodes[vIn], e.nodes[supply], 1/(2*e.v[vInOhms]))
		}
		v, byIn, byControl := e.controlled(x)
		byIn, byControl = s.steep*byIn, s.steep*byControl
		// V(out) − rout·I = v + byIn·(Vin − Vin₀) + byControl·(Vc − Vc₀), about the middle of the supplies
		st.add(e.nodes[vOut], e.branch, 1)
		supply := e.nodes[vUpper]
		if x[e.branch] > 0 {
			supply = e.nodes[vLower]
		}
		st.add(supply, e.branch, -1)
		st.add(e.branch, e.nodes[vOut], 1)
		for _, pin := range []int{vUpper, vLower} {
			st.add(e.branch, e.nodes[pin], -(1-byIn)/2)
		}
		st.add(e.branch, e.nodes[vIn], -byIn)
		st.add(e.branch, e.nodes[vControl], -byControl)
		st.add(e.branch, e.nodes[vGround], byControl)
		st.add(e.branch, e.branch, -e.v[vOutOhms])
		middle := e.middle(x)
		st.b[e.branch] += v - middle - byIn*(volts(x, e.nodes[vIn])-middle) - byControl*e.across(x, vControl, vGround)
		return false
	},
	into: func(e *element, x []float64) []float64 {
		up, down := e.across(x, vIn, vUpper)/(2*e.v[vInOhms]), e.across(x, vIn, vLower)/(2*e.v[vInOhms])
		control, gnd := e.across(x, vControl, vGround)/inputOhms, e.across(x, vGround, vLower)/inputOhms
		out := []float64{up + down, x[e.branch], control, gnd - control, -up, -down - gnd}
		if x[e.branch] > 0 {
			out[vLower] -= x[e.branch]
		} else {
			out[vUpper] -= x[e.branch]
		}
		return out
	},
	off: func(n *Net, e *element) {
		n.cut = append(n.cut, cut{e.branch, ground})
		*e = resistance(e.part, e.nodes[vIn], e.nodes[vLower], 2*e.v[vInOhms])
	},
})

func (e *element) middle(x []float64) float64 {
	return (volts(x, e.nodes[vUpper]) + volts(x, e.nodes[vLower])) / 2
}

// controlled is the open output of a controlled amplifier, and what that changes by with its input and its control.
func (e *element) controlled(x []float64) (v, byIn, byControl float64) {
	middle := e.middle(x)
	half := max((volts(x, e.nodes[vUpper])-volts(x, e.nodes[vLower]))/2-e.v[vShort], 1e-3)
	decibels := max(-200, min(e.v[vPerVolt]*e.across(x, vControl, vGround), 200))
	gain := e.v[vGain] * math.Pow(10, decibels/20)
	steep := e.v[vPerVolt] * math.Ln10 / 20
	if gain > e.v[vMost] || math.Abs(decibels) >= 200 {
		gain, steep = min(gain, e.v[vMost]), 0
	}
	in := volts(x, e.nodes[vIn]) - middle
	t := math.Tanh(gain * in / half)
	byIn = gain * (1 - t*t)
	return middle + half*t, byIn, byIn * in * steep
}
