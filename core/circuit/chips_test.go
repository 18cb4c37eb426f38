package circuit

import (
	"fmt"
	"math"
	"math/cmplx"
	"slices"
	"testing"

	"steptrace/core/quantity"
)

// familyOf is a family's circuit with other texts for some of its parts, "R1=4k7".
func familyOf(t *testing.T, name string, edits map[string]string) *Net {
	t.Helper()
	for _, f := range Families() {
		if f.Name != name {
			continue
		}
		for i := range f.Parts {
			if text, ok := edits[f.Parts[i].Name]; ok {
				f.Parts[i].Value = text
			}
		}
		n, problems := (&Circuit{Parts: f.Parts}).Read()
		if len(problems) > 0 {
			t.Fatal(name, problems)
		}
		return n
	}
	t.Fatal("no family " + name)
	return nil
}

// figure is what a reading shows, in SI.
func (n *Net) figure(t *testing.T, what What, node, hz string) float64 {
	t.Helper()
	text, ok := n.Shows("in", NodeReading{What: what, Node: node, Hz: hz})
	if !ok {
		t.Fatalf("%s at %s shows nothing", what, node)
	}
	if what == Gain {
		gain, err := GainOf(text)
		if text == "none" {
			return 0
		}
		if err != nil {
			t.Fatal(err)
		}
		return gain
	}
	v, err := quantity.ParseAs(text, units[what])
	if err != nil {
		t.Fatal(err)
	}
	return v.SI
}

// A regulator holds its volts, gives way below what it drops, and beyond its limit.
func TestRegulator(t *testing.T) {
	for _, x := range []struct{ feed, load, value, want string }{
		{"19 V", "47", "9 V", "9 V"}, {"10 V", "47", "9 V", ""}, {"-19 V", "47", "-9 V", "-9 V"}, {"19 V", "1", "9 V", ""},
	} {
		n := familyOf(t, "Regulator of three legs", map[string]string{"V1": x.feed, "RL": x.load, "U1": x.value})
		got, in := n.figure(t, DC, "out", ""), n.figure(t, DC, "in", "")
		switch {
		case x.want != "":
			v, _ := quantity.ParseAs(x.want, quantity.Volt)
			near(t, x.value+" from "+x.feed, got, v.SI, 0.01)
		case x.load == "1": // 1.5 A, and what 100 Ω of giving way add
			near(t, "beyond its limit", got, 1.5+(9-1.5)/101, 0.01)
		default: // 2 V below its input, less what its own resistance drops
			near(t, "of too little", got, in-2, 0.002)
		}
	}
}

// A controlled amplifier has its gain by the decibels of its control, up to its most.
func TestControlledAmplifier(t *testing.T) {
	for volts, want := range map[float64]float64{0: 4, 1: 4 * math.Pow(10, -15.0/20), 2.2: 4 * math.Pow(10, -33.0/20), -3: 8} {
		n := familyOf(t, "Gain set by a voltage", map[string]string{"V3": fmt.Sprintf("%g V", volts/47*69)})
		load := 22e3 * 100e3 / 122e3
		near(t, fmt.Sprintf("gain at %g V", volts), n.figure(t, Gain, "amplified", "1 kHz"), want*load/(load+100), 0.01)
	}
}

