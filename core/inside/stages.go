package inside

import (
	"cmp"
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// Listed is a stage, a rail or a modification, whether it has a circuit, and the trace's belief in it.
type Listed struct {
	Stage   string  `json:"stage"`
	Circuit bool    `json:"circuit"`
	Belief  float64 `json:"belief"`
}

// Stages lists stages, rails and modifications, the likeliest by the trace first, then those with a circuit.
func Stages(c trace.Case, found *trace.Findings) []Listed {
	belief := map[string]float64{}
	for _, x := range found.Stages {
		belief[x.Name] = x.Weight
	}
	for _, l := range append(slices.Clone(found.Rails), found.Controls...) {
		belief[l.Name] = l.Weight
	}
	out := []Listed{}
	add := func(name string) {
		_, has := c.Plan.Circuit(name)
		if !slices.ContainsFunc(out, func(o Listed) bool { return o.Stage == name }) {
			out = append(out, Listed{name, has, belief[name]})
		}
	}
	for i := range c.Plan.Stages {
		add(c.Plan.Stages[i].Name)
	}
	for i := range c.Plan.Rails {
		add(c.Plan.Rails[i].Name)
	}
	for i := range c.Plan.Sheet.Modifications {
		add(c.Plan.Sheet.Modifications[i].What)
	}
	known := func(l Listed) int {
		if l.Circuit {
			return 1
		}
		return 0
	}
	slices.SortStableFunc(out, func(a, b Listed) int {
		return cmp.Or(cmp.Compare(b.Belief, a.Belief), cmp.Compare(known(b), known(a)))
	})
	return out
}

// First is the stage to look into where none is named: the likeliest, of those that are alike the one that something was noted of
// last. Empty where there is none.
func First(stages []Listed, entries []Entry) string {
	if len(stages) == 0 {
		return ""
	}
	for _, e := range slices.Backward(entries) {
		i := slices.IndexFunc(stages, func(l Listed) bool { return l.Stage == e.Stage })
		if i >= 0 && !e.Struck && stages[i].Belief >= stages[0].Belief-1e-9 {
			return e.Stage
		}
	}
	return stages[0].Stage
}

// Begin is a family of circuits between the points of a stage. The error is a *BadEntry.
func Begin(plan *sheet.Plan, stage, family string) ([]circuit.Part, error) {
	all := circuit.Families()
	k := slices.IndexFunc(all, func(f circuit.Family) bool { return f.Name == family })
	if k < 0 {
		return nil, bad("%q is no family of circuits", family)
	}
	in, out := "", ""
	for i := range plan.Stages {
		if s := &plan.Stages[i]; s.Name == stage && s.From >= 0 && s.To >= 0 {
			in, out = plan.Points[s.From].Name, plan.Points[s.To].Name
		}
	}
	return all[k].Between(in, out), nil
}
