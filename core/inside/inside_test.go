package inside

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/mend"
	"steptrace/core/part"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// amplifier is a set of one stage with its circuit, as a table would have it; dc is what its
// manual states at the collector.
func amplifier(t *testing.T, dc string) trace.Case {
	t.Helper()
	text := "model,test\npoint,stage,gain,ac,frequency,dc,needs\nC1 in,,,10 mV,1 kHz,,\nQ1 c,first " +
		"amp,28.6 dB,,," + dc + ",+12 V\n\nrail,value,railpoint\n+12 V,12 V,R9\n\n" +
		"part,stage,kind,nodes,value,also,in\nV1,first amp,voltage,+12 V;0,12 V,,\nS1,,signal,before;0,,,\nRS,,resistor,before;C1 " +
		"in,600,,outside\nC1,,capacitor,C1 in;base,4.7 µF,,\n" +
		"R1,,resistor,+12 V;base,120k,,\nR2,,resistor,base;0,22k,,\nR3,,resistor,+12 V;Q1 " +
		"c,4k7,,\nR4,,resistor,emitter;foot,150,,\nR5,,resistor,foot;0,820,,\nC2,,capacitor,foot;0,100 µF,,\nQ1,,npn,Q1 " +
		"c;base;emitter,,bf=250,\n"
	tables, problems, err := sheet.ReadCSV([]byte(text))
	if err != nil || len(problems) > 0 {
		t.Fatal(err, problems)
	}
	s, _ := sheet.FromTables(tables)
	plan, all := s.Plan()
	if sheet.Blocked(all) {
		t.Fatal(all)
	}
	return trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}
}

func look(t *testing.T, c trace.Case, readings []reading.Reading, entries ...Entry) *View {
	t.Helper()
	v, err := Look(context.Background(), c, "first amp", Record{Readings: readings, Entries: entries})
	if err != nil || !v.Circuit {
		t.Fatal(err, v)
	}
	return v
}

// What the bench read counts in the circuit: DC at its nodes, the gain from its entry; and the
// supply stands as it was measured.
func TestTheBenchsReadingsCount(t *testing.T) {
	c := amplifier(t, "")
	base := time.Date(2026, 11, 20, 9, 0, 0, 0, time.UTC)
	var readings []reading.Reading
	for i, x := range []struct{ at, text string }{{"C1 in", "10 mV"}, {"Q1 c", "45 mV"}, {"Q1 c", "6.8 V dc"}, {"+12 V", "11.5"}} {
		r, err := c.Take(reading.Aim{Point: x.at}, x.text)
		if err != nil {
			t.Fatal(x, err)
		}
		r.ID, r.Taken = fmt.Sprint(i), base.Add(time.Duration(i)*time.Minute)
		readings = append(readings, r)
	}
	v := look(t, c, readings)
	if len(v.Readings) != 2 || v.Readings[0].What != circuit.Gain || v.Readings[1].What != circuit.DC {
		t.Fatalf("counted: %+v", v.Readings)
	}
	if gain, _ := circuit.GainOf(v.Readings[0].Value); math.Abs(gain-4.5) > 1e-6 {
		t.Errorf("a gain of %s", v.Readings[0].Value)
	}
	if v.Nodes[0].Node != "+12 V" || v.Nodes[0].Computed != 11.5 {
		t.Errorf("the supply stands at %+v", v.Nodes[0])
	}
	if v.Diagnosis.Ranked[0].Says != "C2 open" || !strings.HasPrefix(v.Says, "C2 open") {
		t.Errorf("%s, first %s", v.Says, v.Diagnosis.Ranked[0].Says)
	}
	if v.Gain == nil || v.Gain.Measured == nil || math.Abs(*v.Gain.Measured-20*math.Log10(4.5)) > 0.01 ||
		math.Abs(v.Gain.Computed-28.6) > 1.5 {
		t.Errorf("gain %+v", v.Gain)
	}
	if w, ok := Waves(c, v, Record{Readings: readings}); !ok || w.Fault != "C2 open" || swing(w.Healthy) < 4*swing(w.Faulty) ||
		math.Abs(swing(w.Healthy)/(0.01*2*math.Sqrt2*math.Pow(10, v.Gain.Computed/20))-1) > 0.1 {
		t.Errorf("in time: %s, %g and %g V", w.Fault, swing(w.Healthy), swing(w.Faulty))
	}
}

