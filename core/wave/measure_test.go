package wave

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"
)

func value(t *testing.T, f Figures, key string) float64 {
	t.Helper()
	x, ok := f.Find(key)
	if !ok {
		t.Fatalf("no %s among %+v", key, f.List)
	}
	return x.Value
}

// generated makes samples of a function of time.
func generated(n int, rate float64, of func(t float64) float64) Channel {
	x := make([]float64, n)
	for i := range x {
		x[i] = of(float64(i) / rate)
	}
	return Channel{Unit: "V", Samples: x}
}

// Tones of any frequency, phase, offset and length at 40 dB signal over noise:
// frequency within 10 ppm, rms within 0.1 %.
func TestTonesAreMeasured(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(1, 10))
	worstHz, worstRMS := 0.0, 0.0
	for range 200 {
		rate := math.Pow(10, 3+5*rng.Float64())
		n := 20000 + rng.IntN(60000)
		hz := rate * (0.0005 + 0.3*rng.Float64())
		amplitude, offset, phase := math.Pow(10, 4*rng.Float64()-3), rng.Float64()-0.5, 7*rng.Float64()
		noise := amplitude / math.Sqrt2 / 100
		ch := generated(n, rate, func(at float64) float64 {
			return offset + amplitude*math.Cos(2*math.Pi*hz*at+phase) + noise*rng.NormFloat64()
		})
		f := ch.Measure(rate, Site{Mains: 50})
		if f.Kind != Tone {
			t.Fatalf("%g Hz at %g a second is %s", hz, rate, f.Kind)
		}
		off := math.Abs(value(t, f, "frequency")/hz - 1)
		worstHz = max(worstHz, off)
		// The rms of a sine with noise: √(A²/2 + σ²); whole periods are not given, so
		// that a part of one is left over: at most 1/(2π·periods) of the power.
		want := math.Sqrt(amplitude*amplitude/2 + noise*noise)
		periods := hz * float64(n) / rate
		worstRMS = max(worstRMS, math.Abs(value(t, f, "ac")/want-1)-1/(4*math.Pi*periods))
		if x, _ := f.Find("frequency"); math.Abs(x.Value-hz) > 6*x.Sure {
			t.Errorf("%g Hz is off by %g, said to be sure to %g", hz, x.Value-hz, x.Sure)
		}
		if snr := value(t, f, "snr"); math.Abs(snr-40) > 0.5 {
			t.Errorf("40 dB over noise is measured %g", snr)
		}
	}
	t.Logf("frequency within %.2g ppm, rms within %.2g %%", worstHz*1e6, worstRMS*100)
	if worstHz > 10e-6 || worstRMS > 1e-3 {
		t.Error("too far off")
	}
}

// Distortion made of known harmonics, from 30 % down to 0.01 %: within 0.2 dB.
func TestDistortionIsMeasured(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(2, 20))
	worst := 0.0
	for n := range 60 {
		thd := math.Pow(10, -4+3.4*float64(n)/60)
		second := rng.Float64()
		third := math.Sqrt(1 - second*second)
		hz, rate := 700+600*rng.Float64(), 192000.0
		a, b := 7*rng.Float64(), 7*rng.Float64()
		ch := generated(100000, rate, func(at float64) float64 {
			w := 2 * math.Pi * hz * at
			return math.Sin(w) + thd*(second*math.Sin(2*w+a)+third*math.Sin(3*w+b)) + 2e-5*rng.NormFloat64()
		})
		f := ch.Measure(rate, Site{Mains: 50})
		worst = max(worst, math.Abs(20*math.Log10(value(t, f, "thd")/thd)))
		// With noise: √(THD² + (σ/(1/√2))²).
		want := math.Hypot(thd, 2e-5*math.Sqrt2)
		if got := value(t, f, "thdn"); math.Abs(20*math.Log10(got/want)) > 0.3 {
			t.Errorf("distortion and noise of %g is measured %g", want, got)
		}
	}
	t.Logf("within %.3f dB", worst)
	if worst > 0.2 {
		t.Error("too far off")
	}
}

