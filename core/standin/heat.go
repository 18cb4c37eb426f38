package standin

import (
	"maps"
	"math"
	"slices"
	"strings"

	"steptrace/core/sheet"
)

// Hot is a fault that makes more heat than there should be, and lets what idles rise with it.
const Hot Effect = "runs hot"

// What a set's heat sinks are taken for: of the first order, with a time constant of 20 minutes; a rise of 8 °C idle and 30 °C
// driven, of the inside half of that; idle currents that rise by 0.3 % a degree, as they do where the sensor on the heat sink
// follows a little late.
const (
	roomDegrees = 22.0
	sinkTau     = 1200.0
	idleRise    = 8.0
	drivenRise  = 30.0
	biasDrift   = 0.003
	hotDrift    = 0.02
	hotTimes    = 1.9 // of the rise
	insideShare = 0.5
)

// Heat is how warm a place is, by seconds of the set's own time. A Set's heat follows what it does, so that it has to be
// told how time passes.
type Heat struct {
	degrees map[string]float64
	at      float64
}

// WarmAt is heat at a time, with places that are warm already.
func WarmAt(at float64, warm map[string]float64) Heat { return Heat{degrees: maps.Clone(warm), at: at} }

// Pass lets time pass until a moment (seconds), with the set standing as it does: every place that was asked for nears what
// it comes to.
func (h *Heat) Pass(s *Set, stand Stand, to float64) {
	dt := to - h.at
	h.at = to
	if dt <= 0 {
		return
	}
	for place, now := range h.degrees {
		end := s.comesTo(place, stand, to)
		h.degrees[place] = end + (now-end)*math.Exp(-dt/sinkTau)
	}
}

// Degrees is the temperature of a place.
func (h *Heat) Degrees(place string) float64 {
	if h.degrees == nil {
		h.degrees = map[string]float64{}
	}
	if _, ok := h.degrees[place]; !ok {
		h.degrees[place] = roomDegrees
	}
	return h.degrees[place]
}

// comesTo is the temperature that a place would come to.
func (s *Set) comesTo(place string, stand Stand, at float64) float64 {
	if !stand.On || place == "room" {
		return roomDegrees
	}
	rise := idleRise
	if stand.Fed != nil && stand.Fed.RMS > 1e-6 {
		rise = drivenRise
	}
	if strings.Contains(place, "inside") {
		rise *= insideShare
	}
	if f := s.hotAt(place, at); f != nil {
		times := hotTimes
		if f.Size > 0 {
			times = f.Size
		}
		rise *= times
	}
	return roomDegrees + rise
}

// hotAt is the fault that makes a place hot at a time: its block has the place's name in it, or no channel is told
// from another; nil for none.
func (s *Set) hotAt(place string, at float64) *placed {
	for i := range s.faults {
		f := &s.faults[i]
		if f.Effect != Hot || at < f.After {
			continue
		}
		there := true
		for _, side := range []string{"left", "right"} {
			if strings.Contains(place, side) {
				there = strings.Contains(f.Block, side)
			}
		}
		if there {
			return f
		}
	}
	return nil
}

// Between is the DC between the places that something is measured at, as an adjustment has it ("across R309", "TP7 to TP8",
// a point), with the heat of its place (°C above the room) at a time of the set's own (seconds).
func (s *Set) Between(measure string, stand Stand, warmer float64, at float64) float64 {
	if !stand.On {
		return 0
	}
	i := slices.IndexFunc(s.plan.Adjustments, func(a sheet.PlanAdjustment) bool { return a.Measure == measure })
	if i < 0 || s.plan.Adjustments[i].Circuit < 0 {
		return s.Volts(measure, stand)
	}
	a := &s.plan.Adjustments[i]
	net, _ := s.netOf(&s.plan.Circuits[a.Circuit])
	rest, err := net.Rest()
	if err != nil {
		return 0
	}
	volts, _ := rest.Between(a.From, a.To)
	if a.Kind == "bias" {
		drift := biasDrift
		if s.hotAt(a.Name, at) != nil {
			drift = hotDrift
		}
		volts *= 1 + drift*warmer
	}
	return volts
}

// Draws is the current that a rail gives (A): a sixth of what the sheet has while nothing is driven, more as it warms, and what is drawn
// beyond a good set's; none where it is dead.
func (s *Set) Draws(rail string, stand Stand, warmer float64) float64 {
	k, ok := s.plan.RailIndex(rail)
	if !ok || !stand.On {
		return 0
	}
	amps := s.plan.Rails[k].LoadA
	if amps == 0 {
		amps = 0.2
	}
	if stand.Fed == nil || stand.Fed.RMS <= 1e-6 {
		amps /= 6
	}
	s = s.now(stand)
	if s.dead(k) {
		return 0
	}
	more, _ := s.excessOn(k)
	return amps*(1+biasDrift*warmer) + more
}

// Warmth is the temperature of what the sheet states one for at a point (°C): that, once the set is warm; the room's where it is not, or
// where its stage has no supply; more where that draws too much. False where the sheet states none.
func (s *Set) Warmth(at string, stand Stand) (float64, bool) {
	point, ok := s.plan.PointIndex(at)
	if !ok {
		return 0, false
	}
	e, ok := s.plan.Expect(point, sheet.Temperature, stand.Mode)
	if !ok || !stand.On || !stand.Warm {
		return roomDegrees, ok
	}
	s = s.now(stand)
	rise := e.Value.SI - roomDegrees
	for k := range s.plan.Stages {
		switch st := &s.plan.Stages[k]; {
		case st.To != point && st.From != point:
		case slices.ContainsFunc(st.Lines, s.dead):
			rise = 0
		case slices.ContainsFunc(s.faults, func(f placed) bool {
			return f.stage == k && (f.Effect == Hot || f.inside != nil && len(f.inside.excess) > 0)
		}):
			rise *= hotTimes
		}
	}
	return roomDegrees + rise, true
}

// Side is the place whose heat something measured goes with: the channel that its adjustment, or its own name, names.
func (s *Set) Side(measure string) string {
	name := measure
	if i := slices.IndexFunc(s.plan.Adjustments, func(a sheet.PlanAdjustment) bool { return a.Measure == measure }); i >= 0 {
		name = s.plan.Adjustments[i].Name
	}
	for _, side := range []string{"left", "right"} {
		if strings.Contains(name, side) {
			return side
		}
	}
	return "inside"
}
