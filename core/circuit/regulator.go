package circuit

import (
	"math"

	"steptrace/core/device"
	"steptrace/core/quantity"
)

// Regulator holds its output at so many volts above its ground leg, of either sign, as long as its input has more than that.
const Regulator Kind = "regulator"

// What it drops at least, the current that it gives at most, what it takes for itself, and ohms of its output.
const gDrop, gMost, gOwn, gOut = 1, 2, 3, 4

const (
	// rejects is what is left of a change of its input, as data sheets have it (60 dB).
	rejects = 1e-3
	// beyondOhms is how steeply its output falls beyond its most current, and sinksOhms by what one that is pushed pushes back.
	beyondOhms, sinksOhms = 100.0, 1e4
	// limitsAt is by how many times its rated current one limits: data sheets of three legs give 1.5 to 2.2.
	limitsAt = 1.5
)

var _ = define(definition{
	kind:      Regulator,
	sign:      halfway("M-9 -13h18v26h-18zM-4 -4h8M-4 4h8", "", 13),
	terminals: []string{"input", "ground leg", "output"},
	fields: []field{
		{"", quantity.Volt, needed, -1e3, 1e3},
		{"drops", quantity.Volt, 2, 0, 100},
		{"limit", quantity.Ampere, 1.5, 1e-4, 1e3},
		{"own current", quantity.Ampere, 4e-3, 0, 1},
		{"output", quantity.Ohm, 0.05, 1e-6, 1e3},
		watts,
	},
	types:  &types{[]device.Kind{device.Regulator}, "", regulatorTyped},
	rate:   3,
	spread: []spread{{main, 0.02}},
	check:  "chip",
	faults: always(
		ranging("dead, its output open", 0.35, cutOff(2), opens),
		ranging("shorted from input to output", 0.3, bridged(0, 2), shorts),
		ranging("of too many volts", 0.1, scaled(main), []float64{1.08, 1.3, 2}),
		ranging("of too few volts", 0.1, scaled(main), []float64{0.92, 0.6, 0.2}),
		ranging("shorted from output to ground", 0.15, bridged(2, 1), shorts),
	),
	branches: 1,
	direct:   func(*element) [][2]int { return [][2]int{{2, 1}, {0, 1}} },
	stamp: func(s *solving, _ int, e *element, x []float64) bool {
		st := s.st
		sign := math.Copysign(1, e.v[main])
		in, leg, out := e.nodes[0], e.nodes[1], e.nodes[2]
		own, ownBy := e.ownAmps(x)
		st.nonlinear(in, leg, e.across(x, 0, 1), own, ownBy)
		v, byIn := e.regulates(x)
		ohms, rest := e.droops(x)
		// V(out) − V(leg) + ohms·I = v, I out of the output
		st.add(out, e.branch, -1)
		st.add(in, e.branch, 1)
		st.add(e.branch, out, 1)
		st.add(e.branch, leg, -1+byIn)
		st.add(e.branch, in, -byIn)
		st.add(e.branch, e.branch, ohms)
		st.b[e.branch] += v - byIn*e.across(x, 0, 1) - sign*rest
		return false
	},
	into: func(e *element, x []float64) []float64 {
		own, _ := e.ownAmps(x)
		return []float64{own + x[e.branch], -own, -x[e.branch]}
	},
	off: func(n *Net, e *element) {
		n.cut = append(n.cut, cut{e.branch, ground})
		*e = resistance(e.part, e.nodes[2], e.nodes[1], sinksOhms)
	},
})

func regulatorTyped(t *device.Type) map[string]string {
	out := map[string]string{}
	if t.Drop > 0 {
		sign := ""
		if t.Row.Polarity == "negative" {
			sign = "-"
		}
		out[""] = sign + quantity.Rounded(t.Drop, quantity.Volt)
	}
	if t.Amps > 0 {
		out["limit"] = quantity.Rounded(limitsAt*t.Amps, quantity.Ampere)
	}
	return out
}

// regulates is what it would hold its open output at, against its ground leg, and what that changes by with its input.
func (e *element) regulates(x []float64) (v, byIn float64) {
	sign := math.Copysign(1, e.v[main])
	in := sign * e.across(x, 0, 1)
	holds := math.Abs(e.v[main])
	// It begins to let something through a little at a time: softly about what it drops.
	over := (in - e.v[gDrop]) / opensWithin
	left, by := opensWithin*over, 1.0
	if over < 30 {
		left, by = opensWithin*math.Log1p(math.Exp(over)), 1/(1+math.Exp(-over))
	}
	if left < holds {
		return sign * left, by
	}
	return sign * (holds + rejects*(left-holds)), rejects * by
}

// opensWithin is the voltage over which a regulator begins to conduct.
const opensWithin = 0.15

// droops is the ohms of its output at its current, and the volts that go with them: beyond its limit it gives way.
func (e *element) droops(x []float64) (ohms, rest float64) {
	amps := math.Copysign(1, e.v[main]) * x[e.branch]
	switch {
	case amps > e.v[gMost]:
		return e.v[gOut] + beyondOhms, -beyondOhms * e.v[gMost]
	case amps < 0:
		return sinksOhms, 0
	}
	return e.v[gOut], 0
}

// ownAmps is what it takes for itself, as far as its input has volts.
func (e *element) ownAmps(x []float64) (amps, by float64) {
	t := math.Tanh(e.across(x, 0, 1))
	return e.v[gOwn] * t, e.v[gOwn] * (1 - t*t)
}
