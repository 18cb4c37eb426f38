package wave

import (
	"math"
	"math/cmplx"

	"gonum.org/v1/gonum/dsp/fourier"
)

// cubic reads samples between them by a cubic through the four nearest
// (Catmull-Rom); false beyond them.
func cubic(x []float64, at float64) (float64, bool) {
	i := int(math.Floor(at))
	if i < 0 || i >= len(x) || i == len(x)-1 && at > float64(i) {
		return 0, false
	}
	t := at - float64(i)
	p := func(k int) float64 { return x[max(0, min(len(x)-1, k))] }
	a, b, c, d := p(i-1), p(i), p(i+1), p(i+2)
	return b + t/2*(c-a+t*(2*a-5*b+4*c-d+t*(3*(b-c)+d-a))), true
}

// resampled gives samples at another rate, by cubics between them; over what is
// dropped when it becomes fewer a mean is taken first.
func resampled(x []float64, from, to float64) []float64 {
	if from == to {
		return x
	}
	if wide := int(from / to); wide > 1 {
		smooth := make([]float64, len(x)/wide)
		for i := range smooth {
			for _, v := range x[i*wide : (i+1)*wide] {
				smooth[i] += v / float64(wide)
			}
		}
		return resampled(smooth, from/float64(wide), to)
	}
	n := int(float64(len(x)-1)*to/from) + 1
	out := make([]float64, n)
	for i := range out {
		out[i], _ = cubic(x, min(float64(i)*from/to, float64(len(x)-1)))
	}
	return out
}

// lagOf finds by how many samples (not only whole ones) a lies behind b, and how well
// the two go together there (-1 to 1). The whole ones by the strongest correlation,
// the rest by the slope of the phase of the cross-spectrum under a Hann window, as in
// the method of generalised cross-correlation (Knapp and Carter, 1976).
func lagOf(a, b []float64) (lag, correlation float64, ok bool) {
	const most = fitLength
	a, b = a[:min(len(a), most)], b[:min(len(b), most)]
	n := 2 * powerOfTwo(2*max(len(a), len(b))-1)
	fft := fourier.NewFFT(n)
	spectrum := func(x []float64) []complex128 {
		padded := make([]float64, n)
		mean := sumUp(x).mean
		for i, v := range x {
			padded[i] = v - mean
		}
		return fft.Coefficients(nil, padded)
	}
	sa, sb := spectrum(a), spectrum(b)
	for k := range sa {
		sa[k] *= cmplx.Conj(sb[k])
	}
	r := fft.Sequence(nil, sa)
	best, _ := strongest(r)
	if best > n/2 {
		best -= n
	}
	// The stretch that both have.
	from, to := max(best, 0), min(len(a), len(b)+best)
	if to-from < 32 {
		return 0, 0, false
	}
	x, y := a[from:to], b[from-best:to-best]
	correlation = correlate(x, y)
	return float64(best) + fineLag(x, y), correlation, correlation != 0
}

// strongest finds where a correlation is strongest, and its sign. What is turned over
// is believed only where it is clearly stronger: half a turn of a sine is that too.
func strongest(r []float64) (at int, sign float64) {
	const clearly = 1.1
	low, high := 0, 0
	for k, v := range r {
		if v > r[high] {
			high = k
		}
		if v < r[low] {
			low = k
		}
	}
	if -r[low] > clearly*r[high] {
		return low, -1
	}
	return high, 1
}

// fineLag is the part of a sample by which x lies behind y, equally long.
func fineLag(x, y []float64) float64 {
	n := powerOfTwo(len(x))
	fft := fourier.NewFFT(n)
	windowed := func(x []float64) []complex128 {
		w := make([]float64, n)
		mean := sumUp(x[:n]).mean
		for i := range w {
			w[i] = (x[i] - mean) * hann(i, n)
		}
		return fft.Coefficients(nil, w)
	}
	cross, b := windowed(x), windowed(y)
	for k := range cross {
		cross[k] *= cmplx.Conj(b[k])
	}
	sign := 1.0
	if correlate(x, y) < 0 {
		sign = -1
	}
	return max(-1, min(1, phaseSlope(cross, 0, n, sign)))
}

// correlate is the correlation of two equally long waveforms, 0 where one stands still.
func correlate(x, y []float64) float64 {
	lx, ly := sumUp(x), sumUp(y)
	if lx.ac == 0 || ly.ac == 0 {
		return 0
	}
	sum := 0.0
	for i := range x {
		sum += (x[i] - lx.mean) * (y[i] - ly.mean)
	}
	return sum / float64(len(x)) / (lx.ac * ly.ac)
}

