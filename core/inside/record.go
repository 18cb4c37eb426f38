package inside

import (
	"slices"
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// Record is what is known of a set that a stage of it is looked into by: what was read at
// the bench, what was noted inside its stages, the rounds that repairs began, and how often
// each part of the stage has failed in others of the model.
type Record struct {
	Readings []reading.Reading
	Entries  []Entry
	Rounds   []repair.Round
	Failed   map[string]int
	Found    *trace.Findings // of the bench; nil where they are not asked for
}

// now tells whether an entry counts still: what was read and provoked in the present round;
// a check of a part until that was renewed.
func (r *Record) now(e *Entry) bool {
	round := repair.Of(r.Rounds, e.At)
	if e.Check == nil {
		return round == len(r.Rounds)
	}
	return !slices.Contains(r.renewed(e.Stage, round), e.Check.Part)
}

// renewed names the parts of a stage that repairs after a round were done to.
func (r *Record) renewed(stage string, after int) []string {
	var out []string
	for _, round := range r.Rounds[min(after, len(r.Rounds)):] {
		for _, x := range round.Repairs {
			for _, p := range x.Parts {
				if x.Stage == stage && !slices.Contains(out, p.Name) {
					out = append(out, p.Name)
				}
			}
		}
	}
	return out
}

// fitted is a stage's circuit with its parts as they are fitted now. A value or type that is
// no value of the circuit, a maker's number, leaves it as the sheet has it.
func (r *Record) fitted(pc *sheet.PlanCircuit) *sheet.PlanCircuit {
	values := repair.Fitted(r.Rounds, pc.Stage)
	out := sheet.PlanCircuit{Circuit: &sheet.Circuit{Stage: pc.Stage, Parts: slices.Clone(pc.Parts)}, Net: pc.Net}
	for i := range out.Parts {
		p := &out.Parts[i]
		was := p.Value
		text := strings.TrimSpace(values[p.Name])
		if text == "" || text == was {
			continue
		}
		p.Value = text
		if net, problems := (&circuit.Circuit{Parts: out.Parts}).Read(); len(problems) > 0 {
			p.Value = was
		} else {
			out.Net = net
		}
	}
	return &out
}
