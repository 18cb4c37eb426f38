package adjust

import (
	"math"
	"time"

	"steptrace/core/quantity"
)

// Sample is what was read at a time.
type Sample struct {
	At time.Time `json:"at"`
	SI float64   `json:"si"`
}

// Drift is how what is read moves: PerMinute (SI units a minute) with its standard error Give, over how many seconds that
// was seen. Stable: it will not leave the middle half of what is allowed within the next five minutes.
type Drift struct {
	PerMinute float64 `json:"perMinute"`
	Give      float64 `json:"give"`
	Seconds   float64 `json:"seconds"`
	Stable    bool    `json:"stable"`
	Says      string  `json:"says"`
}

const (
	driftSpan    = 5 * time.Minute // that is looked at, and ahead
	leastSpan    = 60.0            // seconds that have to be seen
	leastSamples = 5
	stableShare  = 0.25 // of the width of what is allowed
)

// DriftOf fits a straight line to the samples of the last five minutes (least squares; the standard error of its slope
// from what is left). Allowed is the width of what is allowed, in SI units; zero where nothing is known, then a fiftieth of
// the value stands for it. False where too little was seen to tell.
func DriftOf(samples []Sample, allowed float64, unit quantity.Unit) (Drift, bool) {
	if len(samples) == 0 {
		return Drift{}, false
	}
	last := samples[len(samples)-1].At
	var t, x []float64
	for _, s := range samples {
		if ago := last.Sub(s.At); ago >= 0 && ago <= driftSpan {
			t, x = append(t, -ago.Seconds()), append(x, s.SI)
		}
	}
	if len(t) < leastSamples || t[len(t)-1]-t[0] < leastSpan {
		return Drift{}, false
	}
	n := float64(len(t))
	var mt, mx, tt, tx float64
	for i := range t {
		mt, mx = mt+t[i]/n, mx+x[i]/n
	}
	for i := range t {
		tt, tx = tt+(t[i]-mt)*(t[i]-mt), tx+(t[i]-mt)*(x[i]-mx)
	}
	slope, left := tx/tt, 0.0
	for i := range t {
		d := x[i] - mx - slope*(t[i]-mt)
		left += d * d
	}
	const freedom, minute, fiftieth = 2, 60, 0.02
	d := Drift{PerMinute: slope * minute, Give: math.Sqrt(left/(n-freedom)/tt) * minute, Seconds: t[len(t)-1] - t[0]}
	if allowed == 0 {
		allowed = fiftieth * math.Abs(mx)
	}
	ahead := driftSpan.Minutes() * (math.Abs(d.PerMinute) + d.Give)
	d.Stable = ahead <= stableShare*allowed
	rate := quantity.Value{SI: math.Abs(d.PerMinute), Unit: unit}.Short(2) + " a minute"
	switch {
	case d.Stable:
		d.Says = "It stands still."
	case math.Abs(d.PerMinute) < d.Give:
		d.Says = "It moves to and fro: read it a little longer."
	case d.PerMinute > 0:
		d.Says = "It still climbs, " + rate + "."
	default:
		d.Says = "It still falls, " + rate + "."
	}
	return d, true
}
