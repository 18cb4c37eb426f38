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

// answers are what each fault of a set makes of everything that can be read, by words. A fault is a block that is
// dead, or weak, or noisy; to be told is the block.
type answers struct {
	s       *sheet.Sheet
	plan    *sheet.Plan
	faults  []patient
	block   []int             // of each fault
	of      [][]quantity.Word // by question, by fault
	minutes []float64         // that each question takes
	outside []bool            // it is asked from outside, without a probe
}

// takes is what a reading takes at the bench, in minutes: a supply one, and what is heard or seen at an exit; a point
// one and what the sheet says of its place; two more at a radio frequency, for the lighter probe and the second look.
func takes(plan *sheet.Plan, r *sheet.Route, point string) float64 {
	i, ok := plan.PointIndex(point)
	if !ok || isExit(plan, i) {
		return 1
	}
	out := 1 + plan.Points[i].Minutes
	if at, ok := r.At(i); ok && r.Levels[at].Hz >= 1e6 {
		out += 2
	}
	return out
}

func isExit(plan *sheet.Plan, point int) bool {
	return slices.ContainsFunc(plan.Routes, func(r sheet.Route) bool { return r.Points[len(r.Points)-1] == point })
}

// everything asks all there is of a set's blocks: each point of each route, and every supply and control.
func everything(s *sheet.Sheet) *answers {
	plan, _ := s.Plan()
	a := &answers{s: s, plan: plan}
	needed := make([]bool, plan.Blocks())
	for i := range plan.Routes {
		r := &plan.Routes[i]
		for k, on := range plan.Paths(r.Mode, r.Points[0], r.Points[len(r.Points)-1], nil).Any {
			needed[k] = needed[k] || on
		}
	}
	for k, on := range needed {
		for _, word := range []quantity.Word{quantity.Nothing, quantity.Weak, quantity.Noisy} {
			if on {
				a.faults = append(a.faults, patient{s: s, fault: plan.BlockName(k), word: word})
				a.block = append(a.block, k)
			}
		}
	}
	ask := func(r *sheet.Route, point string, outside bool) {
		row := make([]quantity.Word, len(a.faults))
		for i := range a.faults {
			row[i] = a.faults[i].read(trace.Case{Bench: reading.Bench{Plan: plan, Route: r}}, 0, point, sheet.AC, nil, false).Word
		}
		a.of = append(a.of, row)
		a.minutes = append(a.minutes, takes(plan, r, point))
		a.outside = append(a.outside, outside)
	}
	for i := range plan.Routes {
		r := &plan.Routes[i]
		for _, at := range r.Points[1:] {
			ask(r, plan.Points[at].Name, isExit(plan, at))
		}
	}
	for line := range plan.Lines() {
		ask(&plan.Routes[0], plan.LineName(line), false)
	}
	return a
}

// all is every fault.
func (a *answers) all() []int {
	out := make([]int, len(a.faults))
	for i := range out {
		out[i] = i
	}
	return out
}

// doubt is the entropy of the blocks of some faults, in bits.
func (a *answers) doubt(left []int) float64 {
	of := map[int]float64{}
	for _, f := range left {
		of[a.block[f]]++
	}
	bits := 0.0
	for _, n := range of {
		p := n / float64(len(left))
		bits -= p * math.Log2(p)
	}
	return bits
}

// parts sorts faults by what some questions would be answered.
func (a *answers) parts(left []int, questions ...int) map[string][]int {
	out := map[string][]int{}
	for _, f := range left {
		said := ""
		for _, q := range questions {
			said += string(a.of[q][f]) + ";"
		}
		out[said] = append(out[said], f)
	}
	return out
}

