package supply

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// receiver has a standby rail, two rails from one winding, and a far board's
// regulator; the +12 V rail has a layout.
func receiver(t *testing.T) trace.Case {
	t.Helper()
	s := &sheet.Sheet{Model: "receiver", Points: []sheet.Point{{Name: "in"}, {Name: "out"}},
		Stages: []sheet.Stage{
			{Name: "amp", From: "in", To: "out", Rails: []string{"+12 V"}},
			{Name: "clock", From: "in", To: "out", Rails: []string{"+5 V standby"}, Modes: []string{"clock"}},
		},
		Rails: []sheet.Rail{
			{Name: "+5 V standby", Value: "5 V", From: "T1 1-2", Rectifier: "full wave D1", Regulator: "IC1", Order: "1"},
			{
				Name:            "+24 V",
				Value:           "24 V",
				From:            "T1 3-4",
				Fuse:            "F2",
				Rectifier:       "full wave D2 to D5",
				Ripple:          "0.9 Vpp",
				RippleFrequency: "100 Hz",
				Load:            "350 mA",
				Ohms:            "60",
				Up:              sheet.WithStart,
			},
			{Name: "-24 V", Value: "-24 V", From: "T1 3-4", Fuse: "F3", Rectifier: "full wave D6, D7", Up: sheet.WithStart},
			{Name: "+12 V", Value: "12 V", From: "+24 V", Regulator: "IC2", Ripple: "20 mVpp", Up: sheet.WithStart}},
		Reservoirs: []sheet.Reservoir{{Name: "C20", Rail: "+24 V", Farads: "4700 µF"}},
		Tracks: []sheet.Track{
			{Rail: "+12 V", Place: "IC2 out"},
			{Rail: "+12 V", Place: "C31 +", After: "IC2 out", Ohms: "6 mΩ", Hangs: []string{"C31", "amp"}},
			{
				Rail:    "+12 V",
				Place:   "P4-1",
				After:   "C31 +",
				Ohms:    "5 mΩ",
				Opens:   "plug P4",
				Minutes: "0.5",
			},
			{Rail: "+12 V", Place: "C40 +", After: "P4-1", Ohms: "8 mΩ", Hangs: []string{"C40", "IC5", "IC6"}},
		}}
	plan, problems := s.Plan()
	for _, p := range problems {
		if p.Severity == sheet.Blocking {
			t.Fatal(p)
		}
	}
	return trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0], Power: reading.PowerOn}}
}

// read types readings: "rail text", with power "off" or "standby" in front
// where the set was, and what was lifted behind a slash.
func read(t *testing.T, c trace.Case, texts ...string) map[string]Rail {
	t.Helper()
	out := map[string]Rail{}
	for _, r := range Explain(c.Plan, find(t, c, texts...)) {
		out[r.Name] = r
	}
	return out
}

func find(t *testing.T, c trace.Case, texts ...string) *trace.Findings {
	t.Helper()
	found := c.Find(taken(t, c, texts...))
	return &found
}

func taken(t *testing.T, c trace.Case, texts ...string) (readings []reading.Reading) {
	t.Helper()
	for i, text := range texts {
		at := c
		for _, p := range []reading.Power{reading.PowerOff, reading.PowerStandby} {
			if rest, ok := strings.CutPrefix(text, string(p)+": "); ok {
				at.Power, text = p, rest
			}
		}
		text, lifted, _ := strings.Cut(text, " / ")
		point, value, _ := strings.Cut(text, " = ")
		r, err := at.Take(reading.Aim{Point: point}, value)
		if err != nil {
			t.Fatalf("%s: %v", text, err)
		}
		if lifted != "" {
			r.Without = strings.Split(lifted, ", ")
		}
		r.ID = fmt.Sprint(i)
		readings = append(readings, r)
	}
	return readings
}

func standing(r Rail, kind Sort) Standing {
	for _, e := range r.Elements {
		if e.Kind == kind {
			return e.Standing
		}
	}
	return "none"
}

