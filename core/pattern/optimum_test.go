package pattern_test

import (
	"math"
	"slices"
	"testing"

	"steptrace/core/pattern"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// answers are what each of a set's dead blocks would make of everything that can be read, by words.
type answers struct {
	faults []string
	of     [][]quantity.Word // by question, by fault
}

// everything asks all there is: each point of each route, and every supply and control.
func everything(s *sheet.Sheet, plan *sheet.Plan, faults []string) answers {
	out := answers{faults: faults}
	ask := func(c trace.Case, point string) {
		row := make([]quantity.Word, len(faults))
		for i, fault := range faults {
			p := &patient{s: s, fault: fault, word: quantity.Nothing}
			row[i] = p.read(c, 0, point, sheet.AC, nil, false).Word
		}
		out.of = append(out.of, row)
	}
	for i := range plan.Routes {
		r := &plan.Routes[i]
		for _, at := range r.Points[1:] {
			ask(trace.Case{Bench: reading.Bench{Plan: plan, Route: r}}, plan.Points[at].Name)
		}
	}
	for line := range plan.Lines() {
		ask(trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}, plan.LineName(line))
	}
	return out
}

// best is the mean number of questions to tell the faults apart as far as they can be, each time asking what
// tells most: within a few in a hundred of the best tree of all, which nobody can work out for so many.
func (a answers) best(left []int, weight []float64) float64 {
	total := 0.0
	for _, f := range left {
		total += weight[f]
	}
	pick, most := -1, 1e-9
	for q, row := range a.of {
		by := map[quantity.Word]float64{}
		for _, f := range left {
			by[row[f]] += weight[f]
		}
		bits := 0.0
		for _, w := range by {
			bits -= w / total * math.Log2(w/total)
		}
		if bits > most {
			pick, most = q, bits
		}
	}
	if pick < 0 {
		return 0
	}
	parts := map[quantity.Word][]int{}
	for _, f := range left {
		parts[a.of[pick][f]] = append(parts[a.of[pick][f]], f)
	}
	mean := 1.0
	for _, part := range parts {
		w := 0.0
		for _, f := range part {
			w += weight[f]
		}
		mean += w / total * a.best(part, weight)
	}
	return mean
}

// How many readings the proposals take, in every pattern, until a dead block is named, against the fewest that
// would tell it if nothing were ever read wrongly. Those that make sure of it come on top, and are told too.
func TestReadingsAgainstTheFewest(t *testing.T) {
	sum, fewest, sure, n := 0.0, 0.0, 0.0, 0
	for _, kind := range pattern.All() {
		s, err := kind.Sheet(nil)
		if err != nil {
			t.Fatal(err)
		}
		plan, _ := s.Plan()
		var faults []string
		needed := map[string]bool{}
		for i := range plan.Routes {
			r := &plan.Routes[i]
			for k, on := range plan.Paths(r.Mode, r.Points[0], r.Points[len(r.Points)-1], nil).Any {
				if name := plan.BlockName(k); on && !needed[name] {
					needed[name] = true
					faults = append(faults, name)
				}
			}
		}
		if len(faults) < 4 {
			continue
		}
		weight := make([]float64, len(faults))
		for i := range weight {
			weight[i] = 1
		}
		left := make([]int, len(faults))
		for i := range left {
			left[i] = i
		}
		best := everything(s, plan, faults).best(left, weight)
		took, all := 0, 0
		for _, fault := range faults {
			p := &patient{s: s, fault: fault, word: quantity.Nothing}
			named := 0
			p.told = func(at int, f *trace.Findings) {
				if named == 0 && found(f, fault) {
					named = at
				}
			}
			_, _, readings := p.follow(trace.Case{Bench: reading.Bench{Plan: plan, Route: reading.FirstRoute(plan)}})
			if named == 0 {
				named = readings
			}
			took += named
			all += readings
		}
		mean := float64(took) / float64(len(faults))
		t.Logf("%s: %d blocks, %.1f readings to its name, %.1f to be sure, %.1f at least", kind.Name, len(faults), mean,
			float64(all)/float64(len(faults)), best)
		sum += mean
		sure += float64(all) / float64(len(faults))
		fewest += best
		n++
	}
	t.Logf("mean of %d patterns: %.2f to the name, %.2f to be sure, %.2f at least: %.0f %% more", n, sum/float64(n), sure/float64(n),
		fewest/float64(n), 100*(sum/fewest-1))
	// They go by minutes: a supply is read before a stage that costs four times as long, a contact before a point inside.
	if sum > 1.2*fewest {
		t.Error("readings are wasted")
	}
}

// found tells whether a fault stands alone: the only stage left of the route, or a supply or control that reads bad.
func found(f *trace.Findings, fault string) bool {
	for _, l := range slices.Concat(f.Rails, f.Controls) {
		if l.Name == fault && l.Verdict.Bad() {
			return true
		}
	}
	suspects := slices.DeleteFunc(slices.Clone(f.Stages), func(s trace.StageFinding) bool { return s.Standing != trace.Suspect })
	return f.Stage == fault || len(suspects) == 1 && suspects[0].Name == fault
}
