package circuit

import (
	"math"
	"math/cmplx"
	"slices"
)

// Bounds of readings, and what they spread by besides what parts' tolerances make.
const (
	usualError  = 0.01
	leastVolts  = 0.005
	signalShare = 0.06 // 0.5 dB: of a small signal, by transistors
	leastGain   = 1e-6
	courseShare = 0.04 // of volts and ripple behind a rectifier, by its winding and diodes
	rippleShare = 0.12
	ohmsShare   = 0.06
	shortMay    = 10.0 // ohms: what has failed shorted has anything up to that
	openAlone   = 1e6  // ohms: what reads more alone is open
	swingShare  = 0.03 // of a frequency whose circuit does not swing when it is good
	mostOhms    = 20e6 // what a meter shows as open
	tail        = 1e-6 // a reading may be wrong altogether
	// wrongCheck is how often a good part is found bad, or a bad one good.
	wrongCheck = 0.02
)

// view is a net with what is known of how it stands, for predicting readings.
type view struct {
	net    *Net
	near   []float64 // how it stood without its faults; nil: not known
	bad    []int     // parts that have failed
	stood  bool      // it was tried
	x      []float64 // at rest, or at the end of a cycle of the mains; nil where it does not come to rest
	course *Course   // one cycle of the mains, where that feeds it

	factors *factors // of the equations at rest
	moves   []move
	linear  *linear
	hz      float64 // at which linear was solved
	small   []complex128
	swing   float64
	swings  bool     // swing is known
	dead    *factors // of those with the power off
}

// mainsCycles is how many cycles of the mains are let pass from the peak, until what
// a reservoir holds repeats, and mainsPoints those of the cycle that is looked at.
const mainsCycles, mainsPoints = 8, 201

// view looks at a net, from how it stood without its faults (nil: from nothing).
func (n *Net) view(near []float64, bad ...int) *view { return &view{net: n, near: near, bad: bad} }

// stand lets it come to rest, once; false where it does not.
func (v *view) stand() bool {
	if v.stood {
		return v.x != nil
	}
	v.stood = true
	n := v.net
	hz, alternates := n.alternates()
	if !alternates {
		if x, ok := n.settle(v.near); ok {
			v.x = x
		}
		return v.x != nil
	}
	x, ok := n.atPeak().settle(v.near)
	if !ok {
		return false
	}
	course, err := n.follow(x, Drive{}, mainsCycles/hz, 1/hz, mainsPoints)
	if err != nil {
		return false
	}
	v.course, v.x = course, course.end
	return true
}

// Standing is what a good circuit has at a node: volts of DC, and how far they may be off
// with parts as they are sold (two standard deviations).
type Standing struct{ Volts, Within float64 }

// Standing gives it for every node, and how the circuit stands: at rest, or behind a mains
// winding at the end of a cycle. Ok is false where it does not come to rest.
func (n *Net) Standing() (out map[string]Standing, rest *Rest, ok bool) {
	v := n.view(nil)
	if !v.stand() {
		return nil, nil, false
	}
	out = map[string]Standing{}
	for i, name := range n.Nodes {
		x, sigma := v.predict(&look{what: DC, node: i, to: ground}, 0)
		out[name] = Standing{x, 2 * sigma}
	}
	return out, n.state(v.x), true
}

// standing tells a reading that a net has to stand for; others are taken with the power off.
func (l *look) standing() bool {
	return l.what == DC || l.what == Gain || l.what == Ripple || l.what == Frequency || l.what == Shape
}

