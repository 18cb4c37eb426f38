package job

import (
	"slices"

	"steptrace/core/inside"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// Progress is how far a job has come, by its views in the order of the work: those in which
// the work is done, and the one that comes next. Findings may be nil; then what only they
// tell is left open.
func (j *Job) Progress(plan *sheet.Plan, findings *trace.Findings) (done []string, next string) {
	condemned := slices.ContainsFunc(j.Inside, func(e inside.Entry) bool { return e.Condemned != nil && !e.Struck })
	named := findings != nil && findings.State == trace.Named
	order := []struct {
		view  string
		asked bool // where the work leads, whether or not it was done
		done  bool
	}{
		{"intake", true, len(j.Intake) > 0 || len(j.Readings) > 0},
		{"safe", true, j.madeSafe(plan)},
		{"open", true, len(j.Steps) > 0},
		{"supplies", len(plan.Rails) > 0, len(plan.Rails) > 0 && j.suppliesRead(plan)},
		{"bench", true, condemned || len(j.Repairs) > 0 || named},
		{"inside", named, condemned},
	}
	last := -1
	for i, o := range order {
		if o.done {
			done = append(done, o.view)
			last = i
		}
	}
	switch {
	case j.Finished != nil:
		return done, ""
	case len(j.Repairs) > 0: // what was repaired is shown right there
		next = "bench"
	case !named && !condemned && j.probed(plan): // who has begun to trace goes on
		next = "bench"
	default:
		next = "bench"
		for _, o := range order[last+1:] {
			if o.asked && !o.done {
				next = o.view
				break
			}
		}
	}
	return slices.DeleteFunc(done, func(view string) bool { return view == next }), next
}

// probed tells whether a signal was read at a point: not heard at an exit, which needs no probe.
func (j *Job) probed(plan *sheet.Plan) bool {
	return slices.ContainsFunc(j.Readings, func(r Logged) bool {
		_, point := plan.PointIndex(r.Point)
		return point && !r.Struck && r.Word == quantity.NoWord && r.Quantity == sheet.AC
	})
}

// madeSafe tells whether it was said how the set stands, and every caution is ticked.
func (j *Job) madeSafe(plan *sheet.Plan) bool {
	power := j.Power(plan)
	return power.State != safety.Unsaid && !slices.ContainsFunc(safety.Cautions(plan), func(c safety.Caution) bool {
		return !slices.ContainsFunc(power.Ticked, func(t safety.Tick) bool { return t.Key == c.Key })
	})
}

// suppliesRead tells whether every rail was read in volts since the last repair.
func (j *Job) suppliesRead(plan *sheet.Plan) bool {
	now, readings := len(j.Rounds()), j.Plain(plan)
	for i := range plan.Rails {
		name := plan.Rails[i].Name
		if !slices.ContainsFunc(readings, func(r reading.Reading) bool {
			return !r.Struck && r.Point == name && r.Quantity == plan.Rails[i].Reads() && r.Round == now
		}) {
			return false
		}
	}
	return true
}
