package circuit

import (
	"math"
	"math/cmplx"
	"slices"
)

// Bounds of readings, and what they spread by besides what parts' tolerances make.
const (
	usualError = 0.01
	leastVolts = 0.004
	// gainFloor is what noise and leakage make of a signal of one volt at the source: below, no instrument tells a
	// little from nothing.
	gainFloor   = 2e-3
	rippleFloor = 2e-3
	leastGain   = 1e-6
	signalShare = 0.06 // 0.5 dB: of a small signal, by transistors and diodes
	plainShare  = 0.01 // by what else a circuit has about it
	courseShare = 0.04 // of volts behind a rectifier, by its winding and diodes
	rippleShare = 0.12
	ohmsShare   = 0.06
	shortMay    = 10.0 // ohms: what has failed shorted has anything up to that
	openAlone   = 1e6  // ohms: what reads more alone is open
	swingShare  = 0.03 // of a frequency whose circuit does not swing when it is good
	mostOhms    = 20e6 // what a meter shows as open
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

	factors *factors[float64] // of the equations at rest
	moves   []move
	moved   map[int][]float64 // what tolerances move of each node that was asked for
	linear  *linear
	hz      float64 // at which linear was solved
	small   []complex128
	swing   float64
	swings  bool              // swing is known
	dead    *factors[float64] // of those with the power off
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
		p := v.predict(&look{what: DC, node: i, to: ground}, 0)
		out[name] = Standing{p.value, 2 * p.sigma()}
	}
	return out, n.state(v.x), true
}

// standing tells a reading that a net has to stand for; others are taken with the power off.
func (l *look) standing() bool {
	return l.what == DC || l.what == Gain || l.what == Ripple || l.what == Frequency || l.what == Shape
}

// predicted is what a reading would show, on the scale on which readings are weighed: volts as they are, gains and
// ripple by their logarithm as far as they stand above a floor, resistances by theirs. Noise is its spread on that
// scale (one standard deviation) by itself, moved what each tolerance of the circuit moves, in the order of
// Net.tolerances; nil where none does.
type predicted struct {
	value    float64 // as it is shown, in SI
	at       float64
	noise    float64
	moved    []float64
	discrete bool // a word: found or not
}

// sigma is the spread of all.
func (p *predicted) sigma() float64 {
	sum := p.noise * p.noise
	for _, m := range p.moved {
		sum += m * m
	}
	return math.Sqrt(sum)
}

// floored is a value by its logarithm where it stands above a floor, and as it is below; slope what it changes by
// when the value changes by its whole.
func floored(x, floor float64) (at, slope float64) {
	return math.Asinh(x / floor), x / math.Hypot(x, floor)
}

// scaled is where what was read stands on the scale on which it is weighed.
func (l *look) scaled() float64 {
	switch l.what {
	case Gain, Ripple, Frequency:
		at, _ := floored(l.value, l.noisy())
		return at
	case Ohms:
		return math.Log(min(l.value, mostOhms) + shortMay)
	case Alone:
		return math.Log(max(min(l.value, openAlone), least))
	}
	return l.value
}

// noisy is where noise begins for a reading.
func (l *look) noisy() float64 {
	if l.floor > 0 {
		return l.floor
	}
	return l.floorOf(1)
}

// floorOf is that if what it is told against has so many volts for one at the source.
func (l *look) floorOf(from float64) float64 {
	switch l.what {
	case Gain:
		return gainFloor / max(from, gainFloor)
	case Ripple:
		return rippleFloor
	}
	return 1 // Hz
}

// predict is what a reading would show, with what tolerances move of it. Share is how far a frequency may be off. A
// net that a reading has to stand for has to do so.
func (v *view) predict(l *look, share float64) predicted {
	p := v.shows(l, share)
	v.spread(l, &p)
	return p
}

// spread adds what tolerances move of a reading.
func (v *view) spread(l *look, p *predicted) {
	switch {
	case p.moved != nil:
	case l.what == DC && v.course != nil:
		p.moved = make([]float64, v.net.tolerances()+1)
		p.moved[v.net.tolerances()] = courseShare * p.value // the winding has more or less for all
	case l.what == DC:
		p.moved = v.movement(l.node)
		if l.to != ground {
			p.moved = slices.Clone(p.moved)
			for m, x := range v.movement(l.to) {
				p.moved[m] -= x
			}
		}
	case l.what == Gain && l.to == ground:
		if v.respond(l.hz); v.small != nil && cmplx.Abs(pickComplex(v.small, l.node)) > leastGain && v.from(l) >= leastGain {
			p.moved = v.linear.moves(v.small, l.node, l.hz)
			_, slope := floored(p.value, l.noisy())
			for m := range p.moved {
				p.moved[m] = max(-1, min(p.moved[m], 1)) * slope
			}
		}
	}
}

