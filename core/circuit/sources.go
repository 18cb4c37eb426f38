package circuit

import (
	"math"
	"slices"

	"steptrace/core/quantity"
)

// The sources: an alternating one is a winding of a mains transformer, and the small signal of
// one volt at a signal goes through the circuit.
const (
	Voltage     Kind = "voltage"
	Current     Kind = "current"
	Alternating Kind = "alternating"
	Signal      Kind = "signal"
	Pulses      Kind = "pulses"
)

const (
	off     = 1 // a source's resistance with the power off
	mainsHz = 1 // alternating
)

var (
	voltage = define(
		fixed(
			Voltage,
			holds,
			"M0 -5v10",
			[]string{"plus", "minus"},
			[]field{{"", quantity.Volt, needed, -1e6, 1e6}, {"off", quantity.Ohm, 1e3, 1e-3, most}},
			func(_ *moment, e *element) float64 { return e.v[main] },
		),
	)
	_ = define(signalSource())
	_ = define(mainsWinding())
	_ = define(pulseSource())
	_ = define(definition{
		kind:      Current,
		sign:      halfway(sourceSign+"M-5 0h10", "", 10),
		terminals: []string{"from", "to"},
		fields:    []field{{"", quantity.Ampere, needed, -1e4, 1e4}},
		role:      source,
		direct:    insulated,
		stamp: func(s *solving, _ int, e *element, _ []float64) bool {
			amps := s.share * e.v[main]
			s.st.source(e.nodes[0], -amps)
			s.st.source(e.nodes[1], amps)
			return false
		},
		into: func(e *element, _ []float64) []float64 { return through(e.v[main]) },
		off:  func(_ *Net, e *element) { *e = resistance(e.part, e.nodes[0], e.nodes[1], openOhms) },
	})
)

// fixed defines a source of volts, which gives what it does at a moment (nil: at rest).
func fixed(
	kind Kind,
	role role,
	sign string,
	terminals []string,
	fields []field,
	gives func(m *moment, e *element) float64,
) definition {
	return definition{
		kind: kind, sign: halfway(sourceSign+sign, "", 10), terminals: terminals, fields: fields, role: role, branches: 1,
		direct: insulated, // it is told by its role that it holds its nodes
		stamp: func(s *solving, _ int, e *element, _ []float64) bool {
			s.st.fix(e.branch, e.nodes[0], e.nodes[1], s.share*gives(s.moment, e), 0)
			return false
		},
		into: func(e *element, x []float64) []float64 { return through(x[e.branch]) },
		off:  func(n *Net, e *element) { goesOff(n, e, e.v[off]) },
	}
}

// goesOff leaves of a source that fixes a voltage the resistance that it has with the power off;
// what was its current is held at nothing.
func goesOff(n *Net, e *element, ohms float64) {
	n.cut = append(n.cut, cut{e.branch, ground})
	*e = resistance(e.part, e.nodes[0], e.nodes[1], ohms)
}

// What a signal source has beside its DC: how much of the signal that is asked for it gives, or a sine of its own.
const (
	times = 2
	level = 3 // volts rms
	ownHz = 4
)

// signalSource gives at rest what it stands at, and none of the signal.
func signalSource() definition {
	return fixed(
		Signal,
		signal,
		"M-6 0q3 -7 6 0t6 0",
		[]string{"plus", "minus"},
		[]field{
			{"", quantity.Volt, 0, -1e6, 1e6},
			{"off", quantity.Ohm, 1e7, 1e-3, most},
			{"times", quantity.None, 1, -1e6, 1e6},
			{"level", quantity.Volt, 0, 0, 1e6},
			{"at", quantity.Hertz, 1e3, 1e-3, 1e12},
		},
		func(m *moment, e *element) float64 {
			switch own, ok := e.own(); {
			case m == nil:
				return e.v[main]
			case ok:
				return e.v[main] + own.at(m.t)
			}
			return e.v[main] + e.v[times]*m.drive.at(m.t)
		},
	)
}

// own is the drive of a signal source that has one of its own.
func (e *element) own() (Drive, bool) {
	if e.is.role != signal || e.v[level] == 0 {
		return Drive{}, false
	}
	return Drive{Shape: quantity.Sine, Peak: math.Sqrt2 * e.v[level], Hz: e.v[ownHz]}, true
}

