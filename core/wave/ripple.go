package wave

import (
	"math"

	"steptrace/core/quantity"
)

// ripple is what the mains leaves on a voltage.
type ripple struct{ peakPeak, hz float64 }

// rippleOf is what the mains, or a multiple of it, leaves on samples: from the lowest to the highest of its mean period.
func rippleOf(x []float64, rate, mains float64) ripple {
	x = x[:min(len(x), mostFolded)]
	whole := float64(len(x)) / rate * mains
	if 2*whole < leastRipples || rate < 8*mains {
		return ripple{}
	}
	// A line through it first: what drifts is no ripple.
	_, drift := line(x, 0)
	y := make([]float64, len(x))
	for i, v := range x {
		y[i] = v - drift(i)
	}
	rms, best := sumUp(y).ac, 0.0
	var out ripple
	for _, times := range []float64{2, 1} { // a half wave's has both
		if whole*times < leastRipples {
			continue
		}
		f := fold(y, 2*math.Pi*mains*times/rate, rate)
		if f.amplitude/math.Sqrt2 < rippleFirst*f.ac {
			continue // a tone that is a multiple of it
		}
		if share := f.ac / max(rms, 1e-300); share > max(best*rippleSurer, rippleShare) {
			low, high := extremes(smoothed(f.period, rippleBins))
			best, out = share, ripple{high - low, mains * times}
		}
	}
	return out
}

const (
	rippleShare = 0.7  // of what varies, rms, that repeats with the mains or twice it
	rippleSurer = 1.15 // so much more has the mains itself to have than twice it
	rippleFirst = 0.6  // of what repeats, rms, that its first harmonic has: a sawtooth's has 0.78
	rippleBins  = 5    // of the period that are taken together: its noise is no ripple
	// leastRipples is how many periods of it show that it is one.
	leastRipples = 1.5
)

// figure gives it, where there is some.
func (r ripple) figure(unit string, add adder) {
	if r.peakPeak > 0 {
		add("ripple", "ripple", r.peakPeak, unit, 0, "from the lowest to the highest of its mean period").Text =
			written(r.peakPeak, unit) + "pp at " + quantity.Rounded(r.hz, quantity.Hertz)
	}
}
