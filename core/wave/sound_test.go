package wave

import (
	"context"
	"math"
	"testing"
)

// What is played over and over has no seam, its peak, and what its name says: measured
// over three pieces put together.
func TestSoundsAreWhatTheySay(t *testing.T) {
	t.Parallel()
	const rate = 48000.0
	for _, s := range []Sound{{SoundSine, 997.3, 0, 0.5}, {SoundSquare, 440, 0, 0.25}, {SoundPulses, 100, 0, 1}, {SoundTwo, 60, 7000, 0.8},
		{SoundPink, 0, 0, 0.9}, {SoundSweep, 20, 20000, 0.3}} {
		x, err := s.Samples(rate)
		if err != nil {
			t.Fatal(err)
		}
		low, high := extremes(x)
		if math.Abs(max(-low, high)-s.Peak) > 1e-9 {
			t.Errorf("%s: a peak of %g", s.Shape, max(-low, high))
		}
		// The step over the seam is no larger than the largest within.
		largest := 0.0
		for i := 1; i < len(x); i++ {
			largest = max(largest, math.Abs(x[i]-x[i-1]))
		}
		if math.Abs(x[0]-x[len(x)-1]) > 1.01*largest {
			t.Errorf("%s: a seam of %g", s.Shape, x[0]-x[len(x)-1])
		}
		three := Channel{Unit: "FS", Samples: append(append(append([]float64{}, x...), x...), x...)}
		f := three.Measure(rate, Site{Mains: 50})
		switch s.Shape {
		case SoundSine:
			if math.Abs(value(t, f, "frequency")/s.Hz-1) > 1e-6 || value(t, f, "thdn") > 1e-5 {
				t.Errorf("a sine of %g Hz is %+v", s.Hz, f.List)
			}
		case SoundSquare, SoundPulses:
			if math.Abs(value(t, f, "frequency")/s.Hz-1) > 1e-4 {
				t.Errorf("%s of %g Hz has %g Hz", s.Shape, s.Hz, value(t, f, "frequency"))
			}
		case SoundTwo:
			spectrum := three.Spectrum(rate, 2000)
			level := func(hz float64) float64 {
				best := faintestDB + 0.0
				for i := range spectrum.Hz {
					if math.Abs(spectrum.Hz[i]-hz) < 0.01*hz {
						best = max(best, spectrum.DB[i])
					}
				}
				return best
			}
			if off := level(60) - level(7000) - 20*math.Log10(4); math.Abs(off) > 1.5 {
				t.Errorf("the tones are %g dB off four to one", off)
			}
		case SoundPink: // the octaves above 100 Hz and above 1 kHz have the same power
			lines := lines(x)
			octave := func(from float64) float64 {
				p := 0.0
				for k := range lines.power {
					if hz := float64(k) * rate / float64(lines.n); hz >= from && hz < 2*from {
						p += lines.power[k]
					}
				}
				return p
			}
			if db := 10 * math.Log10(octave(100)/octave(1000)); math.Abs(db) > 1 {
				t.Errorf("octaves differ by %g dB", db)
			}
		}
	}
	for _, bad := range []Sound{{SoundSine, 0, 0, 0.5}, {SoundSine, 23000, 0, 0.5}, {SoundSine, 1000, 0, 1.5}, {SoundSine, 1000, 0, 0},
		{"noise", 1000, 0, 0.5}, {SoundTwo, 60, 0, 0.5}} {
		if _, err := bad.Samples(rate); err == nil {
			t.Errorf("%+v is played", bad)
		}
	}
	if _, err := (Sound{SoundSine, 1000, 0, 0.5}).Samples(100); err == nil {
		t.Error("a rate of 100 is taken")
	}
}

// What is written as a WAV is read back the same, as near as a float32 has it.
func TestWAVsAreWritten(t *testing.T) {
	t.Parallel()
	x, err := Sound{SoundSine, 1000, 0, 0.7}.Samples(44100)
	if err != nil {
		t.Fatal(err)
	}
	c, err := Read(context.Background(), WriteWAV(x, 44100), Options{})
	if err != nil || c.Rate != 44100 || len(c.Channels) != 1 || len(c.Channels[0].Samples) != len(x) || c.Channels[0].Unit != "FS" {
		t.Fatal(err, c)
	}
	for i, v := range c.Channels[0].Samples {
		if math.Abs(v-x[i]) > 1e-7 {
			t.Fatalf("sample %d is %g of %g", i, v, x[i])
		}
	}
}
