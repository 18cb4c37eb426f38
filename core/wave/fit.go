package wave

import (
	"math"
	"math/cmplx"

	"gonum.org/v1/gonum/dsp/fourier"
	"gonum.org/v1/gonum/mat"
)

// tone is a sine fitted to samples: offset + a·cos ωn + b·sin ωn, with n the
// number of the sample. Residual is the rms of what remains.
type tone struct {
	omega        float64 // radians a sample
	a, b, offset float64
	residual     float64
	together     bool // its frequency is that of its harmonics too
}

// amplitude is the tone's peak.
func (t *tone) amplitude() float64 { return math.Hypot(t.a, t.b) }

// shortSpectrum is how few samples are worth more lines than they have, to tell few periods by.
const shortSpectrum = 1 << 13

// fitLength is how many samples a fit looks at: beyond, the frequency is known
// far better than any generator keeps it.
const fitLength = 1 << 17

// peakOmega estimates the frequency of the strongest line (radians a sample) from
// a spectrum under a Hann window, between its bins by a parabola through the
// logarithms of the three highest; 0 where there is none. Of many samples it looks at as many as
// a power of two holds.
func peakOmega(x []float64, mean float64) float64 {
	n := powerOfTwo(len(x))
	if len(x) < shortSpectrum { // all samples count, and noughts behind them give lines between
		n = 8 * n
	} else {
		x = x[:n]
	}
	windowed := make([]float64, n)
	for i, v := range x {
		windowed[i] = (v - mean) * hann(i, len(x))
	}
	spectrum := fourier.NewFFT(n).Coefficients(nil, windowed)
	best, power := 0, 0.0
	for k := 1; k < len(spectrum)-1; k++ {
		if p := real(spectrum[k])*real(spectrum[k]) + imag(spectrum[k])*imag(spectrum[k]); p > power {
			best, power = k, p
		}
	}
	if best == 0 {
		return 0
	}
	log := func(k int) float64 { return math.Log(cmplx.Abs(spectrum[k]) + 1e-300) }
	shift := 0.0
	if bend := log(best-1) - 2*log(best) + log(best+1); bend < 0 {
		shift = 0.5 * (log(best-1) - log(best+1)) / bend
	}
	return 2 * math.Pi * (float64(best) + max(-0.5, min(0.5, shift))) / float64(n)
}

// fitTone fits a sine by the four-parameter method of IEEE 1057, from an estimate
// of its frequency: in each round the samples are fitted by offset, cosine, sine
// and the change that a small shift of the frequency makes. False where it does
// not settle.
func fitTone(x []float64, omega float64) (tone, bool) {
	t := tone{omega: omega}
	if _, ok := t.round(x, false); !ok { // amplitude and phase first
		return t, false
	}
	n := float64(len(x))
	const rounds = 11
	for range rounds {
		shift, ok := t.round(x, true)
		if !ok {
			return t, false
		}
		// A shift about the middle turns the phase there back to the first sample.
		turned := shift * n / 2
		t.a, t.b = t.a*math.Cos(turned)-t.b*math.Sin(turned), t.b*math.Cos(turned)+t.a*math.Sin(turned)
		t.omega += shift
		if !(t.omega > 0 && t.omega < math.Pi) {
			return t, false
		}
		if math.Abs(shift)*n < 1e-9 {
			break
		}
	}
	t.remain(x)
	return t, !math.IsNaN(t.residual)
}

// fitAt fits a sine of a known frequency: the three-parameter method of IEEE 1057.
func fitAt(x []float64, omega float64) tone {
	t := tone{omega: omega}
	if _, ok := t.round(x, false); ok {
		t.remain(x)
	}
	return t
}

// round fits once, with the frequency's shift or without.
func (t *tone) round(x []float64, shifts bool) (shift float64, ok bool) {
	rows := 3
	if shifts {
		rows = 4
	}
	n := float64(len(x))
	sums := [4][4]float64{}
	rhs := [4]float64{}
	a, b := t.a, t.b
	each(len(x), t.omega, func(i int, c, s float64) {
		d := (float64(i) - n/2) * (b*c - a*s) // what a shift of ω does, about the middle
		basis := [4]float64{1, c, s, d}
		for p := range rows {
			for q := p; q < rows; q++ {
				sums[p][q] += basis[p] * basis[q]
			}
			rhs[p] += basis[p] * x[i]
		}
	})
	normal, right := mat.NewSymDense(rows, nil), mat.NewVecDense(rows, rhs[:rows])
	for p := range rows {
		for q := p; q < rows; q++ {
			normal.SetSym(p, q, sums[p][q])
		}
	}
	var factor mat.Cholesky
	var found mat.VecDense
	if !factor.Factorize(normal) || factor.SolveVecTo(&found, right) != nil {
		return 0, false
	}
	t.offset, t.a, t.b = found.AtVec(0), found.AtVec(1), found.AtVec(2)
	if shifts {
		shift = found.AtVec(3)
	}
	return shift, true
}

