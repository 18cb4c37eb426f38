package circuit_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"steptrace/core/circuit"
)

// Sets as the ranking does not suppose them: nothing here knows how it weighs. A fault is worked into the list of
// parts as it would be with a soldering iron, of any severity; the other parts are off by more than it takes for
// usual; what is read is off by a meter's error and by some millivolts. Only the solver is the same.

// blind is a circuit of its own, and at which frequency its signal is read.
type blind struct {
	name, hz string
	parts    []circuit.Part
}

// drawn are circuits that ship with nothing: a row a part, with its kind, nodes, value and further values.
var drawn = map[string]string{
	"microphone amplifier": `V1 voltage +,0 18; S1 signal gen,0; RS resistor gen,in 200 in=outside; C1 capacitor in,b1 10µ; R1 resistor b1,0 82k;
		R2 resistor +,b1 330k; Q1 npn c1,b1,e1 - gain=350; R3 resistor +,c1 18k; R4 resistor e1,0 2k7; C2 capacitor e1,k 220µ; R5 resistor k,0 56;
		C3 capacitor c1,b2 2.2µ; R6 resistor +,b2 180k; R7 resistor b2,0 56k; Q2 npn c2,b2,e2 - gain=220; R8 resistor +,c2 3k9; R9 resistor e2,0 1k2;
		C4 capacitor c2,out 4.7µ; RL resistor out,0 22k in=outside`,
	"follower pair": `V1 voltage +,0 30; S1 signal gen,0; RS resistor gen,in 1k in=outside; C1 capacitor in,b1 470n; R1 resistor +,b1 270k; R2 resistor b1,0 270k;
		Q1 npn +,b1,e1 - gain=180; R3 resistor e1,0 39k; Q2 npn +,e1,e2 - gain=90; R4 resistor e2,0 1k5; C2 capacitor e2,out 47µ; RL resistor out,0 2k2 in=outside`,
	"inverted stage": `V1 voltage -,0 -9; S1 signal gen,0; RS resistor gen,in 2k2 in=outside; C1 capacitor in,b 3.3µ; R1 resistor -,b 56k; R2 resistor b,0 12k;
		Q1 pnp c,b,e - gain=140; R3 resistor -,c 3k3; R4 resistor e,0 560; C2 capacitor e,0 47µ; C3 capacitor c,out 2.2µ; RL resistor out,0 33k in=outside`,
	"feedback pair": `V1 voltage +,0 22; S1 signal gen,0; RS resistor gen,in 470 in=outside; C1 capacitor in,b1 1µ; R1 resistor b1,e2 180k; Q1 npn c1,b1,e1 - gain=280;
		R2 resistor +,c1 100k; R3 resistor e1,0 390; Q2 npn out,c1,e2 - gain=300; R4 resistor +,out 5k6; R5 resistor e2,0 820; C2 capacitor e2,0 33µ;
		R6 resistor out,fb 12k; C3 capacitor fb,e1 10µ; RL resistor out,0 68k in=outside`,
	"summing amplifier": `V1 voltage +,0 12; V2 voltage -,0 -12; S1 signal gen,0; RS resistor gen,in 100 in=outside; C1 capacitor in,a 10µ; R1 resistor a,sum 22k;
		R2 resistor other,sum 22k; RO resistor other,0 100 in=outside; R3 resistor sum,out 47k; C2 capacitor sum,out 100pF; U1 opamp p,sum,out,+,-; R4 resistor p,0 10k;
		RL resistor out,0 4k7 in=outside`,
	"source follower": `V1 voltage +,0 24; S1 signal gen,0; RS resistor gen,in 10k in=outside; C1 capacitor in,g 22n; R1 resistor g,0 2M2; Q1 n-jfet +,g,s - IDSS=8m pinch-off=3;
		R2 resistor s,0 3k3; C2 capacitor s,out 2.2µ; RL resistor out,0 47k in=outside`,
	"tracking supply": `V1 voltage +,0 32; R1 resistor +,z 2k2; Z1 zener 0,z 15; C1 capacitor z,0 22µ; R2 resistor z,ref 4k7; R3 resistor ref,0 10k; Q1 npn +,ref,e1 - gain=150;
		Q2 npn +,e1,out - gain=60; R4 resistor e1,out 1k; C2 capacitor out,0 220µ; RL resistor out,0 330 in=outside`,
	"phase splitter": `V1 voltage +,0 15; S1 signal gen,0; RS resistor gen,in 600 in=outside; C1 capacitor in,b 680n; R1 resistor +,b 120k; R2 resistor b,0 47k; Q1 npn c,b,e - gain=260;
		R3 resistor +,c 1k8; R4 resistor e,0 1k8; C2 capacitor c,out 1µ; C3 capacitor e,other 1µ; RL resistor out,0 39k in=outside; RM resistor other,0 39k in=outside`,
	"tone stage": `V1 voltage +,0 15; V2 voltage -,0 -15; S1 signal gen,0; RS resistor gen,in 1k in=outside; R1 resistor in,top 5k6; P1 pot top,w,foot 100k at=0.4;
		R2 resistor foot,0 560; C1 capacitor w,p 220n; R3 resistor p,0 470k; U1 opamp p,m,o,+,-; R4 resistor m,o 15k; R5 resistor m,k 1k8; C2 capacitor k,0 22µ;
		C3 capacitor o,out 10µ; RL resistor out,0 10k in=outside`,
	"clamped driver": `V1 voltage +,0 12; S1 signal gen,0; RS resistor gen,in 600 in=outside; C1 capacitor in,a 100n; D1 diode 0,a; R1 resistor a,b 33k; R2 resistor +,b 220k;
		R3 resistor b,0 22k; Q1 npn c,b,e - gain=200; R4 resistor +,c 2k7; R5 resistor e,0 270; C2 capacitor c,out 330n; RL resistor out,0 100k in=outside`,
}

