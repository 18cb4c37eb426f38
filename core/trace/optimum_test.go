package trace

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"steptrace/core/planning"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// branching is a set of 6 to 12 blocks: two sources that a selector joins, a
// trunk, and two ends; uneven kinds, minutes from 0 to 7.
func branching(rng *rand.Rand) *sheet.Sheet {
	b := builder{&sheet.Sheet{Model: "branching"}, rng, 0}
	disc := b.run(b.point(fed), rng.IntN(3), "disc")
	tape := b.run(b.point(fed), rng.IntN(2), "tape")
	join := b.point()
	b.stage(disc, join, "disc")
	b.stage(tape, join, "tape")
	trunk := b.run(join, 2+rng.IntN(3))
	b.run(trunk, 1+rng.IntN(2))
	b.run(trunk, 1)
	return b.sheet
}

// thing is something that can be read in such a set, told by which of the
// suspects a bad reading leaves.
type thing struct {
	mode, entry, point string
	minutes            float64
	inside             bool
	along              int
	bad                []string
}

// things lists all there is to read, by simulation of every fault.
func things(c Case, suspects []string) []thing {
	outer := map[string]bool{}
	for _, r := range c.Plan.Routes {
		outer[c.Plan.Points[r.Points[0]].Name], outer[c.Plan.Points[r.Points[len(r.Points)-1]].Name] = true, true
	}
	var out []thing
	for i := range c.Plan.Routes {
		r := &c.Plan.Routes[i]
		for at := 1; at < len(r.Points); at++ {
			p := c.Plan.Points[r.Points[at]]
			x := thing{
				mode:    r.Mode,
				entry:   c.Plan.Points[r.Points[0]].Name,
				point:   p.Name,
				minutes: p.Minutes + 1,
				inside:  !outer[p.Name],
				along:   -1,
			}
			if r.Key == c.Route.Key {
				x.along = at
			}
			for _, s := range suspects {
				if (live{c.Plan.Sheet, r.Mode}).ways(x.entry, x.point, s, nil) == 0 {
					x.bad = append(x.bad, s)
				}
			}
			out = append(out, x)
		}
	}
	return out
}

// stood is how the bench stands in the simulation.
type stood struct {
	mode, entry string
	open        bool
}

func (at stood) to(x thing) (minutes float64, then stood) {
	minutes = x.minutes
	if at.mode != x.mode {
		minutes += 0.5
	}
	if at.entry != x.entry {
		minutes += 1.5
	}
	if x.inside && !at.open {
		minutes += 5
	}
	return minutes, stood{x.mode, x.entry, at.open || x.inside}
}

func split(suspects []string, x thing) (bad, good []string) {
	for _, s := range suspects {
		if slices.Contains(x.bad, s) {
			bad = append(bad, s)
		} else {
			good = append(good, s)
		}
	}
	return bad, good
}

// policy picks what to read of what parts the suspects; nil for the best, found
// by trying all.
type policy func(suspects []string, parting []thing) thing

// expected is the time to expect until one suspect is left, times the weight of
// the suspects.
func expected(all []thing, weight map[string]float64, suspects []string, at stood, pick policy, known map[string]float64) float64 {
	if len(suspects) < 2 {
		return 0
	}
	key := fmt.Sprint(suspects, at)
	if x, ok := known[key]; ok {
		return x
	}
	sum := 0.0
	for _, s := range suspects {
		sum += weight[s]
	}
	var parting []thing
	for _, x := range all {
		if bad, good := split(suspects, x); len(bad) > 0 && len(good) > 0 {
			parting = append(parting, x)
		}
	}
	if pick != nil {
		parting = []thing{pick(suspects, parting)}
	}
	best := math.Inf(1)
	for _, x := range parting {
		bad, good := split(suspects, x)
		m, then := at.to(x)
		best = min(best, m*sum+expected(all, weight, bad, then, pick, known)+expected(all, weight, good, then, pick, known))
	}
	known[key] = best
	return best
}

