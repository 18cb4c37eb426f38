package circuit

import (
	"fmt"
	"math"
)

// thermal is kT/q at 27 °C, in volts.
const thermal = 0.025865

// stamps collect the linear equations of one Newton step: G·x = b.
type stamps struct {
	n int
	g []float64 // row by row
	b []float64
}

func newStamps(n int) *stamps { return &stamps{n, make([]float64, n*n), make([]float64, n)} }

func (s *stamps) conductance(a, b int, g float64) {
	s.add(a, a, g)
	s.add(b, b, g)
	s.add(a, b, -g)
	s.add(b, a, -g)
}

// add adds to the coefficient of unknown k in equation i; ground has neither.
func (s *stamps) add(i, k int, v float64) {
	if i >= 0 && k >= 0 {
		s.g[i*s.n+k] += v
	}
}

// source lets a current flow into a node.
func (s *stamps) source(node int, amps float64) {
	if node >= 0 {
		s.b[node] += amps
	}
}

// control lets the current from a to b follow the voltage from c to d.
func (s *stamps) control(a, b, c, d int, g float64) {
	s.add(a, c, g)
	s.add(a, d, -g)
	s.add(b, c, -g)
	s.add(b, d, g)
}

// fix is the equation of a branch that sets the voltage from a to b, less what its
// current makes across a resistance.
func (s *stamps) fix(branch, a, b int, volts, ohms float64) {
	s.add(a, branch, 1)
	s.add(b, branch, -1)
	s.add(branch, a, 1)
	s.add(branch, b, -1)
	s.add(branch, branch, -ohms)
	s.b[branch] += volts
}

// nonlinear is a part between two nodes, linear about a voltage: current and conductance.
func (s *stamps) nonlinear(a, b int, v, amps, g float64) {
	s.conductance(a, b, g)
	s.source(a, -(amps - g*v))
	s.source(b, amps-g*v)
}

func volts(x []float64, node int) float64 {
	if node < 0 {
		return 0
	}
	return x[node]
}

func (e *element) across(x []float64, a, b int) float64 {
	return volts(x, e.nodes[a]) - volts(x, e.nodes[b])
}

// junction is a diode's current and conductance at a voltage.
func junction(v, is, vt float64) (i, g float64) {
	e := math.Exp(min(v/vt, 300))
	return is * (e - 1), is * e / vt
}

// limit keeps a junction's voltage from leaping where its current would run away
// (Nagel 1975): beyond its knee it goes on by the logarithm.
func limit(v, before, vt, is float64) (float64, bool) {
	knee := vt * math.Log(vt/(math.Sqrt2*is))
	if v <= knee || math.Abs(v-before) <= 2*vt {
		return v, false
	}
	if before <= 0 {
		return vt * math.Log(max(v/vt, 1.1)), true
	}
	if arg := 1 + (v-before)/vt; arg > 0 {
		return before + vt*math.Log(arg), true
	}
	return knee, true
}

// hold limits a junction of an element.
func (s *solving) hold(slot int, v, vt, is float64, limited *bool) float64 {
	w, held := limit(v, s.held[slot], vt, is)
	s.held[slot] = w
	*limited = *limited || held
	return w
}

// breaks tells a diode that stands beyond its breakdown.
func (e *element) breaks(v float64) bool { return v < -e.v[dBv]+10*thermal && !math.IsInf(e.v[dBv], 1) }

// atRest lets the junctions of an element stand where a solution has them.
func (s *solving) atRest(i int, x []float64) {
	e := &s.elements[i]
	switch {
	case e.kind == Diode:
		v := e.across(x, 0, 1)
		if e.breaks(v) {
			v = -(v + e.v[dBv])
		}
		s.held[2*i] = v
	case e.kind.bipolar():
		sign := polarity(e.kind)
		s.held[2*i], s.held[2*i+1] = sign*e.across(x, 1, 2), sign*e.across(x, 1, 0)
	case e.kind.gated():
		s.held[2*i] = polarity(e.kind) * e.across(x, 1, 2)
	}
}