// predict is what a reading would show, and its spread (one standard deviation). Share is
// how far a frequency may be off. A net that a reading has to stand for has to do so.
func (v *view) predict(l *look, share float64) (value, sigma float64) {
	switch l.what {
	case DC:
		if v.course != nil {
			a, b := v.mean(l.node), v.mean(l.to)
			return a - b, courseShare*(math.Abs(a)+math.Abs(b)) + leastVolts
		}
		a, b := volts(v.x, l.node), volts(v.x, l.to)
		return a - b, math.Sqrt(v.variance(l.node) + v.variance(l.to) + leastVolts*leastVolts)
	case Gain:
		v.respond(l.hz)
		if v.small == nil {
			return 0, leastGain
		}
		g := pickComplex(v.small, l.node) - pickComplex(v.small, l.to)
		spread := signalShare
		if l.from != ground {
			from := pickComplex(v.small, l.from)
			if cmplx.Abs(from) < leastGain {
				return 0, 1 // nothing comes in: no gain can be told
			}
			spread = math.Hypot(spread, v.linear.spread(v.small, l.node, l.hz))
			return cmplx.Abs(g / from), min(spread, 1)*cmplx.Abs(g/from) + leastGain
		}
		if l.to == ground && cmplx.Abs(g) > leastGain {
			spread = math.Hypot(spread, v.linear.spread(v.small, l.node, l.hz))
		}
		return cmplx.Abs(g), min(spread, 1)*cmplx.Abs(g) + leastGain
	case Ripple:
		if v.course == nil {
			return 0, leastVolts
		}
		low, high := math.Inf(1), math.Inf(-1)
		for i := range v.wave(l.node) {
			d := v.wave(l.node)[i] - v.wave(l.to)[i]
			low, high = min(low, d), max(high, d)
		}
		return high - low, rippleShare*(high-low) + 1e-3
	case Frequency:
		if !v.swings {
			v.swing, v.swings = v.net.Swing(&Rest{x: v.x}), true
		}
		return v.swing, share*v.swing + 1
	case Shape:
		return float64(v.shape(l)), 0
	case Ohms:
		return v.ohms(l.node, l.to), 0
	case Alone:
		e := &v.net.elements[v.net.first(l.part)]
		x := e.v[main]
		if len(e.is.spread) > 0 {
			share = e.is.spread[0].share
		}
		return x, 2 * share * x
	}
	if slices.Contains(v.bad, l.part) {
		return 1, 0
	}
	return 0, 0
}

// likely is the logarithm of how likely a reading is where one value is predicted, and how
// many of its spreads it is off.
func (l *look) likely(predicted, sigma float64) (log, off float64) {
	switch l.what {
	case Checked:
		if l.value == predicted {
			return math.Log(1 - wrongCheck), 0
		}
		return math.Log(wrongCheck), 3
	case Shape:
		p := likelyShape(int(l.value), int(predicted))
		return math.Log(p), 3 * (rightShape - p) / rightShape
	case Ohms: // by how many times it is off, and a short may have some ohms
		share := math.Hypot(ohmsShare, l.error)
		z := math.Log((min(l.value, mostOhms)+shortMay)/(min(predicted, mostOhms)+shortMay)) / share
		return math.Log(math.Exp(-z*z/2)/share + tail), z
	case Alone:
		share := math.Hypot(sigma/max(predicted, 1e-15), l.error)
		z := math.Log(max(min(l.value, openAlone), 1e-15)/max(min(predicted, openAlone), 1e-15)) / share
		return math.Log(math.Exp(-z*z/2)/share + tail), z
	}
	sigma = math.Hypot(sigma, l.error*math.Abs(predicted))
	z := (l.value - predicted) / sigma
	return math.Log(math.Exp(-z*z/2)/sigma + tail), z
}

func (v *view) wave(node int) []float64 {
	if node < 0 {
		return make([]float64, mainsPoints)
	}
	return v.course.Volts[v.net.Nodes[node]]
}

// mean is a node's volts over a cycle of the mains.
func (v *view) mean(node int) float64 {
	w, sum := v.wave(node), 0.0
	for i := 1; i < len(w); i++ {
		sum += (w[i] + w[i-1]) / 2
	}
	return sum / float64(len(w)-1)
}

func (v *view) respond(hz float64) {
	if v.linear == nil {
		v.linear = v.net.linear(v.x, 1)
	}
	if v.hz == hz {
		return
	}
	v.hz = hz
	var ok bool
	if v.small, ok = v.linear.solve(hz); !ok {
		v.small = nil
	}
}

func pickComplex(x []complex128, node int) complex128 {
	if node < 0 {
		return 0
	}
	return x[node]
}

// ohms is what a meter shows between two nodes with the power off: its volts are too few to
// make silicon conduct, so that all is linear about no voltage at all.
func (v *view) ohms(a, b int) float64 {
	if v.dead == nil {
		off := v.net.poweredOff()
		v.dead = factorize(off.about(make([]float64, off.size), 1))
	}
	if !v.dead.ok {
		return mostOhms
	}
	x := make([]float64, v.dead.n)
	for node, amps := range map[int]float64{a: 1, b: -1} {
		if node >= 0 {
			x[node] = amps
		}
	}
	x = v.dead.solve(x)
	return min(math.Abs(volts(x, a)-volts(x, b)), mostOhms)
}

