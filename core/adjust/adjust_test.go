package adjust

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/internal/trial"
)

// amplifier is an invented set with two channels.
func amplifier(t *testing.T) *sheet.Plan {
	t.Helper()
	return planOf(t, &sheet.Sheet{
		Model:  "Orlin 40",
		Points: []sheet.Point{{Name: "in"}, {Name: "TP1"}, {Name: "out"}},
		Stages: []sheet.Stage{{Name: "driver", From: "in", To: "TP1"}, {Name: "output", From: "TP1", To: "out"}},
		Rails: []sheet.Rail{
			{Name: "+V", Value: "41 V", Load: "1.2 A"}, {Name: "-V", Value: "-41 V", Load: "1.2 A"},
			{Name: "+18 V", Value: "18 V", From: "+V", Load: "60 mA"},
			{Name: "+5 V", Value: "5 V", Load: "200 mA"},
		},
		Adjustments: []sheet.Adjustment{
			{
				Name:       "offset",
				Kind:       "offset",
				Turn:       "P2",
				Measure:    "out",
				Target:     "0 V",
				After:      []string{"idle A"},
				Conditions: []string{"no load"},
			},
			{
				Name: "idle A", Kind: "bias", Turn: "P1", Measure: "across R9", Target: "22 mV", Ohms: "0R47", Volts: "+V",
				Conditions: []string{"no signal", "no load"}, Warm: "10", Twin: "idle B",
			},
			{Name: "idle B", Kind: "bias", Turn: "P3", Measure: "across R29", Target: "22 mV", Ohms: "0R47", Volts: "+V"},
			{Name: "hum", Kind: "null", Turn: "P4", Target: "least", Quantity: sheet.AC, Turns: "0.75"},
			{Name: "picture width", Turn: "L1", Target: "by eye"},
			{Name: "unknown", Turn: "P5"},
		},
	})
}

func planOf(t *testing.T, s *sheet.Sheet) *sheet.Plan {
	t.Helper()
	plan, problems := s.Plan()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	return plan
}

func find(t *testing.T, all []Standing, name string) Standing {
	t.Helper()
	for _, s := range all {
		if s.Name == name {
			return s
		}
	}
	t.Fatalf("no adjustment %s", name)
	return Standing{}
}

// log is a job's entries being noted one minute after the other.
type log struct {
	t    *testing.T
	plan *sheet.Plan
	list []Entry
	at   time.Time
}

func (l *log) note(e Entry) {
	l.t.Helper()
	l.at = l.at.Add(time.Minute)
	e.At = l.at
	err := e.Fits(l.plan, l.list)
	if err == nil {
		err = Take(l.plan, &e)
	}
	if err != nil {
		l.t.Fatal(err)
	}
	l.list = append(l.list, e)
}

func (l *log) says(name string, now Now) string {
	l.t.Helper()
	return find(l.t, Look(l.plan, l.list, now), name).Says
}

// An adjustment from the first condition to what is left, and what is said at each step.
func TestAnAdjustmentIsLedThrough(t *testing.T) {
	plan := amplifier(t)
	began := time.Date(2026, 11, 3, 10, 0, 0, 0, time.UTC)
	l := &log{t: t, plan: plan, at: began}
	now := Now{At: began, Off: true}
	is := func(name, part string) {
		t.Helper()
		if got := l.says(name, now); !strings.Contains(got, part) {
			t.Errorf("%s: %q, expected %q in it", name, got, part)
		}
	}
	is("idle A", "switch it on")
	now = Now{At: began, On: &began}
	is("idle A", "First: no signal")
	l.note(Entry{Adjustment: "idle A", Tick: &Tick{Condition: "no signal"}})
	l.note(Entry{Adjustment: "idle A", Tick: &Tick{Condition: "no load"}})
	is("idle A", "Read R9 before P1 is touched")
	l.note(Entry{Adjustment: "idle A", Read: &Read{Text: "80 mA"}}) // a current is the volts that it makes: 0.08 · 0.47
	if got := l.list[len(l.list)-1].Read.SI; math.Abs(got-0.0376) > 1e-12 {
		t.Errorf("80 mA across 0.47 Ω is %g V", got)
	}
	now.At = began.Add(5 * time.Minute)
	is("idle A", "another 5 min")
	now.At = began.Add(10 * time.Minute)
	is("idle A", "Turn P1 slowly until R9 shows 22 mV: it is high by 16 mV")
	if err := (&Entry{Adjustment: "idle A", Left: &Left{}}).Fits(plan, l.list); err == nil || !strings.Contains(err.Error(), "say why") {
		t.Errorf("left high without a reason: %v", err)
	}
	l.note(Entry{Adjustment: "idle A", Read: &Read{Text: "22.5 mV"}})
	l.note(Entry{Adjustment: "idle A", Left: &Left{}})
	s := find(t, Look(plan, l.list, now), "idle A")
	if s.State != Done || s.Before.Text != "80 mA" || s.After.Text != "22.5 mV" {
		t.Errorf("%+v", s)
	}
	if other := find(t, Look(plan, l.list, now), "idle B"); other.Other != "22.5 mV" || other.OtherName != "idle A" {
		t.Errorf("the other channel shows %q of %q", other.Other, other.OtherName)
	}
	// What it moves is asked for once more when it was turned since.
	l.note(Entry{Adjustment: "offset", Tick: &Tick{Condition: "no load"}})
	l.note(Entry{Adjustment: "offset", Read: &Read{Text: "4 mV"}})
	l.note(Entry{Adjustment: "offset", Left: &Left{}})
	if s := find(t, Look(plan, l.list, now), "offset"); s.State != Done {
		t.Errorf("offset: %s", s.State)
	}
	l.note(Entry{Adjustment: "idle A", Left: &Left{}})
	if s := find(t, Look(plan, l.list, now), "offset"); s.State != Again || !strings.Contains(s.Doubt, "idle A was turned since") {
		t.Errorf("offset after the idle current was turned: %s, %q", s.State, s.Doubt)
	}
	// A repair begins anew.
	now.Repaired = l.at.Add(time.Second)
	if s := find(t, Look(plan, l.list, now), "idle A"); s.State != Again || s.Before != nil || !s.Readings[0].Earlier ||
		s.Conditions[0].Ticked {
		t.Errorf("after a repair: %+v", s)
	}
}

