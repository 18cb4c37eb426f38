package training_test

import (
	"context"
	"fmt"
	"testing"

	"steptrace/core/circuit"
	"steptrace/core/job"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
	"steptrace/core/training"
)

// long is a set of sixty stages, three of them with circuits, and the failure of a part in the second of these.
func long(b *testing.B) (*training.Bench, *sheet.Plan) {
	b.Helper()
	s := sheettest.Chain(60, "0 dB")
	for i, name := range []string{"Common emitter", "FET input", "Op-amp, inverting"} {
		for _, f := range circuit.Families() {
			if f.Name != name {
				continue
			}
			at := 15 + 15*i
			rename := map[string]string{"in": fmt.Sprintf("p%d", at), "out": fmt.Sprintf("p%d", at+1)}
			c := sheet.Circuit{Stage: fmt.Sprintf("s%d", at)}
			for _, p := range f.Parts {
				nodes := make([]string, len(p.Nodes))
				for k, n := range p.Nodes {
					if nodes[k] = n; rename[n] != "" {
						nodes[k] = rename[n]
					} else if !circuit.IsGround(n) {
						nodes[k] = fmt.Sprintf("%s %d", n, i)
					}
				}
				p.Nodes = nodes
				c.Parts = append(c.Parts, p)
			}
			s.Circuits = append(s.Circuits, c)
		}
	}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) || len(plan.Circuits) != 3 {
		b.Fatal(problems)
	}
	c := training.Case{Manual: s, Faults: []training.Fault{{Block: "s30", Part: "R2", What: "open"}}}
	set, good, err := c.Set(plan, c.Faults)
	if err != nil {
		b.Fatal(err)
	}
	return &training.Bench{Plan: plan, Set: set, Good: good}, plan
}

// BenchmarkProbe is what an answer takes at the end of a set of sixty stages with three circuits, one of them broken.
func BenchmarkProbe(b *testing.B) {
	bench, plan := long(b)
	c, _ := (&job.Job{}).Case(plan)
	for b.Loop() {
		if _, err := bench.Answer(c, training.Reads{Aim: reading.Aim{Point: "p60"}}); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkDraw is what a case of each level takes to be drawn, its best plan included.
func BenchmarkDraw(b *testing.B) {
	from := training.Sources()
	for _, level := range training.Levels {
		b.Run(string(level), func(b *testing.B) {
			seed := uint64(0)
			for b.Loop() {
				seed++
				if _, err := training.Draw(context.Background(), training.Wish{Level: level, Seed: seed}, from); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// BenchmarkQuick is what a quick one of each kind takes to be made.
func BenchmarkQuick(b *testing.B) {
	for _, kind := range training.QuickKinds {
		b.Run(string(kind), func(b *testing.B) {
			seed := uint32(0)
			for b.Loop() {
				seed++
				if _, err := training.MakeQuick(kind, seed); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
