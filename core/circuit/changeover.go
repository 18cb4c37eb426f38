package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// Changeover is a switch that joins one contact to either of two others; ChangeoverRelay one that a coil works.
const (
	Changeover      Kind = "changeover"
	ChangeoverRelay Kind = "changeover relay"
)

// Whether a switch is worked, and on which side a relay's contact is stuck.
const (
	thrown                 = 1 // changeover
	jammed                 = 4 // changeover relay
	free, atRest, onWorked = 0, 1, 2
)

var _ = define(definition{
	kind:      Changeover,
	sign:      manyLegs,
	terminals: []string{"common", "at rest", "worked"},
	fields:    []field{{"", quantity.Ohm, 0.05, 1e-6, most}, {byLaw, quantity.None, 0, 0, 1}},
	laws:      []law{flag("at rest", thrown, 0), flag("worked", thrown, 1)},
	rate:      6,
	check:     "continuity",
	faults: func(e *element) []Fault {
		return []Fault{
			ranging("open", 0.4, setTo(main), opens),
			ranging("resistive", 0.35, setTo(main), poor),
			fails("stuck on its other side", 0.2, set(thrown, 1-e.v[thrown])),
			fails("bridged from side to side", 0.05, bridge(1, 2, 0.1)),
		}
	},
	direct: func(*element) [][2]int { return [][2]int{{0, 1}, {0, 2}} },
	stamp: func(s *solving, _ int, e *element, _ []float64) bool {
		s.st.sides(e, 0, e.v[thrown] > 0.5, e.v[main])
		return false
	},
	into: func(e *element, x []float64) []float64 { return e.bySides(x, 0, e.v[thrown] > 0.5, e.v[main]) },
})

var _ = define(coiled(definition{
	kind:      ChangeoverRelay,
	terminals: []string{"coil", "coil's other end", "common", "at rest", "worked"},
	fields:    []field{{byLaw, quantity.None, free, free, onWorked}},
	faults: always(
		ranging("open in its contact", 0.3, setTo(made), opens),
		ranging("resistive in its contact", 0.25, setTo(made), poor),
		fails("stuck on its side at rest", 0.07, set(jammed, atRest)),
		fails("welded or stuck on its worked side", 0.08, set(jammed, onWorked)),
	),
	direct: func(*element) [][2]int { return [][2]int{{0, 1}, {2, 3}, {2, 4}} },
	stamp: func(s *solving, _ int, e *element, x []float64) bool {
		s.st.sides(e, 2, e.changed(x), e.v[made])
		return false
	},
	into: func(e *element, x []float64) []float64 { return e.bySides(x, 2, e.changed(x), e.v[made]) },
}))

// changed tells whether a relay's contact is on its worked side.
func (e *element) changed(x []float64) bool {
	switch e.v[jammed] {
	case atRest:
		return false
	case onWorked:
		return true
	}
	return math.Abs(e.across(x, 0, 1)) >= e.v[pull]
}

// sides writes a changeover contact, whose common terminal is given and whose sides follow it: the ohms of the one that is
// made, and what is left across the other.
func (s *stamps) sides(e *element, common int, worked bool, ohms float64) {
	rest, work := bothSides(worked, ohms)
	s.conductance(e.nodes[common], e.nodes[common+1], 1/rest)
	s.conductance(e.nodes[common], e.nodes[common+2], 1/work)
}

// bySides is the current into each of its terminals.
func (e *element) bySides(x []float64, common int, worked bool, ohms float64) []float64 {
	rest, work := bothSides(worked, ohms)
	a, b := e.across(x, common, common+1)/rest, e.across(x, common, common+2)/work
	return []float64{a + b, -a, -b}
}

// bothSides are the ohms to either side.
func bothSides(worked bool, ohms float64) (rest, work float64) {
	if worked {
		return openContact, ohms
	}
	return ohms, openContact
}
