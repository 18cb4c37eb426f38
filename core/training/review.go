package training

import (
	"fmt"
	"slices"
	"time"

	"steptrace/core/job"
	"steptrace/core/mend"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/trace"
)

// Left is what is still wrong with the set after what was done to it.
func (c *Case) Left(repairs []repair.Entry) []Fault { return cured(c.Faults, repairs) }

// cured are those of some faults that repairs left.
func cured(faults []Fault, repairs []repair.Entry) []Fault {
	return slices.DeleteFunc(slices.Clone(faults), func(f Fault) bool {
		return slices.ContainsFunc(repairs, func(e repair.Entry) bool { return !e.Struck && e.Repair != nil && cures(e.Repair, f) })
	})
}

// cures tells whether a repair puts a fault right: done to its block, and to its part where it is one's.
func cures(r *repair.Repair, f Fault) bool {
	if r.Stage != f.Block || r.Did == repair.Adjusted || r.Did == repair.Modified ||
		(f.Effect == standin.Miswired) != (r.Did == repair.PutRight) {
		return false
	}
	if f.Part == "" {
		return true
	}
	return r.Did == repair.Replaced && slices.ContainsFunc(r.Parts, func(p repair.Part) bool { return p.Name == f.Part })
}

// Says tells what is wrong, in words.
func Says(f Fault) string {
	text := fmt.Sprintf("%s is %s", f.Block, f.Effect)
	switch {
	case f.What == standin.TenTimes || f.What == standin.ATenth:
		text = fmt.Sprintf("somebody had fitted another for %s in %s, of %s", f.Part, f.Block, f.What)
	case f.Part != "":
		text = fmt.Sprintf("%s in %s is %s", f.Part, f.Block, f.What)
	case f.Effect == standin.Miswired:
		text = "the lead to " + f.Block + " is on the point one stage before its own"
	case f.Effect == standin.Crackling:
		text = f.Block + " crackles"
	case f.Effect == standin.Hum:
		text = f.Block + " brings in hum"
	case f.Effect == standin.CuttingOut && f.When == standin.Moved:
		text = "a joint of " + f.Block + " opens when it is moved"
	case f.Effect == standin.CuttingOut:
		text = f.Block + " cuts out"
	}
	if f.When == standin.Warm {
		text += " once it is warm"
	}
	return text
}

// Taken is a reading as it was taken beside the best that could have been.
type Taken struct {
	ID      string  `json:"id"`
	Point   string  `json:"point"`
	Reads   string  `json:"reads"`
	Verdict string  `json:"verdict"`
	Minutes float64 `json:"minutes"`
	By      float64 `json:"by"` // the clock after it
	Weighed bool    `json:"weighed"`
	Lost    float64 `json:"lost"`    // minutes to expect beyond the best
	Costly  bool    `json:"costly"`  // that is worth speaking of
	Nothing bool    `json:"nothing"` // it could tell nothing new
	Was     string  `json:"was"`     // what was there, where something else was read off
	Best    string  `json:"best"`    // what would have been best
	Why     string  `json:"why"`     // and why
}

// Done is a repair, as it should have been known by then.
type Done struct {
	Says    string   `json:"says"`
	Right   bool     `json:"right"`
	Worn    bool     `json:"worn"`    // it was off, and not why the set came
	Missing []string `json:"missing"` // grounds that were not shown then
}

// Review is what working on a case came to.
type Review struct {
	Wrong       []string  `json:"wrong"` // what was wrong, fault by fault
	Found       []bool    `json:"found"`
	Manual      string    `json:"manual"` // its error, in words
	Worn        []string  `json:"worn"`   // what was off and not why the set came
	Minutes     float64   `json:"minutes"`
	Searching   float64   `json:"searching"` // of them, on readings
	Probes      int       `json:"probes"`
	Best        []Path    `json:"best"`
	BestProbes  int       `json:"bestProbes"`
	BestMinutes float64   `json:"bestMinutes"`
	Taken       []Taken   `json:"taken"`
	Costliest   int       `json:"costliest"` // into Taken; -1: none lost anything
	Done        []Done    `json:"done"`
	Stopped     []Stopped `json:"stopped"`
	Asked       int       `json:"asked"`
	Says        []string  `json:"says"` // in plain words
}

