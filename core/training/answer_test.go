package training_test

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/supply"
	"steptrace/core/training"
)

// small is a set of two amplifiers on a rail with a fuse, a control that mutes, and a circuit in the second.
func small(t *testing.T) *sheet.Sheet {
	t.Helper()
	return &sheet.Sheet{
		Model: "small",
		Points: []sheet.Point{
			{Name: "in", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "20 mV"}, {Quantity: sheet.Frequency, Value: "1 kHz"}}},
			{Name: "mid", Expect: []sheet.Expectation{{Quantity: sheet.DC, Value: "6 V"}, {Quantity: sheet.Resistance, Value: "33k"},
				{Quantity: sheet.Current, Value: "3 mA"}, {Quantity: sheet.Temperature, Value: "60 °C"}}},
			{
				Name:   "out",
				Expect: []sheet.Expectation{{Quantity: sheet.Distortion, Value: "0.1 %"}, {Quantity: sheet.Power, Value: "2 W"}},
			},
		},
		Stages: []sheet.Stage{
			{Name: "first", Kind: "amplifier", From: "in", To: "mid", Gain: "20 dB", Rails: []string{"+12"}},
			{Name: "second", Kind: "amplifier", From: "mid", To: "out", Gain: "6 dB", Rails: []string{"+12"}, Needs: []string{"MUTE"}},
		},
		Rails:      []sheet.Rail{{Name: "+12", Value: "12 V", Ripple: "40 mV", RippleFrequency: "100 Hz", Fuse: "F1", Load: "0.3 A"}},
		Controls:   []sheet.Control{{Name: "MUTE", Does: "mute", Value: "5 V", Worked: "0 V", By: "MUTE held"}},
		Reservoirs: []sheet.Reservoir{{Name: "C1", Farads: "1000 µF", Volts: "35 V", Bleeder: "10k"}},
		Circuits: []sheet.Circuit{{Stage: "second", Parts: []circuit.Part{
			circuit.PartOf("V1", "voltage", "+12; ground", "12 V", "", ""), circuit.PartOf("R1", "resistor", "+12; out", "10k", "", ""),
			circuit.PartOf("R2", "resistor", "out; ground", "10k", "", ""), circuit.PartOf("R3", "resistor", "mid; out", "100k", "", ""),
		}}},
	}
}

