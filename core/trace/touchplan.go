package trace

import (
	"fmt"
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// touches lists the positions of the route, from the exit backwards, at which a touch would
// part the suspects: with the signal fed in there by hand, and heard at the exit.
func (f *finder) touches() []*access {
	last := len(f.Route.Points) - 1
	var out []*access
	for at := last - 1; at >= 0; at-- {
		point := f.Route.Points[at]
		if f.Plan.Points[point].Source || reading.Untouchable(f.Plan, point) != "" {
			continue
		}
		if left, ok := f.TouchLeft(f.Route, at, last); ok && left < reading.FaintDB {
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
		Injected: &reading.Injection{At: point.Name, Touch: true},
	}
	if !f.opened(f.outside()) {
		p.Minutes += openMinutes
	}
	heard := "it should hum loud"
	if left, ok := f.TouchLeft(r.route, r.from, r.at); ok && left < reading.LoudDB {
		heard = "so near to the exit a faint hum is right"
	}
	p.Sentence = []Span{{"Touch ", ""}, {point.Name, "point"}, {" and listen at ", ""}, {exit.Name, "point"}, {": " + heard + ".", ""}}
	mind := reading.Joined(point.Hazard, "one hand, the other in the pocket; dry board; never where the mains can come near")
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
