package circuit

import (
	"context"
	"math"
	"slices"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/wave"
)

// Every family that ships stands where a good stage of its kind does, and writes and
// reads as a table the same.
func TestFamiliesStand(t *testing.T) {
	all := Families()
	if len(all) < 22 {
		t.Fatalf("%d families", len(all))
	}
	for _, f := range all {
		c := &Circuit{Parts: f.Parts}
		n, problems := c.Read()
		if len(problems) > 0 {
			t.Errorf("%s: %v", f.Name, problems)
			continue
		}
		v := n.view(nil)
		if !v.stand() {
			t.Errorf("%s does not come to rest", f.Name)
			continue
		}
		rest := n.state(v.x)
		if !n.goesOn() {
			n.balanced(t, rest)
		}
		for i, p := range n.parts {
			if got := PartOf(p.Name, string(p.Kind), p.NodesText(), p.Value, p.AlsoText(), p.In); got.NodesText() != p.NodesText() ||
				got.AlsoText() != p.AlsoText() ||
				got.Kind != p.Kind {
				t.Errorf("%s: %v reads back as %v", f.Name, p, got)
			}
			if r := rest.Parts[i]; r.Rated > 0 && r.Watts > r.Rated {
				t.Errorf("%s: %s turns %.2g W into heat", f.Name, r.Name, r.Watts)
			}
			if r := rest.Parts[i]; !n.goesOn() && (p.Kind == NPN || p.Kind == PNP) &&
				(math.Abs(r.Bias) < 0.5 || math.Abs(r.Bias) > 0.85) {
				t.Errorf("%s: %s has %.3g V at its base", f.Name, p.Name, r.Bias)
			}
		}
	}
	if got := all[0].Between("C1 +", ""); got[2].Nodes[1] != "C1 +" || all[0].Parts[2].Nodes[1] != "in" {
		t.Errorf("between: %v", got[2])
	}
}

func family(t *testing.T, name string) *Net {
	t.Helper()
	for _, f := range Families() {
		if f.Name == name {
			n, problems := (&Circuit{Parts: f.Parts}).Read()
			if len(problems) > 0 {
				t.Fatal(problems)
			}
			return n
		}
	}
	t.Fatalf("no family %s", name)
	return nil
}

// Oscillators swing where the textbook has them, and in time as their natural mode says.
func TestOscillators(t *testing.T) {
	for _, x := range []struct {
		name        string
		hz          float64 // by formula
		share, time float64 // how far from it; and how far the swing in time may be from the mode
	}{
		// Colpitts: 1/(2π√(L·C₂C₃/(C₂+C₃))).
		{"Oscillator, LC", 1 / (2 * math.Pi * math.Sqrt(47e-6*470e-12*2.2e-9/(470e-12+2.2e-9))), 0.02, 0.03},
		// A crystal is above its series resonance by C_m/(2·(C_holder + C_load)).
		{"Oscillator, crystal", 4e6 * (1 + 20e-15/(2*(5e-12+110e-12))), 2e-5, 0},
		// Phase shift with a collector resistance: 1/(2πRC√(6 + 4R_C/R)), its last leg
		// loaded by the base.
		{"Oscillator, RC", 1 / (2 * math.Pi * 10e3 * 10e-9 * math.Sqrt(6+4*0.47)), 0.35, 0.1},
	} {
		n := family(t, x.name)
		rest, err := n.Rest()
		if err != nil {
			t.Fatal(err)
		}
		hz := n.Swing(rest)
		near(t, x.name, hz, x.hz, x.share)
		if x.time == 0 {
			continue // it starts too slowly to wait for
		}
		course, err := n.Follow(rest, Drive{}, 60/hz, 10/hz, 2001)
		if err != nil {
			t.Errorf("%s: %v", x.name, err)
			continue
		}
		ch := wave.Channel{Samples: course.Volts["out"]}
		low, high := math.Inf(1), math.Inf(-1)
		crossings, before := 0, 0.0
		for _, v := range ch.Samples {
			low, high = min(low, v), max(high, v)
		}
		first, last := -1, -1
		for i, v := range ch.Samples {
			if v = v - (low+high)/2; before < 0 && v >= 0 {
				if first < 0 {
					first = i
				} else {
					crossings++
				}
				last = i
			}
			before = v
		}
		if high-low < 0.5 || crossings < 5 {
			t.Errorf("%s swings by %.3g V, %d times", x.name, high-low, crossings)
			continue
		}
		near(t, x.name+" in time", float64(crossings)*course.Rate/float64(last-first), hz, x.time)
	}
	if n := family(t, "Common emitter"); true {
		rest, _ := n.Rest()
		if hz := n.Swing(rest); hz != 0 {
			t.Errorf("an amplifier swings at %g Hz", hz)
		}
	}
}