// A capture is laid beside the computed signal so that both rise together.
func TestCaptureBeside(t *testing.T) {
	w := Wave{Interval: 1e-5, Hz: 1000}
	for i := range 301 {
		w.Healthy = append(w.Healthy, math.Sin(2*math.Pi*0.01*float64(i)+1))
	}
	var captured []float64
	for i := range 2000 {
		captured = append(captured, 3+0.4*math.Sin(2*math.Pi*float64(i)/48+2.2)) // at 48 kHz
	}
	w.Lay(captured, 48e3)
	if len(w.Measured) != len(w.Healthy) {
		t.Fatal(len(w.Measured))
	}
	for i, v := range w.Measured {
		if math.Abs(v-3-0.4*w.Healthy[i]) > 0.004 {
			t.Fatalf("at %d %.3f beside %.3f", i, v-3, 0.4*w.Healthy[i])
		}
	}
	short := Wave{Interval: 1e-5, Hz: 1000, Healthy: w.Healthy}
	if short.Lay(captured[:100], 48e3); len(short.Measured) != 0 {
		t.Error("a capture too short is laid beside")
	}
	if short.Lay(make([]float64, 5000), 48e3); len(short.Measured) != 0 {
		t.Error("nothing is laid beside")
	}
}

func swing(samples []float64) float64 {
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range samples {
		low, high = math.Min(low, v), math.Max(high, v)
	}
	return high - low
}

// A part that was checked speaks: the good one is out of it, the bad one is named.
func TestChecksSpeak(t *testing.T) {
	c := amplifier(t, "")
	dc := Entry{ID: "1", Stage: "first amp", Reading: &circuit.NodeReading{What: circuit.DC, Node: "Q1 c", Value: "11.9 V"}}
	before := look(t, c, nil, dc)
	at := func(v *View, name string) Part {
		for _, p := range v.Parts {
			if p.Name == name {
				return p
			}
		}
		t.Fatal(name)
		return Part{}
	}
	good := Entry{
		ID:    "2",
		Stage: "first amp",
		Check: &Check{
			"Q1",
			"transistor",
			map[string]string{"1-2": "OL", "2-1": "0.652", "1-3": "OL", "3-1": "OL", "2-3": "0.665", "3-2": "OL"},
		},
	}
	after := look(t, c, nil, dc, good)
	if p := at(after, "Q1"); p.Checked != part.Good || p.Weight > at(before, "Q1").Weight/3 {
		t.Errorf("Q1 is %q, %.2f after %.2f", p.Checked, p.Weight, at(before, "Q1").Weight)
	}
	bad := good
	bad.Check = &Check{"Q1", "transistor", map[string]string{"1-2": "OL", "2-1": "OL", "1-3": "OL", "3-1": "OL", "2-3": "OL", "3-2": "OL"}}
	if v := look(t, c, nil, dc, bad); !strings.HasPrefix(v.Says, "Q1 ") || at(v, "Q1").Weight < 0.9 {
		t.Errorf("%s, %.2f", v.Says, at(v, "Q1").Weight)
	}
	v := look(t, c, nil, dc, bad, Entry{Stage: "first amp", Provoked: &Provoked{Place: "R1", Act: reading.Tap, Came: Comes}})
	if len(v.Grounds) != 2 || v.Grounds[0].Part != "Q1" || !strings.HasPrefix(v.Grounds[0].Why[0], "checked: nothing conducts") ||
		v.Grounds[1].Part != "R1" {
		t.Errorf("grounds %+v", v.Grounds)
	}
	struck := good
	struck.Struck = true
	if p := at(look(t, c, nil, dc, struck), "Q1"); p.Checked != "" {
		t.Errorf("a struck check counts: %q", p.Checked)
	}
	condemned := Entry{ID: "3", Stage: "first amp", Condemned: &Condemned{Part: "R2", What: "open", Why: []string{"reads open"}}}
	if v := look(t, c, nil, dc, condemned); v.Condemned == nil || v.Entries[1].Says != "R2 condemned: open" {
		t.Errorf("condemned: %+v", v.Condemned)
	}
}

