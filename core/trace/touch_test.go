package trace

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/quantity"
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
		c.Way = Touches
		var log []Reading
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
				Reading{
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
	r := Reading{Point: "t5", Quantity: sheet.AC, Word: quantity.Crackle, Injected: &Injection{At: "t2", Touch: true}}
	if j := c.Judge(r); j.Verdict != Within || j.How != "touched at t2" {
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
		c.Way = Touches
		f := c.Find(nil)
		if f.Next == nil || f.Next.Purpose == "touch" || slices.ContainsFunc(f.Ways, func(w WayCost) bool { return w.Way == Touches }) {
			t.Errorf("%s: %+v", name, f.Next)
		}
	}
}

// In what way a reading was taken stands with it where it is not the plain one.
func TestHowAReadingWasTaken(t *testing.T) {
	s := stereo()
	s.Controls = []sheet.Control{{Name: "MUTE", Does: sheet.ControlDoes[0], Value: "4 V", Worked: "0 V", By: "the key held"}}
	c := side(t, open(t, s), "L0")
	for _, x := range []struct {
		r    Reading
		want string
	}{
		{Reading{Point: "L2", Quantity: sheet.AC}, ""},
		{Reading{Point: "L2", Quantity: sheet.AC, Injected: &Injection{At: "L0"}}, ""},
		{Reading{Point: "R2", Quantity: sheet.AC, Injected: &Injection{At: "R0"}}, ""},
		{Reading{Point: "L2", Quantity: sheet.AC, Injected: &Injection{At: "L1"}}, "fed in at L1"},
		{Reading{Point: "L2", Quantity: sheet.AC, Injected: &Injection{At: "L0", Level: 0.02, Hz: 400}}, "fed in at L0, 20 mV, 400 Hz"},
		{Reading{Point: "MUTE", Quantity: sheet.DC, Worked: true}, "with the key held"},
		{Reading{Point: "L2", Quantity: sheet.AC, Without: []string{"L tone", "L pre"}}, "with L tone and L pre lifted"},
		{Reading{Point: "L2", Quantity: sheet.AC, Instrument: "meter"}, "by the hand meter"},
		{Reading{Point: "L2", Quantity: sheet.DC, Instrument: "meter"}, ""},
	} {
		j := c.Judge(x.r)
		if j.How != x.want {
			t.Errorf("%+v: %q, want %q", x.r, j.How, x.want)
		}
		if x.want != "" && !strings.Contains(j.Told(), "("+x.want+")") {
			t.Errorf("a reason says %q", j.Told())
		}
	}
}

// Everything that the sheet has can be aimed at, what it states there first.
func TestSpots(t *testing.T) {
	s := stereo()
	s.Points = append(s.Points, sheet.Point{Name: "bias pin", Expect: []sheet.Expectation{{Quantity: sheet.Current, Value: "20 mA"}}})
	s.Rails = []sheet.Rail{{Name: "+9 V", Value: "9 V", Fuse: "F1"}}
	s.Tracks = []sheet.Track{{Rail: "+9 V", Place: "C1 +"}}
	kinds := map[string]Spot{}
	for _, x := range Spots(open(t, s).Plan) {
		kinds[x.Name] = x
	}
	if x := kinds["bias pin"]; x.Kind != "point" || x.Quantities[0] != sheet.Current || len(x.Quantities) != len(sheet.Quantities) {
		t.Errorf("%+v", x)
	}
	if x := kinds["L2"]; x.Quantities[0] != sheet.AC {
		t.Errorf("%+v", x)
	}
	for name, kind := range map[string]string{"+9 V": "rail", "F1": "fuse", "+9 V @ C1 +": "place"} {
		if kinds[name].Kind != kind {
			t.Errorf("%s is %+v", name, kinds[name])
		}
	}
}