// Pulses with straight edges: a ramp of T from end to end rises from 10 % to 90 %
// in 0.8 T.
func TestPulsesAreMeasured(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(3, 30))
	for range 100 {
		rate := 1e6
		period, duty := (200+800*rng.Float64())/rate, 0.2+0.6*rng.Float64()
		ramp := (4 + 30*rng.Float64()) / rate
		low, high := -rng.Float64(), 1+4*rng.Float64()
		phase := rng.Float64()
		ch := generated(50000, rate, func(at float64) float64 {
			x := math.Mod(at/period+phase, 1) * period
			on := duty * period
			switch { // from the middle of the rising edge on
			case x < ramp/2:
				return low + (high-low)*(0.5+x/ramp)
			case x < on-ramp/2:
				return high
			case x < on+ramp/2:
				return high - (high-low)*(x-on+ramp/2)/ramp
			case x < period-ramp/2:
				return low
			}
			return low + (high-low)*(x-period+ramp/2)/ramp
		})
		f := ch.Measure(rate, Site{Mains: 50})
		if f.Kind != Pulses {
			t.Fatalf("duty %g, ramp %g of %g: %s", duty, ramp, period, f.Kind)
		}
		near := func(key string, want, within float64) {
			t.Helper()
			if got := value(t, f, key); math.Abs(got-want) > within {
				t.Errorf("%s of %g is measured %g", key, want, got)
			}
		}
		near("rise", 0.8*ramp, max(0.02*0.8*ramp, 1/rate))
		near("fall", 0.8*ramp, max(0.02*0.8*ramp, 1/rate))
		near("frequency", 1/period, 1e-5/period)
		near("duty", duty, 1e-3)
		near("high", high, 0.01*(high-low))
		near("low", low, 0.01*(high-low))
	}
}

// Other waveforms: a triangle has its frequency, noise has none, a voltage that
// stands still has only its mean.
func TestOtherWaveforms(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(4, 40))
	// Few samples a period do not make pulses of a tone.
	few := generated(4000, 48000, func(at float64) float64 { return math.Sin(2 * math.Pi * 12000 * at) })
	if f := few.Measure(48000, Site{Mains: 50}); f.Kind != Tone || math.Abs(value(t, f, "frequency")-12000) > 0.01 {
		t.Errorf("a quarter of the rate is %+v", f)
	}
	two := generated(100000, 1e5, func(at float64) float64 {
		return math.Sin(2*math.Pi*100*at) + 0.9*math.Sin(2*math.Pi*200*at+1) + 0.8*math.Sin(2*math.Pi*300*at+2)
	})
	if f := two.Measure(1e5, Site{Mains: 50}); f.Kind != Other || math.Abs(value(t, f, "frequency")-100) > 0.01 {
		t.Errorf("%+v", f)
	}
	noise := generated(50000, 1e5, func(float64) float64 { return rng.NormFloat64() })
	if f := noise.Measure(1e5, Site{Mains: 50}); f.Kind != Other {
		t.Errorf("noise is %s", f.Kind)
	} else if x, ok := f.Find("frequency"); ok && x.Sure < 0.001*x.Value {
		t.Errorf("noise has a frequency: %+v", x)
	}
	still := generated(1000, 1e3, func(float64) float64 { return 5 + 1e-3*rng.NormFloat64() })
	if f := still.Measure(1e3, Site{Mains: 50}); f.Kind != Steady || math.Abs(value(t, f, "mean")-5) > 1e-3 {
		t.Errorf("%+v", f)
	}
	triangle := generated(50000, 1e6, func(at float64) float64 { return math.Asin(math.Sin(2 * math.Pi * 1234 * at)) })
	if f := triangle.Measure(1e6, Site{Mains: 50}); f.Kind != Tone || math.Abs(value(t, f, "frequency")/1234-1) > 1e-5 {
		t.Errorf("a triangle is %s", f.Kind)
	} else if thd := value(t, f, "thd"); math.Abs(thd-math.Sqrt(1/81.+1/625.+1/2401.+1/6561.)) > 1e-4 { // 1/n² for odd n to 9
		t.Errorf("its distortion is %g", thd)
	}
}

func BenchmarkMeasureAMillionSamples(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 1))
	ch := generated(1_000_000, 1e6, func(at float64) float64 { return math.Sin(2*math.Pi*1000*at) + 0.01*rng.NormFloat64() })
	for b.Loop() {
		if f := ch.Measure(1e6, Site{Mains: 50}); f.Kind != Tone {
			b.Fatal(f.Kind)
		}
	}
}

// At a rate that shows lines of a picture a tone is no slower to tell.
func BenchmarkMeasureTenMillionFastSamples(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 2))
	ch := generated(10_000_000, 1e8, func(at float64) float64 { return math.Sin(2*math.Pi*1e6*at) + 0.01*rng.NormFloat64() })
	for b.Loop() {
		if f := ch.Measure(1e8, Site{Mains: 50}); f.Kind != Tone {
			b.Fatal(f.Kind)
		}
	}
}