// remain works out the rms of what the sine leaves.
func (t *tone) remain(x []float64) {
	sum := 0.0
	each(len(x), t.omega, func(i int, c, s float64) {
		r := x[i] - t.offset - t.a*c - t.b*s
		sum += r * r
	})
	t.residual = math.Sqrt(sum / float64(len(x)))
}

// each goes along samples with the cosine and sine of ωn, by turning a pointer and
// setting it anew now and then so that rounding does not add up.
func each(n int, omega float64, do func(i int, c, s float64)) {
	const again = 512
	dc, ds := math.Cos(omega), math.Sin(omega)
	var c, s float64
	for i := range n {
		if i%again == 0 {
			s, c = math.Sincos(omega * float64(i))
		}
		do(i, c, s)
		c, s = c*dc-s*ds, s*dc+c*ds
	}
}

// harmonics fits a tone's first harmonics together, and gives their amplitudes,
// the fundamental first, and what remains of the samples.
func harmonics(x []float64, omega float64, most int) (amplitudes, rest []float64, ok bool) {
	h := min(most, int(0.98*math.Pi/omega))
	if h < 1 {
		return nil, nil, false
	}
	// Products of cosines and sines are sums of those of twice as many multiples, so
	// that the normal equations need no more than the sums of these.
	size := 2*h + 1
	cos, sin := make([]float64, 2*h+1), make([]float64, 2*h+1) // of kα
	cos[0] = 1
	turn := func(c, s float64, most int) {
		cos[1], sin[1] = c, s
		for k := 2; k <= most; k++ {
			cos[k], sin[k] = cos[k-1]*c-sin[k-1]*s, sin[k-1]*c+cos[k-1]*s
		}
	}
	sumCos, sumSin := make([]float64, 2*h+1), make([]float64, 2*h+1)
	rhs := make([]float64, size)
	each(len(x), omega, func(i int, c, s float64) {
		turn(c, s, 2*h)
		for k := range cos {
			sumCos[k] += cos[k]
			sumSin[k] += sin[k]
		}
		rhs[0] += x[i]
		for k := 1; k <= h; k++ {
			rhs[2*k-1] += cos[k] * x[i]
			rhs[2*k] += sin[k] * x[i]
		}
	})
	normal := mat.NewSymDense(size, nil)
	for p := 0; p <= h; p++ {
		for q := p; q <= h; q++ {
			cc, ss := (sumCos[q-p]+sumCos[p+q])/2, (sumCos[q-p]-sumCos[p+q])/2
			cs, sc := (sumSin[p+q]+sumSin[q-p])/2, (sumSin[p+q]-sumSin[q-p])/2 // cos pα sin qα, sin pα cos qα
			at := func(k int, sine bool) int { return max(2*k-1, 0) + map[bool]int{true: 1}[sine] }
			normal.SetSym(at(p, false), at(q, false), cc)
			if q > 0 {
				normal.SetSym(at(p, false), at(q, true), cs)
			}
			if p > 0 {
				normal.SetSym(at(p, true), at(q, true), ss)
				if q != p {
					normal.SetSym(at(p, true), at(q, false), sc)
				}
			}
		}
	}
	var factor mat.Cholesky
	var found mat.VecDense
	if !factor.Factorize(normal) || factor.SolveVecTo(&found, mat.NewVecDense(size, rhs)) != nil {
		return nil, nil, false
	}
	rest = make([]float64, len(x))
	each(len(x), omega, func(i int, c, s float64) {
		turn(c, s, h)
		r := x[i] - found.AtVec(0)
		for k := 1; k <= h; k++ {
			r -= found.AtVec(2*k-1)*cos[k] + found.AtVec(2*k)*sin[k]
		}
		rest[i] = r
	})
	for k := 1; k <= h; k++ {
		amplitudes = append(amplitudes, math.Hypot(found.AtVec(2*k-1), found.AtVec(2*k)))
	}
	return amplitudes, rest, true
}

