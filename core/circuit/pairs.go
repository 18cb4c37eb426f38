package circuit

import (
	"cmp"
	"math"
	"slices"
)

// Where no single fault explains the readings, two may.

const (
	// missedOut is what a reading costs at most where another fault may be there beside (as a logarithm).
	missedOut = 10
	// pairing is how many leading faults two are made of at most, and pairRate how likely a
	// second fault is beside the first; pairWork is how much work that may be, as steps of
	// elimination.
	pairing, pairRate, pairWork = 12, 1e-3, 4e8
)

// pairs are the faults that explain most of the readings by themselves, each with every other of another part.
func (r *ranking) pairs() []Ranked {
	var out []Ranked
	all := r.net.Faults()
	work := 3 * float64(len(all)) * math.Pow(float64(r.net.size), 3) // of some grades each
	leading := r.partly(all, min(pairing, int(pairWork/work)))
	for i, first := range leading {
		for _, second := range all {
			twice := slices.ContainsFunc(leading[:i], func(f Fault) bool { return f.part == second.part && f.What == second.What })
			if second.part != first.part && !twice {
				out = append(out, r.candidate(second, first))
			}
		}
	}
	return out
}

// partly are so many faults that explain most of the readings by themselves, each of the severity that does: a reading
// that another fault makes counts no more than as one that was missed.
func (r *ranking) partly(faults []Fault, most int) []Fault {
	scores := make([]float64, len(faults))
	of := r.together(passes - 2)
	r.each(len(faults), func(i int) {
		x := r.candidate(faults[i])
		scores[i] = math.Inf(-1)
		for _, g := range x.grades {
			if !r.predictUpTo(&x, g, passes-2) {
				continue
			}
			score := x.prior
			for _, k := range of {
				z := r.alone(g, k)
				score += max(-z*z/2, -missedOut)
			}
			if score > scores[i] {
				scores[i] = score
				if g.x > 0 {
					faults[i] = faults[i].of(g.x)
				}
			}
		}
	})
	order := make([]int, len(faults))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(scores[b], scores[a]) })
	var out []Fault
	for _, i := range order[:min(most, len(order))] {
		out = append(out, faults[i])
	}
	return out
}