// An analogue switch that mutes shunts by its ohms; without its supply it does nothing.
func TestAnalogueSwitch(t *testing.T) {
	n := familyOf(t, "Muting by an analogue switch", nil)
	open := n.figure(t, Gain, "switched", "1 kHz")
	muted := familyOf(t, "Muting by an analogue switch", map[string]string{"V2": "9 V"})
	near(t, "muted", muted.figure(t, Gain, "switched", "1 kHz"), 120.0/(120+2200), 0.02)
	if open < 0.9 {
		t.Errorf("open it passes %.3f", open)
	}
	dead := familyOf(t, "Muting by an analogue switch", map[string]string{"V2": "9 V", "V1": "0.5 V"})
	if got := dead.figure(t, Gain, "switched", "1 kHz"); got < 0.9 {
		t.Errorf("without supply it passes %.3f", got)
	}
	for control, high := range map[string]bool{"0 V": false, "5 V": true} {
		c := &Circuit{}
		for _, r := range [][4]string{
			{"V1", "voltage", "+; ground", "5 V"}, {"V2", "voltage", "a; ground", "1 V"}, {"V3", "voltage", "b; ground", "3 V"},
			{"V4", "voltage", "s; ground", control}, {"U1", "analogue changeover", "out; a; b; s; +; ground", "80"},
			{"RL", "resistor", "out; ground", "100k"},
		} {
			c.Parts = append(c.Parts, PartOf(r[0], r[1], r[2], r[3], "", ""))
		}
		n, problems := c.Read()
		if problems != nil {
			t.Fatal(problems)
		}
		near(t, "selected by "+control, n.figure(t, DC, "out", ""), map[bool]float64{false: 1, true: 3}[high], 0.002)
	}
}

// A power amplifier has the gain of its resistors, and nothing in standby.
func TestPowerAmplifier(t *testing.T) {
	name := "Power amplifier in one package"
	near(t, "gain", familyOf(t, name, nil).figure(t, Gain, "out", "1 kHz"), 1+22e3/820.0, 0.02)
	if got := familyOf(t, name, map[string]string{"V3": "0 V"}).figure(t, Gain, "out", "1 kHz"); got > 0.01 {
		t.Errorf("in standby it has a gain of %.3g", got)
	}
}

// A switching regulator's volts follow its divider, its input current the ratio, and a converter upwards 1/(1 − share)
// (Erickson and Maksimović); what is left of the carrier follows from its filter.
func TestSwitchingStage(t *testing.T) {
	name := "Switching regulator, down"
	for r1, want := range map[string]float64{"8k2": 1.25 * (1 + 8.2/1.5), "12k": 1.25 * 9} {
		n := familyOf(t, name, map[string]string{"R1": r1})
		near(t, "down with "+r1, n.figure(t, DC, "out", ""), want, 0.01)
		rest, _ := n.Rest()
		out, in := rest.Volts["out"], 0.0
		for _, p := range rest.Parts {
			if p.Name == "V1" {
				in = -p.Amps
			}
		}
		load := out/15 + out/(1e3*map[string]float64{"8k2": 9.7, "12k": 13.5}[r1])
		near(t, "current in", in, load*(out+load*(0.15+0.06))/26, 0.005)
	}
	n := familyOf(t, name, nil)
	w := 2 * math.Pi * 120e3
	share := (n.figure(t, DC, "switched", "") + 0.55*0.15) / 26
	inductor, esr, farads := w*150e-6, 0.06, 330e-6
	behind := math.Hypot(esr, 1/(w*farads)) / (inductor - 1/(w*farads))
	near(t, "carrier behind the filter", n.figure(t, Ripple, "out", ""), 2*2/math.Pi*26*math.Sin(math.Pi*share)*behind, 0.03)

	boost := &Circuit{}
	for _, r := range [][5]string{
		{"V1", "voltage", "in; ground", "12 V"}, {"V2", "voltage", "half; ground", "0 V"}, {"L1", "inductor", "in; c", "100 µH"},
		{"U1", "switching stage", "ground; out; c; half; ground", "", "most 80 %; on 1 mΩ; up"},
		{"C1", "capacitor", "out; ground", "100 µF"},
		{"RL", "resistor", "out; ground", "100"},
	} {
		boost.Parts = append(boost.Parts, PartOf(r[0], r[1], r[2], r[3], r[4], ""))
	}
	up, problems := boost.Read()
	if problems != nil {
		t.Fatal(problems)
	}
	near(t, "upwards", up.figure(t, DC, "out", ""), 12/(1-0.4), 0.002) // half of 80 %
}