// In time: an RC by its exponential, a small signal as by small-signal analysis, a bridge's
// ripple by its charge.
func TestInTime(t *testing.T) {
	n, r := rest(t, "S1 signal in 0", "R1 resistor in out value=1k", "C1 capacitor out 0 value=1u", "R2 resistor out 0 value=1G")
	course, err := n.Follow(r, Drive{quantity.Square, 1, 10}, 0, 0.05, 5001)
	if err != nil {
		t.Fatal(err)
	}
	// From 0 toward 1 V, the edge of 0.1 ms ramping from −1 V.
	for _, ms := range []float64{1, 2, 5} {
		tau, edge, at := 1e-3, 1e-4, ms*1e-3
		// a ramp −1 + 2t/T up to T, then 1: the exact answer of a first order
		end := -1 - 2*tau/edge + (1+2*tau/edge)*math.Exp(-edge/tau) + 2
		want := 1 + (end-1)*math.Exp(-(at-edge)/tau)
		if got := course.Volts["out"][int(math.Round(at*course.Rate))]; math.Abs(got-want) > 2e-3 {
			t.Errorf("after %g ms %.5f V, not %.5f", ms, got, want)
		}
	}
	for _, name := range []string{"Common emitter", "FET input", "Op-amp, non-inverting", "LC filter", "IF stage"} {
		n := family(t, name)
		r, err := n.Rest()
		if err != nil {
			t.Fatal(err)
		}
		hz := map[string]float64{"IF stage": 455e3}[name]
		if hz == 0 {
			hz = 5e3
		}
		response, err := n.Respond(r, []float64{hz})
		if err != nil {
			t.Fatal(err)
		}
		course, err := n.Follow(r, Drive{quantity.Sine, 1e-4, hz}, 100/hz, 4/hz, 801)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		var sin, cos float64 // the part at the frequency, over whole periods
		for i, v := range course.Volts["out"][:800] {
			w := 2 * math.Pi * float64(i) / 200
			sin, cos = sin+v*math.Sin(w), cos+v*math.Cos(w)
		}
		gain := math.Hypot(sin, cos) / 400 / 1e-4
		if off := 20 * math.Log10(gain/response[0].Gain["out"]); math.Abs(off) > 0.1 {
			t.Errorf("%s: in time %.3f dB off its small signal (%.4g)", name, off, response[0].Gain["out"])
		}
	}
	v := family(t, "Rectifier and reservoir").view(nil)
	if !v.stand() {
		t.Fatal("it does not stand")
	}
	out := slices.Index(v.net.Nodes, "out")
	ripple := v.predict(&look{what: Ripple, node: out, to: ground, part: -1}, 0).value
	volts := v.predict(&look{what: DC, node: out, to: ground, part: -1}, 0).value
	if volts < 17 || volts > 21.2 {
		t.Errorf("15 V rectified is %.3g V", volts)
	}
	near(t, "ripple", ripple, volts/100/(2*50*2200e-6), 0.25) // I/(2·f·C), less while it is charged
}

