package circuit

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// builder makes random stages, each fed from the one before.
type builder struct {
	rng   *rand.Rand
	parts []Part
	count int
}

func (b *builder) add(kind Kind, value string, also map[string]string, nodes ...string) {
	b.count++
	b.parts = append(b.parts, Part{Name: fmt.Sprintf("P%d", b.count), Kind: kind, Nodes: nodes, Value: value, Also: also})
}

// ohms is a value within a factor of three about one.
func (b *builder) ohms(about float64) string {
	return fmt.Sprintf("%.4g", about*math.Pow(10, b.rng.Float64()-0.5))
}

func (b *builder) node(name string) string { return fmt.Sprintf("%s%d", name, b.count) }

func (b *builder) beta() map[string]string {
	return map[string]string{"bf": fmt.Sprintf("%.0f", 30+500*b.rng.Float64()), "vaf": fmt.Sprintf("%.0f", 30+200*b.rng.Float64())}
}

// families are stages between the supplies p and m: each takes the node before and gives
// its own.
var families = map[string]func(b *builder, in string) string{
	"common emitter": func(b *builder, in string) string {
		base, c, e := b.node("b"), b.node("c"), b.node("e")
		b.add(Capacitor, "10u", nil, in, base)
		b.add(Resistor, b.ohms(100e3), nil, "p", base)
		b.add(Resistor, b.ohms(20e3), nil, base, "0")
		b.add(Resistor, b.ohms(4e3), nil, "p", c)
		b.add(Resistor, b.ohms(1e3), nil, e, "0")
		b.add(Capacitor, "100u", map[string]string{"esr": "0.5"}, e, "0")
		b.add(NPN, "", b.beta(), c, base, e)
		return c
	},
	"follower": func(b *builder, in string) string {
		e := b.node("f")
		b.add(NPN, "", b.beta(), "p", in, e)
		b.add(Resistor, b.ohms(2e3), nil, e, "m")
		return e
	},
	"direct coupled": func(b *builder, in string) string {
		base, c1, c2, e2, e1 := b.node("b"), b.node("c"), b.node("d"), b.node("e"), b.node("x")
		b.add(Capacitor, "1u", nil, in, base)
		b.add(Resistor, b.ohms(100e3), nil, "p", c1)
		b.add(Resistor, b.ohms(100), nil, e1, "0")
		b.add(NPN, "", b.beta(), c1, base, e1)
		b.add(Resistor, b.ohms(4e3), nil, "p", c2)
		b.add(Resistor, b.ohms(1e3), nil, e2, "0")
		b.add(NPN, "", b.beta(), c2, c1, e2)
		b.add(Resistor, b.ohms(220e3), nil, e2, base)
		return c2
	},
	"long-tailed pair": func(b *builder, in string) string {
		c, e, other := b.node("c"), b.node("e"), b.node("o")
		b.add(NPN, "", b.beta(), "p", in, e)
		b.add(NPN, "", b.beta(), c, other, e)
		b.add(Resistor, b.ohms(10e3), nil, other, "0")
		b.add(Resistor, b.ohms(10e3), nil, "p", c)
		b.add(Resistor, b.ohms(15e3), nil, e, "m")
		return c
	},
	"class-AB output": func(b *builder, in string) string {
		k, b1, x, b2, o := b.node("k"), b.node("u"), b.node("x"), b.node("l"), b.node("o")
		b.add(NPN, "", b.beta(), b2, k, "m") // the driver
		b.add(Resistor, b.ohms(47e3), nil, k, "m")
		b.add(Resistor, b.ohms(100e3), nil, o, k)
		b.add(Capacitor, "1u", nil, in, k)
		b.add(Resistor, b.ohms(3e3), nil, "p", b1)
		b.add(Diode, "", nil, b1, x)
		b.add(Diode, "", nil, x, b2)
		b.add(NPN, "", b.beta(), "p", b1, o)
		b.add(PNP, "", b.beta(), "m", b2, o)
		b.add(Resistor, "8", nil, o, "0")
		return o
	},
	"inverting op-amp": func(b *builder, in string) string {
		x, o := b.node("x"), b.node("o")
		b.add(Resistor, b.ohms(10e3), nil, in, x)
		b.add(Resistor, b.ohms(47e3), nil, x, o)
		b.add(OpAmp, "", nil, "0", x, o, "p", "m")
		return o
	},
	"non-inverting op-amp": func(b *builder, in string) string {
		x, o := b.node("x"), b.node("o")
		b.add(Resistor, b.ohms(1e3), nil, x, "0")
		b.add(Resistor, b.ohms(10e3), nil, x, o)
		b.add(OpAmp, "", map[string]string{"gain": "300k"}, in, x, o, "p", "m")
		return o
	},
	"FET input": func(b *builder, in string) string {
		g, d, s := b.node("g"), b.node("d"), b.node("s")
		b.add(Capacitor, "100n", nil, in, g)
		b.add(Resistor, b.ohms(1e6), nil, g, "0")
		b.add(Resistor, b.ohms(3e3), nil, "p", d)
		b.add(Resistor, b.ohms(1e3), nil, s, "0")
		b.add(NJFET, "", map[string]string{"idss": b.ohms(5e-3), "vp": b.ohms(2)}, d, g, s)
		return d
	},
	"cascode": func(b *builder, in string) string {
		base, c, mid, e, top := b.node("b"), b.node("c"), b.node("i"), b.node("e"), b.node("t")
		b.add(Capacitor, "10u", nil, in, base)
		b.add(Resistor, b.ohms(47e3), nil, "p", top)
		b.add(Resistor, b.ohms(20e3), nil, top, base)
		b.add(Resistor, b.ohms(10e3), nil, base, "0")
		b.add(Resistor, b.ohms(2e3), nil, "p", c)
		b.add(NPN, "", b.beta(), c, top, mid)
		b.add(NPN, "", b.beta(), mid, base, e)
		b.add(Resistor, b.ohms(700), nil, e, "0")
		return c
	},
	"series regulator": func(b *builder, in string) string {
		z, o := b.node("z"), b.node("o")
		b.add(Resistor, b.ohms(1e3), nil, "p", z)
		b.add(Diode, "", map[string]string{"is": "1e-12", "bv": fmt.Sprintf("%.1f", 4+6*b.rng.Float64())}, "0", z)
		b.add(NPN, "", b.beta(), "p", z, o)
		b.add(Resistor, b.ohms(500), nil, o, "0")
		b.add(Resistor, b.ohms(10e3), nil, o, in)
		return o
	},
	"relay driver": func(b *builder, in string) string {
		base, c := b.node("b"), b.node("c")
		b.add(Resistor, b.ohms(10e3), nil, in, base)
		b.add(NPN, "", b.beta(), c, base, "0")
		b.add(Inductor, "200m", map[string]string{"ohms": b.ohms(300)}, "p", c)
		b.add(Diode, "", nil, c, "p")
		return c
	},
	"MOS switch": func(b *builder, in string) string {
		d := b.node("d")
		b.add(NMOS, "", map[string]string{"k": b.ohms(0.1), "vt": fmt.Sprintf("%.2f", 1+2*b.rng.Float64())}, d, in, "0")
		b.add(Resistor, b.ohms(1e3), nil, "p", d)
		b.add(Resistor, b.ohms(1e6), nil, in, "0")
		return d
	},
	"filter and pot": func(b *builder, in string) string {
		l, o, w := b.node("l"), b.node("o"), b.node("w")
		b.add(Inductor, b.ohms(10e-3), map[string]string{"ohms": "30"}, in, l)
		b.add(Resistor, b.ohms(1e3), nil, l, o)
		b.add(Capacitor, b.ohms(10e-9), nil, o, "0")
		b.add(Pot, b.ohms(20e3), map[string]string{"at": fmt.Sprintf("%.3f", b.rng.Float64())}, o, w, "0")
		return w
	},
	"rectifier": func(b *builder, in string) string {
		s, o := b.node("s"), b.node("o")
		b.add(Windings, "2", map[string]string{"ratio": "0.5"}, in, "0", s, "0")
		b.add(Diode, "", map[string]string{"n": "1.7"}, s, o)
		b.add(Capacitor, "470u", nil, o, "0")
		b.add(Resistor, b.ohms(2e3), nil, o, "0")
		return o
	},
	"PNP stage": func(b *builder, in string) string {
		base, c, e := b.node("b"), b.node("c"), b.node("e")
		b.add(Capacitor, "10u", nil, in, base)
		b.add(Resistor, b.ohms(20e3), nil, "p", base)
		b.add(Resistor, b.ohms(100e3), nil, base, "0")
		b.add(Resistor, b.ohms(4e3), nil, c, "m")
		b.add(Resistor, b.ohms(1e3), nil, "p", e)
		b.add(PNP, "", b.beta(), c, base, e)
		return c
	},
}

