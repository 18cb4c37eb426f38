package wave

import (
	"fmt"
	"math"
	"math/cmplx"
	"slices"
	"strings"

	"gonum.org/v1/gonum/dsp/fourier"

	"steptrace/core/quantity"
)

// spiked names spikes anywhere in the capture, be there only one: what is folded is its
// beginning.
func (c *comparing) spiked(hz float64) {
	size := max(int(2*c.rate/hz), len(c.got.Samples)/mostPieces, 8)
	if far := spikes(c.got.Samples, c.l.mean, size); len(far) > 0 && len(c.got.Samples)/size >= leastPieces {
		c.found(
			Crackle,
			someShare,
			"%d %s beyond %g times the usual peak, the first at %s",
			len(far),
			plural(len(far), "spike"),
			spikeShare,
			written(float64(far[0]*size)/c.rate, "s"),
		)
	}
}

// wrongFrequency names it, and what its source would need. The product of an RC
// source goes with 1/f, that of an LC source with 1/f² (Thomson); a crystal is
// pulled by some 0.1 % at most, and one that is off by more swings in another mode.
func (c *comparing) wrongFrequency(got, due float64) {
	ratio := got / due
	clean := ""
	for _, n := range []float64{2, 3, 4, 5, 1.5, 0.5, 1 / 3., 0.25, 0.2} {
		if math.Abs(ratio/n-1) < 0.005 {
			clean = ", a clean factor, as from a divider or an overtone"
		}
	}
	c.found(
		WrongFrequency,
		1,
		"%s where the reference has %s: ×%.4g%s. An RC source would need R·C times %.4g, an LC source L·C times %.4g; a crystal is not "+
			"pulled so far",
		quantity.Rounded(got, quantity.Hertz),
		quantity.Rounded(due, quantity.Hertz),
		ratio,
		clean,
		1/ratio,
		1/(ratio*ratio),
	)
}

// outOf is the share of the time for which the signal is gone: pieces of some
// periods with far less amplitude than the usual one.
func outOf(x []float64, mean, hz, rate float64) float64 {
	sizes := pieces(x, mean, max(int(2*rate/hz), 8))
	if len(sizes) < 8 {
		return 0
	}
	usual := quantile(sizes, 0.9)
	out := 0
	for _, s := range sizes {
		if s < outShare*usual {
			out++
		}
	}
	return float64(out) / float64(len(sizes))
}

// shape names what is wrong with the period of a tone.
func (c *comparing) shape(f, r *folded) {
	top, bottom := slices.Max(f.period), slices.Min(f.period)
	// How much of the period lies within a hundredth of an end, or a step of a coarse
	// converter: of a sine, where its cosine is above 0.98, 6.4 %.
	width := func(p []float64, step, end float64) float64 {
		n, height := 0.0, slices.Max(p)-slices.Min(p)
		near := max(endShare, endSteps*step/height)
		for _, v := range p {
			if math.Abs(v-end) < near*height {
				n++
			}
		}
		return n / float64(len(p)) / (math.Acos(1-2*near) / math.Pi)
	}
	up, down := width(f.period, c.step, top), width(f.period, c.step, bottom)
	due := converterStep(c.ref.Samples)
	refUp, refDown := max(width(r.period, due, slices.Max(r.period)), 1), max(width(r.period, due, slices.Min(r.period)), 1)
	flatUp, flatDown := up > clipWidth*refUp, down > clipWidth*refDown
	if wider, other := max(up/refUp, down/refDown), min(up/refUp, down/refDown); (flatUp || flatDown) && other-1 > alikeEnds*(wider-1) {
		flatUp, flatDown = true, true
	}
	excess := f.unlike(r, c.laid.shift)
	at := func(v float64) string { return written(v, c.got.Unit) + c.nearRail(v) }
	const says = "its %s flat for %.1f times as long as a sine's, at %s"
	switch {
	case flatUp && flatDown:
		c.found(
			ClippedBoth,
			excess,
			"both ends are flat, %.1f and %.1f times as long as a sine's, at %s and %s",
			up,
			down,
			at(top),
			at(bottom),
		).at(top, c.got.Unit)
	case flatUp:
		c.found(ClippedTop, excess, says, "top is", up, at(top)).at(top, c.got.Unit)
	case flatDown:
		c.found(ClippedBottom, excess, says, "bottom is", down, at(bottom)).at(bottom, c.got.Unit)
	default:
		coarse := c.step / (top - bottom)
		if slope := f.crossing() / max(r.crossing(), 1e-9); slope < deadSlope-coarse/crossingRise && r.thd < plainTHD {
			c.found(Crossover, excess, "it stands still where it crosses its middle: %.0f %% of the slope that is due", 100*slope)
		} else if excess > thdShare*(1+richer*r.thd)+coarseShare*coarse {
			c.found(Distortion, excess, "%.2g %% of harmonics where the reference has %.2g %%", 100*f.thd, 100*r.thd)
		}
	}
}

