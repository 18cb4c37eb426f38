package circuit

import (
	"errors"
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"
)

// thermal is kT/q at 27 °C, in volts.
const thermal = 0.025865

// Rest is a circuit at rest: what stands at its nodes (volts), and what its parts carry.
type Rest struct {
	Volts map[string]float64 `json:"volts"`
	Parts []PartRest         `json:"parts"`

	x []float64 // the unknowns
}

// PartRest is a part at rest: the voltage across it (from its first terminal to its
// second; of a transistor from collector to emitter, of a FET from drain to source), the
// current into its first terminal, and what it turns into heat.
type PartRest struct {
	Name  string  `json:"name"`
	Volts float64 `json:"volts"`
	Amps  float64 `json:"amps"`
	Watts float64 `json:"watts"`
}

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

// ErrUnsettled says that no state of rest was found.
var ErrUnsettled = errors.New("no state of rest was found: the circuit may have none, or a value may be far from what is usual. Look for a part connected to the wrong node")

// solving is a search for rest.
type solving struct {
	*Net
	gmin  float64   // across every junction
	share float64   // of the sources
	held  []float64 // junction voltages of the step before, by element and junction
}

const (
	mostSteps = 200
	leastGmin = 1e-12
	// settled is how little the last step may change: a volt's share, and volts.
	settledShare, settledVolts = 1e-9, 1e-10
)

// Rest finds the circuit's state of rest. The error is ErrUnsettled where there is none
// to be found.
func (n *Net) Rest() (*Rest, error) {
	s := n.solving()
	x, ok := s.newton(make([]float64, n.size))
	if !ok { // a conductance across the junctions, taken away step by step
		x, ok = s.along(func(t float64) { s.gmin = math.Pow(10, -2-10*t) }, make([]float64, n.size))
	}
	if !ok { // the sources brought up step by step
		s.gmin = leastGmin
		x, ok = s.along(func(t float64) { s.share = t }, make([]float64, n.size))
	}
	if !ok {
		return nil, ErrUnsettled
	}
	return n.state(x), nil
}

// restNear finds a state of rest from that of a circuit that differs little, by the names
// of the nodes; from nothing where that does not settle.
func (n *Net) restNear(known map[string]float64) (*Rest, error) {
	s := n.solving()
	x := make([]float64, n.size)
	for i, name := range n.Nodes {
		x[i] = known[name]
	}
	for i := range n.elements {
		s.atRest(i, x)
	}
	if x, ok := s.newton(x); ok {
		return n.state(x), nil
	}
	return n.Rest()
}

// solving begins a search.
func (n *Net) solving() *solving {
	return &solving{Net: n, gmin: leastGmin, share: 1, held: make([]float64, 2*len(n.elements))}
}

// along follows a solution while something is changed from 0 to 1, by as large steps as
// settle.
func (s *solving) along(change func(t float64), x []float64) ([]float64, bool) {
	clear(s.held)
	step := 0.1
	for t := 0.0; ; {
		change(t)
		before := append([]float64(nil), s.held...)
		next, ok := s.newton(x)
		switch {
		case ok && t >= 1:
			return next, true
		case ok:
			x = next
			step *= 1.5
		case t == 0 || step < 1e-5:
			return nil, false
		default: // back, and on by less
			copy(s.held, before)
			t -= step
			step /= 4
		}
		t = min(1, t+step)
	}
}

// newton goes from a guess to a solution.
func (s *solving) newton(x []float64) ([]float64, bool) {
	x = append([]float64(nil), x...)
	st := newStamps(s.size)
	g, b := mat.NewDense(s.size, s.size, st.g), mat.NewVecDense(s.size, st.b)
	var lu mat.LU
	var next mat.VecDense
	for range mostSteps {
		clear(st.g)
		clear(st.b)
		limited := s.stamp(st, x)
		for i := range s.Nodes { // what holds a node that only junctions reach
			st.add(i, i, leastGmin)
		}
		lu.Factorize(g)
		if err := lu.SolveVecTo(&next, false, b); err != nil {
			var condition mat.Condition
			if !errors.As(err, &condition) || math.IsInf(float64(condition), 1) {
				return nil, false
			}
		}
		done := !limited
		for i := range x {
			v := next.AtVec(i)
			if math.IsNaN(v) || math.IsInf(v, 0) {
				return nil, false
			}
			if math.Abs(v-x[i]) > settledVolts+settledShare*math.Abs(v) {
				done = false
			}
			x[i] = v
		}
		if done {
			return x, true
		}
	}
	return nil, false
}

