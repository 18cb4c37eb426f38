package circuit

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"
)

func parts(t *testing.T, lines ...string) *Circuit {
	t.Helper()
	c := &Circuit{}
	for _, line := range lines {
		f := strings.Fields(line)
		p := Part{Name: f[0], Kind: Kind(f[1]), Also: map[string]string{}}
		for _, x := range f[2:] {
			if name, value, ok := strings.Cut(x, "="); ok {
				if name == "value" {
					p.Value = value
				} else {
					p.Also[name] = value
				}
			} else {
				p.Nodes = append(p.Nodes, x)
			}
		}
		c.Parts = append(c.Parts, p)
	}
	return c
}

func rest(t *testing.T, lines ...string) (*Net, *Rest) {
	t.Helper()
	n, problems := parts(t, lines...).Read()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	r, err := n.Rest()
	if err != nil {
		t.Fatal(err)
	}
	n.balanced(t, r)
	return n, r
}

// balanced checks Kirchhoff's current law: what flows into the parts at a node is nothing,
// to 1 nA and a millionth of what flows there.
func (n *Net) balanced(t *testing.T, r *Rest) {
	t.Helper()
	sums, sizes := make([]float64, n.size), make([]float64, n.size)
	for i := range n.elements {
		e := &n.elements[i]
		for k, amps := range n.elements[i].is.into(e, r.x) {
			if e.nodes[k] >= 0 {
				sums[e.nodes[k]] += amps
				sizes[e.nodes[k]] += math.Abs(amps)
			}
		}
	}
	for i, name := range n.Nodes {
		if math.Abs(sums[i]) > 1e-9+1e-6*sizes[i] {
			t.Errorf("at node %s %g A are left over of %g A", name, sums[i], sizes[i])
		}
	}
}

func near(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if !(math.Abs(got-want) <= share*math.Abs(want)) {
		t.Errorf("%s is %.9g, not %.9g", what, got, want)
	}
}

// lambert is the principal branch of Lambert's W, by Halley's method.
func lambert(x float64) float64 {
	w := math.Log1p(x)
	for range 100 {
		e := math.Exp(w)
		f := w*e - x
		w -= f / (e*(w+1) - (w+2)*f/(2*w+2))
	}
	return w
}

