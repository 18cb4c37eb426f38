package wave

import (
	"fmt"
	"math"

	"steptrace/core/quantity"
)

// Reference is a waveform that a capture is compared with: what a manual describes,
// the same point of the good channel, or an earlier good capture.
type Reference struct {
	Channel
	Rate float64 // samples a second

	mask *Mask // whose mean it is
	made bool  // from a description
}

// Reference is a channel of a capture as something to compare with.
func (c *Capture) Reference(channel int) *Reference {
	return &Reference{Channel: c.Channels[channel], Rate: c.Rate}
}

// Description is a waveform as a manual describes it: its shape, its peak-to-peak
// value (in the unit of the point, usually volts) and its frequency (Hz).
type Description struct {
	Shape    quantity.Shape
	PeakPeak float64
	Hz       float64
}

// describedPeriods are enough to compare by, and few enough to make quickly.
const describedPeriods = 40

// Reference makes the described waveform at a rate (samples a second), at least 2.5
// samples a period. A square's edges take one sample, as those of a mean over each
// sample do.
func (d Description) Reference(rate float64) (Reference, error) {
	var of func(turn float64) float64 // from -1 to 1
	step := d.Hz / rate               // turns a sample
	switch d.Shape {
	case quantity.Sine, "":
		of = func(turn float64) float64 { return math.Sin(2 * math.Pi * turn) }
	case quantity.Square:
		of = func(turn float64) float64 {
			edge := func(at float64) float64 { return max(-0.5, min(0.5, at/step)) }
			return 2 * (edge(turn) - edge(turn-0.5) + edge(turn-1)) // up at 0 and 1, down at a half
		}
	case quantity.Triangle:
		of = func(turn float64) float64 {
			return 2 / math.Pi * math.Asin(math.Sin(2*math.Pi*turn))
		}
	default:
		return Reference{}, fmt.Errorf(
			"a %q cannot be generated: say sine, square or triangle, or give a good capture to compare with",
			string(d.Shape),
		)
	}
	if !(d.PeakPeak > 0) || !(d.Hz > 0) || math.IsInf(d.PeakPeak, 0) || math.IsInf(d.Hz, 0) {
		return Reference{}, fmt.Errorf("a waveform is described by a level and a frequency above zero, for example 1.2 Vpp and 1 kHz")
	}
	if step > 0.4 {
		return Reference{}, fmt.Errorf(
			"at %s samples a second a waveform of %s is not seen: take the capture faster",
			written(rate, ""),
			written(d.Hz, "Hz"),
		)
	}
	n := min(max(int(math.Ceil(describedPeriods/step)), 64), fitLength)
	ref := Reference{Channel: Channel{Unit: "V", Samples: make([]float64, n)}, Rate: rate, made: true}
	for i := range ref.Samples {
		turn := step * float64(i)
		ref.Samples[i] = d.PeakPeak / 2 * of(turn-math.Floor(turn))
	}
	return ref, nil
}
