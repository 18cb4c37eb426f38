package safety

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// television is a set with about everything that can hurt.
func television(t *testing.T) *sheet.Plan {
	t.Helper()
	s := &sheet.Sheet{Model: "television",
		Points: []sheet.Point{{Name: "in", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}},
			{Name: "collector", Peak: "1.2 kV", Expect: []sheet.Expectation{{Quantity: sheet.Frequency, Value: "15.6 kHz"}}},
			{Name: "screen", Expect: []sheet.Expectation{{Quantity: sheet.DC, Value: "450 V"}}}},
		Stages: []sheet.Stage{
			{Name: "output", From: "in", To: "collector", Gain: "40 dB"},
			{Name: "divider", From: "collector", To: "screen"},
		},
		Rails: []sheet.Rail{{Name: "+150 V", Value: "150 V"}, {Name: "+12 V", Value: "12 V"}},
		Reservoirs: []sheet.Reservoir{
			{Name: "C601", Farads: "220 µF", Volts: "320 V", Bleeder: "220k"},
			{Name: "C610", Rail: "+150 V", Farads: "100 µF"},
		},
		Hazards: []sheet.Hazard{{Kind: "mains", Where: "switch board"}, {Kind: "hot chassis"}, {Kind: "picture tube", Note: "64 cm"}}}
	plan, problems := s.Plan()
	for _, p := range problems {
		if p.Severity == sheet.Blocking {
			t.Fatal(p)
		}
	}
	return plan
}

func TestCautionsAreOfThisSet(t *testing.T) {
	var got []string
	for _, c := range Cautions(television(t)) {
		got = append(got, c.Before+" "+c.Key)
		if !strings.HasPrefix(c.Sign, "W0") || c.Do == "" || c.Title == "" {
			t.Errorf("%+v says too little", c)
		}
		switch c.Key {
		case "reservoir":
			if !slices.Equal(c.Where, []string{"C601, 220 µF at 320 V", "C610, 100 µF at 150 V"}) {
				t.Error(c.Where)
			}
		case "pulses":
			if !slices.Equal(c.Where, []string{"collector, up to 1.2 kV"}) {
				t.Error(c.Where)
			}
		case "high voltage":
			if !slices.Equal(c.Where, []string{"screen, up to 450 V", "rail +150 V"}) {
				t.Error(c.Where)
			}
		}
	}
	want := "open mains, open reservoir, open picture tube, open hot parts, open lead and fumes, live hot chassis, live high voltage, " +
		"live pulses"
	if strings.Join(got, ", ") != want {
		t.Errorf("%v, want %s", got, want)
	}
	keys := func(hazards ...sheet.Hazard) string {
		plan, _ := (&sheet.Sheet{Model: "radio", Hazards: hazards}).Plan()
		var out []string
		for _, c := range Cautions(plan) {
			out = append(out, c.Key)
		}
		return strings.Join(out, ", ")
	}
	if got := keys(); got != "mains, reservoir, hot parts, lead and fumes" {
		t.Errorf("a set of which the sheet says nothing has %s", got)
	}
	if got := keys(sheet.Hazard{Kind: "battery"}); got != "battery, lead and fumes" {
		t.Errorf("a set that runs on a battery has %s", got)
	}
	if got := keys(sheet.Hazard{Kind: "battery"}, sheet.Hazard{Kind: "mains"}); got != "mains, battery, lead and fumes" {
		t.Errorf("a set with both has %s", got)
	}
	for _, kind := range sheet.HazardKinds {
		if !slices.ContainsFunc(rules, func(r rule) bool { return r.kind == kind }) {
			t.Errorf("a sheet may name %q, for which there is no caution", kind)
		}
	}
}

// The fall of a capacitor through a resistor, integrated in small steps
// (trapezoids) instead of by the logarithm.
func fallen(farads, from, ohms, seconds float64) float64 {
	const steps = 20000
	v, h := from, seconds/steps
	for range steps {
		k := h / (2 * ohms * farads)
		v *= (1 - k) / (1 + k)
	}
	return v
}

