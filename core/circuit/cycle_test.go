package circuit_test

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"steptrace/core/circuit"
	"steptrace/internal/trial"
)

// What charges and turns, against the exponentials that textbooks have of it.

// charging is a family by its closed form: the times (s) in which it is high and low by its values, and where that is read. Its
// values are those of its parts, in ohms and farads.
type charging struct {
	family, out string
	values      map[string]float64
	times       func(v map[string]float64) (high, low float64)
}

// upTo is the time constants that a capacitor takes from a voltage to another on its way to a third.
func upTo(from, to, towards float64) float64 { return math.Log((towards - from) / (towards - to)) }

// base and saturated are the volts of a silicon junction that conducts a tenth of a milliampere, and of a transistor that is
// driven hard, and kT/q.
const base, saturated, thermal = 0.64, 0.05, 0.025865

var chargings = []charging{
	{
		"Oscillator, timer",
		"out",
		map[string]float64{"R1": 6.8e3, "R2": 39e3, "C1": 15e-9},
		func(v map[string]float64) (high, low float64) {
			return math.Ln2 * (v["R1"] + v["R2"]) * v["C1"], math.Ln2 * v["R2"] * v["C1"]
		},
	},
	{"Oscillator, comparator", "out", map[string]float64{"R1": 68e3, "R2": 68e3, "R3": 68e3, "R4": 33e3, "R5": 1.5e3, "C1": 4.7e-9},
		func(v map[string]float64) (high, low float64) {
			// Up, its output is fed through R5, down it is held by 60 Ω; beside it hangs what feeds the plus input back.
			at := func(feed, volts float64) (plus, towards, behind float64) {
				side := v["R1"] * v["R2"] / (v["R1"] + v["R2"])
				share := v["R2"] / (v["R1"] + v["R2"]) * 12
				behind = 1 / (1/feed + 1/(v["R3"]+side))
				towards = behind * (volts/feed + share/(v["R3"]+side))
				// It turns where the capacitor, behind R4, has come to plus.
				// plus = share + side·(out − plus)/R3 with out = (towards·R4 + plus·behind)/(R4 + behind)
				a := v["R4"] / (v["R4"] + behind)
				k := side / (v["R3"] + side)
				plus = (share*(1-k) + k*a*towards) / (1 - k*(1-a))
				return plus, towards, behind
			}
			up, high12, feed := at(v["R5"], 12)
			pull := 1 / (1/60. + 1/v["R5"])
			down, low0, held := at(pull, 12*pull/v["R5"])
			return (v["R4"] + feed) * v["C1"] * upTo(down, up, high12), (v["R4"] + held) * v["C1"] * upTo(up, down, low0)
		}},
	{"Oscillator, op-amp that charges", "out", map[string]float64{"R1": 27e3, "R2": 15e3, "R3": 10e3, "C1": 30e-9},
		func(v map[string]float64) (high, low float64) {
			half := v["R1"] * v["C1"] * math.Log(1+2*v["R3"]/v["R2"])
			return half, half
		}},
	{
		"Oscillator, timing pin of a controller",
		"out",
		map[string]float64{"R1": 8.2e3, "C1": 10e-9},
		func(v map[string]float64) (high, low float64) {
			return v["R1"] * v["C1"] * upTo(1.1, 2.8, 5), v["R1"] * v["C1"] * upTo(2.8, 1.1, 5-8e-3*v["R1"])
		},
	},
	{"Oscillator, two transistors in turn", "out",
		map[string]float64{"R1": 2.2e3, "R2": 56e3, "R3": 39e3, "R4": 2.2e3, "C1": 22e-9, "C2": 22e-9},
		func(v map[string]float64) (high, low float64) {
			// A base rises from where its capacitor pushed it, by the other collector's whole swing, to where its transistor takes
			// from the other's base what that has more than it needs.
			one := func(r, c, collector, others float64) float64 {
				on := thermal * math.Log((5-saturated)/collector/1e-14)
				spare := (5-base)/others - (5-saturated)/collector/250
				return r * c * upTo(on-(5-saturated), thermal*math.Log(spare/1e-14), 5)
			}
			high, low = one(v["R2"], v["C2"], v["R1"], v["R3"]), one(v["R3"], v["C1"], v["R4"], v["R2"])
			late := v["R1"] * v["C1"] * math.Ln2 // until the collector, whose capacitor is charged, has come to its middle
			return high - late, low + late
		}},
}

// with is the family's circuit with other values.
func (c *charging) with(values map[string]float64) *circuit.Circuit {
	families := circuit.Families()
	i := slices.IndexFunc(families, func(f circuit.Family) bool { return f.Name == c.family })
	out := &circuit.Circuit{Parts: families[i].Parts}
	for k := range out.Parts {
		if x, ok := values[out.Parts[k].Name]; ok {
			out.Parts[k].Value = fmt.Sprintf("%.6g", x)
		}
	}
	return out
}