// Circuits with a solution in closed form: within 0.01 %.
func TestClosedForms(t *testing.T) {
	const share = 1e-4
	_, r := rest(t, "V1 voltage in 0 value=12", "R1 resistor in mid value=4k7", "R2 resistor mid 0 value=10k")
	near(t, "a divider", r.Volts["mid"], 12*10/14.7, share)
	near(t, "its current", r.Parts[1].Amps, 12/14.7e3, share)
	near(t, "its heat", r.Parts[1].Watts, 12/14.7e3*12/14.7e3*4700, share)

	// A diode behind a resistor: I = (nV_T/R)·W((I_s·R/nV_T)·exp((V + I_s·R)/nV_T)) − I_s.
	_, r = rest(t, "V1 voltage in 0 value=5", "R1 resistor in a value=1k", "D1 diode a 0 is=1e-12")
	vt, is, ohms := thermal, 1e-12, 1e3
	amps := vt/ohms*lambert(is*ohms/vt*math.Exp((5+is*ohms)/vt)) - is
	near(t, "a diode's current", r.Parts[2].Amps, amps, share)

	// The same beyond its breakdown, as a zener.
	_, r = rest(t, "V1 voltage in 0 value=12", "R1 resistor in k value=1k", "Z1 diode 0 k is=1e-12 bv=5.6")
	back := vt/ohms*lambert(is*ohms/vt*math.Exp((12-5.6+is*ohms)/vt)) - is
	near(t, "a zener's voltage", r.Volts["k"], 12-ohms*(back+is), share)

	// A junction FET with a source resistor: idss·(1 + V_GS/vp)² = −V_GS/R.
	_, r = rest(
		t,
		"V1 voltage d 0 value=20",
		"R0 resistor g 0 value=1M",
		"Q1 n-jfet d g s idss=8m vp=3 lambda=0",
		"R1 resistor s 0 value=470",
	)
	a, b, c := 8e-3/9, 2*8e-3/3+1/470.0, 8e-3
	vgs := (-b + math.Sqrt(b*b-4*a*c)) / (2 * a)
	near(t, "a self-biased FET's source", r.Volts["s"], -vgs, share)

	// A MOS FET with its gate on its drain: k/2·(V − vt)² = (V₁ − V)/R.
	_, r = rest(t, "V1 voltage in 0 value=10", "R1 resistor in d value=1k", "M1 n-mosfet d d 0 k=2m vt=2 lambda=0")
	over := (-1 + math.Sqrt(1+2*2e-3*1e3*8)) / (2e-3 * 1e3)
	near(t, "a MOS FET's gate", r.Volts["d"], 2+over, share)

	// A bipolar with its base current set: far from saturation I_C = bf·I_B (no Early effect
	// to speak of).
	_, r = rest(t, "V1 voltage c 0 value=10", "I1 current 0 b value=10u", "Q1 npn c b 0 bf=150 vaf=1e6")
	near(t, "a collector current", r.Parts[2].Amps, 150*10e-6*(1+9.3/1e6), share)

	// Op-amp, inverting: −R2/R1·(1 − (1 + R2/R1)/A) in the middle of its supplies.
	_, r = rest(
		t,
		"VP voltage p 0 value=15",
		"VM voltage m 0 value=-15",
		"V1 voltage in 0 value=0.5",
		"R1 resistor in x value=10k",
		"R2 resistor x out value=47k",
		"U1 opamp 0 x out p m gain=1e5 rin=1e12",
	)
	near(t, "an inverting amplifier", r.Volts["out"], -0.5*4.7*(1-5.7/1e5), share)
	// Beyond its supplies it stops short of them.
	_, r = rest(
		t,
		"VP voltage p 0 value=15",
		"VM voltage m 0 value=-15",
		"V1 voltage in 0 value=5",
		"R1 resistor in x value=10k",
		"R2 resistor x out value=47k",
		"U1 opamp 0 x out p m short=1.5 rout=1m",
	)
	near(t, "a driven op-amp", r.Volts["out"], -13.5, 2e-3)
}

