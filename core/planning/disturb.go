package planning

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// A probe is part of the circuit while it hangs there: it loads what has a high resistance,
// and detunes what is tuned.

// disturbed says how the instrument at hand changes what it measures at a position of a
// route; empty where it hardly does.
func (t *Situation) disturbed(r *sheet.Route, at int) string {
	in := reading.InstrumentFor(t.Instrument)
	hz := r.Levels[at].Hz
	if ohms := t.Plan.Points[r.Points[at]].SourceOhms; ohms > 0 {
		if left := in.Loading(ohms, hz); left < lightLoad {
			return fmt.Sprintf(
				"the %s takes %s of the level here; that is allowed for, but it may upset the circuit",
				in.Name,
				strings.TrimLeft(quantity.SignedDB(quantity.DB(left, 1)), "−+"),
			)
		}
		return ""
	}
	switch {
	case hz < tunedHz/10:
		return ""
	case t.tuned(r.Points[at]):
		return fmt.Sprintf(
			"tuned here: the %.0f pF of a %s shift it. Couple loosely, or expect it off tune while the probe hangs there",
			in.InputF*1e12,
			in.Name,
		)
	case hz >= tunedHz:
		return fmt.Sprintf(
			"at %s the %.0f pF of a %s load what they touch: take the lightest probe and the shortest ground",
			quantity.Frequency(hz),
			in.InputF*1e12,
			in.Name,
		)
	}
	return ""
}

// tuned tells whether a stage that meets a point is tuned.
func (t *Situation) tuned(point int) bool {
	return slices.ContainsFunc(t.Plan.Stages, func(s sheet.PlanStage) bool {
		return (s.From == point || s.To == point) && slices.Contains([]string{"oscillator", "filter", "aerial"}, s.Kind)
	})
}

// lighterMinutes is what a reading costs more where the probe changes what it measures.
func (t *Situation) lighterMinutes(r *sheet.Route, at int) float64 {
	if t.disturbed(r, at) == "" {
		return 0
	}
	return detuneMinutes
}

// driversFirst puts the DC of a control before a reading that the probe disturbs: volts at a driver are read in a
// minute and shift nothing. The likeliest to be at fault is read first; the check itself where all were read.
func (t *Situation) driversFirst(s *search, chosen int) int {
	c := &s.checks[chosen]
	if (t.Way != Halve && t.Way != "") || c.line != sheet.None || c.probe.read() != sheet.AC ||
		t.disturbed(c.probe.Route, c.probe.At) == "" {
		return chosen
	}
	best, most := chosen, 0.0
	for i := range s.checks {
		line := s.checks[i].line
		if line < len(t.Plan.Rails) { // a rail, or none
			continue
		}
		if b := t.Believed[len(t.Plan.Stages)+line]; b > most {
			best, most = i, b
		}
	}
	return best
}