// shows is what a good circuit shows, in SI.
func shows(t *testing.T, net *circuit.Net, what circuit.What, node string) string {
	t.Helper()
	text, ok := net.Shows("", circuit.NodeReading{What: what, Node: node})
	if !ok {
		t.Fatalf("%s at %s: nothing is shown", what, node)
	}
	return text
}

// Frequency and duty of what charges are those of the exponentials, within 2 %, over values of all sizes.
func TestChargingAgainstItsExponentials(t *testing.T) {
	rng := rand.New(rand.NewPCG(16, 2))
	worst := map[string]float64{}
	for i := range chargings {
		c := &chargings[i]
		for range trial.Runs(40) {
			values, size := map[string]float64{}, math.Pow(10, 2*rng.Float64())
			for name, x := range c.values {
				switch {
				case name[0] == 'C': // two decades, which a slow chip still follows; two of them nearly alike
					values[name] = x * size * math.Pow(1.3, 2*rng.Float64()-1)
				case x == 2.2e3: // collectors' resistors, which the bases' have to drive
					values[name] = x * math.Pow(1.3, 2*rng.Float64()-1)
				default:
					values[name] = x * math.Pow(1.6, 2*rng.Float64()-1)
				}
			}
			high, low := c.times(values)
			net, problems := c.with(values).Read()
			if problems != nil {
				t.Fatal(c.family, problems)
			}
			if !net.Runs() {
				t.Errorf("%s with %v does not run", c.family, values)
				continue
			}
			rest, err := net.Rest()
			if err != nil {
				t.Fatal(c.family, err)
			}
			off := math.Abs(net.Swing(rest)*(high+low) - 1)
			if worst[c.family] = max(worst[c.family], off); off > 0.02 {
				t.Errorf("%s with %v: %.5g Hz, want %.5g", c.family, values, net.Swing(rest), 1/(high+low))
			}
			var duty float64
			if _, err := fmt.Sscanf(shows(t, net, circuit.Duty, c.out), "%f", &duty); err != nil ||
				math.Abs(duty/100-high/(high+low)) > 0.02 {
				t.Errorf("%s with %v: high for %.3g %%, want %.3g", c.family, values, duty, 100*high/(high+low))
			}
		}
	}
	for name, off := range worst {
		t.Logf("%s: within %.2f %%", name, 100*off)
	}
}

// A resistor of another value comes first, or in the first group, by frequency and duty that the exponentials have, with all other
// parts as far off as they are sold, and a meter's error.
func TestWrongResistorOfAnOscillator(t *testing.T) {
	rng := rand.New(rand.NewPCG(16, 3))
	all, first := 0, 0
	for i := range chargings {
		c := &chargings[i]
		good, was := c.times(c.values)
		for range trial.Runs(6) {
			names := []string{}
			for name := range c.values {
				if name[0] == 'R' {
					names = append(names, name)
				}
			}
			slices.Sort(names)
			wrong := names[rng.IntN(len(names))]
			values := map[string]float64{}
			for name, x := range c.values {
				values[name] = x * (1 + 0.02*rng.NormFloat64())
			}
			values[wrong] *= math.Pow(3, 2*rng.Float64()-1)
			high, low := c.times(values)
			hz, duty := (1+0.005*rng.NormFloat64())/(high+low), high/(high+low)+0.005*rng.NormFloat64()
			if math.Abs(hz*(good+was)-1) < 0.2 && math.Abs(duty-good/(good+was)) < 0.06 {
				continue // nobody would have looked for it
			}
			d, problems := c.with(nil).Diagnose(context.Background(), []circuit.NodeReading{
				{What: circuit.Frequency, Node: c.out, Value: fmt.Sprintf("%.5g Hz", hz)},
				{What: circuit.Duty, Node: c.out, Value: fmt.Sprintf("%.4g %%", 100*duty)},
			}, circuit.Past{})
			if problems != nil {
				t.Fatal(problems)
			}
			all++
			if slices.ContainsFunc(
				d.Ranked,
				func(x circuit.Ranked) bool { return x.Group == 0 && len(x.Faults) == 1 && x.Faults[0].Part == wrong },
			) {
				first++
			} else {
				times := values[wrong] / c.values[wrong]
				t.Logf("%s: %s ×%.3g, %.4g Hz %.3g %%: first %s", c.family, wrong, times, hz, 100*duty, d.Ranked[0].Says)
			}
		}
	}
	t.Logf("%d of %d first or inseparable", first, all)
	if float64(first) < 0.95*float64(all)-1 {
		t.Error("too often another comes first")
	}
}

func BenchmarkDiagnoseOscillator(b *testing.B) {
	c := &chargings[1]
	for b.Loop() {
		c.with(nil).
			Diagnose(context.Background(), []circuit.NodeReading{{What: circuit.Frequency, Node: "out", Value: "2 kHz"}}, circuit.Past{})
	}
}
