package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// Thermistor is a resistor that follows the temperature: by its resistance at 25 °C and its B,
// R = R₂₅·exp(B·(1/T − 1/T₂₅)); one whose resistance rises with it has a B below zero. The
// temperature is told; what it heats itself is left out.
const Thermistor Kind = "thermistor"

const thB, thAt = 1, 2

var _ = define(definition{
	kind:      Thermistor,
	sign:      halfway(boxSign+"M-12 9h4L11 -10", "", 11),
	terminals: []string{"one end", "the other"},
	fields: []field{
		{"", quantity.Ohm, needed, 1e-3, most},
		{"B", quantity.None, 3900, -2e4, 2e4},
		{"at", quantity.Celsius, 25, -60, 300},
		watts,
	},
	rate:   2,
	spread: []spread{{main, 0.05}},
	check:  "thermistor",
	alone:  "its resistance",
	faults: always(
		ranging("open", 0.6, setTo(main), opens),
		drifts("drifted high", 0.25, more),
		drifts("drifted low", 0.15, less),
	),
	direct: ends,
	stamp: func(s *solving, _ int, e *element, _ []float64) bool {
		s.st.conductance(e.nodes[0], e.nodes[1], 1/e.thermistor())
		return false
	},
	into:    func(e *element, x []float64) []float64 { return through(e.across(x, 0, 1) / e.thermistor()) },
	figures: func(_ *Net, e *element) Figures { return Figures{Value: e.thermistor()} },
	moved: func(e *element, x, y []complex128, _ float64) complex128 {
		return between(y, e) * between(x, e) / complex(e.thermistor(), 0)
	},
})

// thermistor is its resistance as warm as it is, in ohms.
func (e *element) thermistor() float64 {
	const zero, reference = 273.15, 298.15 // kelvin
	return e.v[main] * math.Exp(e.v[thB]*(1/(e.v[thAt]+zero)-1/reference))
}
