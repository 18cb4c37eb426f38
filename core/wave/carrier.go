package wave

import (
	"fmt"
	"math"
	"math/cmplx"

	"gonum.org/v1/gonum/dsp/fourier"
	"gonum.org/v1/gonum/floats"
	"gonum.org/v1/gonum/mat"
)

// carrier is a carrier with what modulates it, from the analytic signal (Gabor): its
// envelope, and the frequency from instant to instant.
type carrier struct {
	hz    float64 // of the carrier
	depth float64 // of amplitude modulation, 0 to 1
	swing float64 // peak deviation of the frequency, Hz
	by    float64 // frequency of what modulates, Hz
	share float64 // of what varies that is that one tone
}

const (
	carrierLength = 1 << 16
	// A carrier is looked for where there are so many periods of it, and what
	// modulates it is slower by a factor.
	leastCarrier, leastSlower = 40, 3.5
	leastTurns                = 1.4 // periods of what modulates
	leastDepth, mostDepth     = 0.03, 1.05
	clearlyModulated          = 0.7  // share of the envelope's changes that one tone has
	evenEnvelope              = 0.15 // how much the amplitude of an FM carrier may vary
	oneSided                  = 2.0  // AM has no FM and the other way round, at least so many times less
)

// demodulate takes a carrier near a frequency (radians a sample) apart. False where
// what is there varies too little, or is no modulation: a tone added beside another
// makes the envelope and the phase swing alike.
//
// Long: one pass, whose steps need what those before found.
func demodulate(x []float64, mean, omega, rate float64) (carrier, bool) {
	n := quickLength(min(len(x), carrierLength))
	if omega <= 0 || omega*float64(n)/(2*math.Pi) < leastCarrier {
		return carrier{}, false
	}
	fft := fourier.NewCmplxFFT(n)
	z := make([]complex128, n)
	for i := range z {
		z[i] = complex(x[i]-mean, 0)
	}
	spectrum := fft.Coefficients(nil, z)
	at := omega * float64(n) / (2 * math.Pi)
	const below, above = 0.3, 1.7 // of the carrier: hum and what lies far above are left out
	for k := range spectrum {
		if f := float64(k); f < below*at || f > above*at || k > n/2 {
			spectrum[k] = 0
		}
	}
	line, band := 0, 0.0
	power := func(k int) float64 { return real(spectrum[k])*real(spectrum[k]) + imag(spectrum[k])*imag(spectrum[k]) }
	for k := range n / 2 {
		band += power(k)
		if power(k) > power(line) {
			line = k
		}
	}
	held := 0.0 // by the carrier itself
	for k := max(line-3, 0); k <= min(line+3, n/2); k++ {
		held += power(k) / band
	}
	z = fft.Sequence(z, spectrum)
	margin := n / 16 // where the ends meet
	z = z[margin : n-margin]
	size, speed := make([]float64, len(z)-1), make([]float64, len(z)-1)
	whole, mean2 := 0.0, 0.0
	for i := range size {
		size[i] = cmplx.Abs(z[i]) * 2 / float64(n)
		speed[i] = cmplx.Phase(z[i+1] * cmplx.Conj(z[i]))
		whole += size[i] / float64(len(size))
		mean2 += speed[i] / float64(len(speed))
	}
	am, amShare := varies(size, omega/leastSlower)
	fm, fmShare := varies(speed, omega/leastSlower)
	c := carrier{hz: mean2 * rate / (2 * math.Pi)}
	depth := am.amplitude() / whole
	index := 0.0 // of the phase, radians
	if fm.omega > 0 {
		index = fm.amplitude() / fm.omega
	}
	switch {
	case held > toneShare && amShare > clearlyModulated && depth > leastDepth && depth < mostDepth && depth > oneSided*index:
		c.depth, c.by, c.share = depth, am.omega*rate/(2*math.Pi), amShare
		if few(x, am.omega) && len(x) <= sidebandLength { // at its ends an envelope is not sure
			c.bySidebands(x, rate)
		}
	case sumUp(size).ac < evenEnvelope*whole && fmShare > clearlyModulated && index > leastDepth && index > oneSided*depth:
		c.hz = fm.offset * rate / (2 * math.Pi) // the mean of what is no whole number of its swings is not its middle
		c.swing, c.by, c.share = fm.amplitude()*rate/(2*math.Pi), fm.omega*rate/(2*math.Pi), fmShare
	default:
		return c, false
	}
	return c, true
}