func TestWhatCannotBeJudgedSaysSo(t *testing.T) {
	l := &log{t: t, plan: amplifier(t), at: time.Date(2026, 11, 3, 10, 0, 0, 0, time.UTC)}
	l.note(Entry{Adjustment: "unknown", Read: &Read{Text: "3.3 V"}})
	if got := l.says("unknown", Now{At: l.at}); !strings.Contains(got, "No target is known") {
		t.Error(got)
	}
	l.note(Entry{Adjustment: "picture width", Read: &Read{Text: "bad"}})
	if s := find(t, Look(l.plan, l.list, Now{At: l.at}), "picture width"); s.After.Verdict != TooLow {
		t.Error(s.After)
	}
	for text, e := range map[string]Entry{
		"no adjustment called":  {Adjustment: "idle C", Read: &Read{Text: "1 V"}},
		"no condition":          {Adjustment: "idle A", Tick: &Tick{Condition: "sober"}},
		"write good, or bad":    {Adjustment: "picture width", Read: &Read{Text: "fine"}},
		"is a frequency":        {Adjustment: "idle A", Read: &Read{Text: "3 Hz"}},
		"no place of a control": {Adjustment: "hum", Read: &Read{Text: "3 mV", Position: "north"}},
		"one thing":             {Adjustment: "hum", Read: &Read{Text: "3 mV"}, Warm: &Warm{}},
		"write down what":       {Setting: &Setting{Item: "tint", Value: "4", How: Changed}},
		"cannot be":             {Heat: &Heat{Watts: "90 kW"}},
	} {
		err := e.Fits(l.plan, l.list)
		if err == nil {
			err = Take(l.plan, &e)
		}
		if err == nil || !strings.Contains(err.Error(), text) {
			t.Errorf("%v, expected %q", err, text)
		}
	}
}

func TestOrderFollowsWhatMovesWhat(t *testing.T) {
	var names []string
	for _, s := range Look(amplifier(t), nil, Now{}) {
		names = append(names, s.Name)
	}
	if got := strings.Join(names, " "); got != "idle A offset idle B hum picture width unknown" {
		t.Error(got)
	}
	circle, _ := (&sheet.Sheet{Model: "x", Rails: []sheet.Rail{{Name: "+V", Value: "9 V"}}, Adjustments: []sheet.Adjustment{
		{Name: "one", After: []string{"two"}}, {Name: "two", After: []string{"one"}}}}).Plan()
	if got := Order(circle); len(got) != 2 {
		t.Errorf("a circle gives %v", got)
	}
}

func TestPlacesOfControls(t *testing.T) {
	for text, want := range map[string]float64{
		"40 %": 0.4, "0.4": 0.4, "7:00": 0, "12 o'clock": 0.5, "10:30": 0.35, "5:00": 1,
		"2 o’clock": 0.7, "3 turns": 0.2, "1 1/2 turns": 0.1,
	} {
		if got, err := PlaceOf(text, 15); err != nil || math.Abs(got-want) > 1e-12 {
			t.Errorf("%s: %g, %v, expected %g", text, got, err, want)
		}
	}
	for _, text := range []string{"", "6:00", "140 %", "-3", "16 turns", "noon", "13:00", "1/0 turns"} {
		if got, err := PlaceOf(text, 15); err == nil {
			t.Errorf("%q is read as %g", text, got)
		}
	}
}

