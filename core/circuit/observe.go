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
	swungShare  = 0.05 // of what pulses or a turn of its own make, which hangs on fewer unknowns
	dutySpread  = 0.02 // of a turn
	ohmsShare   = 0.06
	shortMay    = 10.0 // ohms: what has failed shorted has anything up to that
	openAlone   = 1e6  // ohms: what reads more alone is open
	swingShare  = 0.03 // of a frequency whose circuit does not swing when it is good
	mostOhms    = 20e6 // what a meter shows as open
	// wrongCheck is how often a good part is found bad, or a bad one good.
	wrongCheck = 0.02
)

// standing tells a reading that a net has to stand for; others are taken with the power off.
func (l *look) standing() bool {
	return l.what == DC || l.what == Gain || l.what == Ripple || l.what == Frequency || l.what == Duty || l.what == Shape
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
	case p.moved != nil, v.net.Runs():
	case l.what == DC && v.turn != nil:
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
//
// Long: a case for each that can be read.
func (v *view) shows(l *look, share float64) (p predicted) {
	switch l.what {
	case DC:
		if v.turn != nil {
			a, b := v.turn.mean(l.node), v.turn.mean(l.to)
			p = predicted{value: a - b, at: a - b, noise: courseShare/2*(math.Abs(a)+math.Abs(b)) + leastVolts}
			break
		}
		p.value = volts(v.x, l.node) - volts(v.x, l.to)
		p.at, p.noise = p.value, leastVolts
	case Gain:
		v.signal(l, &p)
	case Ripple:
		if v.turn != nil {
			p.value = v.swings(l.node, l.to)
		} else if e := v.net.switches(); e != nil {
			p.value = v.carrier(e, l)
		}
		at, slope := floored(p.value, l.noisy())
		share := rippleShare
		if v.net.followed() {
			share = swungShare
		}
		p.at, p.noise = at, math.Hypot(share*slope, 1-slope)
	case Frequency:
		switch {
		case v.net.Runs() && v.turn != nil:
			v.swing, v.swung = 1/v.turn.period(), true
		case v.net.Runs(): // this one stands still
		case !v.swung:
			v.swing, v.swung = v.net.Swing(&Rest{x: v.x}), true
		}
		at, slope := floored(v.swing, l.noisy())
		p = predicted{value: v.swing, at: at, noise: math.Hypot(share*slope, 1-slope)}
	case Duty:
		if v.turn != nil && v.swings(l.node, ground) > markSwing {
			p.value = v.turn.duty(l.node)
		}
		p.at, p.noise = p.value, dutySpread
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
	case DC, Duty:
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
	switch l.what {
	case DC:
		return max(20, 2*math.Abs(l.value))
	case Duty:
		return 1
	}
	return 12 // a range of 160,000 to one
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

// Alternates tells whether a mains winding feeds the circuit, so that it never stands still.
func (n *Net) Alternates() bool { return n.Mains() > 0 }

// bends tells a net that has junctions, whose small signals follow from how it stands.
func (n *Net) bends() bool {
	return slices.ContainsFunc(n.elements, func(e element) bool { return e.is.role == transistor || e.is.junctions != nil })
}
