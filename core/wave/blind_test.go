package wave_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"steptrace/core/wave"
	"steptrace/internal/trial"
)

// Captures as a scope's screen gives them: some periods, some hundred samples, a coarse converter that the signal does
// not fill, and noise. They are drawn from formulas of time; nothing here knows how they are measured.

// source is a signal over time, in volts, and what is known of it.
type source struct {
	name string
	hz   float64
	at   func(t float64) float64
	due  map[string]float64 // figures, in SI
	top  float64            // the highest frequency in it that counts; 0: nothing beside its harmonics
}

func sine(x float64) float64 { return math.Sin(2 * math.Pi * x) }

// part is what has passed of a period, 0 to 1.
func part(x float64) float64 { return x - math.Floor(x) }

// scope takes a signal in.
type scope struct {
	rng     *rand.Rand
	periods float64
	bits    int
	fill    float64 // of the screen's height
	noise   float64 // rms, in steps of the converter
	count   int
}

// String tells of it where something went wrong.
func (s scope) String() string {
	return fmt.Sprintf("%.1f periods, %d bits filled %.2f, %d samples", s.periods, s.bits, s.fill, s.count)
}

// newScope is one of any sort.
func newScope(rng *rand.Rand) scope {
	return scope{
		rng: rng, periods: 2 * math.Pow(10, rng.Float64()), bits: 8 + rng.IntN(9),
		fill: 0.3 + 0.6*rng.Float64(), noise: 0.2 + 0.6*rng.Float64(),
		count: 500 + rng.IntN(2000),
	}
}

// take captures so much of a signal, from any moment.
func (s scope) take(x source) (wave.Channel, float64) {
	if x.top > 0 { // a scope is set so that it shows
		s.periods = min(s.periods, float64(s.count)*x.hz/x.top/5)
	}
	span := s.periods / x.hz
	rate := float64(s.count) / span
	from := s.rng.Float64() * 100 / x.hz
	raw := make([]float64, s.count)
	low, high := math.Inf(1), math.Inf(-1)
	for i := range raw {
		raw[i] = x.at(from + float64(i)/rate)
		low, high = min(low, raw[i]), max(high, raw[i])
	}
	middle, height := (low+high)/2, max(high-low, 1e-6)/s.fill
	step := height / math.Pow(2, float64(s.bits))
	for i, v := range raw {
		raw[i] = middle + step*math.Round((v-middle)/step+s.noise*s.rng.NormFloat64())
	}
	return wave.Channel{Unit: "V", Samples: raw}, rate
}

// tones are what audio stages carry.
func tones(rng *rand.Rand) source {
	hz, a := math.Pow(10, 1.7+2.2*rng.Float64()), math.Pow(10, -2+3*rng.Float64())
	offset := a * (rng.Float64() - 0.5)
	return source{name: "sine", hz: hz, at: func(t float64) float64 { return offset + a*sine(hz*t) },
		due: map[string]float64{"pp": 2 * a, "ac": a / math.Sqrt2, "mean": offset, "frequency": hz}}
}

func squares(rng *rand.Rand) source {
	hz, a, duty := math.Pow(10, 1.7+3*rng.Float64()), math.Pow(10, -1+2*rng.Float64()), 0.2+0.6*rng.Float64()
	return source{name: "square", hz: hz, at: func(t float64) float64 { // edges of a hundredth of a period
		p := part(hz * t)
		const edge = 0.01
		return a * (1/(1+math.Exp(-(p-0.05)/edge*4)) - 1/(1+math.Exp(-(p-0.05-duty)/edge*4)))
	}, due: map[string]float64{"pp": a, "mean": a * duty, "ac": a * math.Sqrt(duty*(1-duty)), "frequency": hz, "duty": duty}}
}

func triangles(rng *rand.Rand) source {
	hz, a := math.Pow(10, 1.7+3*rng.Float64()), math.Pow(10, -1+2*rng.Float64())
	return source{name: "triangle", hz: hz, at: func(t float64) float64 { return a * (4*math.Abs(part(hz*t)-0.5) - 1) },
		due: map[string]float64{"pp": 2 * a, "ac": a / math.Sqrt(3), "mean": 0, "frequency": hz}}
}