// Currents, dissipation, what comes from the mains and how warm the cabinet gets, against Ohm's and Joule's laws written
// out for the very values.
func TestHeatAgainstClosedForms(t *testing.T) {
	plan := amplifier(t)
	i, _ := plan.Adjustment("idle A")
	near := func(what string, got, want float64) {
		t.Helper()
		if math.Abs(got/want-1) > 1e-9 {
			t.Errorf("%s: %g, expected %g", what, got, want)
		}
	}
	c, ok := CurrentOf(&plan.Adjustments[i], 0.033, quantity.Volt)
	near("current", c.Amps, 0.033/0.47)
	near("watts", c.Watts, 0.033/0.47*41)
	if _, ok2 := CurrentOf(&plan.Adjustments[0], 0.033, quantity.Volt); !ok || ok2 {
		t.Error("a current where no resistor is said")
	}
	idle := IdleOf(plan, map[string]float64{"idle A": 0.05, "idle B": 0.07}, 3, 0.1)
	rails := 82*0.12 + 41*0.06 + 5*0.2 // both channels from rail to rail, the regulator's current from its rail, the small rail
	near("rails", idle.Rails, rails)
	near("mains", idle.Mains, rails/0.9+3)

	rng := rand.New(rand.NewPCG(5, 5))
	for range trial.Runs(500) {
		watts, room, rise := 5+60*rng.Float64(), 15+15*rng.Float64(), 3+40*rng.Float64()
		warm, allowed := room+10*rng.Float64(), room+15+50*rng.Float64()
		cab, err := CabinetOf(watts, room+rise, room, warm, allowed)
		if err != nil {
			t.Fatal(err)
		}
		near("thermal resistance", cab.PerWatt, rise/watts)
		near("inside", cab.Inside, warm+rise)
		near("most", cab.Most, (allowed-warm)*watts/rise)
	}
	for _, bad := range [][5]float64{{0, 40, 20, 35, 60}, {10, 20, 20, 35, 60}, {10, 40, 20, 70, 60}, {math.NaN(), 40, 20, 35, 60}} {
		if _, err := CabinetOf(bad[0], bad[1], bad[2], bad[3], bad[4]); err == nil {
			t.Errorf("%v is judged", bad)
		}
	}
}

// A trimmer in a divider has a closed form: what an eighth of a turn does, what stands at the stops, where the target is.
func TestSlopeAgainstADivider(t *testing.T) {
	plan := planOf(t, &sheet.Sheet{
		Model:  "x",
		Points: []sheet.Point{{Name: "a"}, {Name: "TP"}},
		Stages: []sheet.Stage{{Name: "S", From: "a", To: "TP"}},
		Circuits: []sheet.Circuit{{Stage: "S", Parts: []circuit.Part{
			{Name: "V1", Kind: circuit.Voltage, Nodes: []string{"+", "ground"}, Value: "12 V"},
			{Name: "R1", Kind: circuit.Resistor, Nodes: []string{"+", "hot"}, Value: "3k3"},
			{Name: "P1", Kind: circuit.Pot, Nodes: []string{"hot", "TP", "cold"}, Value: "1k", Also: map[string]string{"at": "0.25"}},
			{Name: "R2", Kind: circuit.Resistor, Nodes: []string{"cold", "ground"}, Value: "2k2"},
		}}},
		Adjustments: []sheet.Adjustment{{Name: "line", Turn: "P1", Measure: "TP", Target: "4.5 V", Stage: "S", Turns: "0.75"}},
	})
	s, ok := SlopeOf(plan, &plan.Adjustments[0])
	if !ok {
		t.Fatal("no slope")
	}
	volts := func(at float64) float64 { return 12 * (2200 + 1000*(1-at)) / 6500 }
	for what, pair := range map[string][2]float64{
		"reads": {s.Reads, volts(0.25)}, "first stop": {s.First, volts(0)}, "last stop": {s.Last, volts(1)},
		"an eighth": {s.Eighth, volts(0.25+1./6) - volts(0.25)}, "back": {s.Back, volts(0.25-1./6) - volts(0.25)},
		"reaches": {s.Reaches, 1 - (4.5*6500/12-2200)/1000},
	} {
		if math.Abs(pair[0]/pair[1]-1) > 1e-5 {
			t.Errorf("%s: %g, expected %g", what, pair[0], pair[1])
		}
	}
	if got := Offered(plan); len(got) != 0 {
		t.Errorf("offered though the sheet has it: %v", got)
	}
}

