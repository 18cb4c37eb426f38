package wave

import (
	"bytes"
	"fmt"
	"math"
	"strconv"
)

// How a capture is taken at a point where a signal is due: long enough for the mains
// and for what cuts out, fine enough to see its shape.
const (
	perPeriod    = 40 // samples
	leastPeriods = 6.0
	mostSeconds  = 1.0
	usualSeconds = 0.2
	takenPoints  = 50_000
	headroom     = 3.0 // of the peak-to-peak value that is due
	usualVolts   = 20.0
)

// ViewOf proposes how to look at a point where a signal of a frequency (Hz; 0: not
// known) and a peak-to-peak value (V; 0: not known) is due: seconds, samples, and volts
// from bottom to top.
func ViewOf(hz, peakPeak float64) (seconds float64, points int, volts float64) {
	seconds, points, volts = usualSeconds, takenPoints, usualVolts
	if hz > 0 {
		rate := perPeriod * hz
		seconds = max(min(takenPoints/rate, mostSeconds), leastPeriods/hz)
		points = int(math.Ceil(seconds * rate))
	}
	if peakPeak > 0 {
		volts = headroom * peakPeak
	}
	return seconds, points, volts
}

// Fits tells whether samples use a range (volts from bottom to top) well; otherwise it
// proposes a better one. What reaches its ends goes beyond; what fills less than a
// tenth is coarse, down to the least range worth having.
func Fits(samples []float64, volts float64) (better float64, ok bool) {
	const end, small, least = 0.495, 0.1, 5e-3
	low, high := extremes(samples)
	far := max(math.Abs(low), math.Abs(high))
	switch {
	case far >= end*volts:
		return 4 * volts, false
	case 2*far < small*volts && volts > least:
		return max(least, min(volts/2, headroom*2*far)), false
	}
	return volts, true
}

// Table writes a capture as the text that Read reads: times and volts.
func Table(interval float64, samples [][]float64) []byte {
	var b bytes.Buffer
	fmt.Fprintf(&b, "Sample interval,%s,s\n", strconv.FormatFloat(interval, 'g', 12, 64))
	for i := range samples {
		if i > 0 {
			b.WriteByte(',')
		}
		fmt.Fprintf(&b, "CH%d (V)", i+1)
	}
	b.WriteByte('\n')
	for k := range samples[0] {
		for i := range samples {
			if i > 0 {
				b.WriteByte(',')
			}
			b.Write(strconv.AppendFloat(nil, samples[i][k], 'g', 7, 64))
		}
		b.WriteByte('\n')
	}
	return b.Bytes()
}

// Reading is what a capture says as it is typed at its point: the word for its
// defect, or the frequency where that is wrong, or its level in volts rms.
func (f *Figures) Reading(c *Comparison) string {
	if c != nil && len(c.Defects) > 0 {
		first := c.Defects[0]
		if first.Reading != "" {
			return first.Reading
		}
		for _, key := range []string{"frequency", "linehz", "carrier"} { // that of the line is a picture's
			if x, ok := f.Find(key); ok && first.Kind == WrongFrequency {
				return x.Reading
			}
		}
	}
	x, _ := f.Find("ac")
	return x.Reading
}
