package circuit

import (
	"slices"
)

// Fault is a usual failure of a part. Share is how often, of the part's failures, it is
// this one (MIL-HDBK-338B, and where that does not part them, evenly).
type Fault struct {
	Part  string  `json:"part"`
	What  string  `json:"what"`
	Share float64 `json:"share"`

	part   int  // in Net.parts
	drifts bool // its value is another
	change change
}

// change puts a failure into a net that is its own copy, at the part's first element.
type change func(n *Net, i int)

// Values of what has failed: as good as open, as good as shorted, and what a leak or a
// bad contact usually has.
const (
	openOhms, shortOhms = 1e11, 0.1
	shortedLegs         = 1.0
	leakOhms            = 10e3
	poorOhms            = 100.0
	highESR             = 30.0
	lostGain            = 8.0
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

// opened takes a terminal off its node.
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
