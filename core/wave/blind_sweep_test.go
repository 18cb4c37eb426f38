package wave_test

import (
	"math"
	"math/cmplx"
	"math/rand/v2"
	"strings"
	"testing"

	"steptrace/core/wave"
	"steptrace/internal/trial"
)

// swept is a sweep through something whose response is known: by the logarithm or evenly, up or down, once or several times.
type swept struct {
	from, to, seconds float64
	even              bool
	times             float64
	through           func(hz float64) complex128
}

func (s swept) at(t float64) float64 {
	u := math.Mod(t, s.seconds)
	var hz, turns float64
	if s.even {
		k := (s.to - s.from) / s.seconds
		hz, turns = s.from+k*u, s.from*u+k*u*u/2
	} else {
		r := math.Log(s.to/s.from) / s.seconds
		hz, turns = s.from*math.Exp(r*u), s.from/r*math.Expm1(r*u)
	}
	h := s.through(hz)
	return cmplx.Abs(h) * math.Sin(2*math.Pi*turns+cmplx.Phase(h))
}

func (s swept) record(rng *rand.Rand, bits int) (wave.Channel, float64) {
	rate := max(s.from, s.to) * (2.6 + 3*rng.Float64())
	n := int(rate * s.seconds * s.times)
	out := make([]float64, n)
	most := 0.0
	for i := range out {
		out[i] = s.at(float64(i) / rate)
		most = max(most, math.Abs(out[i]))
	}
	step := most / (0.4 + 0.5*rng.Float64()) / math.Pow(2, float64(bits-1))
	for i := range out {
		out[i] = step * math.Round(out[i]/step+0.4*rng.NormFloat64())
	}
	return wave.Channel{Unit: "V", Samples: out}, rate
}

func newSweep(rng *rand.Rand) swept {
	s := swept{from: 20 + 80*rng.Float64(), to: 5000 + 15000*rng.Float64(), seconds: 2 + 4*rng.Float64(), even: rng.IntN(3) == 0, times: 1}
	if s.even {
		s.from = 200 + 300*rng.Float64()
	}
	if rng.IntN(4) == 0 {
		s.from, s.to = s.to, s.from
	}
	if rng.IntN(4) == 0 {
		s.times = 1 + 1.5*rng.Float64()
	}
	return s
}

// corners are where a response is 3 dB below its top.
func corners(through func(hz float64) complex128, from, to float64) (low, high float64) {
	top := 0.0
	for f := from; f < to; f *= 1.001 {
		top = max(top, cmplx.Abs(through(f)))
	}
	for f := from; f < to; f *= 1.001 {
		if cmplx.Abs(through(f)) >= top/math.Sqrt2 {
			if low == 0 {
				low = f
			}
			high = f
		}
	}
	return low, high
}

// texts are the figures that are written of a waveform.
func texts(f wave.Figures) string {
	var out []string
	for _, x := range f.List[min(5, len(f.List)):] {
		out = append(out, x.Key+" "+x.Text)
	}
	return strings.Join(out, "; ")
}