func TestDischargeMatchesTheIntegral(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	for range 300 {
		farads, volts := math.Pow(10, -6+3.5*rng.Float64()), 20+rng.Float64()*480
		below, seconds := 1+rng.Float64()*9, 1+rng.Float64()*20
		bleeder, through := math.Pow(10, 3+3*rng.Float64()), math.Pow(10, 1+3*rng.Float64())
		d, err := Plan(farads, volts, below, seconds, bleeder, through)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range []struct {
			name          string
			ohms, seconds float64
		}{{"exact", d.Exact, seconds}, {"preferred", d.Ohms, d.Seconds}, {"bleeder", bleeder, d.BleederSeconds}, {"at hand", through,
			d.ThroughSeconds}} {
			if v := fallen(farads, volts, x.ohms, x.seconds); math.Abs(v/below-1) > 1e-3 {
				t.Fatalf(
					"%s: %g F from %g V through %g Ω is at %g V after %g s, not %g",
					x.name,
					farads,
					volts,
					x.ohms,
					v,
					x.seconds,
					below,
				)
			}
		}
		if d.Ohms > d.Exact*(1+1e-9) || d.Ohms < d.Exact/1.25 || math.Abs(quantity.E12.Nearest(d.Ohms)/d.Ohms-1) > 1e-9 {
			t.Fatalf("%g Ω for %g", d.Ohms, d.Exact)
		}
		// What the resistor turns to heat is what the capacitor loses.
		if lost := farads / 2 * (volts*volts - below*below); math.Abs(d.MeanWatts*d.Seconds/lost-1) > 1e-9 ||
			math.Abs(d.Joules-farads/2*volts*volts) > 1e-12*d.Joules {
			t.Fatalf("%g J lost, %g W for %g s", lost, d.MeanWatts, d.Seconds)
		}
		if d.RatedWatts != 0 && (d.RatedWatts < d.MeanWatts || d.RatedWatts*overload < d.PeakWatts) {
			t.Fatalf("%g W do not bear a peak of %g W, mean %g W", d.RatedWatts, d.PeakWatts, d.MeanWatts)
		}
	}
	// By hand: 100 µF at 325 V, below 10 V in 5 s. RC = 5 s/ln 32.5.
	d, err := Plan(100e-6, 325, 10, 5, 0, 0)
	if err != nil || math.Abs(d.Exact-14362.2) > 1 || d.Ohms != 12000 || math.Abs(d.Joules-5.28125) > 1e-9 || d.BleederSeconds != 0 {
		t.Errorf("%+v, %v", d, err)
	}
	// Over a minute no overload is counted on: the peak itself has to be borne.
	if d, err := Plan(10e-3, 63, 5, 60, 0, 0); err != nil || d.RatedWatts < d.PeakWatts || d.RatedWatts > 3*d.PeakWatts {
		t.Errorf("over a minute: %+v, %v", d, err)
	}
	// Over ten seconds, half of the usual allowance.
	if d, err := Plan(10e-3, 63, 5, 10, 0, 0); err != nil || d.RatedWatts*5.6 < d.PeakWatts {
		t.Errorf("over ten seconds: %+v, %v", d, err)
	}
	if d, err := Plan(1e-3, 5, 10, 5, 0, 0); err != nil || d.Ohms != 0 {
		t.Errorf("below already: %+v, %v", d, err)
	}
	for _, x := range [][6]float64{{0, 1, 1, 1, 0, 0}, {1, 0, 1, 1, 0, 0}, {1, 9, 0, 1, 0, 0}, {1, 9, 1, 0, 0, 0}, {1, 9, 1, -1, 0, 0},
		{math.NaN(), 9, 1, 1, 0, 0}, {1, math.Inf(1), 1, 1, 0, 0}} {
		var bad mend.Error
		if _, err := Plan(x[0], x[1], x[2], x[3], x[4], x[5]); !errors.As(err, &bad) {
			t.Errorf("%v: %v", x, err)
		}
	}
}

