package trace

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/planning"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// Touching from the exit backwards, one word a touch, ends at every faulty stage; what is heard
// is worked out here from the stages' gains alone.
func TestTouchFromTheExitFindsTheStage(t *testing.T) {
	gains := []float64{20, 0, 6, 0, 4}
	s := &sheet.Sheet{
		Model: "gramophone",
		Points: []sheet.Point{
			{Name: "t0", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "6 mV"}, {Quantity: sheet.Frequency, Value: "1 kHz"}}},
		},
	}
	for i, g := range gains {
		s.Points = append(s.Points, sheet.Point{Name: fmt.Sprintf("t%d", i+1)})
		s.Stages = append(
			s.Stages,
			sheet.Stage{
				Name: fmt.Sprintf("v%d", i+1),
				Kind: "amplifier",
				From: fmt.Sprintf("t%d", i),
				To:   fmt.Sprintf("t%d", i+1),
				Gain: fmt.Sprintf("%g dB", g),
			},
		)
	}
	for fault := range gains {
		c := open(t, s)
		c.Way = planning.Touches
		var log []reading.Reading
		var order []string
		f := c.Find(log)
		for f.State == Tracing && f.Next != nil {
			if len(log) > 8 {
				t.Fatalf("v%d: %d touches", fault+1, len(log))
			}
			if f.Next.Purpose != "touch" {
				break
			}
			from := slices.IndexFunc(s.Points, func(p sheet.Point) bool { return p.Name == f.Next.Injected.At })
			order = append(order, f.Next.Injected.At)
			word := quantity.Hum
			if from <= fault {
				word = quantity.Nothing
			} else { // 20 mV against the 6 mV and all the gain that make the exit's usual level
				left := 0.0
				for _, g := range gains[:from] {
					left -= g
				}
				if left+10.46 < -10 {
					word = quantity.Weak
				}
			}
			log = append(
				log,
				reading.Reading{
					ID:       fmt.Sprint(len(log)),
					Point:    f.Next.Point,
					Quantity: sheet.AC,
					Word:     word,
					Injected: f.Next.Injected,
					Taken:    time.Unix(int64(len(log)), 0),
				},
			)
			f = c.Find(log)
		}
		left := []string{}
		for _, st := range f.Stages {
			if st.Standing == Suspect || st.Standing == Faulty {
				left = append(left, st.Name)
			}
		}
		if !slices.Contains(left, fmt.Sprintf("v%d", fault+1)) || len(left) > 2 {
			t.Errorf("v%d: after touching %v left are %v: %s", fault+1, order, left, f.Headline)
		}
		if !slices.IsSortedFunc(order, func(a, b string) int { return strings.Compare(b, a) }) {
			t.Errorf("touched in the order %v", order)
		}
	}
	// A crackle of the contact alone is a sound: what is behind passes.
	c := open(t, s)
	r := reading.Reading{Point: "t5", Quantity: sheet.AC, Word: quantity.Crackle, Injected: &reading.Injection{At: "t2", Touch: true}}
	if j := c.Judge(r); j.Verdict != reading.Within || j.How != "touched at t2" {
		t.Errorf("%s, %q", j.Verdict, j.How)
	}
	// No touch is offered where it would hurt.
	for name, change := range map[string]func(*sheet.Sheet){
		"live chassis": func(s *sheet.Sheet) { s.Hazards = []sheet.Hazard{{Kind: "hot chassis"}} },
		"high voltage": func(s *sheet.Sheet) {
			for i := range s.Points {
				s.Points[i].Peak = "180 V"
			}
		},
	} {
		hurts := *s
		hurts.Points = slices.Clone(s.Points)
		change(&hurts)
		c := open(t, &hurts)
		c.Way = planning.Touches
		f := c.Find(nil)
		if f.Next == nil || f.Next.Purpose == "touch" ||
			slices.ContainsFunc(f.Ways, func(w planning.WayCost) bool { return w.Way == planning.Touches }) {
			t.Errorf("%s: %+v", name, f.Next)
		}
	}
}