// rich is a note: harmonics that fall.
func rich(rng *rand.Rand) source {
	hz, a := math.Pow(10, 1.7+1.5*rng.Float64()), math.Pow(10, -2+3*rng.Float64())
	var share, phase [6]float64
	power := 0.0
	for k := range share {
		share[k], phase[k] = math.Pow(0.45, float64(k))*(0.5+rng.Float64()), rng.Float64()
		power += share[k] * share[k] / 2
	}
	return source{name: "note", hz: hz, at: func(t float64) float64 {
		sum := 0.0
		for k := range share {
			sum += share[k] * sine(float64(k+1)*hz*t+phase[k])
		}
		return a * sum
	}, due: map[string]float64{"ac": a * math.Sqrt(power), "mean": 0, "frequency": hz}}
}

// modulated is a carrier with a tone on it; captured are some periods of the tone.
func modulated(depth float64) func(rng *rand.Rand) source {
	return func(rng *rand.Rand) source {
		tone, a := math.Pow(10, 2.3+rng.Float64()), math.Pow(10, -2+2*rng.Float64())
		carrier := tone * (25 + 30*rng.Float64())
		return source{name: "modulated", hz: tone, at: func(t float64) float64 { return a * (1 + depth*sine(tone*t)) * sine(carrier*t) },
			due: map[string]float64{"carrier": carrier, "depth": depth}, top: carrier}
	}
}

// ripple is a supply with a sawtooth of twice the mains on it.
func ripple(rng *rand.Rand) source {
	volts, pp := 5+50*rng.Float64(), 0.1+rng.Float64()
	return source{name: "ripple", hz: 100, at: func(t float64) float64 { return volts + pp*(0.5-part(100*t)) },
		due: map[string]float64{"mean": volts, "pp": pp, "frequency": 100}}
}

var sources = []func(*rand.Rand) source{tones, squares, triangles, rich, modulated(0.8), ripple}

// Figures of captures as scopes give them, against closed forms.
func TestBlindFigures(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(152, 1))
	right, all := map[string]int{}, map[string]int{}
	for range trial.Runs(110) {
		for _, make := range sources {
			x := make(rng)
			s := newScope(rng)
			ch, rate := s.take(x)
			f := ch.Measure(rate, wave.Site{Mains: 50})
			step := 0.0
			if pp, ok := x.due["pp"]; ok {
				step = pp / s.fill / math.Pow(2, float64(s.bits))
			}
			for key, due := range x.due {
				got, ok := f.Find(key)
				off := math.Abs(got.Value - due)
				within := map[string]float64{
					"pp": 0.03*due + 5*step, "ac": 0.02*due + step, "mean": 0.02*math.Abs(due) + step,
					"frequency": 0.004 * due, "duty": 0.015, "carrier": 0.004 * due, "depth": 0.04,
				}[key]
				if key == "mean" || key == "ac" { // a piece of a period more than whole ones moves them
					within += 0.35 * math.Max(x.due["pp"], 2*x.due["ac"]) / s.periods
				}
				name := x.name + " " + key
				if f.Kind == wave.Steady && key == "frequency" {
					continue // little on much: a voltage with its hum
				}
				all[name]++
				if ok && off <= within {
					right[name]++
				} else if testing.Verbose() {
					t.Logf("%s: %.4g (%t, %s) for %.4g; %v; %s", name, got.Value, ok, f.Kind, due, s, texts(f))
				}
			}
		}
	}
	tell(t, "figures", right, all, 0.985)
}

