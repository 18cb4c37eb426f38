package wave

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"steptrace/internal/trial"
)

var place = Site{Mains: 50}

// Two channels of a tone: gain, phase within 0.2 degrees at 40 dB over noise.
func TestPhaseBetweenChannels(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(5, 50))
	worst := 0.0
	for range trial.Runs(20) {
		rate := 1e5
		hz := 200 + 9000*rng.Float64()
		lead := 350*rng.Float64() - 175 // degrees
		gain := math.Pow(10, 3*rng.Float64()-1.5)
		noisy := func(size, phase float64) Channel {
			return generated(6000+rng.IntN(20000), rate, func(at float64) float64 {
				return size * (math.Sin(2*math.Pi*hz*at+phase) + 0.5 + rng.NormFloat64()/math.Sqrt2/100)
			})
		}
		a := noisy(1, 0.3)
		b := noisy(gain, 0.3+lead*math.Pi/180)
		b.Samples = append(b.Samples, make([]float64, max(len(a.Samples)-len(b.Samples), 0))...)[:len(a.Samples)]
		n := 6000 // both have as many
		c := Capture{Rate: rate, Channels: []Channel{{Unit: "V", Samples: a.Samples[:n]}, {Unit: "V", Samples: b.Samples[:n]}}}
		f := Figures{List: c.Between(0, 1).List}
		worst = max(worst, math.Abs(math.Remainder(value(t, f, "phase")-lead, 360)))
		if got := value(t, f, "gain"); math.Abs(got-20*math.Log10(gain)) > 0.01 {
			t.Errorf("a gain of %g is %g dB", gain, got)
		}
		delay := -lead / 360 / hz
		if got := value(t, f, "delay"); math.Abs(math.Remainder(got-delay, 1/hz)) > 0.2/360/hz {
			t.Errorf("a delay of %g s is %g s", delay, got)
		}
	}
	t.Logf("phase within %.3f degrees", worst)
	if worst > 0.2 {
		t.Error("too far off")
	}
}

// smooth is noise whose highest part is far below the rate: partials with random
// phases, so that it can be had at any instant.
type smooth struct{ hz, phase, size []float64 }

func newSmooth(rng *rand.Rand, low, high float64) smooth {
	var s smooth
	for range 60 {
		s.hz = append(s.hz, low+(high-low)*rng.Float64())
		s.phase = append(s.phase, 7*rng.Float64())
		s.size = append(s.size, rng.Float64())
	}
	return s
}

func (s smooth) at(t float64) float64 {
	v := 0.0
	for i, hz := range s.hz {
		v += s.size[i] * math.Sin(2*math.Pi*hz*t+s.phase[i])
	}
	return v
}

// The delay of a smooth signal: within 0.02 of the time between two samples.
func TestDelayBetweenChannels(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(6, 60))
	worst := 0.0
	for range trial.Runs(20) {
		rate := 48000.0
		s := newSmooth(rng, 100, 4000)
		delay := (400*rng.Float64() - 200) / rate
		gain := 0.1 + 5*rng.Float64()
		n := 9000
		c := Capture{Rate: rate, Channels: []Channel{
			generated(n, rate, s.at),
			generated(n, rate, func(at float64) float64 { return 0.2 - gain*s.at(at-delay) }),
		}}
		f := Figures{List: c.Between(0, 1).List}
		worst = max(worst, math.Abs(value(t, f, "delay")-delay)*rate)
		if got := value(t, f, "gain"); math.Abs(got-20*math.Log10(gain)) > 0.05 {
			t.Errorf("a gain of %g is %g dB", gain, got)
		}
		if x, _ := f.Find("gain"); !strings.Contains(x.Text, "turned over") {
			t.Error("it is turned over, and that is not said")
		}
	}
	t.Logf("delay within %.4f samples", worst)
	if worst > 0.02 {
		t.Error("too far off")
	}
	apart := Capture{
		Rate: 1e3,
		Channels: []Channel{
			generated(4000, 1e3, func(float64) float64 { return rng.NormFloat64() }),
			generated(4000, 1e3, func(float64) float64 { return rng.NormFloat64() }),
		},
	}
	if list := apart.Between(0, 1).List; len(list) != 0 {
		t.Errorf("two noises go together: %+v", list)
	}
}

