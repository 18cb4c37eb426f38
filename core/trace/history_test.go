package trace

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"steptrace/internal/trial"
)

// follow is the time to expect until one suspect is left, times their weights, of the plan that is the best by what is believed:
// as it is believed, and as it is. The plan is found by trying all.
func follow(all []thing, believed, is map[string]float64, suspects []string, at stood, known map[string][2]float64) [2]float64 {
	if len(suspects) < 2 {
		return [2]float64{}
	}
	key := fmt.Sprint(suspects, at)
	if x, ok := known[key]; ok {
		return x
	}
	sums := [2]float64{}
	for _, s := range suspects {
		sums[0] += believed[s]
		sums[1] += is[s]
	}
	best := [2]float64{math.Inf(1), math.Inf(1)}
	for _, x := range all {
		bad, good := split(suspects, x)
		if len(bad) == 0 || len(good) == 0 {
			continue
		}
		m, then := at.to(x)
		a, b := follow(all, believed, is, bad, then, known), follow(all, believed, is, good, then, known)
		if cost := m*sums[0] + a[0] + b[0]; cost < best[0] {
			best = [2]float64{cost, m*sums[1] + a[1] + b[1]}
		}
	}
	known[key] = best
	return best
}

// ended draws where so many jobs ended.
func ended(rng *rand.Rand, is map[string]float64, suspects []string, n int) map[string]int {
	out := map[string]int{}
	for range n {
		at := rng.Float64()
		for i, s := range suspects {
			if at -= is[s]; at <= 0 || i == len(suspects)-1 {
				out[s]++
				break
			}
		}
	}
	return out
}

// rates are how often blocks of a model fail: some often, most seldom (exponentials to a power; no figure of the package).
func rates(rng *rand.Rand, suspects []string) map[string]float64 {
	out, sum := map[string]float64{}, 0.0
	for _, s := range suspects {
		out[s] = math.Pow(-math.Log(1-rng.Float64()), 1.6)
		sum += out[s]
	}
	for s := range out {
		out[s] /= sum
	}
	return out
}

// elsewhere are the rates of the same model in another workshop: each further from it by a factor that is drawn.
func elsewhere(rng *rand.Rand, is map[string]float64, suspects []string, spread float64) map[string]float64 {
	out, sum := map[string]float64{}, 0.0
	for _, s := range suspects {
		out[s] = is[s] * math.Exp(spread*rng.NormFloat64())
		sum += out[s]
	}
	for s := range out {
		out[s] /= sum
	}
	return out
}

// What a workshop's own jobs teach shortens the search for the next fault of a model; what another's teach shortens it less, and
// never makes it much longer, even where sets fail otherwise there.
func TestHistoryShortensTheSearch(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(18, 11))
	const workshops = 500
	names := []string{
		"100 of its own", "another's, alike", "another's, of other ways", "another's, nothing in common", "20 of its own",
		"these, and another's of other ways", "these, and another's with nothing in common",
	}
	sums := make([]float64, len(names))
	worst, longer := make([]float64, len(names)), make([]int, len(names))
	all := 0.0
	runs := trial.Runs(workshops)
	for range runs {
		c := open(t, branching(rng))
		var suspects []string
		for _, s := range c.Find(nil).Stages {
			suspects = append(suspects, s.Name)
		}
		there := things(c, suspects)
		start := stood{c.Route.Mode, c.Plan.Points[c.Route.Points[0]].Name, false}
		is := rates(rng, suspects)
		minutes := func(h History) float64 {
			c.History = h
			believed := map[string]float64{}
			for k, p := range c.priors() {
				if k < len(c.Plan.Stages) {
					believed[c.Plan.BlockName(k)] = p
				}
			}
			return follow(there, believed, is, suspects, start, map[string][2]float64{})[1]
		}
		without := minutes(History{})
		all += without
		few := ended(rng, is, suspects, 20)
		for i, h := range []History{
			{Found: ended(rng, is, suspects, 100)},
			{Lent: ended(rng, elsewhere(rng, is, suspects, 0.4), suspects, 100)},
			{Lent: ended(rng, elsewhere(rng, is, suspects, 1), suspects, 100)},
			{Lent: ended(rng, rates(rng, suspects), suspects, 100)},
			{Found: few},
			{Found: few, Lent: ended(rng, elsewhere(rng, is, suspects, 1), suspects, 100)},
			{Found: few, Lent: ended(rng, rates(rng, suspects), suspects, 100)},
		} {
			m := minutes(h)
			sums[i] += m
			if more := m/without - 1; more > 0.02 {
				longer[i]++
				worst[i] = max(worst[i], more)
			}
		}
	}
	for i, name := range names {
		t.Logf("%s: %.3f of the time without, more than 2 %% longer in %d of %d, at worst by %.1f %%", name, sums[i]/all,
			longer[i], runs, 100*worst[i])
		if sums[i] > 1.02*all {
			t.Errorf("%s makes the search longer", name)
		}
	}
	for i, most := range map[int]float64{0: 0.93, 1: 0.97, 2: 0.98, 4: 0.95} {
		if sums[i] > most*all {
			t.Errorf("%s leaves %.3f of the time, at most %.2f was to be", names[i], sums[i]/all, most)
		}
	}
	for i := 5; i <= 6; i++ {
		if sums[i] > 1.01*sums[4] {
			t.Errorf("%s takes %.3f of the time of its own alone", names[i], sums[i]/sums[4])
		}
	}
}
