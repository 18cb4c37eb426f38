package training_test

import (
	"math"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/mat"

	"steptrace/core/circuit"
	"steptrace/core/quantity"
)

// A small solver of circuits at rest: resistors, supplies, diodes and bipolar transistors by the equations of Ebers and Moll, capacitors
// open, coils and windings as wires. It shares nothing with the program's but the reading of values.

const thermal = 0.02585 // V, at 27 °C

// also is a further figure of a part: "gain 250".
func also(p *circuit.Part, name string, usual float64) float64 {
	for text := range strings.SplitSeq(p.AlsoText(), ";") {
		if f := strings.Fields(text); len(f) > 1 && f[0] == name {
			if x, err := strconv.ParseFloat(f[1], 64); err == nil {
				return x
			}
		}
	}
	return usual
}

// saturationOf is the current of a junction that drops so much at a milliamp.
func saturationOf(p *circuit.Part) float64 { return 1e-3 * math.Exp(-also(p, "drop", 0.65)/thermal) }

// atRest gives the volts at each node with one part changed; false where a part is of a kind that it does not know, or it settles nowhere.
//
// Long: a line of the equations for each kind.
func atRest(parts []circuit.Part, broken, what string) (map[string]float64, bool) {
	index := map[string]int{}
	node := func(name string) int {
		if circuit.IsGround(name) {
			return -1
		}
		if _, ok := index[name]; !ok {
			index[name] = len(index)
		}
		return index[name]
	}
	type two struct{ a, b int }
	type resistor struct {
		two
		conducts float64
	}
	type source struct {
		two
		volts float64
	}
	type junction struct {
		two
		forward    float64 // a transistor's collector current per junction current
		collector  int
		sign       float64
		bipolar    bool
		saturation float64
	}
	var rs []resistor
	var vs []source
	var js []junction
	short := func(a, b int) { rs = append(rs, resistor{two{a, b}, 1 / 0.1}) }
	for _, p := range parts {
		var at []int
		for _, n := range p.Nodes {
			at = append(at, node(n))
		}
		is := p.Name == broken
		value := func(unit quantity.Unit) float64 {
			v, err := quantity.Parse(p.Value, unit)
			if err != nil {
				return math.NaN()
			}
			return v.SI
		}
		switch p.Kind {
		case circuit.Voltage:
			vs = append(vs, source{two{at[0], at[1]}, value(quantity.Volt)})
		case circuit.Signal:
			vs = append(vs, source{two{at[0], at[1]}, 0})
		case circuit.Resistor:
			switch ohms := value(quantity.Ohm); {
			case is && what == "open":
			case is && what == "shorted":
				short(at[0], at[1])
			case is:
				return nil, false
			default:
				rs = append(rs, resistor{two{at[0], at[1]}, 1 / ohms})
			}
		case circuit.Capacitor:
			switch {
			case is && what == "shorted":
				short(at[0], at[1])
			case is && what != "open":
				return nil, false
			}
		case circuit.Diode:
			switch {
			case is && what == "open":
			case is && what == "shorted":
				short(at[0], at[1])
			case is:
				return nil, false
			default:
				js = append(js, junction{two: two{at[0], at[1]}, sign: 1, saturation: saturationOf(&p)})
			}
		case circuit.NPN, circuit.PNP:
			sign := 1.0
			if p.Kind == circuit.PNP {
				sign = -1
			}
			gain := also(&p, "gain", 150)
			if strings.Contains(p.Value, "/") || len(at) != 3 {
				return nil, false
			}
			if is {
				switch what {
				case "shorted from collector to emitter":
					short(at[0], at[2])
				case "shorted from base to emitter":
					short(at[1], at[2])
				case "shorted from collector to base":
					short(at[0], at[1])
				default:
					return nil, false
				}
				if what != "shorted from collector to emitter" && what != "shorted from base to emitter" &&
					what != "shorted from collector to base" {
					return nil, false
				}
			}
			alpha := gain / (gain + 1)
			js = append(js, junction{two: two{at[1], at[2]}, forward: alpha, collector: at[0], sign: sign, bipolar: true,
				saturation: saturationOf(&p)},
				junction{two: two{at[1], at[0]}, forward: 0.5, collector: at[2], sign: sign, bipolar: true,
					saturation: saturationOf(&p)})
		default:
			return nil, false
		}
	}
	n, m := len(index), len(vs)
	x := make([]float64, n+m)
	at := func(i int) float64 {
		if i < 0 {
			return 0
		}
		return x[i]
	}
	for _, share := range []float64{0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1} {
		settled := false
		for range 400 {
			a, b := mat.NewDense(n+m, n+m, nil), mat.NewVecDense(n+m, nil)
			add := func(i, j int, g float64) {
				if i >= 0 && j >= 0 {
					a.Set(i, j, a.At(i, j)+g)
				}
			}
			into := func(i int, amps float64) {
				if i >= 0 {
					b.SetVec(i, b.AtVec(i)+amps)
				}
			}
			for i := range n {
				add(i, i, 1e-9)
			}
			for _, r := range rs {
				add(r.a, r.a, r.conducts)
				add(r.b, r.b, r.conducts)
				add(r.a, r.b, -r.conducts)
				add(r.b, r.a, -r.conducts)
			}
			for k, v := range vs {
				add(v.a, n+k, 1)
				add(v.b, n+k, -1)
				add(n+k, v.a, 1)
				add(n+k, v.b, -1)
				b.SetVec(n+k, share*v.volts)
			}
			for _, j := range js {
				v := math.Min(j.sign*(at(j.a)-at(j.b)), 0.9)
				e := math.Exp(v / thermal)
				g := j.saturation*e/thermal + 1e-12
				amps := j.sign * (j.saturation*(e-1) - g*v)
				// From a to b flows j.sign·I(v), of it the share forward from the collector.
				for _, w := range []struct {
					to    int
					share float64
				}{{j.b, 1}, {j.a, -1 + j.forward}, {j.collector, -j.forward}} {
					if !j.bipolar && w.to == j.collector && w.share == 0 {
						continue
					}
					into(w.to, w.share*amps)
					add(w.to, j.a, -w.share*g)
					add(w.to, j.b, w.share*g)
				}
			}
			var y mat.VecDense
			if y.SolveVec(a, b) != nil {
				return nil, false
			}
			most := 0.0
			for i := range x {
				step := y.AtVec(i) - x[i]
				if i < n {
					most = math.Max(most, math.Abs(step))
					step = math.Max(-0.4, math.Min(0.4, step))
				}
				x[i] += step
			}
			if settled = most < 1e-6; settled {
				break
			}
		}
		if !settled {
			return nil, false
		}
	}
	out := map[string]float64{}
	for name, i := range index {
		out[name] = x[i]
	}
	return out, true
}
