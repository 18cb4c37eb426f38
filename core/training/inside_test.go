package training_test

import (
	"math/rand/v2"
	"testing"

	"steptrace/core/circuit"
	"steptrace/core/part"
	"steptrace/core/sheet"
	"steptrace/core/training"
)

// What meters show of parts is judged as they are, by the checks that judge real ones: good ones good, each usual failure bad; and what
// stands at the nodes of a circuit is the circuit's own.
func TestPartsShowWhatTheyHave(t *testing.T) {
	t.Parallel()
	right, wrong, kinds := 0, 0, map[string]int{}
	for _, family := range circuit.Families() {
		s := &sheet.Sheet{
			Model: "one stage", Points: []sheet.Point{{Name: "in"}, {Name: "out"}},
			Stages:   []sheet.Stage{{Name: family.Name, Kind: "amplifier", From: "in", To: "out"}},
			Circuits: []sheet.Circuit{{Stage: family.Name, Parts: family.Parts}},
		}
		plan, problems := s.Plan()
		if sheet.Blocked(problems) {
			t.Fatal(family.Name, problems)
		}
		stage := plan.Circuits[0].Stage
		var all []training.Fault // each failure in the middle of its severities, and at each end
		for _, f := range plan.Circuits[0].Net.Faults() {
			for _, size := range []float64{0, 0.01, 1} {
				all = append(all, training.Fault{Block: stage, Part: f.Part, What: f.What, Size: size})
			}
		}
		for _, f := range append([]training.Fault{{}}, all...) {
			c := training.Case{Manual: s}
			var faults []training.Fault
			if f.Part != "" {
				faults = []training.Fault{f}
			}
			set, good, err := c.Set(plan, faults)
			if err != nil {
				t.Fatal(err)
			}
			b := &training.Bench{Plan: plan, Set: set, Good: good}
			for _, p := range plan.Circuits[0].Parts {
				kind := circuit.CheckOf(p.Kind)
				given, err := b.Part(stage, p.Name, kind)
				if err != nil || f.Part != "" && p.Name != f.Part {
					continue
				}
				v, err := part.Judge(kind, given)
				if err != nil {
					t.Errorf("%s, %s %q: %v is refused: %v", stage, p.Name, f.What, given, err)
					continue
				}
				kinds[kind]++
				want := part.Good
				if f.Part != "" {
					want = part.Bad
				}
				// What is too large may be another's: only its place says so.
				if v.Judgement == want || f.What == "of too much capacitance" && v.Judgement == part.Unsure {
					right++
				} else {
					wrong++
					t.Logf("%s, %s %q %g: %v is judged %s: %s", stage, p.Name, f.What, f.Size, given, v.Judgement, v.What)
				}
			}
		}
	}
	if share := float64(right) / float64(right+wrong); share < 0.97 || len(kinds) < 9 {
		t.Errorf("%d of %d parts judged as they are, by %v", right, right+wrong, kinds)
	}
	t.Logf("%d of %d parts judged as they are, by %v", right, right+wrong, kinds)
	s, _ := training.Sources()[len(training.Sources())-1].Sheet(rand.New(rand.NewPCG(1, 1)))
	plan, _ := s.Plan()
	set, good, _ := (&training.Case{Manual: s}).Set(plan, nil)
	b := &training.Bench{Plan: plan, Set: set, Good: good}
	if _, err := b.Part("no stage", "R1", "resistor"); err == nil {
		t.Error("a part of no stage is measured")
	}
	if _, err := b.Inside("no stage", circuit.NodeReading{What: circuit.DC, Node: "out"}); err == nil {
		t.Error("a node of no stage is read")
	}
}
