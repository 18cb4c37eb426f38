// Package standin computes what instruments would see on a set that is known by its
// service sheet alone, in order or with a fault in it. It stands in for a set on the
// bench: for practising, for trying things out, and for tests.
//
//	set, err := standin.New(plan, standin.Fault{Block: "Q204 make-up", Effect: standin.Weak})
//	volts := set.Waveform("Q204 c", standin.Stand{On: true, Mode: "tape"}, 1e5, 20000, 0)
//
// The signal goes along a route stage by stage: gain, band limits of one pole on each
// side, the level it clips at or holds, a little noise. A stage that changes the
// signal's frequency (a mixer, a detector) makes it anew at the sheet's. What the
// sheet does not say of a stage is taken as usual for the kind.
package standin

import (
	"fmt"
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
	Hum        Effect = "hum"
	Drifted    Effect = "off-frequency"
	CuttingOut Effect = "cuts out"
)

// Effects lists them: those that the signal shows, and behind them what only a long run does.
var Effects = append(slices.Clone(shown), Hot)

var shown = []Effect{Dead, Weak, Distorted, Noisy, Hum, Drifted, CuttingOut}

// Fault is what is wrong with the set: a stage, a rail or a control, and how. Size is
// the loss in dB of one that is weak; zero: as usual. No block: nothing is wrong. With a part
// of the stage's circuit, and which of its usual failures, the effect is computed.
type Fault struct {
	Block  string  `json:"block"`
	Effect Effect  `json:"effect"`
	Size   float64 `json:"size,omitempty"`
	Part   string  `json:"part,omitempty"`
	What   string  `json:"what,omitempty"`
	After  float64 `json:"after,omitempty" jsonschema:"description=seconds of a long run after which it comes"`
}

// Usual sizes of faults: what is clearly one, and still leaves something to see.
const (
	deadDB      = 70.0
	weakDB      = 15.0
	clipShare   = 0.45 // of the peak, on top
	noiseShare  = 0.25 // of the signal's nominal rms
	humShare    = 0.4
	driftRatio  = 0.93
	outSeconds  = 0.11 // gone, of every
	outEvery    = 0.37
	weakRail    = 0.6
	lowBiasTo   = 0.25 // of a dead stage's voltage
	hissShare   = 3e-4 // that every stage adds, of its nominal rms
	floorVolts  = 20e-6
	bandEdge    = 40.0 // the poles lie this factor beside the signal
	mainsHz     = 50.0
	usualRailUp = 10e3 // ohms of a rail to ground where the sheet says nothing
	usualOhms   = 22e3
)

// Feed is a generator connected somewhere: level in volts rms.
type Feed struct {
	At    string
	Shape quantity.Shape
	RMS   float64
	Hz    float64
}

// Stand is how the set stands: on, in a mode, with a generator or its own signal.
type Stand struct {
	On   bool
	Mode string
	Fed  *Feed
}

// Set is a set on the bench.
type Set struct {
	plan  *sheet.Plan
	fault Fault
	line  int // of the fault, where it is a rail or a control; else -1
	stage int // where it is a stage; else -1

	broken *circuit.Net // the circuit with its part's fault; nil: none
}

// New makes a set. Errors name a block or an effect that is not there.
func New(plan *sheet.Plan, fault Fault) (*Set, error) {
	s := &Set{plan: plan, fault: fault, line: -1, stage: -1}
	if fault.Block == "" {
		return s, nil
	}
	if !slices.Contains(Effects, fault.Effect) && fault.Part == "" {
		return nil, fmt.Errorf(
			"%q is no effect of a fault: use dead, weak, distorted, noisy, hum, off-frequency, cuts out or runs hot",
			string(fault.Effect),
		)
	}
	if line, ok := plan.LineIndex(fault.Block); ok {
		s.line = line
	} else if s.stage = slices.IndexFunc(plan.Stages, func(st sheet.PlanStage) bool { return st.Name == fault.Block }); s.stage < 0 {
		return nil, fmt.Errorf("the sheet has no stage, rail or control called %q", fault.Block)
	}
	if fault.Part != "" {
		return s, s.breakPart()
	}
	if fault.Effect != Hot && !slices.Contains(EffectsOf(plan, fault.Block), fault.Effect) {
		return nil, fmt.Errorf("%s has nothing to do with the frequency, and cannot be off in it", fault.Block)
	}
	return s, nil
}

