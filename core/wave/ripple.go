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
	l := sumUp(x)
	best, hz := 0.0, 0.0
	// A line through it first: what drifts is no ripple.
	slope, _ := trend(x)
	y := make([]float64, len(x))
	for i, v := range x {
		y[i] = v - l.mean - slope*(float64(i)-float64(len(x)-1)/2)
	}
	rms := sumUp(y).ac
	for _, times := range []float64{2, 1} { // a half wave's has both
		if whole*times < leastRipples {
			continue
		}
		f := fold(y, 2*math.Pi*mains*times/rate, rate)
		if f.amplitude/math.Sqrt2 < rippleFirst*f.ac {
			continue // a tone that is a multiple of it
		}
		if share := f.ac / max(rms, 1e-300); share > max(best*rippleSurer, rippleShare) {
			best, hz = share, mains*times
		}
	}
	if hz == 0 {
		return ripple{}
	}
	f := fold(y, 2*math.Pi*hz/rate, rate)
	p := smoothed(f.period, rippleBins)
	low, high := extremes(p)
	return ripple{high - low, hz}
}

const (
	rippleShare = 0.7  // of what varies, rms, that repeats with the mains or twice it
	rippleSurer = 1.15 // so much more has the mains itself to have than twice it
	rippleFirst = 0.6  // of what repeats, rms, that its first harmonic has: a sawtooth's has 0.78
	rippleBins  = 5
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
