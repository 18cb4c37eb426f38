package wave

import (
	"encoding/binary"
	"fmt"
	"math"
	"math/rand/v2"

	"gonum.org/v1/gonum/dsp/fourier"
)

// SoundShape is what a computer's sound output can feed in.
type SoundShape string

// The shapes. A sweep goes from its first frequency to its second and begins again;
// two tones have their first four times as strong as their second, as in the measurement of
// intermodulation after SMPTE RP 120; pink noise has as much power in every octave.
const (
	SoundSine   SoundShape = "sine"
	SoundSquare SoundShape = "square"
	SoundSweep  SoundShape = "sweep"
	SoundPink   SoundShape = "pink noise"
	SoundTwo    SoundShape = "two tones"
	SoundPulses SoundShape = "pulses"
)

// SoundShapes lists them.
var SoundShapes = []SoundShape{SoundSine, SoundSquare, SoundSweep, SoundPink, SoundTwo, SoundPulses}

// Sound is a signal to be played over and over: frequencies in hertz, its peak as a
// share of full scale (0 to 1).
type Sound struct {
	Shape  SoundShape
	Hz     float64
	Second float64
	Peak   float64
}

// Limits of a sound: what hardware of that kind passes, and how long a piece is.
const (
	lowestSound  = 5.0
	soundShare   = 0.45 // of the rate: the highest frequency
	leastRate    = 8000.0
	mostRate     = 384000.0
	sweepSeconds = 5.0
	pulseShare   = 0.1 // of the period
)

// Samples makes one piece at a rate (samples a second) that can be played over and over
// without a seam: it holds whole periods of all that is in it.
func (s Sound) Samples(rate float64) ([]float64, error) {
	if !(rate >= leastRate && rate <= mostRate) {
		return nil, fmt.Errorf("%g samples a second are no rate of a sound device: use %g to %g", rate, leastRate, mostRate)
	}
	if !(s.Peak > 0 && s.Peak <= 1) {
		return nil, fmt.Errorf("the level is above full scale, or nothing: use less, or an amplifier behind")
	}
	highest := soundShare * rate
	needs := map[SoundShape][]float64{
		SoundSine:   {s.Hz},
		SoundSquare: {s.Hz},
		SoundPulses: {s.Hz},
		SoundSweep:  {s.Hz, s.Second},
		SoundTwo:    {s.Hz, s.Second},
		SoundPink:   nil,
	}
	for _, hz := range needs[s.Shape] {
		if !(hz >= lowestSound && hz <= highest) {
			return nil, fmt.Errorf("a sound device passes %g Hz to %s: say a frequency between", lowestSound, written(highest, "Hz"))
		}
	}
	switch s.Shape {
	case SoundSine, SoundSquare, SoundPulses:
		return s.periodic(rate), nil
	case SoundTwo:
		return s.two(rate), nil
	case SoundSweep:
		return s.sweep(rate), nil
	case SoundPink:
		return s.pink(rate), nil
	}
	return nil, fmt.Errorf("%q is not played: use sine, square, sweep, pink noise, two tones or pulses", string(s.Shape))
}

// piece finds between one second and two the number of samples that holds most nearly a
// whole number of periods, and that number.
func piece(rate, hz float64) (samples int, periods float64) {
	best := math.Inf(1)
	for n := int(rate); n <= 2*int(rate); n++ {
		k := hz * float64(n) / rate
		if off := math.Abs(k-math.Round(k)) / k; off < best {
			best, samples, periods = off, n, math.Round(k)
		}
	}
	return samples, periods
}