// Small signals: RC and RLC by formula, a common emitter by gm, a transformer by its ratio.
func TestSmallSignals(t *testing.T) {
	db := func(x float64) float64 { return 20 * math.Log10(x) }
	gain := func(at string, hz float64, lines ...string) (float64, float64) {
		n, r := rest(t, lines...)
		out, err := n.Respond(r, []float64{hz})
		if err != nil {
			t.Fatal(err)
		}
		return out[0].Gain[at], out[0].Phase[at]
	}
	corner := 1 / (2 * math.Pi * 10e3 * 10e-9)
	g, phase := gain(
		"out",
		corner,
		"S1 signal in 0",
		"R1 resistor in out value=10k",
		"C1 capacitor out 0 value=10n",
		"R2 resistor out 0 value=1G",
	)
	if math.Abs(db(g)+3.0103) > 0.01 || math.Abs(phase+45) > 0.1 {
		t.Errorf("at its corner an RC has %g dB, %g°", db(g), phase)
	}
	// A series circuit at resonance: Q = √(L/C)/R over the capacitor.
	hz := 1 / (2 * math.Pi * math.Sqrt(1e-3*1e-9))
	g, _ = gain(
		"c",
		hz,
		"S1 signal in 0",
		"R1 resistor in l value=50",
		"L1 inductor l c value=1m ohms=1u",
		"C1 capacitor c 0 value=1n",
		"R2 resistor c 0 value=100G",
	)
	near(t, "a Q", g, math.Sqrt(1e-3/1e-9)/50, 1e-3)
	// Common emitter, emitter grounded for signals: gm·(R_C ∥ r_o).
	n, r := rest(
		t,
		"V1 voltage p 0 value=12",
		"R1 resistor p b value=47k",
		"R2 resistor b 0 value=10k",
		"R3 resistor p c value=2k2",
		"R4 resistor e 0 value=680",
		"C1 capacitor e 0 value=10000u",
		"S1 signal in 0",
		"C2 capacitor in b value=1000u",
		"Q1 npn c b e bf=200 vaf=100",
	)
	ic := r.Parts[8].Amps
	vce := r.Parts[8].Volts
	vbc := r.Volts["b"] - r.Volts["c"]
	early := 1 - vbc/100
	ro := 100 * early / ic
	out, _ := n.Respond(r, []float64{1000})
	near(t, "a common emitter's gain", out[0].Gain["c"], ic/thermal/(1/2200.0+1/ro), 2e-3)
	if vce < 2 || ic < 1e-3 {
		t.Errorf("it stands at %g V, %g A", vce, ic)
	}
	if math.Abs(math.Abs(out[0].Phase["c"])-180) > 1 {
		t.Errorf("it turns by %g°", out[0].Phase["c"])
	}
	g, _ = gain(
		"s",
		1000,
		"S1 signal in 0",
		"T1 transformer in 0 s 0 value=10 ratio=2 coupling=0.9999 ohms=1m",
		"R1 resistor s 0 value=1M",
	)
	near(t, "a transformer", g, 2*0.9999, 1e-3)
	// An op-amp's gain falls with its gain-bandwidth product: −3 dB at gbw/(1+R2/R1).
	g, _ = gain(
		"out",
		1e6/11,
		"VP voltage p 0 value=15",
		"VM voltage m 0 value=-15",
		"S1 signal in 0",
		"R1 resistor in x value=1k",
		"R2 resistor x out value=10k",
		"U1 opamp 0 x out p m gain=1e6 gbw=1e6 rin=1e12 rout=1m",
	)
	if math.Abs(db(g/10)+3.01) > 0.05 {
		t.Errorf("at its corner it has %g dB less", db(g/10))
	}
}

// Stages as sets have them stand where they should, with Kirchhoff's law kept.
func TestStagesStand(t *testing.T) {
	_, r := rest(
		t,
		"V1 voltage p 0 value=24",
		"R1 resistor p c1 value=100k",
		"R2 resistor e1 0 value=1k",
		"R3 resistor p c2 value=4k7",
		"R4 resistor e2 0 value=1k",
		"R5 resistor e2 b1 value=220k",
		"Q1 npn c1 b1 e1",
		"Q2 npn c2 c1 e2",
	)
	if v := r.Volts["e2"]; v < 0.7 || v > 3 {
		t.Errorf("a direct-coupled pair stands at %g V", v)
	}
	_, r = rest(
		t,
		"V1 voltage p 0 value=15",
		"V2 voltage m 0 value=-15",
		"R1 resistor p c1 value=10k",
		"R2 resistor p c2 value=10k",
		"R3 resistor e m value=14k3",
		"Q1 npn c1 0 e",
		"Q2 npn c2 0 e",
	)
	near(t, "a long-tailed pair's halves", r.Volts["c1"], r.Volts["c2"], 1e-6)
	near(t, "its tail", (r.Volts["e"]+15)/14.3e3, (15-r.Volts["c1"])/10e3*2, 0.02)
	_, r = rest(
		t,
		"V1 voltage p 0 value=20",
		"V2 voltage m 0 value=-20",
		"I1 current p b1 value=5m",
		"D1 diode b1 x",
		"D2 diode x b2",
		"R1 resistor b2 m value=3k8",
		"Q1 npn p b1 o",
		"Q2 pnp m b2 o",
		"R2 resistor o 0 value=8",
	)
	if v := r.Volts["o"]; math.Abs(v) > 0.2 {
		t.Errorf("an output pair stands at %g V", v)
	}
	_, r = rest(
		t,
		"V1 voltage p 0 value=12",
		"V2 voltage s 0 value=5",
		"R1 resistor s b value=4k7",
		"Q1 npn k b 0",
		"L1 inductor p k value=100m ohms=270",
		"D1 diode k p",
	)
	if v := r.Volts["k"]; v > 0.3 {
		t.Errorf("a relay driver that is on stands at %g V", v)
	}
}

