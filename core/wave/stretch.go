package wave

import (
	"math"
	"slices"
)

// Stretch reads a channel at two times (seconds from its first sample) and between
// them: the values there, how far apart they are, and what lies between.
func (ch *Channel) Stretch(rate, a, b float64) []Figure {
	n := len(ch.Samples)
	at := func(t float64) int { return int(max(0, min(float64(n-1), math.Round(t*rate)))) }
	i, k := at(a), at(b)
	var out []Figure
	add := func(key, name string, value float64, unit, how string) {
		f := Figure{Key: key, Name: name, Value: value, Unit: unit, Text: written(value, unit), How: how}
		f.asReading()
		out = append(out, f)
	}
	add("a", "at a", ch.Samples[i], ch.Unit, "the nearest sample")
	add("b", "at b", ch.Samples[k], ch.Unit, "the nearest sample")
	add("change", "from a to b", ch.Samples[k]-ch.Samples[i], ch.Unit, "b less a")
	if seconds := math.Abs(float64(k-i)) / rate; seconds > 0 {
		add("time", "time between", seconds, "s", "from sample to sample")
		add("frequency", "as one period", 1/seconds, "Hz", "from that time")
	}
	if between := ch.Samples[min(i, k) : max(i, k)+1]; len(between) > 1 {
		l := sumUp(between)
		add("pp", "peak to peak between", slices.Max(between)-slices.Min(between), ch.Unit, "of the samples between")
		add("ac", "rms without DC between", l.ac, ch.Unit, "of the samples between")
		add("mean", "mean between", l.mean, ch.Unit, "of the samples between")
	}
	return out
}
