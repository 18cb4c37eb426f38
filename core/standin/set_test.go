package standin

import (
	"math"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
	"steptrace/core/wave"
)

// preamp is a small set: two amplifiers and a detector, a twin of nothing.
func preamp(t *testing.T) *sheet.Plan {
	t.Helper()
	s := &sheet.Sheet{Model: "test", Points: []sheet.Point{
		{Name: "in", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "2 mV"}, {Quantity: sheet.Frequency, Value: "455 kHz"}}},
		{Name: "mid", Expect: []sheet.Expectation{{Quantity: sheet.DC, Value: "6 V"}}},
		{Name: "audio", Expect: []sheet.Expectation{{Quantity: sheet.Frequency, Value: "400 Hz"}}},
		{Name: "out", Expect: []sheet.Expectation{{Quantity: sheet.DC, Value: "5 V"}}},
	}, Stages: []sheet.Stage{
		{Name: "if", Kind: "amplifier", From: "in", To: "mid", Gain: "40 dB", Rails: []string{"+9"}},
		{Name: "detector", Kind: "detector", From: "mid", To: "audio", Gain: "-6 dB"},
		{Name: "af", Kind: "amplifier", From: "audio", To: "out", Gain: "20 dB", Limit: "2 V", Rails: []string{"+9"}},
	}, Rails: []sheet.Rail{{Name: "+9", Value: "9 V", Ripple: "20 mV", RippleFrequency: "100 Hz"}}}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	return plan
}

func at(t *testing.T, s *Set, point string, stand Stand, rate float64) (rms, hz, dc float64) {
	t.Helper()
	ch := wave.Channel{Unit: "V", Samples: s.Waveform(point, stand, rate, 40_000, 1.7)}
	f := ch.Measure(rate, wave.Site{Mains: 50})
	ac, _ := f.Find("ac")
	mean, _ := f.Find("mean")
	frequency, _ := f.Find("frequency")
	return ac.Value, frequency.Value, mean.Value
}

// In order, every level follows from the gains: 2 mV, 200 mV, 100 mV, 1 V (to a
// hundredth: its own noise), at the sheet's frequencies, on the sheet's DC.
func TestInOrderTheLevelsAreTheSheets(t *testing.T) {
	s, err := New(preamp(t), Fault{})
	if err != nil {
		t.Fatal(err)
	}
	on := Stand{On: true}
	for point, want := range map[string][4]float64{"in": {0.002, 455e3, 0, 1e7}, "mid": {0.2, 455e3, 6, 1e7}, "audio": {0.2 * math.Pow(10,
		-0.3), 400, 0, 50e3}, "out": {2 * math.Pow(10, -0.3), 400, 5, 50e3}} {
		rms, hz, dc := at(t, s, point, on, want[3])
		if math.Abs(rms/want[0]-1) > 0.01 || math.Abs(hz/want[1]-1) > 1e-3 || math.Abs(dc-want[2]) > 0.01 {
			t.Errorf("%s: %g V at %g Hz on %g V", point, rms, hz, dc)
		}
	}
	if rms, _, dc := at(t, s, "out", Stand{}, 50e3); rms > 1e-3 || dc != 0 && math.Abs(dc) > 1e-3 {
		t.Errorf("off, there are %g V on %g V", rms, dc)
	}
	// A generator takes the place of the set's own signal; upstream of it nothing comes.
	fed := Stand{On: true, Fed: &Feed{At: "audio", RMS: 0.05, Hz: 1000}}
	if rms, hz, _ := at(t, s, "out", fed, 50e3); math.Abs(rms-0.5) > 0.01 || math.Abs(hz-1000) > 1 {
		t.Errorf("50 mV fed in become %g V at %g Hz", rms, hz)
	}
	if rms, _, _ := at(t, s, "mid", fed, 1e7); rms > 1e-3 {
		t.Errorf("%g V before the generator", rms)
	}
	// Beyond its limit it clips: no more than its peak.
	loud := Stand{On: true, Fed: &Feed{At: "audio", RMS: 1, Hz: 1000}}
	x := s.Waveform("out", loud, 50e3, 5000, 0)
	for _, v := range x {
		if math.Abs(v-5) > 2*math.Sqrt2*1.06 { // the band limits round the edges
			t.Fatalf("%g V beyond a limit of 2 V rms", v-5)
		}
	}
}