// Carriers: the depth of an envelope 1 + m·sin, the deviation of a phase β·sin, which
// is β times the modulating frequency. A tone with hum or a second tone is neither.
func TestModulationIsMeasured(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(7, 70))
	for range trial.Runs(20) {
		rate, hz, by := 1e6, 60e3+100e3*rng.Float64(), 400+2600*rng.Float64()
		m, beta := 0.1+0.85*rng.Float64(), 0.2+6*rng.Float64()
		noise := 0.002
		am := generated(40000, rate, func(at float64) float64 {
			return 0.1 + 3*(1+m*math.Sin(2*math.Pi*by*at))*math.Cos(2*math.Pi*hz*at) + noise*rng.NormFloat64()
		})
		f := am.Measure(rate, place)
		if f.Kind != Modulated || math.Abs(value(t, f, "depth")-m) > 0.01 || math.Abs(value(t, f, "modulating")/by-1) > 1e-3 ||
			math.Abs(value(t, f, "carrier")/hz-1) > 1e-4 {
			t.Fatalf("depth %g by %g Hz of %g Hz: %+v", m, by, hz, f)
		}
		fm := generated(40000, rate, func(at float64) float64 {
			return 0.5*math.Cos(2*math.Pi*hz*at+beta*math.Sin(2*math.Pi*by*at)) + noise/4*rng.NormFloat64()
		})
		f = fm.Measure(rate, place)
		if f.Kind != Modulated || math.Abs(value(t, f, "deviation")/(beta*by)-1) > 0.01 || math.Abs(value(t, f, "modulating")/by-1) > 1e-3 {
			t.Fatalf("β %g by %g Hz of %g Hz: %+v", beta, by, hz, f)
		}
		two := generated(40000, rate, func(at float64) float64 {
			return math.Cos(2*math.Pi*hz*at) + 0.3*math.Cos(2*math.Pi*(hz+by)*at) + 0.2*math.Sin(2*math.Pi*50*at)
		})
		if f := two.Measure(rate, place); f.Kind == Modulated {
			t.Fatalf("two tones are modulation: %+v", f)
		}
	}
}

// Hum and ripple: their lines' frequencies and levels, on a tone and on a rail.
func TestHumIsMeasured(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(8, 80))
	for range trial.Runs(20) {
		rate, mains := 20e3, 50*(1+0.004*(rng.Float64()-0.5))
		first, second := 0.01+0.1*rng.Float64(), 0.01+0.1*rng.Float64()
		hum := func(at float64) float64 {
			return math.Sqrt2 * (first*math.Sin(2*math.Pi*mains*at+1) + second*math.Sin(4*math.Pi*mains*at+2))
		}
		for name, ch := range map[string]Channel{
			"tone": generated(30000, rate, func(at float64) float64 {
				return 2*math.Sin(2*math.Pi*1033*at) + hum(at) + 0.003*rng.NormFloat64()
			}),
			"rail": generated(30000, rate, func(at float64) float64 { return 120 + hum(at) + 0.003*rng.NormFloat64() }),
		} {
			f := ch.Measure(rate, place)
			if got := value(t, f, "hum1"); math.Abs(got/first-1) > 0.03 {
				t.Errorf("%s: %g rms is %g", name, first, got)
			}
			if got := value(t, f, "hum2"); math.Abs(got/second-1) > 0.03 {
				t.Errorf("%s: %g rms is %g", name, second, got)
			}
			if _, ok := f.Find("hum3"); ok {
				t.Errorf("%s: a third line is seen where there is none", name)
			}
		}
	}
	quiet := generated(30000, 20e3, func(at float64) float64 { return math.Sin(2*math.Pi*1033*at) + 0.01*rng.NormFloat64() })
	for _, x := range func() []Figure { f := quiet.Measure(20e3, place); return f.List }() {
		if strings.HasPrefix(x.Key, "hum") {
			t.Errorf("hum in noise: %+v", x)
		}
	}
}

