package trace

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"steptrace/core/planning"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

// Each way begins where its name says, and each leads to the fault.
func TestEveryWayOfWorkingFindsTheFault(t *testing.T) {
	s := sheettest.Chain(8, "0 dB")
	s.Rails = []sheet.Rail{{Name: "+9 V", Value: "9 V"}, {Name: "+5 V", Value: "5 V"}}
	s.Stages[6].Rails = []string{"+9 V"}
	s.Points[3].Minutes = "0.1"
	s.WeakSpots = []sheet.WeakSpot{{Stage: "s4", What: "usual"}}
	c := open(t, s)
	for way, first := range map[planning.Way]string{planning.Front: "p1", planning.Back: "p7", planning.Supplies: "+9 V",
		planning.Reach: "+9 V", planning.Weakest: "p5"} {
		c.Way = way
		for fault := range 8 {
			b := bench{c: c, fault: fault, loss: 20}
			f := c.Find(nil)
			if f.Next == nil || f.Next.Point != first {
				t.Fatalf("%s begins at %+v, want %s", way, f.Next, first)
			}
			for f.State == Tracing && b.n < 12 {
				if f.Next.Point == "+9 V" {
					f = b.add(t, "+9 V", "9")
					if way == planning.Reach && f.Next.Point != "p3" {
						t.Errorf("behind the rail, %s is reached easiest", f.Next.Point)
					}
					continue
				}
				f = b.read(t, f.Next.Point)
			}
			if f.State != Named || f.Stage != fmt.Sprintf("s%d", fault) {
				t.Errorf("%s: %s %q for a fault in s%d", way, f.State, f.Stage, fault)
			}
		}
	}
	if len(c.Find(nil).Ways) != len(planning.Ways()) || planning.KnownWay("sideways") || !planning.KnownWay("") ||
		!planning.KnownWay(planning.Back) {
		t.Error("the ways of working are not all there, or a foreign one is taken")
	}
}

// What a good and a bad reading would leave is what they do leave.
func TestWhatIfComesTrue(t *testing.T) {
	c := open(t, sheettest.Chain(7, "0 dB"))
	log := []reading.Reading{{ID: "0", Point: "p7", Quantity: sheet.AC, Word: quantity.Weak}}
	f := c.Find(log)
	told := 0
	for i, p := range f.Points {
		if p.IfGood == "" {
			continue
		}
		told++
		for word, want := range map[quantity.Word]string{quantity.OK: p.IfGood, quantity.Weak: p.IfBad} {
			after := c.Find(append(slices.Clone(log), reading.Reading{ID: "1", Point: p.Name, Quantity: sheet.AC, Word: word}))
			var left []string
			for _, s := range after.Stages {
				if s.Standing == Suspect || s.Standing == Faulty {
					left = append(left, s.Name)
				}
			}
			got := strings.Join(left, " or ")
			if len(left) > 3 {
				got = fmt.Sprintf("one of %d from %s to %s", len(left), left[0], left[len(left)-1])
			}
			if got != want {
				t.Errorf("p%d reading %q leaves %q, foretold was %q", i, word, got, want)
			}
		}
	}
	if told != 6 {
		t.Errorf("told of %d points, 6 part the suspects", told)
	}
}

