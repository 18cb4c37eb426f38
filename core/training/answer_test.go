package training_test

import (
	"math"
	"strings"
	"testing"

	"steptrace/core/circuit"
	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/training"
)

// small is a set of two amplifiers on a rail with a fuse, a control that mutes, and a circuit in the second.
func small(t *testing.T) *sheet.Sheet {
	t.Helper()
	return &sheet.Sheet{
		Model: "small",
		Points: []sheet.Point{
			{Name: "in", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "20 mV"}, {Quantity: sheet.Frequency, Value: "1 kHz"}}},
			{Name: "mid", Expect: []sheet.Expectation{{Quantity: sheet.DC, Value: "6 V"}, {Quantity: sheet.Resistance, Value: "33k"}}},
			{Name: "out"},
		},
		Stages: []sheet.Stage{
			{Name: "first", Kind: "amplifier", From: "in", To: "mid", Gain: "20 dB", Rails: []string{"+12"}},
			{Name: "second", Kind: "amplifier", From: "mid", To: "out", Gain: "6 dB", Rails: []string{"+12"}, Needs: []string{"MUTE"}},
		},
		Rails:      []sheet.Rail{{Name: "+12", Value: "12 V", Ripple: "40 mV", RippleFrequency: "100 Hz", Fuse: "F1"}},
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
		{"a touch that is heard", at("out", ""), touch("in"), nil, 0, quantity.Hum},
		{"a touch before what is dead", at("out", ""), touch("in"), []training.Fault{dead}, 0, quantity.Nothing},
	} {
		r, err := answer(x.reads, x.change, x.faults...)
		if err != nil || r.Word != x.word || math.Abs(r.SI-x.si) > 0.03*math.Abs(x.si)+1e-9 {
			t.Errorf("%s: %q is %g %q, want %g %q, %v", x.what, r.Text, r.SI, r.Word, x.si, x.word, err)
		}
	}
	for _, r := range []training.Reads{at("mid", sheet.Distortion), at("mid", sheet.Temperature), at("nowhere", "")} {
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
	set, err := standin.New(plan, training.Fault{Block: "second", Part: "R2", What: standin.TenTimes})
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
