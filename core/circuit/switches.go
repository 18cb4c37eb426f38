package circuit

import (
	"steptrace/core/device"
	"steptrace/core/quantity"
)

// Switch is an analogue switch in a chip, which a control closes; Selector one that joins its common to either of two. They pass
// what lies between their supplies, and nothing without them.
const (
	Switch   Kind = "analogue switch"
	Selector Kind = "analogue changeover"
)

const sOn, sAbove = 0, 1 // its ohms, and the share of its supplies at which its control works it

// leastSupply is what a chip of switches needs to work, in volts, and switchLeak what one that is open has, in ohms.
const leastSupply, switchLeak = 2.5, 1e9

var (
	_ = define(electronicSwitch(Switch, []string{"one side", "the other", "control", "upper supply", "lower supply"}, []way{{0, 1, 1}},
		always(
			ranging("open, whatever its control has", 0.35, setTo(sOn), opens),
			ranging("closed, whatever its control has", 0.25, bridged(0, 1), []float64{30, 300}),
			ranging("resistive", 0.2, setTo(sOn), []float64{1e3, 1e4, 1e5}),
			ranging("leaky to its lower supply", 0.2, bridged(1, 4), leaks),
		)))
	_ = define(electronicSwitch(Selector, []string{"common", "low", "high", "control", "upper supply", "lower supply"},
		[]way{{0, 1, -1}, {0, 2, 1}},
		always(
			ranging("open both ways", 0.3, setTo(sOn), opens),
			fails("stuck on its low side", 0.2, set(sAbove, 1e3)),
			fails("stuck on its high side", 0.2, set(sAbove, -1e3)),
			ranging("resistive", 0.15, setTo(sOn), []float64{1e3, 1e4, 1e5}),
			ranging("leaky to its lower supply", 0.15, bridged(0, 5), leaks),
		)))
)

// way is a path through a switch: from a terminal to another, while its control is high (1) or low (−1).
type way struct {
	from, to int
	sign     float64
}

func electronicSwitch(kind Kind, terminals []string, ways []way, faults func(*element) []Fault) definition {
	control, upper, lower := len(terminals)-3, len(terminals)-2, len(terminals)-1
	direct := [][2]int{{control, lower}, {upper, lower}}
	for _, w := range ways {
		direct = append(direct, [2]int{w.from, w.to})
	}
	conductance := func(e *element, x []float64, sign float64) float64 {
		y, _ := eased(sign*(e.across(x, control, lower)-e.v[sAbove]*e.across(x, upper, lower)), pinSteep)
		fed, _ := eased(e.across(x, upper, lower)-leastSupply, pinSteep)
		on, _ := half(y)
		return on*(1+fed)/2/e.v[sOn] + 1/switchLeak
	}
	return definition{
		kind: kind, sign: manyLegs, terminals: terminals, rate: 3, check: "chip", faults: faults,
		types:  &types{[]device.Kind{device.Switch}, "", nothingTyped},
		fields: []field{{"", quantity.Ohm, 100, 0.1, most}, {"closes at", quantity.Ratio, 0.5, 0.01, 0.99}},
		direct: func(*element) [][2]int { return direct },
		stamp: func(s *solving, _ int, e *element, x []float64) bool {
			e.inputs(s.st, lower, control, upper)
			for _, w := range ways {
				s.st.conductance(e.nodes[w.from], e.nodes[w.to], conductance(e, x, w.sign))
			}
			return false
		},
		into: func(e *element, x []float64) []float64 {
			out := make([]float64, len(terminals))
			flow(out, control, lower, e.across(x, control, lower)/inputOhms)
			flow(out, upper, lower, e.across(x, upper, lower)/inputOhms)
			for _, w := range ways {
				flow(out, w.from, w.to, e.across(x, w.from, w.to)*conductance(e, x, w.sign))
			}
			return out
		},
		off: func(_ *Net, e *element) { *e = resistance(e.part, e.nodes[0], e.nodes[1], switchLeak) },
	}
}