// EffectsOf lists the effects of a fault in a block that the signal shows: only an oscillator, or a
// stage that changes the frequency of its signal, can be off in it.
func EffectsOf(plan *sheet.Plan, block string) []Effect {
	for i := range plan.Stages {
		if plan.Stages[i].Name != block {
			continue
		}
		if plan.Stages[i].From >= 0 && plan.Points[plan.Stages[i].From].Source {
			return shown
		}
		for r := range plan.Routes {
			route := &plan.Routes[r]
			if at := slices.Index(route.Stages, i); at >= 0 && converts(route, at) {
				return shown
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

// effectOn is what the fault does to a stage: its own, that of a line it needs, or of
// an oscillator whose signal it needs. Empty: nothing.
func (s *Set) effectOn(stage int) Effect {
	st := &s.plan.Stages[stage]
	if s.fault.Effect == Hot { // the signal does not show it
		return ""
	}
	if stage == s.stage {
		return s.fault.Effect
	}
	for _, line := range st.Lines {
		switch e := s.effectOnLine(line); e {
		case "", Drifted:
		case Weak:
			return Distorted // its output reaches the low supply
		default:
			return e
		}
	}
	for _, point := range st.Signals {
		for k := range s.plan.Stages {
			if s.plan.Stages[k].To == point && k != stage {
				switch e := s.effectOn(k); e {
				case Dead, Drifted, CuttingOut, Noisy:
					return e
				}
			}
		}
	}
	return ""
}

// effectOnLine is what the fault does to a line: its own, that of a line it is made from, or of a stage that makes
// the signal it is made from, which shows where that is dead or weak. Empty: nothing.
func (s *Set) effectOnLine(line int) Effect {
	on := s.plan.LinePaths(line).Every
	switch e := s.fault.Effect; {
	case e == Hot:
		return ""
	case s.line >= 0 && on[len(s.plan.Stages)+s.line]:
		return e
	case s.stage >= 0 && on[s.stage] && (e == Dead || e == Weak):
		return e
	}
	return ""
}

// dead tells whether a line has no voltage.
func (s *Set) dead(line int) bool { return s.effectOnLine(line) == Dead }

// lineVolts is the voltage of a rail, rms where it alternates, or of a control.
func (s *Set) lineVolts(line int) float64 {
	volts := 0.0
	if line < len(s.plan.Rails) {
		volts = s.plan.Rails[line].Volts
	} else {
		volts = s.plan.Controls[line-len(s.plan.Rails)].Volts
	}
	switch {
	case s.dead(line):
		return 0.01 * volts
	case s.effectOnLine(line) == Weak:
		return weakRail * volts
	}
	return volts
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
	e, ok := s.plan.Expect(point, sheet.DC, stand.Mode)
	if !ok {
		return 0
	}
	volts := e.Value.SI
	for k := range s.plan.Stages {
		st := &s.plan.Stages[k]
		if st.To != point {
			continue
		}
		for _, line := range st.Lines {
			if s.dead(line) {
				return 0.01 * volts
			}
		}
		if k == s.stage && s.fault.Effect != CuttingOut && s.fault.Effect != Hot && strings.TrimSpace(st.Kind) == "amplifier" {
			return lowBiasTo * volts
		}
	}
	return volts
}

// Ohms is the resistance to ground at a point or a rail, with the set off. It is the
// sheet's, or what is usual.
func (s *Set) Ohms(at string) float64 {
	if line, ok := s.plan.LineIndex(at); ok {
		if line < len(s.plan.Rails) && s.plan.Rails[line].Ohms > 0 {
			return 1.4 * s.plan.Rails[line].Ohms
		}
		if line >= len(s.plan.Rails) {
			return 0.3 // a ground
		}
		return usualRailUp
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
