package closing

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"steptrace/core/adjust"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Limits of the trade, where the sheet states none. They are broad: what is usual for a kind of set is no promise of a model.
const (
	usualHum        = "60 dB" // below the signal that the sheet has at the exit
	usualTapeHum    = "45 dB"
	usualRadioHum   = "40 dB"
	usualOffset     = "50 mV" // across a loudspeaker
	usualDistortion = "1 %"
	usualSeparation = "30 dB"
	usualResponse   = "3 dB"
	usualLoad       = "8 Ω"
	highestAudio    = 10e3 // Hz: what audio sets are driven with; a line of a picture is above
	loudspeaker     = 1.0  // V: an exit of that level drives one
	line            = 35.0 // V: above that it is a line with transformers, whose load nobody knows
)

// Items are the closing measurements of a set in the order in which they are made: the sheet's own, and of what is offered
// for its kind what they leave open.
func Items(plan *sheet.Plan) []sheet.PlanClosing {
	out := slices.Clone(plan.Closings)
	offered := Offer(plan)
	for i := range offered {
		c := &offered[i]
		own := slices.ContainsFunc(plan.Closings, func(o sheet.PlanClosing) bool {
			return o.Name == c.Name || o.Kind == c.Kind && (o.At == c.At && c.At != "" || once(c.Kind))
		})
		if own {
			continue
		}
		read, _, err := plan.ReadClosing(c)
		if err != nil { // it names what the sheet has; this one would not be read
			continue
		}
		read.Source = sheet.Usual
		out = append(out, read)
	}
	slices.SortStableFunc(out, func(a, b sheet.PlanClosing) int { return rank(a.Kind) - rank(b.Kind) })
	return out
}

// once tells whether a kind is measured once in a set, wherever.
func once(kind string) bool {
	return slices.Contains([]string{sheet.ClosingIdle, sheet.ClosingEarth, sheet.ClosingInsulation}, kind)
}

func rank(kind string) int {
	if i := slices.Index(sheet.ClosingKinds, kind); i >= 0 {
		return i
	}
	return slices.Index(sheet.ClosingKinds, sheet.ClosingOther)
}

// Offer is what is usually measured and tried on such a set before it goes back: at each of its exits, of its kind, of each
// control, of safety. It names only what the sheet has.
func Offer(plan *sheet.Plan) []sheet.Closing {
	out := offsets(plan)
	heard := bestWays(plan)
	// What drives loudspeakers is measured; beside it, exits of less are heard.
	drives := slices.ContainsFunc(heard, func(r *sheet.Route) bool { return amplifies(plan, r) })
	for _, r := range heard {
		out = append(out, atExit(plan, r, !drives || amplifies(plan, r))...)
	}
	if idle, ok := adjust.IdlingOf(plan, nil); ok && idle.Expected.Rails > 0 {
		const share = 0.25 // losses are usual ones, loads are rounded
		watts := func(x float64) string { return quantity.Value{SI: x, Unit: quantity.Watt}.Short(2) }
		out = append(out, sheet.Closing{Name: "idle power", Kind: sheet.ClosingIdle, Conditions: []string{"no signal"},
			Least: watts(idle.Expected.Mains * (1 - share)), Most: watts(idle.Expected.Mains * (1 + share)),
			Note: "from its rails and idle currents, with usual losses of the transformer"})
	}
	out = append(out, works(plan)...)
	return append(out, safe(plan)...)
}

// bestWays are the routes that exits are measured by, one for each: that whose entry takes the highest level, since an entry
// for a cartridge or a head is no flat one.
func bestWays(plan *sheet.Plan) []*sheet.Route {
	heard := plan.Heard()
	var out []*sheet.Route
	for i := range heard {
		r := &heard[i]
		at := slices.IndexFunc(out, func(o *sheet.Route) bool { return o.Points[len(o.Points)-1] == r.Points[len(r.Points)-1] })
		switch {
		case at < 0:
			out = append(out, r)
		case fed(plan, r) && r.Levels[0].Known && (!fed(plan, out[at]) || r.Levels[0].DBV > out[at].Levels[0].DBV):
			out[at] = r
		}
	}
	return out
}

// amplifies tells whether a route of a kind of set that amplifies takes what is fed in to a level that drives a loudspeaker.
func amplifies(plan *sheet.Plan, r *sheet.Route) bool {
	out := r.Levels[len(r.Levels)-1]
	return fed(plan, r) && plan.Sheet.Is("amplifier", "receiver", "subwoofer", "radio", "music", "combo") && out.Known &&
		quantity.Times(out.DBV) >= loudspeaker
}