// bySidebands finds depth and frequencies of an amplitude-modulated carrier by fitting it and its two sidebands together, from
// what its envelope says.
func (c *carrier) bySidebands(x []float64, rate float64) {
	at, by := 2*math.Pi*c.hz/rate, 2*math.Pi*c.by/rate
	reach := math.Pi / float64(len(x)) // half a line
	left := func(at, by float64) float64 { _, l := sidebands(x, at, by); return l }
	for range 3 {
		at, _ = leastBetween(func(w float64) float64 { return left(w, by) }, at-reach, at+reach, sidebandNear*reach)
		by, _ = leastBetween(func(w float64) float64 { return left(at, w) }, max(by-reach, by/2), by+reach, sidebandNear*reach)
	}
	a, l := sidebands(x, at, by)
	if math.IsInf(l, 0) || !((a[1]+a[2])/a[0] < mostDepth) || math.Abs(at*rate/(2*math.Pi*c.hz)-1) > sameHz {
		return
	}
	c.hz, c.by, c.depth = at*rate/(2*math.Pi), by*rate/(2*math.Pi), (a[1]+a[2])/a[0]
}

const (
	sidebandLength = 1 << 14
	sidebandNear   = 0.01
)

// sidebands fits a carrier and the two lines beside it: their amplitudes, the carrier's first, and what is left (rms).
func sidebands(x []float64, at, by float64) (amplitudes [3]float64, left float64) {
	basis := mat.NewDense(len(x), 7, nil)
	for k, w := range []float64{at, at - by, at + by} {
		each(len(x), w, func(i int, c, s float64) { basis.Set(i, 2*k, c); basis.Set(i, 2*k+1, s) })
	}
	for i := range x {
		basis.Set(i, 6, 1)
	}
	var normal mat.SymDense
	var right, found mat.VecDense
	normal.SymOuterK(1, basis.T())
	right.MulVec(basis.T(), mat.NewVecDense(len(x), x))
	var factor mat.Cholesky
	if !factor.Factorize(&normal) || factor.SolveVecTo(&found, &right) != nil {
		return amplitudes, math.Inf(1)
	}
	squares := floats.Dot(x, x) - mat.Dot(&found, &right)
	for k := range amplitudes {
		amplitudes[k] = math.Hypot(found.AtVec(2*k), found.AtVec(2*k+1))
	}
	return amplitudes, math.Sqrt(max(squares, 0) / float64(len(x)))
}

// varies finds the tone that a slow quantity varies with, up to a frequency, and its
// share of all that varies.
func varies(v []float64, most float64) (tone, float64) {
	l := sumUp(v)
	if l.ac == 0 {
		return tone{}, 0
	}
	s := lines(level(v)) // most of what is looked at varies with no tone: that is told quickly
	if _, share := s.strongest(); share < clearlyModulated/2 {
		return tone{}, 0
	}
	t, ok := fitTone(v, peakOmega(v, l.mean))
	if !ok || t.omega > most || t.omega*float64(len(v)) < leastTurns*2*math.Pi {
		return tone{}, 0
	}
	return t, t.amplitude() * t.amplitude() / 2 / (l.ac * l.ac)
}

// figures gives what is measured of a modulated carrier.
func (c *carrier) figures(_ string, add adder) {
	const how = "analytic signal, then a sine fit"
	add("carrier", "carrier", c.hz, "Hz", 0, "mean of the frequency from instant to instant")
	if c.depth > 0 {
		add("depth", "modulation depth", c.depth, "%", 0, how+" to the envelope")
	} else {
		add("deviation", "deviation", c.swing, "Hz", 0, how+" to the frequency; peak")
	}
	add("modulating", "modulated by", c.by, "Hz", 0, how)
}