// What keeps a circuit from being solved is named by its part or its node.
func TestBadCircuits(t *testing.T) {
	for name, x := range map[string]struct {
		lines []string
		says  string
	}{
		"floating node": {[]string{"V1 voltage a 0 value=5", "C1 capacitor a b value=1u", "C2 capacitor b 0 value=1u"},
			"node b: nothing connects it to ground"},
		"source loop":    {[]string{"V1 voltage a 0 value=5", "V2 voltage a 0 value=6"}, "V2: it closes a loop of voltage sources"},
		"no value":       {[]string{"R1 resistor a 0"}, "R1: it has no value"},
		"twice":          {[]string{"R1 resistor a 0 value=1k", "R1 resistor a 0 value=1k"}, "R1: two parts have this name"},
		"terminals":      {[]string{"Q1 npn c b"}, "Q1: a npn has 3 terminals (collector, base, emitter), not 2"},
		"kind":           {[]string{"X1 valve a b"}, "no kind of part"},
		"unphysical":     {[]string{"R1 resistor a 0 value=-5"}, "R1: -5 cannot be"},
		"unit":           {[]string{"R1 resistor a 0 value=5V"}, "R1: "},
		"node twice":     {[]string{"R1 resistor base 0 value=5k", "R2 resistor Base 0 value=1k"}, "node Base: there is also a node base"},
		"short":          {[]string{"R1 resistor a 0 value=5k", "R2 resistor a a value=1k"}, "R2: all its terminals are at a"},
		"unknown figure": {[]string{"R1 resistor a 0 value=5k beta=3"}, `R1: a resistor has no "beta"`},
	} {
		_, problems := parts(t, x.lines...).Read()
		said := ""
		for _, p := range problems {
			said += p.Where + ": " + p.Message + "\n"
		}
		if !strings.Contains(said, x.says) {
			t.Errorf("%s: %q", name, said)
		}
	}
	if _, problems := (&Circuit{}).Read(); len(problems) != 1 {
		t.Errorf("no parts: %v", problems)
	}
}

// A current that has nowhere to go has no state of rest, and says so.
func TestNowhereToGo(t *testing.T) {
	n, problems := parts(t, "I1 current 0 a value=1", "D1 diode 0 a").Read()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	if r, err := n.Rest(); !errors.Is(err, ErrUnsettled) {
		t.Errorf("%v, %v", r, err)
	}
}

func BenchmarkRestOfFortyParts(b *testing.B) {
	c := &Circuit{Parts: []Part{{Name: "V1", Kind: Voltage, Nodes: []string{"p", "0"}, Value: "24"}}}
	for i := range 8 { // eight common emitters of five parts
		n := func(s string) string { return fmt.Sprintf("%s%d", s, i) }
		c.Parts = append(
			c.Parts,
			Part{
				Name:  n("RA"),
				Kind:  Resistor,
				Nodes: []string{"p", n("b")},
				Value: "100k",
			},
			Part{Name: n("RB"), Kind: Resistor, Nodes: []string{n("b"), "0"}, Value: "15k"},
			Part{
				Name:  n("RC"),
				Kind:  Resistor,
				Nodes: []string{"p", n("c")},
				Value: "4k7",
			},
			Part{Name: n("RE"), Kind: Resistor, Nodes: []string{n("e"), "0"}, Value: "1k"},
			Part{Name: n("Q"), Kind: NPN, Nodes: []string{n("c"), n("b"), n("e")}},
		)
	}
	net, problems := c.Read()
	if len(problems) > 0 {
		b.Fatal(problems)
	}
	for b.Loop() {
		if _, err := net.Rest(); err != nil {
			b.Fatal(err)
		}
	}
}