// blinds are those and every family that ships, as far as DC and a signal at one frequency tell of it.
func blinds(t *testing.T) []blind {
	var out []blind
	for _, f := range circuit.Families() {
		hz := map[string]string{"IF stage": "455 kHz", "Trap": "4.5 MHz"}[f.Name]
		if hz == "" {
			hz = "1 kHz"
		}
		if strings.HasPrefix(f.Name, "Oscillator") || strings.HasPrefix(f.Name, "Rectifier") ||
			slices.ContainsFunc(f.Parts, func(p circuit.Part) bool { return p.Kind == circuit.Pulses }) {
			continue
		}
		out = append(out, blind{f.Name, hz, f.Parts})
	}
	names := make([]string, 0, len(drawn))
	for name := range drawn {
		names = append(names, name)
	}
	slices.Sort(names)
	for _, name := range names {
		b := blind{name: name, hz: "1 kHz"}
		for row := range strings.SplitSeq(drawn[name], ";") {
			words := strings.Fields(row)
			p := circuit.Part{
				Name:  words[0],
				Kind:  circuit.Kind(words[1]),
				Nodes: strings.Split(words[2], ","),
				Also:  map[string]string{},
			}
			for _, w := range words[3:] {
				key, value, found := strings.Cut(w, "=")
				switch {
				case !found && w != "-":
					p.Value = w
				case key == "in":
					p.In = value
				case found:
					p.Also[key] = value
				}
			}
			b.parts = append(b.parts, p)
		}
		out = append(out, b)
	}
	for i := range out {
		if _, problems := (&circuit.Circuit{Parts: out[i].parts}).Read(); len(problems) > 0 {
			t.Fatal(out[i].name, problems)
		}
	}
	return out
}

// iron is a soldering iron at a list of parts.
type iron struct {
	rng   *rand.Rand
	parts []circuit.Part
	extra int
}

func (w *iron) between(low, high float64) float64 { // even over the logarithms
	return low * math.Pow(high/low, w.rng.Float64())
}

func num(x float64) string { return strconv.FormatFloat(x, 'g', 12, 64) }

// across puts a resistance between two nodes.
func (w *iron) across(a, b string, ohms float64) {
	w.extra++
	w.parts = append(
		w.parts,
		circuit.Part{Name: fmt.Sprint("extra ", w.extra), Kind: circuit.Resistor, Nodes: []string{a, b}, Value: num(ohms)},
	)
}

// leg lifts a leg off its node, but for some hundreds of megohms of dirt.
func (w *iron) leg(p *circuit.Part, at int) {
	w.extra++
	from, to := p.Nodes[at], fmt.Sprint("lifted ", w.extra)
	p.Nodes = slices.Clone(p.Nodes)
	p.Nodes[at] = to
	w.across(from, to, w.between(2e8, 5e9))
}

// scaled is a part's value times something; values are read by the program's own words for them.
func (w *iron) scaled(n *circuit.Net, p *circuit.Part, times float64) {
	f, _ := n.Figures(p.Name)
	p.Value = num(f.Value * times)
}

// damage is something that happens to a part.
type damage func(w *iron, n *circuit.Net, p *circuit.Part)

// bridges puts a resistance between two legs; lifts takes one off; becomes and scales change a value, to something or
// by so many times, all anywhere between two bounds; sticks holds an output near a supply.
func bridges(a, b int, low, high float64) damage {
	return func(w *iron, _ *circuit.Net, p *circuit.Part) { w.across(p.Nodes[a], p.Nodes[b], w.between(low, high)) }
}

func lifts(at int) damage { return func(w *iron, _ *circuit.Net, p *circuit.Part) { w.leg(p, at) } }