// The sensitivity of an output stage's bias against its circuit solved twice, a hundredth of the travel apart, by what is
// written in it and not by turning.
func TestSlopeOfBiasAgainstTwoSolutions(t *testing.T) {
	var family circuit.Family
	for _, f := range circuit.Families() {
		if f.Name == "Class-AB output with trimmer" {
			family = f
		}
	}
	at := func(place string) float64 {
		c := circuit.Circuit{Parts: append([]circuit.Part{}, family.Parts...)}
		for i := range c.Parts {
			if c.Parts[i].Name == "VR1" {
				c.Parts[i].Also = map[string]string{"at": place}
			}
		}
		net, problems := c.Read()
		if len(problems) > 0 {
			t.Fatal(problems)
		}
		rest, err := net.Rest()
		if err != nil {
			t.Fatal(err)
		}
		return rest.Volts["upper emitter"] - rest.Volts["out"]
	}
	plan := planOf(t, &sheet.Sheet{
		Model:    "x",
		Points:   []sheet.Point{{Name: "in"}, {Name: "out"}},
		Stages:   []sheet.Stage{{Name: "S", From: "in", To: "out"}},
		Circuits: []sheet.Circuit{{Stage: "S", Parts: family.Parts}},
	})
	offered := Offered(plan)
	if len(offered) != 1 || offered[0].Kind != "bias" || offered[0].Measure != "across R4" {
		t.Fatalf("offered %+v", offered)
	}
	adjusted, err := plan.Sheet.Adjusted("", offered[0])
	if err != nil {
		t.Fatal(err)
	}
	plan, _ = adjusted.Plan()
	plan.Adjustments[0].Turns = 12.5 // an eighth of a turn is a hundredth of the travel
	s, ok := SlopeOf(plan, &plan.Adjustments[0])
	if want := at("0.81") - at("0.8"); !ok || math.Abs(s.Eighth/want-1) > 1e-4 {
		t.Errorf("a hundredth of the travel: %g, expected %g", s.Eighth, want)
	}
}

func TestDrift(t *testing.T) {
	began := time.Date(2026, 11, 3, 10, 0, 0, 0, time.UTC)
	course := func(f func(minute float64) float64) (out []Sample) {
		for s := 0; s <= 240; s += 10 {
			out = append(out, Sample{began.Add(time.Duration(s) * time.Second), f(float64(s) / 60)})
		}
		return out
	}
	for what, x := range map[string]struct {
		f      func(float64) float64
		stable bool
		says   string
	}{
		"climbs":  {func(m float64) float64 { return 0.012 + 0.0004*m }, false, "still climbs, 400 µV a minute"},
		"falls":   {func(m float64) float64 { return 0.012 - 0.0004*m }, false, "still falls"},
		"at rest": {func(m float64) float64 { return 0.012 + 0.00001*m }, true, "stands still"},
	} {
		d, ok := DriftOf(course(x.f), 0.004, quantity.Volt)
		if !ok || d.Stable != x.stable || !strings.Contains(d.Says, x.says) {
			t.Errorf("%s: %+v", what, d)
		}
	}
	if _, ok := DriftOf(course(math.Sin)[:4], 1, quantity.Volt); ok {
		t.Error("told by half a minute")
	}
}

func TestMenuIsWrittenDownAndPutBack(t *testing.T) {
	l := &log{t: t, plan: amplifier(t), at: time.Date(2026, 11, 3, 10, 0, 0, 0, time.UTC)}
	found, err := ReadMenu("HDMI 1:\nsub-contrast = 14; red gain: 128\nComponent 576:\n\nsub-contrast 17")
	if err != nil || len(found) != 3 {
		t.Fatal(found, err)
	}
	for i := range found {
		l.note(Entry{Setting: &found[i]})
	}
	l.note(Entry{Setting: &Setting{Item: "sub-contrast", Of: "Component 576", Value: "22", How: Changed}})
	menu := Menu(l.list)
	if len(menu) != 3 || menu[0].Moved || !menu[2].Moved || menu[2].Found != "17" || menu[2].Now != "22" {
		t.Errorf("%+v", menu)
	}
	wrong := Entry{Setting: &Setting{Item: "sub-contrast", Of: "Component 576", Value: "14", How: PutBack}}
	if err := wrong.Fits(l.plan, l.list); err == nil || !strings.Contains(err.Error(), "found at 17") {
		t.Errorf("put back to another value: %v", err)
	}
	l.note(Entry{Setting: &Setting{Item: "sub-contrast", Of: "Component 576", Value: "17", How: PutBack}})
	if Menu(l.list)[2].Moved {
		t.Error("still moved after it was put back")
	}
	for _, text := range []string{"", "sub-contrast =", "contrast"} {
		if _, err := ReadMenu(text); err == nil {
			t.Errorf("%q is read", text)
		}
	}
}
