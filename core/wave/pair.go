package wave

import (
	"math"

	"steptrace/core/quantity"
)

// Between is what lies between two channels of one capture: gain, phase and delay of
// the second against the first.
type Between struct {
	List []Figure `json:"list"`
}

// Between compares two channels sampled together at a rate. Where both have the
// same tone: gain and phase by sine fits at one frequency after IEEE 1057, the delay
// from the phase, which leaves whole periods open. Otherwise: the delay by their
// cross-correlation, the gain by least squares at that delay. Nothing where the two
// do not go together.
func (c *Capture) Between(first, second int) Between {
	a, b := &c.Channels[first], &c.Channels[second]
	out := Between{List: []Figure{}}
	add := func(key, name string, value float64, unit string, sure float64, how string) {
		out.List = append(
			out.List,
			Figure{Key: key, Name: name, Value: value, Unit: unit, Text: written(value, unit), Sure: sure, How: how},
		)
	}
	n := min(len(a.Samples), fitLength)
	x, y := a.Samples[:n], b.Samples[:n]
	lx, ly := sumUp(x), sumUp(y)
	if n < 32 || lx.ac == 0 || ly.ac == 0 {
		return out
	}
	if t, ok := fitTone(x, peakOmega(x, lx.mean)); ok && t.amplitude()*t.amplitude()/2 > toneShare*lx.ac*lx.ac {
		u := fitAt(y, t.omega)
		if u.amplitude()*u.amplitude()/2 > toneShare*ly.ac*ly.ac {
			hz := t.omega * c.Rate / (2 * math.Pi)
			// a·cos + b·sin = A·cos(ωn − atan2(b, a)): a later waveform has more of it.
			lead := math.Atan2(t.b, t.a) - math.Atan2(u.b, u.a)
			lead = math.Remainder(lead, 2*math.Pi)
			// var φ = 2σ²/(A²·n) of each (Cramér-Rao with the frequency known).
			spread := func(t tone) float64 { return t.residual * math.Sqrt(2/float64(n)) / t.amplitude() }
			sure := math.Hypot(spread(t), spread(u))
			const how = "sine fits at one frequency, after IEEE 1057"
			add("gain", "gain", quantity.DB(u.amplitude(), t.amplitude()), "dB", sure*20/math.Ln10, how)
			add("phase", "phase", lead*180/math.Pi, "°", sure*180/math.Pi, how+"; above zero: the second is ahead")
			add("delay", "delay", -lead/(2*math.Pi*hz), "s", sure/(2*math.Pi*hz), "from the phase; whole periods are left open")
			return out
		}
	}
	lag, correlation, ok := lagOf(y, x)
	if !ok || math.Abs(correlation) < alike {
		return out
	}
	from, to := int(math.Ceil(max(lag, 0))), min(n, int(float64(n-1)+lag))
	moved := make([]float64, to-from)
	for i := range moved {
		moved[i], _ = cubic(x, float64(from+i)-lag)
	}
	gain := correlate(y[from:to], moved) * sumUp(y[from:to]).ac / sumUp(moved).ac
	add("gain", "gain", quantity.DB(math.Abs(gain), 1), "dB", 0, "least squares at their delay")
	add("delay", "delay", lag/c.Rate, "s", 0, "cross-correlation, between samples by the phase of the cross-spectrum")
	add("alike", "go together by", math.Abs(correlation), "%", 0, "correlation at that delay")
	if gain < 0 {
		out.List[0].Text += ", turned over"
	}
	return out
}