// Every kind of evidence that the bench takes is answered, as the sheet or plain arithmetic has it; what is not simulated is said.
func TestEveryKindOfEvidenceIsAnswered(t *testing.T) {
	t.Parallel()
	s := small(t)
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	answer := func(r training.Reads, change func(*reading.Bench), faults ...training.Fault) (reading.Reading, error) {
		set, err := standin.New(plan, faults...)
		if err != nil {
			t.Fatal(err)
		}
		good, _ := standin.New(plan)
		c, _ := (&job.Job{}).Case(plan)
		c.Power = reading.PowerOn
		if change != nil {
			change(&c.Bench)
		}
		text, err := (&training.Bench{Plan: plan, Set: set, Good: good}).Answer(c, r)
		if err != nil {
			return reading.Reading{}, err
		}
		out, err := c.Take(r.Aim, text)
		if err != nil {
			t.Errorf("%+v: %q is refused: %v", r, text, err)
		}
		return out, nil
	}
	at := func(point string, q sheet.Quantity) training.Reads {
		return training.Reads{Aim: reading.Aim{Point: point, Quantity: q}}
	}
	off := func(b *reading.Bench) { b.Power = reading.PowerOff }
	touch := func(point string) func(*reading.Bench) {
		return func(b *reading.Bench) { b.Injected = &reading.Injection{At: point, Touch: true} }
	}
	dead := training.Fault{Block: "second", Effect: standin.Dead}
	for _, x := range []struct {
		what   string
		reads  training.Reads
		change func(*reading.Bench)
		faults []training.Fault
		si     float64
		word   quantity.Word
	}{
		{"a level: 20 mV and 20 dB", at("mid", sheet.AC), nil, nil, 0.2, ""},
		{"nothing", at("out", sheet.AC), nil, []training.Fault{dead}, 0, quantity.Nothing},
		{"DC", at("mid", sheet.DC), nil, nil, 6, ""}, {"a frequency", at("mid", sheet.Frequency), nil, nil, 1000, ""},
		{"ohms", at("mid", sheet.Resistance), off, nil, 33e3, ""}, {"a rail", at("+12", sheet.DC), nil, nil, 12, ""},
		{"a rail that is weak: to six tenths", at("+12", sheet.DC), nil, []training.Fault{{Block: "+12", Effect: standin.Weak}}, 7.2, ""},
		{"ripple: six tenths of the most", at("+12", sheet.AC), nil, nil, 0.024, ""},
		{"a control", at("MUTE", sheet.DC), nil, nil, 5, ""},
		{"a control that is worked", training.Reads{Aim: reading.Aim{Point: "MUTE"}, Worked: true}, nil, nil, 0, ""},
		{"one that does not move", training.Reads{Aim: reading.Aim{Point: "MUTE"}, Worked: true}, nil,
			[]training.Fault{{Block: "MUTE", Effect: standin.Weak}}, 3, ""},
		{"a fuse", at("F1", sheet.Resistance), off, nil, 0.1, ""},
		{"with a good one in its place", training.Reads{Aim: reading.Aim{Point: "out"}, Without: []string{"second"}}, nil,
			[]training.Fault{dead}, 0.4, ""},
		{"distortion: half of what it may have, and the hiss of two stages", at("out", sheet.Distortion), nil, nil,
			math.Hypot(5e-4, 3e-4*math.Sqrt2), ""},
		{"power", at("out", sheet.Power), nil, nil, 2, ""},
		{"power that is 20 dB down: a hundredth", at("out", sheet.Power), nil,
			[]training.Fault{{Block: "first", Effect: standin.Weak, Size: 20}}, 0.02, ""},
		{"a current", at("mid", sheet.Current), nil, nil, 0.003, ""},
		{"a current of a stage that is dead: a quarter", at("mid", sheet.Current), nil,
			[]training.Fault{{Block: "first", Effect: standin.Dead}}, 0.00075, ""},
		{"what a rail gives to a set that idles: a sixth of its 0.3 A", at("+12", sheet.Current), nil, nil, 0.05, ""},
		{"a part that is cold yet", at("mid", sheet.Temperature), nil, nil, 22, ""},
		{"a touch that is heard", at("out", ""), touch("in"), nil, 0, quantity.Hum},
		{"a touch before what is dead", at("out", ""), touch("in"), []training.Fault{dead}, 0, quantity.Nothing},
	} {
		r, err := answer(x.reads, x.change, x.faults...)
		if err != nil || r.Word != x.word || math.Abs(r.SI-x.si) > 0.03*math.Abs(x.si)+1e-9 {
			t.Errorf("%s: %q is %g %q, want %g %q, %v", x.what, r.Text, r.SI, r.Word, x.si, x.word, err)
		}
	}
	// A sine that is clipped at 0.45 of one peak is off its fundamental by 21.6 %, by Fourier's sum over min(sin x, 0.45); what the set's
	// noise adds to its peak takes a little off that.
	clipped, err := answer(at("out", sheet.Distortion), nil, training.Fault{Block: "second", Effect: standin.Distorted})
	if err != nil || clipped.SI < 0.195 || clipped.SI > 0.22 {
		t.Errorf("what is clipped distorts by %q, %v", clipped.Text, err)
	}
	// What is warm: 60 °C as the sheet says, the room's without a supply.
	for _, x := range []struct {
		faults []training.Fault
		want   string
	}{{nil, "60 °C"}, {[]training.Fault{{Block: "+12", Effect: standin.Dead}}, "22 °C"}} {
		set, _ := standin.New(plan, x.faults...)
		c, _ := (&job.Job{}).Case(plan)
		c.Power = reading.PowerOn
		warm := training.Bench{Plan: plan, Set: set, Good: set, Stand: standin.Stand{Warm: true}}
		if text, err := warm.Answer(c, at("mid", sheet.Temperature)); text != x.want || err != nil {
			t.Errorf("warm with %v: %q, want %q, %v", x.faults, text, x.want, err)
		}
	}
	for _, r := range []training.Reads{at("mid", sheet.Power), at("out", sheet.Temperature), at("nowhere", "")} {
		if _, err := answer(r, nil); err == nil || !strings.Contains(err.Error(), "practised") {
			t.Errorf("%+v: %v", r, err)
		}
	}
	// Inside: half of 12 V between two equal resistors, by what leaks in from before; with one open what is left of them.
	set, _ := standin.New(plan, training.Fault{Block: "second", Part: "R2", What: "open"})
	b := &training.Bench{Plan: plan, Set: set}
	if text, err := b.Inside("second", circuit.NodeReading{What: circuit.DC, Node: "out"}); err != nil ||
		!strings.HasPrefix(text, "12") &&
			!strings.HasPrefix(text, "11.9") {
		t.Errorf("inside: %q, %v", text, err)
	}
	// A reservoir falls by its bleeder: 1000 µF and 10k are 10 s, so that a minute leaves e⁻⁶.
	for _, x := range []struct {
		minutes float64
		before  bool
		want    string
	}{{0, false, "35 V"}, {10.0 / 60, false, "12.9 V"}, {60, false, "0.2 V"}, {0, true, "0.2 V"}} {
		if text, ok := training.Residual(plan, "C1", x.minutes, x.before); !ok || text != x.want {
			t.Errorf("after %g minutes: %q, want %q", x.minutes, text, x.want)
		}
	}
	// Somebody fitted another: ten times R2 makes ten elevenths of it.
	set, err = standin.New(plan, training.Fault{Block: "second", Part: "R2", What: standin.TenTimes})
	if err != nil {
		t.Fatal(err)
	}
	if v := set.Volts("out", standin.Stand{On: true}); math.Abs(v-12*10/11.0) > 0.6 {
		t.Errorf("with ten times R2 %g V", v)
	}
	if _, err := standin.New(plan, training.Fault{Block: "second", Part: "V1", What: standin.TenTimes}); err == nil {
		t.Error("another supply is fitted")
	}
}