// The power state at every step of a day at the bench.
func TestPowerStateFollowsWhatWasDone(t *testing.T) {
	plan := television(t)
	var events []Event
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	for _, x := range []struct {
		kind          What
		subject, text string
		state         State
		power         reading.Power
		says          string
	}{
		{Ticked, "mains", "", Unsaid, reading.PowerUnsaid, "Take it for live"},
		{Off, "", "", OffState, reading.PowerOff, "measure C601, C610"},
		{Residual, "C601", "2.1 V", OffState, reading.PowerOff, "measure C610"},
		{Residual, "C610", "41 V", OffState, reading.PowerOff, "measure C610"},
		{Residual, "C610", "-3", Discharged, reading.PowerOff, "every reservoir was measured below 10 V"},
		{Off, "", "", Discharged, reading.PowerOff, "every reservoir"},
		{Standby, "", "", InStandby, reading.PowerStandby, "take it for live"},
		{SwitchedOn, "", "", Live, reading.PowerOn, "The set is on"},
		{Off, "", "", OffState, reading.PowerOff, "measure C601, C610"}, // what was measured before no longer counts
		{Residual, "C610", "1 V", OffState, reading.PowerOff, "measure C601"},
		{Residual, "C601", "0.4 V", Discharged, reading.PowerOff, ""},
		{Residual, "C601", "14 V", OffState, reading.PowerOff, "measure C601"}, // it has come back up
	} {
		e, err := Take(plan, events, Event{Kind: x.kind, Subject: x.subject, Text: x.text, At: now}, true)
		if err != nil {
			t.Fatalf("%s %s %s: %v", x.kind, x.subject, x.text, err)
		}
		events = append(events, e)
		now = now.Add(time.Minute)
		p := Stand(plan, events)
		if p.State != x.state || p.Reading() != x.power || !strings.Contains(p.Says, x.says) {
			t.Errorf("after %s %s %s: %s, %q", x.kind, x.subject, x.text, p.State, p.Says)
		}
	}
	if p := Stand(plan, events); len(p.Ticked) != 1 || p.Ticked[0].Key != "mains" || slices.Contains(p.Open, "Mains") ||
		!slices.Contains(p.Open, "Picture tube") {
		t.Errorf("ticked %v, open %v", p.Ticked, p.Open)
	}
	e, err := Take(plan, events, Event{Kind: Unticked, Subject: "mains"}, false)
	if p := Stand(plan, append(events, e)); err != nil || len(p.Ticked) != 0 || !slices.Contains(p.Open, "Mains") {
		t.Errorf("a tick taken back is still there: %v %v", p.Ticked, err)
	}
	bare, _ := (&sheet.Sheet{Model: "no reservoirs"}).Plan()
	if p := Stand(bare, []Event{{Kind: Off}}); p.State != OffState || !strings.Contains(p.Says, "lists no reservoir") {
		t.Errorf("%s %q", p.State, p.Says)
	}
}

func TestWhatCannotBeTakenDownSaysWhy(t *testing.T) {
	plan := television(t)
	off := []Event{{Kind: Off}}
	for _, x := range []struct {
		name   string
		before []Event
		event  Event
		says   string
	}{
		{"nothing measured", off, Event{Kind: Residual, Subject: "C601", Text: "0"}, "Was C601 measured?"},
		{"0 V in another way", off, Event{Kind: Residual, Subject: "C601", Text: "0.000 mV"}, "Was C601 measured?"},
		{"a value that stands " +
			"already", []Event{{Kind: Off}, {Kind: Residual, Subject: "C601", Text: "12 V", SI: 12}}, Event{Kind: Residual, Subject: "C601",
			Text: "3"}, "C601 was measured already: 12 V. Is C601 at 3 V now"},
		{"while live", []Event{{Kind: SwitchedOn}}, Event{Kind: Residual, Subject: "C601", Text: "3 V"}, "Switch it off"},
		{"in standby", []Event{{Kind: Standby}}, Event{Kind: Residual, Subject: "C601", Text: "3 V"}, "Switch it off"},
		{"no number", off, Event{Kind: Residual, Subject: "C601", Text: "low"}, "character 1"},
		{"wrong unit", off, Event{Kind: Residual, Subject: "C601", Text: "3 Hz"}, "not a voltage"},
		{"AC", off, Event{Kind: Residual, Subject: "C601", Text: "3 Vpp"}, "DC voltage"},
		{"no such reservoir", off, Event{Kind: Residual, Subject: "C9", Text: "3 V"}, "not a reservoir"},
		{"no such caution", off, Event{Kind: Ticked, Subject: "dragons"}, "not among the cautions"},
		{"no such event", off, Event{Kind: "explode"}, "use on, standby, off"},
	} {
		if _, err := Take(plan, x.before, x.event, false); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%s: %v, want %q", x.name, err, x.says)
		}
	}
	// What was measured of the other, or before the set was on again, is no doubt.
	other := []Event{
		{Kind: Residual, Subject: "C601", Text: "12 V", SI: 12},
		{Kind: SwitchedOn},
		{Kind: Off},
		{Kind: Residual, Subject: "C610", Text: "12 V", SI: 12},
	}
	if _, err := Take(plan, other, Event{Kind: Residual, Subject: "C601", Text: "3 V"}, false); err != nil {
		t.Errorf("a first value: %v", err)
	}
	e, err := Take(plan, off, Event{Kind: Residual, Subject: "C601", Text: "0 V"}, true)
	if err != nil || e.SI != 0 {
		t.Errorf("confirmed: %v", err)
	}
}
