package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// Resistor is a resistor.
const Resistor Kind = "resistor"

var resistor = define(definition{
	kind:      Resistor,
	sign:      halfway(boxSign, "", 11),
	terminals: []string{"one end", "the other"},
	fields:    []field{{"", quantity.Ohm, needed, 1e-6, most}, watts},
	rate:      1,
	spread:    []spread{{main, 0.025}},
	check:     "resistor",
	alone:     "its resistance",
	faults: always(
		ranging("open", 0.59, setTo(main), opens),
		drifts("drifted high", 0.24, more),
		drifts("drifted low", 0.12, less),
		ranging("shorted", 0.05, bridgedOver, shorts),
	),
	direct:  ends,
	stamp:   conducts,
	into:    conducted,
	figures: value(main),
	moved: func(e *element, x, y []complex128, _ float64) complex128 {
		return between(y, e) * between(x, e) / complex(e.v[main], 0)
	},
})

// bridgedOver puts a resistance beside a resistor's own.
func bridgedOver(ohms float64) change {
	return func(n *Net, i int) { n.set(i, main, 1/(1/n.elements[i].v[main]+1/ohms)) }
}

// conducts and conducted are the equations of what is a resistance of its main value.
func conducts(s *solving, _ int, e *element, _ []float64) bool {
	s.st.conductance(e.nodes[0], e.nodes[1], 1/e.v[main])
	return false
}

func conducted(e *element, x []float64) []float64 { return through(e.across(x, 0, 1) / e.v[main]) }

// resistance is an element that is one, of a part that has failed or been cut off.
func resistance(part, a, b int, ohms float64) element {
	return element{resistor, part, []int{a, b}, []float64{ohms, math.Inf(1)}, -1}
}

// between is a voltage across an element's first two terminals among small signals.
func between(v []complex128, e *element) complex128 {
	at := func(node int) complex128 {
		if node < 0 {
			return 0
		}
		return v[node]
	}
	return at(e.nodes[0]) - at(e.nodes[1])
}
