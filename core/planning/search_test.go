package planning

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"steptrace/core/sheet"
)

// tree is a random search: groups with uneven weights, and checks of uneven cost
// that part them: runs of a row as along a route, and now and then any set, as a
// branch does; some need another feed, the set open, or a part lifted.
func tree(rng *rand.Rand) *search {
	n := 6 + rng.IntN(5)
	weights, places := make([]float64, n), make([]float64, n)
	sum := 0.0
	for i := range weights {
		weights[i] = math.Pow(10, -1.5*rng.Float64())
		sum += weights[i]
	}
	for i := range weights {
		weights[i] /= sum
		places[i] = float64(i)
	}
	var checks []check
	for g := 1; g < n; g++ {
		if rng.IntN(6) > 0 || len(checks) == 0 {
			checks = append(
				checks,
				check{
					parts:  1<<g - 1,
					cost:   float64(1 + rng.IntN(8)),
					along:  g,
					inside: rng.IntN(2) == 0,
					lifted: sheet.None,
					line:   sheet.None,
				},
			)
		}
	}
	for range rng.IntN(5) {
		c := check{
			parts:  rng.Uint64N(1<<n-1) + 1,
			cost:   float64(1 + rng.IntN(8)),
			along:  -1,
			feed:   rng.IntN(3),
			inside: rng.IntN(2) == 0,
			lifted: sheet.None,
			line:   sheet.None,
		}
		if rng.IntN(4) == 0 {
			c.lifted = 3
		}
		checks = append(checks, c)
	}
	// What no check parts is one group.
	var kept []float64
	var at []float64
	seen := map[string]int{}
	for i := range weights {
		key := ""
		for _, c := range checks {
			key += fmt.Sprint(c.parts >> i & 1)
		}
		g, ok := seen[key]
		if !ok {
			g = len(kept)
			seen[key] = g
			kept, at = append(kept, 0), append(at, places[i])
		}
		kept[g] += weights[i]
	}
	for k := range checks {
		parts := uint64(0)
		for key, g := range seen {
			parts |= uint64(key[k]-'0') << g
		}
		checks[k].parts = parts
	}
	return newSearch(kept, at, checks, []feed{{"disc", 0}, {"tape", 1}, {"tape", 2}}, setup{lifted: sheet.None})
}

// exhaustive is the least expected cost over every tree of readings, by plain
// recursion over lists of groups, with the minutes of every change written out.
func exhaustive(s *search, set []int, fed int, open, lifted bool) float64 {
	sum := 0.0
	for _, k := range set {
		sum += s.weights[k]
	}
	best := math.Inf(1)
	for _, c := range s.checks {
		var bad, good []int
		for _, k := range set {
			if c.parts>>k&1 == 1 {
				bad = append(bad, k)
			} else {
				good = append(good, k)
			}
		}
		if len(bad) == 0 || len(good) == 0 {
			continue
		}
		m := c.cost
		if c.feed != fed {
			m += 1.5
		}
		if (c.feed == 0) != (fed == 0) {
			m += 0.5
		}
		if c.inside && !open {
			m += 5
		}
		if lift := c.lifted != sheet.None; lift != lifted {
			m += 6
		}
		if m*sum < best {
			best = min(
				best,
				m*sum+exhaustive(
					s,
					bad,
					c.feed,
					open || c.inside,
					c.lifted != sheet.None,
				)+exhaustive(
					s,
					good,
					c.feed,
					open || c.inside,
					c.lifted != sheet.None,
				),
			)
		}
	}
	if math.IsInf(best, 1) {
		return 0
	}
	return best
}

// walk plays a way of working for one fault, reading by reading.
func walk(s *search, w Way, fault int) (probes int, minutes float64) {
	left, at := s.all(), s.start
	for {
		i := s.choose(w, left, at)
		if i < 0 {
			return probes, minutes
		}
		var m float64
		m, at = s.set(at, &s.checks[i])
		probes++
		minutes += m
		if s.checks[i].parts>>fault&1 == 1 {
			left &= s.checks[i].parts
		} else {
			left &^= s.checks[i].parts
		}
	}
}

// The plan's expected cost is the exact optimum; what each way is said to cost
// is what playing it for every fault comes to.
func TestPlanIsOptimalAndWaysCostWhatTheySay(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(7, 7))
	sums := map[Way]float64{}
	optimum := 0.0
	for range 250 {
		s := tree(rng)
		everything := make([]int, len(s.weights))
		for i := range everything {
			everything[i] = i
		}
		want := exhaustive(s, everything, 0, false, false)
		optimum += want
		if got := s.run(Halve, s.all(), s.start); math.Abs(got.Minutes-want) > 1e-9 {
			t.Fatalf("weights %v, checks %+v: %g minutes, exhaustive %g", s.weights, s.checks, got.Minutes, want)
		}
		for _, w := range workingWays {
			said := s.run(w.way, s.all(), s.start)
			var probes, minutes, worst float64
			most := 0
			for k, x := range s.weights {
				p, m := walk(s, w.way, k)
				probes, minutes, most, worst = probes+x*float64(p), minutes+x*m, max(most, p), max(worst, m)
			}
			if math.Abs(said.Probes-probes) > 1e-9 || math.Abs(said.Minutes-minutes) > 1e-9 || said.WorstProbes != most ||
				math.Abs(said.WorstMinutes-worst) > 1e-9 {
				t.Fatalf("%s: said %+v, played %g probes, %g minutes, at worst %d and %g", w.name, said, probes, minutes, most, worst)
			}
			if minutes < want-1e-9 {
				t.Fatalf("%s takes %g minutes, less than the optimum %g", w.name, minutes, want)
			}
			sums[w.way] += minutes
		}
	}
	t.Logf("against the optimum: plan %.3f, front to back %.2f, back to front %.2f, easiest reach %.2f, weak spots %.2f",
		sums[Halve]/optimum, sums[Front]/optimum, sums[Back]/optimum, sums[Reach]/optimum, sums[Weakest]/optimum)
}