// A limited current that is fed into a rail's copper falls along it, by hand: over the short and each piece that it passes; on branches
// nothing does. What finds it from such readings shares no code with what made them.
func TestAShortIsFoundAlongTheCopper(t *testing.T) {
	t.Parallel()
	s := small(t)
	s.Circuits[0].Parts = append(s.Circuits[0].Parts, circuit.PartOf("C2", "capacitor", "+12; ground", "100 µF", "", ""))
	s.Tracks = []sheet.Track{
		{
			Rail:  "+12",
			Place: "fuse",
			Hangs: []string{"C1"},
		}, {Rail: "+12", Place: "plug", After: "fuse", Ohms: "10 mΩ", Hangs: []string{"first"}},
		{Rail: "+12", Place: "far", After: "plug", Ohms: "20 mΩ", Hangs: []string{"second"}},
		{Rail: "+12", Place: "lamp", After: "fuse", Ohms: "40 mΩ", Hangs: []string{"L1"}},
	}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	set, err := standin.New(plan, training.Fault{Block: "second", Part: "C2", What: "shorted"})
	if err != nil {
		t.Fatal(err)
	}
	good, _ := standin.New(plan)
	b := &training.Bench{Plan: plan, Set: set, Good: good}
	c, _ := (&job.Job{}).Case(plan)
	c.Power, c.Injected = reading.PowerOff, &reading.Injection{At: "+12 @ lamp", Level: 0.5}
	text, err := b.Answer(c, training.Reads{Aim: reading.Aim{Point: "+12", Quantity: sheet.Resistance}})
	out, _ := b.Answer(c, training.Reads{Aim: reading.Aim{Point: "+12", Quantity: sheet.Resistance}, Without: []string{"second"}})
	if v, wrong := quantity.Parse(out, quantity.Ohm); wrong != nil || v.SI < 5e3 {
		t.Errorf("with what shorts it lifted the rail has %q", out)
	}
	across, wrong := quantity.Parse(text, quantity.Ohm)
	if err != nil || wrong != nil || across.SI > 10 {
		t.Fatalf("a shorted rail has %q, %v, %v", text, err, wrong)
	}
	read := map[int]float64{}
	for place, more := range map[string]float64{"fuse": 0.03, "plug": 0.02, "far": 0, "lamp": 0.07} { // ohms up to the short
		r := training.Reads{Aim: reading.Aim{Point: "+12 @ " + place}}
		text, err := b.Answer(c, r)
		if err != nil {
			t.Fatal(err)
		}
		taken, err := c.Take(r.Aim, text)
		if want := 0.5 * (across.SI + more); err != nil || math.Abs(taken.SI-want) > 0.0005*want {
			t.Errorf("at %s %q, want %g V: %v", place, text, want, err)
		}
		at, _ := plan.PlaceIndex(r.Point)
		read[at] = taken.SI
	}
	fed, _ := plan.PlaceIndex("+12 @ lamp")
	found, err := supply.Locate(
		[]supply.Segment{{Before: -1}, {Before: 0, Ohms: 0.01}, {Before: 1, Ohms: 0.02}, {Before: 0, Ohms: 0.04}},
		fed,
		0.5,
		read,
	)
	if err != nil || plan.Places[found.To].Place != "far" || found.Share < 0.95 {
		t.Errorf("found at %+v, %v", found, err)
	}
	c.Injected = &reading.Injection{At: "+12", Level: 0.5} // into the rail, wherever
	for name, warm := range map[string]bool{"second": true, "first": false, "C1": false} {
		text, err := b.Answer(c, training.Reads{Aim: reading.Aim{Point: name}})
		if taken, wrong := c.Take(reading.Aim{Point: name}, text); err != nil || wrong != nil || (taken.Word == quantity.Warm) != warm {
			t.Errorf("%s feels %q: %v %v", name, text, err, wrong)
		}
	}
}