func becomes(low, high float64) damage {
	return func(w *iron, _ *circuit.Net, p *circuit.Part) { p.Value = num(w.between(low, high)) }
}

func scales(low, high float64) damage {
	return func(w *iron, n *circuit.Net, p *circuit.Part) { w.scaled(n, p, w.between(low, high)) }
}

func sticks(supply int, sign float64) damage {
	return func(w *iron, _ *circuit.Net, p *circuit.Part) { w.stuck(p, supply, sign) }
}

// breaks are what may happen to a kind of part, by what the program calls it: several names are one.
var breaks = map[circuit.Kind]map[string]damage{
	circuit.Resistor: {
		"open":    becomes(2e8, 5e9),
		"shorted": bridges(0, 1, 0.02, 8),
		"drifted": func(w *iron, n *circuit.Net, p *circuit.Part) {
			if w.rng.IntN(3) == 0 {
				w.scaled(n, p, w.between(0.25, 0.65))
			} else {
				w.scaled(n, p, w.between(1.5, 5))
			}
		},
	},
	circuit.Capacitor: {
		"open":               becomes(0.5e-12, 20e-12),
		"shorted":            bridges(0, 1, 0.05, 15),
		"leaky":              bridges(0, 1, 500, 150e3),
		"low in capacitance": scales(0.02, 0.35),
		"of high ESR": func(w *iron, _ *circuit.Net, p *circuit.Part) {
			p.Also = map[string]string{"ESR": num(w.between(8, 300))}
		},
	},
	circuit.NPN: transistorBreaks, circuit.PNP: transistorBreaks,
	circuit.Diode: diodeBreaks, circuit.Zener: diodeBreaks,
	circuit.NJFET: {
		"shorted from drain to source": bridges(0, 2, 0.1, 30),
		"leaky at its gate":            bridges(1, 2, 1e3, 200e3),
		"open at its source":           lifts(2),
	},
	circuit.OpAmp: {
		"stuck at its upper supply": sticks(3, -1),
		"stuck at its lower supply": sticks(4, 1),
		"dead, its output open":     lifts(2),
	},
	circuit.Pot: {
		"open at its wiper": lifts(1),
		"open at one end":   lifts(0),
	},
	circuit.Contact: {
		"open":      becomes(1e8, 5e9),
		"resistive": becomes(20, 5e3),
	},
	circuit.Joint: {
		"open":      becomes(1e8, 5e9),
		"resistive": becomes(20, 5e3),
	},
	circuit.Inductor: {
		"open":                 lifts(0),
		"shorted in its turns": func(w *iron, n *circuit.Net, p *circuit.Part) { p.Value = num(henry(p) * w.between(0.003, 0.1)) },
	},
	circuit.Relay: {
		"open in its coil": lifts(0),
	},
}

func henry(p *circuit.Part) float64 {
	number, unit, _ := strings.Cut(p.Value, " ")
	x, _ := strconv.ParseFloat(number, 64)
	return x * map[string]float64{"H": 1, "mH": 1e-3, "µH": 1e-6}[unit]
}

var transistorBreaks = map[string]damage{
	"shorted from collector to emitter": bridges(0, 2, 0.05, 20),
	"shorted from base to emitter":      bridges(1, 2, 0.05, 20),
	"shorted from collector to base":    bridges(0, 1, 0.05, 20),
	"open at its base":                  lifts(1),
	"open at its collector":             lifts(0),
	"open at its emitter":               lifts(2),
	"of little gain": func(w *iron, _ *circuit.Net, p *circuit.Part) {
		p.Also = cloned(p.Also)
		p.Also["gain"] = num(gainOf(p) * w.between(0.02, 0.25))
	},
	"leaky from collector to base":    bridges(0, 1, 10e3, 500e3),
	"leaky from collector to emitter": bridges(0, 2, 500, 30e3),
}

var diodeBreaks = map[string]damage{
	"shorted": bridges(0, 1, 0.05, 10),
	"open":    lifts(0),
	"leaky":   bridges(0, 1, 300, 60e3),
}

func cloned(m map[string]string) map[string]string {
	out := map[string]string{}
	for k, v := range m {
		out[k] = v
	}
	return out
}

func gainOf(p *circuit.Part) float64 {
	x, err := strconv.ParseFloat(p.Also["gain"], 64)
	if err != nil {
		return 200
	}
	return x
}