// A pilot under a programme: its level and frequency, or that it is missing.
func TestPilotIsFound(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(9, 90))
	s := newSmooth(rng, 100, 12000)
	rate := 192e3
	for _, size := range []float64{0.3, 3, 0} {
		hz := 19000.6
		ch := generated(60000, rate, func(at float64) float64 { return s.at(at) + size*math.Sin(2*math.Pi*hz*at) })
		f := ch.Measure(rate, Site{Mains: 50, Pilot: 19e3})
		got := value(t, f, "pilot")
		if math.Abs(got-size/math.Sqrt2) > 0.01*size {
			t.Errorf("%g rms is %g", size/math.Sqrt2, got)
		}
		if x, _ := f.Find("pilot"); size > 0 && !strings.Contains(x.Text, "19.000") && !strings.Contains(x.Text, "19 kHz") ||
			size == 0 && x.Text != "missing" {
			t.Errorf("%+v", x)
		}
	}
}

// What happens once: the time constant of a charge, the frequency and Q of a ring.
func TestDecaysAreMeasured(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(10, 100))
	for range trial.Runs(20) {
		rate := 1e5
		tau, final := 0.002+0.03*rng.Float64(), 5*rng.Float64()
		start := 0.005
		charge := generated(30000, rate, func(at float64) float64 {
			v := -1.0
			if at >= start {
				v = final - (final+1)*math.Exp(-(at-start)/tau)
			}
			return v + 0.002*rng.NormFloat64()
		})
		f := charge.Measure(rate, place)
		if got := value(t, f, "tau"); math.Abs(got/tau-1) > 0.02 {
			t.Errorf("%g s is %g s", tau, got)
		}
		if got := value(t, f, "final"); math.Abs(got-final) > 0.01 {
			t.Errorf("it goes to %g, measured %g", final, got)
		}
		hz, q := 800+2000*rng.Float64(), 4+25*rng.Float64()
		ring := generated(30000, rate, func(at float64) float64 {
			v := 0.0
			if at >= start {
				v = math.Exp(-math.Pi*hz/q*(at-start)) * math.Cos(2*math.Pi*hz*(at-start))
			}
			return v + 0.002*rng.NormFloat64()
		})
		f = ring.Measure(rate, place)
		if got := value(t, f, "ring"); math.Abs(got/hz-1) > 0.01 {
			t.Errorf("%g Hz with Q %g rings at %g", hz, q, got)
		}
		if got := value(t, f, "q"); math.Abs(got/q-1) > 0.05 {
			t.Errorf("Q %g is %g", q, got)
		}
	}
}

// What comes and goes has its times; what drifts its size.
func TestEventsAndDrift(t *testing.T) {
	t.Parallel()
	tone := func(at float64) float64 { return math.Sin(2 * math.Pi * 1000 * at) }
	gaps := generated(100000, 1e5, func(at float64) float64 {
		if at >= 0.2 && at < 0.25 || at >= 0.7 && at < 0.71 {
			return 0.01 * tone(at)
		}
		return tone(at)
	})
	f := gaps.Measure(1e5, place)
	if x, _ := f.Find("dropouts"); x.Value != 2 || !strings.HasPrefix(x.Text, "2: at 200 ms for 50 ms, at 700 ms for 10 ms") {
		t.Errorf("%+v", x)
	}
	burst := generated(100000, 1e5, func(at float64) float64 {
		if at >= 0.4 && at < 0.41 {
			return 5 * tone(at)
		}
		return tone(at)
	})
	f = burst.Measure(1e5, place)
	if x, _ := f.Find("bursts"); x.Value != 1 || !strings.HasPrefix(x.Text, "1: at 400 ms for 10 ms") {
		t.Errorf("%+v", x)
	}
	// One sample of a million, which no average shows.
	spiky := generated(1_000_000, 1e5, func(at float64) float64 { return tone(at) })
	spiky.Samples[654_321] = 2
	f = spiky.Measure(1e5, place)
	if x, _ := f.Find("spikes"); x.Value != 1 || !strings.HasPrefix(x.Text, "1: at 6.5") {
		t.Errorf("%+v", x)
	}
	ref, _ := Description{"sine", 2, 1000}.Reference(1e5)
	if c, _ := Compare(&spiky, 1e5, &ref, place); len(c.Defects) != 1 || c.Defects[0].Kind != Crackle ||
		!strings.HasPrefix(c.Defects[0].Evidence, "1 spike beyond") {
		t.Errorf("%+v", c.Defects)
	}
	falling := generated(100000, 1e5, func(at float64) float64 { return (1 - 0.2*at) * tone(at) })
	f = falling.Measure(1e5, place)
	if got := value(t, f, "drift"); math.Abs(got-20*math.Log10(0.8)) > 0.05 {
		t.Errorf("a fall to 80 %% is %g dB", got)
	}
	rail := generated(10000, 1e3, func(at float64) float64 { return 12 + 0.001*at })
	f = rail.Measure(1e3, place)
	if got := value(t, f, "drift"); math.Abs(got-0.01) > 3e-4 { // the means of the ends lie a 64th inside
		t.Errorf("a drift of 10 mV is %g V", got)
	}
}