// nearRail says how far a level is from the supply, or from ground, that stops it
// there; nothing where neither is near, or the capture came through a capacitor,
// which leaves no DC to tell by.
func (c *comparing) nearRail(v float64) string {
	const someDC, near, nearVolts = 0.1, 0.25, 3.0 // of the height; of the supply; V
	if len(c.site.Rails) == 0 || math.Abs(c.l.mean) < someDC*(c.l.high-c.l.low) {
		return ""
	}
	best := ""
	least := math.Inf(1)
	for _, r := range append(slices.Clone(c.site.Rails), Rail{"ground", 0}) {
		if d := math.Abs(v - r.Volts); d < least && d < max(near*math.Abs(r.Volts), nearVolts) {
			least, best = d, fmt.Sprintf(", %s from %s", written(d, "V"), strings.TrimSpace(r.Name))
		}
	}
	return best
}

// A converter's step makes harmonics, as a share of how much of the height it is; and it hides as much of the rise at a
// crossing, which is so much of the height.
const coarseShare, crossingRise = 0.5, 0.13

// From plainTHD of harmonics on a reference may stand still at its middle itself; and the more it has, the more of them few
// samples leave open.
const plainTHD, richer = 0.25, 3.0

// alikeEnds is how much of what one end is flatter than it should be the other is too, for both to be so.
const alikeEnds = 0.6

// How near to an end is at it: a share of the height, steps of the converter.
const endShare, endSteps = 0.01, 0.75

// shownOfRate is the share of half the rate up to which harmonics show as they are.
const shownOfRate = 0.8

// unlike is the share of a period's first harmonics that a reference's, laid under it at its own level, does not have.
func (f *folded) unlike(r *folded, shift float64) float64 {
	fft := fourier.NewFFT(foldBins)
	a, b := fft.Coefficients(nil, f.period), fft.Coefficients(nil, r.period)
	gain, sum := cmplx.Abs(a[1])/max(cmplx.Abs(b[1]), 1e-300), 0.0
	// What lies near half the rate of either is what a line from sample to sample makes of it.
	most := min(mostHarmonics, int(shownOfRate*math.Pi/max(f.omega, r.omega)))
	for k := 2; k <= most; k++ {
		due := b[k] * cmplx.Rect(gain, -2*math.Pi*float64(k)*shift/foldBins)
		d := cmplx.Abs(a[k]-due) / cmplx.Abs(a[1])
		sum += d * d
	}
	return math.Sqrt(sum)
}

// crossing is the least slope where the period crosses its middle, as a share of a
// sine's of the same fundamental.
func (f *folded) crossing() float64 {
	const over = 5 // bins, seven degrees
	least := math.Inf(1)
	for k, v := range f.period {
		w := f.period[(k+1)%foldBins]
		if (v-f.mean)*(w-f.mean) > 0 {
			continue
		}
		a, b := f.period[(k-over+foldBins)%foldBins], f.period[(k+1+over)%foldBins]
		least = min(least, math.Abs(b-a)/(f.amplitude*2*math.Sin(math.Pi*(2*over+1)/foldBins)))
	}
	return least
}

