package planning

import (
	"slices"

	"steptrace/core/sheet"
)

// Weighed is a reading that was taken beside the best that could have been, both with the minutes to expect from there to what is at
// fault when the best is done after it. A reading that parts nothing of what was left has no bits.
type Weighed struct {
	Taken Option `json:"taken"`
	Best  Option `json:"best"`
}

// Lost is what a reading cost beyond the best, in minutes to expect.
func (w *Weighed) Lost() float64 { return max(w.Taken.Total-w.Best.Total, 0) }

// Weigh lays the reading of an access, or of a line (sheet.None: of none), beside the best one. Ok is false where nothing parts what is
// left, or the reading is not one that the search knows.
func (t *Situation) Weigh(r *Access, line int) (w Weighed, ok bool) {
	s := t.searched()
	best := s.choose(Halve, s.all(), s.start)
	if best < 0 {
		return w, false
	}
	w.Best = t.option(s, best)
	splits, c := []bool(nil), check{lifted: sheet.None, line: line, inside: true}
	if line == sheet.None {
		splits = t.splits(r)
		c.cost = t.Plan.Points[r.Point()].Minutes + ProbeMinutes
		c.inside, c.lifted = !t.outside()[r.Point()], r.Lifted
		to := t.feedOf(r)
		if c.feed = slices.Index(s.feeds, to); c.feed < 0 {
			c.feed = len(s.feeds)
			s.feeds = append(s.feeds, to)
		}
		w.Taken.Point, w.Taken.Does = t.Plan.Points[r.Point()].Name, t.does(r)
	} else {
		splits, c.cost = t.lineSplits(line), t.lineMinutes(line)
		w.Taken.Point, w.Taken.Does = t.Plan.LineName(line), t.readLine(line)
	}
	m, _ := s.set(s.start, &c)
	w.Taken.Minutes = m
	if !slices.Contains(splits, true) || !slices.Contains(splits, false) {
		w.Taken.Total = m + w.Best.Total
		return w, true
	}
	key := partition(splits)
	for i := range s.checks {
		if partition(s.checks[i].probe.splits) != key || !s.checks[i].parting(s.all()) {
			continue
		}
		o := t.option(s, i)
		o.Total += m - o.Minutes
		if w.Taken.Bits == 0 || o.Total < w.Taken.Total {
			w.Taken.Bits, w.Taken.Total, w.Taken.IfGood, w.Taken.IfBad = o.Bits, o.Total, o.IfGood, o.IfBad
		}
	}
	return w, w.Taken.Bits > 0
}
