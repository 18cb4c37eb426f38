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
	faults  []string
	of      [][]quantity.Word // by question, by fault
	minutes []float64         // that each question takes
	outside []bool            // it is asked from outside, without a probe
}

// takes is what a reading takes at the bench, in minutes: a supply one; a point one and what the sheet says of
// its place; two more at a radio frequency, for the lighter probe and the second look.
func takes(plan *sheet.Plan, r *sheet.Route, point string) float64 {
	i, ok := plan.PointIndex(point)
	if !ok {
		return 1
	}
	out := 1 + plan.Points[i].Minutes
	if at, ok := r.At(i); ok && r.Levels[at].Hz >= 1e6 {
		out += 2
	}
	return out
}

// everything asks all there is: each point of each route, and every supply and control.
func everything(s *sheet.Sheet, plan *sheet.Plan, faults []string) answers {
	out := answers{faults: faults}
	ask := func(c trace.Case, point string, outside bool) {
		row := make([]quantity.Word, len(faults))
		for i, fault := range faults {
			p := &patient{s: s, fault: fault, word: quantity.Nothing}
			row[i] = p.read(c, 0, point, sheet.AC, nil, false).Word
		}
		out.of = append(out.of, row)
		out.minutes = append(out.minutes, takes(plan, c.Route, point))
		out.outside = append(out.outside, outside)
	}
	for i := range plan.Routes {
		r := &plan.Routes[i]
		for k, at := range r.Points[1:] {
			ask(trace.Case{Bench: reading.Bench{Plan: plan, Route: r}}, plan.Points[at].Name, k == len(r.Points)-2)
		}
	}
	for line := range plan.Lines() {
		ask(trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}, plan.LineName(line), false)
	}
	return out
}

// best is the mean of what it takes to tell the faults apart as far as they can be, in questions and minutes, each
// time asking what tells most, or most a minute: within a few in a hundred of the best tree of all, which nobody can
// work out for so many.
func (a answers) best(left []int, byMinutes bool) (questions, minutes float64) {
	pick, most := -1, 1e-9
	for q, row := range a.of {
		by := map[quantity.Word]int{}
		for _, f := range left {
			by[row[f]]++
		}
		tells := 0.0
		for _, n := range by {
			p := float64(n) / float64(len(left))
			tells -= p * math.Log2(p)
		}
		if byMinutes {
			tells /= a.minutes[q]
		}
		if tells > most {
			pick, most = q, tells
		}
	}
	if pick < 0 {
		return 0, 0
	}
	parts := map[quantity.Word][]int{}
	for _, f := range left {
		parts[a.of[pick][f]] = append(parts[a.of[pick][f]], f)
	}
	questions, minutes = 1, a.minutes[pick]
	for _, part := range parts {
		share := float64(len(part)) / float64(len(left))
		q, m := a.best(part, byMinutes)
		questions, minutes = questions+share*q, minutes+share*m
	}
	return questions, minutes
}

// probes is the mean number of questions once all is known that can be tried from outside, which costs nothing.
func (a answers) probes(left []int) float64 {
	parts := map[string][]int{}
	for _, f := range left {
		said := ""
		for q, row := range a.of {
			if a.outside[q] {
				said += string(row[f]) + ";"
			}
		}
		parts[said] = append(parts[said], f)
	}
	mean := 0.0
	for _, part := range parts {
		q, _ := a.best(part, false)
		mean += q * float64(len(part)) / float64(len(left))
	}
	return mean
}

// How many readings the proposals take, in every pattern, until a dead block is named, against the fewest that
// would tell it if nothing were ever read wrongly. Those that make sure of it come on top, and are told too.
func TestReadingsAgainstTheFewest(t *testing.T) {
	sum, fewest, sure, n := 0.0, 0.0, 0.0, 0
	spent, least := 0.0, 0.0         // minutes
	probed, fewestProbes := 0.0, 0.0 // readings behind the trials from outside
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
		left := make([]int, len(faults))
		for i := range left {
			left[i] = i
		}
		all := everything(s, plan, faults)
		best, _ := all.best(left, false)
		_, quickest := all.best(left, true)
		took, toBeSure, minutes, probes := 0, 0, 0.0, 0
		for _, fault := range faults {
			p := &patient{s: s, fault: fault, word: quantity.Nothing}
			named := 0
			p.told = func(at int, f *trace.Findings) {
				if named == 0 && found(f, fault) {
					named = at
					for i := range f.Readings {
						r, _ := plan.Route(f.Route)
						if f.Readings[i].Route != nil {
							r = f.Readings[i].Route
						}
						minutes += takes(plan, r, f.Readings[i].Reading.Point)
					}
				}
			}
			_, _, readings := p.follow(trace.Case{Bench: reading.Bench{Plan: plan, Route: reading.FirstRoute(plan)}})
			if named == 0 {
				named = readings
			}
			took += named
			probes += max(0, named-p.tries)
			toBeSure += readings
		}
		mean := float64(took) / float64(len(faults))
		t.Logf("%s: %d blocks, %.1f readings to its name, %.1f to be sure, %.1f at least", kind.Name, len(faults), mean,
			float64(toBeSure)/float64(len(faults)), best)
		sum += mean
		sure += float64(toBeSure) / float64(len(faults))
		fewest += best
		spent += minutes / float64(len(faults))
		least += quickest
		probed += float64(probes) / float64(len(faults))
		fewestProbes += all.probes(left)
		n++
	}
	t.Logf("mean of %d patterns: %.2f to the name, %.2f to be sure, %.2f at least: %.0f %% more", n, sum/float64(n), sure/float64(n),
		fewest/float64(n), 100*(sum/fewest-1))
	t.Logf("%.1f minutes against %.1f: %.0f %% more", spent/float64(n), least/float64(n), 100*(spent/least-1))
	t.Logf("behind what is tried from outside %.2f probes against %.2f: %.0f %% more", probed/float64(n), fewestProbes/float64(n),
		100*(probed/fewestProbes-1))
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