// fed tells whether audio is fed in where a route begins.
func fed(plan *sheet.Plan, r *sheet.Route) bool {
	return !plan.Points[r.Points[0]].Source && audio(&r.Levels[0])
}

// audio tells whether a level is that of a tone that can be heard.
func audio(l *sheet.Level) bool {
	return l.Hz > 0 && l.Hz <= highestAudio && (l.Shape == "" || l.Shape == quantity.Sine)
}

// atExit is what is measured where a route ends: what is left without a signal, and where it is fully measured, power,
// distortion, response and separation.
//
// Long: a measurement after the other.
func atExit(plan *sheet.Plan, r *sheet.Route, fully bool) []sheet.Closing {
	last := len(r.Points) - 1
	exit, level := &plan.Points[r.Points[last]], r.Levels[last]
	if !audio(&level) {
		return nil
	}
	base := sheet.Closing{At: exit.Name, Mode: r.Mode}
	if !plan.Points[r.Points[0]].Source {
		base.From = plan.EntryName(r)
	}
	const lowest, highest, octave = 200, 4000, 2 // Hz; what is driven by less or more carries a band of its own
	tape := plan.Sheet.Is("tape", "deck", "cassette")
	var out []sheet.Closing
	add := func(kind string, change func(c *sheet.Closing)) {
		c := base
		c.Frequencies = []string{quantity.Frequency(cmp.Or(r.Levels[0].Hz, level.Hz))}
		c.Name, c.Kind = kind+", "+exit.Name, kind
		change(&c)
		out = append(out, c)
	}
	add(sheet.ClosingHum, func(c *sheet.Closing) {
		c.From, c.Frequencies, c.Conditions = "", nil, []string{"volume as in use"}
		if !fed(plan, r) {
			c.Conditions = []string{"volume at zero"}
		}
		switch {
		case !level.Known:
		case tape:
			c.Least = usualTapeHum
		case fed(plan, r):
			c.Least = usualHum
		default:
			c.Least = usualRadioHum
		}
	})
	if !fully || !fed(plan, r) {
		return out
	}
	if amplifies(plan, r) {
		add(sheet.ClosingPower, func(c *sheet.Closing) {
			c.Conditions = []string{"dummy load in place of the loudspeaker", "scope across it"}
			if quantity.Times(level.DBV) < line {
				c.Load, c.Least = usualLoad, mostPower(plan, r)
			}
		})
	}
	var loaded []string
	if amplifies(plan, r) {
		loaded = []string{"dummy load in place of the loudspeaker"}
	}
	add(sheet.ClosingDistortion, func(c *sheet.Closing) { c.Most, c.Conditions = usualDistortion, loaded })
	add(sheet.ClosingResponse, func(c *sheet.Closing) {
		c.Most, c.Frequencies = usualResponse, []string{"50 Hz", "1 kHz", "15 kHz"}
		c.Conditions = append([]string{"tone controls flat"}, loaded...)
		switch hz := r.Levels[0].Hz; {
		case tape:
			c.Frequencies = []string{"100 Hz", "1 kHz", "8 kHz"}
		case hz < lowest || hz > highest: // it carries a band of its own
			c.Frequencies = []string{quantity.Frequency(hz / octave), quantity.Frequency(hz), quantity.Frequency(hz * octave)}
			c.Most = ""
		}
	})
	if plan.Sheet.Is("guitar", "organ", "effect", "synth") { // its sound is made of both: one set is compared with another
		for i := range out {
			if k := out[i].Kind; k == sheet.ClosingDistortion || k == sheet.ClosingResponse {
				out[i].Most = ""
			}
		}
	}
	if exit.Twin >= 0 {
		add(sheet.ClosingSeparation, func(c *sheet.Closing) {
			c.Other, c.Least = plan.Points[exit.Twin].Name, usualSeparation
			c.Conditions = []string{"the other channel's entry closed by what usually drives it"}
		})
	}
	return out
}