// stamp writes the equations of an element about a state; it tells whether one of its
// junctions was held back.
func (s *solving) stamp(i int, x []float64) (limited bool) {
	e, st := &s.elements[i], s.st
	switch e.kind {
	case Resistor, Joint:
		st.conductance(e.nodes[0], e.nodes[1], 1/e.v[main])
	case Contact:
		st.conductance(e.nodes[0], e.nodes[1], 1/e.contact())
	case Capacitor:
		if !math.IsInf(e.v[leak], 1) {
			st.conductance(e.nodes[0], e.nodes[1], 1/e.v[leak])
		}
		s.moment.capacitor(st, i, e)
	case Inductor:
		st.fix(e.branch, e.nodes[0], e.nodes[1], 0, e.v[ohms])
		s.moment.coil(st, i, e, e.v[main])
	case Relay:
		st.fix(e.branch, e.nodes[0], e.nodes[1], 0, e.v[main])
		s.moment.coil(st, i, e, e.v[coilH])
		st.conductance(e.nodes[2], e.nodes[3], 1/e.worked(x))
	case Windings:
		st.fix(e.branch, e.nodes[0], e.nodes[1], 0, e.v[windOhms])
		st.fix(e.branch+1, e.nodes[2], e.nodes[3], 0, e.v[windOhms]*e.v[ratio]*e.v[ratio])
		s.moment.windings(st, i, e)
	case Voltage, Signal, Alternating:
		st.fix(e.branch, e.nodes[0], e.nodes[1], s.share*s.moment.source(e), 0)
	case Current:
		amps := s.share * e.v[main]
		st.source(e.nodes[0], -amps)
		st.source(e.nodes[1], amps)
	case Pot:
		a, b := e.halves()
		st.conductance(e.nodes[0], e.nodes[1], 1/a)
		st.conductance(e.nodes[1], e.nodes[2], 1/b)
	case Diode:
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
		st.nonlinear(e.nodes[0], e.nodes[1], v, amps+s.gmin*v, g+s.gmin)
	case NPN, PNP:
		sign := polarity(e.kind)
		vbe := s.hold(2*i, sign*e.across(x, 1, 2), thermal, e.v[qIs], &limited)
		vbc := s.hold(2*i+1, sign*e.across(x, 1, 0), thermal, e.v[qIs], &limited)
		q := e.bipolar(vbe, vbc, s.gmin)
		q.gmf, q.gpi = s.steep*q.gmf, s.steep*q.gpi
		c, b, em := e.nodes[0], e.nodes[1], e.nodes[2]
		// Currents into collector and base, linear about (vbe, vbc).
		st.control(c, em, b, em, q.gmf)
		st.control(c, em, b, c, q.gmr)
		st.source(c, -sign*(q.ic-q.gmf*vbe-q.gmr*vbc))
		st.source(em, sign*(q.ic-q.gmf*vbe-q.gmr*vbc))
		st.control(b, em, b, em, q.gpi)
		st.control(b, em, b, c, q.gmu)
		st.source(b, -sign*(q.ib-q.gpi*vbe-q.gmu*vbc))
		st.source(em, sign*(q.ib-q.gpi*vbe-q.gmu*vbc))
	case NJFET, PJFET, NMOS, PMOS:
		sign := polarity(e.kind)
		vgs, vds := sign*e.across(x, 1, 2), sign*e.across(x, 0, 2)
		f := e.fet(vgs, vds)
		f.gm *= s.steep
		d, g, so := e.nodes[0], e.nodes[1], e.nodes[2]
		st.control(d, so, g, so, f.gm)
		st.control(d, so, d, so, f.gds+s.gmin)
		rest := sign * (f.id - f.gm*vgs - f.gds*vds)
		st.source(d, -rest)
		st.source(so, rest)
		if e.kind.gated() {
			v := s.hold(2*i, vgs, thermal, usualIs, &limited)
			amps, gg := junction(v, usualIs, thermal)
			st.control(g, so, g, so, gg+s.gmin)
			st.source(g, -sign*(amps-gg*v))
			st.source(so, sign*(amps-gg*v))
		}
	case OpAmp:
		st.conductance(e.nodes[0], e.nodes[1], 1/e.v[rin])
		v, slope := e.opamp(x)
		slope *= s.steep
		d := e.across(x, 0, 1)
		follows, before := s.moment.follows(i, e)
		// V(out) − rout·I = what it follows of V + slope·(d − d₀), I into the output
		out := e.nodes[2]
		st.add(out, e.branch, 1)
		st.add(e.supplying(x), e.branch, -1)
		st.add(e.branch, out, 1)
		st.add(e.branch, e.nodes[0], -follows*slope)
		st.add(e.branch, e.nodes[1], follows*slope)
		st.add(e.branch, e.branch, -e.v[rout])
		st.b[e.branch] += follows*(v-slope*d) + before
	}
	return limited
}

// contact is what a switch's contact has, in ohms.
func (e *element) contact() float64 {
	if e.v[closed] < 0.5 {
		return openContact
	}
	return e.v[main]
}

// worked is what a relay's contact has, in ohms, with its coil as it is.
func (e *element) worked(x []float64) float64 {
	pulled := math.Abs(e.across(x, 0, 1)) >= e.v[pull]
	if pulled == (e.v[rests] > 0.5) {
		return openContact
	}
	return e.v[made]
}

// halves are a pot's resistances from its ends to its wiper.
func (e *element) halves() (a, b float64) {
	t := math.Max(1e-6, math.Min(1-1e-6, e.v[at]))
	return e.v[main] * t, e.v[main] * (1 - t)
}

// transistor are a bipolar's currents and what they change by: gmf and gpi with the
// voltage of the emitter junction, gmr and gmu with the collector's.
type transistor struct{ ic, ib, gmf, gmr, gpi, gmu float64 }

