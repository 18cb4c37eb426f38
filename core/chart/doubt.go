package chart

import (
	"fmt"
	"math"
	"slices"

	"steptrace/core/sheet"
)

// What cannot be on a part in order (volts DC, by the junctions' textbook figures), so that it is a slip of
// the scanner, of the print, or a condition that the chart does not say.

const (
	// mostDrop is the most between base and emitter of a transistor that conducts, germanium to silicon
	// power types: 0.2 to 0.8 V, and what rounding to two figures adds.
	mostDrop = 1.2
	// mostReverse is the most between emitter and base the other way: the junction breaks down at 5 to 7 V.
	mostReverse = 7.0
	// past is how far a base may be beyond its collector: deep in saturation half a junction's drop.
	past = 0.9
	// mostGrid is how far a grid may be above its cathode.
	mostGrid = 2.0
	// leastDrop is what a conducting junction has at least.
	leastDrop = 0.1
)

// finish looks at each part under each condition as a whole.
func (r *reader) finish() {
	if len(r.out.Conditions) > 0 && slices.ContainsFunc(r.out.Cells, func(c Cell) bool { return c.Condition == "" }) {
		r.out.Conditions = slices.Insert(r.out.Conditions, 0, "")
	}
	type key struct{ part, condition string }
	of := map[key]map[string]*Cell{}
	var order []key
	for i := range r.out.Cells {
		c := &r.out.Cells[i]
		if c.Quantity != sheet.DC {
			continue
		}
		k := key{c.Part, c.Condition}
		if of[k] == nil {
			of[k] = map[string]*Cell{}
			order = append(order, k)
		}
		if of[k][c.Leg] != nil {
			c.Doubt = fmt.Sprintf("%s has two values for %s", c.Part, c.Leg)
		}
		of[k][c.Leg] = c
	}
	for _, k := range order {
		legs := of[k]
		if e, b, c := legs["e"], legs["b"], legs["c"]; e != nil && b != nil && c != nil {
			doubt(transistor, e, b, c)
		}
		if k, g := legs["k"], legs["g1"]; k != nil && g != nil {
			doubt(tube, k, g)
		}
	}
}

// transistor says what is impossible of emitter, base and collector (V); empty where nothing is.
func transistor(v []float64) string {
	e, b, c := v[0], v[1], v[2]
	sign := 1.0 // NPN: the collector is above the emitter
	if c < e {
		sign = -1
	}
	drop, over := sign*(b-e), sign*(b-c)
	switch {
	case drop > mostDrop:
		return fmt.Sprintf("%.3g V from base to emitter is more than a junction drops", math.Abs(b-e))
	case drop < -mostReverse:
		return fmt.Sprintf("%.3g V the wrong way would break the junction from emitter to base down", math.Abs(b-e))
	case drop > leastDrop && over > past:
		return "the base is beyond the collector of a stage that conducts"
	}
	return ""
}

// tube says what is impossible of cathode and grid (V).
func tube(v []float64) string {
	if v[1]-v[0] > mostGrid {
		return "the grid is above its cathode"
	}
	return ""
}

// doubt marks the cells of a part that cannot be as they are. Where one lost decimal point, or one too
// many, would explain it, that cell is doubted and what was probably meant is said; the smallest change
// that leaves the part as a conducting one first.
func doubt(impossible func([]float64) string, cells ...*Cell) {
	values := make([]float64, len(cells))
	for i, c := range cells {
		values[i] = c.si
	}
	why := impossible(values)
	if why == "" {
		return
	}
	type mend struct {
		cell  int
		value float64
		good  float64
	}
	var mends []mend
	for i := range cells {
		for _, by := range []float64{0.1, 10, 0.01, 100} {
			other := slices.Clone(values)
			if other[i] *= by; other[i] != values[i] && impossible(other) == "" {
				mends = append(mends, mend{i, other[i], fit(other) - 0.01*math.Abs(math.Log10(by))})
			}
		}
	}
	if len(mends) == 0 {
		for _, c := range cells {
			c.Doubt = why
		}
		return
	}
	best := slices.MaxFunc(mends, func(a, b mend) int {
		switch {
		case a.good < b.good:
			return -1
		case a.good > b.good:
			return 1
		}
		return 0
	})
	c := cells[best.cell]
	c.Doubt, c.Likely = why, written(best.value)
}

// fit is how well values are those of a part that conducts: near 0.65 V from base to emitter.
func fit(v []float64) float64 {
	if len(v) < 3 {
		return 0
	}
	return -math.Abs(math.Abs(v[1]-v[0]) - 0.65)
}
