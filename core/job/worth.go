package job

import (
	"slices"
	"strings"
	"time"

	"steptrace/core/adjust"
	"steptrace/core/circuit"
	"steptrace/core/closing"
	"steptrace/core/entry"
	"steptrace/core/intake"
	"steptrace/core/money"
	"steptrace/core/past"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/replace"
	"steptrace/core/sheet"
	"steptrace/core/shop"
	"steptrace/core/stripdown"
	"steptrace/core/trace"
	"steptrace/core/worth"
)

// pause is how long nobody notes anything who is still at work; whoever begins anew has been at it for starts.
const pause, starts = 25 * time.Minute, 5 * time.Minute

// stepOf is the step of the work that an entry of a kind is of; empty: it is no work, as what a soak logs by itself, what is
// waited for, and what is written for the owner. What is read after a repair proves it.
func stepOf(kind string, repaired bool) past.Step {
	switch kind {
	case "intake", "safety", "steps", "pictures":
		return past.Prepare
	case "readings", "captures", "symptoms", "waivers":
		if repaired {
			return past.Prove
		}
		return past.Trace
	case "inside":
		return past.Inside
	case "repairs", "replacing":
		return past.Replace
	case "returns", "adjusting", "closing":
		return past.Prove
	}
	return ""
}

// WorkedOn is how long was worked on each step, in minutes, by when its entries were noted: gaps up to a pause are work on what was
// noted at their end, after longer ones it begins anew.
func (j *Job) WorkedOn() past.Minutes {
	type moment struct {
		at   time.Time
		step past.Step
	}
	var first time.Time
	if rounds := j.Rounds(); len(rounds) > 0 {
		first = rounds[0].At
	}
	var all []moment
	for _, k := range Kinds {
		for _, e := range k.All(j) {
			if n, ok := e.(*intake.Note); ok && n.Ends() {
				continue // whose it is, is written at a desk
			}
			at := *e.Head().At
			if step := stepOf(k.Name(), !first.IsZero() && at.After(first)); step != "" {
				all = append(all, moment{at, step})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b moment) int { return a.at.Compare(b.at) })
	out := past.Minutes{}
	for i := range all {
		gap := pause + 1
		if i > 0 {
			gap = all[i].at.Sub(all[i-1].at)
		}
		if gap > pause {
			gap = starts
		}
		out[all[i].step] += gap.Minutes()
	}
	return out
}

// Worked is all of that.
func (j *Job) Worked() time.Duration {
	return time.Duration(j.WorkedOn().Sum() * float64(time.Minute)).Round(time.Second)
}

// Known is what a job's worth goes by besides its own record: the workshop's settings, its finished jobs, and whether this very set
// was repaired for the same before.
type Known struct {
	Shop shop.Settings
	Past []past.Job
	Back bool
	Now  time.Time
}

// Worth are the facts of whether a job is worth doing. Findings are nil where nothing could be traced.
func (j *Job) Worth(plan *sheet.Plan, findings *trace.Findings, known *Known) worth.Facts {
	texts := j.Intake.Texts()
	f := worth.Facts{
		Now: known.Now, Used: j.WorkedOn(), Back: known.Back, Past: known.Past,
		Currency: known.Shop.Currency, Times: known.Shop.Minutes(), Prices: known.Shop.PartPrices(),
		Rate: amountOf(known.Shop.Rate), Value: amountOf(texts[intake.ValueField]), Limit: amountOf(j.Allowed()),
	}
	f.Ground = j.ground(plan)
	f.Parts, f.Bought = j.toFit(plan), j.Bought()
	f.PartKnown = len(f.Parts) > 0 || len(j.condemnedParts()) > 0
	if len(j.Rounds()) > 0 &&
		(findings == nil || slices.Contains([]trace.State{trace.Repaired, trace.Verifying, trace.Clean}, findings.State)) {
		f.Fitted = true
	}
	f.Prepare = worth.Preparing(len(j.Intake)+len(j.Safety) > 0, len(j.Steps) > 0)
	shown := findings != nil && findings.State == trace.Repaired
	f.Prove, f.ProveWhole = j.proving(plan, shown)
	j.suspects(plan, findings, &f)
	return f
}

// Allowed is up to what the job may cost, as typed; empty where nobody said.
func (j *Job) Allowed() string {
	noted, at := j.Intake.Last(intake.LimitField)
	return worth.Allowed(j.Worthing, noted, at)
}

// Near tells where what was spent comes near what the owner allows, and whether it has passed it; empty where it does not.
func (j *Job) Near(settings *shop.Settings) (text string, passed bool) {
	c := j.Costing()
	return c.Near(settings)
}

// Costing is what a job has cost so far, apart from what an hour costs: the minutes that were worked, the parts that were chosen and have
// a price; and up to what it may cost (zero: nobody said).
type Costing struct {
	Minutes float64
	Parts   money.Amount
	Allowed money.Amount
}

// Costing is that of a job.
func (j *Job) Costing() Costing {
	return Costing{Minutes: j.WorkedOn().Sum(), Parts: j.Bought(), Allowed: amountOf(j.Allowed())}
}

// Spent is what that comes to, by what an hour costs.
func (c *Costing) Spent(rate money.Amount) money.Amount {
	const perHour = 60 // minutes
	return money.Amount(c.Minutes/perHour*float64(rate)) + c.Parts
}

// Near tells how that stands against what is allowed (worth.Near).
func (c *Costing) Near(settings *shop.Settings) (text string, passed bool) {
	return worth.Near(c.Spent(amountOf(settings.Rate)), c.Allowed, settings.Currency)
}

// Bought is what the parts cost that were chosen and have a price.
func (j *Job) Bought() (out money.Amount) {
	for _, c := range j.chosen() {
		out += amountOf(c.Price) * money.Amount(max(1, c.Count))
	}
	return out
}

// chosen is what was chosen to go in the place of parts: the last choice of each.
func (j *Job) chosen() []replace.Chosen {
	var out []replace.Chosen
	for i := range j.Replacing {
		c := j.Replacing[i].Chosen
		if c == nil || j.Replacing[i].Struck {
			continue
		}
		if at := slices.IndexFunc(out, func(o replace.Chosen) bool { return o.Part == c.Part }); at >= 0 {
			out[at] = *c
		} else {
			out = append(out, *c)
		}
	}
	return out
}

func amountOf(text string) money.Amount {
	a, _ := money.Read(text) // what cannot be read is none
	return a
}

// suspects takes in what may be at fault, and how long it takes to find.
func (j *Job) suspects(plan *sheet.Plan, findings *trace.Findings, f *worth.Facts) {
	if findings == nil {
		if !f.PartKnown && !f.Fitted {
			f.Trace = worth.Tracing()
		}
		return
	}
	for i := range findings.Readings {
		r := &findings.Readings[i]
		f.Fleeting = f.Fleeting || r.Verdict == reading.Intermittent && !r.Superseded && !r.Reading.Struck
	}
	add := func(name, kind string, share float64) {
		if share > 0 {
			f.Suspects = append(f.Suspects, worth.Suspect{Name: name, Kind: kind, Share: share})
		}
	}
	if named := findings.Stage + findings.Line; findings.State == trace.Named || named != "" {
		f.Named = true
		add(named, blockKind(plan, named), 1)
		return
	}
	for _, s := range findings.Stages {
		add(s.Name, s.Kind, s.Weight)
	}
	for _, l := range slices.Concat(findings.Rails, findings.Controls) {
		add(l.Name, blockKind(plan, l.Name), l.Weight)
	}
	sum := 0.0
	for _, s := range f.Suspects {
		sum += s.Share
	}
	for i := range f.Suspects {
		f.Suspects[i].Share /= sum
	}
	if !f.PartKnown && !f.Fitted {
		f.Trace = minutesTo(findings, j.Way)
	}
}

// minutesTo is what the plan comes to in a way of working; half of what is usual where it has none.
func minutesTo(findings *trace.Findings, way planning.Way) float64 {
	for _, w := range findings.Ways {
		if w.Way == way || way == "" && w.Way == planning.Halve {
			return w.Minutes
		}
	}
	return worth.Tracing() / 2
}

// blockKind is the kind of a block by its name: a stage's own, "rail" or "line".
func blockKind(plan *sheet.Plan, name string) string {
	for k := range plan.Stages {
		if plan.Stages[k].Name == name {
			return plan.Stages[k].Kind
		}
	}
	if slices.ContainsFunc(plan.Rails, func(r sheet.PlanRail) bool { return r.Name == name }) {
		return "rail"
	}
	if _, line := plan.LineIndex(name); line {
		return "line"
	}
	return ""
}

// ground is by what the set can be traced.
func (j *Job) ground(plan *sheet.Plan) worth.Ground {
	c, ok := j.Case(plan)
	if !ok {
		return worth.ByNothing
	}
	usual, known := 0, 0
	for _, l := range c.Route.Levels {
		switch {
		case !l.Known:
		case l.Source == sheet.Usual:
			usual++
		default:
			known++
		}
	}
	if known >= usual && known > 0 {
		return worth.ByManual
	}
	return worth.ByUsual
}

// proving is what is usual of the steps after the iron: what is left of them, and all of them.
func (j *Job) proving(plan *sheet.Plan, shown bool) (left, whole float64) {
	adjusts, open := 0, 0
	for _, a := range adjust.Look(plan, j.Adjusting, adjust.Now{Repaired: j.Repaired()}) {
		adjusts++
		if a.State != adjust.Done {
			open++
		}
	}
	closes, unmade := 0, 0
	for _, s := range j.Closes(plan) {
		closes++
		if s.State == closing.Open {
			unmade++
		}
	}
	back := stripdown.Reassemble(j.Steps, j.Returns)
	closed := len(j.Steps) > 0 && !slices.ContainsFunc(back.Steps, func(b stripdown.Back) bool { return !b.Done })
	return worth.Proving(shown, open, unmade, closed), worth.Proving(false, adjusts, closes, false)
}

// toFit are the parts that were chosen and are not in yet.
func (j *Job) toFit(plan *sheet.Plan) []worth.Part {
	var out []worth.Part
	for _, c := range j.chosen() {
		if !j.renewed("", c.Part) {
			out = append(out, worth.Part{
				Name: c.Part, Class: past.ClassOf(c.Part, partKind(plan, "", c.Part)), Price: amountOf(c.Price), Count: max(1, c.Count),
				Drawer: c.From == replace.Drawer,
			})
		}
	}
	return out
}

// partKind is the kind of a part in the circuits of a sheet, of one stage or (empty) of any; empty where it is in none.
func partKind(plan *sheet.Plan, stage, part string) circuit.Kind {
	for i := range plan.Circuits {
		if c := &plan.Circuits[i]; stage == "" || c.Stage == stage {
			if k := slices.IndexFunc(c.Parts, func(p circuit.Part) bool { return p.Name == part }); k >= 0 {
				return c.Parts[k].Kind
			}
		}
	}
	return ""
}

// Teaches is what a finished job teaches. Back: the set had come back with it. Nil where it is not finished, or where nothing can be
// said of how it ended.
func (j *Job) Teaches(plan *sheet.Plan, settings *shop.Settings, back bool) *past.Job {
	if j.Finished == nil {
		return nil
	}
	ended := j.Ended()
	gaveUp, _ := j.Leaves()
	out := &past.Job{
		Set: plan.Sheet.Name(), Kind: plan.Sheet.Kind, Finished: j.Finished.Format(time.DateOnly), Complaint: j.Complaint, Was: j.Outcome,
		Ends: []past.End{}, Work: j.WorkedOn(), Mistaken: j.mistaken(ended, plan), Prices: []past.Price{}, Back: back, GaveUp: gaveUp,
	}
	failed := ended.Failed()
	stages := ended.Stages()
	for _, stage := range stages {
		end := past.End{Block: stage, Kind: blockKind(plan, plan.NowOf(stage))}
		for _, part := range failed[stage] {
			out.Ends = append(out.Ends, past.End{Block: stage, Kind: end.Kind, Part: part, What: j.whatOf(stage, part)})
		}
		if len(failed[stage]) == 0 {
			out.Ends = append(out.Ends, end)
		}
	}
	if len(out.Ends) == 0 && !out.GaveUp {
		return nil
	}
	kind, parts := "", 1
	if len(out.Ends) > 0 {
		kind, parts = out.Ends[0].Kind, len(out.Ends)
	}
	_, prove := j.proving(plan, false)
	out.Usual = worth.Usual(kind, parts, j.tracing(plan), prove)
	if rate := amountOf(settings.Rate); rate > 0 {
		for _, c := range j.chosen() {
			class := past.ClassOf(c.Part, partKind(plan, "", c.Part))
			if price := amountOf(c.Price); price > 0 && class != past.Solder {
				out.Prices = append(out.Prices, past.Price{Class: class, Hours: float64(price) / float64(rate)})
			}
		}
	}
	return out
}

// tracing is what the plan comes to before anything was read.
func (j *Job) tracing(plan *sheet.Plan) float64 {
	c, ok := j.Case(plan)
	if !ok {
		return worth.Tracing()
	}
	c.Round, c.Repairs, c.Noticed, c.Waivers = 0, nil, nil, nil
	begin := c.Find(nil)
	return minutesTo(&begin, j.Way)
}

// Leaves tells whether it was decided that the set is not repaired, nothing was repaired in it, and why.
func (j *Job) Leaves() (bool, string) {
	d := worth.Decided(j.Worthing)
	repaired := slices.ContainsFunc(j.Repairs, func(e repair.Entry) bool { return e.Repair != nil && !e.Struck })
	if repaired || d == nil || d.Choice != worth.Leave && d.Choice != worth.Another {
		return false, ""
	}
	return true, d.Why
}

// whatOf is what a part had, as it was condemned.
func (j *Job) whatOf(stage, part string) string {
	out := ""
	for i := range j.Inside {
		if e := &j.Inside[i]; e.Condemned != nil && !e.Struck && e.Stage == stage && e.Condemned.Part == part {
			out = e.Condemned.What
		}
	}
	return out
}

// mistaken are the blocks that something was done to, or condemned in, before the job came to its end, and in which nothing had
// failed. What was condemned and taken back counts; what was renewed as a precaution beside what had failed does not.
func (j *Job) mistaken(ended *Ended, plan *sheet.Plan) []string {
	out := []string{}
	was := ended.Stages()
	add := func(stage string) {
		if stage != "" && !slices.Contains(was, stage) && !slices.Contains(out, stage) && blockKind(plan, plan.NowOf(stage)) != "" {
			out = append(out, stage)
		}
	}
	for i := range j.Inside {
		if e := &j.Inside[i]; e.Condemned != nil {
			add(e.Stage)
		}
	}
	for i := range j.Repairs {
		if r := j.Repairs[i].Repair; r != nil && entry.Counts(&j.Repairs[i]) && r.Did != repair.Modified && r.Did != repair.Adjusted {
			add(strings.TrimSpace(r.Stage))
		}
	}
	return out
}