// shows is what a reading would show by itself.
func (v *view) shows(l *look, share float64) (p predicted) {
	switch l.what {
	case DC:
		if v.course != nil {
			a, b := v.mean(l.node), v.mean(l.to)
			p = predicted{value: a - b, at: a - b, noise: courseShare/2*(math.Abs(a)+math.Abs(b)) + leastVolts}
			break
		}
		p.value = volts(v.x, l.node) - volts(v.x, l.to)
		p.at, p.noise = p.value, leastVolts
	case Gain:
		v.signal(l, &p)
	case Ripple:
		if v.course != nil {
			low, high := math.Inf(1), math.Inf(-1)
			for i := range v.wave(l.node) {
				d := v.wave(l.node)[i] - v.wave(l.to)[i]
				low, high = min(low, d), max(high, d)
			}
			p.value = high - low
		}
		at, slope := floored(p.value, l.noisy())
		p.at, p.noise = at, math.Hypot(rippleShare*slope, 1-slope)
	case Frequency:
		if !v.swings {
			v.swing, v.swings = v.net.Swing(&Rest{x: v.x}), true
		}
		at, slope := floored(v.swing, l.noisy())
		p = predicted{value: v.swing, at: at, noise: math.Hypot(share*slope, 1-slope)}
	case Shape:
		return predicted{value: float64(v.shape(l)), discrete: true}
	case Checked:
		if slices.Contains(v.bad, l.part) {
			return predicted{value: 1, discrete: true}
		}
		return predicted{discrete: true}
	case Ohms:
		p.value = v.ohms(l.node, l.to)
		p.at, p.noise = math.Log(p.value+shortMay), ohmsShare
	case Alone:
		e := &v.net.elements[v.net.first(l.part)]
		p.value = e.v[main]
		if len(e.is.spread) > 0 {
			share = e.is.spread[0].share
		}
		p.at, p.noise = math.Log(max(min(p.value, openAlone), least)), 2*share
	}
	switch l.what { // the meter's own
	case DC:
		p.noise = math.Hypot(p.noise, l.error*math.Abs(p.value))
	case Gain, Ripple, Frequency:
		_, slope := floored(p.value, l.noisy())
		p.noise = math.Hypot(p.noise, l.error*slope)
	default:
		p.noise = math.Hypot(p.noise, l.error)
	}
	return p
}

// from is how many volts a gain is told against, for one at the source.
func (v *view) from(l *look) float64 {
	if l.what != Gain || l.from == ground || v.small == nil {
		return 1
	}
	return cmplx.Abs(pickComplex(v.small, l.from))
}

// signal predicts a gain.
func (v *view) signal(l *look, p *predicted) {
	v.respond(l.hz)
	from := v.from(l)
	if v.small == nil || from < leastGain {
		p.noise = 1 // nothing comes in: no gain can be told
		return
	}
	g := pickComplex(v.small, l.node) - pickComplex(v.small, l.to)
	p.value = cmplx.Abs(g) / from
	at, slope := floored(p.value, l.noisy())
	spread := plainShare
	if v.net.bends() {
		spread = signalShare
	}
	p.at, p.noise = at, math.Hypot(spread*slope, 1-slope)
}

// likely is the logarithm of how likely a reading is by itself where one is predicted.
func (l *look) likely(p *predicted) float64 {
	switch l.what {
	case Checked:
		if l.value == p.value {
			return math.Log(1 - wrongCheck)
		}
		return math.Log(wrongCheck)
	case Shape:
		return math.Log(likelyShape(int(l.value), int(p.value)))
	}
	sigma := p.sigma()
	z := (l.scaled() - p.at) / sigma
	return math.Log((1-misread)*math.Exp(-z*z/2)/(sigma*math.Sqrt(2*math.Pi)) + misread/l.width())
}

// width is over how much of its scale a reading may lie that was taken wrongly.
func (l *look) width() float64 {
	if l.what == DC {
		return max(20, 2*math.Abs(l.value))
	}
	return 12 // a range of 160,000 to one
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
		v.dead = factorize(off.about(make([]float64, off.size), 1), off.unknowns())
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
	p := v.predict(&l, swingShare)
	return l.text(p.value, from.parts), true
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

// tolerances is how many of the circuit's values may be off.
func (n *Net) tolerances() int {
	count := 0
	for i := range n.elements {
		count += len(n.elements[i].is.spread)
	}
	return count
}

// movement is what each tolerance (one standard deviation) moves of a node's voltage, to first order: what a part's
// change moves in the equations, through the adjoint at rest.
func (v *view) movement(node int) []float64 {
	if out, ok := v.moved[node]; ok {
		return out
	}
	out := make([]float64, v.net.tolerances())
	if node < 0 {
		return out
	}
	if v.factors == nil {
		st := v.net.about(v.x, 1)
		v.factors = factorize(st, v.net.unknowns())
		v.moves = v.net.moves(v.x)
		v.moved = map[int][]float64{}
	}
	if v.factors.ok {
		unit := make([]float64, v.net.size)
		unit[node] = 1
		y := v.factors.solveTransposed(unit)
		for _, m := range v.moves {
			for k, at := range m.nodes {
				if at >= 0 {
					out[m.tolerance] -= y[at] * m.amps[k]
				}
			}
		}
	}
	v.moved[node] = out
	return out
}

// move is the current that a part's tolerance (one standard deviation) adds into its
// terminals.
type move struct {
	tolerance int
	nodes     []int
	amps      []float64
}

func (n *Net) moves(x []float64) []move {
	var out []move
	count := 0
	for i := range n.elements {
		e := &n.elements[i]
		var before []float64
		for _, s := range e.is.spread {
			count++
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
			out = append(out, move{count - 1, e.nodes, amps})
		}
	}
	return out
}

// Alternates tells whether a mains winding feeds the circuit, so that it never stands still.
func (n *Net) Alternates() bool { return n.Mains() > 0 }

// bends tells a net that has junctions, whose small signals follow from how it stands.
func (n *Net) bends() bool {
	return slices.ContainsFunc(n.elements, func(e element) bool { return e.is.role == transistor || e.is.junctions != nil })
}