// Every family alone and random mixes of them come to rest, with Kirchhoff's law kept at
// every node, and answer small signals with numbers: none of two thousand fails.
func TestFamiliesComeToRest(t *testing.T) {
	rng := rand.New(rand.NewPCG(2000, 1))
	var names []string
	for name := range families {
		names = append(names, name)
	}
	slices.Sort(names)
	const seeds = 2000
	failed := 0
	for seed := range seeds {
		b := &builder{rng: rng}
		b.add(Voltage, fmt.Sprintf("%.3g", 6+30*rng.Float64()), nil, "p", "0")
		b.add(Voltage, fmt.Sprintf("%.3g", -6-30*rng.Float64()), nil, "m", "0")
		b.add(Signal, "", nil, "in", "0")
		b.add(Resistor, b.ohms(600), nil, "in", "first")
		at := "first"
		stages := []string{names[seed%len(names)]}
		for range rng.IntN(4) {
			stages = append(stages, names[rng.IntN(len(names))])
		}
		for _, name := range stages {
			at = families[name](b, at)
			b.add(Resistor, b.ohms(100e3), nil, at, "0")
		}
		n, problems := (&Circuit{Parts: b.parts}).Read()
		if len(problems) > 0 {
			t.Fatalf("%v: %v", stages, problems)
		}
		r, err := n.Rest()
		if err != nil {
			failed++
			t.Errorf("seed %d, %v: %v", seed, stages, err)
			continue
		}
		n.balanced(t, r)
		response, err := n.Respond(r, []float64{1000})
		if err != nil || math.IsNaN(response[0].Gain[at]) || math.IsInf(response[0].Gain[at], 0) {
			t.Errorf("seed %d, %v: %v", seed, stages, err)
		}
	}
	t.Logf("%d of %d failed", failed, seeds)
}
