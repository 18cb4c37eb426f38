package trace

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

// What a reading is said to do to a suspect is what taking it away undoes: the
// odds of Bayes' rule with it over those without.
func TestWhatSpeaksIsWhatALeftOutReadingChanges(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 44))
	compared := 0
	for range 200 {
		s := wholeSet(rng)
		plan, problems := s.Plan()
		if sheet.Blocked(problems) {
			t.Fatal(problems)
		}
		c := Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[rng.IntN(len(plan.Routes))]}}
		var log []reading.Reading
		used := map[int]bool{}
		for range 4 {
			at := 1 + rng.IntN(len(c.Route.Points)-1)
			if used[at] {
				continue // read twice it is one piece
			}
			used[at] = true
			log = append(
				log,
				reading.Reading{
					Point:    plan.Points[c.Route.Points[at]].Name,
					Quantity: sheet.AC,
					Mode:     c.Route.Mode,
					Word:     []quantity.Word{quantity.OK, quantity.Nothing, quantity.Weak, quantity.Hum}[rng.IntN(4)],
				},
			)
		}
		odds := func(log []reading.Reading, block int) float64 {
			f := newFinder(c, log)
			b := f.belief(f.evidence)[block]
			return b / (1 - b)
		}
		f := c.Find(log)
		for i, stage := range f.Stages {
			for _, sp := range stage.Speaks {
				k := slices.IndexFunc(f.Readings, func(j reading.Judged) bool { return j.Told() == sp.Text })
				if k < 0 {
					t.Fatalf("%q is no reading", sp.Text)
				}
				block := c.Route.Stages[i]
				want := odds(log, block) / odds(slices.Delete(slices.Clone(log), k, k+1), block)
				got := sp.Times
				if !sp.For {
					got = 1 / got
				}
				if math.Abs(got/want-1) > 1e-6 {
					t.Fatalf("%s: %q shifts the odds by %g, leaving it out by %g", stage.Name, sp.Text, got, want)
				}
				compared++
			}
		}
	}
	if compared < 300 {
		t.Errorf("only %d compared", compared)
	}
}

// What is known beforehand is said too: three times for a usual fault, six where
// the complaint fits it; and earlier jobs, even a single one.
func TestWhatIsKnownSpeaksToo(t *testing.T) {
	s := sheettest.Chain(3, "0 dB")
	s.WeakSpots = []sheet.WeakSpot{{Stage: "s1", What: "cracked joint"}}
	c := open(t, s)
	if got := c.Find(nil).Stages[1].Speaks; len(got) != 1 || got[0].Times != 3 || !got[0].For ||
		got[0].Text != "a usual fault of this model: cracked joint" {
		t.Errorf("%+v", got)
	}
	c.History = History{Found: map[string]int{"s0": 1}, Fits: map[string]bool{"s1": true}}
	f := c.Find(nil)
	if got := f.Stages[1].Speaks; len(got) != 1 || got[0].Times != 6 {
		t.Errorf("%+v", got)
	}
	// Dirichlet: 4 pseudo-jobs shared by rates of 1 : 6 : 1 give it a half; one more
	// makes it three times as much.
	if got := f.Stages[0].Speaks; len(got) != 1 || math.Abs(got[0].Times-3) > 1e-9 ||
		got[0].Text != "found at fault in one earlier job of this model" {
		t.Errorf("%+v", got)
	}
}
