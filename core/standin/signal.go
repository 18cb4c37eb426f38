package standin

import (
	"math"
	"math/rand/v2"
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// signal is a waveform on its way along a route.
type signal struct {
	x    []float64
	rate float64
	t0   float64 // of the first sample
	hz   float64
	rng  *rand.Rand
	hiss float64 // rms of what the stages add to it, which is put on at the end

	programme func(t float64) float64 // nil: a tone
	carries   []hit                   // of stages before the frequency is changed for the last time
}

// preroll is how many samples run before the first that is given, so that the band
// limits have settled.
const preroll = 600

// Waveform is n samples at a point, a rail or a control, at a rate (samples a second),
// from a time on (seconds), in volts with its DC.
func (s *Set) Waveform(at string, stand Stand, rate float64, n int, t0 float64) []float64 {
	g := &signal{
		x:    make([]float64, n+preroll),
		rate: rate,
		t0:   t0 - preroll/rate,
		rng:  rand.New(rand.NewPCG(math.Float64bits(t0), math.Float64bits(rate))),
	}
	g.noise(floorVolts)
	dc := 0.0
	if stand.On {
		s = s.now(stand)
		dc = s.volts(at, stand.Mode)
		if line, ok := s.plan.LineIndex(at); ok {
			s.ripple(g, line)
		} else if point, ok := s.plan.PointIndex(at); ok {
			s.come(g, point, stand)
		}
	}
	out := g.x[preroll:]
	for i := range out {
		out[i] += dc
	}
	return out
}

// Hz is the frequency of the signal at a point, 0 where none comes past.
func (s *Set) Hz(at string, stand Stand) float64 {
	point, ok := s.plan.PointIndex(at)
	if !ok || !stand.On {
		return 0
	}
	g := &signal{x: make([]float64, preroll), rate: 1e6, rng: rand.New(rand.NewPCG(1, 1))}
	s.now(stand).come(g, point, stand)
	return g.hz
}

func (g *signal) noise(rms float64) {
	for i := range g.x {
		g.x[i] += rms * g.rng.NormFloat64()
	}
}

func (g *signal) add(rms, hz float64) {
	for i := range g.x {
		g.x[i] += rms * math.Sqrt2 * math.Sin(2*math.Pi*hz*(g.t0+float64(i)/g.rate))
	}
}

// modulate swings the level by a share of it.
func (g *signal) modulate(share, hz float64) {
	for i := range g.x {
		g.x[i] *= 1 + share*math.Sqrt2*math.Sin(2*math.Pi*hz*(g.t0+float64(i)/g.rate))
	}
}

// make fills in a shape of a level and a frequency.
func (g *signal) make(shape quantity.Shape, rms, hz float64) {
	peak, err := shape.Convert(rms, quantity.RMS, quantity.Peak)
	if err != nil {
		peak = rms * math.Sqrt2
	}
	g.hz, g.hiss = hz, 0
	if g.programme != nil && hz < radioHz {
		for i := range g.x {
			g.x[i] = rms * g.programme(g.t0+float64(i)/g.rate)
		}
		return
	}
	for i := range g.x {
		turn := hz * (g.t0 + float64(i)/g.rate)
		turn -= math.Floor(turn)
		v := math.Sin(2 * math.Pi * turn)
		switch shape {
		case quantity.Square:
			v = math.Copysign(1, 0.5-turn)
		case quantity.Triangle:
			v = 2 / math.Pi * math.Asin(v)
		}
		g.x[i] = peak * v
	}
}

// rms is the level now, without DC.
func (g *signal) rms() float64 {
	sum := 0.0
	for _, v := range g.x {
		sum += v * v
	}
	return math.Sqrt(sum / float64(len(g.x)))
}

func (g *signal) scale(by float64) {
	g.hiss *= by
	for i := range g.x {
		g.x[i] *= by
	}
}

// besideShare is what of a signal that comes by several ways comes by those beside the first: that which is laid out for most of it.
const besideShare = 0.2

// come brings the signal along to a point; where none comes past, nothing. What comes by several ways at once, as dry and through a reverb,
// is their sum.
func (s *Set) come(g *signal, point int, stand Stand) {
	route, from, to := s.way(point, stand)
	if route == nil {
		return
	}
	ways := [][]int{route.Stages[from:to]}
	var others []*sheet.Route
	for i := range s.plan.Routes {
		r := &s.plan.Routes[i]
		begins, ok := r.At(route.Points[from])
		at, arrives := r.At(point)
		if !ok || !arrives || begins > at || r.Mode != route.Mode ||
			slices.ContainsFunc(ways, func(w []int) bool { return slices.Equal(w, r.Stages[begins:at]) }) {
			continue
		}
		ways, others = append(ways, r.Stages[begins:at]), append(others, r)
	}
	if len(others) == 0 {
		s.comeBy(g, route, from, to, stand)
		return
	}
	early := slices.Clone(g.x)
	s.comeBy(g, route, from, to, stand)
	share, due := besideShare/float64(len(others)), 1-besideShare
	g.scale(1 - besideShare)
	for _, r := range others {
		by := &signal{x: slices.Clone(early), rate: g.rate, t0: g.t0, rng: g.rng}
		begins, _ := r.At(route.Points[from])
		at, _ := r.At(point)
		s.comeBy(by, r, begins, at, stand)
		for i := range g.x {
			g.x[i] += share * by.x[i]
		}
		if is, was := r.Levels[at], route.Levels[to]; is.Known && was.Known {
			due += share * quantity.Times(is.DBV-was.DBV)
		} else {
			due += share
		}
	}
	g.scale(1 / due)
}

// comeBy brings the signal along a route.
//
// Long: a case for each way in which a stage fails.
func (s *Set) comeBy(g *signal, route *sheet.Route, from, to int, stand Stand) {
	own := s.plan.Points[route.Points[from]].Source // an oscillator makes its signal itself
	if own && to == from {
		return
	}
	if own {
		from++
	}
	level := route.Levels[from]
	rms, hz, shape := 0.0, level.Hz, level.Shape
	if level.Known {
		rms = quantity.Times(level.DBV)
	}
	if stand.Fed != nil {
		g.programme = stand.Fed.Programme
	}
	if stand.Fed != nil && !own {
		shape = stand.Fed.Shape
		if stand.Fed.RMS > 0 {
			rms = stand.Fed.RMS
		}
		if stand.Fed.Hz > 0 {
			hz = stand.Fed.Hz
		}
	}
	if rms == 0 && !level.Known && stand.Fed == nil {
		rms = usualRMS
	}
	if rms == 0 {
		return
	}
	if hz == 0 {
		hz = 1000
	}
	if own {
		hits := s.hitsOn(route.Stages[from-1])
		if drifted(hits) {
			hz *= driftRatio
		}
		defer func() { g.spoil(hits, rms) }()
	}
	// Before the last change of frequency the signal runs at a rate of its own: at the
	// scope's, a carrier of megahertz would be nothing but its alias.
	first := from
	for i := from; i < to; i++ {
		if converts(route, i) {
			first = i
		}
	}
	if first == to || !converts(route, first) {
		g.make(shape, rms, hz)
	} else {
		early := &signal{x: make([]float64, 4*preroll), rate: perPeriod * hz, t0: g.t0, rng: g.rng}
		early.make(shape, rms, hz)
		s.along(early, route, from, first, true)
		g.make(quantity.Sine, early.rms(), g.rate/10) // of its level, until it is made anew
		g.hz, g.carries = early.hz, early.carries
	}
	s.along(g, route, first, to, false)
	g.noise(g.hiss)
}

// along takes the signal from one position of a route to another. Into a stage whose lead is on the input of the one before it comes from
// there; where that changes the frequency, or it is fed in behind, nothing comes.
func (s *Set) along(g *signal, route *sheet.Route, from, to int, carried bool) {
	var before []float64
	hiss := 0.0
	for i := from; i < to; i++ {
		wrong := s.miswired(route.Stages[i])
		switch {
		case wrong && i > from && !converts(route, i-1):
			g.x, g.hiss = before, hiss
		case wrong:
			g.scale(quantity.Times(-deadDB))
		}
		if i+1 < to && s.miswired(route.Stages[i+1]) {
			before, hiss = slices.Clone(g.x), g.hiss
		}
		s.hold(g, route, i)
		s.pass(g, route, i, carried)
	}
}

func (s *Set) miswired(stage int) bool {
	return slices.ContainsFunc(s.faults, func(f placed) bool { return f.stage == stage && f.Effect == Miswired })
}

// radioHz is from where on a signal is taken for a carrier, which is tuned.
const radioHz = 100e3

// perPeriod is how many samples a period has where a rate can be chosen.
const perPeriod = 40

// converts tells whether a stage of a route changes the signal's frequency.
func converts(route *sheet.Route, i int) bool {
	before, after := route.Levels[i].Hz, route.Levels[i+1].Hz
	return before > 0 && after > 0 && math.Abs(after/before-1) > 0.01
}

// way finds the route that brings the signal to a point, and the positions on it of
// where it begins and of the point.
func (s *Set) way(point int, stand Stand) (route *sheet.Route, from, to int) {
	for i := range s.plan.Routes {
		r := &s.plan.Routes[i]
		at, ok := r.At(point)
		if !ok || r.Mode != stand.Mode {
			continue
		}
		if stand.Fed == nil { // what comes in from outside, where something does
			if !s.plan.Points[r.Points[0]].Source {
				return r, 0, at
			}
			if route == nil {
				route, from, to = r, 0, at
			}
			continue
		}
		if fed, ok := s.plan.PointIndex(stand.Fed.At); ok {
			if k, ok := r.At(fed); ok && k <= at {
				return r, k, at
			}
		}
		if s.plan.Points[r.Points[0]].Source { // an oscillator swings whatever is fed in elsewhere
			route, from, to = r, 0, at
		}
	}
	return route, from, to
}

// pass takes the signal through stage i of a route. Carried: what takes longer than a look at a carrier goes along in what it carries.
func (s *Set) pass(g *signal, route *sheet.Route, i int, carried bool) {
	index := route.Stages[i]
	stage := &s.plan.Stages[index]
	before, after := route.Levels[i], route.Levels[i+1]
	gain, limits := gainOf(stage, route, i)
	gain += s.spread.gain(route.Points[i], route.Points[i+1])
	hits := s.hitsOn(index)
	if carried {
		hits = g.carry(hits)
	}
	nominal := 0.0 // rms behind the stage on a good set
	if after.Known {
		nominal = quantity.Times(after.DBV)
	}
	if stage.AGCdB > 0 && before.Known && g.rms() > 0 { // it holds its output down to the end of its range
		shift := quantity.DB(g.rms(), 1) - before.DBV
		gain += min(shift+stage.AGCdB, 0) - shift
	}
	changed := converts(route, i)
	if changed || after.Stated && after.Shape != before.Shape && before.Stated {
		hz := g.hz
		if changed {
			hz = g.hz * after.Hz / before.Hz
		}
		if drifted(hits) {
			hz *= driftRatio
		}
		rms := g.rms()
		if carried {
			g.rate = perPeriod * hz
		}
		g.make(after.Shape, rms, hz)
	}
	g.band(s.edges(index), quantity.Times(gain))
	g.limit(stage.ClipDBV, limits)
	g.spoil(hits, nominal)
	if changed && !carried {
		g.spoil(g.carries, nominal)
		g.carries = nil
	}
	g.hiss = math.Hypot(g.hiss, hissShare*nominal)
}

// gainOf is what a good stage of a route amplifies by (dB), as the sheet has it, whether it states the levels or the gain; and
// whether it limits its signal on a good set.
func gainOf(stage *sheet.PlanStage, route *sheet.Route, i int) (gain float64, limits bool) {
	before, after, gain := route.Levels[i], route.Levels[i+1], route.Gains[i]
	limits = before.Known && before.DBV+gain > stage.ClipDBV
	switch {
	case before.Known && after.Known && !limits:
		gain = after.DBV - before.DBV
	case math.IsNaN(gain):
		gain = 0
	}
	return gain, limits
}

// carry puts what is slow by, for what the carrier carries, and gives the rest.
func (g *signal) carry(hits []hit) []hit {
	return slices.DeleteFunc(hits, func(h hit) bool {
		slow := slices.Contains([]Effect{Distorted, Noisy, Crackling, Hum, CuttingOut}, h.effect)
		if slow {
			g.carries = append(g.carries, h)
		}
		return slow
	})
}

// limit keeps the signal below what a stage gives at the most; where it does so on a good set, what is tuned behind it makes a
// sine of it again.
func (g *signal) limit(clipDBV float64, always bool) {
	if math.IsInf(clipDBV, 0) {
		return
	}
	most := quantity.Times(clipDBV)
	if level := g.rms(); always && g.hz > radioHz && level > 0 {
		g.scale(min(level, most) / level)
		return
	}
	g.clip(math.Sqrt2*most, math.Sqrt2*most)
}

// drifted tells whether something is off in frequency.
func drifted(hits []hit) bool {
	return slices.ContainsFunc(hits, func(h hit) bool { return h.effect == Drifted })
}

// spoil does to the signal what faults do.
func (g *signal) spoil(hits []hit, nominal float64) {
	if nominal == 0 {
		nominal = g.rms()
	}
	for _, h := range hits {
		switch h.effect {
		case Dead:
			g.scale(quantity.Times(-deadDB))
		case Weak:
			g.scale(quantity.Times(-h.loss()))
		case Distorted:
			top := 0.0
			for _, v := range g.x {
				top = max(top, v)
			}
			g.clip(clipShare*top, math.Inf(1))
		case Noisy, Crackling:
			g.disturb(h.effect, nominal, h.stage)
		case Hum:
			if g.hz > radioHz { // it swings what a carrier's stage amplifies by
				g.modulate(humShare, 2*mainsHz)
			} else {
				g.disturb(Hum, nominal, h.stage)
			}
		case CuttingOut:
			for i := range g.x {
				if t := g.t0 + float64(i)/g.rate; math.Mod(t, outEvery) < outSeconds {
					g.x[i] *= 0.003
				}
			}
		}
		if h.inside != nil && !math.IsInf(h.inside.clips, 0) {
			g.clip(h.inside.clips, h.inside.clips)
		}
	}
}

func (g *signal) clip(top, bottom float64) {
	for i, v := range g.x {
		g.x[i] = max(-bottom, min(top, v))
	}
}

// band passes the signal through one pole below and one above it, and amplifies it by so much at its own frequency; they lie the factor
// beside it. A set of sixty stages is gone through in one look: all of it is done in two passes.
func (g *signal) band(edge, by float64) {
	low, high := g.hz/edge, g.hz*edge
	a := math.Exp(-2 * math.Pi * low / g.rate)
	b := 1.0
	if high < g.rate/4 {
		b = 1 - math.Exp(-2*math.Pi*high/g.rate)
	}
	last, pass, smooth := g.x[0], 0.0, 0.0
	before, after := 0.0, 0.0
	for i, v := range g.x {
		before += v * v
		pass = a * (pass + v - last)
		last = v
		smooth += b * (pass - smooth)
		after += smooth * smooth
		g.x[i] = smooth
	}
	if after > 0 {
		by *= math.Sqrt(before / after)
	}
	g.scale(by)
}

// ripple puts on a line what is on it.
func (s *Set) ripple(g *signal, line int) {
	if line >= len(s.plan.Rails) {
		return
	}
	rail := &s.plan.Rails[line]
	if s.alternates(line) {
		for i := range g.x {
			g.x[i] += math.Sqrt2 * s.lineVolts(line) * math.Sin(2*math.Pi*mainsHz*(g.t0+float64(i)/g.rate))
		}
		return
	}
	hz := rail.RippleHz
	if hz == 0 {
		hz = 2 * mainsHz
	}
	const goodShare, humTimes = 0.6, 8.0 // of the most a good one has
	most, _ := rail.MostRipple()
	pp := goodShare * most
	if slices.Contains(s.effectsOnLine(line), Hum) {
		pp = humTimes * most
	}
	if s.dead(line) {
		pp = 0
	}
	for i := range g.x { // a sawtooth
		turn := hz * (g.t0 + float64(i)/g.rate)
		g.x[i] += pp * (0.5 - (turn - math.Floor(turn)))
	}
}