// Belief against Bayes' rule written out plainly: for every block and effect
// the product of prior and likelihoods, summed and normalised, without
// logarithms.
func TestBeliefIsBayes(t *testing.T) {
	rng := rand.New(rand.NewPCG(31, 2))
	words := []quantity.Word{
		quantity.OK,
		quantity.Nothing,
		quantity.Weak,
		quantity.Hum,
		quantity.Noisy,
		quantity.Distorted,
		quantity.CutsOut,
	}
seeds:
	for range 200 {
		s := tangled(rng)
		plan, problems := s.Plan()
		if sheet.Blocked(problems) || len(plan.Routes) == 0 {
			continue
		}
		c := Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]},
			History: History{Found: map[string]int{plan.Stages[0].Name: rng.IntN(3)}}}
		var log []reading.Reading
		for i := range rng.IntN(6) {
			r := &plan.Routes[rng.IntN(len(plan.Routes))]
			log = append(log, reading.Reading{ID: fmt.Sprint(i), Point: plan.Points[r.Points[rng.IntN(len(r.Points))]].Name,
				Quantity: sheet.AC, Mode: r.Mode, Word: words[rng.IntN(len(words))]})
		}
		f := newFinder(c, log)
		got := f.belief(f.evidence)
		prior := c.priors()
		want := make([]float64, len(prior))
		total := 0.0
		for k := range want {
			share := shares["rail"]
			if k < len(plan.Stages) {
				share = shares[rowOf(plan.Stages[k].Kind)]
			}
			for e := range effects {
				p := prior[k] * max(share[e], 1e-6)
				for _, j := range f.evidence {
					if j.At == j.From {
						continue
					}
					w := plan.Paths(j.Route.Mode, j.Route.Points[j.From], j.Route.Points[j.At], nil)
					good := misread * mistaken[j.Verdict]
					if !j.Verdict.Bad() {
						good = 1 - misread
					}
					if j.Before != nil {
						continue seeds // such readings have a test of their own
					}
					l := good
					switch in := inTheWay(e, said{verdict: j.Verdict}); {
					case w.Every[k]:
						l = in
					case w.Any[k] && j.Verdict == reading.Absent:
						l = misread * mistaken[reading.Absent]
					case w.Any[k]:
						l = wholeWay*good + (1-wholeWay)*max(in, inTheWay(weak, said{verdict: j.Verdict})/2)
					case k < len(plan.Stages) && plan.Stages[k].From == j.Route.Points[j.At]:
						l = (1-loading)*good + loading*inTheWay(weak, said{verdict: j.Verdict})
					}
					p *= math.Pow(l, j.Times)
				}
				want[k] += p
			}
			total += want[k]
		}
		sum := 0.0
		for k := range want {
			sum += got[k]
			if math.Abs(got[k]-want[k]/total) > 1e-9 {
				t.Fatalf("%s: %g, by hand %g", plan.BlockTitle(k), got[k], want[k]/total)
			}
		}
		if math.Abs(sum-1) > 1e-9 {
			t.Fatalf("belief sums to %g", sum)
		}
	}
}

// The tables are probabilities.
func TestTablesAreProbabilities(t *testing.T) {
	for kind, row := range shares {
		sum := 0.0
		for _, x := range row {
			sum += x
		}
		if math.Abs(sum-1) > 1e-9 {
			t.Errorf("the shares of %s sum to %g", kind, sum)
		}
	}
	sum := 0.0
	for _, p := range mistaken {
		sum += p
	}
	if math.Abs(sum-1) > 1e-9 {
		t.Errorf("what a misreading says sums to %g", sum)
	}
	for e := range effects {
		sum := 0.0
		for _, p := range shows[e] {
			sum += p
		}
		if sum > 1 || sum < 0.9 {
			t.Errorf("what effect %d shows sums to %g", e, sum)
		}
	}
}

// Priors: what was found before, a usual fault and a complaint that fits it all
// make a block likelier; they sum to 1.
func TestPriorsFollowHistoryAndWeakSpots(t *testing.T) {
	s := sheettest.Chain(4, "0 dB")
	s.Stages[1].Kind, s.Stages[2].Kind = "relay contact", "transformer"
	s.WeakSpots = []sheet.WeakSpot{{Stage: "s3", What: "usual"}}
	c := open(t, s)
	plain := c.priors()
	if !(plain[1] > plain[0] && plain[0] > plain[2]) || !(plain[3] > 2.9*plain[0]) {
		t.Errorf("priors %v", plain)
	}
	c.History = History{Found: map[string]int{"s2": 3}, Fits: map[string]bool{"s3": true}}
	with := c.priors()
	if !(with[2] > with[1] && with[3]/with[0] > 1.9*plain[3]/plain[0]) {
		t.Errorf("with history %v", with)
	}
	sum := 0.0
	for _, x := range with {
		sum += x
	}
	if math.Abs(sum-1) > 1e-12 {
		t.Errorf("priors sum to %g", sum)
	}
}

// Two faults: when nothing else fits, the pair that does is named.
func TestTwoFaultsAreNamedAsAPair(t *testing.T) {
	c := headphones(t)
	f := c.Find(
		[]reading.Reading{
			heard("disc", "disc in", "speakers", quantity.Nothing),
			heard("aux", "aux in", "phones", quantity.Nothing),
			heard("aux", "aux in", "speakers", quantity.OK),
			heard("disc", "disc in", "phones", quantity.OK),
		},
	)
	if f.State != Conflict {
		t.Fatalf("%s: %s", f.State, f.Headline)
	}
	f = c.Find(
		[]reading.Reading{
			heard("disc", "disc in", "phones", quantity.Nothing),
			heard("aux", "aux in", "speakers", quantity.Nothing),
			heard("aux", "aux in", "phones", quantity.OK),
		},
	)
	if said := strings.Join(f.Reasons, " "); f.State != Conflict ||
		!strings.Contains(said, "two faults: rail +15 V and rail +24 V") { // likelier than the stages they feed
		t.Errorf("%s: %s", f.State, said)
	}
}
