package inside

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"steptrace/core/part"
	"steptrace/core/trace"
)

// Ground is what speaks for condemning a part, and what it then has. Wrong: another part
// is fitted than belongs there.
type Ground struct {
	Part   string   `json:"part"`
	What   string   `json:"what"`
	Why    []string `json:"why"`
	Wrong  bool     `json:"wrong"`
	weight float64
}

// speaking is the share of what would explain the readings, or of what the fault follows, from
// which on it is a ground to condemn a part: more than what two others have each.
const speaking = 0.3

// grounds are what was shown of each part, the likeliest first: the check that it failed, the
// share of what would explain the readings, what moved the fault.
func (v *View) grounds(checked map[string]part.Verdict) []Ground {
	by := map[string]*Ground{}
	of := func(name string) *Ground {
		if by[name] == nil {
			by[name] = &Ground{Part: name, Why: []string{}}
		}
		return by[name]
	}
	for name, verdict := range checked {
		if verdict.Judgement == part.Bad {
			g := of(name)
			g.What, g.Wrong, g.weight = verdict.What, verdict.Wrong, 1
			g.Why = append(g.Why, "checked: "+verdict.What)
		}
	}
	for i := range v.Parts {
		p := &v.Parts[i]
		if p.Weight < speaking {
			continue
		}
		g := of(p.Name)
		g.weight += p.Weight
		g.Why = append(g.Why, fmt.Sprintf("%s of what would explain %d readings inside the stage", share(p.Weight), len(v.Readings)))
		if what := v.fails(p.Name); what != "" {
			g.What = what
		}
	}
	for _, f := range v.Follows {
		if f.Weight >= speaking {
			g := of(f.Place)
			g.weight += f.Weight
			g.Why = append(g.Why, f.Says)
			g.What = cmp.Or(g.What, f.Cause)
		}
	}
	out := []Ground{}
	for _, name := range slices.Sorted(maps.Keys(by)) {
		out = append(out, *by[name])
	}
	slices.SortStableFunc(out, func(a, b Ground) int { return cmp.Compare(b.weight, a.weight) })
	return out
}

// fromBench are the bench's own grounds against the stage: how its signal reads on both
// sides, its supplies, what was lifted.
func fromBench(found *trace.Findings, stage string) []string {
	out := []string{}
	if found == nil || found.Stage != stage {
		return out
	}
	for _, g := range found.Grounds {
		if g.Proof == trace.Shown && g.Because != "" && g.Key != "sure" && !slices.Contains(out, g.Because) {
			out = append(out, g.Because)
		}
	}
	return out
}

// fails is the likeliest failure of a part.
func (v *View) fails(name string) string {
	if v.Diagnosis == nil {
		return ""
	}
	for i := range v.Diagnosis.Ranked {
		for _, f := range v.Diagnosis.Ranked[i].Faults {
			if f.Part == name {
				return f.What
			}
		}
	}
	return ""
}

// share writes a share of all: never as certain.
func share(x float64) string {
	if x > 0.995 {
		return "over 99 %"
	}
	return fmt.Sprintf("%.0f %%", 100*x)
}
