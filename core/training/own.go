package training

import (
	"math/rand/v2"
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/job"
	"steptrace/core/mend"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/standin"
)

// effectOf is what a block did by how its signal was read.
var effectOf = map[reading.Verdict]standin.Effect{
	reading.Absent: standin.Dead, reading.Low: standin.Weak, reading.Distorted: standin.Distorted, reading.Noisy: standin.Noisy,
	reading.Hum: standin.Hum, reading.OffFrequency: standin.Drifted, reading.Intermittent: standin.CuttingOut,
}

// Own makes a case of a finished job of one's own: the same set with the same fault, told anew, and nothing of whose it was. Errors can
// be mended by a person: a job that does not say what it was, or whose fault a simulated set does not show.
func Own(j *job.Job, document *sheet.Sheet, plan *sheet.Plan, w Wish) (*Case, error) {
	if j.Finished == nil {
		return nil, mend.Errorf("job %d is not finished: what was wrong is not known yet", j.Number)
	}
	fault, ok := found(j, plan)
	if !ok {
		return nil, mend.Errorf("job %d does not say which stage, rail or control it was", j.Number)
	}
	c := &Case{
		Level:  w.Level,
		From:   "a job of the workshop's own",
		Seed:   w.Seed,
		Advice: w.Advice,
		Manual: document,
		Faults: []Fault{fault},
	}
	if c.Kind = InBlock; fault.Part != "" {
		c.Kind = InPart
	}
	set, good, err := c.Set(plan, c.Faults)
	if err != nil {
		return nil, mend.Errorf("the fault of job %d cannot be simulated: %s", j.Number, err.Error())
	}
	if !c.tell(plan, Shows(set, good, plan, standin.Stand{Warm: true}), rand.New(rand.NewPCG(w.Seed, 1))) {
		return nil, mend.Errorf("what was wrong in job %d shows nowhere on the simulated set", j.Number)
	}
	c.Best, err = c.Solve()
	return c, err
}

// found is what a job found: the part that was bad, where its circuit has it fail so; else the block, with what its readings showed.
func found(j *job.Job, plan *sheet.Plan) (Fault, bool) {
	stage := j.Stage
	for _, e := range j.Repairs {
		if stage == "" && !e.Struck && e.Repair != nil {
			stage = e.Repair.Stage
		}
	}
	for _, e := range j.Inside {
		if c, ok := plan.Circuit(e.Stage); ok && e.Condemned != nil && !e.Struck && e.Condemned.Found != repair.Wrong &&
			slices.ContainsFunc(
				c.Net.Faults(),
				func(f circuit.Fault) bool { return f.Part == e.Condemned.Part && f.What == e.Condemned.What },
			) {
			return Fault{Block: e.Stage, Part: e.Condemned.Part, What: e.Condemned.What}, true
		}
	}
	if !slices.Contains(standin.Blocks(plan), stage) {
		return Fault{}, false
	}
	t, ok := j.Case(plan)
	if !ok {
		return Fault{}, false
	}
	effect := standin.Dead
	for _, r := range j.Plain(plan) {
		judged := t.Judge(r)
		if e, ok := effectOf[judged.Verdict]; ok && !r.Struck && r.Round == 0 && slices.Contains(standin.EffectsOf(plan, stage), e) {
			effect = e
		}
	}
	return Fault{Block: stage, Effect: effect}, true
}
