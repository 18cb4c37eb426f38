package training

import (
	"slices"
	"time"

	"steptrace/core/job"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
)

// The clock of a case is no real one: each thing that is done takes the minutes that it takes in a workshop, in the order in which it
// was done. It follows from what was taken down, and from how long was waited.

// What things take, in minutes; those of readings stand in core/planning.
const (
	tryMinutes    = 0.5  // one entry against one exit
	actMinutes    = 1.0  // tapping, cooling, warming one place
	switchMinutes = 0.2  // on, off; a caution heeded
	dischargeMin  = 2.0  // emptying a capacitor, and measuring what is left
	stepMinutes   = 0.7  // a step apart or back
	noteMinutes   = 0.3  // what is seen, heard or asked
	partMinutes   = 2.0  // a part checked by itself
	replaceMin    = 12.0 // out, cleaned, in, looked over
	mendMinutes   = 6.0  // re-soldered, cleaned, put right
	adviceMinutes = 3.0  // what looking it up would have taken
	warmAfter     = 15.0 // on for so long, a set is warm inside
)

// Moment is something that took time.
type Moment struct {
	ID      string    `json:"id"`
	At      time.Time `json:"at"`
	Kind    string    `json:"kind"` // of entry
	Minutes float64   `json:"minutes"`
	By      float64   `json:"by"` // the clock after it
}

// Waited is time that was let pass; Asked that advice was asked for, after so many readings; Stopped what was about to be done unsafely.
type (
	Waited struct {
		At      time.Time `json:"at"`
		Minutes float64   `json:"minutes"`
	}
	AskedFor struct {
		At       time.Time `json:"at"`
		Readings int       `json:"readings"`
	}
	Stopped struct {
		At    time.Time `json:"at"`
		What  string    `json:"what"`
		Would string    `json:"would"` // have happened
	}
)

// Progress is what happened in a case besides what the job's record has.
type Progress struct {
	Waits   []Waited   `json:"waits,omitempty"`
	Asked   []AskedFor `json:"asked,omitempty"`
	Stopped []Stopped  `json:"stopped,omitempty"`
	Misread []Misread  `json:"misread,omitempty"`
	Came    *Came      `json:"came,omitempty"` // what it came to, once it has ended
	Ended   *time.Time `json:"ended,omitempty"`
}

// Clock is what was done in a case with what it took, in order.
type Clock struct {
	Moments []Moment
	Minutes float64 // in all
	Warm    bool    // it has been on for long enough
}

// Clock works it out.
func (p *Progress) Clock(plan *sheet.Plan, j *job.Job) Clock {
	b := &bookkeeping{plan: plan, rounds: j.Rounds()}
	for _, x := range []struct {
		n  int
		of func(i int) Moment
	}{
		{len(j.Safety), func(i int) Moment { return b.safety(&j.Safety[i]) }},
		{len(j.Steps), func(i int) Moment { return Moment{At: j.Steps[i].Taken, Kind: "steps", Minutes: stepMinutes} }},
		{len(j.Repairs), func(i int) Moment { return b.repair(&j.Repairs[i]) }},
		{len(j.Inside), func(i int) Moment { return Moment{At: j.Inside[i].At, Kind: "inside", Minutes: partMinutes} }},
		{len(j.Symptoms), func(i int) Moment { return Moment{At: j.Symptoms[i].At, Kind: "symptoms", Minutes: noteMinutes} }},
		{len(p.Waits), func(i int) Moment { return Moment{At: p.Waits[i].At, Kind: "waits", Minutes: p.Waits[i].Minutes} }},
		{len(p.Asked), func(i int) Moment { return Moment{At: p.Asked[i].At, Kind: "advice", Minutes: adviceMinutes} }},
		{len(j.Readings), func(i int) Moment { return Moment{ID: j.Readings[i].ID, At: j.Readings[i].Taken, Kind: "readings"} }},
	} {
		for i := range x.n {
			b.moments = append(b.moments, x.of(i))
		}
	}
	slices.SortStableFunc(b.moments, func(a, b Moment) int { return a.At.Compare(b.At) })
	return b.count(j)
}

// bookkeeping goes through what was done, with how the bench stood meanwhile.
type bookkeeping struct {
	plan    *sheet.Plan
	rounds  []repair.Round
	moments []Moment

	open, on bool
	since    float64 // the clock when it was switched on
	mode, at string  // how it is switched, and where a signal is fed in
}

func (b *bookkeeping) safety(e *safety.Event) Moment {
	m := Moment{At: e.At, Kind: "safety", ID: string(e.Kind), Minutes: switchMinutes}
	if e.Kind == safety.Residual {
		m.Minutes = dischargeMin
	}
	return m
}

func (b *bookkeeping) repair(e *repair.Entry) Moment {
	m := Moment{At: e.At, Kind: "repairs", Minutes: mendMinutes}
	switch {
	case e.Repair != nil && e.Repair.Did == repair.Replaced:
		m.Minutes = replaceMin
	case e.Temporary != nil || e.Removed != nil:
		m.Minutes = planning.LiftMinutes / 2
	case e.Repair == nil:
		m.Minutes = 0
	}
	return m
}

// count adds the minutes up.
func (b *bookkeeping) count(j *job.Job) Clock {
	readings := map[string]*reading.Reading{}
	for i := range j.Readings {
		readings[j.Readings[i].ID] = &j.Readings[i].Reading
	}
	var out Clock
	for _, m := range b.moments {
		switch m.Kind {
		case "readings":
			m.Minutes = b.reading(readings[m.ID])
		case "steps":
			b.open = true
		case "safety":
			switch safety.What(m.ID) {
			case safety.SwitchedOn:
				if !b.on {
					b.since = out.Minutes
				}
				b.on = true
			case safety.Off:
				b.on = false
			}
		}
		out.Minutes += m.Minutes
		m.By = out.Minutes
		out.Moments = append(out.Moments, m)
	}
	out.Warm = b.on && out.Minutes-b.since >= warmAfter
	return out
}

// reading is what one takes, with how the bench has to be set for it first.
func (b *bookkeeping) reading(r *reading.Reading) float64 {
	if r.Act != "" {
		return b.opened() + actMinutes
	}
	point, isPoint := b.plan.PointIndex(r.Point)
	if !isPoint {
		return b.opened() + planning.ProbeMinutes
	}
	out, at := 0.0, ""
	if r.Mode != b.mode {
		out += planning.ModeMinutes
	}
	if r.Injected != nil {
		at = r.Injected.At
	}
	if at != "" && at != b.at {
		out += planning.FeedMinutes
	}
	b.mode = r.Mode
	if at != "" {
		b.at = at
	}
	if len(r.Without) > 0 {
		out += planning.LiftMinutes
	}
	switch outside := b.outside(point); {
	case r.Injected != nil && r.Injected.Touch:
		return out + b.opened() + planning.TouchMinutes
	case outside && r.Word != "" && r.Capture == "":
		return out + tryMinutes
	case outside:
		return out + planning.ProbeMinutes + b.plan.Points[point].Minutes
	}
	return out + b.opened() + planning.ProbeMinutes + b.plan.Points[point].Minutes
}

// opened is what opening the set takes, once.
func (b *bookkeeping) opened() float64 {
	if b.open {
		return 0
	}
	b.open = true
	return planning.OpenMinutes
}

// outside tells whether a point is reached without opening the set.
func (b *bookkeeping) outside(point int) bool {
	return slices.ContainsFunc(b.plan.Routes, func(r sheet.Route) bool {
		return r.Points[0] == point || r.Points[len(r.Points)-1] == point
	})
}
