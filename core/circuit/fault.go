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
		n.elements = append(n.elements, element{Resistor, e.part, []int{e.nodes[a], e.nodes[b]}, []float64{ohms, math.Inf(1)}, -1})
	}
}

// opened takes a terminal off its node.
func opened(terminal int) change { return func(n *Net, i int) { n.cutLeg(i, terminal, openOhms) } }

// stuck holds an op-amp's output at one of its supplies.
func stuck(supply int) change {
	return func(n *Net, i int) {
		out, held := n.elements[i].nodes[2], n.elements[i].nodes[supply]
		n.cutLeg(i, 2, openOhms)
		n.elements = append(n.elements, element{Resistor, n.elements[i].part, []int{out, held}, []float64{50, math.Inf(1)}, -1})
	}
}

// usual are the failures of each kind.
var usual = func() map[Kind][]Fault {
	f := func(what string, share float64, c change) Fault { return Fault{What: what, Share: share, change: c} }
	drift := func(what string, share, times float64) Fault {
		return Fault{What: what, Share: share, drifts: true, change: scale(main, times)}
	}
	bipolar := []Fault{f("shorted from collector to emitter", 0.35, bridge(0, 2, shortedLegs)), f("shorted from base to emitter", 0.15, bridge(1, 2, shortedLegs)), f("shorted from collector to base", 0.15, bridge(0, 1, shortedLegs)),
		f("open at its base", 0.09, opened(1)), f("open at its collector", 0.09, opened(0)), f("open at its emitter", 0.09, opened(2)), f("without gain", 0.08, set(bf, lostGain))}
	fet := []Fault{f("shorted from drain to source", 0.45, bridge(0, 2, shortedLegs)), f("leaky at its gate", 0.25, bridge(1, 2, leakOhms)), f("open at its drain", 0.1, opened(0)), f("open at its source", 0.1, opened(2)), f("open at its gate", 0.1, opened(1))}
	return map[Kind][]Fault{
		Resistor:  {f("open", 0.59, set(main, openOhms)), drift("drifted to twice its value", 0.18, 2), drift("drifted to half its value", 0.18, 0.5), f("shorted", 0.05, set(main, shortOhms))},
		Capacitor: {f("shorted", 0.35, set(leak, shortOhms)), f("leaky", 0.2, set(leak, leakOhms)), f("open", 0.25, scale(main, 1e-6)), drift("a tenth of its value", 0.1, 0.1), f("of high ESR", 0.1, set(esr, highESR))},
		Inductor:  {f("open", 0.5, set(ohms, openOhms)), f("shorted in its turns", 0.5, scale(main, 0.01))},
		Windings:  {f("open in its first winding", 0.3, opened(0)), f("open in its second winding", 0.3, opened(2)), f("shorted in its turns", 0.4, bridge(2, 3, shortedLegs))},
		Diode:     {f("shorted", 0.5, bridge(0, 1, shortOhms)), f("open", 0.3, opened(0)), f("leaky", 0.2, bridge(0, 1, leakOhms))},
		NPN:       bipolar, PNP: bipolar, NJFET: fet, PJFET: fet, NMOS: fet, PMOS: fet,
		OpAmp:   {f("stuck at its upper supply", 0.35, stuck(3)), f("stuck at its lower supply", 0.35, stuck(4)), f("dead, its output open", 0.3, opened(2))},
		Joint:   {f("open", 0.6, set(main, openOhms)), f("resistive", 0.4, set(main, poorOhms))},
		Contact: {f("open", 0.5, set(main, openOhms)), f("resistive", 0.4, set(main, poorOhms))},
		Relay: {f("open in its coil", 0.2, opened(0)), f("shorted in its coil's turns", 0.1, scale(main, 0.3)), f("open in its contact", 0.35, set(made, openOhms)),
			f("resistive in its contact", 0.25, set(made, poorOhms)), f("welded or stuck in its contact", 0.1, bridge(2, 3, shortOhms))},
		Pot:     {f("open at its wiper", 0.5, opened(1)), f("open at one end", 0.25, opened(0)), f("open at the other end", 0.25, opened(2))},
		Crystal: {f("dead", 0.9, set(ohms, openOhms))},
	}
}()

// welded is how an open contact fails.
var welded = Fault{What: "welded or stuck closed", Share: 0.5, change: set(closed, 1)}

// Faults lists the usual failures of every part; sources have none, nor has what is outside. A contact that is open
// can only stick.
func (n *Net) Faults() []Fault {
	var out []Fault
	for i := range n.parts {
		if n.parts[i].In == Outside {
			continue
		}
		first := n.first(i)
		kinds := usual[n.parts[i].Kind]
		if e := &n.elements[first]; e.kind == Contact && e.v[closed] < 0.5 {
			kinds = []Fault{welded}
		}
		for _, f := range kinds {
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
	n.elements = append(n.elements, element{Resistor, e.part, []int{e.nodes[terminal], from}, []float64{ohms, math.Inf(1)}, -1})
}

// poweredOff is the net with its supplies off: what fed it is only the resistance that it
// leaves behind.
func (n *Net) poweredOff() *Net {
	out := n.copied()
	for i := range out.elements {
		e := &out.elements[i]
		switch e.kind {
		case Voltage, Signal, Alternating:
			ohms := windingOff
			if e.kind != Alternating {
				ohms = e.v[off]
			}
			out.cut = append(out.cut, cut{e.branch, ground}) // what was its current is held at nothing
			*e = element{Resistor, e.part, e.nodes, []float64{ohms, math.Inf(1)}, -1}
		case OpAmp: // its inputs remain, its output is open
			out.cut = append(out.cut, cut{e.branch, ground})
			*e = element{Resistor, e.part, e.nodes[:2], []float64{e.v[rin], math.Inf(1)}, -1}
		case Current:
			*e = element{Resistor, e.part, e.nodes, []float64{openOhms, math.Inf(1)}, -1}
		}
	}
	return out
}

// windingOff is the resistance of a mains transformer's winding, in ohms.
const windingOff = 2.0

// atPeak is the net with its mains windings at their peak, to begin a course from.
func (n *Net) atPeak() *Net {
	out := n.copied()
	for i := range out.elements {
		if e := &out.elements[i]; e.kind == Alternating {
			*e = element{Voltage, e.part, e.nodes, []float64{math.Sqrt2 * e.v[main], 1}, e.branch}
		}
	}
	return out
}
