package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// Relay is a relay with one contact.
const Relay Kind = "relay"

// Volts it pulls in at, henries of its coil, ohms of its contact, whether that is closed at rest.
const pull, coilH, made, rests = 1, 2, 3, 4

var _ = define(coiled(definition{
	kind:      Relay,
	terminals: []string{"coil", "coil's other end", "contact", "contact's other side"},
	fields:    []field{{byLaw, quantity.None, 0, 0, 1}},
	laws:      []law{flag("open at rest", rests, 0), flag("closed at rest", rests, 1)},
	faults: always(
		ranging("open in its contact", 0.35, setTo(made), opens),
		ranging("resistive in its contact", 0.25, setTo(made), poor),
		fails("welded or stuck in its contact", 0.1, bridge(2, 3, 0.1)),
	),
	direct: func(*element) [][2]int { return [][2]int{{0, 1}, {2, 3}} },
	stamp: func(s *solving, _ int, e *element, x []float64) bool {
		s.st.conductance(e.nodes[2], e.nodes[3], 1/e.worked(x))
		return false
	},
	into: func(e *element, x []float64) []float64 { return through(e.across(x, 2, 3) / e.worked(x)) },
}))

// coiled is a relay with the contact that is given: what its coil is, and how that fails, is the same of each.
func coiled(d definition) definition {
	d.sign, d.rate, d.spread, d.check, d.branches = manyLegs, 6, []spread{{main, 0.05}}, "relay", 1
	d.fields = append([]field{
		{"", quantity.Ohm, needed, 0.1, most},
		{"pulls at", quantity.Volt, needed, 0.01, 1e4},
		{"inductance", quantity.Henry, 0.1, 1e-6, 1e4},
		{"contact", quantity.Ohm, 0.05, 1e-6, most},
	}, d.fields...)
	d.faults = always(append(d.faults(nil), ranging("open in its coil", 0.2, cutOff(0), opens),
		ranging("shorted in its coil's turns", 0.1, scaled(main), []float64{0.7, 0.2}))...)
	contact, into := d.stamp, d.into
	d.stamp = func(s *solving, i int, e *element, x []float64) bool {
		s.st.fix(e.branch, e.nodes[0], e.nodes[1], 0, e.v[main])
		s.moment.coil(s.st, i, e, e.v[coilH])
		return contact(s, i, e, x)
	}
	d.into = func(e *element, x []float64) []float64 { return append(through(x[e.branch]), into(e, x)...) }
	d.figures = func(_ *Net, e *element) Figures { return Figures{Value: e.v[main], Pulls: e.v[pull]} }
	d.small = func(l *linear, e *element) { l.c.add(e.branch, e.branch, -e.v[coilH]) }
	d.stores = func(e *element, x []float64) [2]state { return [2]state{{held: e.v[coilH] * x[e.branch]}} }
	d.passes = induces
	return d
}

// worked is what a relay's contact has, in ohms, with its coil as it is.
func (e *element) worked(x []float64) float64 {
	pulled := math.Abs(e.across(x, 0, 1)) >= e.v[pull]
	if pulled == (e.v[rests] > 0.5) {
		return openContact
	}
	return e.v[made]
}
