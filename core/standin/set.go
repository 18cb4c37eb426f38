// Package standin computes what instruments would see on a set that is known by its
// service sheet alone, in order or with a fault in it. It stands in for a set on the
// bench: for practising, for trying things out, and for tests.
//
//	set, err := standin.New(plan, standin.Fault{Block: "driver", Effect: standin.Weak})
//	volts := set.Waveform("driver out", standin.Stand{On: true, Mode: "tape"}, 1e5, 20000, 0)
//
// The signal goes along a route stage by stage: gain, band limits of one pole on each
// side, the level it clips at or holds, a little noise. A stage that changes the
// signal's frequency (a mixer, a detector) makes it anew at the sheet's. What the
// sheet does not say of a stage is taken as usual for the kind.
package standin

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Effect is what a fault does.
type Effect string

// The effects. A rail that is dead has no voltage, one that is weak too little.
const (
	Dead       Effect = "dead"
	Weak       Effect = "weak"
	Distorted  Effect = "distorted"
	Noisy      Effect = "noisy"
	Crackling  Effect = "crackles"
	Hum        Effect = "hum"
	Drifted    Effect = "off-frequency"
	CuttingOut Effect = "cuts out"
	// Miswired is a stage whose lead is on the input of the stage before instead of on its output.
	Miswired Effect = "miswired"
)

// Effects lists them: those that the signal shows, and behind them what only somebody's hands or a long run do.
var Effects = append(slices.Clone(shown), Miswired, Hot)

var shown = []Effect{Dead, Weak, Distorted, Noisy, Crackling, Hum, Drifted, CuttingOut}

// Fault is what is wrong with the set: a stage, a rail or a control, and how. Size is
// the loss in dB of one that is weak; zero: as usual. No block: nothing is wrong. With a part
// of the stage's circuit, and which of its usual failures, the effect is computed; Size is then how grave it is, between
// the ends of what such failures come in, from 0 to 1. When says that it is not there all the time.
type Fault struct {
	Block  string  `json:"block"`
	Effect Effect  `json:"effect"`
	Size   float64 `json:"size,omitempty"`
	Part   string  `json:"part,omitempty"`
	What   string  `json:"what,omitempty"`
	After  float64 `json:"after,omitempty" jsonschema:"description=seconds of a long run after which it comes"`
	When   When    `json:"when,omitempty" jsonschema:"description=warm or moved; absent: all the time"`
}

// When a fault is there that is not there all the time.
type When string

// A fault that is there once its block is warm, and one that comes and goes as its joint is moved: left alone, it does so by itself.
const (
	Warm  When = "warm"
	Moved When = "moved"
)

// Usual sizes of faults: what is clearly one, and still leaves something to see.
const (
	feebleDB     = 6.0 // what is made from a signal that is so much smaller is weak
	deadDB       = 70.0
	weakDB       = 15.0
	clipShare    = 0.45 // of the peak, on top
	noiseShare   = 0.25 // of the signal's nominal rms
	crackleShare = 0.8  // of it, in a burst
	crackleEvery = 0.02 // s, in which there is a burst, or none
	crackleOften = 0.7  // of them with one
	crackleFor   = 0.0035
	humShare     = 0.4
	driftRatio   = 0.93
	outSeconds   = 0.11 // gone, of every
	outEvery     = 0.37
	weakRail     = 0.6
	deadRail     = 0.01
	logicVolts   = 4.8 // of a control that is up and should be down
	nothingVolts = 0.3
	pulledWeak   = 0.85 // of a rail's volts: what hangs on it is short of them
	pulledDead   = 0.25 // nothing works any more
	lowBiasTo    = 0.25 // of a dead stage's voltage
	hissShare    = 3e-4 // that every stage adds, of its nominal rms
	floorVolts   = 20e-6
	usualRMS     = 0.1  // V, of a set's own signal where the sheet has no level for it
	bandEdge     = 40.0 // the poles lie this factor beside the signal
	mainsHz      = 50.0
	usualRailUp  = 10e3 // ohms of a rail to ground where the sheet says nothing
	usualOhms    = 22e3
)

// Feed is a generator connected somewhere: level in volts rms. Programme is played instead of a tone, where one is given: its value at a
// time (seconds), of 1 rms; what a carrier carries is the same.
type Feed struct {
	At        string
	Shape     quantity.Shape
	RMS       float64
	Hz        float64
	Programme func(t float64) float64
}

// Stand is how the set stands: on, in a mode, with a generator or its own signal. Warm: it has been on for long enough to be warm
// inside. Cooled and Heated are blocks that somebody cools or heats, Held those whose joints are pressed together, Good those in whose
// place something good is; feedback that is among them is lifted.
type Stand struct {
	On     bool
	Mode   string
	Fed    *Feed
	Warm   bool
	Cooled []string
	Heated []string
	Held   []string
	Good   []string
}