func (s Sound) periodic(rate float64) []float64 {
	n, periods := piece(rate, s.Hz)
	out := make([]float64, n)
	step := periods / float64(n) // turns a sample
	// Of a square and of pulses only the harmonics that the device passes, so that none
	// is folded back.
	harmonic := func(k int) float64 {
		switch {
		case s.Shape == SoundSine && k == 1:
			return 1
		case s.Shape == SoundSquare && k%2 == 1:
			return 4 / (math.Pi * float64(k))
		case s.Shape == SoundPulses:
			return 2 * math.Sin(math.Pi*float64(k)*pulseShare) / (math.Pi * float64(k))
		}
		return 0
	}
	const mostSummed = 400
	for k := 1; float64(k)*step < soundShare && k <= mostSummed; k++ {
		a := harmonic(k)
		if a == 0 {
			continue
		}
		for i := range out {
			turn := float64(k) * step * float64(i)
			turn -= math.Floor(turn)
			if s.Shape == SoundPulses {
				out[i] += a * math.Cos(2*math.Pi*turn)
			} else {
				out[i] += a * math.Sin(2*math.Pi*turn)
			}
		}
	}
	return toPeak(out, s.Peak)
}

// toPeak brings a waveform to a peak.
func toPeak(x []float64, peak float64) []float64 {
	low, high := extremes(x)
	by := peak / max(-low, high)
	for i := range x {
		x[i] *= by
	}
	return x
}

func (s Sound) two(rate float64) []float64 {
	n := 2 * int(rate) // both go a whole number of times into two seconds, to half a hertz
	a, b := math.Round(2*s.Hz), math.Round(2*s.Second)
	out := make([]float64, n)
	for i := range out {
		t := float64(i) / float64(n)
		out[i] = 0.8*math.Sin(2*math.Pi*a*t) + 0.2*math.Sin(2*math.Pi*b*t)
	}
	return toPeak(out, s.Peak)
}

// sweep goes from one frequency to the other, every octave equally long (Farina 2000),
// and fades at its ends, where it begins again.
func (s Sound) sweep(rate float64) []float64 {
	n := int(sweepSeconds * rate)
	out := make([]float64, n)
	const fade = 0.02 // s
	slope := math.Log(s.Second / s.Hz)
	for i := range out {
		t := float64(i) / rate
		phase := 2 * math.Pi * s.Hz * t
		if slope != 0 {
			phase = 2 * math.Pi * s.Hz * sweepSeconds / slope * math.Expm1(t/sweepSeconds*slope)
		}
		edge := min(t, sweepSeconds-t, fade) / fade
		out[i] = math.Sin(phase) * edge
	}
	return toPeak(out, s.Peak)
}

// pink makes noise from lines of random phase whose power falls as 1/f, from 20 Hz to
// what the device passes: made of whole periods, it has no seam.
func (s Sound) pink(rate float64) []float64 {
	n := powerOfTwo(int(4 * rate))
	rng := rand.New(rand.NewPCG(20, 20)) // the same noise each time, so that readings compare
	lines := make([]complex128, n/2+1)
	for k := range lines {
		hz := float64(k) * rate / float64(n)
		if hz >= 20 && hz <= soundShare*rate {
			sin, cos := math.Sincos(2 * math.Pi * rng.Float64())
			lines[k] = complex(cos, sin) / complex(math.Sqrt(hz), 0)
		}
	}
	return toPeak(fourier.NewFFT(n).Sequence(nil, lines), s.Peak)
}

// WriteWAV writes samples of one channel as a WAV of 32-bit floats, which Read reads.
func WriteWAV(samples []float64, rate float64) []byte {
	out := make([]byte, 0, 58+4*len(samples))
	le := binary.LittleEndian
	size := uint32(4 * len(samples))
	out = append(out, "RIFF"...)
	out = le.AppendUint32(out, 50+size)
	out = append(out, "WAVEfmt "...)
	out = le.AppendUint32(out, 18)
	out = le.AppendUint16(out, wavFloat)
	out = le.AppendUint16(out, 1)
	out = le.AppendUint32(out, uint32(rate))
	out = le.AppendUint32(out, 4*uint32(rate))
	out = le.AppendUint16(out, 4)
	out = le.AppendUint16(out, 32)
	out = le.AppendUint16(out, 0)
	out = append(out, "fact"...) // told for all that is no PCM
	out = le.AppendUint32(out, 4)
	out = le.AppendUint32(out, uint32(len(samples)))
	out = append(out, "data"...)
	out = le.AppendUint32(out, size)
	for _, v := range samples {
		out = le.AppendUint32(out, math.Float32bits(float32(v)))
	}
	return out
}