const (
	// fewPeriods are those up to which a line by itself, or crossings, give a frequency less well than all harmonics
	// together do, and someOfOne from which on a capture tells of one at all. More samples than fewSamples are
	// brought together to as many: no more are needed for it.
	fewPeriods, someOfOne = 25, 1.2
	fewSamples            = 1 << 12
	// nearPeriods is how far off the first estimate may be: a share of a period over the whole, and farthest so much
	// of the frequency; nearHz is how closely it is looked for, a share.
	nearPeriods, farthest, nearHz = 0.35, 0.12, 1e-7
	// farBetter is how much less is left by a frequency that is a whole part of another.
	farBetter = 0.4
	// pulling is how much harmonics have to be of a tone to pull it, and mostlyHarmonics the share of what it leaves
	// down to which they explain most of that.
	pulling, mostlyHarmonics = 0.02, 0.5
	// seenLeft is the share of a waveform from which on what is left tells of another frequency.
	seenLeft = 0.02
)

// few tells whether a capture has so few periods of a frequency (radians a sample) that its harmonics tell more of it.
func few(x []float64, omega float64) bool { return omega*float64(len(x)) < fewPeriods*2*math.Pi }

// together fits a frequency (radians a sample) and its first harmonics at once, from an estimate: a waveform that is no
// sine pulls a single sine that is fitted to few periods of it. Where half of it or a third fits far better, it is that.
func together(x []float64, omega float64) float64 {
	best, left := fitTogether(x, omega)
	if !few(x, omega) || left < seenLeft*sumUp(x).ac {
		return best
	}
	for _, divided := range []float64{2, 3} {
		sub, l := fitTogether(x, omega/divided)
		if l < farBetter*left && sub*float64(len(x)) > 2*math.Pi*leastTurns {
			best, left = sub, l
		}
	}
	return best
}

// surer is a tone at the frequency that it and its harmonics have together, where these are strong, and it alone would be
// pulled by them.
func (t tone) surer(x []float64) tone {
	if t.residual < pulling*t.amplitude() {
		return t
	}
	if omega, left := fitTogether(x, t.omega); left < mostlyHarmonics*t.residual {
		t = fitAt(x, omega)
		t.together = true
	}
	return t
}

// fitTogether finds the frequency near an estimate at which its first harmonics leave least, and what that is (rms).
func fitTogether(x []float64, omega float64) (found, remains float64) {
	periods := omega * float64(len(x)) / (2 * math.Pi)
	if !few(x, omega) || periods < someOfOne {
		return omega, math.Inf(1)
	}
	by := (len(x) + fewSamples - 1) / fewSamples
	x = thinned(x, by)
	omega *= float64(by)
	left := func(w float64) float64 {
		_, rest, ok := harmonics(x, w, mostHarmonics)
		if !ok {
			return math.Inf(1)
		}
		return sumUp(rest).rms
	}
	const grid = 9
	reach := min(nearPeriods/periods, farthest)
	at := func(k int) float64 { return omega * (1 + reach*(2*float64(k)/(grid-1)-1)) }
	best, least := (grid-1)/2, math.Inf(1)
	for k := range grid {
		if l := left(at(k)); l < least {
			best, least = k, l
		}
	}
	found, remains = leastBetween(left, at(max(best-1, 0)), at(min(best+1, grid-1)), nearHz*omega)
	return found / float64(by), remains
}

// thinned is the mean of every so many samples.
func thinned(x []float64, by int) []float64 {
	if by < 2 {
		return x
	}
	out := make([]float64, len(x)/by)
	for i := range out {
		out[i] = sumUp(x[i*by : (i+1)*by]).mean
	}
	return out
}

// leastBetween finds where a function with one valley between two bounds is least, as closely as is asked for, by
// golden section; and its value there.
func leastBetween(f func(at float64) float64, low, high, near float64) (at, least float64) {
	golden := (math.Sqrt(5) - 1) / 2
	a, b := high-golden*(high-low), low+golden*(high-low)
	for fa, fb := f(a), f(b); high-low > near; {
		if fa < fb {
			high, b, fb = b, a, fa
			a = high - golden*(high-low)
			fa = f(a)
		} else {
			low, a, fa = a, b, fb
			b = low + golden*(high-low)
			fb = f(b)
		}
	}
	at = (low + high) / 2
	return at, f(at)
}