func tell(t *testing.T, what string, right, all map[string]int, least float64) {
	t.Helper()
	keys := make([]string, 0, len(all))
	for k := range all {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	r, n := 0, 0
	for _, k := range keys {
		t.Logf("%-45s %4d of %4d", k, right[k], all[k])
		r += right[k]
		n += all[k]
	}
	t.Logf("%s: %d of %d, %.1f %%", what, r, n, 100*float64(r)/float64(n))
	if n < 16 || float64(r) < least*float64(n) {
		t.Errorf("too few %s are right", what)
	}
}

// spoil are what goes wrong with a signal, by what it should be called.
var spoil = []struct {
	kind wave.DefectKind
	of   []int // sources, by their place
	by   func(rng *rand.Rand, x source) func(t float64) float64
}{
	{wave.LowLevel, []int{0, 1, 2, 3, 4}, func(rng *rand.Rand, x source) func(t float64) float64 {
		k := math.Pow(10, -(4+20*rng.Float64())/20)
		return func(t float64) float64 { return k * x.at(t) }
	}},
	{wave.HighLevel, []int{0, 1, 2, 3, 4}, func(rng *rand.Rand, x source) func(t float64) float64 {
		k := math.Pow(10, (4+10*rng.Float64())/20)
		return func(t float64) float64 { return k * x.at(t) }
	}},
	{wave.ClippedTop, []int{0, 2}, func(rng *rand.Rand, x source) func(t float64) float64 {
		at := x.due["mean"] + x.due["pp"]/2*(0.3+0.45*rng.Float64())
		return func(t float64) float64 { return min(x.at(t), at) }
	}},
	{wave.ClippedBottom, []int{0, 2}, func(rng *rand.Rand, x source) func(t float64) float64 {
		at := x.due["mean"] - x.due["pp"]/2*(0.3+0.45*rng.Float64())
		return func(t float64) float64 { return max(x.at(t), at) }
	}},
	{wave.ClippedBoth, []int{0, 2}, func(rng *rand.Rand, x source) func(t float64) float64 {
		k := x.due["pp"] / 2 * (0.3 + 0.45*rng.Float64())
		m := x.due["mean"]
		return func(t float64) float64 { return max(m-k, min(m+k, x.at(t))) }
	}},
	{wave.Crossover, []int{0}, func(rng *rand.Rand, x source) func(t float64) float64 {
		dead, m := x.due["pp"]/2*(0.12+0.2*rng.Float64()), x.due["mean"]
		return func(t float64) float64 {
			v := x.at(t) - m
			return m + math.Copysign(max(0, math.Abs(v)-dead), v)
		}
	}},
	{wave.Noise, []int{0, 1, 2, 3}, func(rng *rand.Rand, x source) func(t float64) float64 {
		k := x.due["ac"] * (0.1 + 0.3*rng.Float64())
		return func(t float64) float64 { return x.at(t) + k*rng.NormFloat64() }
	}},
	{wave.Oscillation, []int{0, 2, 3}, func(rng *rand.Rand, x source) func(t float64) float64 {
		k, hz, where, wide := x.due["ac"]*(0.25+0.5*rng.Float64()), x.hz*(25+20*rng.Float64()), rng.Float64(), 0.06+0.12*rng.Float64()
		return func(t float64) float64 {
			from := math.Abs(part(x.hz*t-where+0.5) - 0.5)
			return x.at(t) + k*math.Exp(-from*from/wide/wide)*sine(hz*t)
		}
	}},
	{wave.SlowEdges, []int{1}, func(rng *rand.Rand, x source) func(t float64) float64 {
		tau := (0.04 + 0.06*rng.Float64()) / x.hz
		return filtered(x, tau, 0)
	}},
	{wave.Ringing, []int{1}, func(rng *rand.Rand, x source) func(t float64) float64 {
		return filtered(x, 0, (12+10*rng.Float64())*x.hz)
	}},
	{wave.WrongFrequency, []int{0, 1, 2, 3}, func(rng *rand.Rand, x source) func(t float64) float64 {
		k := 1.03 + 0.2*rng.Float64()
		if rng.IntN(2) == 0 {
			k = 1 / k
		}
		return func(t float64) float64 { return x.at(k * t) }
	}},
	{wave.NoModulation, []int{4}, func(rng *rand.Rand, x source) func(t float64) float64 {
		a, carrier := 0.0, x.due["carrier"]
		for i := range 200 {
			a = max(a, math.Abs(x.at(float64(i)/200/x.hz)))
		}
		return func(t float64) float64 { return a / 1.8 * sine(carrier*t) }
	}},
}

// filtered is a signal behind a resistance into a capacitance (tau), or behind a coil and a capacitance that ring at a
// frequency, worked out once in small steps over its period.
func filtered(x source, tau, rings float64) func(t float64) float64 {
	const steps = 4000
	out := make([]float64, steps)
	h := 1 / x.hz / steps
	v, slope := 0.0, 0.0
	for i := range 6 * steps {
		in := x.at(float64(i%steps) * h)
		if tau > 0 {
			v += (in - v) * (1 - math.Exp(-h/tau))
		} else {
			w := 2 * math.Pi * rings
			slope += h * (w*w*(in-v) - 0.25*w*slope)
			v += h * slope
		}
		out[i%steps] = v
	}
	return func(t float64) float64 { return out[min(int(part(t*x.hz)*steps), steps-1)] }
}

// Pairs of a good signal and a bad one, each as another scope gives it: the defect comes first. And pairs of two good
// ones: nothing is said against them.
func TestBlindDefects(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(152, 2))
	right, all := map[string]int{}, map[string]int{}
	for _, d := range spoil {
		for _, k := range d.of {
			for range trial.Runs(14) {
				x := sources[k](rng)
				a, b := newScope(rng), newScope(rng)
				good, goodRate := a.take(x)
				top := x.top
				if d.kind == wave.Oscillation {
					top = 45 * x.hz
				}
				bad, badRate := b.take(source{x.name, x.hz, d.by(rng, x), x.due, top})
				c, ok := wave.Compare(&bad, badRate, &wave.Reference{Channel: good, Rate: goodRate}, wave.Site{Mains: 50})
				name := string(d.kind) + ", " + x.name
				all[name]++
				if ok && len(c.Defects) > 0 && c.Defects[0].Kind == d.kind {
					right[name]++
				} else if testing.Verbose() {
					t.Logf("%s: %s; %v (%v)", name, kindsOf(c), b, a)
				}
			}
		}
	}
	tell(t, "defects", right, all, 0.975)
	right, all = map[string]int{}, map[string]int{}
	for _, make := range sources {
		for range trial.Runs(50) {
			x := make(rng)
			gain, shift := math.Pow(10, (2*rng.Float64()-1)/20), 1+0.003*(2*rng.Float64()-1)
			a, b := newScope(rng), newScope(rng)
			one, oneRate := a.take(x)
			other, otherRate := b.take(source{x.name, x.hz, func(t float64) float64 { return gain * x.at(t*shift) }, x.due, x.top})
			c, ok := wave.Compare(&other, otherRate, &wave.Reference{Channel: one, Rate: oneRate}, wave.Site{Mains: 50})
			all[x.name]++
			if ok && len(c.Defects) == 0 {
				right[x.name]++
			} else if testing.Verbose() {
				t.Logf("healthy %s: %s %v; %v (%v)", x.name, kindsOf(c), ok, b, a)
			}
		}
	}
	tell(t, "healthy pairs", right, all, 0.985)
}

