package circuit

import (
	"steptrace/core/quantity"
)

// Contact is a switch's contact; Joint one that is soldered or plugged.
const (
	Contact Kind = "contact"
	Joint   Kind = "joint"
)

const closed = 1 // contact

var _ = define(definition{
	kind:      Contact,
	sign:      halfway("M0 -9l8 16M0 9v-2", "", 9),
	terminals: []string{"one side", "the other"},
	fields:    []field{{"", quantity.Ohm, 0.05, 1e-6, most}, {byLaw, quantity.None, 1, 0, 1}},
	laws:      []law{flag("open", closed, 0), flag("closed", closed, 1)},
	rate:      6,
	check:     "continuity",
	faults: func(e *element) []Fault {
		if e.v[closed] < 0.5 { // an open contact can only stick
			return []Fault{fails("welded or stuck closed", 0.5, set(closed, 1))}
		}
		return []Fault{ranging("open", 0.5, setTo(main), opens), ranging("resistive", 0.4, setTo(main), poor)}
	},
	direct: ends,
	stamp: func(s *solving, _ int, e *element, _ []float64) bool {
		s.st.conductance(e.nodes[0], e.nodes[1], 1/e.contact())
		return false
	},
	into: func(e *element, x []float64) []float64 { return through(e.across(x, 0, 1) / e.contact()) },
})

var _ = define(definition{
	kind:      Joint,
	sign:      halfway("", "M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0", 0),
	terminals: []string{"one side", "the other"},
	fields:    []field{{"", quantity.Ohm, 0.01, 1e-6, most}},
	rate:      3,
	check:     "continuity",
	faults:    always(ranging("open", 0.6, setTo(main), opens), ranging("resistive", 0.4, setTo(main), poor)),
	direct:    ends,
	stamp:     conducts,
	into:      conducted,
})

// contact is what a switch's contact has, in ohms.
func (e *element) contact() float64 {
	if e.v[closed] < 0.5 {
		return openContact
	}
	return e.v[main]
}
