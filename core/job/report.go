package job

import (
	"cmp"
	"strings"

	"steptrace/core/adjust"
	"steptrace/core/closing"
	"steptrace/core/repair"
	"steptrace/core/report"
	"steptrace/core/sheet"
	"steptrace/core/soak"
	"steptrace/core/trace"
)

// Facts are what the record says of a repair to its owner. Findings are nil where nothing could be traced.
func (j *Job) Facts(plan *sheet.Plan, findings *trace.Findings) report.Facts {
	f := report.Facts{
		Complaint: j.Complaint, Outcome: j.Outcome, Failures: j.failures(plan), Worked: j.Worked(),
	}
	for _, c := range j.chosen() {
		f.Parts = append(f.Parts, report.Priced{Part: c.Part, Count: max(1, c.Count), Price: c.Price})
	}
	if leaves, why := j.Leaves(); leaves {
		f.NotDone = why
	}
	if j.Finished != nil {
		f.Finished = *j.Finished
	}
	for i := range j.Repairs {
		switch e := &j.Repairs[i]; {
		case e.Struck:
		case e.Repair != nil:
			f.Repairs = append(f.Repairs, *e.Repair)
		case e.Without != nil:
			f.Left = append(f.Left, strings.TrimSuffix(e.Without.Text, ".")+": "+e.Without.Why)
		}
	}
	if findings != nil {
		for _, g := range findings.Verify {
			if g.Proof == trace.Shown {
				f.Shown++
			}
		}
	}
	for _, a := range adjust.Look(plan, j.Adjusting, adjust.Now{Repaired: j.Repaired()}) {
		if a.State == adjust.Done && a.After != nil {
			f.Adjusted = append(f.Adjusted, a.Name+" to "+a.After.Value)
		}
	}
	f.Soak = j.soaked()
	j.measured(plan, &f)
	return f
}

// failures are the parts that had failed, by the repairs and by what was condemned; of a repair without parts its place.
func (j *Job) failures(plan *sheet.Plan) []report.Failure {
	var out []report.Failure
	for i := range j.Repairs {
		r := j.Repairs[i].Repair
		if r == nil || j.Repairs[i].Struck || r.Did == repair.Modified || r.Did == repair.Adjusted {
			continue
		}
		if len(r.Parts) == 0 {
			out = append(out, report.Failure{Stage: r.Stage})
		}
		for _, p := range r.Parts {
			if p.Found == repair.Bad {
				out = append(
					out,
					report.Failure{
						Stage: r.Stage,
						Part:  p.Name,
						Kind:  partKind(plan, r.Stage, p.Name),
						What:  j.whatOf(r.Stage, p.Name),
					},
				)
			}
		}
	}
	return out
}

// soaked is how the last long run that is over went; nil where there was none.
func (j *Job) soaked() *report.Soak {
	e, running := soak.Running(j.Soaks)
	if e == nil || running {
		return nil
	}
	out := report.Soak{Fine: true}
	for _, s := range e.Begin.Steps {
		if s.Do == soak.Drive && s.Note != "" {
			out.Note = s.Note
		}
	}
	for i := range j.Soaks {
		switch x := &j.Soaks[i]; {
		case x.Struck:
		case x.Over != nil && x.Over.Soak == e.ID:
			out.Seconds, out.Fine = x.Over.T, out.Fine && x.Over.Done
			if !x.Over.Done {
				out.Says = x.Over.Why
			}
		case x.Event != nil && x.Event.Soak == e.ID && x.Event.What == soak.Passed:
			out.Fine, out.Says = false, x.Event.Text
		}
	}
	const telling = 600 // s: what was broken off before that shows nothing
	if out.Seconds < telling {
		return nil
	}
	return &out
}

// measured takes the closing measurements in: those that are numbers as figures, how many are right, what was not made.
func (j *Job) measured(plan *sheet.Plan, f *report.Facts) {
	value := func(r *closing.Result) string {
		if r == nil {
			return ""
		}
		return r.Value
	}
	for _, s := range j.Closes(plan) {
		if s.State == closing.Fine {
			f.Checks++
		}
		if s.State == closing.Without {
			f.Left = append(f.Left, "not tested: "+s.Name+", "+s.Without)
		}
		if !s.Works && (s.After != nil || s.Before != nil) {
			f.Figures = append(f.Figures, report.Figure{
				Name: s.Name, Means: report.MeansOf(s.Kind), Before: value(s.Before), After: value(s.After), Allowed: s.Bounds,
			})
		}
	}
}

// Shows says of a captured waveform what it is, to its owner, and whether it is from before the repair.
func (j *Job) Shows(c *Capture) string {
	at := "the signal at " + cmp.Or(strings.Join(c.Points, ", "), c.Name)
	rounds := j.Rounds()
	switch {
	case len(rounds) == 0:
		return at
	case Earlier(rounds, c.Taken):
		return at + ", before the repair"
	}
	return at + ", after the repair"
}
