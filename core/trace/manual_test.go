package trace

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

// uneven is a row of stages with gains of their own, so that no two points show
// the same level.
func uneven(rng *rand.Rand) *sheet.Sheet {
	n := 6 + rng.IntN(7)
	s := sheettest.Chain(n, "0 dB")
	for i := range s.Stages {
		gain := 5 + rng.IntN(16)
		if rng.IntN(3) == 0 {
			gain = -gain
		}
		s.Stages[i].Gain = fmt.Sprintf("%d dB", gain)
	}
	return s
}

// readAll takes every point of a set with a fault that loses so many dB (none from
// behind the last stage on); now and then a level is misread by a wild factor.
func readAll(t *testing.T, rng *rand.Rand, c Case, true_ []float64, fault int, loss, misread float64, times int) []reading.Reading {
	t.Helper()
	var log []reading.Reading
	for _, at := range rng.Perm(len(c.Route.Points)) {
		name := c.Plan.Points[c.Route.Points[at]].Name
		for range times {
			dbv := true_[at] + 1.0*(rng.Float64()-0.5)
			if at > fault {
				dbv -= loss
			}
			if rng.Float64() < misread {
				dbv -= 60 * rng.Float64()
			}
			r, err := c.Take(
				reading.Aim{Point: name},
				quantity.Value{SI: quantity.Times(dbv), Unit: quantity.Volt, Form: quantity.RMS}.String(),
			)
			if err != nil {
				t.Fatal(err)
			}
			r.ID = fmt.Sprint(len(log))
			log = append(log, r)
		}
	}
	return log
}

func levels(c Case) []float64 {
	var out []float64
	for _, l := range c.Route.Levels {
		out = append(out, l.DBV)
	}
	return out
}

// Two labels exchanged in the sheet against those on the board: found, and of
// two points that are the right ones.
func TestExchangedLabelsAreFound(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(41, 5))
	const seeds = 300
	found, wrong, whole := 0, 0, 0
	for range seeds {
		s := uneven(rng)
		n := len(s.Stages)
		right := levels(open(t, s))
		// The sheet has a and b the wrong way round; the set is as it was built.
		a := 1 + rng.IntN(n-1)
		b := a + 1
		if math.Abs(right[a]-right[b]) < 4.5 {
			continue
		}
		board := slices.Clone(right)
		board[a], board[b] = board[b], board[a] // what is read under the sheet's names
		fault := 99
		if rng.IntN(2) == 0 && b < n {
			fault = b + rng.IntN(n-b) // behind both: before them it hides which is which
			board = slices.Clone(right)
			for i := range board {
				if i > fault {
					board[i] -= 25
				}
			}
			board[a], board[b] = board[b], board[a]
		}
		c := open(t, s)
		f := c.Find(readAll(t, rng, c, board, 99, 0, 0, 2))
		want := []string{fmt.Sprintf("p%d", a), fmt.Sprintf("p%d", b)}
		switch {
		case len(f.Manual) > 0 && slices.Equal(f.Manual[0].Points, want):
			found++
			if fault == 99 {
				whole++
			}
		case len(f.Manual) > 0:
			wrong++
			t.Log(f.Manual[0].Text)
		}
	}
	t.Logf("%d of %d found, %d without a fault; in %d something else was offered", found, seeds, whole, wrong)
	if found < seeds*8/10 || wrong > seeds/50 {
		t.Error("exchanged labels are not found, or others in their stead")
	}
}