// carries is how much of a signal of one volt a signal source gives: none where it has one of its own.
func (e *element) carries() float64 {
	if _, ok := e.own(); ok {
		return 0
	}
	return e.v[times]
}

// driven tells whether a drive, or a signal source of its own, moves a circuit in time; and the highest of their frequencies.
func (n *Net) driven(d Drive) (hz float64, ok bool) {
	if d.Peak != 0 {
		hz, ok = d.Hz, true
	}
	for i := range n.elements {
		if own, has := n.elements[i].own(); has {
			hz, ok = max(hz, own.Hz), true
		}
	}
	return hz, ok
}

// mainsWinding gives none at rest.
func mainsWinding() definition {
	d := fixed(
		Alternating,
		mains,
		"M-6 0q3 -7 6 0t6 0",
		[]string{"one end", "the other"},
		[]field{{"", quantity.Volt, needed, 1e-3, 1e5}, {"at", quantity.Hertz, 50, 1e-3, 1e9}},
		func(m *moment, e *element) float64 {
			if m == nil {
				return 0
			}
			return math.Sqrt2 * e.v[main] * math.Cos(2*math.Pi*e.v[mainsHz]*m.t)
		},
	)
	d.off = func(n *Net, e *element) { goesOff(n, e, windingOff) }
	return d
}

// What pulses have beside their volts: what they are between, the share of the time in which they are up.
const (
	pulsesBetween = 2
	pulsesUp      = 3
)

// pulseSource gives pulses that something outside keeps coming: a deflection's drive, a line's or a picture's beginning. At rest it
// is between them.
func pulseSource() definition {
	d := fixed(
		Pulses,
		mains,
		"M-6 3h3v-6h4v6h5",
		[]string{"plus", "minus"},
		[]field{
			{"", quantity.Volt, needed, -1e5, 1e5}, {"at", quantity.Hertz, needed, 1e-3, 1e9},
			{"between", quantity.Volt, 0, -1e5, 1e5}, {"up", quantity.Ratio, 0.5, 1e-4, 0.9999},
		},
		func(m *moment, e *element) float64 {
			if m == nil {
				return e.v[pulsesBetween]
			}
			turn := math.Mod(m.t*e.v[mainsHz]+1e-9, 1)
			rising := min(turn/edgeShare, 1)
			if turn >= e.v[pulsesUp] {
				rising = 1 - min((turn-e.v[pulsesUp])/edgeShare, 1)
			}
			return e.v[pulsesBetween] + rising*(e.v[main]-e.v[pulsesBetween])
		},
	)
	d.off = func(n *Net, e *element) { goesOff(n, e, pulsesOff) }
	d.jumps = nextEdge
	return d
}

// pulsed tells whether pulses from outside drive a net.
func (n *Net) pulsed() bool {
	return slices.ContainsFunc(n.elements, func(e element) bool { return e.is.jumps != nil })
}

// pulsesOff is what a driver that is off leaves behind, in ohms.
const pulsesOff = 1e4

// nextEdge is the next time at which a source of pulses jumps.
func nextEdge(e *element, t float64) float64 {
	turns := t*e.v[mainsHz] + 1e-9
	whole := math.Floor(turns)
	for _, p := range []float64{edgeShare, e.v[pulsesUp], e.v[pulsesUp] + edgeShare, 1} {
		if whole+p > turns+1e-9 {
			return (whole + p) / e.v[mainsHz]
		}
	}
	return (whole + 1) / e.v[mainsHz]
}

// windingOff is the resistance of a mains transformer's winding, in ohms.
const windingOff = 2.0

// atPeak is the net with its mains windings at their peak, to begin a course from.
func (n *Net) atPeak() *Net {
	out := n.copied()
	for i := range out.elements {
		if e := &out.elements[i]; e.is.role == mains && e.is.jumps == nil {
			*e = element{voltage, e.part, e.nodes, []float64{math.Sqrt2 * e.v[main], 1}, e.branch}
		}
	}
	return out
}

// alternates tells whether a mains winding feeds the circuit, and its frequency.
func (n *Net) alternates() (hz float64, ok bool) {
	for i := range n.elements {
		if n.elements[i].is.role == mains {
			return n.elements[i].v[mainsHz], true
		}
	}
	return 0, false
}