func volts(x []float64, node int) float64 {
	if node < 0 {
		return 0
	}
	return x[node]
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

// stamp writes all equations about a state; it tells whether a junction was held back.
func (s *solving) stamp(st *stamps, x []float64) (limited bool) {
	hold := func(slot int, v, vt, is float64) float64 {
		w, held := limit(v, s.held[slot], vt, is)
		s.held[slot] = w
		limited = limited || held
		return w
	}
	for i := range s.elements {
		e := &s.elements[i]
		across := func(a, b int) float64 { return volts(x, e.nodes[a]) - volts(x, e.nodes[b]) }
		switch e.Kind {
		case Resistor, Contact:
			st.conductance(e.nodes[0], e.nodes[1], 1/e.value(""))
		case Capacitor:
			if leak := e.value("leak"); !math.IsInf(leak, 1) {
				st.conductance(e.nodes[0], e.nodes[1], 1/leak)
			}
		case Inductor:
			st.fix(e.branch, e.nodes[0], e.nodes[1], 0, e.value("ohms"))
		case Windings:
			st.fix(e.branch, e.nodes[0], e.nodes[1], 0, e.value("ohms"))
			st.fix(e.branch+1, e.nodes[2], e.nodes[3], 0, e.value("ohms")*e.value("ratio")*e.value("ratio"))
		case Voltage, Signal:
			st.fix(e.branch, e.nodes[0], e.nodes[1], s.share*e.value(""), 0)
		case Current:
			amps := s.share * e.value("")
			st.source(e.nodes[0], -amps)
			st.source(e.nodes[1], amps)
		case Pot:
			at := math.Max(1e-6, math.Min(1-1e-6, e.value("at")))
			st.conductance(e.nodes[0], e.nodes[1], 1/(e.value("")*at))
			st.conductance(e.nodes[1], e.nodes[2], 1/(e.value("")*(1-at)))
		case Diode:
			vt := e.value("n") * thermal
			v := across(0, 1)
			var amps, g float64
			if bv := e.value("bv"); v < -bv+10*thermal && !math.IsInf(bv, 1) {
				back := hold(2*i, -(v + bv), thermal, e.value("is"))
				v = -back - bv
				amps, g = junction(back, e.value("is"), thermal)
				amps = -amps - e.value("is")
			} else {
				v = hold(2*i, v, vt, e.value("is"))
				amps, g = junction(v, e.value("is"), vt)
			}
			st.nonlinear(e.nodes[0], e.nodes[1], v, amps+s.gmin*v, g+s.gmin)
		case NPN, PNP:
			sign := polarity(e.Kind)
			vbe := hold(2*i, sign*across(1, 2), thermal, e.value("is"))
			vbc := hold(2*i+1, sign*across(1, 0), thermal, e.value("is"))
			q := e.bipolar(vbe, vbc, s.gmin)
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
			sign := polarity(e.Kind)
			vgs, vds := sign*across(1, 2), sign*across(0, 2)
			f := e.fet(vgs, vds)
			d, g, so := e.nodes[0], e.nodes[1], e.nodes[2]
			st.control(d, so, g, so, f.gm)
			st.control(d, so, d, so, f.gds+s.gmin)
			rest := sign * (f.id - f.gm*vgs - f.gds*vds)
			st.source(d, -rest)
			st.source(so, rest)
			if e.Kind == NJFET || e.Kind == PJFET { // its gate is a junction
				v := hold(2*i, vgs, thermal, usualIs)
				amps, gg := junction(v, usualIs, thermal)
				st.control(g, so, g, so, gg+s.gmin)
				st.source(g, -sign*(amps-gg*v))
				st.source(so, sign*(amps-gg*v))
			}
		case OpAmp:
			st.conductance(e.nodes[0], e.nodes[1], 1/e.value("rin"))
			v, gain := e.opamp(x)
			// V(out) − V − gain·(d − d₀) − rout·I = 0, I into the output
			d := across(0, 1)
			out := e.nodes[2]
			st.add(out, e.branch, 1)
			st.add(e.supplying(x), e.branch, -1)
			st.add(e.branch, out, 1)
			st.add(e.branch, e.nodes[0], -gain)
			st.add(e.branch, e.nodes[1], gain)
			st.add(e.branch, e.branch, -e.value("rout"))
			st.b[e.branch] += v - gain*d
		}
	}
	return limited
}

// nonlinear is a part between two nodes, linear about a voltage: current and conductance.
func (s *stamps) nonlinear(a, b int, v, amps, g float64) {
	s.conductance(a, b, g)
	s.source(a, -(amps - g*v))
	s.source(b, amps-g*v)
}

func polarity(k Kind) float64 {
	if k == PNP || k == PJFET || k == PMOS {
		return -1
	}
	return 1
}

// transistor are a bipolar's currents and what they change by: gmf and gpi with the
// voltage of the emitter junction, gmr and gmu with the collector's.
type transistor struct{ ic, ib, gmf, gmr, gpi, gmu float64 }

func (e *element) bipolar(vbe, vbc, gmin float64) transistor {
	is := e.value("is")
	f, gf := junction(vbe, is, thermal)
	r, gr := junction(vbc, is, thermal)
	early := 1 - vbc/e.value("vaf")
	bf, br := e.value("bf"), e.value("br")
	return transistor{
		ic:  (f-r)*early - r/br - gmin*vbc,
		ib:  f/bf + r/br + gmin*(vbe+vbc),
		gmf: gf * early,
		gmr: -gr*early - (f-r)/e.value("vaf") - gr/br - gmin,
		gpi: gf/bf + gmin,
		gmu: gr/br + gmin,
	}
}

// channel are a FET's current and what it changes by.
type channel struct{ id, gm, gds float64 }

func (e *element) fet(vgs, vds float64) channel {
	over, k := 0.0, 0.0
	if e.Kind == NJFET || e.Kind == PJFET {
		over, k = vgs+e.value("vp"), 2*e.value("idss")/(e.value("vp")*e.value("vp"))
	} else {
		over, k = vgs-e.value("vt"), e.value("k")
	}
	lambda := e.value("lambda")
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

// opamp is the open output of an op-amp, and its gain there.
func (e *element) opamp(x []float64) (v, gain float64) {
	upper, lower := volts(x, e.nodes[3]), volts(x, e.nodes[4])
	half := max((upper-lower)/2-e.value("short"), 1e-3)
	d := volts(x, e.nodes[0]) - volts(x, e.nodes[1])
	t := math.Tanh(e.value("gain") * d / half)
	return (upper+lower)/2 + half*t, e.value("gain") * max(1-t*t, 1e-9)
}

// supplying is the supply node that an op-amp's output current goes to or comes from.
func (e *element) supplying(x []float64) int {
	if x[e.branch] > 0 {
		return e.nodes[4]
	}
	return e.nodes[3]
}

// state works out what each part carries.
func (n *Net) state(x []float64) *Rest {
	r := &Rest{Volts: map[string]float64{}, x: x}
	for i, name := range n.Nodes {
		r.Volts[name] = x[i]
	}
	for i := range n.elements {
		e := &n.elements[i]
		amps := n.into(e, x)
		p := PartRest{Name: e.Name, Volts: volts(x, e.nodes[0]) - volts(x, e.nodes[1]), Amps: amps[0]}
		if len(e.nodes) == 3 && e.Kind != Pot {
			p.Volts = volts(x, e.nodes[0]) - volts(x, e.nodes[2])
		}
		for k, node := range e.nodes {
			p.Watts += volts(x, node) * amps[k]
		}
		r.Parts = append(r.Parts, p)
	}
	return r
}

// into is the current into each terminal of a part, by its own equations.
func (n *Net) into(e *element, x []float64) []float64 {
	across := func(a, b int) float64 { return volts(x, e.nodes[a]) - volts(x, e.nodes[b]) }
	through := func(amps float64) []float64 { return []float64{amps, -amps} }
	switch e.Kind {
	case Resistor, Contact:
		return through(across(0, 1) / e.value(""))
	case Capacitor:
		return through(across(0, 1) / e.value("leak"))
	case Inductor, Voltage, Signal:
		return through(x[e.branch])
	case Windings:
		return append(through(x[e.branch]), through(x[e.branch+1])...)
	case Current:
		return through(e.value(""))
	case Diode:
		v := across(0, 1)
		amps, _ := junction(v, e.value("is"), e.value("n")*thermal)
		if bv := e.value("bv"); v < -bv+10*thermal && !math.IsInf(bv, 1) {
			back, _ := junction(-(v + bv), e.value("is"), thermal)
			amps = -back - e.value("is")
		}
		return through(amps + leastGmin*v)
	case NPN, PNP:
		sign := polarity(e.Kind)
		q := e.bipolar(sign*across(1, 2), sign*across(1, 0), leastGmin)
		return []float64{sign * q.ic, sign * q.ib, -sign * (q.ic + q.ib)}
	case NJFET, PJFET, NMOS, PMOS:
		sign := polarity(e.Kind)
		id := sign * e.fet(sign*across(1, 2), sign*across(0, 2)).id
		id += leastGmin * across(0, 2)
		ig := 0.0
		if e.Kind == NJFET || e.Kind == PJFET {
			ig, _ = junction(sign*across(1, 2), usualIs, thermal)
			ig = sign*ig + leastGmin*across(1, 2)
		}
		return []float64{id, ig, -id - ig}
	case Pot:
		at := math.Max(1e-6, math.Min(1-1e-6, e.value("at")))
		a, b := across(0, 1)/(e.value("")*at), across(1, 2)/(e.value("")*(1-at))
		return []float64{a, b - a, -b}
	case OpAmp:
		in := across(0, 1) / e.value("rin")
		out := []float64{in, -in, x[e.branch], 0, 0}
		if out[2] > 0 {
			out[4] = -out[2]
		} else {
			out[3] = -out[2]
		}
		return out
	}
	panic(fmt.Sprintf("no equation for a %s", e.Kind))
}