// Each rule: what is read, which rail is looked at, how it stands, which
// element is found how, and what the sentence says.
func TestWhichElementExplainsARail(t *testing.T) {
	c := receiver(t)
	for _, x := range []struct {
		name     string
		readings []string
		rail     string
		state    State
		kind     Sort
		standing Standing
		says     string
		next     string
	}{
		{"nothing read", nil, "+24 V", Unread, Mains, Open, "24 V is due, when told to start", "Read +24 V."},
		{"in standby it is not missed", []string{"standby: +24 V = 0 V"}, "+24 V", Waiting, Fuse, Open, "not missed before", ""},
		{"all is well", []string{"+24 V = 24.3"}, "+24 V", Fine, Rectifier, Good, "is good", ""},
		{"dead, nothing else known", []string{"+24 V = 0 V"}, "+24 V", Missing, Mains, Suspect, "in question are mains lead",
			"Read the fuse F2"},
		{"dead, standby there: not " +
			"the mains", []string{"+5 V standby = 5.02", "+24 V = 0 V"}, "+24 V", Missing, Mains, Good, "in question are T1 3-4", ""},
		{"dead, the other half there: not the " +
			"winding", []string{"-24 V = -24.4", "+24 V = 0 V"}, "+24 V", Missing, Winding, Good, "in question are F2", ""},
		{"blown fuse", []string{"+24 V = 0 V", "off: F2 = 5M"}, "+24 V", Missing, Fuse, Faulty, "find the short before a " +
			"new fuse", "Read +24 V to ground"},
		{"whole fuse", []string{"+24 V = 0 V", "off: F2 = 0.1"}, "+24 V", Missing, Fuse, Good, "in question are", "Read +24 V to ground"},
		{"short to ground", []string{"+24 V = 0 V", "off: +24 V = 2.1 ohm"}, "+24 V", Missing, Load, Suspect, "reads 2.1 Ω to ground", ""},
		{"short, read before power", []string{"off: +24 V = 2.1 ohm"}, "+24 V", Shorted, Load, Suspect, "find the short", ""},
		{"no short", []string{"+24 V = 0 V", "off: +24 V = 80 ohm"}, "+24 V", Missing, Load, Good, "in question are", "Read the fuse F2"},
		{"half the frequency", []string{"+24 V = 21", "+24 V = 2.4 Vpp", "+24 V = 50 Hz"}, "+24 V", Low, Rectifier, Faulty,
			"half of the rectifier full wave D2 to D5", ""},
		{"right frequency", []string{"+24 V = 21", "+24 V = 3.5 Vpp", "+24 V = 100 Hz"}, "+24 V", Low, Reservoir, Suspect,
			"at 350 mA of load that leaves 1000 µF of the 4700 µF", ""},
		{"ripple alone", []string{"+24 V = 24", "+24 V = 3.5 Vpp"}, "+24 V", Rippling, Reservoir, Suspect, "that leaves 1000 µF",
			"Read the ripple's frequency"},
		{"low, ripple right", []string{"+24 V = 20", "+24 V = 0.6 Vpp"}, "+24 V", Low, Load, Suspect, "in question are",
			"Read +24 V to ground"},
		{"made from a dead rail", []string{"+24 V = 0 V", "+12 V = 0 V"}, "+12 V", Missing, Parent, Faulty, "made from +24 V, which is " +
			"missing", ""},
		{"made from a good rail", []string{"+24 V = 24.1", "+12 V = 0 V"}, "+12 V", Missing, Regulator, Suspect, "in question are IC2", ""},
		{"far rail dead, near " +
			"unread", []string{"+12 V = 0 V"}, "+12 V", Missing, Parent, Suspect, "in question are", "Read +24 V, which it is made from"},
		{"regulator shorted", []string{"+24 V = 24.1", "+12 V = 19"}, "+12 V", High, Regulator, Suspect, "Switch off", ""},
		{"high without a regulator", []string{"+24 V = 31"}, "+24 V", High, Mains, Suspect, "its load is missing", ""},
		{"ripple behind a regulator", []string{"+24 V = 24.1", "+12 V = 12", "+12 V = 300 mVpp"}, "+12 V", Rippling, Regulator, Suspect,
			"out of regulation", ""},
		{"comes back with the load " +
			"lifted", []string{"+24 V = 24", "+12 V = 0 V", "+12 V = 12.1 / plug P4"}, "+12 V", Missing, Load, Suspect,
			"comes back with plug P4 lifted", ""},
	} {
		r := read(t, c, x.readings...)[x.rail]
		if r.State != x.state || standing(r, x.kind) != x.standing || !strings.Contains(r.Says, x.says) {
			t.Errorf("%s: %s, %s %s, %q", x.name, r.State, x.kind, standing(r, x.kind), r.Says)
		}
		if x.next != "" && !slices.ContainsFunc(r.Next, func(n Check) bool { return strings.HasPrefix(n.Text, x.next) }) {
			t.Errorf("%s: next are %v, want %q", x.name, r.Next, x.next)
		}
	}
}

