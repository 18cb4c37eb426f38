package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// Zener is a Zener diode by the volts that are printed on it, which stand at 5 mA.
const Zener Kind = "zener"

const zVolts, zIs, zN, zWatts = 0, 1, 2, 3

var _ = define(definition{
	kind:      Zener,
	sign:      halfway("M-8 6h16M-8 6v4", "M-8 -6h16l-8 12z", 6),
	terminals: []string{"anode", "cathode"},
	fields: []field{
		{"", quantity.Volt, needed, 1.5, 400},
		{byLaw, quantity.Ampere, usualIs, 1e-20, 1},
		{byLaw, quantity.None, 1, 0.5, 10},
		watts,
	},
	types:  zenerTypes,
	laws:   []law{junctionDrop(zIs, zN)},
	rate:   2,
	check:  "diode",
	faults: always(diodeFaults...),
	// It is a diode that breaks through where these volts say.
	expand: func(r *reading, e element) {
		breakdown := e.v[zVolts] - thermal*math.Log(zenerAmps/e.v[zIs])
		r.elements = append(
			r.elements,
			element{sorts[Diode], e.part, e.nodes, []float64{e.v[zIs], e.v[zN], breakdown, e.v[zWatts], 0}, -1},
		)
	},
	figures: func(n *Net, e *element) Figures { return sorts[Diode].figures(n, e) },
})
