package circuit

import (
	"cmp"
	"math"
	"slices"
	"strings"
)

// Where no single fault explains the readings, two may.

const (
	// missedOut is what a reading costs at most where another fault may be there beside (as a logarithm).
	missedOut = 10
	// pairing is how many leading faults two are made of at most, and pairRate how likely a
	// second fault is beside the first; pairWork is how much work that may be, as steps of
	// elimination.
	pairing, pairRate, pairWork = 12, 1e-3, 4e8
	// settling is how many pairs may find their severities anew, turnsAbout how often.
	settling, turnsAbout = 8, 4
	// taken is how likely one is that a shorted semiconductor takes along: its partner, its driver, the resistor in its lead,
	// the fuse before it. The trade's "check all around it", in a round figure.
	taken = 0.05
	// mostPartners is how many of those are looked at.
	mostPartners = 80
)

// burnt tells a short of a semiconductor.
func (n *Net) burnt(f Fault) bool {
	k := sortOf(n.parts[f.part].Kind)
	return (k.role == transistor || k.junctions != nil) && strings.HasPrefix(f.What, "shorted")
}

// joined tells whether two parts hang on one place, be it a rail, but not ground; or at most two parts are between them, as
// the resistors in the emitters of an output pair are.
func (n *Net) joined(a, b int) bool {
	reached := map[string]bool{}
	reach := func(p int) {
		for _, name := range n.parts[p].Nodes {
			reached[name] = !IsGround(name)
		}
	}
	at := func(p int) bool {
		return slices.ContainsFunc(n.parts[p].Nodes, func(name string) bool { return reached[name] })
	}
	reach(a)
	for range 2 {
		if at(b) {
			return true
		}
		var next []int
		for p := range n.parts {
			if sortOf(n.parts[p].Kind).role == plain && at(p) {
				next = append(next, p)
			}
		}
		for _, p := range next {
			reach(p)
		}
	}
	return at(b)
}

// beside is how likely a fault is, of its kind, beside another: by chance, or taken along by a short of a semiconductor that it
// hangs on.
func (n *Net) beside(a, b Fault) float64 {
	if (n.burnt(a) || n.burnt(b)) && n.joined(a.part, b.part) {
		return taken
	}
	return pairRate
}

// partners are the shorts of semiconductors that hang on one place, two at a time: they go together, and either alone may
// explain nothing.
func (r *ranking) partners(all []Fault) []Ranked {
	var out []Ranked
	for i, first := range all {
		if !r.net.burnt(first) {
			continue
		}
		if first.at != nil {
			first = first.of(math.Sqrt(first.grades[0] * first.grades[len(first.grades)-1]))
		}
		for _, second := range all[i+1:] {
			if second.part != first.part && r.net.burnt(second) && r.net.joined(first.part, second.part) {
				if out = append(out, r.candidate(second, first)); len(out) == mostPartners {
					return out
				}
			}
		}
	}
	return out
}

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

// two are the pairs that explain the readings: of faults that explain most of them alone, and of shorts that take one another
// along.
func (r *ranking) two() []Ranked {
	partners := slices.DeleteFunc(r.settled(r.partners(r.net.Faults())), func(x Ranked) bool { return x.Off > explained })
	return shares(append(r.weigh(r.pairs(), explained), partners...))
}

// settled lets the leading pairs find the severity of either fault beside the other's, in turn: the first had one by guess.
func (r *ranking) settled(pairs []Ranked) []Ranked {
	two := r.weigh(pairs, math.Inf(1))
	two = two[:min(len(two), settling)]
	for range turnsAbout {
		var turned []Ranked
		for i := range two {
			first := two[i].Faults[1]
			first.found = 0
			turned = append(turned, r.candidate(first, two[i].Faults[0]))
		}
		for _, x := range r.weigh(turned, math.Inf(1)) {
			same := slices.IndexFunc(two, func(y Ranked) bool { return y.is(&Ranked{Faults: []Fault{x.Faults[1], x.Faults[0]}}) })
			if same >= 0 && x.log >= two[same].log {
				two[same] = x
			}
		}
	}
	return two
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