// Where manual and circuit disagree, the parts are named whose values would explain it; where
// they agree, nothing is said. A point of which the manual says nothing gets the circuit's.
func TestDoubtAndLentValues(t *testing.T) {
	if v := look(t, amplifier(t, "6.9 V"), nil); v.Doubt != nil {
		t.Errorf("in doubt: %s", v.Doubt.Says)
	}
	v := look(t, amplifier(t, "9.4 V"), nil)
	if v.Doubt == nil || !strings.Contains(v.Doubt.Says, "9.4 V stated") || len(v.Doubt.Parts) == 0 {
		t.Fatalf("no doubt: %+v", v.Doubt)
	}
	found := false
	for _, a := range v.Doubt.AsIf {
		found = found || a.Part == "R3" // 12 V − I·R₃: a smaller R3 gives it
	}
	if !found {
		t.Errorf("R3 is not among %+v", v.Doubt.AsIf)
	}
	c := amplifier(t, "")
	r, err := c.Take(reading.Aim{Point: "Q1 c", Quantity: sheet.DC}, "11.9")
	if err != nil {
		t.Fatal(err)
	}
	// Nor does the sheet state this stage's gain: the level behind it comes from the circuit.
	unstated := amplifier(t, "")
	unstated.Plan.Sheet.Stages[0].Gain = ""
	plan, _ := unstated.Plan.Sheet.Plan()
	lent := trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}
	level, err := lent.Take(reading.Aim{Point: "Q1 c"}, "45 mV")
	if err != nil {
		t.Fatal(err)
	}
	if due, _, ok := lent.Due(level); !ok || math.Abs(20*math.Log10(due.RMS/10e-3)-28.6) > 1 {
		t.Errorf("%g V are due behind the stage, %v", due.RMS, ok)
	}
	if j := c.Judge(r); j.Verdict != reading.High || !strings.Contains(j.Expected, "V") {
		t.Errorf("11.9 V at Q1 c is %s, expected %s", j.Verdict, j.Expected)
	}
}

// What makes a fault come and go tells what it is in.
func TestFollows(t *testing.T) {
	parts := []circuit.Part{
		{Name: "Q1", Kind: circuit.NPN},
		{Name: "R1", Kind: circuit.Resistor},
		{Name: "C2", Kind: circuit.Capacitor},
		{Name: "RV1", Kind: circuit.Pot},
	}
	did := func(place string, act reading.Act, came string) Entry {
		return Entry{Provoked: &Provoked{Place: place, Act: act, Came: came}}
	}
	for name, x := range map[string]struct {
		done         []Entry
		place, cause string
	}{
		"warm transistor": {[]Entry{did("Q1", reading.Cool, Goes), did("Q1", reading.Tap, Nothing), did("C2", reading.Cool, Nothing)}, "Q1",
			"a semiconductor"},
		"joint": {[]Entry{did("R1", reading.Tap, Comes), did("R1", reading.Wiggle, Comes), did("Q1", reading.Tap, Nothing)}, "R1",
			"a joint"},
		"track": {[]Entry{did("edge", reading.Flex, Comes), did("edge", reading.Wiggle, Nothing), did("R1", reading.Tap, Nothing)},
			"edge", "a crack in the board"},
		"control": {[]Entry{did("RV1", reading.Work, Comes), did("R1", reading.Tap, Nothing)}, "RV1", "a contact"},
		"capacitor": {[]Entry{did("C2", reading.Heat, Comes), did("C2", reading.Tap, Nothing), did("C2", reading.Wiggle, Nothing), did("Q1",
			reading.Heat, Nothing)}, "C2", "a capacitor"},
	} {
		f := follows(parts, x.done)
		if len(f) == 0 || f[0].Place != x.place || f[0].Cause != x.cause || f[0].Weight < 0.5 {
			t.Errorf("%s: %+v", name, f)
		}
	}
	if f := follows(parts, []Entry{did("Q1", reading.Tap, Nothing)}); len(f) != 0 {
		t.Errorf("nothing moved it: %+v", f)
	}
}

