package trace

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

// The target is under 10 ms for 60 blocks and 200 readings.
func BenchmarkFind(b *testing.B) {
	for _, n := range []int{60, 120, 240, 400} {
		c := open(b, sheettest.Chain(n, "0 dB"))
		w := bench{c: c, fault: n / 2, loss: 20}
		for i := range 200 {
			r, _ := c.Take(reading.Aim{Point: fmt.Sprintf("p%d", i%(n/2+1))}, "10 mV")
			w.log = append(w.log, r)
		}
		b.Run(fmt.Sprintf("%d blocks, 200 readings", n), func(b *testing.B) {
			for b.Loop() {
				if f := c.Find(w.log); f.Headline == "" {
					b.Fatal("nothing found")
				}
			}
		})
		b.Run(fmt.Sprintf("%d blocks, untouched", n), func(b *testing.B) {
			for b.Loop() {
				if f := c.Find(nil); f.Next == nil {
					b.Fatal("nothing proposed")
				}
			}
		})
	}
}

// Whole sets of about 60 blocks with branches, modes, rails, controls and loops.
func BenchmarkFindWholeSet(b *testing.B) {
	rng := rand.New(rand.NewPCG(60, 200))
	var c Case
	for c.Plan == nil || c.Plan.Blocks() < 55 {
		c = open(b, wholeSet(rng))
	}
	var log []reading.Reading
	for i := range 200 {
		r := &c.Plan.Routes[i%len(c.Plan.Routes)]
		log = append(
			log,
			reading.Reading{
				ID:       fmt.Sprint(i),
				Point:    c.Plan.Points[r.Points[1+i%(len(r.Points)/3)]].Name,
				Quantity: sheet.AC,
				Mode:     r.Mode,
				Word:     quantity.OK,
			},
		)
	}
	for name, readings := range map[string][]reading.Reading{"200 readings": log, "untouched": nil} {
		b.Run(fmt.Sprintf("%d blocks, %s", c.Plan.Blocks(), name), func(b *testing.B) {
			for b.Loop() {
				if f := c.Find(readings); f.Headline == "" {
					b.Fatal("nothing found")
				}
			}
		})
	}
}