// A carrier is swung by what is left of what swings it: 6 dB less before it, half the deviation; and none where the carrier is gone.
func TestADeviationIsWhatIsLeft(t *testing.T) {
	t.Parallel()
	plan, problems := (&sheet.Sheet{
		Model: "wireless microphone",
		Points: []sheet.Point{
			{Name: "capsule", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"},
				{Quantity: sheet.Frequency, Value: "1 kHz"}}},
			{Name: "to the carrier", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "100 mV"}}},
			{Name: "aerial", Expect: []sheet.Expectation{
				{Quantity: sheet.AC, Value: "0.7 V"}, {Quantity: sheet.Frequency, Value: "39 MHz"},
				{Quantity: sheet.Deviation, Value: "15 kHz"},
			}},
		},
		Stages: []sheet.Stage{
			{Name: "speech amplifier", Kind: "amplifier", From: "capsule", To: "to the carrier"},
			{Name: "modulator", Kind: "mixer", From: "to the carrier", To: "aerial"},
		},
	}).Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	good, _ := standin.New(plan)
	for _, x := range []struct {
		faults []training.Fault
		want   float64
	}{
		{nil, 15e3}, {[]training.Fault{{Block: "speech amplifier", Effect: standin.Weak, Size: 6.0206}}, 7.5e3},
		{[]training.Fault{{Block: "modulator", Effect: standin.Dead}}, 0},
	} {
		set, err := standin.New(plan, x.faults...)
		if err != nil {
			t.Fatal(err)
		}
		c, _ := (&job.Job{}).Case(plan)
		c.Power = reading.PowerOn
		b := training.Bench{Plan: plan, Set: set, Good: good}
		text, err := b.Answer(c, training.Reads{Aim: reading.Aim{Point: "aerial", Quantity: sheet.Deviation}})
		if x.want == 0 {
			if err == nil {
				t.Errorf("without a carrier %q", text)
			}
			continue
		}
		v, wrong := quantity.Parse(text, quantity.Hertz)
		if err != nil || wrong != nil || math.Abs(v.SI-x.want) > 0.02*x.want {
			t.Errorf("%v: %q, want %g Hz: %v", x.faults, text, x.want, err)
		}
	}
}

