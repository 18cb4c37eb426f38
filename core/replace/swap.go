package replace

import (
	"slices"
	"strings"

	"steptrace/core/substitute"
)

// Swap is a module that went in the place of another, and stayed in: the workshop's own record of what works.
type Swap struct{ Was, New string }

// Swaps are those of jobs that are finished with a repair, from what stood and what was chosen in each.
func Swaps(jobs [][]Entry) []Swap {
	var out []Swap
	for _, entries := range jobs {
		was := map[string]string{}
		for _, e := range entries {
			if s := e.Subject; s != nil && s.Was != "" {
				was[s.Part] = s.Was
			}
		}
		fitted := map[string]string{}
		for _, e := range entries {
			if e.Chosen != nil {
				fitted[e.Chosen.Part] = e.Chosen.New
			}
		}
		for part, typed := range was {
			before, _, _ := called(typed)
			after, _, _ := called(fitted[part])
			s := Swap{before.name, after.name}
			if before.sort == Module && after.sort == Module && !substitute.SameNumber(s.Was, s.New) && !slices.Contains(out, s) {
				out = append(out, s)
			}
		}
	}
	slices.SortFunc(out, func(a, b Swap) int { return strings.Compare(a.Was+a.New, b.Was+b.New) })
	return out
}

// confirmed are the modules that have worked in the place of one.
func confirmed(swaps []Swap, was string) []string {
	var out []string
	for _, s := range swaps {
		if substitute.SameNumber(s.Was, was) {
			out = append(out, s.New)
		}
	}
	return out
}
