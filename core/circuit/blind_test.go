package circuit_test

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"steptrace/core/circuit"
	"steptrace/internal/trial"
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
		if strings.HasPrefix(f.Name, "Oscillator") || strings.HasPrefix(f.Name, "Rectifier") {
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
			p := circuit.Part{Name: words[0], Kind: circuit.Kind(words[1]), Nodes: strings.Split(words[2], ","), Also: map[string]string{}}
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

// usualIn is how often a kind of part fails beside others, and how, roughly as books on reliability have it; in the sets of
// the second kind faults are as frequent.
var usualIn = map[circuit.Kind]map[string]float64{
	circuit.Resistor:  {"open": 0.5, "drifted": 0.42, "shorted": 0.05},
	circuit.Capacitor: {"open": 1, "shorted": 1.2, "leaky": 0.8, "low in capacitance": 0.5, "of high ESR": 0.5},
	circuit.NPN:       usualTransistor, circuit.PNP: usualTransistor,
	circuit.Diode: usualDiode, circuit.Zener: usualDiode,
	circuit.NJFET:    {"shorted from drain to source": 1.2, "leaky at its gate": 0.8, "open at its source": 0.4},
	circuit.OpAmp:    {"stuck at its upper supply": 1, "stuck at its lower supply": 1, "dead, its output open": 0.8},
	circuit.Pot:      {"open at its wiper": 2, "open at one end": 1},
	circuit.Contact:  {"open": 3, "resistive": 2},
	circuit.Joint:    {"open": 2, "resistive": 1},
	circuit.Inductor: {"open": 0.3, "shorted in its turns": 0.3},
	circuit.Relay:    {"open in its coil": 1},
}

var usualTransistor = map[string]float64{
	"shorted from collector to emitter": 1,
	"shorted from base to emitter":      0.4,
	"shorted from collector to base":    0.4,
	"open at its base":                  0.3,
	"open at its collector":             0.3,
	"open at its emitter":               0.3,
	"of little gain":                    0.2,
	"leaky from collector to base":      0.1,
	"leaky from collector to emitter":   0.1,
}

var usualDiode = map[string]float64{"shorted": 1, "open": 0.6, "leaky": 0.3}

// drawFault picks a part and what happens to it: any alike, or as often as usual.
func (w *iron) drawFault(asUsual bool) (at int, what string) {
	total := 0.0
	for i := range w.parts {
		if w.parts[i].In == circuit.Outside {
			continue
		}
		names := make([]string, 0, 9)
		for name := range breaks[w.parts[i].Kind] {
			names = append(names, name)
		}
		slices.Sort(names)
		for _, name := range names {
			weight := 1 / float64(len(names))
			if asUsual {
				weight = usualIn[w.parts[i].Kind][name]
			}
			if total += weight; w.rng.Float64()*total < weight {
				at, what = i, name
			}
		}
	}
	return at, what
}

// outcome is how faults came out that show.
type outcome struct {
	all, first, three int
	two, wide         int
	said, right       [10]float64 // by tenths of what it says of the part that it puts first
	count             [10]int
	kinds             map[string]*[3]int
}

// add takes one diagnosis in.
func (o *outcome) add(key, part, what string, d *circuit.Diagnosis) (where int, first bool) {
	where = slices.IndexFunc(d.Ranked, func(x circuit.Ranked) bool { return len(x.Faults) == 1 && same(x.Faults[0], part, what) })
	first = where >= 0 && d.Ranked[where].Group == 0
	if o.kinds[key] == nil {
		o.kinds[key] = &[3]int{}
	}
	o.all++
	o.kinds[key][0]++
	if first {
		o.first++
		o.kinds[key][1]++
	}
	if first || where >= 0 && where < 3 {
		o.three++
		o.kinds[key][2]++
	}
	if len(d.Ranked[0].Faults) == 2 {
		o.two++
	}
	shares := map[string]float64{}
	for _, x := range d.Ranked {
		if x.Group == 0 {
			o.wide++
		}
		name := "?"
		if len(x.Faults) == 1 {
			name = x.Faults[0].Part
		}
		shares[name] += x.Weight
	}
	best, most := "", 0.0
	for name, x := range shares {
		if x > most {
			best, most = name, x
		}
	}
	bin := min(int(10*most), 9)
	o.count[bin]++
	o.said[bin] += most
	if best == part {
		o.right[bin]++
	}
	return where, first
}

// blindRun draws so many faults in every circuit.
func blindRun(t *testing.T, rng *rand.Rand, runs int, asUsual bool) *outcome {
	o := &outcome{kinds: map[string]*[3]int{}}
	list := blinds(t)
	for i := range list {
		b := &list[i]
		mean, sd, ok := b.usual(rng)
		if !ok {
			t.Fatal(b.name, "does not settle")
		}
		whole, _ := (&circuit.Circuit{Parts: b.parts}).Read()
		for left, tries := runs, 0; left > 0 && tries < 8*runs; tries++ {
			w := &iron{rng: rng, parts: slices.Clone(b.parts)}
			at, what := w.drawFault(asUsual)
			w.spread(whole)
			p := w.parts[at]
			breaks[p.Kind][what](w, whole, &p)
			w.parts[at] = p
			readings, ok := w.read(b, b.nodes())
			if !ok {
				continue
			}
			shown := 0.0
			given := make([]circuit.NodeReading, len(readings))
			for k, r := range readings {
				shown = max(shown, math.Abs(r.x-mean[k])/math.Hypot(sd[k], 0.004+0.01*math.Abs(mean[k])))
				given[k] = r.NodeReading
			}
			if shown < 4.5 {
				continue // nobody would have looked for it here
			}
			left--
			d, problems := (&circuit.Circuit{Name: b.name, Parts: b.parts}).Diagnose(context.Background(), given, circuit.Past{})
			if len(problems) > 0 {
				t.Fatal(b.name, p.Name, what, problems)
			}
			where, first := o.add(string(p.Kind)+" "+what, p.Name, what, d)
			if !first && testing.Verbose() {
				t.Logf(
					"%s: %s %s came %d; first %s, %.2f, off %.2f",
					b.name,
					p.Name,
					what,
					where+1,
					d.Ranked[0].Says,
					d.Ranked[0].Weight,
					d.Ranked[0].Off,
				)
			}
		}
	}
	return o
}

func (o *outcome) share(n int) float64 { return 100 * float64(n) / float64(max(o.all, 1)) }

func (o *outcome) tell(t *testing.T, name string) {
	keys := make([]string, 0, len(o.kinds))
	for k := range o.kinds {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	for _, k := range keys {
		t.Logf("%-45s %3d, %3d first, %3d within three", k, o.kinds[k][0], o.kinds[k][1], o.kinds[k][2])
	}
	for i, n := range o.count {
		if n > 0 {
			t.Logf("said %.0f %%: right %.0f %% of %d", 100*o.said[i]/float64(n), 100*o.right[i]/float64(n), n)
		}
	}
	t.Logf(
		"%s, %d faults: %.1f %% first or inseparable from it, %.1f %% with it or within three; two faults offered in %.1f %%; "+
			"%.1f in the first group",
		name,
		o.all,
		o.share(o.first),
		o.share(o.three),
		o.share(o.two),
		float64(o.wide)/float64(o.all),
	)
}

// The true fault comes first, or cannot be told from what does; two are hardly ever offered for one; and what is said to
// be likely by so many in a hundred is right so often, where parts fail as often as they do.
func TestBlindRanking(t *testing.T) {
	rng := rand.New(rand.NewPCG(151, 15))
	alike := blindRun(t, rng, trial.Runs(32), false)
	alike.tell(t, "any fault alike")
	if slack := 400 / math.Sqrt(float64(alike.all)) / 8; alike.share(alike.first) < 97-slack || alike.share(alike.three) < 98.5-slack ||
		alike.share(alike.two) > 2 {
		t.Error("too often another comes first")
	}
	usual := blindRun(t, rng, trial.Runs(120), true)
	usual.tell(t, "as often as they fail")
	for i := 5; i < 10; i++ {
		n := float64(usual.count[i])
		if n < 60 {
			continue
		}
		said, right := usual.said[i]/n, usual.right[i]/n
		if chance := 2.5 * math.Sqrt(said*(1-said)/n); math.Abs(said-right) > 0.03+chance {
			t.Errorf("what it calls %.0f %% is right in %.0f %% of %.0f", 100*said, 100*right, n)
		}
	}
}
