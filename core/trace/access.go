package trace

import (
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// access is a reading that can be taken next: at a point of a route, with the
// signal fed in at a point before, as things are or with feedback lifted.
type access struct {
	route    *sheet.Route
	from, at int            // positions on the route
	now      bool           // with what is fed in now
	lifted   int            // feedback stage to lift for it; noStage
	quantity sheet.Quantity // what is read; empty: the level
	touch    bool           // fed in by a touch
	splits   []bool
}

// noStage stands where no stage is meant.
const noStage = -1

// byItself stands for the point of a signal that nobody feeds in.
const byItself = -1

// point is where it is read, as an index into the plan's points.
func (r *access) point() int { return r.route.Points[r.at] }

// ownAccess is reading a point of the route being traced: with what is fed in now
// where that comes past, otherwise with the sheet's own signal at the entry.
func (f *finder) ownAccess(at int) *access {
	q, _ := f.readAt(f.Route, at)
	if from, _ := f.FedNow(); from < at {
		return &access{route: f.Route, from: from, at: at, now: true, lifted: noStage, quantity: q}
	}
	return &access{route: f.Route, at: at, lifted: noStage, quantity: q}
}

// read is what is read for it.
func (r *access) read() sheet.Quantity {
	if r.quantity == "" {
		return sheet.AC
	}
	return r.quantity
}

// splits tells which suspects a reading parts from the rest: what it depends on.
func (f *finder) splits(r *access) []bool {
	without := []string{}
	if r.lifted != noStage {
		without = append(without, f.Plan.Stages[r.lifted].Name)
	}
	w := f.pathsFrom(r.route.Mode, r.route.Points[r.from], r.point(), without)
	out := make([]bool, len(f.suspects))
	for i, at := range f.suspects {
		out[i] = w.Any[f.Route.Stages[at]]
	}
	return out
}

// accesses lists all that can be read next, whether or not it tells anything.
func (f *finder) accesses() []*access {
	var out []*access
	last := len(f.Route.Points) - 1
	from, _ := f.FedNow()
	for at := 1; at <= last; at++ {
		q, ok := f.readAt(f.Route, at)
		if !ok || f.Refused(f.Route.Points[at], f.Route.Mode) != "" {
			continue
		}
		if from > 0 {
			out = append(out, &access{route: f.Route, at: at, lifted: noStage, quantity: q})
		}
		if from < at {
			out = append(out, f.ownAccess(at))
		}
	}
	// Inside a loop only with the feedback lifted; a word does then.
	for i := range f.Plan.Loops {
		l := &f.Plan.Loops[i]
		for at := 1; at < last; at++ {
			if slices.Contains(l.Inside, f.Route.Stages[at-1]) && slices.Contains(l.Inside, f.Route.Stages[at]) &&
				f.Refused(f.Route.Points[at], f.Route.Mode) == "" {
				out = append(out, &access{route: f.Route, at: at, lifted: l.Feedback})
			}
		}
	}
	// Where nothing is known to compare a reading with, a signal fed in there and
	// heard at the exit tells as much.
	for at := 1; at < last; at++ {
		if !f.comparable(f.Route, at) && f.Refused(f.Route.Points[at], f.Route.Mode) == "" {
			out = append(out, &access{route: f.Route, from: at, at: last, lifted: noStage})
		}
	}
	// Other modes and entries, and what other exits give.
	for i := range f.Plan.Routes {
		r := &f.Plan.Routes[i]
		if r == f.Route {
			continue
		}
		for at := 1; at < len(r.Points); at++ {
			exit := at == len(r.Points)-1
			q, ok := f.readAt(r, at)
			if (ok || exit) && f.Refused(r.Points[at], r.Mode) == "" {
				out = append(out, &access{route: r, at: at, lifted: noStage, quantity: q})
			}
		}
	}
	return out
}

// searched is the search among the suspects, set up once.
func (f *finder) searched() *search {
	if f.plan == nil {
		f.plan = f.search()
	}
	return f.plan
}

// search sets the search among the suspects of the route up: the readings that
// part them, the suspects that none parts as groups.
func (f *finder) search() *search {
	feeds := []feed{f.standing()}
	outside := f.outside()
	var checks []check
	same := map[string][]int{} // checks by what they part
	for _, r := range f.accesses() {
		r.splits = f.splits(r)
		if !slices.Contains(r.splits, true) || !slices.Contains(r.splits, false) {
			continue
		}
		c := check{
			cost:   f.Plan.Points[r.point()].Minutes + probeMinutes + f.lighterMinutes(r.route, r.at),
			lifted: r.lifted,
			inside: !outside[r.point()],
			along:  -1,
			probe:  *r,
		}
		if r.from > 0 && !r.now {
			c.cost += f.Plan.Points[r.route.Points[r.from]].Minutes
			c.inside = true
		}
		if r.route == f.Route && r.lifted == noStage && (r.now || r.from == 0) {
			c.along = r.at
		}
		to := f.feedOf(r)
		if c.feed = slices.Index(feeds, to); c.feed < 0 {
			c.feed = len(feeds)
			feeds = append(feeds, to)
		}
		key := partition(r.splits)
		if slices.ContainsFunc(same[key], func(k int) bool { return checks[k].noWorse(&c) }) {
			continue
		}
		same[key] = append(same[key], len(checks))
		checks = append(checks, c)
	}
	weights, places := f.group(checks)
	return newSearch(weights, places, checks, feeds, setup{lifted: noStage, open: f.opened(outside)})
}

// partition writes down what a reading parts, whichever side is called bad.
func partition(splits []bool) string {
	out := make([]byte, len(splits))
	for i, x := range splits {
		if x != splits[0] {
			out[i] = 1
		}
	}
	return string(out)
}

// feedOf says what has to be fed in for a reading.
func (f *finder) feedOf(r *access) feed {
	point := r.route.Points[r.from]
	if f.Plan.Points[point].Source {
		point = byItself
	}
	return feed{r.route.Mode, point}
}

// standing is what is fed in as the bench stands: what was set, or else what the
// last reading of the signal was taken with.
func (f *finder) standing() feed {
	from, _ := f.FedNow()
	if f.Injected == nil {
		for i := len(f.judged) - 1; i >= 0; i-- {
			if j := &f.judged[i]; !j.Reading.Struck && j.Route != nil && j.Reading.Quantity == sheet.AC {
				return f.feedOf(&access{route: j.Route, from: j.From})
			}
		}
	}
	return f.feedOf(&access{route: f.Route, from: from})
}

// outside tells which points are reached without opening the set: where routes
// begin and end.
func (f *finder) outside() []bool {
	out := make([]bool, len(f.Plan.Points))
	for i := range f.Plan.Routes {
		r := &f.Plan.Routes[i]
		out[r.Points[0]], out[r.Points[len(r.Points)-1]] = true, true
	}
	return out
}

// opened tells whether the set is open, as far as is known: said so, or
// something inside was read.
func (f *finder) opened(outside []bool) bool {
	return f.Open || slices.ContainsFunc(f.judged, func(j reading.Judged) bool {
		point, ok := f.Plan.PointIndex(j.Reading.Point)
		return !j.Reading.Struck && j.Reading.Quantity != sheet.Provocation && (!ok || !outside[point])
	})
}

// group puts suspects together that no check parts, and gives the checks their
// groups. Where there are too many, neighbours go together.
func (f *finder) group(checks []check) (weights, places []float64) {
	of := make([]int, len(f.suspects)) // group of each suspect
	groups := map[string]int{}
	key := make([]byte, len(checks))
	for i := range f.suspects {
		for k := range checks {
			key[k] = '0'
			if checks[k].probe.splits[i] {
				key[k] = '1'
			}
		}
		g, ok := groups[string(key)]
		if !ok {
			g = len(groups)
			groups[string(key)] = g
		}
		of[i] = g
	}
	together := (len(groups) + mostGroups - 1) / mostGroups
	n := 0
	for i := range of {
		of[i] /= together
		n = max(n, of[i]+1)
	}
	weights, places = make([]float64, n), make([]float64, n)
	members := make([]int, n)
	for i, x := range f.weights() {
		weights[of[i]] += x
		places[of[i]] += float64(f.suspects[i])
		members[of[i]]++
	}
	for g := range places {
		places[g] /= float64(members[g])
	}
	for k := range checks {
		whole := make([]int, n) // members of each group that the check's parts hold
		for i, g := range of {
			if checks[k].probe.splits[i] {
				whole[g]++
			}
		}
		for g := range whole {
			if 2*whole[g] >= members[g] { // a group that it cuts goes where most of it is
				checks[k].parts |= 1 << g
			}
		}
	}
	return weights, places
}
