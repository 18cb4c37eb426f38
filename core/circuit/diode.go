package circuit

import (
	"fmt"
	"math"
	"strings"

	"steptrace/core/quantity"
)

// Diode is a diode; with Zener volts it breaks through at these.
const Diode Kind = "diode"

const dIs, dN, dBv, dFarads = 0, 1, 2, 4

var _ = define(definition{
	kind:      Diode,
	sign:      halfway("M-8 6h16", "M-8 -6h16l-8 12z", 6),
	terminals: []string{"anode", "cathode"},
	fields: []field{{byLaw, quantity.Ampere, usualIs, 1e-20, 1}, {byLaw, quantity.None, 1, 0.5, 10},
		{byLaw, quantity.Volt, math.Inf(1), 0.5, math.Inf(1)}, watts, {"capacitance", quantity.Farad, 0, 0, 1e-6}},
	types:  diodeTypes,
	laws:   []law{junctionDrop(dIs, dN), zenerVolts},
	rate:   2,
	spread: []spread{{dIs, 0.8}, {dBv, 0.02}},
	check:  "diode",
	faults: always(diodeFaults...),
	direct: ends,
	stamp: func(s *solving, i int, e *element, x []float64) bool {
		limited := stampDiode(s, i, e, x)
		if s.moment != nil {
			v := e.across(x, 0, 1)
			s.moment.charges(s.st, e.nodes[0], e.nodes[1], s.moment.states[i][0], 1, v, e.v[dFarads]*v, e.v[dFarads])
		}
		return limited
	},
	into:      intoDiode,
	junctions: restDiode,
	small:     func(l *linear, e *element) { l.c.conductance(e.nodes[0], e.nodes[1], e.v[dFarads]) },
	stores: func(e *element, x []float64) [2]state {
		return [2]state{{held: e.v[dFarads] * e.across(x, 0, 1)}}
	},
	passes: func(m *moment, _ *element, _ []float64, s [2]state, out *[2]state) {
		out[0].flow = m.change(s[0], out[0].held)
	},
	figures: func(_ *Net, e *element) (f Figures) {
		if !math.IsInf(e.v[dBv], 1) {
			f.Value = e.v[dBv] + thermal*math.Log(zenerAmps/e.v[dIs])
		}
		return f
	},
})

var diodeFaults = []Fault{
	ranging("shorted", 0.5, bridged(0, 1), shorts),
	ranging("open", 0.3, cutOff(0), opens),
	ranging("leaky", 0.2, bridged(0, 1), leaks),
}

// breaks tells a diode that stands beyond its breakdown.
func (e *element) breaks(v float64) bool { return v < -e.v[dBv]+10*thermal && !math.IsInf(e.v[dBv], 1) }

func stampDiode(s *solving, i int, e *element, x []float64) (limited bool) {
	v := e.across(x, 0, 1)
	var amps, g float64
	if e.breaks(v) {
		back := s.hold(2*i, -(v + e.v[dBv]), thermal, e.v[dIs], &limited)
		v = -back - e.v[dBv]
		amps, g = junction(back, e.v[dIs], thermal)
		amps = -amps - e.v[dIs]
	} else {
		v = s.hold(2*i, v, e.v[dN]*thermal, e.v[dIs], &limited)
		amps, g = junction(v, e.v[dIs], e.v[dN]*thermal)
	}
	s.st.nonlinear(e.nodes[0], e.nodes[1], v, amps+s.gmin*v, g+s.gmin)
	return limited
}

func intoDiode(e *element, x []float64) []float64 {
	v := e.across(x, 0, 1)
	amps, _ := junction(v, e.v[dIs], e.v[dN]*thermal)
	if e.breaks(v) {
		back, _ := junction(-(v + e.v[dBv]), e.v[dIs], thermal)
		amps = -back - e.v[dIs]
	}
	return through(amps + leastGmin*v)
}

func restDiode(s *solving, i int, e *element, x []float64) {
	v := e.across(x, 0, 1)
	if e.breaks(v) {
		v = -(v + e.v[dBv])
	}
	s.held[2*i] = v
}

// zenerAmps is the current at which Zener diodes are sorted, where nothing else is said.
const zenerAmps = 5e-3

// The laws of junctions. A drop is the volts of one at a current: I = is·exp(V/(n·V_T)); two
// give the slope n too. A Zener's volts stand at its current too.
var (
	zenerVolts = law{"zener", func(text string, v []float64) error {
		volts, amps, err := pairOf(text, zenerAmps)
		if err != nil {
			return err
		}
		if v[dBv] = volts - thermal*math.Log(amps/v[dIs]); !(v[dBv] >= 0.5) {
			return fmt.Errorf("no diode breaks through at %s", text)
		}
		return nil
	}}
)

// junctionDrop gives a junction its saturation current and slope, which stand at these fields.
func junctionDrop(is, slope int) law {
	return law{"drop", func(text string, v []float64) error {
		first, second, two := strings.Cut(text, " and ")
		volts, amps, err := pairOf(first, dropAmps)
		if err != nil {
			return err
		}
		if two {
			more, at, err := pairOf(second, dropAmps)
			if err != nil {
				return err
			}
			n := (more - volts) / (thermal * math.Log(at/amps))
			if !(n >= 0.5 && n <= 10) {
				return fmt.Errorf("no junction drops so much at both currents")
			}
			v[slope] = n
		}
		v[is] = saturation(volts, amps, v[slope])
		return bounded(v[is])
	}}
}