func TestRailsStandInTheOrderTheyComeUp(t *testing.T) {
	c := receiver(t)
	var names []string
	for _, r := range Explain(c.Plan, &trace.Findings{}) {
		names = append(names, r.Name)
	}
	if got := strings.Join(names, ", "); got != "+5 V standby, +24 V, -24 V, +12 V" {
		t.Error(got)
	}
}

// The ripple of a reservoir against the discharge it stands for, integrated in
// small steps from one peak to the next.
func TestRippleMatchesTheDischarge(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 200 {
		amps, hz, farads := 0.01+rng.Float64()*3, []float64{50, 60, 100, 120, 40e3}[rng.IntN(5)], math.Pow(10, -5+2.5*rng.Float64())
		const steps = 2000
		v := 0.0
		for range steps {
			v -= amps / farads / hz / steps
		}
		// The sum is the same both ways.
		if got := CapacitanceLeft(amps, hz, farads); math.Abs(got/-v-1) > 1e-3 {
			t.Fatalf("%g A, %g Hz, %g F: %g, integrated %g", amps, hz, farads, got, -v)
		}
		if back := CapacitanceLeft(amps, hz, CapacitanceLeft(amps, hz, farads)); math.Abs(back/farads-1) > 1e-3 {
			t.Fatalf("%g F comes back as %g", farads, back)
		}
	}
	if CapacitanceLeft(0, 50, 1) != 0 || CapacitanceLeft(1, 50, math.NaN()) != 0 {
		t.Error("what is not above zero must give 0")
	}
}

// With the fuse bridged, volts that stay down are a short, and volts that come up are none.
func TestABridgedFuseTells(t *testing.T) {
	c := receiver(t)
	down := read(t, c, "+5 V standby = 5.02", "+24 V = 0.1 V", "F2 = none", "+24 V = 0.4 V / F2")["+24 V"]
	if !strings.Contains(down.Says, "pulled to 400 mV with F2 bridged") || down.Hunt == nil || standing(down, Fuse) != Faulty {
		t.Errorf("%s %v", down.Says, down.Elements)
	}
	alone := read(t, c, "+24 V = 0.4 V / F2")["+24 V"]
	if alone.State != Shorted || alone.Hunt == nil || !strings.Contains(alone.Says, "with F2 bridged") {
		t.Errorf("%s: %s", alone.State, alone.Says)
	}
	up := read(t, c, "+24 V = 0.1 V", "F2 = none", "+24 V = 24.2 V / F2")["+24 V"]
	if !strings.Contains(up.Says, "With F2 bridged, +24 V is there") || !strings.Contains(up.Says, "same rating") {
		t.Error(up.Says)
	}
	lifted := read(t, c, "+24 V = 0.1 V / C20")["+24 V"]
	if lifted.State == Shorted {
		t.Errorf("with the reservoir lifted it is %s", lifted.State)
	}
}
