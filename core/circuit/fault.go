package circuit

import (
	"math"
	"slices"
)

// Fault is a usual failure of a part. Share is how often, of the part's failures, it is
// this one (MIL-HDBK-338B, and where that does not part them, evenly).
type Fault struct {
	Part  string  `json:"part"`
	What  string  `json:"what"`
	Share float64 `json:"share"`
	As    string  `json:"as,omitempty"` // the value that the readings make of what has drifted

	part   int  // in Net.parts
	drifts bool // its value is another
	change change
	// at is the failure of a severity, where it has any of a range: grades are some of it, from one end to the
	// other, in times of the part's value or in ohms.
	at     func(x float64) change
	grades []float64
	found  float64 // the severity that explains the readings best; 0 where it has none
}

// of is the failure of one severity.
func (f Fault) of(x float64) Fault {
	f.change, f.found = f.at(x), x
	return f
}

// Hard is the failure at the first of its severities: of a short that which carries the most.
func (f Fault) Hard() Fault {
	if f.at == nil {
		return f
	}
	return f.of(f.grades[0])
}

// Grade is the failure at a severity between the ends of what such failures come in, 0 the first and 1 the last, with like ratios
// between; one that has no range as it is.
func (f Fault) Grade(share float64) Fault {
	if f.at == nil {
		return f
	}
	first, last := f.grades[0], f.grades[len(f.grades)-1]
	return f.of(first * math.Pow(last/first, min(max(share, 0), 1)))
}

// Severity is how grave the failure is, in times of the part's value or in ohms; 0 where it is of no certain one.
func (f Fault) Severity() float64 { return f.found }

// change puts a failure into a net that is its own copy, at the part's first element.
type change func(n *Net, i int)

// openOhms is what is left where something is open.
const openOhms = 1e11

// Severities of what has failed, in ohms: shorts from a solder bridge to a junction that is burnt through, leaks of
// capacitors and junctions from what a meter finds at once to what only a bias shows, contacts and series
// resistances from the first that does harm. What the trade tells, widely drawn: within them all are as likely.
var (
	opens    = []float64{1e8, 1e10}
	shorts   = []float64{0.02, 10}
	leaks    = []float64{300, 2e3, 15e3, 200e3}
	legLeaks = []float64{500, 5e3, 40e3, 500e3} // of a transistor, from leg to leg
	poor     = []float64{5, 50, 500, 5e3}
	dried    = []float64{5, 30, 300} // series resistance of a capacitor
)

// Severities in times of a value: resistors burn to more and, at their ends, to less; capacitors dry out; gain is
// lost; turns short.
var (
	more  = []float64{1.3, 2.2, 6, 30}
	less  = []float64{1 / 1.3, 1 / 2.2, 1. / 6, 1. / 30}
	empty = []float64{0.6, 0.12, 0.015}
	tired = []float64{0.35, 0.1, 0.02}
	turns = []float64{0.2, 0.03, 0.003}
)

func scale(field int, times float64) change {
	return func(n *Net, i int) { n.set(i, field, n.elements[i].v[field]*times) }
}

func set(field int, x float64) change { return func(n *Net, i int) { n.set(i, field, x) } }

// bridge puts a resistance between two terminals.
func bridge(a, b int, ohms float64) change {
	return func(n *Net, i int) {
		e := &n.elements[i]
		n.elements = append(n.elements, resistance(e.part, e.nodes[a], e.nodes[b], ohms))
	}
}

// cutOff takes a terminal off its node, but for so many ohms of dirt.
func cutOff(terminal int) func(ohms float64) change {
	return func(ohms float64) change { return func(n *Net, i int) { n.cutLeg(i, terminal, ohms) } }
}

// opened takes a terminal off its node altogether.
func opened(terminal int) change { return func(n *Net, i int) { n.cutLeg(i, terminal, openOhms) } }

// Faults lists the usual failures of every part; sources have none, nor has what is outside. A contact that is open
// can only stick.
func (n *Net) Faults() []Fault {
	var out []Fault
	for i := range n.parts {
		if n.parts[i].In == Outside {
			continue
		}
		first := n.first(i)
		is := sortOf(n.parts[i].Kind)
		if is.faults == nil {
			continue
		}
		for _, f := range is.faults(&n.elements[first]) {
			f.Part, f.part = n.parts[i].Name, i
			out = append(out, f)
		}
	}
	return out
}

// first is a part's first element.
func (n *Net) first(part int) int {
	return slices.IndexFunc(n.elements, func(e element) bool { return e.part == part })
}

// With is the net with faults in it, as a copy.
func (n *Net) With(faults ...Fault) *Net {
	out := n.copied()
	for _, f := range faults {
		f.change(out, out.first(f.part))
	}
	return out
}

// copied is a net whose elements can be changed by set, cutLeg and by adding more.
func (n *Net) copied() *Net {
	out := *n
	out.elements = make([]element, len(n.elements), len(n.elements)+2)
	copy(out.elements, n.elements)
	out.cut = slices.Clip(n.cut)
	return &out
}

func (n *Net) set(i, field int, x float64) {
	e := &n.elements[i]
	e.v = slices.Clone(e.v)
	e.v[field] = x
}

// cutLeg puts a resistance between a terminal and its node.
func (n *Net) cutLeg(i, terminal int, ohms float64) {
	e := &n.elements[i]
	from := e.nodes[terminal]
	e.nodes = slices.Clone(e.nodes)
	e.nodes[terminal] = n.size
	n.cut = append(n.cut, cut{n.size, from})
	n.size++
	n.elements = append(n.elements, resistance(e.part, e.nodes[terminal], from, ohms))
}

// poweredOff is the net with its supplies off: what fed it is only the resistance that it
// leaves behind.
func (n *Net) poweredOff() *Net {
	out := n.copied()
	for i := range out.elements {
		e := &out.elements[i]
		if e.is.off != nil {
			e.is.off(out, e)
		}
	}
	return out
}