// modulation compares how carriers are modulated; true where that says all.
func (c *comparing) modulation(due *carrier) bool {
	x := c.got.Samples
	omega := 2 * math.Pi * due.hz / c.rate
	if omega > 0.8*math.Pi {
		return false
	}
	// Where the modulation is gone the carrier is its strongest line.
	got, there := demodulate(x, c.l.mean, omega, c.rate)
	c.Hz = got.hz
	if !there {
		got.depth, got.swing = 0, 0
		if t, ok := toneNear(x, c.l, due.hz/c.rate); ok {
			c.Hz = t.omega * c.rate / (2 * math.Pi)
		}
	}
	if math.Abs(c.Hz/due.hz-1) > sameHz {
		c.wrongFrequency(c.Hz, due.hz)
		return true
	}
	if share := outOf(x, c.l.mean, min(due.hz, due.by), c.rate); share > outTime && due.depth < 1-outShare {
		c.found(CuttingOut, 1, "it is gone for %.0f %% of the time", 100*share)
		return true
	}
	what, have, want, text := "depth", got.depth, due.depth, func(v float64) string { return fmt.Sprintf("%.0f %%", 100*v) }
	if due.depth == 0 {
		what, have, want, text = "deviation", got.swing, due.swing, func(v float64) string { return written(v, "Hz") }
	}
	switch ratio := have / want; {
	case ratio < lost:
		c.found(NoModulation, 1, "the carrier is there with a %s of %s where the reference has %s", what, text(have), text(want))
	case math.Abs(20*math.Log10(ratio)) > levelDB:
		c.found(Distortion, math.Abs(1-ratio), "a modulation %s of %s where the reference has %s", what, text(have), text(want))
	}
	return true
}

// toneAt measures a tone that should be at a frequency (Hz): a sine fit that may go
// no further than 1 %; false where nothing stands out of what is beside it.
func toneAt(x []float64, hz, rate float64) (tone, bool) {
	x = x[:min(len(x), fitLength)]
	if hz <= 0 || hz > 0.45*rate || float64(len(x))*hz/rate < 8 {
		return tone{}, false
	}
	s := lines(level(x))
	k := int(math.Round(hz * float64(s.n) / rate))
	wide := max(int(0.01*float64(k)), 3)
	best := k
	var beside []float64
	for i := max(k-20*wide, 1); i <= min(k+20*wide, len(s.power)-1); i++ {
		switch d := max(i-k, k-i); {
		case d <= wide && s.power[i] > s.power[best]:
			best = i
		case d > wide+3:
			beside = append(beside, s.power[i])
		}
	}
	const standsOut = 100.0 // 20 dB over the middle of what is beside
	if len(beside) == 0 || s.power[best] < standsOut*median(beside) {
		return tone{}, false
	}
	t, ok := fitTone(x, 2*math.Pi*float64(best)/float64(s.n))
	if !ok || math.Abs(t.omega*rate/(2*math.Pi*hz)-1) > 0.02 {
		t = fitAt(x, 2*math.Pi*float64(best)/float64(s.n))
	}
	return t, true
}

// level is a waveform without its mean.
func level(x []float64) []float64 {
	mean := sumUp(x).mean
	out := make([]float64, len(x))
	for i, v := range x {
		out[i] = v - mean
	}
	return out
}

// pilotFigures tells whether the pilot or key tone that was asked for is there.
func pilotFigures(ch *Channel, rate, hz float64, add adder) {
	if hz <= 0 || hz > 0.45*rate {
		return
	}
	t, ok := toneAt(ch.Samples, hz, rate)
	if !ok {
		add("pilot", "pilot", 0, ch.Unit, 0, "no line at "+written(hz, "Hz")+" stands out of what is beside it by 20 dB").Text = "missing"
		return
	}
	rms := t.amplitude() / math.Sqrt2
	add("pilot", "pilot", rms, ch.Unit, 0, "sine fit at the line").Text = written(
		rms,
		ch.Unit,
	) + " rms at " + written(
		t.omega*rate/(2*math.Pi),
		"Hz",
	)
}

// pilot looks for the pilot that the reference has; true where it is missing, which
// says all.
func (c *comparing) pilot() bool {
	if c.site.Pilot <= 0 {
		return false
	}
	due, ok := toneAt(c.ref.Samples, c.site.Pilot, c.ref.Rate)
	if !ok || c.site.Pilot > 0.45*c.rate {
		return false
	}
	got, there := toneAt(c.got.Samples, c.site.Pilot, c.rate)
	gain := c.l.ac / c.want.ac // near enough: a pilot is a small part
	if there && got.amplitude() > lost*gain*due.amplitude() {
		return false
	}
	c.found(
		PilotMissing,
		1,
		"nothing at %s where the reference has %s rms",
		written(c.site.Pilot, "Hz"),
		written(due.amplitude()/math.Sqrt2, c.ref.Unit),
	)
	return true
}