// What cannot be noted is refused in words.
func TestRefused(t *testing.T) {
	c := amplifier(t, "")
	taken := func(r circuit.NodeReading) Entry { return Entry{Stage: "first amp", Reading: &r} }
	for says, e := range map[string]Entry{
		"neither a stage, a rail": {Stage: "second amp", Condemned: &Condemned{Part: "R1", What: "open", Why: []string{"x"}}},
		"one reading, one check":  {Stage: "first amp"},
		"no node \"gate\"":        taken(circuit.NodeReading{What: circuit.DC, Node: "gate", Value: "1"}),
		"no part \"R77\"":         taken(circuit.NodeReading{What: circuit.Alone, Part: "R77", Value: "1k"}),
		"at which frequency":      taken(circuit.NodeReading{What: circuit.Gain, Node: "Q1 c", Value: "20 dB"}),
		"this set is live":        taken(circuit.NodeReading{What: circuit.Ohms, Node: "Q1 c", Value: "1k"}),
		"is below zero":           taken(circuit.NodeReading{What: circuit.Frequency, Node: "Q1 c", Value: "-5 Hz"}),
		"good or bad":             {Stage: "first amp", Reading: &circuit.NodeReading{What: circuit.Alone, Part: "Q1", Value: "good"}},
		"has no circuit":          {Stage: "+12 V", Reading: &circuit.NodeReading{What: circuit.DC, Node: "base", Value: "1"}},
		"nothing that is done":    {Stage: "first amp", Provoked: &Provoked{Place: "R1", Act: "kick", Came: Comes}},
		"on what grounds":         {Stage: "first amp", Condemned: &Condemned{Part: "R1", What: "open", Why: nil}},
		"it is needed":            {Stage: "first amp", Check: &Check{"Q1", "transistor", nil}},
	} {
		power := reading.PowerOn
		if says == "good or bad" {
			e.Reading.What, power = circuit.Checked, reading.PowerOff
			e.Reading.Value = "fine"
		}
		if strings.HasPrefix(says, "no part") {
			power = reading.PowerOff
		}
		err := Take(c.Plan, power, &e)
		if err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%v does not say %q", err, says)
		}
	}
	ok := taken(circuit.NodeReading{What: circuit.DC, Node: "base", Value: "1.9"})
	if err := Take(c.Plan, reading.PowerOn, &ok); err != nil {
		t.Error(err)
	}
	var bad mend.Error
	if _, err := Look(context.Background(), c, "nowhere", Record{}); !errors.As(err, &bad) {
		t.Error(err)
	}
}

// A check is held against what belongs in the part's place, and what lies beside it there; after
// a repair against what was fitted.
func TestChecksAreHeldAgainstTheCircuit(t *testing.T) {
	c := amplifier(t, "")
	for _, x := range []struct {
		name string
		kind string
		text map[string]string
		want part.Judgement
		says string
	}{
		{"R3", "resistor", map[string]string{"value": "4k7", "measured": "4.69k", "where": "out of circuit"}, part.Good, ""},
		{"R3", "resistor", map[string]string{"value": "3k9", "measured": "3.91k", "where": "out of circuit"}, part.Bad,
			"wrong value fitted: 3.9 kΩ where 4.7 kΩ belongs"},
		{"C2", "capacitor", map[string]string{"kind": "aluminium", "value": "10 µF", "measured": "9.8 µF", "volts": "25 V"}, part.Bad,
			"wrong value fitted: 10 µF where 100 µF belongs"},
		{"Q1", "transistor", map[string]string{"1-2": "0.652", "2-1": "OL", "1-3": "0.665", "3-1": "OL", "2-3": "OL", "3-2": "OL"},
			part.Good, ""},
		{"Q1", "transistor", map[string]string{"1-2": "OL", "2-1": "0.652", "1-3": "OL", "3-1": "0.665", "2-3": "OL", "3-2": "OL"},
			part.Bad, "wrong part fitted: a PNP where an NPN belongs"},
		{"R77", "resistor", map[string]string{"value": "3k9", "measured": "3.91k", "where": "out of circuit"}, part.Good, ""},
		// of which the circuit knows nothing
	} {
		verdict, err := Judge(c, "first amp", Record{}, &Check{x.name, x.kind, x.text})
		if err != nil {
			t.Errorf("%s: %v", x.name, err)
			continue
		}
		if verdict.Judgement != x.want || !strings.Contains(verdict.What, x.says) || verdict.Wrong != (x.says != "") {
			t.Errorf("%s %v: %s, %s", x.name, x.text, verdict.Judgement, verdict.What)
		}
	}
	// What was checked so is bad in the figure, and condemned once that was said.
	wrong := Entry{
		ID:    "1",
		Stage: "first amp",
		Check: &Check{"R3", "resistor", map[string]string{"value": "3k9", "measured": "3.91k", "where": "out of circuit"}},
	}
	v := look(
		t,
		c,
		nil,
		wrong,
		Entry{ID: "2", Stage: "first amp", Condemned: &Condemned{Part: "R3", What: "wrong value", Why: []string{"read"}, Found: "wrong"}},
	)
	for _, p := range v.Parts {
		if p.Name == "R3" && (p.Checked != part.Bad || !p.Condemned) {
			t.Errorf("R3 is %q, condemned: %v", p.Checked, p.Condemned)
		}
	}
	if len(v.Grounds) == 0 || v.Grounds[0].Part != "R3" || !v.Grounds[0].Wrong {
		t.Errorf("grounds %+v", v.Grounds)
	}
}

