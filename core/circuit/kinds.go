package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// Kind is a sort of part.
type Kind string

// definition is all that is known of a kind of part. Each kind has its own, in a file of its
// own name; nothing else is told apart by kinds. What is nil does not apply, but for what
// define asks for.
type definition struct {
	kind      Kind
	terminals []string
	// fields are its values in order, laws the words that some of them follow from.
	fields []field
	laws   []law
	// types is what its registered types say of it; nil: it has none.
	types *types
	// rate is how often it fails beside a resistor: the order of the base rates of MIL-HDBK-217F
	// for parts as sets have them (electrolytics, contacts and what runs hot first).
	rate float64
	// spread is how far from its values a good one may be.
	spread []spread
	// faults are its usual failures, by what it is.
	faults func(e *element) []Fault
	// check is the kind of check (package part) that judges one by its own readings.
	check string
	// alone is what that shows of it with one leg lifted; empty: it has to come out.
	alone string
	role  role

	// sign is how it is drawn.
	sign Sign

	// branches is how many of its currents are unknowns.
	branches int
	// direct are the pairs of its terminals between which direct current can flow.
	direct func(e *element) [][2]int
	// stamp writes its equations about a state; it tells whether a junction was held back.
	stamp func(s *solving, i int, e *element, x []float64) (limited bool)
	// into is the current into each terminal at rest, by its own equations.
	into func(e *element, x []float64) []float64
	// junctions let its junctions stand where a solution has them.
	junctions func(s *solving, i int, e *element, x []float64)
	// small writes what it stores into the equations for small signals.
	small func(l *linear, e *element)
	// apart takes a resistance in series with what it stores out, as an element of its own.
	apart func(n *Net, i int, e *element)
	// moved is what its main value moves of a voltage (y: the adjoint), for the whole of it. One
	// that has this can be taken for another value than it has.
	moved func(e *element, x, y []complex128, w float64) complex128
	// stores is its state at rest; passes that after a moment (from s to out, which has what
	// stores gives).
	stores func(e *element, x []float64) [2]state
	passes func(m *moment, e *element, x []float64, s [2]state, out *[2]state)
	// restless is what never stands still by itself; steers what amplifies, and can keep a circuit going that way (a transistor
	// does, too); decides what turns from one end to the other within millivolts.
	restless, steers, decides bool
	// late gives it time to turn over, where nothing is said of it.
	late func(n *Net, i int)
	// jumps is the next time (s) at which it jumps by itself.
	jumps func(e *element, t float64) float64
	// carrier is what it switches by many times in what happens else: how often (Hz), and the peak of that at its branch (V).
	carrier func(e *element, x []float64) (hz, peak float64)
	// off makes of it what it is with the power off.
	off func(n *Net, e *element)
	// expand puts it in as several elements.
	expand func(r *reading, e element)
	// figures are those that a check of it goes by; of a part that is several elements, its first.
	figures func(n *Net, e *element) Figures
}

// Sign is a part's drawn about its middle, upright, as outlines and filled shapes in the words of
// SVG's paths (after IEC 60617). Bare is how far from its middle its legs begin. On is the leg on
// whose line it stands; less than none: halfway between its ends.
type Sign struct {
	Outline string  `json:"outline"`
	Filled  string  `json:"filled"`
	Bare    float64 `json:"bare"`
	On      int     `json:"on"`
}

// halfway is a sign that stands halfway between its legs.
func halfway(outline, filled string, bare float64) Sign { return Sign{outline, filled, bare, -1} }

// Signs of what is drawn alike.
const (
	boxSign    = "M-6 -11h12v22h-12z"
	sourceSign = "M-10 0a10 10 0 1 0 20 0a10 10 0 1 0 -20 0"
)

// manyLegs is what has several terminals, and no sign of its own: a box.
var manyLegs = halfway("M-9 -13h18v26h-18z", "", 13)

// role is what a part is to the others.
type role int

const (
	plain      role = iota
	transistor      // of three legs, its current from the first to the third
	source          // it feeds the circuit, and does not fail
	holds           // a source that fixes a voltage
	signal          // one that gives the signal
	mains           // one that gives an alternating voltage
)

// feeds tells what is no part that fails.
func (r role) feeds() bool { return r >= source }

// fixes tells what fixes a voltage.
func (r role) fixes() bool { return r >= holds }

// field is a value of a part: its name in Also (empty: Value; byLaw: it follows from another
// word), its unit, what is usual where it is left out (NaN: it has to be there), and its bounds.
type field struct {
	name        string
	unit        quantity.Unit
	usual       float64
	least, most float64
}

// byLaw is the name of a field that is told by a law's.
const byLaw = "\x00"