// Each fault does what its name says, behind the block it is in and not before.
func TestFaultsShowBehindTheirBlock(t *testing.T) {
	plan := preamp(t)
	on := Stand{On: true}
	good, _ := New(plan, Fault{})
	usual, _, _ := at(t, good, "out", on, 50e3)
	before, _, _ := at(t, good, "mid", on, 1e7)
	for _, fault := range []Fault{{Block: "af", Effect: Dead}, {Block: "af", Effect: Weak, Size: 17.2}, {Block: "af", Effect: Distorted},
		{Block: "af", Effect: Noisy}, {Block: "af", Effect: Hum}, {Block: "af", Effect: CuttingOut}, {Block: "+9", Effect: Dead}} {
		s, err := New(plan, fault)
		if err != nil {
			t.Fatal(err)
		}
		samples := wave.Channel{Unit: "V", Samples: s.Waveform("out", on, 50e3, 50_000, 0)}
		ref := wave.Reference{Channel: wave.Channel{Unit: "V", Samples: good.Waveform("out", on, 50e3, 50_000, 0)}, Rate: 50e3}
		c, ok := wave.Compare(&samples, 50e3, &ref, wave.Site{Mains: 50})
		if !ok || len(c.Defects) == 0 {
			t.Fatalf("%+v does not show", fault)
		}
		want := map[Effect]wave.DefectKind{Dead: wave.AbsentSignal, Weak: wave.LowLevel, Distorted: wave.ClippedTop, Noisy: wave.Noise,
			Hum: wave.HumDouble, CuttingOut: wave.CuttingOut}[fault.Effect]
		if c.Defects[0].Kind != want {
			t.Errorf("%+v shows as %s", fault, c.Defects[0].Kind)
		}
		if rms, _, _ := at(t, s, "mid", on, 1e7); fault.Block == "af" && math.Abs(rms/before-1) > 0.01 {
			t.Errorf("%+v shows before it: %g V", fault, rms)
		}
		if fault.Effect == Weak {
			if rms, _, _ := at(t, s, "out", on, 50e3); math.Abs(20*math.Log10(usual/rms)-17.2) > 0.1 {
				t.Errorf("17.2 dB less are %g V of %g V", rms, usual)
			}
		}
	}
	dead, _ := New(plan, Fault{Block: "+9", Effect: Dead})
	if v := dead.Volts("+9", on); math.Abs(v) > 0.1 {
		t.Errorf("a dead rail has %g V", v)
	}
	if v := dead.Volts("mid", on); math.Abs(v) > 0.1 {
		t.Errorf("without its rail a stage has %g V", v)
	}
	off, err := New(plan, Fault{Block: "detector", Effect: Drifted})
	if err != nil {
		t.Fatal(err)
	}
	if _, hz, _ := at(t, off, "out", on, 50e3); math.Abs(hz/(400*driftRatio)-1) > 1e-3 {
		t.Errorf("a detector that is off gives %g Hz", hz)
	}
	for _, bad := range []Fault{{Block: "no such", Effect: Dead}, {Block: "af", Effect: "sad"}, {Block: "af", Part: "R1", What: "open"},
		{Block: "af", Effect: Drifted}, {Block: "+9", Effect: Drifted}} {
		if _, err := New(plan, bad); err == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
}

// A line output that is dead takes with it what is made from its pulses; one that is noisy does not.
func TestARailMadeFromASignalGoesWithIt(t *testing.T) {
	s := &sheet.Sheet{
		Model:  "deflection",
		Points: []sheet.Point{{Name: "drive", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "20 V"}}}, {Name: "pulses"}},
		Rails:  []sheet.Rail{{Name: "+24 V", Value: "24 V", From: "pulses"}, {Name: "+5 V", Value: "5 V"}},
		Stages: []sheet.Stage{{Name: "line output", Kind: "amplifier", From: "drive", To: "pulses", Gain: "10 dB"}},
	}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	for effect, want := range map[Effect]float64{Dead: 0.24, Weak: 24 * weakRail, Noisy: 24} {
		set, err := New(plan, Fault{Block: "line output", Effect: effect})
		if err != nil {
			t.Fatal(err)
		}
		if v := set.Volts("+24 V", Stand{On: true}); math.Abs(v-want) > 0.01 {
			t.Errorf("with a line output that is %s +24 V reads %g V, want %g", effect, v, want)
		}
		if v := set.Volts("+5 V", Stand{On: true}); v != 5 {
			t.Errorf("+5 V reads %g V", v)
		}
	}
}

// A lead on the point before its own: the stage that is passed by is missing in the level, 20 dB of it; at that stage's own output all is
// right, as are the volts; and what is fed in at the point that the lead should be on comes out nowhere. No frequency is made of nothing.
func TestALeadOnThePointBefore(t *testing.T) {
	t.Parallel()
	s := sheettest.Chain(4, "20 dB")
	s.Points[2].Expect = append(s.Points[2].Expect, sheet.Expectation{Quantity: sheet.DC, Value: "4 V"})
	plan, _ := s.Plan()
	set, err := New(plan, Fault{Block: "s2", Effect: Miswired})
	if err != nil {
		t.Fatal(err)
	}
	level := func(at string, fed *Feed) float64 {
		ch := wave.Channel{Samples: set.Waveform(at, Stand{On: true, Fed: fed}, 50e3, 5000, 0)}
		return quantity.DB(ch.RMS(), 1)
	}
	for _, x := range []struct {
		at    string
		fed   *Feed
		least float64
		most  float64
	}{
		{"p2", nil, -0.1, 0.1}, {"p3", nil, -0.1, 0.1}, {"p4", nil, 19.9, 20.1}, // 10 mV are −40 dBV; without s1, 20 dB less from p3 on
		{"p3", &Feed{At: "p1", RMS: 0.1, Hz: 1e3}, -0.1, 0.1},
		{"p3", &Feed{At: "p2", RMS: 1, Hz: 1e3}, -200, -40},
	} {
		if got := level(x.at, x.fed); got < x.least || got > x.most {
			t.Errorf("%s, %+v: %.2f dBV", x.at, x.fed, got)
		}
	}
	if v := set.Volts("p2", Stand{On: true}); math.Abs(v-4) > 1e-9 {
		t.Errorf("%g V where nothing is wrong", v)
	}
	if _, err := New(plan, Fault{Block: "nothing", Effect: Miswired}); err == nil {
		t.Error("a lead of what is not there")
	}
}

