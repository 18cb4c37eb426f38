package standin_test

import (
	"math"
	"testing"

	"steptrace/core/circuit"
	"steptrace/core/pattern"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/standin"
)

// level is the rms without DC, in dB against 1 V.
func level(x []float64) float64 {
	mean, sum := 0.0, 0.0
	for _, v := range x {
		mean += v / float64(len(x))
	}
	for _, v := range x {
		sum += (v - mean) * (v - mean)
	}
	return 10 * math.Log10(sum/float64(len(x)))
}

// A good set of every kind shows what its sheet has: each level of each route to half a dB, through mixers, detectors, limiters and
// automatic gain alike; the truth is the sheet's own. With tolerances of its own it stays within what a sheet allows.
func TestGoodSetsShowWhatTheirSheetsHave(t *testing.T) {
	t.Parallel()
	points, worst := 0, 0.0
	for _, p := range pattern.All() {
		s, err := p.Sheet(pattern.Chosen{})
		if err != nil {
			t.Fatal(err)
		}
		plan, _ := s.Printed().Plan()
		exact, _ := standin.New(plan)
		spread, _ := standin.New(plan)
		spread.Spread(7)
		seen := map[[3]string]bool{}
		for i := range plan.Routes {
			r := &plan.Routes[i]
			stand := standin.Stand{On: true, Mode: r.Mode}
			if first := &plan.Points[r.Points[0]]; !first.Source {
				stand.Fed = &standin.Feed{At: first.Name}
			}
			for at, l := range r.Levels {
				if at == 0 || !l.Known || l.Hz == 0 || stand.Fed == nil {
					continue
				}
				name := plan.Points[r.Points[at]].Name
				place := [3]string{r.Mode, plan.Points[r.Points[0]].Name, name}
				if seen[place] { // two ways come together there: the level is that of the first
					continue
				}
				seen[place] = true
				x := exact.Waveform(name, stand, 40*l.Hz, 4000, 0)
				points++
				off := math.Abs(level(x) - l.DBV)
				// What is picked up from elsewhere is not the stand-in's to keep out of microvolts.
				if floor := quantity.DB(30e-6, 1); l.DBV > floor+10 && off > 0.5 {
					t.Errorf("%s, %s at %s: off by %.2f dB", p.Name, r.Mode, name, off)
				}
				if got := level(spread.Waveform(name, stand, 40*l.Hz, 4000, 0)); l.DBV > quantity.DB(1e-3, 1) {
					worst = math.Max(worst, math.Abs(got-l.DBV))
				}
			}
		}
		for i := range plan.Rails {
			r := &plan.Rails[i]
			low, high := r.Tolerance.Bounds(r.Volts)
			if v := spread.Volts(r.Name, standin.Stand{On: true}); !r.Alternates && (v < min(low, high) || v > max(low, high)) {
				t.Errorf("%s: %s has %g V, of %g", p.Name, r.Name, v, r.Volts)
			}
		}
	}
	if points < 400 || worst > 2 || worst < 0.1 {
		t.Errorf("%d points; with tolerances the worst is off by %.2f dB", points, worst)
	}
	t.Logf("%d points; with tolerances the worst is off by %.2f dB", points, worst)
}

// halves is a set of two amplifiers on a rail of its own each, the first with a circuit.
func halves(t *testing.T) *sheet.Plan {
	t.Helper()
	s := &sheet.Sheet{
		Model: "halves",
		Points: []sheet.Point{
			{Name: "in", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}}},
			{Name: "mid"},
			{Name: "out"},
		},
		Stages: []sheet.Stage{
			{Name: "first", Kind: "amplifier", From: "in", To: "mid", Gain: "20 dB", Rails: []string{"+12"}},
			{Name: "second", Kind: "amplifier", From: "mid", To: "out", Gain: "6 dB", Rails: []string{"+12"}},
		},
		Rails: []sheet.Rail{{Name: "+12", Value: "12 V", Load: "50 mA"}},
		Circuits: []sheet.Circuit{{Stage: "first", Parts: []circuit.Part{
			{Name: "V1", Kind: "voltage", Nodes: []string{"+12", "ground"}, Value: "12 V"},
			{Name: "R1", Kind: "resistor", Nodes: []string{"+12", "mid"}, Value: "10k"},
			{Name: "R2", Kind: "resistor", Nodes: []string{"mid", "ground"}, Value: "10k"},
			{Name: "R3", Kind: "resistor", Nodes: []string{"in", "mid"}, Value: "1k"},
			{Name: "C1", Kind: "capacitor", Nodes: []string{"+12", "ground"}, Value: "10 µF"},
		}}},
	}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	return plan
}

