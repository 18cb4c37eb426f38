package job

import (
	"slices"

	"steptrace/core/inside"
	"steptrace/core/repair"
)

// Ended is a finished job as its model remembers it.
type Ended struct {
	Number  int
	Stage   string // as it was said at the end
	Outcome string
	Inside  []inside.Entry
	Repairs []repair.Entry
}

// Ended is how a job ended, as far as it has.
func (j *Job) Ended() *Ended {
	return &Ended{Number: j.Number, Stage: j.Stage, Outcome: j.Outcome, Inside: j.Inside, Repairs: j.Repairs}
}

// Failed are the parts that had failed, by stage: found bad in a repair, or condemned. What
// somebody had fitted wrongly, or wired so, is the history of that one set.
func (e *Ended) Failed() map[string][]string {
	out := repair.Failed(e.Repairs)
	other := map[[2]string]bool{} // parts that a repair found otherwise
	for _, x := range e.Repairs {
		if x.Struck || x.Repair == nil {
			continue
		}
		for _, p := range x.Repair.Parts {
			if p.Found != repair.Bad {
				other[[2]string{x.Repair.Stage, p.Name}] = true
			}
		}
	}
	for _, x := range e.Inside {
		if c := x.Condemned; c != nil && !x.Struck && c.Found != repair.Wrong && !other[[2]string{x.Stage, c.Part}] &&
			!slices.Contains(out[x.Stage], c.Part) {
			out[x.Stage] = append(out[x.Stage], c.Part)
		}
	}
	return out
}

// Stages are those in which the model has failed: where a part had, or a joint, a contact
// or a track. Of a job without repairs it is the stage that was said at the end.
func (e *Ended) Stages() []string {
	out := []string{}
	add := func(stage string) {
		if stage != "" && !slices.Contains(out, stage) {
			out = append(out, stage)
		}
	}
	repaired, condemned := false, false
	for _, x := range e.Repairs {
		if r := x.Repair; r != nil && !x.Struck {
			repaired = true
			if len(r.Parts) == 0 &&
				slices.Contains([]repair.Did{repair.Resoldered, repair.Cleaned, repair.Mended, repair.Replaced}, r.Did) {
				add(r.Stage)
			}
		}
	}
	for _, x := range e.Inside {
		condemned = condemned || x.Condemned != nil && !x.Struck
	}
	failed := e.Failed()
	for _, x := range e.Repairs { // in the order they were done
		if x.Repair != nil && len(failed[x.Repair.Stage]) > 0 {
			add(x.Repair.Stage)
		}
	}
	for _, x := range e.Inside {
		if len(failed[x.Stage]) > 0 {
			add(x.Stage)
		}
	}
	if !repaired && !condemned {
		add(e.Stage)
	}
	return out
}