// Set is a set on the bench.
type Set struct {
	plan   *sheet.Plan
	faults []placed
	spread spread
	opened []string // feedback that is lifted
	blown  []string // fuses
}

// placed is a fault where it is.
type placed struct {
	Fault
	line  int // where it is a rail or a control; else -1
	stage int // where it is a stage; else -1

	failed circuit.Fault // of its part
	inside *inside       // what its circuit does by that, and by others that have failed there; nil: no part, or another stands for them
}

// New makes a set with what is wrong with it. Errors name a block or an effect that is not there.
func New(plan *sheet.Plan, faults ...Fault) (*Set, error) {
	s := &Set{plan: plan}
	for _, fault := range faults {
		if fault.Block == "" {
			continue
		}
		p, err := s.place(fault)
		if err != nil {
			return nil, err
		}
		s.faults = append(s.faults, p)
	}
	return s, s.breakCircuits()
}

func (s *Set) place(fault Fault) (placed, error) {
	out := placed{Fault: fault, line: -1, stage: -1}
	if !slices.Contains(Effects, fault.Effect) && fault.Part == "" {
		return out, fmt.Errorf(
			"%q is no effect of a fault: use dead, weak, distorted, noisy, crackles, hum, off-frequency, cuts out, miswired or runs hot",
			string(fault.Effect),
		)
	}
	if fault.When != "" && fault.When != Warm && fault.When != Moved {
		return out, fmt.Errorf("%q is no way in which a fault comes and goes: use warm or moved", string(fault.When))
	}
	if line, ok := s.plan.LineIndex(fault.Block); ok {
		out.line = line
	} else if out.stage = slices.IndexFunc(s.plan.Stages, func(st sheet.PlanStage) bool { return st.Name == fault.Block }); out.stage < 0 {
		return out, fmt.Errorf("the sheet has no stage, rail or control called %q", fault.Block)
	}
	if fault.Part != "" {
		return out, s.breakPart(&out)
	}
	if fault.Effect == Miswired && out.stage < 0 {
		return out, fmt.Errorf("%s is no stage, and has no lead that a signal comes by", fault.Block)
	}
	if fault.Effect != Hot && fault.Effect != Miswired && !slices.Contains(EffectsOf(s.plan, fault.Block), fault.Effect) {
		return out, fmt.Errorf("%s has nothing to do with the frequency, and cannot be off in it", fault.Block)
	}
	return out, nil
}

// now is the set with the faults that are there as it stands.
func (s *Set) now(stand Stand) *Set {
	var opened []string
	for i := range s.plan.Loops {
		if name := s.plan.Stages[s.plan.Loops[i].Feedback].Name; slices.Contains(stand.Good, name) {
			opened = append(opened, name)
		}
	}
	if len(opened) == 0 && !slices.ContainsFunc(s.faults, func(f placed) bool { return !f.there(stand) }) {
		return s
	}
	out := *s
	out.faults, out.opened = nil, opened
	for _, f := range s.faults {
		if f.there(stand) {
			out.faults = append(out.faults, f)
		}
	}
	return &out
}

// there tells whether a fault is there as the set stands.
func (f *placed) there(stand Stand) bool {
	switch {
	case slices.Contains(stand.Good, f.Block):
		return false
	case f.When == Warm:
		return (stand.Warm || slices.Contains(stand.Heated, f.Block)) && !slices.Contains(stand.Cooled, f.Block)
	case f.When == Moved:
		return !slices.Contains(stand.Held, f.Block)
	}
	return true
}

// EffectsOf lists the effects of a fault in a block that the signal shows: only an oscillator, or a
// stage that changes the frequency of its signal, can be off in it.
func EffectsOf(plan *sheet.Plan, block string) []Effect {
	for i := range plan.Stages {
		if plan.Stages[i].Name != block {
			continue
		}
		if plan.Stages[i].From >= 0 && plan.Points[plan.Stages[i].From].Source {
			return slices.Clone(shown)
		}
		for r := range plan.Routes {
			route := &plan.Routes[r]
			if at := slices.Index(route.Stages, i); at >= 0 && converts(route, at) {
				return slices.Clone(shown)
			}
		}
	}
	return slices.DeleteFunc(slices.Clone(shown), func(e Effect) bool { return e == Drifted })
}

// Blocks lists what can be at fault.
func Blocks(plan *sheet.Plan) []string {
	var out []string
	for i := range plan.Stages {
		out = append(out, plan.Stages[i].Name)
	}
	for i := range plan.Rails {
		out = append(out, plan.Rails[i].Name)
	}
	for i := range plan.Controls {
		out = append(out, plan.Controls[i].Name)
	}
	return out
}

