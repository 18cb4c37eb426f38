package training

import (
	"slices"

	"steptrace/core/job"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// Replay is a case as it stood once a reading had been taken: what the program made of it then, on a route that passes where it was read.
type Replay struct {
	ID       string         `json:"id"` // of the reading
	Point    string         `json:"point"`
	Findings trace.Findings `json:"findings"`
	At       int            `json:"at"` // the point's position on the route; -1 where it is on none
}

// ReplayOf works out how a job stood once a reading had been taken; false where it has no such reading.
func ReplayOf(plan *sheet.Plan, j *job.Job, id string) (Replay, bool) {
	i := slices.IndexFunc(j.Readings, func(e job.Logged) bool { return e.ID == id })
	if i < 0 {
		return Replay{}, false
	}
	r := &j.Readings[i]
	was := before(j, i+1, r.Taken)
	c, ok := was.Case(plan)
	if !ok {
		return Replay{}, false
	}
	out := Replay{ID: id, Point: r.Point, At: -1}
	if point, is := plan.PointIndex(r.Point); is {
		if at, passes := c.Route.At(point); passes && c.Route.Mode == r.Mode {
			out.At = at
		} else if k := slices.IndexFunc(plan.Routes, func(x sheet.Route) bool {
			_, passes := x.At(point)
			return passes && x.Mode == r.Mode
		}); k >= 0 {
			c.Route = &plan.Routes[k]
			out.At, _ = c.Route.At(point)
		}
	}
	out.Findings = c.Find(was.Plain(plan))
	return out, true
}

// Step is what the last reading was worth beside the best one; false where nothing was read, or nothing can be said of it.
func (c *Case) Step(plan *sheet.Plan, j *job.Job) (Taken, bool) {
	if len(j.Readings) == 0 {
		return Taken{}, false
	}
	t := c.weigh(plan, j, len(j.Readings)-1)
	return t, t.Weighed
}