// Every family can be followed in time with every usual fault in it, driven hard.
func TestEveryFaultCanBeFollowed(t *testing.T) {
	followed, failed := 0, 0
	for _, f := range Families() {
		n := family(t, f.Name)
		d := Drive{quantity.Sine, 1, 1000}
		begin, span := 0.005, 0.002
		if !n.Signals() {
			d = Drive{}
			if rest, err := n.Rest(); err == nil && n.Swing(rest) > 0 {
				begin, span = 20/n.Swing(rest), 4/n.Swing(rest)
			}
		}
		for _, fault := range append(n.Faults(), Fault{change: func(*Net, int) {}}) {
			broken := n.With(fault)
			if !broken.view(nil).stand() {
				continue
			}
			followed++
			node, begin, span := "out", begin, span
			if f.Name == "Horizontal output" {
				node = "collector"
			}
			if rest, err := broken.Rest(); n.Runs() && err == nil && broken.Swing(rest) > 0 {
				begin, span = 2/broken.Swing(rest), 2/broken.Swing(rest) // many times as fast, with its capacitor open
			}
			if w, ok := broken.Wave(d, node, begin, span, 101); !ok ||
				slices.ContainsFunc(w, func(v float64) bool { return math.IsNaN(v) || math.Abs(v) > 1e4 }) {
				failed++
				t.Logf("%s, %s %s", f.Name, fault.Part, fault.What)
			}
		}
	}
	t.Logf("%d of %d could not be followed", failed, followed)
	if failed*100 > followed {
		t.Error("too many cannot be followed in time")
	}
}

// Shapes of a period are named: a sine, and what cuts it.
func TestShapes(t *testing.T) {
	period := func(f func(x float64) float64) []float64 {
		w := make([]float64, 200)
		for i := range w {
			w[i] = 5 + f(math.Sin(2*math.Pi*float64(i)/200+0.3))
		}
		return w
	}
	for want, f := range map[int]func(x float64) float64{
		clean:        func(x float64) float64 { return x },
		clippedTop:   func(x float64) float64 { return math.Min(x, 0.5) },
		clippedBelow: func(x float64) float64 { return math.Max(x, -0.4) },
		clippedBoth:  func(x float64) float64 { return math.Max(math.Min(x, 0.5), -0.5) },
		otherwise:    func(x float64) float64 { return math.Copysign(math.Max(math.Abs(x)-0.3, 0), x) }, // crossover
		nothing:      func(x float64) float64 { return 1e-6 * x },
	} {
		if got := shapeOf(period(f)); got != want {
			t.Errorf("%s is taken for %s", Shapes[want], Shapes[got])
		}
	}
	// A bias that has slipped is told by the side that clips, where the gain says little.
	c := parts(
		t,
		"V1 voltage p 0 value=12",
		"S1 signal in 0",
		"C1 capacitor in base value=4.7u",
		"R1 resistor p base value=100k",
		"R2 resistor base 0 value=18k",
		"R3 resistor p out value=4k7",
		"R4 resistor e 0 value=1k",
		"Q1 npn out base e bf=250",
	)
	n, problems := c.Read()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	all := n.Faults()
	f := all[slices.IndexFunc(all, func(f Fault) bool { return f.Part == "R2" && f.What == "drifted low" })]
	set := n.With(f).view(nil)
	if !set.stand() {
		t.Fatal("it does not stand")
	}
	r := NodeReading{What: Shape, Node: "out", Hz: "1 kHz", Drive: "0.6 V", Value: "clean"}
	l, err := n.look(&r)
	if err != nil {
		t.Fatal(err)
	}
	r.Value = Shapes[set.shape(&l)]
	if r.Value != "clipped on top" {
		t.Errorf("with too little current it is %s", r.Value)
	}
	d, problems := c.Diagnose(context.Background(), []NodeReading{r}, Past{})
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	share := func(part, what string) float64 {
		for _, x := range d.Ranked {
			if len(x.Faults) == 1 && x.Faults[0].Part == part && x.Faults[0].What == what {
				return x.Weight
			}
		}
		return 0
	}
	if share("R2", f.What) < 5*share("C1", "of high ESR")*(0.18/0.4) { // which leaves it clean
		t.Errorf("R2 has %.3f, a fault that leaves it clean %.3f", share("R2", f.What), share("C1", "of high ESR"))
	}
}