// Beside a fuse stands what it is due to be: 0.3 A with a margin of 1.6 are 0.48, and the next that is sold 0.5. A larger one, or a bridge
// with nothing that limits the current, is stopped; the same and a smaller one are not. One that draws too much has opened it.
func TestALargerFuseIsStopped(t *testing.T) {
	t.Parallel()
	s := small(t)
	s.Circuits[0].Parts = append(s.Circuits[0].Parts, circuit.PartOf("C2", "capacitor", "+12; ground", "100 µF", "", ""))
	plan, _ := s.Plan()
	if all := training.Fuses(plan); len(all) != 1 || all[0] != (training.Fuse{Name: "F1", Says: "500 mA slow"}) {
		t.Errorf("fuses: %+v", all)
	}
	good, _ := standin.New(plan)
	shorted, err := standin.New(plan, training.Fault{Block: "second", Part: "C2", What: "shorted"})
	if err != nil {
		t.Fatal(err)
	}
	c, _ := (&job.Job{}).Case(plan)
	c.Power = reading.PowerOff
	b := &training.Bench{Plan: plan, Set: shorted, Good: good}
	if text, err := b.Answer(c, training.Reads{Aim: reading.Aim{Point: "F1"}}); text != "open" || err != nil {
		t.Errorf("the fuse before a short reads %q, %v", text, err)
	}
	renewed := func(place, name, fitted string) *repair.Entry {
		return &repair.Entry{
			Repair: &repair.Repair{Did: repair.Replaced, Stage: place, Parts: []repair.Part{{Name: name, Fitted: fitted}}},
		}
	}
	for stage := range 3 { // in whichever field it was said which fuse
		for fitted, larger := range map[string]bool{
			"T500mA": false, "0.5 A slow": false, "315 mA": false, "": false, "T10A": true, "630 mA": true,
		} {
			e := [3]*repair.Entry{renewed("F1", "F1", fitted), renewed("", "F1", fitted), renewed("F1", "the fuse", fitted)}[stage]
			if what, would := b.UnsafeRepair(e); (what != "") != larger || larger && !strings.Contains(would, "fire") {
				t.Errorf("%q for 500 mA: %q %q", fitted, what, would)
			}
		}
	}
	for note, stopped := range map[string]bool{
		"": true, "just to see": true, "60 W lamp in series": false, "bench supply limited to 0.5 A": false,
	} {
		for _, how := range []repair.Stopgap{repair.FuseBridged, repair.Jumper} {
			e := &repair.Entry{Temporary: &repair.Temporary{What: how, Subject: "F1", Note: note}}
			if what, _ := b.UnsafeRepair(e); (what != "") != stopped {
				t.Errorf("%s with %q: %q", how, note, what)
			}
		}
	}
	// Renewing what was blown is right, and no fuse that was whole.
	at := time.Unix(1e9, 0)
	for part, right := range map[string]bool{"C2": true, "R2": false} {
		worked := training.Case{Manual: s, Faults: []training.Fault{{Block: "second", Part: part, What: map[string]string{
			"C2": "shorted", "R2": "open"}[part]}}}
		j := &job.Job{Repairs: []repair.Entry{{ID: "f", At: at, Repair: renewed("F1", "F1", "T500mA").Repair}}}
		if r := worked.Review(plan, j, &training.Progress{}); len(r.Done) != 1 || r.Done[0].Right != right {
			t.Errorf("a new fuse after %s: %+v", part, r.Done)
		}
	}
	// It stays open until it is renewed behind what opened it, or bridged; one that was put in before that is gone too.
	worked := training.Case{Manual: s, Faults: []training.Fault{{Block: "second", Part: "C2", What: "shorted"}}}
	fuse, cure := *renewed("F1", "F1", "T500mA"), *renewed("second", "C2", "100 µF")
	bridge := repair.Entry{ID: "b", Temporary: &repair.Temporary{What: repair.FuseBridged, Subject: "F1", Note: "lamp in series"}}
	for i, x := range []struct {
		repairs []repair.Entry
		volts   float64
	}{
		{nil, 0}, {[]repair.Entry{fuse}, 0}, {[]repair.Entry{cure}, 0}, {[]repair.Entry{fuse, cure}, 0}, {[]repair.Entry{cure, fuse}, 12},
		{[]repair.Entry{cure, bridge}, 12},
	} {
		set, good, err := worked.After(plan, x.repairs)
		if err != nil {
			t.Fatal(err)
		}
		b := &training.Bench{Plan: plan, Set: set, Good: good}
		want := map[bool]string{true: "open", false: "0.1 ohm"}[x.volts == 0]
		v := set.Volts("+12", standin.Stand{On: true})
		if text, err := b.Answer(c, training.Reads{Aim: reading.Aim{Point: "F1"}}); err != nil || text != want ||
			math.Abs(v-x.volts) > 0.7 {
			t.Errorf("after %d: the fuse reads %q, %g V behind it, want %q and %g V: %v", i, text, v, want, x.volts, err)
		}
	}
	other := &repair.Entry{Temporary: &repair.Temporary{What: repair.Jumper, Subject: "second"}}
	if what, _ := b.UnsafeRepair(other); what != "" {
		t.Errorf("a jumper across a stage: %q", what)
	}
}