// least is the mean of what it takes to tell the blocks apart as far as they can be, in questions and minutes, each
// time asking what tells most of the block, or most a minute: within a few in a hundred of the best tree of all, which
// nobody can work out for so many.
func (a *answers) least(left []int, byMinutes bool) (questions, minutes float64) {
	pick, most := -1, 1e-9
	doubt := a.doubt(left)
	for q := range a.of {
		tells := doubt
		for _, part := range a.parts(left, q) {
			tells -= a.doubt(part) * float64(len(part)) / float64(len(left))
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
	questions, minutes = 1, a.minutes[pick]
	for _, part := range a.parts(left, pick) {
		share := float64(len(part)) / float64(len(left))
		q, m := a.least(part, byMinutes)
		questions, minutes = questions+share*q, minutes+share*m
	}
	return questions, minutes
}

// leastBehind is the same once all is known that can be tried from outside.
func (a *answers) leastBehind() (probes, minutes float64) {
	var tried []int
	for q, outside := range a.outside {
		if outside {
			tried = append(tried, q)
		}
	}
	for _, part := range a.parts(a.all(), tried...) {
		share := float64(len(part)) / float64(len(a.faults))
		q, m := a.least(part, true)
		probes, minutes = probes+share*q, minutes+share*m
	}
	return probes, minutes
}

// spent are readings and the minutes that they take.
type spent struct{ readings, minutes float64 }

func (s *spent) add(o spent, share float64) {
	s.readings += share * o.readings
	s.minutes += share * o.minutes
}

// followed is what the proposals take until a fault is named, how much of it behind the trials from outside, and
// what they take until it is sure.
func (a *answers) followed(p patient) (named, behind, sure spent) {
	p.told = func(_ int, f *trace.Findings) {
		if named.readings > 0 || !found(f, p.fault) {
			return
		}
		for i := range f.Readings {
			r := f.Readings[i].Route
			if r == nil {
				r = &a.plan.Routes[0]
			}
			named.add(spent{1, takes(a.plan, r, f.Readings[i].Reading.Point)}, 1)
		}
	}
	_, _, n := p.follow(trace.Case{Bench: reading.Bench{Plan: a.plan, Route: reading.FirstRoute(a.plan)}})
	sure.readings = float64(n)
	if named.readings == 0 {
		named = sure
	}
	tries := float64(p.tries)
	behind = spent{max(0, named.readings-tries), max(0, named.minutes-tries)}
	return named, behind, sure
}

// What the proposals take, in every pattern, until a block is named that is dead, weak or noisy, against the least
// that would tell it if nothing were ever read wrongly. Those that make sure of it come on top, and are told too.
// The proposals go by minutes, so that the tree to hold them against is the quickest; the one of fewest readings,
// which takes longer, is told beside it.
func TestReadingsAgainstTheLeast(t *testing.T) {
	var named, behind, sure, quickest, fewest, quickestBehind spent
	n := 0.0
	for _, kind := range pattern.All() {
		s, err := kind.Sheet(nil)
		if err != nil {
			t.Fatal(err)
		}
		a := everything(s)
		if len(a.faults) < 12 {
			continue
		}
		var mine spent
		for i := range a.faults {
			share := 1 / float64(len(a.faults))
			m, b, u := a.followed(a.faults[i])
			mine.add(m, share)
			behind.add(b, share)
			sure.add(u, share)
		}
		var quick, few, free spent
		quick.readings, quick.minutes = a.least(a.all(), true)
		few.readings, few.minutes = a.least(a.all(), false)
		free.readings, free.minutes = a.leastBehind()
		t.Logf("%s: %d faults, %.1f readings in %.1f min to the name; quickest %.1f in %.1f, fewest %.1f in %.1f", kind.Name,
			len(a.faults), mine.readings, mine.minutes, quick.readings, quick.minutes, few.readings, few.minutes)
		named.add(mine, 1)
		quickest.add(quick, 1)
		fewest.add(few, 1)
		quickestBehind.add(free, 1)
		n++
	}
	more := func(a, b float64) float64 { return 100 * (a/b - 1) }
	t.Logf("mean of %.0f patterns: %.2f readings to the name, %.2f to be sure", n, named.readings/n, sure.readings/n)
	t.Logf("the quickest tree takes %.2f (%.0f %% more here), the one of fewest readings %.2f (%.0f %% more)",
		quickest.readings/n, more(named.readings, quickest.readings), fewest.readings/n, more(named.readings, fewest.readings))
	t.Logf("%.2f minutes against %.2f: %.0f %% more", named.minutes/n, quickest.minutes/n, more(named.minutes, quickest.minutes))
	t.Logf("behind what is tried from outside %.2f probes against %.2f (%.0f %% more), %.2f minutes against %.2f (%.0f %%)",
		behind.readings/n, quickestBehind.readings/n, more(behind.readings, quickestBehind.readings),
		behind.minutes/n, quickestBehind.minutes/n, more(behind.minutes, quickestBehind.minutes))
	if n < 30 || named.readings > 1.1*quickest.readings || named.minutes > 1.1*quickest.minutes {
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
