package trace_test

import (
	"slices"
	"testing"

	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// Where a figure is due that somebody stated, and all was said in words so far, the proposal asks for a figure;
// not where what is due is only usual, and not once there is one.
func TestNowMeasure(t *testing.T) {
	for _, x := range []struct {
		source string
		typed  string
		want   bool
	}{{"", "none", true}, {"good", "none", true}, {"", "3 mV", false}, {"usual", "none", false}} {
		s := sheet.Sheet{Model: "X", Points: []sheet.Point{{Name: "in"}, {Name: "a"}, {Name: "b"}, {Name: "c"}, {Name: "out"}}}
		for i, name := range []string{"first", "second", "third", "fourth"} {
			s.Stages = append(
				s.Stages,
				sheet.Stage{Name: name, From: s.Points[i].Name, To: s.Points[i+1].Name, Gain: "0 dB", Kind: "amplifier"},
			)
		}
		for i := range s.Points {
			s.Points[i].Expect = []sheet.Expectation{{Quantity: sheet.AC, Value: "100 mV", Tolerance: x.source}}
		}
		plan, problems := s.Plan()
		if sheet.Blocked(problems) {
			t.Fatalf("%v", problems)
		}
		c := trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0], Instrument: "scope10"}}
		r, err := c.Take(reading.Aim{Point: "out"}, x.typed)
		if err != nil {
			t.Fatal(err)
		}
		f := c.Find([]reading.Reading{r})
		if f.Next == nil {
			t.Fatalf("%s: nothing proposed: %s", x.source, f.Headline)
		}
		got := slices.ContainsFunc(f.Next.Facts, func(f planning.Fact) bool { return f.Label == "Now measure" })
		if got != x.want {
			t.Errorf("%s, read %q: asks for a figure: %t; %+v", x.source, x.typed, got, f.Next.Facts)
		}
	}
}
