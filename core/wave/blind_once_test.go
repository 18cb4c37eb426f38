package wave_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"steptrace/core/wave"
	"steptrace/internal/trial"
)

// once is a voltage that goes somewhere once, and what is known of it.
type once struct {
	name    string
	seconds float64 // that are looked at
	at      func(t float64) float64
	due     map[string]float64
	height  float64
}

// happenings are supplies and controls that move.
var happenings = []func(rng *rand.Rand) once{
	func(rng *rand.Rand) once { // a capacitor is charged, or let go
		tau, from, to := math.Pow(10, -5+4.5*rng.Float64()), -20+40*rng.Float64(), -20+40*rng.Float64()
		if math.Abs(to-from) < 2 {
			to = from + 2
		}
		seconds := tau * (3 + 9*rng.Float64())
		begins := seconds * (0.05 + 0.4*rng.Float64())
		return once{"charge", seconds, func(t float64) float64 { return to + (from-to)*math.Exp(-max(t-begins, 0)/tau) },
			map[string]float64{"from": from, "final": to, "tau": tau, "begins": begins}, to - from}
	},
	func(rng *rand.Rand) once { // a supply comes up, with its ripple growing as it does
		full, seconds := 5+60*rng.Float64(), 0.3+2*rng.Float64()
		begins, tau := seconds*(0.05+0.3*rng.Float64()), 0.03+0.1*rng.Float64()
		pp, hz := full*(0.01+0.08*rng.Float64()), 50.0*float64(1+rng.IntN(2))
		return once{"supply", seconds, func(t float64) float64 {
			v := full * (1 - math.Exp(-max(t-begins, 0)/tau))
			return v + v/full*pp*(0.5-part(hz*t))
		}, map[string]float64{"from": 0, "final": full, "tau": tau, "begins": begins, "ripple": pp}, full}
	},
	func(rng *rand.Rand) once { // an even way from one level to another
		from, to, seconds := -10+20*rng.Float64(), 12+10*rng.Float64(), math.Pow(10, -4+4*rng.Float64())
		begins, takes := seconds*(0.05+0.3*rng.Float64()), seconds*(0.1+0.4*rng.Float64())
		return once{"ramp", seconds, func(t float64) float64 { return from + (to-from)*max(0, min(1, (t-begins)/takes)) },
			map[string]float64{"from": from, "final": to, "takes": takes, "begins": begins}, to - from}
	},
	func(rng *rand.Rand) once {
		from, to, seconds := -10+20*rng.Float64(), 12+10*rng.Float64(), math.Pow(10, -4+4*rng.Float64())
		if rng.IntN(2) == 0 {
			from, to = to, from
		}
		begins := seconds * (0.1 + 0.8*rng.Float64())
		return once{"step", seconds, func(t float64) float64 {
			if t < begins {
				return from
			}
			return to
		}, map[string]float64{"from": from, "final": to, "begins": begins}, to - from}
	},
	func(rng *rand.Rand) once {
		from, to, seconds := -3+6*rng.Float64(), 5+10*rng.Float64(), math.Pow(10, -4+4*rng.Float64())
		if rng.IntN(2) == 0 {
			to = -to
		}
		begins, width := seconds*(0.1+0.4*rng.Float64()), seconds*(0.03+0.3*rng.Float64())
		return once{"pulse", seconds, func(t float64) float64 {
			if t < begins || t > begins+width {
				return from
			}
			return to
		}, map[string]float64{"from": from, "final": to, "begins": begins, "width": width}, to - from}
	},
}

// take captures it from its beginning on.
func (s scope) record(x once) (wave.Channel, float64) {
	s.count = max(s.count, int(400*x.seconds)) // the mains has to show
	rate := float64(s.count) / x.seconds
	step := math.Abs(x.height) / s.fill / math.Pow(2, float64(s.bits))
	out := make([]float64, s.count)
	for i := range out {
		out[i] = step * math.Round(x.at(float64(i)/rate)/step+s.noise*s.rng.NormFloat64())
	}
	return wave.Channel{Unit: "V", Samples: out}, rate
}