// besides names what there is besides what repeats, at the amplitude that is due:
// more than is usual, rms.
func (c *comparing) besides(f *folded, due, usual float64) {
	// A weak signal's noise is judged by the signal that is due.
	signal := max(f.amplitude, due) / math.Sqrt2
	own := ownNoise * c.step // what a converter adds itself
	share := math.Sqrt(max(f.restRMS*f.restRMS-usual*usual-own*own, 0)) / signal
	if share < someShare {
		return
	}
	spectrum := lines(f.rest)
	hz := func(k int) float64 { return float64(k) * c.rate / float64(spectrum.n) }
	if at, power := spectrum.mains(c.site.Mains, c.rate); power > 0.5 {
		kind := HumMains
		if at%2 == 0 {
			kind = HumDouble
		}
		c.found(kind, share, "%.2g %% of it is hum, mostly at %s", 100*share, quantity.Rounded(c.site.Mains*float64(at), quantity.Hertz)).
			at(c.site.Mains*float64(at), "Hz")
		return
	}
	if k, power := spectrum.strongest(); power > 0.5 && !(f.hz > 0 && math.Abs(math.Remainder(hz(k), f.hz)) < 2*hz(1)) {
		c.found(Oscillation, share, "%.2g %% of it is a tone of its own at %s", 100*share, quantity.Rounded(hz(k), quantity.Hertz)).
			at(hz(k), "Hz")
		return
	}
	if c.bursts(f, f.rest, share, farAbove) {
		return
	}
	fourth := 0.0
	for _, v := range f.rest {
		fourth += v * v * v * v
	}
	if kurtosis := fourth / float64(len(f.rest)) / math.Pow(f.restRMS, 4); kurtosis > spiky {
		c.found(Crackle, share, "what does not belong to it comes in bursts, %.2g %% of it in all", 100*share)
		return
	}
	c.found(Noise, share, "%.2g %% of it is noise", 100*share)
}

// Bursts: what swings far above the signal, with most of its power in a narrow band, all along or at one place of the
// period.
const (
	farAbove  = 8.0  // times the fundamental
	inStep    = 16.0 // so many where it may be in step with it, and no harmonic of what is cut off
	bandShare = 0.25 // of the frequency, either way
	inBand    = 0.55 // of the power
	oneplace  = 0.35 // how far what swings has to be on one side of the period to be at one place of it, 0 to 1
)

// bursting looks for an oscillation in what a tone and its harmonics leave, be it in step with them or not.
func (c *comparing) bursting(f, r *folded) bool {
	left := func(x []float64, rate float64, of *folded) ([]float64, float64) {
		x = x[:min(len(x), harmonicFit)]
		_, rest, ok := harmonics(x, 2*math.Pi*of.hz/rate, mostHarmonics)
		if !ok {
			return nil, 0
		}
		return rest, sumUp(rest).rms
	}
	rest, rms := left(c.got.Samples, c.rate, f)
	_, usual := left(c.ref.Samples, c.ref.Rate, r)
	usual *= f.amplitude / max(r.amplitude, 1e-300)
	share := math.Sqrt(max(rms*rms-usual*usual, 0)) / (f.amplitude / math.Sqrt2)
	return rest != nil && share > someShare && c.bursts(f, rest, share, inStep)
}

// bursts names an oscillation that comes and goes with the signal; true where there is one.
func (c *comparing) bursts(f *folded, rest []float64, share, above float64) bool {
	spectrum := lines(rest)
	top, _ := spectrum.strongest()
	hz := float64(top) * c.rate / float64(spectrum.n)
	if f.hz <= 0 || hz < above*f.hz {
		return false
	}
	band := 0.0
	for k := int(float64(top) * (1 - bandShare)); k <= min(int(float64(top)*(1+bandShare)), len(spectrum.power)-1); k++ {
		band += spectrum.power[k]
	}
	if band < inBand*spectrum.sum {
		return false
	}
	// Where in the period it is, and what the signal does there.
	var turn complex128
	all := 0.0
	for i, v := range rest {
		turn += cmplx.Rect(v*v, 2*math.Pi*phaseOf(i, f.omega)/foldBins)
		all += v * v
	}
	where := ", all along"
	if cmplx.Abs(turn) > oneplace*all {
		at := int(math.Mod(cmplx.Phase(turn)/(2*math.Pi)+1, 1) * foldBins)
		where = ", where the signal is " + f.standing(at)
	}
	c.found(Oscillation, share, "%.2g %% of it swings at about %s%s", 100*share, quantity.Rounded(hz, quantity.Hertz), where).at(hz, "Hz")
	return true
}

// standing says what a period does at one of its bins.
func (f *folded) standing(at int) string {
	high, low := slices.Max(f.period), slices.Min(f.period)
	const near, aside = 0.2, 12 // of the height from an end; bins
	switch v := f.period[at%foldBins]; {
	case v > high-near*(high-low):
		return "at its top"
	case v < low+near*(high-low):
		return "at its bottom"
	case f.period[(at+aside)%foldBins] > f.period[(at-aside+foldBins)%foldBins]:
		return "on its way up"
	}
	return "on its way down"
}