// Feedback of 20 dB around three stages, by Black's formula: what is weak by 20 dB lacks 5.58 dB behind it and gets 14.42 dB more before
// it; before what is dead all is 20 dB too strong, as everything is without the way back; with that lifted, each stage shows what it is.
// Hum is less by ten behind the stage that brings it in, and nine tenths of it stand before it. What is before the loop has none of it.
func TestFeedbackAroundSeveralStages(t *testing.T) {
	t.Parallel()
	s := sheettest.Chain(4, "20 dB")
	s.Points[0].Expect[0].Value = "10 µV"
	s.Stages = append(s.Stages, sheet.Stage{Name: "back", Kind: "feedback", From: "p4", To: "p1"})
	plan, problems := s.Plan()
	if sheet.Blocked(problems) || len(plan.Loops) != 1 {
		t.Fatal(problems, plan.Loops)
	}
	off := func(at string, lifted bool, faults ...Fault) float64 { // dB beside what it should be
		set, err := New(plan, faults...)
		if err != nil {
			t.Fatal(err)
		}
		stand := Stand{On: true}
		if lifted {
			stand.Good = []string{"back"}
		}
		ch := wave.Channel{Samples: set.Waveform(at, stand, 50e3, 50e3, 0)}
		k, _ := plan.PointIndex(at)
		return quantity.DB(ch.RMS(), 10e-6) - 20*float64(k)
	}
	weak, dead := Fault{Block: "s2", Effect: Weak, Size: 20}, Fault{Block: "s3", Effect: Dead}
	hum := func(share float64) float64 { return 10 * math.Log10(1+share*share) }
	for _, x := range []struct {
		at     string
		lifted bool
		fault  Fault
		want   float64
	}{
		{"p4", false, Fault{}, 0}, {"p4", true, Fault{}, 20}, {"p1", false, weak, 0}, {"p2", false, weak, 14.42},
		{"p3", false, weak, -5.58},
		{"p4", false, weak, -5.58}, {"p2", true, weak, 20}, {"p3", true, weak, 0}, {"p2", false, dead, 20},
		{"p3", false, dead, 20},
		{"p4", false, Fault{Block: "back", Effect: Dead}, 20}, {"p3", false, Fault{Block: "s2", Effect: Hum}, hum(0.04)},
		{"p4", false, Fault{Block: "s2", Effect: Hum}, hum(0.04)}, {"p2", false, Fault{Block: "s2", Effect: Hum}, hum(0.36)},
		{"p3", true, Fault{Block: "s2", Effect: Hum}, 10 * math.Log10(100+0.4*0.4)},
	} {
		if got := off(x.at, x.lifted, x.fault); math.Abs(got-x.want) > 0.15 {
			t.Errorf("%s, lifted %t, with %+v: %.2f dB, want %.2f", x.at, x.lifted, x.fault, got, x.want)
		}
	}
}

// A signal that comes by two ways at once is their sum: with one dead, what is left is the other's fifth, or its own four; with both good
// it is as the sheet has it, and with both dead nothing.
func TestTwoWaysAtOnce(t *testing.T) {
	t.Parallel()
	s := sheettest.Chain(3, "0 dB")
	s.Stages = append(s.Stages, sheet.Stage{Name: "beside", From: "p1", To: "p2", Gain: "0 dB"})
	plan, problems := s.Plan()
	if sheet.Blocked(problems) || len(plan.Routes) != 2 {
		t.Fatal(problems, len(plan.Routes))
	}
	left := map[string]float64{"": 1, plan.Stages[plan.Routes[0].Stages[1]].Name: 0.2, plan.Stages[plan.Routes[1].Stages[1]].Name: 0.8}
	for block, want := range left {
		var faults []Fault
		if block != "" {
			faults = []Fault{{Block: block, Effect: Dead}}
		}
		set, err := New(plan, faults...)
		if err != nil {
			t.Fatal(err)
		}
		ch := wave.Channel{Samples: set.Waveform("p3", Stand{On: true}, 50e3, 5000, 0)}
		if got := ch.RMS() / 0.01; math.Abs(got-want) > 0.01 {
			t.Errorf("with %q dead %.3f is left, want %.3f", block, got, want)
		}
	}
}