// worthSaying is from how many lost minutes on a reading is spoken of.
const worthSaying = 0.75

// Review works out what working on a case came to, by the record of its job and the sheet that came with it.
func (c *Case) Review(plan *sheet.Plan, j *job.Job, p *Progress) *Review {
	clock := p.Clock(plan, j)
	out := &Review{
		Manual: c.Error, Worn: []string{}, Minutes: clock.Minutes, Best: c.Best, Taken: []Taken{}, Costliest: -1, Done: []Done{},
		Stopped: append([]Stopped{}, p.Stopped...), Asked: len(p.Asked),
	}
	left := c.Left(j.Repairs)
	for _, f := range c.Faults {
		out.Wrong = append(out.Wrong, Says(f))
		out.Found = append(out.Found, !slices.Contains(left, f))
	}
	for _, f := range c.Worn {
		out.Worn = append(out.Worn, Says(f))
	}
	for _, path := range c.Best {
		for _, s := range path.Steps {
			if s.Reads != "" {
				out.BestProbes++
			}
		}
		out.BestMinutes += path.Minutes
	}
	by := map[string]Moment{}
	for _, m := range clock.Moments {
		if m.Kind == "readings" {
			by[m.ID] = m
		}
	}
	for i := range j.Readings {
		t := c.weigh(plan, j, i)
		t.Minutes, t.By = by[t.ID].Minutes, by[t.ID].By
		if k := slices.IndexFunc(p.Misread, func(m Misread) bool { return m.ID == t.ID }); k >= 0 {
			t.Was = p.Misread[k].Was
		}
		out.Searching += t.Minutes
		if !tried(plan, &j.Readings[i].Reading) {
			out.Probes++
		}
		if t.Costly && (out.Costliest < 0 || t.Lost > out.Taken[out.Costliest].Lost) {
			out.Costliest = len(out.Taken)
		}
		out.Taken = append(out.Taken, t)
	}
	for i := range j.Repairs {
		if r := j.Repairs[i]; !r.Struck && r.Repair != nil && r.Repair.Stage != "" {
			out.Done = append(out.Done, c.condemned(plan, j, r.At, r.Repair))
		}
	}
	out.Says = out.words()
	return out
}

// tried tells whether a reading is the mark of one that was tried from outside.
func tried(plan *sheet.Plan, r *reading.Reading) bool {
	_, ok := trace.Case{Bench: reading.Bench{Plan: plan}}.InMatrix(r)
	return ok && r.Capture == ""
}

// before is a job as it stood before a moment, up to a reading.
func before(j *job.Job, readings int, at time.Time) *job.Job {
	out := *j
	out.Readings = j.Readings[:readings]
	out.Repairs = slices.DeleteFunc(slices.Clone(j.Repairs), func(e repair.Entry) bool { return e.At.After(at) })
	out.Inside, out.Finished = nil, nil
	return &out
}

// weigh lays one reading beside the best.
func (c *Case) weigh(plan *sheet.Plan, j *job.Job, i int) Taken {
	r := &j.Readings[i]
	was := before(j, i, r.Taken)
	out := Taken{ID: r.ID, Point: r.Point, Reads: r.Understood()}
	t, ok := was.Case(plan)
	if !ok {
		return out
	}
	plain := before(j, i+1, r.Taken).Plain(plan)
	judged := t.Judge(plain[i])
	out.Verdict = string(judged.Verdict)
	point, is := plan.PointIndex(r.Point)
	if b := (bookkeeping{plan: plan}); is && b.outside(point) { // whoever tries what the owner says, or whether it is mended, does well
		return out
	}
	if r.Power == reading.PowerOff && !is { // what shorts a rail is looked for by other rules than what stops a signal
		return out
	}
	w, ok := t.Weigh(plain[:i], plain[i])
	if !ok {
		return out
	}
	out.Weighed, out.Lost, out.Nothing = true, w.Lost(), w.Taken.Bits == 0
	if out.Costly = out.Lost > worthSaying; out.Costly {
		out.Best = w.Best.Does
		out.Why = fmt.Sprintf("if it reads good, %s is left; if bad, %s. From there %s to expect to the fault, after this one %s",
			w.Best.IfGood, w.Best.IfBad, minutes(w.Best.Total), minutes(w.Taken.Total))
		if out.Nothing {
			out.Why = "whatever this one showed, nothing would have been cleared. " + mend.Capital(out.Why)
		}
	}
	return out
}

