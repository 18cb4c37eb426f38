package standin

import (
	"math"
	"math/rand/v2"
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Feedback around several stages: with a forward gain that is less by a factor k, and a way back that is less by a factor b, what comes
// out of a loop of the loop gain T is k(1+T)/(1+kbT) of what it should be, and what drives its first stage (1+T)/(1+kbT) (H. S. Black,
// Stabilized Feedback Amplifiers, 1934). So a stage that is weak hardly shows at the exit, and drives those before it harder; what is
// dead lets them be driven by all there is; a way back that is open makes all of it too loud. What a stage adds, as hum and noise, is less
// by 1+kbT behind it, and stands before it, turned over, as what the loop holds against it.

// loopGain is T of a good loop, which no sheet states: 20 dB of feedback.
const loopGain = 9.0

// held is how a loop stands.
type held struct {
	loop    *sheet.Loop
	driven  float64 // what drives its first stage, in times of what should
	against float64 // what of a disturbance stands before the stage that adds it
}

// heldAt is how the loop stands whose first stage on a route is at a position; false where none begins there.
func (s *Set) heldAt(route *sheet.Route, i int) (held, bool) {
	for k := range s.plan.Loops {
		l := &s.plan.Loops[k]
		if !slices.Contains(l.Inside, route.Stages[i]) || i > 0 && slices.Contains(l.Inside, route.Stages[i-1]) {
			continue
		}
		forward := 1.0
		for _, stage := range route.Stages[i:] {
			if slices.Contains(l.Inside, stage) {
				forward *= s.passes(stage)
			}
		}
		back := s.passes(l.Feedback)
		if slices.Contains(s.opened, s.plan.Stages[l.Feedback].Name) {
			back = 0
		}
		t := forward * back * loopGain
		return held{l, (1 + loopGain) / (1 + t), t / (1 + t)}, true
	}
	return held{}, false
}

// edges is by what factor the edges of a stage's band lie beside its signal: feedback moves them apart by 1+T.
func (s *Set) edges(stage int) float64 {
	if slices.ContainsFunc(s.plan.Loops, func(l sheet.Loop) bool { return slices.Contains(l.Inside, stage) }) {
		return bandEdge * (1 + loopGain)
	}
	return bandEdge
}

// passes is what a stage passes of what it should.
func (s *Set) passes(stage int) float64 {
	out := 1.0
	for _, h := range s.hitsOn(stage) {
		switch h.effect {
		case Dead:
			out *= quantity.Times(-deadDB)
		case Weak:
			out *= quantity.Times(-h.loss())
		}
	}
	return out
}

// hold lets a loop work on what comes into it.
func (s *Set) hold(g *signal, route *sheet.Route, i int) {
	l, ok := s.heldAt(route, i)
	if !ok {
		return
	}
	g.scale(l.driven)
	level := route.Levels[i]
	if l.against == 0 || !level.Known {
		return
	}
	for _, stage := range route.Stages[i:] {
		if !slices.Contains(l.loop.Inside, stage) {
			continue
		}
		for _, h := range s.hitsOn(stage) {
			g.disturb(h.effect, -l.against*quantity.Times(level.DBV), stage)
		}
	}
}

// disturb adds what a stage brings in by a fault, of a level in V rms that is good there: hum; noise, or bursts of it, that are the same
// whenever this stage adds them to the same stretch of time. Below zero: turned over.
func (g *signal) disturb(e Effect, nominal float64, stage int) {
	switch e {
	case Noisy:
		rng := rand.New(rand.NewPCG(math.Float64bits(g.t0), math.Float64bits(g.rate)^uint64(stage+1)))
		for i := range g.x {
			g.x[i] += noiseShare * nominal * rng.NormFloat64()
		}
	case Crackling:
		var rng *rand.Rand
		bursts, last := 0.0, math.Inf(-1) // until when, and which stretch it was
		for i := range g.x {
			t := g.t0 + float64(i)/g.rate
			if k := math.Floor(t / crackleEvery); k != last {
				rng = rand.New(rand.NewPCG(uint64(int64(k)), uint64(stage+1)))
				if last = k; rng.Float64() < crackleOften {
					bursts = crackleEvery*k + crackleFor*(0.5+rng.Float64())
				}
			}
			if t < bursts {
				g.x[i] += crackleShare * nominal * rng.NormFloat64()
			}
		}
	case Hum:
		g.add(humShare*nominal, 2*mainsHz)
	}
}