// Where the healthy circuit does not do what the manual says, nothing is told of its parts:
// another gain, another DC, a circuit that does not swing. Where it is a little off, no value is
// fitted.
func TestNothingIsToldOfADoubtfulCircuit(t *testing.T) {
	read := Entry{ID: "1", Stage: "first amp", Reading: &circuit.NodeReading{What: circuit.DC, Node: "Q1 c", Value: "11.9 V"}}
	told := func(v *View) bool {
		for _, p := range v.Parts {
			if p.Weight > 0 {
				return true
			}
		}
		return v.Diagnosis != nil
	}
	if v := look(t, amplifier(t, "6.9 V"), nil, read); !told(v) {
		t.Fatalf("nothing is told of a circuit that agrees: %s", v.Says)
	}
	if v := look(t, amplifier(t, "3.1 V"), nil, read); told(v) || v.Doubt == nil || !v.Doubt.Untold ||
		!strings.Contains(v.Doubt.Says, "3.1 V stated") {
		t.Errorf("another DC: %s %+v", v.Says, v.Doubt)
	}
	if v := look(t, amplifier(t, "9.4 V"), nil, read); !told(v) || v.Doubt == nil || len(v.Diagnosis.AsIf) != 0 ||
		!strings.Contains(v.Says, "only if the circuit is right") {
		t.Errorf("a little off: %s %+v", v.Says, v.Doubt)
	}
	change := func(edit func(s *sheet.Sheet)) trace.Case {
		c := amplifier(t, "")
		edit(c.Plan.Sheet)
		plan, _ := c.Plan.Sheet.Plan()
		return trace.Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}
	}
	louder := change(func(s *sheet.Sheet) { s.Stages[0].Gain = "46 dB" })
	if v := look(t, louder, nil, read); told(v) || v.Doubt == nil || !strings.Contains(v.Doubt.Says, "a gain of +46 dB stated") {
		t.Errorf("another gain: %s %+v", v.Says, v.Doubt)
	}
	swings := change(func(s *sheet.Sheet) {
		s.Points[1].Expect = append(s.Points[1].Expect, sheet.Expectation{Quantity: sheet.Frequency, Value: "31.25 kHz"})
		s.Circuits[0].Parts = append(slices.Clone(s.Circuits[0].Parts[:1]), s.Circuits[0].Parts[4:]...) // what drove it is not there
	})
	if v := look(t, swings, nil, read); told(v) || v.Doubt == nil ||
		!strings.Contains(v.Doubt.Says, "31.25 kHz stated, and this circuit does not swing") {
		t.Errorf("no swing: %s %+v", v.Says, v.Doubt)
	}
	pulses := change(func(s *sheet.Sheet) {
		s.Points[1].Expect = append(s.Points[1].Expect, sheet.Expectation{Quantity: sheet.AC, Value: "0.6 Vpp", Shape: "square"})
		s.Stages[0].Gain = ""
	})
	gain := Entry{
		ID:      "2",
		Stage:   "first amp",
		Reading: &circuit.NodeReading{What: circuit.Gain, Node: "Q1 c", From: "C1 in", Hz: "1 kHz", Value: "2 dB"},
	}
	if v := look(t, pulses, nil, gain); v.Doubt == nil || !strings.Contains(v.Doubt.Says, "driven by a sine") || v.Diagnosis == nil ||
		len(v.Diagnosis.AsIf) != 0 ||
		strings.HasPrefix(v.Says, "C2") {
		t.Errorf("pulses: %s %+v", v.Says, v.Doubt)
	}
}

// Ohms beyond what a meter shows are a reading at the bench as well.
func TestOpenAtTheBench(t *testing.T) {
	c := amplifier(t, "")
	c.Power = reading.PowerOff
	r, err := c.Take(reading.Aim{Point: "Q1 c", Quantity: sheet.Resistance}, "OL")
	if err != nil {
		t.Fatal(err)
	}
	v := look(t, c, []reading.Reading{r})
	if len(v.Readings) != 1 || v.Readings[0].What != circuit.Ohms || v.Readings[0].Text != "open" {
		t.Errorf("%+v", v.Readings)
	}
}