// Figures beside the first ones: harmonics one by one, dead zones, slopes, the ring behind repeated edges, and by how much two
// captures are apart.
func TestBlindDetails(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(152, 4))
	right, all := map[string]int{}, map[string]int{}
	say := func(name string, s scope, f wave.Figures, key string, due, within float64) {
		got, ok := f.Find(key)
		all[name]++
		if ok && math.Abs(got.Value-due) <= within {
			right[name]++
		} else if testing.Verbose() {
			t.Logf("%s: %.4g (%t, %s) for %.4g; %v; %s", name, got.Value, ok, f.Kind, due, s, texts(f))
		}
	}
	site := wave.Site{Mains: 50}
	for range trial.Runs(60) {
		hz, a := math.Pow(10, 2+2*rng.Float64()), math.Pow(10, -1+2*rng.Float64())
		s := newScope(rng)
		second, third, p2, p3 := 0.01+0.1*rng.Float64(), 0.01+0.1*rng.Float64(), rng.Float64(), rng.Float64()
		ch, rate := s.take(source{"harmonics", hz, func(t float64) float64 {
			return a * (sine(hz*t) + second*sine(2*hz*t+p2) + third*sine(3*hz*t+p3))
		}, nil, 3 * hz})
		f := ch.Measure(rate, site)
		step := 1 / s.fill / math.Pow(2, float64(s.bits))
		say("second harmonic", s, f, "h2", second, 0.05*second+step/2)
		say("third harmonic", s, f, "h3", third, 0.05*third+step/2)

		dead := a * (0.06 + 0.25*rng.Float64())
		ch, rate = s.take(source{"crossover", hz, func(t float64) float64 {
			v := a * sine(hz*t)
			return math.Copysign(max(0, math.Abs(v)-dead), v)
		}, nil, 12 * hz})
		say("dead zone", s, ch.Measure(rate, site), "dead", dead, 0.25*dead)

		share := 0.2 + 0.6*rng.Float64()
		ch, rate = s.take(source{"triangle", hz, func(t float64) float64 {
			if p := part(hz * t); p < share {
				return a * p / share
			}
			return a * (1 - part(hz*t)) / (1 - share)
		}, nil, 12 * hz})
		f = ch.Measure(rate, site)
		say("goes up", s, f, "goesup", share/hz, 0.06*share/hz+1/rate)
		say("goes down", s, f, "goesdown", (1-share)/hz, 0.06*(1-share)/hz+1/rate)

		ring, q := hz*(8+8*rng.Float64()), 3+6*rng.Float64()
		half := func(t float64) float64 { // behind one edge of a height of one
			w, decay := 2*math.Pi*ring, math.Pi*ring/q
			d := math.Sqrt(w*w - decay*decay)
			return 1 - math.Exp(-decay*t)*(math.Cos(d*t)+decay/d*math.Sin(d*t))
		}
		ch, rate = s.take(source{"ringing", hz, func(t float64) float64 {
			if p := part(hz*t) / hz; p < 0.5/hz {
				return a * half(p)
			}
			return a * (1 - half(part(hz*t)/hz-0.5/hz))
		}, nil, ring * 2})
		f = ch.Measure(rate, site)
		say("rings at", s, f, "ring", ring, 0.02*ring)
		say("Q", s, f, "q", q, 0.12*q)

		x, late := rich(rng), 0.3*(rng.Float64()-0.5)
		one, oneRate := recorded(s, x, 0)
		other, otherRate := recorded(newScope(rng), x, late/x.hz)
		c, ok := wave.Compare(&other, otherRate, &wave.Reference{Channel: one, Rate: oneRate}, site)
		all["shift"]++
		if ok && math.Abs(c.Shift-late/x.hz) < 0.01/x.hz {
			right["shift"]++
		} else if testing.Verbose() {
			t.Logf("shift: %.4g for %.4g of %.4g", c.Shift, late/x.hz, 1/x.hz)
		}
	}
	tell(t, "details", right, all, 0.95)
}