// offsets are what is read of DC without a signal: what was adjusted, at the limits of that; at other exits where the sheet
// expects 0 V, what a loudspeaker bears.
func offsets(plan *sheet.Plan) []sheet.Closing {
	var out []sheet.Closing
	quiet := []string{"no signal", "warm"}
	there := map[string]bool{}
	for i := range plan.Adjustments {
		a := &plan.Adjustments[i]
		if _, ok := plan.PointIndex(a.From); a.Kind == "offset" && a.Sought == sheet.SoughtValue && ok {
			there[a.From] = true
			out = append(out, sheet.Closing{Name: a.Name, Kind: sheet.ClosingOffset, At: a.From, Conditions: quiet,
				Most: quantity.Rounded(max(math.Abs(a.Low), math.Abs(a.High)), quantity.Volt)})
		}
	}
	for _, r := range plan.Heard() {
		exit := &plan.Points[r.Points[len(r.Points)-1]]
		rests := slices.ContainsFunc(exit.Expected, func(e sheet.Expected) bool { return e.Quantity == sheet.DC && e.Value.SI == 0 })
		if rests && !there[exit.Name] {
			there[exit.Name] = true
			out = append(out, sheet.Closing{Name: "offset, " + exit.Name, Kind: sheet.ClosingOffset, At: exit.Name, Most: usualOffset,
				Conditions: quiet})
		}
	}
	return out
}

// mostPower is what an exit gives into the usual load at the level that the first of its stages to clip lets through, less 1 dB;
// empty where the sheet does not say where any clips.
func mostPower(plan *sheet.Plan, r *sheet.Route) string {
	const less = 1.0 // dB
	clip, behind := math.Inf(1), 0.0
	for i := len(r.Stages) - 1; i >= 0 && !math.IsNaN(behind); i-- {
		clip = math.Min(clip, plan.Stages[r.Stages[i]].ClipDBV+behind)
		behind += r.Gains[i]
	}
	load, err := quantity.ParseAs(usualLoad, quantity.Ohm)
	if err != nil || math.IsInf(clip, 0) || math.IsNaN(clip) {
		return ""
	}
	u := quantity.Times(clip - less)
	return quantity.Value{SI: u * u / load.SI, Unit: quantity.Watt}.Short(2)
}

// works is what is tried by hand, eye and ear: what it came for, what sets of its kind do, each of its controls.
func works(plan *sheet.Plan) []sheet.Closing {
	s := plan.Sheet
	var out []sheet.Closing
	add := func(name, note string) {
		out = append(out, sheet.Closing{Name: name, Kind: sheet.ClosingWorks, Note: note})
	}
	add("the complaint is gone", "as the owner uses it: as long, as loud, as warm")
	if s.Is("television", "monitor", "picture") {
		add("picture", "moving, light and dark: whole, in focus, right colours, steady")
		add("sound", "with the picture, no buzz that goes with white")
	}
	if s.Is("radio", "tuner", "receiver") &&
		slices.ContainsFunc(plan.Routes, func(r sheet.Route) bool { return r.Levels[0].Hz > highestAudio }) {
		add("dial", "stations at both ends of each band, where the dial says")
	}
	if s.Is("tape", "deck", "cassette") {
		add("transport", "plays without flutter, winds both ways, stops at the end by itself")
		add("records and erases", "onto an empty tape, then over it")
	}
	if s.Is("transceiver", "transmitter") {
		add("carrier", "into a dummy load: power, and back to receiving")
	}
	for i := range plan.Stages {
		st := &plan.Stages[i]
		switch {
		case len(st.Needs) > 0: // it is worked by a line, not by hand
		case st.Kind == "control":
			add(st.Name+", over its travel", "no crackle, no dead spot, both channels alike")
		case st.Kind == "switch":
			add(st.Name+", in each place", "and back again, several times")
		}
	}
	for i := range plan.Controls {
		c := &plan.Controls[i]
		does := fmt.Sprintf("%s does what it is there for: %s", c.Name, c.Does)
		at := slices.IndexFunc(out, func(o sheet.Closing) bool { return o.Name == c.By })
		switch {
		case c.By == "":
		case at >= 0: // it works several at once
			out[at].Note += "; " + does
		default:
			add(c.By, does)
		}
	}
	return out
}

// safe is what is tested of a set that is fed by the mains.
func safe(plan *sheet.Plan) []sheet.Closing {
	has := func(kind string) bool {
		return slices.ContainsFunc(plan.Sheet.Hazards, func(h sheet.Hazard) bool { return h.Kind == kind })
	}
	rectified := slices.ContainsFunc(plan.Rails, func(r sheet.PlanRail) bool { return r.Rectifier != "" })
	if !has("mains") && !has("hot chassis") && (!rectified || has("battery")) {
		return nil
	}
	note := ""
	if has("hot chassis") {
		note = "its chassis is at the mains: shafts, screws and sockets outside count"
	}
	return []sheet.Closing{
		{Name: "continuity of earth", Kind: sheet.ClosingEarth, Conditions: []string{"unplugged", "cable moved meanwhile"},
			Note: "a set with no earth pin has none"},
		{Name: "insulation", Kind: sheet.ClosingInsulation, Conditions: []string{"unplugged", "lid on"}, Note: note},
	}
}