// Two faults do what each does; a fault that comes with warmth, or as a joint moves, is there then alone; what is good in its place
// takes it away; a part that shorts a rail takes all down that hangs on it.
func TestFaultsTogetherAndNotAllTheTime(t *testing.T) {
	t.Parallel()
	plan := halves(t)
	on := standin.Stand{On: true, Fed: &standin.Feed{At: "in"}}
	at := func(stand standin.Stand, faults ...standin.Fault) float64 {
		set, err := standin.New(plan, faults...)
		if err != nil {
			t.Fatal(err)
		}
		return level(set.Waveform("out", stand, 40e3, 4000, 0.2))
	}
	good := at(on)
	first := standin.Fault{Block: "first", Effect: standin.Weak, Size: 6}
	second := standin.Fault{Block: "second", Effect: standin.Weak, Size: 9}
	for _, x := range []struct {
		stand  standin.Stand
		faults []standin.Fault
		less   float64
	}{
		{on, []standin.Fault{first}, 6}, {on, []standin.Fault{first, second}, 15},
		{with(on, func(s *standin.Stand) { s.Good = []string{"first"} }), []standin.Fault{first, second}, 9},
		{on, []standin.Fault{when(second, standin.Warm)}, 0},
		{with(on, func(s *standin.Stand) { s.Warm = true }), []standin.Fault{when(second, standin.Warm)}, 9},
		{with(on, func(s *standin.Stand) { s.Heated = []string{"second"} }), []standin.Fault{when(second, standin.Warm)}, 9},
		{with(on, func(s *standin.Stand) { s.Warm, s.Cooled = true, []string{"second"} }), []standin.Fault{when(second, standin.Warm)}, 0},
		{on, []standin.Fault{when(second, standin.Moved)}, 9},
		{with(on, func(s *standin.Stand) { s.Held = []string{"second"} }), []standin.Fault{when(second, standin.Moved)}, 0},
	} {
		if got := good - at(x.stand, x.faults...); math.Abs(got-x.less) > 0.1 {
			t.Errorf("%+v: %.2f dB less, want %g", x.faults, got, x.less)
		}
	}
	if _, err := standin.New(plan, when(first, "at night")); err == nil {
		t.Error("a fault that comes at night is taken")
	}
	short := standin.Fault{Block: "first", Part: "C1", What: "shorted"}
	set, err := standin.New(plan, short)
	if err != nil {
		t.Fatal(err)
	}
	if v := set.Volts("+12", on); v > 1 || !set.PullsDown("+12") {
		t.Errorf("with its capacitor shorted the rail has %g V", v)
	}
	if got := good - at(on, short); got < 40 {
		t.Errorf("with its rail shorted a set gives %.0f dB less", got)
	}
	// R2 shorted draws 0.6 mA more, of 50: the rail hardly moves, and the DC at its node is nothing.
	set, err = standin.New(plan, standin.Fault{Block: "first", Part: "R2", What: "open"})
	if err != nil {
		t.Fatal(err)
	}
	if v := set.Volts("mid", on); math.Abs(v-12) > 0.1 {
		t.Errorf("with R2 open the node has %g V", v)
	}
}

func with(s standin.Stand, f func(*standin.Stand)) standin.Stand { f(&s); return s }

func when(f standin.Fault, w standin.When) standin.Fault { f.When = w; return f }