// recorded is a signal taken from its beginning on, so much later.
func recorded(s scope, x source, late float64) (wave.Channel, float64) {
	rate := float64(s.count) * x.hz / s.periods
	out := make([]float64, s.count)
	for i := range out {
		out[i] = x.at(float64(i)/rate - late)
	}
	return wave.Channel{Unit: "V", Samples: out}, rate
}

// A small sine on a coarse converter, ten steps high and more, is not clipped, nor does it crackle.
func TestBlindCoarse(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(152, 3))
	right, all := map[string]int{}, map[string]int{}
	for range trial.Runs(100) {
		x := tones(rng)
		a, b := newScope(rng), newScope(rng)
		b.bits, b.fill = 8, 0.04+0.2*rng.Float64()
		one, oneRate := a.take(x)
		other, otherRate := b.take(x)
		c, ok := wave.Compare(&other, otherRate, &wave.Reference{Channel: one, Rate: oneRate}, wave.Site{Mains: 50})
		all[x.name]++
		if ok && len(c.Defects) == 0 {
			right[x.name]++
		} else if testing.Verbose() {
			t.Logf("coarse %s: %s %v; %v (%v)", x.name, kindsOf(c), ok, b, a)
		}
	}
	tell(t, "coarse pairs", right, all, 0.97)
}

func kindsOf(c wave.Comparison) string {
	var out []string
	for _, d := range c.Defects {
		out = append(out, fmt.Sprintf("%s (%s)", d.Kind, d.Evidence))
	}
	return fmt.Sprint(out)
}