// Sweeps through a high-pass and a low-pass of first order, a resonance, and a tuned circuit.
func TestBlindSweepFigures(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(155, 1))
	right, all := map[string]int{}, map[string]int{}
	say := func(name string, ok bool, format string, args ...any) {
		all[name]++
		if ok {
			right[name]++
		} else if testing.Verbose() {
			t.Logf(name+": "+format, args...)
		}
	}
	near := func(f wave.Figures, key string, due, within float64) bool {
		got, ok := f.Find(key)
		return ok && math.Abs(got.Value/due-1) < within
	}
	gain := func() complex128 { return complex(math.Pow(10, -1+1.5*rng.Float64()), 0) }
	for range trial.Runs(16) {
		s, k := newSweep(rng), gain()
		low, high := min(s.from, s.to), max(s.from, s.to)
		flat := s
		flat.through = func(float64) complex128 { return k }
		ch, rate := flat.record(rng, 8+rng.IntN(9))
		f := ch.Measure(rate, wave.Site{Mains: 50})
		say("flat kind", f.Kind == wave.Swept, "%s, %+v", f.Kind, s)
		_, peak := f.Find("stands")
		_, hums := f.Find("hum1")
		say("flat is flat", !peak && !hums && !near(f, "lowcorner", 1, 1e9) && !near(f, "highcorner", 1, 1e9), "%s", texts(f))
		say("flat level", near(f, "level", real(k)/math.Sqrt2, 0.03), "%s", texts(f))

		at, to := low*(3+3*rng.Float64()), high/(2+2*rng.Float64())
		band := s
		band.through = func(hz float64) complex128 { return k / (1 + complex(0, hz/to)) / (1 - complex(0, at/hz)) }
		ch, rate = band.record(rng, 10+rng.IntN(7))
		f = ch.Measure(rate, wave.Site{Mains: 50})
		at, to = corners(band.through, low, high)
		say("low corner", near(f, "lowcorner", at, 0.12), "%.4g: %s", at, texts(f))
		say("high corner", near(f, "highcorner", to, 0.12), "%.4g: %s", to, texts(f))

		centre, q, high2 := math.Sqrt(low*high)*(0.7+0.6*rng.Float64()), 2+5*rng.Float64(), 1+1.5*rng.Float64()
		resonant := s
		tuned := func(hz float64) complex128 { return 1 / (1 + complex(0, q*(hz/centre-centre/hz))) }
		resonant.through = func(hz float64) complex128 { return k * (1 + complex(high2, 0)*tuned(hz)) }
		ch, rate = resonant.record(rng, 10+rng.IntN(7))
		f = ch.Measure(rate, wave.Site{Mains: 50})
		say("resonance", near(f, "stands", centre, 0.06), "%.4g: %s", centre, texts(f))

		q = 3 + 5*rng.Float64()
		circuit := s
		circuit.through = func(hz float64) complex128 { return k * tuned(hz) }
		ch, rate = circuit.record(rng, 12+rng.IntN(5))
		f = ch.Measure(rate, wave.Site{Mains: 50})
		say("tuned bandwidth", near(f, "bandwidth", centre/q, 0.15), "%.4g at %.4g: %s", centre/q, centre, texts(f))
	}
	tell(t, "figures of sweeps", right, all, 0.97)
}

// Pairs of sweeps.
func TestBlindSweepDefects(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(155, 2))
	right, all := map[string]int{}, map[string]int{}
	for range trial.Runs(16) {
		for kind, by := range map[wave.DefectKind]func(low, high float64) func(hz float64) complex128{
			"": func(_, _ float64) func(float64) complex128 {
				k := complex(math.Pow(10, (3*rng.Float64()-1.5)/20), 0)
				return func(float64) complex128 { return k }
			},
			wave.LowsMissing: func(low, _ float64) func(float64) complex128 {
				at := low * (4 + 8*rng.Float64())
				return func(hz float64) complex128 { return 1 / (1 - complex(0, at/hz)) }
			},
			wave.HighsMissing: func(_, high float64) func(float64) complex128 {
				at := high / (4 + 8*rng.Float64())
				return func(hz float64) complex128 { return 1 / (1 + complex(0, hz/at)) }
			},
			wave.LowLevel: func(_, _ float64) func(float64) complex128 {
				k := complex(math.Pow(10, -(4+10*rng.Float64())/20), 0)
				return func(float64) complex128 { return k }
			},
			wave.Uneven: func(low, high float64) func(float64) complex128 {
				at := low * math.Pow(high/low, 0.35+0.3*rng.Float64())
				return func(hz float64) complex128 {
					return 1 - 0.75/(1+complex(0, 3*(hz/at-at/hz)))
				}
			},
		} {
			s := newSweep(rng)
			s.times = 1
			low, high := min(s.from, s.to), max(s.from, s.to)
			through := func(hz float64) complex128 {
				return 1 / (1 - complex(0, 0.5*low/hz)) / (1 + complex(0, 0.7*hz/high))
			}
			s.through = through
			ref, refRate := s.record(rng, 10+rng.IntN(7))
			wrong := by(low, high)
			s.through = func(hz float64) complex128 { return through(hz) * wrong(hz) }
			got, rate := s.record(rng, 10+rng.IntN(7))
			c, ok := wave.Compare(&got, rate, &wave.Reference{Channel: ref, Rate: refRate}, wave.Site{Mains: 50})
			first := wave.DefectKind("")
			if len(c.Defects) > 0 {
				first = c.Defects[0].Kind
			}
			all[string(kind)]++
			if ok && first == kind {
				right[string(kind)]++
			} else if testing.Verbose() {
				t.Logf("%q: [%s]; %+v", kind, kindsOf(c), s.even)
			}
		}
	}
	tell(t, "pairs of sweeps", right, all, 0.97)
}