// unchecked is the check of a kind that no check of a single part judges yet.
const unchecked = "-"

// CheckOf is the kind of check (package part) that judges a part of a kind by its own readings;
// empty where none does.
func CheckOf(kind Kind) string {
	if d := sorts[kind]; d != nil && d.check != unchecked {
		return d.check
	}
	return ""
}

// Valued tells whether a part of a kind has a value that can be read of it alone.
func Valued(kind Kind) bool {
	d := sortOf(kind)
	return !d.role.feeds() && len(d.fields) > 0 && d.fields[0].name == ""
}

// BiasAt is the leg whose volts steer a transistor of a kind; empty for other parts.
func BiasAt(kind Kind) string {
	if d := sortOf(kind); d.role == transistor {
		return d.terminals[1]
	}
	return ""
}

// main is where the main value of a kind stands among its values.
const main = 0

// spread is how far a value of a good part lies from what is written, as a share (one standard
// deviation): what the trade sells at 5 %, 10 % and 30 % lies within two of them, and a silicon
// junction's voltage within 40 mV.
type spread struct {
	field int
	share float64
}

var needed = math.NaN()

const (
	least, most = 1e-15, 1e15
	// Usual small-signal silicon.
	usualIs, usualBeta, usualVaf = 1e-14, 200.0, 100.0
)

// early and watts are values that several kinds have.
var (
	early = field{"Early voltage", quantity.Volt, usualVaf, 1, 1e9}
	watts = field{"rated", quantity.Watt, math.Inf(1), 1e-6, math.Inf(1)} // what it may turn into heat
)

// sorts are the definitions by their kinds.
var sorts = map[Kind]*definition{}

// sortOf is the definition of a kind; one that is not known has nothing.
func sortOf(kind Kind) *definition {
	if d := sorts[kind]; d != nil {
		return d
	}
	return &definition{}
}

// define takes a definition up. One that cannot be used ends the program as it begins.
func define(d definition) *definition {
	missing := ""
	switch {
	case d.kind == "" || sorts[d.kind] != nil:
		missing = "a name of its own"
	case len(d.terminals) < 2:
		missing = "terminals"
	case d.sign.Bare == 0 && d.sign.Filled == "":
		missing = "a sign"
	case d.expand != nil:
	case d.stamp == nil || d.into == nil:
		missing = "equations"
	case d.direct == nil:
		missing = "what direct current flows through (none: an empty list)"
	case d.faults == nil && !d.role.feeds():
		missing = "usual failures"
	case (d.stores == nil) != (d.small == nil):
		missing = "what it stores, in time and for small signals alike"
	case (d.stores == nil) != (d.passes == nil):
		missing = "what it stores after a moment"
	}
	if missing == "" && d.check == "" && !d.role.feeds() {
		missing = "the check that judges it"
	}
	if missing != "" {
		panic("circuit: the definition of a " + string(d.kind) + " lacks " + missing)
	}
	for _, s := range d.spread {
		if s.field >= len(d.fields) {
			panic("circuit: a " + string(d.kind) + " has no such value to spread")
		}
	}
	sorts[d.kind] = &d
	return &d
}

// ends are the two terminals of what has two, joined by direct current.
func ends(*element) [][2]int { return [][2]int{{0, 1}} }

// insulated is what no direct current flows through.
func insulated(*element) [][2]int { return nil }

// through is a current in at the first terminal and out at the second.
func through(amps float64) []float64 { return []float64{amps, -amps} }

// value is a figure of a part for its check.
func value(field int) func(*Net, *element) Figures {
	return func(_ *Net, e *element) Figures { return Figures{Value: e.v[field]} }
}

// always are failures whatever the part's values are.
func always(list ...Fault) func(*element) []Fault { return func(*element) []Fault { return list } }

// fails is a failure that makes something else of a part; drifts one by which its main value is
// another.
func fails(what string, share float64, c change) Fault {
	return Fault{What: what, Share: share, change: c}
}

// ranging is a failure of any severity of a range.
func ranging(what string, share float64, at func(x float64) change, grades []float64) Fault {
	return Fault{What: what, Share: share, change: at(grades[len(grades)/2]), at: at, grades: grades}
}

func drifts(what string, share float64, grades []float64) Fault {
	f := ranging(what, share, scaled(main), grades)
	f.drifts, f.change = true, f.at(grades[1]) // by twice or so, where nothing says by how much
	return f
}

// bridged, setTo and scaled are changes by a severity.
func bridged(a, b int) func(float64) change {
	return func(ohms float64) change { return bridge(a, b, ohms) }
}

func setTo(field int) func(float64) change { return func(x float64) change { return set(field, x) } }

func scaled(field int) func(float64) change { return func(x float64) change { return scale(field, x) } }