// A value printed wrongly by a clean factor, all read three times: found.
func TestWrongValuesAreFound(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(8, 15))
	const seeds = 300
	found, wrong := 0, 0
	for range seeds {
		s := uneven(rng)
		right := levels(open(t, s))
		at := 1 + rng.IntN(len(s.Stages)-1)
		factor := []float64{2, 2 * math.Sqrt2, 10, 100}[rng.IntN(4)]
		if rng.IntN(2) == 0 {
			factor = 1 / factor
		}
		name := fmt.Sprintf("p%d", at)
		for i := range s.Stages {
			s.Points[i+1].Expect = []sheet.Expectation{
				{
					Quantity: sheet.AC,
					Value:    quantity.Value{SI: quantity.Times(right[i+1]), Unit: quantity.Volt, Form: quantity.RMS}.String(),
				},
			}
		}
		s.Points[at].Expect[0].Value = quantity.Value{
			SI:   factor * quantity.Times(right[at]),
			Unit: quantity.Volt,
			Form: quantity.RMS,
		}.String()
		c := open(t, s)
		f := c.Find(readAll(t, rng, c, right, 99, 0, 0, 3))
		switch {
		case len(f.Manual) > 0 && slices.Equal(f.Manual[0].Points, []string{name}):
			found++
		case len(f.Manual) > 0:
			wrong++
			t.Log(f.Manual[0].Text)
		}
	}
	t.Logf("%d of %d found, in %d something else was offered", found, seeds, wrong)
	if found < seeds*8/10 || wrong > seeds/50 {
		t.Error("wrong values are not found, or others in their stead")
	}
}

// A right sheet, with a fault or without, a reading in twenty misread: nothing is
// said against it.
func TestARightSheetIsNotDoubted(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(77, 1))
	const seeds = 1000
	for n := range seeds {
		s := uneven(rng)
		c := open(t, s)
		fault := rng.IntN(len(s.Stages) + 2)
		misread := 0.0
		if n%2 == 0 {
			misread = 0.05
		}
		log := readAll(t, rng, c, levels(c), fault, 4+40*rng.Float64(), misread, 1+n%3)
		if f := c.Find(log[:1+rng.IntN(len(log))]); len(f.Manual) > 0 {
			t.Errorf("%s (odds %.0f)", f.Manual[0].Text, f.Manual[0].Odds)
		}
	}
}

// A level that would be right at the point next to it is not taken for a fault before that point was read too, and twice where each reads
// what is due at the other; by then the exchange is offered. Where the other is as it should be, nothing more is asked.
func TestANeighbourIsReadBeforeAStageIsCondemned(t *testing.T) {
	t.Parallel()
	s := sheettest.Chain(4, "20 dB")
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	c := Case{Bench: reading.Bench{Plan: plan, Route: reading.FirstRoute(plan), Power: reading.PowerOn}}
	var log []reading.Reading
	take := func(point, text string) Findings {
		r, err := c.Take(reading.Aim{Point: point}, text)
		if err != nil {
			t.Fatal(err)
		}
		r.ID = fmt.Sprint(len(log))
		log = append(log, r)
		return c.Find(log)
	}
	asks := func(f Findings, key, point string) bool {
		return slices.ContainsFunc(f.Grounds, func(g Ground) bool { return g.Key == key && g.Point == point && g.Proof == Lacking })
	}
	// 10 mV and 20 dB a stage; p2 and p3 have each other's labels, and the last stage is dead.
	take("p4", "none")
	take("p1", "100 mV")
	f := take("p2", "10 V")
	if f.State != Named || !asks(f, "label", "p3") {
		t.Fatalf("%s %q: %+v", f.State, f.Headline, f.Grounds)
	}
	mended := slices.Clone(log)
	if f := take("p3", "1 V"); !asks(f, Again+"p3", "p3") && len(f.Manual) == 0 {
		t.Errorf("each reads what is due at the other: %s %+v", f.State, f.Grounds)
	}
	f = take("p3", "1 V")
	if len(f.Manual) == 0 || !slices.Equal(f.Manual[0].Points, []string{"p2", "p3"}) {
		t.Errorf("read twice, the exchange is not offered: %+v", f.Manual)
	}
	// The label is right: the other point reads what it should with what comes in there.
	log = mended
	if f := take("p3", "10 V"); asks(f, "label", "p3") || asks(f, Again+"p3", "p3") {
		t.Errorf("the other is as it should be, and more is asked: %+v", f.Grounds)
	}
}