func minutes(x float64) string {
	if n := int(x + 0.5); n != 1 {
		return fmt.Sprintf("%d minutes", n)
	}
	return "1 minute"
}

// blew tells whether a repair was of a fuse that what was wrong had opened.
func (c *Case) blew(r *repair.Repair) bool {
	b, err := c.benchOf(c.Faults)
	return err == nil && slices.ContainsFunc(Fuses(b.Plan), func(f Fuse) bool { return b.Set.Blown(f.Name) && renews(r, f.Name) })
}

// condemned tells whether a repair was right, and which grounds were not shown when it was done.
func (c *Case) condemned(plan *sheet.Plan, j *job.Job, at time.Time, r *repair.Repair) Done {
	out := Done{Says: string(r.Did) + " in " + r.Stage, Missing: []string{}}
	for _, p := range r.Parts {
		out.Says = p.Name + " " + string(r.Did) + " in " + r.Stage
	}
	out.Right = slices.ContainsFunc(c.Faults, func(f Fault) bool { return cures(r, f) })
	if c.blew(r) { // its grounds are those of what blew it
		out.Right = true
		return out
	}
	out.Worn = !out.Right && slices.ContainsFunc(c.Worn, func(f Fault) bool { return cures(r, f) })
	n := 0
	for n < len(j.Readings) && j.Readings[n].Taken.Before(at) {
		n++
	}
	was := before(j, n, at.Add(-time.Nanosecond))
	t, ok := was.Case(plan)
	if !ok {
		return out
	}
	f := t.Find(was.Plain(plan))
	switch {
	case f.State == trace.Named && f.Stage == r.Stage:
		for _, g := range f.Grounds {
			if g.Proof == trace.Lacking || g.Proof == trace.Against {
				out.Missing = append(out.Missing, g.Text)
			}
		}
	case f.State == trace.Supply && f.Line == r.Stage:
	default:
		out.Missing = append(out.Missing, "the readings had not come down to it: "+f.Headline)
	}
	return out
}

// words tell it all in plain words.
func (r *Review) words() []string {
	var out []string
	say := func(format string, args ...any) { out = append(out, mend.Sentence(fmt.Sprintf(format, args...))) }
	found, good := 0, 0
	for _, ok := range r.Found {
		if ok {
			found++
		}
	}
	for _, d := range r.Done {
		if !d.Right && !d.Worn {
			good++
		}
	}
	switch {
	case found == len(r.Found) && good == 0:
		say("found and put right, with nothing renewed in vain")
	case found == len(r.Found):
		say("found and put right; %d of %d repairs were of something good", good, len(r.Done))
	case found > 0:
		say("%d of %d faults found", found, len(r.Found))
	default:
		say("not found")
	}
	say("%s in all, %s of them on %d readings; the program's own way takes %d readings and %s from the same complaint",
		minutes(r.Minutes), minutes(r.Searching), r.Probes, r.BestProbes, minutes(r.BestMinutes))
	for _, d := range r.Done {
		if d.Worn {
			say("%s: it was off, and well renewed, but not why the set came", d.Says)
		}
	}
	nothing := 0
	for _, t := range r.Taken {
		if t.Was != "" {
			say("%s was read off at %s, and %s was there", t.Reads, t.Point, t.Was)
		}
		if t.Nothing {
			nothing++
		}
	}
	if nothing > 0 {
		say("%d readings could tell nothing new", nothing)
	}
	if r.Costliest >= 0 {
		t := r.Taken[r.Costliest]
		say("the costliest decision was %s: %s more to expect than from the best. %s", t.Point, minutes(t.Lost), t.Best)
	}
	if n := len(r.Stopped); n > 0 {
		say("stopped %d times before something unsafe", n)
	}
	return out
}
