package circuit

import (
	"math"
	"strings"
	"testing"

	"steptrace/core/device"
)

func typedStage(kind, value, also string) []Part {
	return []Part{
		PartOf("V1", "voltage", "+; ground", "12 V", "", ""),
		PartOf("R1", "resistor", "+; base", "470k", "", ""),
		PartOf("R2", "resistor", "+; out", "2k2", "", ""),
		PartOf("Q1", kind, "out; base; ground", value, also, ""),
	}
}

// A type's figures are those of the parts whose gain is typed: BC547B from 200 to 450 stands for 300, germanium drops 0.2 V.
func TestATypeGivesItsFigures(t *testing.T) {
	volts := func(parts []Part, node string) float64 {
		n, problems := (&Circuit{Parts: parts}).Read()
		if len(problems) > 0 {
			t.Fatal(problems)
		}
		r, err := n.Rest()
		if err != nil {
			t.Fatal(err)
		}
		return r.Volts[node]
	}
	byType, byGain := volts(typedStage("npn", "", "type bc547b"), "out"), volts(typedStage("npn", "", "gain 300; rated 500 mW"), "out")
	if math.Abs(byType-byGain) > 1e-6 {
		t.Errorf("by its type %g V, by its gain %g V", byType, byGain)
	}
	if own := volts(typedStage("npn", "", "type BC547B; gain 100"), "out"); math.Abs(
		own-volts(typedStage("npn", "", "gain 100"), "out"),
	) > 1e-6 {
		t.Errorf("what is said of the part does not count: %g V", own)
	}
}

func TestATypeThatCannotBe(t *testing.T) {
	for _, x := range []struct{ kind, also, says string }{
		{"npn", "type 2N3906", "2N3906 is pnp: the circuit has npn"},
		{"npn", "type 1N4148", "1N4148 is a diode, and no npn"},
		{"npn", "type HX-99", ""}, // nobody knows it: usual figures stand
	} {
		_, problems := (&Circuit{Parts: typedStage(x.kind, "", x.also)}).Read()
		says := ""
		for _, p := range problems {
			says += p.Message
		}
		if x.says == "" != (says == "") || !strings.Contains(says, x.says) {
			t.Errorf("%s: %q", x.also, says)
		}
	}
}

// What only this workshop knows is written into the part.
func TestAnOwnTypeIsWrittenIn(t *testing.T) {
	own, err := device.Row{Type: "HX-7", Kind: device.Transistor, Polarity: "npn", Gain: "100-400"}.Read()
	if err != nil {
		t.Fatal(err)
	}
	p := PartOf("Q1", "npn", "a; b; c", "", "type HX-7; rated 1 W", "")
	if err := p.Fill(&own); err != nil || p.AlsoText() != "gain 200; rated 1 W; type HX-7" {
		t.Errorf("%q %v", p.AlsoText(), err)
	}
	wrong := PartOf("Q1", "pnp", "a; b; c", "", "type HX-7", "")
	if err := wrong.Fill(&own); err == nil {
		t.Error("an npn is filled into a pnp")
	}
}

// A zener's volts and an op-amp's speed follow from their types; a table keeps the word as it was typed.
func TestTypesOfOtherKinds(t *testing.T) {
	p := PartOf("D1", "zener", "ground; +", "", "type BZX55C5V6", "")
	if p.TypeOf() != "BZX55C5V6" || p.AlsoText() != "type BZX55C5V6" {
		t.Errorf("%q %q", p.TypeOf(), p.AlsoText())
	}
	parts := []Part{
		PartOf("V1", "voltage", "in; ground", "12 V", "", ""), PartOf("R1", "resistor", "in; +", "680", "", ""), p,
	}
	n, problems := (&Circuit{Parts: parts}).Read()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	if r, err := n.Rest(); err != nil || math.Abs(r.Volts["+"]-5.6) > 0.15 {
		t.Errorf("%v %v", r.Volts, err)
	}
	for kind, x := range map[Kind]struct{ typed, word, want string }{
		OpAmp: {"TL072", "unity gain", "3 MHz"}, NMOS: {"IRF540", "threshold", "2.83 V"}, NJFET: {"BF245A", "pinch-off", "0.938 V"},
		Optocoupler: {"4N35", "transfer", "1.5"}, Diode: {"1N5819", "drop", "0.3 V at 1 mA"}, PNP: {"OC71", "drop", "0.2 V at 1 mA"},
	} {
		r := &reading{}
		also := map[string]string{"type": x.typed}
		if r.typed(&Part{Kind: kind}, also, "X1"); also[x.word] != x.want || len(r.problems) > 0 {
			t.Errorf("%s %s: %v %v", kind, x.typed, also, r.problems)
		}
	}
}
