package wave

import (
	"math"
	"math/bits"

	"gonum.org/v1/gonum/dsp/fourier"
)

// lineSpectrum is a power spectrum under a Hann window.
type lineSpectrum struct {
	n     int
	power []float64
	sum   float64
}

// powerOfTwo is the largest power of two that is not above n, at least one.
func powerOfTwo(n int) int { return 1 << (bits.Len(uint(max(n, 1))) - 1) }

// quickLength is the largest number that is not above n and has no factors but 2, 3 and 5: a transform of as many goes
// quickly, and loses hardly anything of them. At least one.
func quickLength(n int) int {
	best := 1
	for two := 1; two <= n; two *= 2 {
		for three := two; three <= n; three *= 3 {
			for five := three; five <= n; five *= 5 {
				best = max(best, five)
			}
		}
	}
	return best
}

func hann(i, n int) float64 { return 0.5 - 0.5*math.Cos(2*math.Pi*float64(i)/float64(n)) }

func lines(x []float64) lineSpectrum {
	n := powerOfTwo(len(x))
	windowed := make([]float64, n)
	for i := range windowed {
		windowed[i] = x[i] * hann(i, n)
	}
	s := lineSpectrum{n: n}
	for _, c := range fourier.NewFFT(n).Coefficients(nil, windowed) {
		p := real(c)*real(c) + imag(c)*imag(c)
		s.power = append(s.power, p)
		s.sum += p
	}
	return s
}

// around sums the power of a line: its bin and two on each side.
func (s *lineSpectrum) around(k int) float64 {
	p := 0.0
	for i := max(k-2, 0); i <= min(k+2, len(s.power)-1); i++ {
		p += s.power[i]
	}
	return p
}

// strongest gives the strongest line, and its share of the power.
func (s *lineSpectrum) strongest() (bin int, share float64) {
	for k := range s.power {
		if s.power[k] > s.power[bin] {
			bin = k
		}
	}
	return bin, s.around(bin) / s.sum
}

// mostMains are the multiples of the mains that hum is looked for at.
const mostMains = 6

// mains gives the strongest of the first multiples of the mains, and the share of
// the power that all of them have.
func (s *lineSpectrum) mains(hz, rate float64) (multiple int, share float64) {
	if float64(s.n)/rate < 3/hz { // too short to tell the mains from what stands still
		return 0, 0
	}
	best := 0.0
	seen := map[int]bool{}
	for m := 1; m <= mostMains; m++ {
		k := int(math.Round(hz * float64(m) * float64(s.n) / rate))
		if k >= len(s.power) || seen[k] {
			continue
		}
		seen[k] = true
		p := s.around(k)
		share += p / s.sum
		if p > best {
			best, multiple = p, m
		}
	}
	return multiple, min(share, 1)
}

// Spectrum is the level of a waveform along the frequency, in parts of equal ratio,
// as a person looks at it. DB is the level of the strongest line in each part, dB
// against one unit rms; so low that nothing shows where there is none.
type Spectrum struct {
	Hz []float64 `json:"hz"`
	DB []float64 `json:"db"`
	// Resolution is the distance of two lines that are told apart, Hz.
	Resolution float64 `json:"resolution"`
}

// faintestDB is the lowest level drawn, far below any converter's noise.
const faintestDB = -200

// Spectrum gives the spectrum of samples at a rate, under a Hann window, in at most
// so many parts. It looks at as many samples from the first on as a power of two
// holds, at most 2¹⁷.
func (ch *Channel) Spectrum(rate float64, parts int) Spectrum {
	x := ch.Samples[:min(len(ch.Samples), fitLength)]
	mean := 0.0
	for _, v := range x {
		mean += v / float64(len(x))
	}
	level := make([]float64, len(x))
	for i, v := range x {
		level[i] = v - mean
	}
	s := lines(level)
	out := Spectrum{Resolution: 1.5 * rate / float64(s.n)} // the noise bandwidth of the window
	first, last := 1.0, float64(len(s.power)-1)
	if last < 2 || parts < 1 {
		return out
	}
	ratio := math.Pow(last/first, 1/float64(parts))
	// A sine of amplitude a has the power (a·n/4)² in its bin under this window.
	scale := 4 / float64(s.n) / math.Sqrt2
	for from := 1; from < len(s.power); {
		to := max(int(float64(from)*ratio), from+1)
		best := from
		for k := from; k < min(to, len(s.power)); k++ {
			if s.power[k] > s.power[best] {
				best = k
			}
		}
		out.Hz = append(out.Hz, float64(best)*rate/float64(s.n))
		out.DB = append(out.DB, max(decibels(math.Sqrt(s.power[best])*scale), faintestDB))
		from = to
	}
	return out
}

func decibels(x float64) float64 { return 20 * math.Log10(x+1e-300) }
