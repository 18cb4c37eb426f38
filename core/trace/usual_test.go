package trace

import (
	"math"
	"strings"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

// usualChain is a chain whose levels are no more than usual.
func usualChain() *sheet.Sheet {
	s := sheettest.Chain(4, "")
	for i := range s.Points {
		s.Points[i].Expect = []sheet.Expectation{{Quantity: sheet.AC, Value: "500 mV", Tolerance: "usual"}}
	}
	return s
}

// A usual level can be told as dead or far too low, never by how many dB: 14 dB to either side of
// 500 mV is 100 mV to 2.5 V.
func TestAUsualLevelIsABroadBand(t *testing.T) {
	c := open(t, usualChain())
	for text, want := range map[string][2]string{
		"500 mV": {"within", ""}, "110 mV": {"within", ""}, "2.4 V": {"within", ""},
		"90 mV": {"low", "far too low"}, "2.9 V": {"high", "far too high"}, "4 mV": {"absent", ""},
	} {
		r, err := c.Take(reading.Aim{Point: "p2"}, text)
		if err != nil {
			t.Fatal(err)
		}
		j := c.Judge(r)
		if string(j.Verdict) != want[0] || j.Off != want[1] || j.Expected != "usually 100 mV to 2.5 V" || j.Source != sheet.Usual {
			t.Errorf("%s: %s %q, expected %q from %q", text, j.Verdict, j.Off, j.Expected, j.Source)
		}
	}
}

// What is worked out from something usual is usual; where the manual knows it is the manual's.
func TestTheVaguerSourceCounts(t *testing.T) {
	s := sheettest.Chain(3, "20 dB")
	s.Stages[1].Gain = "usual 20 dB"
	levels := open(t, s).Route.Levels
	for i, want := range []sheet.Source{sheet.FromManual, sheet.FromManual, sheet.Usual, sheet.Usual} {
		if levels[i].Source != want {
			t.Errorf("p%d is from %q, want %q", i, levels[i].Source, want)
		}
	}
	if levels[1].Tolerance.Low != 2 || levels[2].Tolerance.Low != 14 {
		t.Errorf("tolerances %v, %v", levels[1].Tolerance, levels[2].Tolerance)
	}
}

// A level within what is usual shows that the signal passes, and clears all before it as long as
// nothing arrives further on. Where something arrives that is only weak it clears nothing: the
// weak stage may be before it.
func TestAUsualLevelClearsOnlyWhatIsDead(t *testing.T) {
	c := open(t, usualChain())
	left := func(exit quantity.Word) string {
		f := c.Find([]reading.Reading{
			{ID: "1", Point: "p2", Quantity: sheet.AC, SI: 0.3, Form: quantity.RMS},
			{ID: "2", Point: "p4", Quantity: sheet.AC, Word: exit},
		})
		var out []string
		for _, s := range f.Stages {
			if s.Standing == Suspect || s.Standing == Faulty {
				out = append(out, s.Name)
			}
		}
		return strings.Join(out, " ")
	}
	if got := left(quantity.Nothing); got != "s2 s3" {
		t.Errorf("nothing arrives: %s", got)
	}
	if got := left(quantity.Weak); got != "s0 s1 s2 s3" {
		t.Errorf("it is weak: %s", got)
	}
	// It makes them less likely all the same.
	f := c.Find([]reading.Reading{
		{ID: "1", Point: "p2", Quantity: sheet.AC, SI: 0.3, Form: quantity.RMS},
		{ID: "2", Point: "p4", Quantity: sheet.AC, Word: quantity.Weak},
	})
	if f.Stages[0].Weight >= 0.7*f.Stages[3].Weight {
		t.Errorf("before it %g, behind it %g", f.Stages[0].Weight, f.Stages[3].Weight)
	}
}

// usualHides is what its comment says: numerically, over faults and places in the band.
func TestWhatAUsualBandHides(t *testing.T) {
	const band = 28.0
	inside, n := 0, 0
	for fault := 6.0; fault <= 30; fault += 0.01 {
		for place := 0.0; place < band; place += 0.1 {
			if n++; place-fault >= 0 {
				inside++
			}
		}
	}
	if got := float64(inside) / float64(n); math.Abs(got-usualHides) > 0.01 {
		t.Errorf("stays inside in %.3f of all", got)
	}
}

// The good channel says more than what is usual: where it was read it is what is due.
func TestTheTwinIsBetterThanWhatIsUsual(t *testing.T) {
	s := sheettest.Stereo()
	for i := range s.Points {
		s.Points[i].Expect = []sheet.Expectation{{Quantity: sheet.AC, Value: "300 mV", Tolerance: "usual"}}
	}
	s.Points[0].Expect[0].Tolerance, s.Points[4].Expect[0].Tolerance = "", ""
	c := side(t, open(t, s), "R0")
	log := []reading.Reading{
		{ID: "1", Point: "R3", Quantity: sheet.AC, Word: quantity.OK},
		{ID: "2", Point: "R2", Quantity: sheet.AC, SI: 1, Form: quantity.RMS},
	}
	l := side(t, c, "L0")
	r, err := l.Take(reading.Aim{Point: "L2"}, "200 mV")
	if err != nil {
		t.Fatal(err)
	}
	// The good channel's exit was heard good while it was fed in itself.
	for i := range log {
		log[i].Injected = &reading.Injection{At: "R0"}
	}
	r.Injected = &reading.Injection{At: "L0"}
	f := l.Find(append(log, r))
	if j := f.Readings[2]; j.Verdict != reading.Low || j.Twin != "R2" || j.Off != "−14 dB" || j.Source != sheet.FromGood {
		t.Errorf("%s %q by twin %q from %q: %s", j.Verdict, j.Off, j.Twin, j.Source, j.Note)
	}
}
