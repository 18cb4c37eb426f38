package circuit

import (
	"math"

	"steptrace/core/device"
)

// What chips have in common: inputs that load little, pins that steer, outputs that pull to a supply.

// inputOhms is what the inputs of chips load with.
const inputOhms = 1e10

// nothingTyped is of a kind whose types say no more than what they are.
func nothingTyped(*device.Type) map[string]string { return nil }

// over is 1 where volts are above nothing, and 0 below.
func over(volts float64) float64 {
	if volts > 0 {
		return 1
	}
	return 0
}

// pinSteep is how steeply (1/V) a pin that lets something pass does so.
const pinSteep = 20.0

// eased is how far what decides is to one end, −1 to 1, by volts, and what that changes by with them.
func eased(volts, steep float64) (y, by float64) {
	y = math.Tanh(steep * volts)
	return y, steep * max(1-y*y, 1e-12)
}

// ease keeps what steers from leaping over the volts within which it turns from one end to the other: it goes half as far again as
// it stands from the middle, and one turn (as a junction's voltage is kept, Nagel 1975).
func (s *solving) ease(i int, volts, steep float64, limited *bool) float64 {
	before := s.held[2*i]
	most := 1/steep + math.Abs(before)/2
	eased := max(before-most, min(volts, before+most))
	if eased != volts && (math.Abs(eased)*steep < farOff || math.Signbit(eased) != math.Signbit(volts)) {
		*limited = true
	} else {
		eased = volts
	}
	s.held[2*i] = eased
	return eased
}

// farOff is from how many turns on all is the same.
const farOff = 20.0

// inputs are what pins load another with.
func (e *element) inputs(st *stamps, against int, pins ...int) {
	for _, p := range pins {
		st.conductance(e.nodes[p], e.nodes[against], 1/inputOhms)
	}
}

// side is one side of an output: a conductance (S) from a pin to a supply less volts.
type side struct {
	pin, supply int
	conducts    float64
	less        float64
}

// half is how much of a side is on at y: nothing below the middle, so that what it moves cannot turn it back.
func half(y float64) (on, by float64) {
	if y <= 0 {
		return 0, 0
	}
	return y * y, 2 * y
}

// steered is what something that is on changes by with the voltage from one terminal to another, about so many volts of it.
type steered struct {
	by, at float64
	c, d   int
}

// side writes a side that is on as far as y has it (−1 to 1).
func (e *element) side(st *stamps, x []float64, o side, y float64, by ...steered) {
	on, slope := half(y)
	pin, supply := e.nodes[o.pin], e.nodes[o.supply]
	st.conductance(pin, supply, o.conducts*on)
	rest := o.conducts * on * o.less
	for _, b := range by {
		steep := o.conducts * slope * b.by * (e.across(x, o.pin, o.supply) + o.less)
		st.control(pin, supply, e.nodes[b.c], e.nodes[b.d], steep)
		rest -= steep * b.at
	}
	st.source(pin, -rest)
	st.source(supply, rest)
}

// amps is the current into the pin.
func (o side) amps(e *element, x []float64, y float64) float64 {
	on, _ := half(y)
	return o.conducts * on * (e.across(x, o.pin, o.supply) + o.less)
}

// flow puts a current in at one terminal of an element and out at another.
func flow(out []float64, from, to int, amps float64) {
	out[from], out[to] = out[from]+amps, out[to]-amps
}