// stuck holds an op-amp's output near a supply, by what its own output stage keeps.
func (w *iron) stuck(p *circuit.Part, supply int, sign float64) {
	w.extra++
	within := fmt.Sprint("within ", w.extra)
	out, rail := p.Nodes[2], p.Nodes[supply]
	p.Nodes = slices.Clone(p.Nodes)
	p.Nodes[2] = fmt.Sprint("lifted ", w.extra)
	w.across(p.Nodes[2], "0", 1e6)
	kept := w.between(0.2, 2.5)
	w.parts = append(
		w.parts,
		circuit.Part{Name: fmt.Sprint("kept ", w.extra), Kind: circuit.Voltage, Nodes: []string{within, rail}, Value: num(sign * kept)},
	)
	w.across(within, out, w.between(30, 300))
}

// spread takes parts as a drawer holds them: more at the edges and beyond than the ranking supposes.
func (w *iron) spread(n *circuit.Net) {
	gauss := func(sd float64) float64 { return math.Exp(sd * max(-2.5, min(2.5, w.rng.NormFloat64()))) }
	for i := range w.parts {
		p := &w.parts[i]
		switch p.Kind {
		case circuit.Resistor:
			if w.rng.IntN(4) > 0 {
				w.scaled(n, p, 1+0.05*(2*w.rng.Float64()-1))
			} else {
				w.scaled(n, p, 1+0.1*(2*w.rng.Float64()-1))
			}
		case circuit.Capacitor:
			w.scaled(n, p, 1+0.2*(2*w.rng.Float64()-1))
		case circuit.NPN, circuit.PNP:
			p.Also = cloned(p.Also)
			p.Also["gain"] = num(gainOf(p) * gauss(0.3))
		}
	}
}

// blindReading is a reading with its number.
type blindReading struct {
	circuit.NodeReading
	x float64
}

// read takes DC and the signal at every node that no source holds.
func (w *iron) read(b *blind, nodes []string) ([]blindReading, bool) {
	n, problems := (&circuit.Circuit{Parts: w.parts}).Read()
	if len(problems) > 0 {
		return nil, false
	}
	rest, err := n.Rest()
	if err != nil {
		return nil, false
	}
	var gains map[string]float64
	if slices.ContainsFunc(w.parts, func(p circuit.Part) bool { return p.Kind == circuit.Signal }) {
		hz := map[string]float64{"1 kHz": 1e3, "455 kHz": 455e3, "4.5 MHz": 4.5e6}[b.hz]
		r, err := n.Respond(rest, []float64{hz})
		if err != nil {
			return nil, false
		}
		gains = r[0].Gain
	}
	var out []blindReading
	noisy := func(x float64) float64 {
		return x*(1+0.01*(2*w.rng.Float64()-1)) + 0.002*(2*w.rng.Float64()-1)
	}
	for _, node := range nodes {
		x := noisy(rest.Volts[node])
		out = append(out, blindReading{circuit.NodeReading{What: circuit.DC, Node: node, Value: num(x)}, x})
		if gains != nil {
			x := math.Abs(noisy(gains[node]))
			out = append(out, blindReading{circuit.NodeReading{What: circuit.Gain, Node: node, Hz: b.hz, Value: num(x)}, x})
		}
	}
	return out, true
}

// nodes are those of a circuit that no source holds.
func (b *blind) nodes() []string {
	var out []string
	held := []string{"0", "ground", "gnd"}
	for _, p := range b.parts {
		switch p.Kind {
		case circuit.Voltage, circuit.Signal, circuit.Alternating, circuit.Current:
			held = append(held, p.Nodes...)
		}
	}
	for _, p := range b.parts {
		for _, node := range p.Nodes {
			if !slices.Contains(held, node) && !slices.Contains(out, node) {
				out = append(out, node)
			}
		}
	}
	return out
}

// usual is how readings of good sets lie: mean and spread, of many.
func (b *blind) usual(rng *rand.Rand) (mean, sd []float64, ok bool) {
	const many = 60
	var all [][]blindReading
	for range many {
		w := &iron{rng: rng, parts: slices.Clone(b.parts)}
		n, _ := (&circuit.Circuit{Parts: b.parts}).Read()
		w.spread(n)
		if r, ok := w.read(b, b.nodes()); ok {
			all = append(all, r)
		}
	}
	if len(all) < many/2 {
		return nil, nil, false
	}
	for i := range all[0] {
		sum, square := 0.0, 0.0
		for _, r := range all {
			sum += r[i].x
			square += r[i].x * r[i].x
		}
		m := sum / float64(len(all))
		mean = append(mean, m)
		sd = append(sd, math.Sqrt(max(0, square/float64(len(all))-m*m)))
	}
	return mean, sd, true
}

// same tells whether what the program names is the fault that was put in: what changed a value by any amount is one.
func same(named circuit.Fault, part, what string) bool {
	valued := func(s string) bool {
		return strings.HasPrefix(s, "drifted") || strings.HasSuffix(s, "capacitance")
	}
	if named.Part != part {
		return false
	}
	return named.What == what || valued(named.What) && valued(what)
}