func (e *element) bipolar(vbe, vbc, gmin float64) transistor {
	is := e.v[qIs]
	f, gf := junction(vbe, is, thermal)
	r, gr := junction(vbc, is, thermal)
	early := 1 - vbc/e.v[vaf]
	return transistor{
		ic:  (f-r)*early - r/e.v[br] - gmin*vbc,
		ib:  f/e.v[bf] + r/e.v[br] + gmin*(vbe+vbc),
		gmf: gf * early,
		gmr: -gr*early - (f-r)/e.v[vaf] - gr/e.v[br] - gmin,
		gpi: gf/e.v[bf] + gmin,
		gmu: gr/e.v[br] + gmin,
	}
}

// channel are a FET's current and what it changes by.
type channel struct{ id, gm, gds float64 }

func (e *element) fet(vgs, vds float64) channel {
	over, k := 0.0, 0.0
	if e.kind.gated() {
		over, k = vgs+e.v[vp], 2*e.v[idss]/(e.v[vp]*e.v[vp])
	} else {
		over, k = vgs-e.v[vt], e.v[mosK]
	}
	lambda := 1 / e.v[fEarl]
	if vds < 0 { // it works both ways
		turned := channelOf(over-vds, -vds, k, lambda)
		return channel{-turned.id, -turned.gm, turned.gm + turned.gds}
	}
	return channelOf(over, vds, k, lambda)
}

func channelOf(over, vds, k, lambda float64) channel {
	switch {
	case over <= 0:
		return channel{}
	case vds >= over:
		base := k / 2 * over * over
		return channel{base * (1 + lambda*vds), k * over * (1 + lambda*vds), base * lambda}
	}
	base := k * (over*vds - vds*vds/2)
	return channel{base * (1 + lambda*vds), k * vds * (1 + lambda*vds), k*(over-vds)*(1+lambda*vds) + base*lambda}
}

// opamp is the open output of an op-amp that has had time, and its gain there.
func (e *element) opamp(x []float64) (v, slope float64) {
	upper, lower := volts(x, e.nodes[3]), volts(x, e.nodes[4])
	half := max((upper-lower)/2-e.v[short], 1e-3)
	t := math.Tanh(e.v[gain] * e.across(x, 0, 1) / half)
	return (upper+lower)/2 + half*t, e.v[gain] * max(1-t*t, 1e-9)
}

// lag is the time constant of an op-amp's pole, in seconds.
func (e *element) lag() float64 { return e.v[gain] / (2 * math.Pi * e.v[gbw]) }

// supplying is the supply node that an op-amp's output current goes to or comes from.
func (e *element) supplying(x []float64) int {
	if x[e.branch] > 0 {
		return e.nodes[4]
	}
	return e.nodes[3]
}

// into is the current into each terminal of a part at rest, by its own equations.
func (n *Net) into(e *element, x []float64) []float64 {
	through := func(amps float64) []float64 { return []float64{amps, -amps} }
	switch e.kind {
	case Resistor, Joint:
		return through(e.across(x, 0, 1) / e.v[main])
	case Contact:
		return through(e.across(x, 0, 1) / e.contact())
	case Capacitor:
		return through(e.across(x, 0, 1) / e.v[leak])
	case Inductor, Voltage, Signal, Alternating:
		return through(x[e.branch])
	case Relay:
		return append(through(x[e.branch]), through(e.across(x, 2, 3)/e.worked(x))...)
	case Windings:
		return append(through(x[e.branch]), through(x[e.branch+1])...)
	case Current:
		return through(e.v[main])
	case Diode:
		v := e.across(x, 0, 1)
		amps, _ := junction(v, e.v[dIs], e.v[dN]*thermal)
		if e.breaks(v) {
			back, _ := junction(-(v + e.v[dBv]), e.v[dIs], thermal)
			amps = -back - e.v[dIs]
		}
		return through(amps + leastGmin*v)
	case NPN, PNP:
		sign := polarity(e.kind)
		q := e.bipolar(sign*e.across(x, 1, 2), sign*e.across(x, 1, 0), leastGmin)
		return []float64{sign * q.ic, sign * q.ib, -sign * (q.ic + q.ib)}
	case NJFET, PJFET, NMOS, PMOS:
		sign := polarity(e.kind)
		id := sign*e.fet(sign*e.across(x, 1, 2), sign*e.across(x, 0, 2)).id + leastGmin*e.across(x, 0, 2)
		ig := 0.0
		if e.kind.gated() {
			ig, _ = junction(sign*e.across(x, 1, 2), usualIs, thermal)
			ig = sign*ig + leastGmin*e.across(x, 1, 2)
		}
		return []float64{id, ig, -id - ig}
	case Pot:
		top, bottom := e.halves()
		a, b := e.across(x, 0, 1)/top, e.across(x, 1, 2)/bottom
		return []float64{a, b - a, -b}
	case OpAmp:
		in := e.across(x, 0, 1) / e.v[rin]
		out := []float64{in, -in, x[e.branch], 0, 0}
		if out[2] > 0 {
			out[4] = -out[2]
		} else {
			out[3] = -out[2]
		}
		return out
	}
	panic(fmt.Sprintf("no equation for a %s", e.kind))
}
