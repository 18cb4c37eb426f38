package device

import "strings"

// Shape is how the legs of a case stand.
type Shape string

// Row: legs in a row. Can: in a ring about the middle, seen from below. Flange: two pins out of the middle, so that
// it goes in one way round, and the case itself. Axial: one at
// each end. Dual: in two rows, counted around from the notch. Ring: a tube's, from below.
const (
	InRow  Shape = "row"
	Can    Shape = "can"
	Flange Shape = "flange"
	Axial  Shape = "axial"
	Dual   Shape = "dual"
	Ring   Shape = "ring"
)

// Case is an outline as it is registered.
type Case struct {
	Name  string
	Shape Shape
	Legs  int
	Seen  string // as what its order of legs is told
	// Tab is the leg, from 0, to which metal that can be touched is tied; -1 for none, or one that differs.
	Tab int
	// Sink tells that it is made to be bolted or clipped to a heat sink.
	Sink bool
	// Air is from the junction to free air, kelvins a watt: round figures of many data sheets. 0: not known.
	Air float64
}

const (
	fromFront = "from its marked side, legs down, left to right"
	fromBelow = "from below, clockwise from its tab"
	around    = "from above, around from the notch, against the clock"
)

var cases = []Case{
	{"TO-92", InRow, 3, "from its flat side, legs down, left to right", -1, false, 200},
	{"TO-126", InRow, 3, fromFront, 1, true, 100},
	{"TO-220", InRow, 3, fromFront, 1, true, 62.5},
	{"TO-220 full", InRow, 3, fromFront, -1, true, 62.5},
	{"TO-218", InRow, 3, fromFront, 1, true, 40},
	{"TO-247", InRow, 3, fromFront, 1, true, 40},
	{"TO-3P", InRow, 3, fromFront, 1, true, 40},
	{"TO-264", InRow, 3, fromFront, 1, true, 30},
	{"TO-18", Can, 3, fromBelow, 2, false, 500},
	{"TO-39", Can, 3, fromBelow, 2, false, 200},
	{"TO-1", Can, 3, "from below, clockwise", -1, false, 0},
	{"TO-3", Flange, 3, "pin 1, pin 2, the case last", 2, true, 35},
	{"TO-66", Flange, 3, "pin 1, pin 2, the case last", 2, true, 0},
	{"DO-35", Axial, 2, "band at the cathode", -1, false, 350},
	{"DO-41", Axial, 2, "band at the cathode", -1, false, 100},
	{"DO-201", Axial, 2, "band at the cathode", -1, false, 50},
	{"DIP-4", Dual, 4, around, -1, false, 0},
	{"DIP-6", Dual, 6, around, -1, false, 0},
	{"DIP-8", Dual, 8, around, -1, false, 100},
	{"DIP-14", Dual, 14, around, -1, false, 80},
	{"DIP-16", Dual, 16, around, -1, false, 75},
	{"noval", Ring, 9, "from below, clockwise from the gap", -1, false, 0},
	{"octal", Ring, 8, "from below, clockwise from the key", -1, false, 0},
}

// CaseOf finds a case by its name as people write it; nil where it is not known.
func CaseOf(name string) *Case {
	for i := range cases {
		if key(cases[i].Name) == key(name) {
			return &cases[i]
		}
	}
	return nil
}

func caseList() string {
	var names []string
	for i := range cases {
		names = append(names, cases[i].Name)
	}
	return strings.Join(names, ", ")
}