// What is shown to be read off is what is there: 0.2 V of a sine at 1 kHz are 0.566 V from peak to peak over its squares, and a period of
// a millisecond; a figure is the figure, and what goes and comes says so. Read off within a quarter it is right; otherwise judged, or
// further off, it is not.
func TestWhatIsShownCanBeReadOff(t *testing.T) {
	t.Parallel()
	plan, _ := small(t).Plan()
	good, _ := standin.New(plan)
	c, _ := (&job.Job{}).Case(plan)
	c.Power = reading.PowerOn
	c.Injected = c.Entry(c.Route)
	b := &training.Bench{Plan: plan, Set: good, Good: good}
	mid := reading.Aim{Point: "mid", Quantity: sheet.AC}
	f, err := b.Face(c, training.Reads{Aim: mid})
	if err != nil || len(f.Trace) == 0 || f.Moves != "" {
		t.Fatalf("%+v, %v", f, err)
	}
	high := (slices.Max(f.Trace) - slices.Min(f.Trace)) * f.Volts
	if want := 2 * math.Sqrt2 * 0.2; math.Abs(high-want) > 0.02*want || slices.Max(f.Trace) > 4 || slices.Max(f.Trace) < 1.4 {
		t.Errorf("it is %g V high, want %g, in %g squares", high, want, slices.Max(f.Trace))
	}
	rises := 0
	for i := range f.Trace[1:] {
		if f.Trace[i] < 0 && f.Trace[i+1] >= 0 {
			rises++
		}
	}
	if periods := 10 * f.Seconds / 1e-3; math.Abs(float64(rises)-periods) > 1.1 || periods < 1.9 {
		t.Errorf("%d periods are seen over %g ms", rises, 1e4*f.Seconds)
	}
	for effect, moves := range map[standin.Effect]string{
		standin.CuttingOut: "goes away", standin.Hum: "rides up", standin.Crackling: "bursts",
	} {
		set, _ := standin.New(plan, training.Fault{Block: "first", Effect: effect})
		f, err := (&training.Bench{Plan: plan, Set: set, Good: good}).Face(c, training.Reads{Aim: mid})
		if err != nil || !strings.Contains(f.Moves, moves) {
			t.Errorf("what %s does %q: %v", effect, f.Moves, err)
		}
	}
	if f, err := b.Face(c, training.Reads{Aim: reading.Aim{Point: "mid", Quantity: sheet.DC}}); err != nil ||
		!strings.HasPrefix(f.Figure, "6 V") {
		t.Errorf("a meter shows %+v, %v", f, err)
	}
	for read, wrong := range map[string]bool{
		"0.57 Vpp": false, "0.2 V": false, "0.6 Vpp": false, "0.2 Vpp": true, "weak": true, "5.7 Vpp": true,
	} {
		if m := training.ReadOff(c, mid, read, "0.2 Vrms"); (m != nil) != wrong {
			t.Errorf("%s read off 0.2 V rms: %+v", read, m)
		}
	}
	dc := reading.Aim{Point: "mid", Quantity: sheet.DC}
	for read, wrong := range map[string]bool{"6": false, "6.1": false, "6.6": true, "0.6": true} {
		if m := training.ReadOff(c, dc, read, "6 V dc"); (m != nil) != wrong {
			t.Errorf("%s read off 6 V: %+v", read, m)
		}
	}
}
