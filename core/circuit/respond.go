package circuit

import (
	"math"
	"math/cmplx"

	"gonum.org/v1/gonum/mat"
)

// Response is how a signal of one volt at the circuit's signal sources arrives at each
// node, by frequency (Hz): its size and phase. Linear about a state of rest.
type Response struct {
	Hz    float64            `json:"hz"`
	Gain  map[string]float64 `json:"gain"`  // volts at the node for one volt of signal
	Phase map[string]float64 `json:"phase"` // degrees
}

// Respond solves for small signals at frequencies. The complex equations are solved as
// real ones of twice the size.
func (n *Net) Respond(rest *Rest, hz []float64) ([]Response, error) {
	fixed := n.about(rest)
	out := make([]Response, 0, len(hz))
	for _, f := range hz {
		w := 2 * math.Pi * f
		real, imaginary := newStamps(n.size), newStamps(n.size)
		copy(real.g, fixed.g)
		for i := range n.elements {
			n.elements[i].reactive(real, imaginary, w, rest.x)
		}
		x, err := solveComplex(real, imaginary)
		if err != nil {
			return nil, err
		}
		r := Response{Hz: f, Gain: map[string]float64{}, Phase: map[string]float64{}}
		for i, name := range n.Nodes {
			r.Gain[name], r.Phase[name] = cmplx.Abs(x[i]), cmplx.Phase(x[i])*180/math.Pi
		}
		out = append(out, r)
	}
	return out, nil
}

// about is the circuit's equations, linear about a state of rest: there no junction is
// held back.
func (n *Net) about(rest *Rest) *stamps {
	s, st := n.solving(), newStamps(n.size)
	for i := range n.elements {
		s.atRest(i, rest.x)
	}
	s.stamp(st, rest.x)
	for i := range n.Nodes {
		st.add(i, i, leastGmin)
	}
	return st
}

// atRest lets the junctions of an element stand where a solution has them.
func (s *solving) atRest(i int, x []float64) {
	e := &s.elements[i]
	across := func(a, b int) float64 { return volts(x, e.nodes[a]) - volts(x, e.nodes[b]) }
	switch e.Kind {
	case Diode:
		s.held[2*i] = across(0, 1)
		if bv := e.value("bv"); across(0, 1) < -bv+10*thermal {
			s.held[2*i] = -(across(0, 1) + bv)
		}
	case NPN, PNP:
		sign := polarity(e.Kind)
		s.held[2*i], s.held[2*i+1] = sign*across(1, 2), sign*across(1, 0)
	case NJFET, PJFET:
		s.held[2*i] = polarity(e.Kind) * across(1, 2)
	}
}

// reactive adds what depends on the frequency, and the signal.
func (e *element) reactive(re, im *stamps, w float64, x []float64) {
	switch e.Kind {
	case Capacitor: // in series with its ESR
		c, esr := e.value(""), e.value("esr")
		y := complex(0, w*c) / complex(1, w*c*esr)
		re.conductance(e.nodes[0], e.nodes[1], real(y))
		im.conductance(e.nodes[0], e.nodes[1], imag(y))
	case Inductor:
		im.add(e.branch, e.branch, -w*e.value(""))
	case Windings:
		primary, ratio := e.value(""), e.value("ratio")
		mutual := e.value("coupling") * primary * ratio
		im.add(e.branch, e.branch, -w*primary)
		im.add(e.branch+1, e.branch+1, -w*primary*ratio*ratio)
		im.add(e.branch, e.branch+1, -w*mutual)
		im.add(e.branch+1, e.branch, -w*mutual)
	case Signal:
		re.b[e.branch] = 1
	case OpAmp: // its gain falls beyond its pole
		_, gain := e.opamp(x)
		pole := 2 * math.Pi * e.value("gbw") / e.value("gain")
		y := complex(gain, 0) / complex(1, w/pole)
		re.add(e.branch, e.nodes[0], gain-real(y))
		re.add(e.branch, e.nodes[1], real(y)-gain)
		im.add(e.branch, e.nodes[0], -imag(y))
		im.add(e.branch, e.nodes[1], imag(y))
	}
}

// solveComplex solves (A + jB)·x = b, b real.
func solveComplex(a, b *stamps) ([]complex128, error) {
	n := a.n
	whole := mat.NewDense(2*n, 2*n, nil)
	for i := range n {
		for k := range n {
			re, im := a.g[i*n+k], b.g[i*n+k]
			whole.Set(i, k, re)
			whole.Set(n+i, n+k, re)
			whole.Set(i, n+k, -im)
			whole.Set(n+i, k, im)
		}
	}
	var lu mat.LU
	lu.Factorize(whole)
	right := mat.NewVecDense(2*n, nil)
	for i, v := range a.b {
		right.SetVec(i, v)
	}
	var x mat.VecDense
	if err := lu.SolveVecTo(&x, false, right); err != nil {
		if c, ok := err.(mat.Condition); !ok || math.IsInf(float64(c), 1) {
			return nil, ErrUnsettled
		}
	}
	out := make([]complex128, n)
	for i := range out {
		out[i] = complex(x.AtVec(i), x.AtVec(n+i))
	}
	return out, nil
}