// A regulator whose switch is shorted lets everything through: its diode holds nothing back.
func TestAShortedSwitchLetsAllThrough(t *testing.T) {
	for name, want := range map[string]float64{"Switching regulator, down": 25, "Power amplifier in one package": 24} {
		n := familyOf(t, name, nil)
		for _, f := range n.Faults() {
			if f.Part == "U1" &&
				(f.What == "shorted in its switch, from active to common" || f.What == "shorted from its output to its upper supply") {
				if got := n.With(f.Hard()).figure(t, DC, "out", ""); got < want {
					t.Errorf("%s %s: %.3g V", name, f.What, got)
				}
			}
		}
	}
}

// A class D output has the gain of its resistors, and a dead half puts a supply on its output.
func TestClassD(t *testing.T) {
	n := familyOf(t, "Class D output", nil)
	near(t, "gain", n.figure(t, Gain, "out", "1 kHz"), 18, 0.02)
	if got := n.figure(t, DC, "out", ""); math.Abs(got) > 0.02 {
		t.Errorf("%.3g V at its output", got)
	}
	for _, f := range n.Faults() {
		if f.What == "shorted in its switch, from active to common" {
			if got := n.With(f.Hard()).figure(t, DC, "out", ""); got < 15 {
				t.Errorf("with %s %s it has %.3g V at its output", f.Part, f.What, got)
			}
		}
	}
}

// The pulse of a horizontal output as the energy that goes to and fro has it: 1 + π/2·trace/retrace times its supply, with the
// retrace half a turn of its coils, side by side, with its capacitor.
func TestHorizontalOutput(t *testing.T) {
	for _, c := range []float64{8.2e-9, 5.6e-9, 12e-9} {
		n := familyOf(t, "Horizontal output", map[string]string{"C2": fmt.Sprintf("%g", c)})
		retrace := math.Pi * math.Sqrt(4.2e-3*1.6e-3/(4.2e-3+1.6e-3)*c)
		trace := 1/15.6e3 - retrace
		near(t, fmt.Sprintf("with %g F", c), n.figure(t, Ripple, "collector", ""), 95*(1+math.Pi/2*trace/retrace), 0.02)
	}
}

// A ramp is what its resistor charges in a turn.
func TestVerticalRamp(t *testing.T) {
	n := familyOf(t, "Vertical ramp", nil)
	near(t, "ramp", n.figure(t, Ripple, "ramp", ""), 22*(1-math.Exp(-0.97*20e-3/(120e3*680e-9))), 0.03)
}

// A transistor's type says how fast it is.
func TestATypeSaysHowFast(t *testing.T) {
	n, problems := (&Circuit{Parts: []Part{
		PartOf("V1", "voltage", "+; ground", "9 V", "", ""), PartOf("RB", "resistor", "+; b", "470k", "", ""),
		PartOf("RC", "resistor", "+; c", "2k2", "", ""), PartOf("Q1", "npn", "c; b; ground", "", "type 2N3904", ""),
	}}).Read()
	if problems != nil {
		t.Fatal(problems)
	}
	e := &n.elements[n.first(3)]
	if e.v[speed] != 300e6 || math.Abs(e.v[crossed]-4e-12) > 1e-18 {
		t.Errorf("%g Hz, %g F", e.v[speed], e.v[crossed])
	}
}