// A spike of one sample is in the envelope, wherever it is and however few parts
// there are; a waveform of fewer samples than parts is given as it is.
func TestNoSpikeIsLost(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(9, 9))
	for range 200 {
		n := 1 + rng.IntN(5000)
		ch := generated(n, 1, func(float64) float64 { return rng.Float64() })
		at := rng.IntN(n)
		ch.Samples[at] = 7
		from := rng.IntN(at + 1)
		to := at + 1 + rng.IntN(n-at)
		low, high := ch.Overview().Envelope(from, to, 1+rng.IntN(700))
		found, least := 0, math.Inf(1)
		for i := range high {
			if high[i] == 7 {
				found++
			}
			least = min(least, low[i])
			if low[i] > high[i] {
				t.Fatal("upside down")
			}
		}
		want := math.Inf(1)
		for _, v := range ch.Samples[from:to] {
			want = min(want, v)
		}
		if found != 1 || least != want {
			t.Fatalf("the spike is there %d times, the least is %g of %g", found, least, want)
		}
	}
}

// Any stretch of ten million samples, whole or zoomed in.
func BenchmarkLookAtTenMillionSamples(b *testing.B) {
	ch := Channel{Samples: make([]float64, 10_000_000)}
	for i := range ch.Samples {
		ch.Samples[i] = float64(i % 977)
	}
	o := ch.Overview()
	for b.Loop() {
		for _, width := range []int{10_000_000, 1_000_000, 100_000, 1000} {
			if low, _ := o.Envelope(3, width, 1600); len(low) == 0 {
				b.Fatal("nothing")
			}
		}
	}
}

// The compact form gives back every sample as near as a float32 has it; a damaged
// one is refused.
func TestSamplesAreKept(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(12, 12))
	c := Capture{Rate: 1, Channels: []Channel{{Name: "a"}, {Name: "b"}}}
	for range 1000 {
		for k := range c.Channels {
			c.Channels[k].Samples = append(c.Channels[k].Samples, rng.NormFloat64()*math.Pow(10, 6*rng.Float64()-3))
		}
	}
	packed := c.Pack()
	again := Capture{Channels: []Channel{{}, {}}}
	if err := again.Unpack(packed); err != nil {
		t.Fatal(err)
	}
	for k := range c.Channels {
		for i, v := range c.Channels[k].Samples {
			if math.Abs(again.Channels[k].Samples[i]-v) > 6e-8*math.Abs(v) {
				t.Fatalf("%g is %g", v, again.Channels[k].Samples[i])
			}
		}
	}
	for _, bad := range [][]byte{nil, packed[:7], packed[:len(packed)-1], append([]byte{9}, packed[1:]...)} {
		if again.Unpack(bad) == nil {
			t.Error("damaged samples are taken")
		}
	}
}

// A carrier whose capture has a length with no factors takes no longer than others; the length that is looked at loses
// little.
func TestALengthWithoutFactorsTakesNoLonger(t *testing.T) {
	t.Parallel()
	for _, n := range []int{1, 2, 7, 1009, 60013, 65521, 1 << 16} {
		got := quickLength(n)
		left := got
		for _, p := range []int{2, 3, 5} {
			for left%p == 0 {
				left /= p
			}
		}
		if left != 1 || got > n || n > 100 && float64(got) < 0.95*float64(n) {
			t.Errorf("of %d samples %d are looked at", n, got)
		}
	}
	const n, rate = 60013, 48e3
	x := Channel{Unit: "V", Samples: make([]float64, n)}
	for i := range x.Samples {
		at := float64(i) / rate
		x.Samples[i] = (1 + 0.5*math.Sin(2*math.Pi*40*at)) * math.Sin(2*math.Pi*6e3*at)
	}
	began := time.Now()
	f := x.Measure(rate, Site{Mains: 50})
	if depth, ok := f.Find("depth"); !ok || math.Abs(depth.Value-0.5) > 0.02 || time.Since(began) > 2*time.Second {
		t.Errorf("a depth of %v in %v", depth.Value, time.Since(began))
	}
}

// Few periods with many samples are brought together, not cut off.
func TestFewPeriodsOfManySamples(t *testing.T) {
	t.Parallel()
	const hz, rate, n = 37.3, 100e3, 20_000 // 7.46 periods
	rng := rand.New(rand.NewPCG(37, 3))
	x := Channel{Unit: "V", Samples: make([]float64, n)}
	for i := range x.Samples {
		at := 2 * math.Pi * hz * float64(i) / rate
		x.Samples[i] = math.Sin(at) + 0.3*math.Sin(2*at+1) + 0.25*math.Sin(3*at+2) + 0.05*rng.NormFloat64()
	}
	f := x.Measure(rate, Site{Mains: 50})
	if got, ok := f.Find("frequency"); !ok || math.Abs(got.Value/hz-1) > 3e-4 {
		t.Errorf("%v Hz (%s), want %v", got.Value, got.How, hz)
	}
}