func TestBlindOnceFigures(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(154, 1))
	right, all := map[string]int{}, map[string]int{}
	for range trial.Runs(60) {
		for _, make := range happenings {
			x := make(rng)
			s := newScope(rng)
			ch, rate := s.record(x)
			f := ch.Measure(rate, wave.Site{Mains: 50})
			all[x.name+" kind"]++
			if f.Kind != wave.Once {
				if testing.Verbose() {
					t.Logf("%s is %s: %v over %.3g s, %v", x.name, f.Kind, x.due, x.seconds, s)
				}
				continue
			}
			right[x.name+" kind"]++
			for key, due := range x.due {
				got, ok := f.Find(key)
				step := math.Abs(x.height) / s.fill / math.Pow(2, float64(s.bits))
				within := map[string]float64{
					"from": 0.02 * math.Abs(x.height), "final": 0.02 * math.Abs(x.height), "tau": 0.05 * due, "takes": 0.03*due + 2/rate,
					"begins": 0.01*x.seconds + 2/rate, "width": 0.02*due + 1/rate, "ripple": 0.2*due + 4*step,
				}[key]
				name := x.name + " " + key
				all[name]++
				if ok && math.Abs(got.Value-due) <= within {
					right[name]++
				} else if testing.Verbose() {
					t.Logf("%s: %.4g (%t) for %.4g; %v over %.3g s, %v", name, got.Value, ok, due, x.due, x.seconds, s)
				}
			}
		}
	}
	tell(t, "figures of what happens once", right, all, 0.975)
}

// Pairs of what happens once: nothing is said against one that goes a little otherwise, and what is wrong comes first.
func TestBlindOnceDefects(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(154, 2))
	right, all := map[string]int{}, map[string]int{}
	wrongs := []struct {
		kind wave.DefectKind
		of   []int
		by   func(x once) func(t float64) float64
	}{
		{"", []int{0, 1, 2, 3, 4}, func(x once) func(t float64) float64 {
			gain, stretch := math.Pow(10, (2*rng.Float64()-1)/20), 0.92+0.16*rng.Float64()
			return func(t float64) float64 { return x.due["from"] + gain*(x.at(t*stretch)-x.due["from"]) }
		}},
		{wave.LowLevel, []int{0, 1, 2, 3, 4}, func(x once) func(t float64) float64 {
			gain := math.Pow(10, -(4+10*rng.Float64())/20)
			return func(t float64) float64 { return x.due["from"] + gain*(x.at(t)-x.due["from"]) }
		}},
		{wave.SlowEdges, []int{0, 2}, func(x once) func(t float64) float64 {
			k := 1.8 + 1.5*rng.Float64()
			b := x.due["begins"]
			return func(t float64) float64 { return x.at(b + (t-b)/k) }
		}},
		{wave.AbsentSignal, []int{0, 1, 2, 3, 4}, func(x once) func(t float64) float64 {
			return func(float64) float64 { return x.due["from"] }
		}},
		{wave.HumDouble, []int{1}, func(x once) func(t float64) float64 {
			more := x.due["ripple"] + x.height*(0.1+0.1*rng.Float64())
			return func(t float64) float64 { v := x.at(t); return v + v/x.height*more*(0.5-part(100*t)) }
		}},
	}
	for _, d := range wrongs {
		for _, k := range d.of {
			for range trial.Runs(12) {
				x := happenings[k](rng)
				if d.kind == wave.SlowEdges { // and is seen to its end
					x.seconds *= 2
				}
				a, b := newScope(rng), newScope(rng)
				good, goodRate := a.record(x)
				x.at = d.by(x)
				bad, badRate := b.record(x)
				c, ok := wave.Compare(&bad, badRate, &wave.Reference{Channel: good, Rate: goodRate}, wave.Site{Mains: 50})
				first := wave.DefectKind("")
				if len(c.Defects) > 0 {
					first = c.Defects[0].Kind
				}
				name := string(d.kind) + ", " + x.name
				all[name]++
				if ok && first == d.kind {
					right[name]++
				} else if testing.Verbose() {
					t.Logf("%s: %s; %v over %.3g s; %v (%v)", name, kindsOf(c), x.due, x.seconds, b, a)
				}
			}
		}
	}
	tell(t, "pairs of what happens once", right, all, 0.965)
}
