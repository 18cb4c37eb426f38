package trace

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/internal/trial"
)

// now gives readings under the names that a sheet has since it grew.
func now(plan *sheet.Plan, log []reading.Reading) []reading.Reading {
	out := slices.Clone(log)
	for i := range out {
		out[i].Point, out[i].Without = plan.NowOf(out[i].Point), plan.Now(out[i].Without)
		if in := out[i].Injected; in != nil {
			other := *in
			other.At = plan.NowOf(in.At)
			out[i].Injected = &other
		}
	}
	return out
}

// Whatever was read, and whichever stage is divided into however many: what was cleared stays cleared,
// what was suspect is suspect in all of its parts, nothing else changes, and every reading keeps its
// verdict. A point that gets another name changes nothing at all.
func TestAStageThatIsDividedKeepsItsEvidence(t *testing.T) {
	rng := rand.New(rand.NewPCG(14, 3))
	words := []quantity.Word{quantity.OK, quantity.OK, quantity.Nothing, quantity.Weak, quantity.Noisy}
	kinds := []string{"amplifier", "joint", "switch", "filter"}
	divided := 0
	for n := 0; n < trial.Runs(1500); n++ {
		s := wholeSet(rng)
		plan, problems := s.Plan()
		if sheet.Blocked(problems) {
			t.Fatal(problems)
		}
		at := rng.IntN(len(plan.Stages))
		old := s.Stages[at]
		if old.From == "" || old.Kind == "feedback" {
			continue
		}
		route := &plan.Routes[rng.IntN(len(plan.Routes))]
		c := Case{Bench: reading.Bench{Plan: plan, Route: route}}
		var log []reading.Reading
		for i := range 1 + rng.IntN(6) {
			r := &plan.Routes[rng.IntN(len(plan.Routes))]
			point := plan.Points[r.Points[1+rng.IntN(len(r.Points)-1)]].Name
			x := reading.Reading{ID: fmt.Sprint(i), Point: point, Quantity: sheet.AC, Mode: r.Mode, Word: words[rng.IntN(len(words))]}
			if rng.IntN(4) == 0 {
				x.Without = []string{plan.Stages[rng.IntN(len(plan.Stages))].Name}
			}
			if k, ok := r.At(indexOf(plan, point)); ok && r.Levels[k].Known && rng.IntN(2) == 0 {
				x.Word, x.SI, x.Form = quantity.NoWord, quantity.Times(r.Levels[k].DBV-float64(rng.IntN(2)*20)), quantity.RMS
			}
			log = append(log, x)
		}
		var into []sheet.Piece
		for i := range 2 + rng.IntN(3) {
			into = append(into, sheet.Piece{Name: fmt.Sprintf("piece %d", i), Kind: kinds[(rng.IntN(4)*min(i, 1))%4]})
		}
		grown, err := s.Grown(sheet.Growth{Do: sheet.Dividing, At: old.Name, Into: into})
		if err != nil {
			t.Fatalf("%s: %v", old.Name, err)
		}
		divided++
		after, problems := grown.Plan()
		if sheet.Blocked(problems) {
			t.Fatal(problems)
		}
		same, ok := after.Route(route.Key)
		if !ok {
			t.Fatalf("the route %q is gone: %v", route.Key, after.Routes)
		}
		c2 := Case{Bench: reading.Bench{Plan: after, Route: same}}
		before, then := c.begin(log), c2.begin(now(after, log))
		for i := range before.judged {
			a, b := &before.judged[i], &then.judged[i]
			if a.Verdict != b.Verdict || a.Superseded != b.Superseded {
				t.Fatalf("%s at %s was %s and is %s: %s", a.Understood, a.Reading.Point, a.Verdict, b.Verdict, b.Note)
			}
		}
		leftBefore, leftThen := before.narrow(before.evidence), then.narrow(then.evidence)
		for k, left := range leftBefore {
			for _, now := range after.BlocksCalled(plan.BlockName(k)) {
				if leftThen[now] != left {
					t.Fatalf("%s was left: %t, and %s is: %t\n%+v", plan.BlockName(k), left, after.BlockName(now), leftThen[now], log)
				}
			}
		}
	}
	t.Logf("%d stages divided", divided)
	if divided < 100 {
		t.Error("too few to say anything")
	}
}

// A renamed point and a renamed stage keep what was read and lifted.
func TestNamesThatChangeKeepWhatWasRead(t *testing.T) {
	s := wholeSet(rand.New(rand.NewPCG(2, 2)))
	plan, _ := s.Plan()
	r := &plan.Routes[0]
	point, stage := plan.Points[r.Points[1]].Name, plan.Stages[r.Stages[1]].Name
	log := []reading.Reading{
		{ID: "1", Point: point, Quantity: sheet.AC, Mode: r.Mode, Word: quantity.OK},
		{ID: "2", Point: plan.Points[r.Points[len(r.Points)-1]].Name, Quantity: sheet.AC, Mode: r.Mode, Word: quantity.Nothing,
			Without: []string{stage}},
	}
	grown := s
	for _, g := range []sheet.Growth{
		{Do: sheet.Naming, At: point, Name: "TP 7"},
		{Do: sheet.Naming, At: stage, Name: "Q7 driver"},
		{Do: sheet.Naming, At: "TP 7", Name: "TP 8"},
	} {
		var err error
		if grown, err = grown.Grown(g); err != nil {
			t.Fatal(err)
		}
	}
	after, problems := grown.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	moved := now(after, log)
	if moved[0].Point != "TP 8" || moved[1].Without[0] != "Q7 driver" {
		t.Errorf("%+v", moved)
	}
	a := Case{Bench: reading.Bench{Plan: plan, Route: r}}.Find(log)
	b := Case{Bench: reading.Bench{Plan: after, Route: &after.Routes[0]}}.Find(moved)
	if a.State != b.State || len(a.Stages) != len(b.Stages) {
		t.Errorf("%s, and then %s", a.Headline, b.Headline)
	}
	for i := range a.Stages {
		if a.Stages[i].Standing != b.Stages[i].Standing {
			t.Errorf("%s was %s and is %s", b.Stages[i].Name, a.Stages[i].Standing, b.Stages[i].Standing)
		}
	}
	if _, err := grown.Grown(sheet.Growth{Do: sheet.Naming, At: "TP 8", Name: stage}); err == nil ||
		!strings.Contains(err.Error(), "already") {
		t.Errorf("a name that something had was given to another: %v", err)
	}
	// Back to the name that it had itself.
	if back, err := grown.Grown(sheet.Growth{Do: sheet.Naming, At: "TP 8", Name: point}); err != nil ||
		back.Points[indexOf(plan, point)].Name != point {
		t.Errorf("the old name was not given back: %v", err)
	}
}

func indexOf(plan *sheet.Plan, point string) int {
	i, _ := plan.PointIndex(point)
	return i
}
