package soak

import (
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Offer is the usual plan for a set: by its kind, with what its sheet has of twins, rails, idle currents and exits; route is
// the one that is driven (nil: none is known). It is to be changed. An instrument named logger takes its inputs one after the
// other; without one, everything is typed.
//
// Hours and limits are those of the trade where the sheet says nothing: an amplifier at a quarter of its power, where class
// AB makes most of its heat, for three hours; heat sinks to 70 °C, beyond which a hand is burnt and junctions are near what
// shortens their lives; twins within 5 °C; an offset of 50 mV.
func Offer(plan *sheet.Plan, route *sheet.Route, logger string) Plan {
	has := plan.Sheet.Is
	out := Plan{Every: usualEvery, Remind: usualRemind}
	idle := Step{Name: "Idle, bias again", Do: Idle, Minutes: 20}
	cold := Step{Name: "Cold start, all settles", Do: Cold, Minutes: 5}
	cycles := Step{Name: "Ten times off and on", Do: OffOn, Minutes: 10}
	tap := Step{Name: "Tap along the board, hot", Do: Tap, Minutes: 5}
	drive := Step{Name: "Its own signal", Do: Drive, Minutes: 120, Note: "programme that moves"}
	level := driveLevel(route)
	switch {
	case has("amplifier", "amp", "subwoofer", "receiver", "loudspeaker"):
		drive = Step{Name: "Moving signal, quarter power", Do: Drive, Minutes: 180, Note: "into a dummy load",
			Signal: &Signal{Level: level, From: "40 Hz", To: "1 kHz", Sweep: 90}}
	case has("television", "monitor", "picture"):
		drive = Step{Name: "Pictures that change", Do: Drive, Minutes: 240, Note: "light and dark, white at full"}
		cycles = Step{Name: "Five times off and on, cold between", Do: OffOn, Minutes: 30}
	case has("tape", "deck", "cassette"):
		drive = Step{Name: "Both ways, wind and play", Do: Drive, Minutes: 120, Note: "a whole tape"}
	case has("radio", "transceiver", "transmitter"):
		drive = Step{Name: "Bursts as one talks", Do: Drive, Minutes: 60, Note: "a minute in five",
			Signal: &Signal{Level: level, From: "400 Hz", To: "2 kHz", Sweep: 20, Rest: 40}}
	case has("synth", "organ", "effect", "mixer"):
		drive = Step{Name: "All voices, all stops", Do: Drive, Minutes: 90}
	}
	out.Steps = []Step{cold, idle, drive, cycles, tap}
	out.Traces = traces(plan)
	if logger != "" {
		for i := range out.Traces {
			out.Traces[i].Instrument, out.Traces[i].Input = logger, i+1
		}
	}
	return out
}

// driveLevel is what a route is fed with.
func driveLevel(route *sheet.Route) string {
	if route != nil && len(route.Levels) > 0 && route.Levels[0].Known {
		return quantity.Rounded(quantity.Times(route.Levels[0].DBV), quantity.Volt)
	}
	return "200 mV"
}

// traces are what is logged: a heat sink for each idle current, or each half of a pair of twins; its idle current, its
// offset; the rail that carries most.
func traces(plan *sheet.Plan) []Trace {
	var out []Trace
	sides := sidesOf(plan)
	for i, side := range sides {
		t := Trace{Name: named("heat sink", side), What: Temperature, Where: side, Most: "70 °C", Rate: "25 °C"}
		const pair = 2
		if len(sides) == pair {
			t.Twin, t.Apart = named("heat sink", sides[1-i]), "5 °C"
		}
		out = append(out, t)
	}
	for i := range plan.Adjustments {
		if t, ok := ofAdjustment(&plan.Adjustments[i]); ok {
			out = append(out, t)
		}
	}
	most := -1
	for i := range plan.Rails {
		r := &plan.Rails[i]
		if r.LoadA > 0 && (most < 0 || r.LoadA > plan.Rails[most].LoadA) {
			most = i
		}
	}
	if most >= 0 {
		out = append(out, Trace{Name: "supply current", What: Supply, Where: plan.Rails[most].Name,
			Most: quantity.Rounded(1.5*plan.Rails[most].LoadA, quantity.Ampere)})
	}
	if len(out) == 1 {
		out = append(out, Trace{Name: "inside", What: Temperature, Most: "60 °C"})
	}
	seen := map[string]bool{}
	out = slices.DeleteFunc(out, func(t Trace) bool {
		was := seen[t.Name]
		seen[t.Name] = true
		return was
	})
	return out[:min(len(out), mostTraces/2)]
}

func named(what, side string) string { return strings.TrimSpace(what + " " + side) }

// sidesOf are the channels or boards that idle currents are of; where there are none, left and right where points have
// twins.
func sidesOf(plan *sheet.Plan) []string {
	var sides []string
	for i := range plan.Adjustments {
		a := &plan.Adjustments[i]
		if a.Kind == "bias" {
			sides = append(sides, sideOf(a))
		}
	}
	switch {
	case len(sides) > 0:
		return sides
	case slices.ContainsFunc(plan.Points, func(p sheet.PlanPoint) bool { return p.Twin >= 0 }):
		return []string{"left", "right"}
	}
	return []string{""}
}

// sideOf is the channel or board of an idle current or an offset: what its name has behind that.
func sideOf(a *sheet.PlanAdjustment) string {
	for _, what := range []string{"idle current", "offset", "bias"} {
		if side, ok := strings.CutPrefix(a.Name, what); ok {
			return strings.Trim(side, ", ")
		}
	}
	return a.Name
}

// ofAdjustment is what is logged of an idle current or an offset: limits three times as wide as it is set.
func ofAdjustment(a *sheet.PlanAdjustment) (Trace, bool) {
	side := sideOf(a)
	if a.Sought != sheet.SoughtValue || a.Target.Unit != quantity.Volt {
		return Trace{}, false
	}
	const wide, leastOffset = 3, 0.05
	switch a.Kind {
	case "bias":
		most := quantity.Rounded(a.Target.SI+wide*(a.High-a.Target.SI), quantity.Volt)
		return Trace{Name: named("bias", side), What: Bias, Where: a.Measure, Most: most}, true
	case "offset":
		far := math.Max(leastOffset, 2*a.High)
		return Trace{Name: named("offset", side), What: Offset, Where: a.Measure, Most: quantity.Rounded(far, quantity.Volt),
			Least: quantity.Rounded(-far, quantity.Volt)}, true
	}
	return Trace{}, false
}
