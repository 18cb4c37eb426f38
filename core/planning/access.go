package planning

import (
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// access is a reading that can be taken next: at a point of a route, with the
// signal fed in at a point before, as things are or with feedback lifted.
type Access struct {
	Route    *sheet.Route
	From, At int            // positions on the route
	Now      bool           // with what is fed in now
	Lifted   int            // feedback stage to lift for it; sheet.None
	Quantity sheet.Quantity // what is read; empty: the level
	Touch    bool           // fed in by a touch
	splits   []bool
}

// byItself stands for the point of a signal that nobody feeds in.
const byItself = -1

// point is where it is read, as an index into the plan's points.
func (r *Access) Point() int { return r.Route.Points[r.At] }

// ownAccess is reading a point of the route being traced: with what is fed in now
// where that comes past, otherwise with the sheet's own signal at the entry.
func (t *Situation) OwnAccess(at int) *Access {
	q, _ := t.ReadAt(t.Route, at, t.Asked, t.Judged)
	if from, _ := t.FedNow(); from < at {
		return &Access{Route: t.Route, From: from, At: at, Now: true, Lifted: sheet.None, Quantity: q}
	}
	return &Access{Route: t.Route, At: at, Lifted: sheet.None, Quantity: q}
}

// read is what is read for it.
func (r *Access) read() sheet.Quantity {
	if r.Quantity == "" {
		return sheet.AC
	}
	return r.Quantity
}

// splits tells which blocks a reading parts from the rest: what it depends on.
func (t *Situation) splits(r *Access) []bool {
	without := []string{}
	if r.Lifted != sheet.None {
		without = append(without, t.Plan.Stages[r.Lifted].Name)
	}
	return t.among(t.Paths(r.Route.Mode, r.Route.Points[r.From], r.Point(), without))
}

// among tells which blocks are on any of some paths.
func (t *Situation) among(w *sheet.Paths) []bool {
	out := make([]bool, len(t.blocks()))
	for i, block := range t.blocks() {
		out[i] = w.Any[block]
	}
	return out
}

// lineSplits tells which blocks the reading of a line parts from the rest: itself and all that it is made from. A small
// ripple says nothing of what it is made from: the filter between them takes it away.
func (t *Situation) lineSplits(line int) []bool {
	if slices.Contains(t.Rippling, line) {
		out := make([]bool, len(t.blocks()))
		for i, block := range t.blocks() {
			out[i] = block == len(t.Plan.Stages)+line
		}
		return out
	}
	w := t.Plan.LinePaths(line)
	return t.among(&w)
}

// accesses lists all that can be read next, whether or not it tells anything.
func (t *Situation) accesses() []*Access {
	var out []*Access
	last := len(t.Route.Points) - 1
	from, _ := t.FedNow()
	for at := 1; at <= last; at++ {
		q, ok := t.ReadAt(t.Route, at, t.Asked, t.Judged)
		if !ok || t.Refused(t.Route.Points[at], t.Route.Mode) != "" {
			continue
		}
		if from > 0 {
			out = append(out, &Access{Route: t.Route, At: at, Lifted: sheet.None, Quantity: q})
		}
		if from < at {
			out = append(out, t.OwnAccess(at))
		}
	}
	// Inside a loop only with the feedback lifted; a word does then.
	for i := range t.Plan.Loops {
		l := &t.Plan.Loops[i]
		for at := 1; at < last; at++ {
			if slices.Contains(l.Inside, t.Route.Stages[at-1]) && slices.Contains(l.Inside, t.Route.Stages[at]) &&
				t.Refused(t.Route.Points[at], t.Route.Mode) == "" {
				out = append(out, &Access{Route: t.Route, At: at, Lifted: l.Feedback})
			}
		}
	}
	// Where nothing is known to compare a reading with, a signal fed in there and
	// heard at the exit tells as much.
	for at := 1; at < last; at++ {
		if !t.Comparable(t.Route, at, t.Judged) && t.Refused(t.Route.Points[at], t.Route.Mode) == "" {
			out = append(out, &Access{Route: t.Route, From: at, At: last, Lifted: sheet.None})
		}
	}
	// Other modes and entries, and what other exits give.
	for i := range t.Plan.Routes {
		r := &t.Plan.Routes[i]
		if r == t.Route {
			continue
		}
		for at := 1; at < len(r.Points); at++ {
			exit := at == len(r.Points)-1
			q, ok := t.ReadAt(r, at, t.Asked, t.Judged)
			if (ok || exit) && t.Refused(r.Points[at], r.Mode) == "" {
				out = append(out, &Access{Route: r, At: at, Lifted: sheet.None, Quantity: q})
			}
		}
	}
	return out
}

// searched is the search among the suspects, set up once.
func (t *Situation) searched() *search {
	if t.searching == nil {
		t.searching = t.search()
	}
	return t.searching
}

// search sets the search among the suspects of the route up: the readings that
// part them, the suspects that none parts as groups.
func (t *Situation) search() *search {
	feeds := []feed{t.standing()}
	outside := t.outside()
	var checks []check
	same := map[string][]int{} // checks by what they part
	for _, r := range t.accesses() {
		r.splits = t.splits(r)
		if !slices.Contains(r.splits, true) || !slices.Contains(r.splits, false) {
			continue
		}
		c := check{
			cost:   t.Plan.Points[r.Point()].Minutes + ProbeMinutes + t.lighterMinutes(r.Route, r.At),
			lifted: r.Lifted,
			line:   sheet.None,
			inside: !outside[r.Point()],
			along:  -1,
			probe:  *r,
		}
		if r.From > 0 && !r.Now {
			c.cost += t.Plan.Points[r.Route.Points[r.From]].Minutes
			c.inside = true
		}
		if r.Route == t.Route && r.Lifted == sheet.None && (r.Now || r.From == 0) {
			c.along = r.At
		}
		to := t.feedOf(r)
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
	for _, line := range t.linesWanted() {
		splits := t.lineSplits(line)
		if slices.Contains(splits, false) {
			checks = append(checks, check{cost: t.lineMinutes(line), lifted: sheet.None, line: line, inside: true, along: -1,
				probe: Access{splits: splits}})
		}
	}
	weights, places := t.group(checks)
	return newSearch(weights, places, checks, feeds, setup{lifted: sheet.None, open: t.opened(outside)})
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
func (t *Situation) feedOf(r *Access) feed {
	point := r.Route.Points[r.From]
	if t.Plan.Points[point].Source {
		point = byItself
	}
	return feed{r.Route.Mode, point}
}

// ChangeMinutes is what it takes to set the bench for a reading: the generator moved, the set
// switched to another mode.
func (t *Situation) ChangeMinutes(r *Access) float64 {
	out := 0.0
	now, to := t.standing(), t.feedOf(r)
	if now.mode != to.mode {
		out += ModeMinutes
	}
	if now.point != to.point && to.point != byItself {
		out += FeedMinutes
	}
	return out
}

// standing is what is fed in as the bench stands: what was set, or else what the
// last reading of the signal was taken with.
func (t *Situation) standing() feed {
	from, _ := t.FedNow()
	if t.Injected == nil {
		for i := len(t.Judged) - 1; i >= 0; i-- {
			if j := &t.Judged[i]; !j.Reading.Struck && j.Route != nil && j.Reading.Quantity == sheet.AC {
				return t.feedOf(&Access{Route: j.Route, From: j.From})
			}
		}
	}
	return t.feedOf(&Access{Route: t.Route, From: from})
}

// outside tells which points are reached without opening the set: where routes
// begin and end.
func (t *Situation) outside() []bool {
	out := make([]bool, len(t.Plan.Points))
	for i := range t.Plan.Routes {
		r := &t.Plan.Routes[i]
		out[r.Points[0]], out[r.Points[len(r.Points)-1]] = true, true
	}
	return out
}

// Opened tells whether the set is open, as far as is known: said so, or something inside was read.
func (t *Situation) Opened() bool { return t.opened(t.outside()) }

// opened tells whether the set is open, as far as is known: said so, or
// something inside was read.
func (t *Situation) opened(outside []bool) bool {
	return t.Open || slices.ContainsFunc(t.Judged, func(j reading.Judged) bool {
		point, ok := t.Plan.PointIndex(j.Reading.Point)
		return !j.Reading.Struck && j.Reading.Quantity != sheet.Provocation && (!ok || !outside[point])
	})
}

// group puts blocks together that no check parts, and gives the checks their
// groups. Where there are too many, neighbours go together.
func (t *Situation) group(checks []check) (weights, places []float64) {
	of := make([]int, len(t.blocks())) // group of each block
	groups := map[string]int{}
	key := make([]byte, len(checks))
	for i := range of {
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
	members, along := make([]int, n), make([]int, n)
	for i, x := range t.weights() {
		weights[of[i]] += x
		members[of[i]]++
		if i < len(t.Suspects) {
			places[of[i]] += float64(t.Suspects[i])
			along[of[i]]++
		}
	}
	for g := range places {
		if places[g] /= float64(along[g]); along[g] == 0 {
			places[g] = nowhere
		}
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
