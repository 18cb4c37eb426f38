package circuit

import (
	"cmp"
	"math"
	"math/cmplx"
	"slices"

	"gonum.org/v1/gonum/mat"
)

// Response is how a signal of one volt at the circuit's signal sources (of as many times that as each of them gives) arrives
// at each node, by frequency (Hz): its size and phase. Linear about a state of rest.
type Response struct {
	Hz    float64            `json:"hz"`
	Gain  map[string]float64 `json:"gain"`  // volts at the node for one volt of signal
	Phase map[string]float64 `json:"phase"` // degrees
}

// Respond solves for small signals at frequencies. The error is ErrUnsettled where a
// frequency has no answer.
func (n *Net) Respond(rest *Rest, hz []float64) ([]Response, error) {
	l := n.linear(rest.x, 1)
	out := make([]Response, 0, len(hz))
	for _, f := range hz {
		x, ok := l.solve(f)
		if !ok {
			return nil, ErrUnsettled
		}
		r := Response{Hz: f, Gain: map[string]float64{}, Phase: map[string]float64{}}
		for i, name := range n.Nodes {
			r.Gain[name], r.Phase[name] = cmplx.Abs(x[i]), cmplx.Phase(x[i])*180/math.Pi
		}
		out = append(out, r)
	}
	return out, nil
}