// A transistor that takes time has the gain of its transition frequency: at that a current in is as large as what comes out, and
// with a capacitance to its collector it has that times its gain at its base (Miller).
func TestTransitionFrequency(t *testing.T) {
	c := &Circuit{}
	for _, r := range [][5]string{
		{"V1", "voltage", "+; ground", "10 V"}, {"S1", "signal", "gen; ground", ""}, {"C1", "capacitor", "gen; far", "1 µF"},
		{"RS", "resistor", "far; base", "100k"}, {"RB", "resistor", "+; base", "1M"}, {"RC", "resistor", "+; out", "10"},
		{"Q1", "npn", "out; base; ground", "", "gain 100; transition 50 MHz; Early voltage 1e6 V"},
	} {
		c.Parts = append(c.Parts, PartOf(r[0], r[1], r[2], r[3], r[4], ""))
	}
	n, problems := c.Read()
	if problems != nil {
		t.Fatal(problems)
	}
	for hz, beta := range map[string]float64{"1 kHz": 100, "500 kHz": 100 / math.Sqrt2, "10 MHz": 5, "50 MHz": 1} {
		near(t, "current gain at "+hz, n.figure(t, Gain, "out", hz)/10*100e3, beta, 0.04)
	}
}

// What a FET has from drain to gate its stage multiplies (Miller): H = −RL·(gm − sC)/(1 + sC·(RS + RL + gm·RS·RL)), with
// gm = 2·IDSS/VP at no gate voltage. A diode that is reversed is a capacitor: 1/(1 + sRC). In time as for small signals.
func TestCapacitancesOfJunctions(t *testing.T) {
	follow := func(n *Net, node string, peak, hz float64) float64 {
		rest, err := n.Rest()
		if err != nil {
			t.Fatal(err)
		}
		c, err := n.Follow(rest, Drive{Shape: quantity.Sine, Peak: peak, Hz: hz}, 10/hz, 2/hz, 400)
		if err != nil {
			t.Fatal(err)
		}
		low, high := slices.Min(c.Volts[node]), slices.Max(c.Volts[node])
		return (high - low) / 2 / peak
	}
	read := func(rows [][5]string) *Net {
		c := &Circuit{}
		for _, r := range rows {
			c.Parts = append(c.Parts, PartOf(r[0], r[1], r[2], r[3], r[4], ""))
		}
		n, problems := c.Read()
		if problems != nil {
			t.Fatal(problems)
		}
		return n
	}
	const rs, rl, farads = 100e3, 1e3, 3e-12
	fet := read([][5]string{
		{"V1", "voltage", "+; ground", "12 V"}, {"S1", "signal", "gen; ground", ""}, {"RS", "resistor", "gen; gate", "100k"},
		{"RL", "resistor", "+; out", "1k"},
		{"Q1", "n-jfet", "out; gate; ground", "", "IDSS 5 mA; pinch-off 2 V; Early voltage 1e6 V; capacitance 3 pF"},
	})
	for _, x := range []struct {
		text string
		hz   float64
	}{{"10 kHz", 10e3}, {"88 kHz", 88e3}, {"1 MHz", 1e6}} {
		const gm = 2 * 5e-3 / 2
		s := complex(0, 2*math.Pi*x.hz)
		want := cmplx.Abs(rl * (gm - s*farads) / (1 + s*farads*(rs+rl+gm*rs*rl)))
		near(t, "stage of a FET at "+x.text, fet.figure(t, Gain, "out", x.text), want, 0.006) // it is written to 0.1 dB
		near(t, "in time at "+x.text, follow(fet, "out", 5e-3, x.hz), want, 0.01)
	}
	diode := read([][5]string{
		{"V1", "voltage", "+; ground", "10 V"}, {"S1", "signal", "gen; ground", ""}, {"R1", "resistor", "gen; out", "10k"},
		{"D1", "diode", "out; +", "", "capacitance 100 pF"},
	})
	for text, hz := range map[string]float64{"50 kHz": 50e3, "159.155 kHz": 159.155e3, "1 MHz": 1e6} {
		want := 1 / math.Hypot(1, 2*math.Pi*hz*10e3*100e-12)
		near(t, "diode at "+text, diode.figure(t, Gain, "out", text), want, 0.006)
		near(t, "in time at "+text, follow(diode, "out", 0.1, hz), want, 0.01)
	}
}