// A composite signal by the standard: 64 µs lines, sync of 4.7 µs and 0.3 V, white at
// 0.7 V over blanking, with a colour burst, vertical syncs of five broad pulses.
func TestCompositeVideoIsMeasured(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(11, 110))
	rate := 2e7
	line := 64e-6
	video := generated(1_000_000, rate, func(at float64) float64 {
		field := math.Mod(at, 0.02) // with vertical sync at its start
		if field < 2.5*line {
			if math.Mod(field, line/2) < 27.3e-6 {
				return 0.2
			}
			return 0.5
		}
		in := math.Mod(field, line)
		switch {
		case in < 4.7e-6:
			return 0.2
		case in < 5.6e-6, in < 10.5e-6 && in > 7.9e-6:
			return 0.5
		case in < 10.5e-6:
			return 0.5 + 0.15*math.Sin(2*math.Pi*4.43361875e6*at)
		case in > 62.5e-6:
			return 0.5
		}
		return 0.5 + 0.7*min(1, math.Floor(8*(in-10.5e-6)/52e-6)/7)
	})
	for i := range video.Samples {
		video.Samples[i] += 0.003 * rng.NormFloat64()
	}
	f := video.Measure(rate, place)
	if f.Kind != Video {
		t.Fatalf("%+v", f)
	}
	for key, want := range map[string][2]float64{"tip": {0.2, 0.005}, "blanking": {0.5, 0.008}, "white": {1.2, 0.01}, "sync": {0.3, 0.01},
		"picture": {0.7, 0.015}, "linehz": {15625, 1}, "syncwidth": {4.7e-6, 0.1e-6}, "field": {50, 0.01}} {
		if got := value(t, f, key); math.Abs(got-want[0]) > want[1] {
			t.Errorf("%s of %g is %g", key, want[0], got)
		}
	}
}

// The line of a spectrum has the level of the sine that makes it.
func TestSpectrumHasTheLevels(t *testing.T) {
	t.Parallel()
	ch := generated(65536, 65536, func(at float64) float64 {
		return 0.4 + math.Sqrt2*(math.Sin(2*math.Pi*1000*at)+0.001*math.Sin(2*math.Pi*5000*at))
	})
	s := ch.Spectrum(65536, 600)
	for hz, want := range map[float64]float64{1000: 0, 5000: -60} {
		best := faintestDB + 0.0
		for i := range s.Hz {
			if math.Abs(s.Hz[i]-hz) < 3 {
				best = max(best, s.DB[i])
			}
		}
		if math.Abs(best-want) > 0.01 {
			t.Errorf("%g Hz has %g dB, not %g", hz, best, want)
		}
	}
	if len(s.Hz) > 600 || s.Resolution != 1.5 {
		t.Errorf("%d lines, %g Hz apart", len(s.Hz), s.Resolution)
	}
}

// Between two times: one period of a sine has its peak-to-peak value, its rms and its
// mean.
func TestStretchIsRead(t *testing.T) {
	t.Parallel()
	ch := generated(10000, 1e5, func(at float64) float64 { return 0.5 + 2*math.Sin(2*math.Pi*100*at) })
	f := Figures{List: ch.Stretch(1e5, 0.0025, 0.0125)}
	for key, want := range map[string]float64{"a": 2.5, "b": 2.5, "change": 0, "time": 0.01, "frequency": 100, "pp": 4, "ac": math.Sqrt2,
		"mean": 0.5} {
		if got := value(t, f, key); math.Abs(got-want) > 2e-3*max(want, 1) {
			t.Errorf("%s is %g, not %g", key, got, want)
		}
	}
	if same := ch.Stretch(1e5, -1, 0); len(same) != 3 {
		t.Errorf("nothing lies between a time and itself: %+v", same)
	}
}
