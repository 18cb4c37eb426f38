package wave

import (
	"math"
	"math/cmplx"

	"gonum.org/v1/gonum/dsp/fourier"
)

// folded is a waveform that repeats, taken apart.
type folded struct {
	omega         float64   // radians a sample
	hz, amplitude float64   // of the fundamental
	period        []float64 // one period, the mean of all
	mean          float64   // of the period
	ac            float64   // rms of the period without its mean
	rest          []float64 // what does not repeat
	restRMS       float64
	thd           float64
}

const (
	foldBins   = 256
	mostFolded = 1 << 17
)

// phaseOf is where in the period a sample is, in bins.
func phaseOf(i int, omega float64) float64 {
	p := omega * float64(i) / (2 * math.Pi)
	return (p - math.Floor(p)) * foldBins
}

// between reads a period between its bins.
func between(period []float64, p float64) float64 {
	k := math.Floor(p)
	part := p - k
	at := int(k) & (foldBins - 1) // foldBins is a power of two, k may be below zero
	return (1-part)*period[at] + part*period[(at+1)&(foldBins-1)]
}

// fold takes a waveform of a known frequency apart.
func fold(x []float64, omega float64, rate float64) folded {
	x = x[:min(len(x), mostFolded)]
	// Each bin's mean, and where in the bin it is: a line from one to the next then gives
	// the period at the bins themselves, also where the rate is a small multiple of the
	// frequency and whole bins stay empty.
	var sums, at, counts [foldBins]float64
	for i, v := range x {
		p := phaseOf(i, omega)
		k := int(p+0.5) % foldBins
		sums[k] += v
		at[k] += math.Remainder(p-float64(k), foldBins)
		counts[k]++
	}
	f := folded{omega: omega, hz: omega * rate / (2 * math.Pi), period: make([]float64, foldBins), rest: make([]float64, len(x))}
	var filled []int
	for k := range foldBins {
		if counts[k] > 0 {
			sums[k] /= counts[k]
			at[k] = float64(k) + at[k]/counts[k]
			filled = append(filled, k)
		}
	}
	for i, k := range filled {
		next := filled[(i+1)%len(filled)]
		from, to := at[k], at[next]
		if to <= from {
			to += foldBins
		}
		for j := int(math.Ceil(from)); float64(j) < to; j++ {
			share := (float64(j) - from) / (to - from)
			f.period[j%foldBins] = (1-share)*sums[k] + share*sums[next]
		}
	}
	spectrum := fourier.NewFFT(foldBins).Coefficients(nil, f.period)
	f.amplitude = 2 * cmplx.Abs(spectrum[1]) / foldBins
	f.mean = real(spectrum[0]) / foldBins
	others := 0.0
	for k := 2; k <= mostHarmonics; k++ {
		a := 2 * cmplx.Abs(spectrum[k]) / foldBins
		others += a * a
	}
	f.thd = math.Sqrt(others) / f.amplitude
	for _, v := range f.period {
		f.ac += (v - f.mean) * (v - f.mean) / foldBins
	}
	f.ac = math.Sqrt(f.ac)
	sum := 0.0
	for i, v := range x {
		f.rest[i] = v - between(f.period, phaseOf(i, omega))
		sum += f.rest[i] * f.rest[i]
	}
	f.restRMS = math.Sqrt(sum / float64(len(x)))
	return f
}

// calm takes out of the rest what is near an edge of the period, where the least
// jitter and the width of a bin leave more than what is looked for.
func (f *folded) calm() {
	const near, steep = 3, 0.08 // bins, and share of the period's whole height
	const standsOut = 6.0       // times the usual change from bin to bin
	low, high := f.period[0], f.period[0]
	for _, v := range f.period {
		low, high = min(low, v), max(high, v)
	}
	var edge [foldBins]bool
	changes := make([]float64, foldBins)
	for k := range changes {
		changes[k] = math.Abs(f.period[(k+1)%foldBins] - f.period[k])
	}
	usual := median(changes) // where all of it is noise, nothing is an edge
	for k := range foldBins {
		if changes[k] > max(steep*(high-low), standsOut*usual) {
			for d := -near; d <= near+1; d++ {
				edge[(k+d+foldBins)%foldBins] = true
			}
		}
	}
	sum := 0.0
	for i := range f.rest {
		if edge[int(phaseOf(i, f.omega))%foldBins] {
			f.rest[i] = 0
		}
		sum += f.rest[i] * f.rest[i]
	}
	f.restRMS = math.Sqrt(sum / float64(len(f.rest)))
}

// against finds by how many bins the period lies behind a reference's, and its gain
// against it by least squares: the strongest circular correlation, between bins by
// the phases of the lines both have.
func (f *folded) against(r *folded) (shift, gain float64) {
	fft := fourier.NewFFT(foldBins)
	a, b := fft.Coefficients(nil, f.period), fft.Coefficients(nil, r.period)
	a[0], b[0] = 0, 0
	cross := make([]complex128, len(a))
	for k := range a {
		cross[k] = a[k] * cmplx.Conj(b[k])
	}
	best, sign := strongest(fft.Sequence(nil, cross))
	shift = float64(best) + phaseSlope(cross, float64(best), foldBins, sign)
	var up, down float64
	for k := range f.period {
		v := between(r.period, float64(k)-shift) - r.mean
		up += v * (f.period[k] - f.mean)
		down += v * v
	}
	if down == 0 {
		return shift, 0
	}
	return shift, up / down
}

// phaseSlope is what remains of a delay (in samples) after so many whole ones, from
// the phases of the cross-spectrum of n samples: their slope over the frequency by
// least squares, weighted by the lines' strength.
func phaseSlope(cross []complex128, whole float64, n int, sign float64) float64 {
	var up, down float64
	for k := 1; k < len(cross)-1; k++ {
		w := 2 * math.Pi * float64(k) / float64(n)
		turned := cross[k] * cmplx.Rect(sign, w*whole)
		weight := cmplx.Abs(cross[k])
		phi := cmplx.Phase(turned)
		if math.Abs(phi) > math.Pi/2 {
			continue // not of this delay
		}
		up -= weight * w * phi
		down += weight * w * w
	}
	if down == 0 {
		return 0
	}
	return up / down
}