// Shows is what a reading would show in this net, as text; gains are told from the entry. Ok is
// false where there is no such place, or it does not come to rest.
func (n *Net) Shows(entry string, r NodeReading) (text string, ok bool) {
	from := *n
	if at, found := n.node(entry); found {
		from.entry = at
	}
	r.Value = "0"
	l, err := from.look(&r)
	v := from.view(nil)
	if err != nil || l.standing() && !v.stand() {
		return "", false
	}
	x, _ := v.predict(&l, swingShare)
	return l.text(x, from.parts), true
}

// OhmsToGround is what a meter shows from a node to ground with the power off; ok is false where
// there is no such node.
func (n *Net) OhmsToGround(node string) (ohms float64, ok bool) {
	at, ok := n.node(node)
	if !ok || at == ground {
		return 0, false
	}
	return n.view(nil).ohms(at, ground), true
}

// Beside is what else connects the ends of a part with the power off, in ohms; ok is false where
// there is no such part, or nothing does.
func (n *Net) Beside(part string) (ohms float64, ok bool) {
	at := slices.IndexFunc(n.parts, func(p Part) bool { return p.Name == part })
	if at < 0 {
		return 0, false
	}
	e := n.elements[n.first(at)]
	lifted := n.With(Fault{part: at, change: opened(0)})
	ohms = lifted.view(nil).ohms(e.nodes[0], e.nodes[1])
	return ohms, ohms < mostOhms
}

// Figures are those of a part as the circuit has it: its main one (Ω, F, Hz; of a winding its
// copper's Ω, of a Zener diode its V), and the volts that a relay pulls at; 0 where it has none.
type Figures struct {
	Kind         Kind
	Value, Pulls float64
}

// Figures are those of a part; ok is false where there is none of that name.
func (n *Net) Figures(part string) (f Figures, ok bool) {
	at := slices.IndexFunc(n.parts, func(p Part) bool { return p.Name == part })
	if at < 0 {
		return f, false
	}
	e := &n.elements[n.first(at)]
	is := sortOf(n.parts[at].Kind)
	if is.figures != nil {
		f = is.figures(n, e)
	}
	f.Kind = is.kind
	return f, true
}

// variance is that of a node's voltage which the parts' tolerances make, to first order:
// what a part's change moves in the equations, through the adjoint at rest.
func (v *view) variance(node int) float64 {
	if node < 0 {
		return 0
	}
	if v.factors == nil {
		st := v.net.about(v.x, 1)
		v.factors = factorize(st)
		v.moves = v.net.moves(v.x)
	}
	if !v.factors.ok {
		return 0
	}
	unit := make([]float64, v.net.size)
	unit[node] = 1
	y := v.factors.solveTransposed(unit)
	sum := 0.0
	for _, m := range v.moves {
		moved := 0.0
		for k, at := range m.nodes {
			if at >= 0 {
				moved -= y[at] * m.amps[k]
			}
		}
		sum += moved * moved
	}
	return sum
}

// move is the current that a part's tolerance (one standard deviation) adds into its
// terminals.
type move struct {
	nodes []int
	amps  []float64
}

func (n *Net) moves(x []float64) []move {
	var out []move
	for i := range n.elements {
		e := &n.elements[i]
		var before []float64
		for _, s := range e.is.spread {
			if math.IsInf(e.v[s.field], 1) || e.is.branches > 0 || e.is == capacitor {
				continue // it moves nothing at rest
			}
			if before == nil {
				before = e.is.into(e, x)
			}
			varied := *e
			varied.v = slices.Clone(e.v)
			varied.v[s.field] *= 1 + s.share/8 // an eighth of it, where all is straight
			amps := e.is.into(&varied, x)
			for k := range amps {
				amps[k] = 8 * (amps[k] - before[k])
			}
			out = append(out, move{e.nodes, amps})
		}
	}
	return out
}

// Alternates tells whether a mains winding feeds the circuit, so that it never stands still.
func (n *Net) Alternates() bool { return n.Mains() > 0 }