// hit is what a fault does to a signal: an effect, of a size in dB where it is weak.
type hit struct {
	effect Effect
	size   float64
	inside *inside
	stage  int // that it comes from; of a line's the one that it is done to
}

// loss is by how many dB what is weak passes less.
func (h *hit) loss() float64 {
	if h.size == 0 && h.inside == nil {
		return weakDB
	}
	return h.size
}

// hitsOn are what the faults do to a stage: its own, those of lines it needs, of what loads it down, and of
// oscillators whose signal it needs.
func (s *Set) hitsOn(stage int) []hit { return s.hits(stage, len(s.plan.Stages)) }

// hits goes back through as many oscillators as there are stages at most: a sheet may have them in a ring.
func (s *Set) hits(stage, deep int) []hit {
	var out []hit
	st := &s.plan.Stages[stage]
	for i := range s.faults {
		f := &s.faults[i]
		if stage == f.stage && f.Effect != Hot && (f.Part == "" || f.inside != nil) { // what the signal shows
			out = append(out, hit{f.Effect, f.Size, f.inside, stage})
		}
	}
	for _, line := range st.Lines {
		for _, e := range s.effectsOnLine(line) {
			switch e {
			case Drifted:
			case Weak:
				out = append(out, hit{effect: Distorted, stage: stage}) // its output reaches the low supply
			default:
				out = append(out, hit{effect: e, stage: stage})
			}
		}
	}
	if deep == 0 {
		return out
	}
	for _, point := range st.Signals {
		for k := range s.plan.Stages {
			if s.plan.Stages[k].To != point || k == stage {
				continue
			}
			for _, h := range s.hits(k, deep-1) {
				switch h.effect {
				case Dead, Drifted, CuttingOut, Noisy, Crackling:
					out = append(out, h)
				}
			}
		}
	}
	return out
}

// isHit tells whether a fault does anything to a stage.
func (s *Set) isHit(stage int) bool { return len(s.hitsOn(stage)) > 0 }

// Concerns tells whether anything that is wrong does something to what comes along a route as the set stands.
func (s *Set) Concerns(route *sheet.Route, stand Stand) bool {
	s = s.now(stand)
	return slices.ContainsFunc(route.Stages, s.isHit) || slices.ContainsFunc(s.plan.Loops, func(l sheet.Loop) bool {
		return s.isHit(l.Feedback) && slices.ContainsFunc(route.Stages, func(stage int) bool { return slices.Contains(l.Inside, stage) })
	})
}

// Touches tells whether anything that is wrong may do something to the signal at a point, by any way that it comes there.
func (s *Set) Touches(at string, stand Stand) bool {
	s = s.now(stand)
	point, ok := s.plan.PointIndex(at)
	if !ok || len(s.plan.Loops) > 0 { // around a loop what is behind acts on what is before
		return true
	}
	return slices.ContainsFunc(s.plan.Routes, func(r sheet.Route) bool {
		k, passes := r.At(point)
		return passes && r.Mode == stand.Mode && slices.ContainsFunc(r.Stages[:k], s.isHit)
	})
}

// effectsOnLine are what the faults do to a line: its own, those of a line it is made from, or of a stage that makes
// the signal it is made from, which shows where that is dead or weak; and what a part draws too much from it.
func (s *Set) effectsOnLine(line int) []Effect {
	var out []Effect
	on := s.plan.LinePaths(line).Every
	for i := range s.faults {
		f := &s.faults[i]
		switch e := f.Effect; {
		case e == Hot:
		case f.line >= 0 && on[len(s.plan.Stages)+f.line]:
			out = append(out, e)
		case f.stage < 0 || !on[f.stage]:
		case f.Part == "" && (e == Dead || e == Weak):
			out = append(out, e)
		case f.inside != nil && f.Size > deadDB/2:
			out = append(out, Dead)
		case f.inside != nil && f.Size > feebleDB:
			out = append(out, Weak)
		}
	}
	if slices.ContainsFunc(s.blown, func(fuse string) bool { return slices.Contains(s.plan.FuseRails(fuse), line) }) {
		out = append(out, Dead)
	}
	switch down := s.pulledDown(line); {
	case down < pulledDead:
		out = append(out, Dead)
	case down < pulledWeak:
		out = append(out, Weak)
	}
	return out
}

// dead tells whether a line has no voltage.
func (s *Set) dead(line int) bool { return slices.Contains(s.effectsOnLine(line), Dead) }

