package trace

import (
	"fmt"
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Touching from the exit backwards needs no instrument: a finger or the tip brings hum in, and
// what is heard at the exit says whether all behind the point still amplifies.

// touchPeak is the highest voltage to ground (V peak) at which a point may be
// touched: the ripple-free DC that IEC 61140 counts as extra-low voltage in dry
// conditions is 60 V, halved for damp hands and for the pulses a sheet leaves out.
const touchPeak = 30.0

// Untouchable says why a point must not be touched with a finger or a bare tip; empty where
// it may.
func Untouchable(p *sheet.Plan, point int) string {
	switch {
	case slices.ContainsFunc(p.Sheet.Hazards, func(h sheet.Hazard) bool { return h.Kind == "hot chassis" }):
		return "nothing is touched in a set whose chassis is connected to the mains: feed a signal in through an isolating transformer " +
			"and a capacitor rated for it"
	case p.Points[point].PeakVolts > touchPeak:
		return fmt.Sprintf(
			"up to %s here: this point must not be touched. Feed a signal in through a capacitor rated for it",
			quantity.Rounded(p.Points[point].PeakVolts, quantity.Volt),
		)
	}
	return ""
}

// touched tells whether the signal of a reading was a touch: what is heard then speaks of the way
// from there, and is no level of the exit.
func (j *Judged) touched() bool { return j.Reading.Injected != nil && j.Reading.Injected.Touch }

// touchLeft is how much louder (dB) than the usual level at the exit a touch at a position is
// to be heard; ok is false where the sheet gives no gains from there on.
func (c Case) touchLeft(r *sheet.Route, from, at int) (db float64, ok bool) {
	level, ok := c.Plan.Drive(r, from, quantity.DB(touchVolts, 1), at)
	return level - r.Levels[at].DBV, ok && r.Levels[at].Known
}

// touches lists the positions of the route, from the exit backwards, at which a touch would
// part the suspects: with the signal fed in there by hand, and heard at the exit.
func (f *finder) touches() []*access {
	last := len(f.Route.Points) - 1
	var out []*access
	for at := last - 1; at >= 0; at-- {
		point := f.Route.Points[at]
		if f.Plan.Points[point].Source || Untouchable(f.Plan, point) != "" {
			continue
		}
		if left, ok := f.touchLeft(f.Route, at, last); ok && left < faintDB {
			continue // nothing may be heard of it on a good set
		}
		r := &access{route: f.Route, from: at, at: last, lifted: noStage, touch: true}
		if splits := f.splits(r); slices.Contains(splits, true) && slices.Contains(splits, false) {
			out = append(out, r)
		}
	}
	return out
}

// nextTouch proposes the first of them; nil where none parts the suspects.
func (f *finder) nextTouch() *Probe {
	all := f.touches()
	if len(all) == 0 {
		return nil
	}
	r := all[0]
	exit, point := &f.Plan.Points[r.point()], &f.Plan.Points[r.route.Points[r.from]]
	p := &Probe{
		Point:    exit.Name,
		At:       r.at,
		Quantity: sheet.AC,
		Purpose:  "touch",
		Minutes:  point.Minutes + touchMinutes,
		Without:  []string{},
		Route:    r.route.Key,
		Injected: &Injection{At: point.Name, Touch: true},
	}
	if !f.opened(f.outside()) {
		p.Minutes += openMinutes
	}
	heard := "it should hum loud"
	if left, ok := f.touchLeft(r.route, r.from, r.at); ok && left < loudDB {
		heard = "so near to the exit a faint hum is right"
	}
	p.Sentence = []Span{{"Touch ", ""}, {point.Name, "point"}, {" and listen at ", ""}, {exit.Name, "point"}, {": " + heard + ".", ""}}
	mind := joined(point.Hazard, "one hand, the other in the pocket; dry board; never where the mains can come near")
	good, bad := f.leaves(f.splits(r))
	p.Facts = []Fact{{"Mind", mind}, {"Which is", point.Note},
		{"Told apart", "hum grows with the finger; a crackle of the contact alone passes too; nothing at all does not"},
		{"Why here", fmt.Sprintf("touch from the exit: silence leaves %s, sound leaves %s", f.counted(bad), f.counted(good))}}
	p.Facts = slices.DeleteFunc(p.Facts, func(x Fact) bool { return x.Text == "" })
	return p
}

// touchCost is what touching from the exit costs from here: each point in turn until one is
// silent, by the suspects' weights.
func (f *finder) touchCost() WayCost {
	var out WayCost
	weights := f.weights()
	all := f.touches()
	minutes := 0.0
	if len(all) > 0 && !f.opened(f.outside()) {
		minutes = openMinutes
	}
	done := make([]bool, len(weights))
	for i, r := range all {
		minutes += f.Plan.Points[r.route.Points[r.from]].Minutes + touchMinutes
		for k, behind := range f.splits(r) {
			if behind && !done[k] || i == len(all)-1 && !done[k] {
				done[k] = true
				out.Probes += weights[k] * float64(i+1)
				out.Minutes += weights[k] * minutes
			}
		}
		out.WorstProbes, out.WorstMinutes = i+1, minutes
	}
	return out
}