// Band is how a circuit passes small signals from a node to another: its gain (V/V) where it
// was asked, and the frequencies (Hz) at which that has fallen by 3 dB; 0 where it does
// not within the decades that are looked at.
type Band struct {
	Hz   float64 `json:"hz"`
	Gain float64 `json:"gain"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

const (
	bandDecades = 5 // either way
	bandSteps   = 20
)

// Band finds it by small signals, between the steps by straight lines over the logarithms.
func (n *Net) Band(rest *Rest, from, to string, hz float64) (Band, bool) {
	a, okA := n.node(from)
	b, okB := n.node(to)
	if !okA || !okB || a == ground || b == ground {
		return Band{}, false
	}
	l := n.linear(rest.x, 1)
	gain := func(hz float64) float64 {
		x, ok := l.solve(hz)
		if !ok || cmplx.Abs(x[a]) < leastGain {
			return 0
		}
		return cmplx.Abs(x[b] / x[a])
	}
	out := Band{Hz: hz, Gain: gain(hz)}
	if out.Gain <= 0 {
		return out, false
	}
	edge := func(sign float64) float64 {
		before := 0.0
		for k := 1; k <= bandDecades*bandSteps; k++ {
			at := hz * math.Pow(10, sign*float64(k)/bandSteps)
			fallen := 20 * math.Log10(max(gain(at), 1e-12)/out.Gain)
			if fallen <= -3.0103 {
				share := (-3.0103 - before) / (fallen - before)
				return hz * math.Pow(10, sign*(float64(k-1)+share)/bandSteps)
			}
			before = fallen
		}
		return 0
	}
	out.Low, out.High = edge(-1), edge(1)
	return out, true
}

// linear is a circuit about a state of rest: (G + s·C)·x = b, with what capacitors in
// series with their ESR add at each frequency.
type linear struct {
	*Net
	x     []float64 // the state that it is linear about
	steep float64
	g, c  *stamps
	lu    factors[complex128]
	all   []complex128 // the equations at a frequency
}

func (n *Net) linear(x []float64, steep float64) *linear {
	l := &linear{Net: n, x: x, steep: steep, g: n.about(x, steep), c: newStamps(n.size)}
	clear(l.g.b)
	for i := range n.elements {
		e := &n.elements[i]
		if e.is.small != nil {
			e.is.small(l, e)
		}
		if e.is.role == signal {
			l.g.b[e.branch] = e.carries()
		}
	}
	return l
}

// solve answers a frequency, in Hz, with the signal that comes in.
func (l *linear) solve(hz float64) ([]complex128, bool) { return l.answer(hz, l.g.b) }

// answer is that to another right side of the equations.
func (l *linear) answer(hz float64, to []float64) ([]complex128, bool) {
	w := 2 * math.Pi * hz
	if l.all == nil {
		l.all, l.lu.order = make([]complex128, l.size*l.size), l.unknowns()
	}
	a := l.all
	for i, g := range l.g.g {
		a[i] = complex(g, w*l.c.g[i])
	}
	for i := range l.elements {
		e := &l.elements[i]
		if e.is != capacitor || e.v[esr] == 0 {
			continue
		}
		y := e.admittance(w)
		add := func(i, k int, y complex128) {
			if i >= 0 && k >= 0 {
				a[i*l.size+k] += y
			}
		}
		add(e.nodes[0], e.nodes[0], y)
		add(e.nodes[1], e.nodes[1], y)
		add(e.nodes[0], e.nodes[1], -y)
		add(e.nodes[1], e.nodes[0], -y)
	}
	l.lu.take(l.size, a)
	if l.lu.factorize(abs1); !l.lu.ok {
		return nil, false
	}
	b := make([]complex128, l.size)
	for i, v := range to {
		b[i] = complex(v, 0)
	}
	return l.lu.solve(b), true
}

// moves are the shares by which a node's gain varies with each tolerance, to first order, by the adjoint circuit:
// dV = −yᵀ·dA·x with Aᵀ·y = e. Call it after solve.
func (l *linear) moves(x []complex128, node int, hz float64) []float64 {
	unit := make([]complex128, l.size)
	unit[node] = 1
	y := l.lu.solveTransposed(unit)
	w := 2 * math.Pi * hz
	size := cmplx.Abs(x[node])
	out := make([]float64, l.tolerances())
	count := 0
	for i := range l.elements {
		e := &l.elements[i]
		for _, s := range e.is.spread {
			count++
			if s.field == main && e.is.moved != nil {
				out[count-1] = s.share * real(e.is.moved(e, x, y, w)*cmplx.Conj(x[node])) / max(size*size, 1e-30)
			}
		}
	}
	return out
}

func abs1(z complex128) float64 { return math.Abs(real(z)) + math.Abs(imag(z)) }

// Swing is the frequency (Hz) at which a circuit swings by itself, 0 where it does not. It
// begins as the natural mode that grows fastest about the state of rest; as it grows, it is
// amplified by less, until it neither grows nor falls: what is answered is the frequency of
// the mode there, which is what a describing function has (Krylov and Bogoliubov), without
// harmonics. One that charges and turns is followed through a turn.
// Circuits of more than mostModes unknowns are not asked: that takes seconds.
func (n *Net) Swing(rest *Rest) float64 {
	if n.Runs() {
		if one, _, ok := n.cycle(rest.x); ok && one != nil {
			return 1 / one.period()
		}
		return 0
	}
	apart := n.apart()
	if apart.size > mostModes {
		return 0
	}
	s, ok := apart.growing(rest.x, 1)
	if !ok {
		return 0
	}
	low, high := 0.0, 1.0
	for high-low > 1e-4*high && high > 1e-6 {
		middle := math.Sqrt(max(low, high/16) * high)
		if low > 0 {
			middle = (low + high) / 2
		}
		if at, ok := apart.growing(rest.x, middle); ok {
			high, s = middle, at
		} else {
			low = middle
		}
	}
	return imag(s) / (2 * math.Pi)
}

const mostModes = 150

// growing is the natural mode that grows fastest and swings, as σ + jω.
func (n *Net) growing(x []float64, steep float64) (complex128, bool) {
	growing := slices.DeleteFunc(n.modes(x, steep), func(s complex128) bool {
		return !(real(s) > 1e-9*cmplx.Abs(s) && imag(s) > 1e-3*cmplx.Abs(s))
	})
	if len(growing) == 0 {
		return 0, false
	}
	return slices.MaxFunc(growing, func(a, b complex128) int { return cmp.Compare(real(a), real(b)) }), true
}

// leaves tells whether a state of rest is none: something grows there, and nothing that grows swings.
func (n *Net) leaves(x []float64) bool {
	apart := n.turning().apart()
	x = append(slices.Clone(x), make([]float64, apart.size-n.size)...)
	grows := false
	for _, s := range apart.modes(x, 1) {
		if real(s) > 1e-6*cmplx.Abs(s) {
			if math.Abs(imag(s)) > 1e-3*cmplx.Abs(s) {
				return false
			}
			grows = true
		}
	}
	return grows
}

// modes are the natural modes of a net about a state, but for those that are over at once: σ + jω each.
func (n *Net) modes(x []float64, steep float64) []complex128 {
	l := n.linear(x, steep)
	f := factorize(l.g, n.unknowns())
	if !f.ok {
		return nil
	}
	m := mat.NewDense(l.size, l.size, nil) // G⁻¹·C
	for k := range l.size {
		column := make([]float64, l.size)
		for i := range column {
			column[i] = l.c.g[i*l.size+k]
		}
		m.SetCol(k, f.solve(column))
	}
	var eigen mat.Eigen
	if !eigen.Factorize(m, mat.EigenNone) {
		return nil
	}
	var out []complex128 // (G + s·C)·x = 0, so that s = −1/µ
	for _, mu := range eigen.Values(nil) {
		if cmplx.Abs(mu) >= 1e-18 {
			out = append(out, -1/mu)
		}
	}
	return out
}

// apart is the circuit with every ESR a resistance of its own.
func (n *Net) apart() *Net {
	out := n
	for i := range n.elements {
		if e := &n.elements[i]; e.is.apart != nil && e.v[esr] > 0 {
			if out == n {
				out = n.copied()
			}
			e.is.apart(out, i, e)
		}
	}
	return out
}