// lineVolts is the voltage of a rail, rms where it alternates, or of a control.
func (s *Set) lineVolts(line int) float64 {
	volts := 0.0
	if line < len(s.plan.Rails) {
		volts = s.plan.Rails[line].Volts
	} else {
		volts = s.plan.Controls[line-len(s.plan.Rails)].Volts
	}
	volts *= s.spread.line(line)
	if down := s.pulledDown(line); down < 1 {
		return down * volts
	}
	switch e := s.effectsOnLine(line); {
	case slices.Contains(e, Dead) && line >= len(s.plan.Rails):
		return stuck(&s.plan.Controls[line-len(s.plan.Rails)])
	case slices.Contains(e, Dead):
		return deadRail * volts
	case slices.Contains(e, Weak):
		return weakRail * volts
	}
	return volts
}

// stuck is what a control stands at that does not do what it should: at nothing; or where that is right, at what it has when it is worked,
// or at that of usual logic.
func stuck(c *sheet.PlanControl) float64 {
	switch {
	case math.Abs(c.Volts) > nothingVolts:
		return deadRail * c.Volts
	case c.Moves && math.Abs(c.Worked-c.Volts) > nothingVolts:
		return c.Worked
	}
	return logicVolts
}

// alternates tells whether a line is a rail that alternates.
func (s *Set) alternates(line int) bool {
	return line < len(s.plan.Rails) && s.plan.Rails[line].Alternates
}

// Volts is the DC at a point, a rail or a control.
func (s *Set) Volts(at string, stand Stand) float64 {
	if !stand.On {
		return 0
	}
	return s.now(stand).volts(at, stand.Mode)
}

func (s *Set) volts(at, mode string) float64 {
	if line, ok := s.plan.LineIndex(at); ok {
		if s.alternates(line) {
			return 0
		}
		return s.lineVolts(line)
	}
	if volts, ok := s.nodeVolts(at); ok {
		return volts
	}
	point, ok := s.plan.PointIndex(at)
	if !ok {
		return 0
	}
	e, ok := s.plan.Expect(point, sheet.DC, mode)
	if !ok {
		return 0
	}
	return s.biased(point, e.Value.SI*s.spread.dc(point))
}

// biased is what is left of a good volts or current at the output of a stage, by its supply and by what is wrong with it.
func (s *Set) biased(point int, good float64) float64 {
	for k := range s.plan.Stages {
		st := &s.plan.Stages[k]
		if st.To != point {
			continue
		}
		if slices.ContainsFunc(st.Lines, s.dead) {
			return deadRail * good
		}
		if strings.TrimSpace(st.Kind) == "amplifier" && slices.ContainsFunc(s.faults, func(f placed) bool {
			return f.stage == k && f.Effect != CuttingOut && f.Effect != Hot && f.Effect != Miswired
		}) {
			return lowBiasTo * good
		}
	}
	return good
}

// Amps is the DC through a point that the sheet states one for; false where it states none.
func (s *Set) Amps(at string, stand Stand) (float64, bool) {
	point, ok := s.plan.PointIndex(at)
	if !ok {
		return 0, false
	}
	e, ok := s.plan.Expect(point, sheet.Current, stand.Mode)
	if !ok || !stand.On {
		return 0, ok
	}
	return s.now(stand).biased(point, e.Value.SI), true
}

// Ohms is the resistance to ground at a point or a rail, with the set off. It is the
// sheet's, or what is usual; of a rail beside what draws too much from it, unless that is out.
func (s *Set) Ohms(at string, stand Stand) float64 { return s.now(stand).ohms(at) }

func (s *Set) ohms(at string) float64 {
	if line, ok := s.plan.LineIndex(at); ok {
		if line >= len(s.plan.Rails) {
			return 0.3 // a ground
		}
		good := usualRailUp
		if ohms := s.plan.Rails[line].Ohms; ohms > 0 {
			good = 1.4 * ohms
		}
		return beside(good, s.shortOhms(line))
	}
	if ohms, ok := s.nodeOhms(at); ok {
		return ohms
	}
	if point, ok := s.plan.PointIndex(at); ok {
		for _, e := range s.plan.Points[point].Expected {
			if e.Quantity == sheet.Resistance {
				return e.Value.SI
			}
		}
	}
	return usualOhms
}

// Farads is the capacitance of a reservoir by name; false where there is none.
func (s *Set) Farads(name string) (float64, bool) {
	i := slices.IndexFunc(s.plan.Reservoirs, func(r sheet.PlanReservoir) bool { return r.Name == name })
	if i < 0 {
		return 0, false
	}
	return s.plan.Reservoirs[i].Farads, true
}

// SourceOhms is the resistance that a probe at a point sees.
func (s *Set) SourceOhms(at string) float64 {
	if point, ok := s.plan.PointIndex(at); ok {
		return s.plan.Points[point].SourceOhms
	}
	return 0
}