// once compares waveforms that do not repeat, laid over each other.
func (c *comparing) once() {
	const still = 1e-9 // of what moves elsewhere
	ref := resampled(c.ref.Samples[:min(len(c.ref.Samples), int(fitLength*max(1, c.ref.Rate/c.rate)))], c.ref.Rate, c.rate)
	lag, correlation, ok := lagOf(c.got.Samples, ref)
	if !ok || math.Abs(correlation) < alike {
		c.found(Unlike, 1, "it goes along with the reference by %.0f %% only", 100*math.Abs(correlation))
		return
	}
	c.laid = laid{mean: c.want.mean, samples: ref, lag: lag}
	from := int(math.Ceil(max(lag, 0)))
	to := min(len(c.got.Samples), int(float64(len(ref)-1)+lag), from+fitLength)
	x, y := c.got.Samples[from:to], make([]float64, to-from)
	for i := range y {
		y[i], _ = c.laid.at(from + i)
	}
	lx, ly := sumUp(x), sumUp(y)
	gain := 0.0
	if ly.ac > still*c.want.ac {
		gain = correlate(x, y) * lx.ac / ly.ac
	}
	if math.Abs(gain)*ly.ac <= still*c.l.ac { // one of them is flat there, as a reference at its end
		c.laid = laid{}
		c.found(Unlike, 1, "where it goes along with the reference, one of them stands still: there is nothing to compare")
		return
	}
	c.laid.gain, c.laid.offset = gain, lx.mean-gain*ly.mean
	c.GainDB = gainDB(math.Abs(gain), 1)
	f := folded{amplitude: math.Sqrt2 * math.Abs(gain) * ly.ac, rest: make([]float64, len(x))}
	for i := range x {
		f.rest[i] = x[i] - c.laid.offset - gain*y[i]
		f.restRMS += f.rest[i] * f.rest[i]
	}
	f.restRMS = math.Sqrt(f.restRMS / float64(len(x)))
	c.Rest = f.restRMS / (math.Abs(gain) * ly.ac)
	// Two recordings of the same differ by some per cent even when all is well: what
	// is between their samples, their noise.
	const usual = 0.05
	if c.Rest <= usual {
		return
	}
	if c.bent(y, x, &f) {
		return
	}
	c.besides(&f, math.Sqrt2*ly.ac, usual*max(f.amplitude/math.Sqrt2, ly.ac))
}

// bent tells whether what remains follows from the reference's value alone: the
// curve from one to the other then says how it is distorted.
func (c *comparing) bent(ref, got []float64, f *folded) bool {
	const parts = 40
	l := sumUp(ref)
	sums, counts := make([]float64, parts), make([]float64, parts)
	at := func(v float64) int { return min(int((v-l.low)/(l.high-l.low)*parts), parts-1) }
	for i, v := range ref {
		sums[at(v)] += f.rest[i]
		counts[at(v)]++
	}
	explained := 0.0
	for k := range sums {
		if counts[k] > 0 {
			explained += sums[k] * sums[k] / counts[k]
		}
	}
	share := explained / float64(len(ref)) / (f.restRMS * f.restRMS)
	if share < 0.5 {
		return false
	}
	// The slope of the curve at its ends and in its middle, against the gain.
	slope := func(from, to float64) float64 {
		var n, sx, sy, sxx, sxy float64
		lo, hi := l.low+from*(l.high-l.low), l.low+to*(l.high-l.low)
		for i, v := range ref {
			if v >= lo && v <= hi {
				n, sx, sy, sxx, sxy = n+1, sx+v, sy+got[i], sxx+v*v, sxy+v*got[i]
			}
		}
		return (n*sxy - sx*sy) / max(n*sxx-sx*sx, 1e-300) / c.laid.gain
	}
	const end, flat = 0.12, 0.35
	bottom, top, middle := slope(0, end), slope(1-end, 1), slope(0.5-end/2, 0.5+end/2)
	size := c.Rest
	ends := sumUp(got)
	place := func(v float64) string { return written(v, c.got.Unit) + c.nearRail(v) }
	switch {
	case top < flat && bottom < flat:
		c.found(ClippedBoth, size, "it does not follow the reference beyond %s and %s", place(ends.high), place(ends.low)).
			at(ends.high, c.got.Unit)
	case top < flat:
		c.found(ClippedTop, size, "it does not follow the reference above %s", place(ends.high)).at(ends.high, c.got.Unit)
	case bottom < flat:
		c.found(ClippedBottom, size, "it does not follow the reference below %s", place(ends.low)).at(ends.low, c.got.Unit)
	case middle < deadSlope*(top+bottom)/2:
		c.found(Crossover, size, "about its middle it follows the reference with %.0f %% of the slope", 100*middle)
	default:
		c.found(Distortion, size, "%.0f %% of it is bent against the reference", 100*c.Rest)
	}
	return true
}