// played is the time to expect when following what is proposed, reading by reading.
func played(t *testing.T, c Case, all []thing, weight map[string]float64) float64 {
	total := 0.0
	for fault, w := range weight {
		at := stood{c.Route.Mode, c.Plan.Points[c.Route.Points[0]].Name, false}
		var log []reading.Reading
		for {
			f := c.Find(log)
			n := 0
			for _, s := range f.Stages {
				if s.Standing == Suspect || s.Standing == Faulty {
					n++
				}
			}
			if n == 1 {
				break
			}
			if f.Next == nil {
				t.Fatalf("nothing is proposed with %d suspects: %s\n%v\n%s", n, f.Headline, log, c.Plan.Sheet.WriteJSON())
			}
			b := stand(c, f.Next.Route, f.Next.Injected)
			i := slices.IndexFunc(all, func(x thing) bool {
				return x.mode == b.Route.Mode && x.entry == c.Plan.Points[b.Route.Points[0]].Name && x.point == f.Next.Point
			})
			if i < 0 || len(log) > 12 {
				t.Fatalf("%s is asked for after %d readings", f.Next.Point, len(log))
			}
			var m float64
			m, at = at.to(all[i])
			if math.Abs(m-f.Next.Minutes) > 1e-9 {
				t.Fatalf("%s is said to take %g minutes, it takes %g", f.Next.Point, f.Next.Minutes, m)
			}
			total += w * m
			word := quantity.OK
			if slices.Contains(all[i].bad, fault) {
				word = quantity.Weak
			}
			log = append(
				log,
				reading.Reading{
					ID:       fmt.Sprint(len(log)),
					Point:    f.Next.Point,
					Quantity: sheet.AC,
					Word:     word,
					Mode:     b.Route.Mode,
					Injected: b.Injected,
				},
			)
		}
	}
	return total
}

// The plan is the best there is, found by trying all, on sets with branches and
// merges; and what is proposed from reading to reading takes no more time.
func TestProposalsAreNearTheOptimum(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(12, 6))
	var optimum, proposed, front, count float64
	for range 100 {
		c := open(t, branching(rng))
		weight := map[string]float64{}
		var suspects []string
		sum := 0.0
		for _, s := range c.Find(nil).Stages {
			suspects = append(suspects, s.Name)
			weight[s.Name] = s.Weight
			sum += s.Weight
		}
		for s := range weight {
			weight[s] /= sum // one of them it is
		}
		all := things(c, suspects)
		start := stood{c.Route.Mode, c.Plan.Points[c.Route.Points[0]].Name, false}
		best := expected(all, weight, suspects, start, nil, map[string]float64{})
		got := played(t, c, all, weight)
		if said := c.Find(nil).Ways[0]; said.Way != planning.Halve || math.Abs(said.Minutes-best) > 1e-6 {
			t.Errorf("%s is said to take %g minutes, the best plan takes %g\n%s", said.Name, said.Minutes, best, c.Plan.Sheet.WriteJSON())
		}
		optimum, proposed = optimum+best, proposed+got
		front += expected(all, weight, suspects, start, func(_ []string, parting []thing) thing {
			return slices.MinFunc(parting, func(a, b thing) int { return (a.along+99)%99 - (b.along+99)%99 })
		}, map[string]float64{})
		count += expected(all, weight, suspects, start, func(suspects []string, parting []thing) thing {
			return slices.MinFunc(parting, func(a, b thing) int {
				uneven := func(x thing) int {
					bad, good := split(suspects, x)
					n := len(bad) - len(good)
					if x.along < 0 {
						return 99
					}
					return max(n, -n)
				}
				return uneven(a) - uneven(b)
			})
		}, map[string]float64{})
	}
	// Each reading also shifts the weights of what it leaves, so that single sets
	// may take a little more or less than the plan for the weights at the start.
	if proposed > optimum*1.01 {
		t.Errorf("%g minutes in all, the best plans take %g", proposed, optimum)
	}
	t.Logf("against the optimum: proposals %.4f, front to back %.2f, halving by count %.2f", proposed/optimum, front/optimum, count/optimum)
}
