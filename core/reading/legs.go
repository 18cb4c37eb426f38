package reading

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// The legs of a part belong together: one voltage that is off says little, two or three say what the
// part does.

// withLegs says beside the last reading of each part what its legs say together, or which of them are
// missing for that.
func (b Bench) withLegs(judged []Judged) {
	parts := map[string]map[string]*Judged{}
	var last []*Judged
	for i := range judged {
		j := &judged[i]
		point, ok := b.Plan.PointIndex(j.Reading.Point)
		if !ok || !j.Counts() || j.Reading.Quantity != sheet.DC || j.Reading.Word != quantity.NoWord || j.Reading.Power == PowerOff {
			continue
		}
		part := b.Plan.PartOf(point)
		if part == "" {
			continue
		}
		if parts[part] == nil {
			parts[part] = map[string]*Judged{}
		}
		leg := strings.TrimPrefix(b.Plan.Points[point].Name, part+" ")
		parts[part][leg] = j
		last = slices.DeleteFunc(last, func(o *Judged) bool { return strings.HasPrefix(o.Reading.Point, part+" ") })
		last = append(last, j)
	}
	for _, j := range last {
		part, _, _ := strings.Cut(j.Reading.Point, " ")
		j.Note = Joined(j.Note, b.legsSay(part, parts[part]))
	}
}

// legsSay is what the legs of a transistor say; empty where they say nothing, or the part is none.
func (b Bench) legsSay(part string, legs map[string]*Judged) string {
	due := map[string]float64{}
	for _, leg := range []string{"e", "b", "c"} {
		if i, ok := b.Plan.PointIndex(part + " " + leg); ok {
			if x, ok := b.Plan.Expect(i, sheet.DC, b.Route.Mode); ok {
				due[leg] = x.Value.SI
			}
		}
	}
	if len(due) < 3 {
		return ""
	}
	var missing []string
	off := false
	for _, leg := range []string{"e", "b", "c"} {
		if j := legs[leg]; j == nil {
			missing = append(missing, leg)
		} else {
			off = off || j.Verdict.Bad()
		}
	}
	switch {
	case !off && len(missing) == 0:
		return part + " stands as it should"
	case !off:
		return ""
	case len(missing) > 0:
		return fmt.Sprintf("read %s of %s too: together they say what it does", strings.Join(missing, " and "), part)
	}
	return together(part, due, legs)
}

// together is what all three legs say where some are off.
func together(part string, due map[string]float64, legs map[string]*Judged) string {
	e, base, c := legs["e"].Reading.SI, legs["b"].Reading.SI, legs["c"].Reading.SI
	sign := 1.0 // NPN
	if due["c"] < due["e"] {
		sign = -1
	}
	drop, conducts := sign*(base-e), sign*(due["b"]-due["e"]) > noDrop
	switch {
	case conducts && drop > openDrop:
		return fmt.Sprintf("%s from base to emitter: that junction of %s is open", volts(base-e), part)
	case conducts && legs["b"].Verdict == Within && math.Abs(e) < atNothing && math.Abs(due["e"]) > 4*atNothing:
		return fmt.Sprintf(
			"the base is good and the emitter at nothing: no current through %s, its junction or its collector's way is open",
			part,
		)
	case math.Abs(c-e) < noSpan && math.Abs(due["c"]-due["e"]) > 3*noSpan && drop < noDrop:
		return fmt.Sprintf("collector and emitter at the same voltage with the base not driven: %s is shorted", part)
	case math.Abs(c-e) < noSpan && math.Abs(due["c"]-due["e"]) > 3*noSpan:
		return fmt.Sprintf(
			"collector and emitter at the same voltage: %s is driven fully, look at what drives its base; or it is shorted",
			part,
		)
	case conducts && math.Abs(drop) < noDrop:
		return fmt.Sprintf("base and emitter at the same voltage: %s is not driven, or shorted between them", part)
	case drop > noDrop:
		return fmt.Sprintf("%s conducts as it should: what is off comes from what feeds it", part)
	}
	return ""
}

// volts writes a difference of voltage.
func volts(x float64) string {
	return quantity.Value{SI: math.Abs(x), Unit: quantity.Volt}.Short(3)
}
