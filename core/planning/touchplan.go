package planning

import (
	"fmt"
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// touches lists the positions of the route, from the exit backwards, at which a touch would
// part the suspects: with the signal fed in there by hand, and heard at the exit.
func (t *Situation) touches() []*Access {
	last := len(t.Route.Points) - 1
	var out []*Access
	for at := last - 1; at >= 0; at-- {
		point := t.Route.Points[at]
		if t.Plan.Points[point].Source || reading.Untouchable(t.Plan, point) != "" {
			continue
		}
		if left, ok := t.TouchLeft(t.Route, at, last); ok && left < reading.FaintDB {
			continue // nothing may be heard of it on a good set
		}
		r := &Access{Route: t.Route, From: at, At: last, Lifted: sheet.None, Touch: true}
		if splits := t.splits(r); slices.Contains(splits, true) && slices.Contains(splits, false) {
			out = append(out, r)
		}
	}
	return out
}

// nextTouch proposes the first of them; nil where none parts the suspects.
func (t *Situation) nextTouch() *Probe {
	all := t.touches()
	if len(all) == 0 {
		return nil
	}
	r := all[0]
	exit, point := &t.Plan.Points[r.Point()], &t.Plan.Points[r.Route.Points[r.From]]
	p := &Probe{
		Point:    exit.Name,
		At:       r.At,
		Quantity: sheet.AC,
		Purpose:  "touch",
		Minutes:  point.Minutes + TouchMinutes,
		Without:  []string{},
		Route:    r.Route.Key,
		Injected: &reading.Injection{At: point.Name, Touch: true},
	}
	if !t.opened(t.outside()) {
		p.Minutes += OpenMinutes
	}
	heard := "it should hum loud"
	if left, ok := t.TouchLeft(r.Route, r.From, r.At); ok && left < reading.LoudDB {
		heard = "so near to the exit a faint hum is right"
	}
	p.Sentence = []Span{{"Touch ", ""}, {point.Name, "point"}, {" and listen at ", ""}, {exit.Name, "point"}, {": " + heard + ".", ""}}
	mind := reading.Joined(point.Hazard, "one hand, the other in the pocket; dry board; never where the mains can come near")
	good, bad := t.leaves(t.splits(r))
	p.Facts = []Fact{{"Mind", mind}, {"Which is", point.Note},
		{"Told apart", "hum grows with the finger; a crackle of the contact alone passes too; nothing at all does not"},
		{"Why here", fmt.Sprintf("touch from the exit: silence leaves %s, sound leaves %s", t.counted(bad), t.counted(good))}}
	p.Facts = slices.DeleteFunc(p.Facts, func(x Fact) bool { return x.Text == "" })
	return p
}

// touchCost is what touching from the exit costs from here: each point in turn until one is
// silent, by the suspects' weights.
func (t *Situation) touchCost() WayCost {
	var out WayCost
	weights := t.weights()
	all := t.touches()
	minutes := 0.0
	if len(all) > 0 && !t.opened(t.outside()) {
		minutes = OpenMinutes
	}
	done := make([]bool, len(weights))
	for i, r := range all {
		minutes += t.Plan.Points[r.Route.Points[r.From]].Minutes + TouchMinutes
		for k, behind := range t.splits(r) {
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
