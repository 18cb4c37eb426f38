package wave

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/floats"
)

const (
	// leastDead is how much longer than a sine a tone has to stand still at its middle for a dead zone: a share of the period.
	leastDead = 0.008
	deadNear  = 0.02 // of the amplitude: so near its middle it stands still
	// A slope runs evenly between these shares of the height; what is no straight line there has none.
	slopeFrom, slopeTo, slopeEven = 0.05, 0.95, 0.996
)

// deadZone is how far either way (in the unit of the samples, of which the converter has such steps) what comes into a stage
// moves before it follows: by how long a tone stands still where it crosses its middle. Of A·sin φ less a dead zone d, what is
// left has an amplitude of A−d, and stands still while |sin φ| < d/A. 0 where it does not.
func (f *folded) deadZone(step float64) float64 {
	low, high := extremes(f.period)
	amplitude, middle := (high-low)/2, (high+low)/2
	near := max(deadNear, endSteps*step/(high-low))
	still := 0
	for _, v := range f.period {
		if math.Abs(v-middle) < near*amplitude {
			still++
		}
	}
	phase := math.Pi / 2 * float64(still) / foldBins // of each of the four quarters
	phase -= math.Asin(near)
	if phase < 2*math.Pi*leastDead/4 {
		return 0
	}
	sin := math.Sin(phase)
	return amplitude * sin / (1 - sin)
}

// figures gives what the mean period of a waveform that is no sine shows: its slopes, or how it rings behind its edges.
func (f *folded) figures(unit string, add adder) {
	if !f.slopes(unit, add) {
		f.rings(add)
	}
}

// rings gives the frequency and the Q of what swings behind the edges of a period.
func (f *folded) rings(add adder) {
	change := make([]float64, foldBins)
	for k := range change {
		change[k] = f.period[(k+1)%foldBins] - f.period[k]
	}
	// The edges are its steepest places, up and down.
	up, down := slices.Index(change, slices.Max(change)), slices.Index(change, slices.Min(change))
	from, count := up+1, (down-up+foldBins)%foldBins
	if count < foldBins/2 {
		from, count = down+1, foldBins-count
	}
	const behind, before = 2, 16 // bins that an edge has, from its steepest place
	v := make([]float64, 0, count)
	for i := behind; i < count-before; i++ {
		v = append(v, f.period[(from+i)%foldBins])
	}
	if len(v) >= leastRing {
		ringFigures(v, f.hz*foldBins, add)
	}
}

// slopes gives how long a period goes up and down, and how steeply, where it does so evenly; false where it does not.
func (f *folded) slopes(unit string, add adder) bool {
	low, high := extremes(f.period)
	top := slices.Index(f.period, high)
	bottom := slices.Index(f.period, low)
	up := (top - bottom + foldBins) % foldBins
	slope := func(from, count int, sign float64) float64 { // in heights a period
		var v []float64
		for i := range count {
			s := f.period[(from+i)%foldBins]
			if share := (s - low) / (high - low); share > slopeFrom && share < slopeTo {
				v = append(v, sign*s)
			}
		}
		if len(v) < 6 {
			return 0
		}
		if evenly(v) < math.Sqrt(slopeEven) {
			return 0
		}
		rise, _ := trend(v)
		return rise * foldBins * f.hz
	}
	rises, falls := slope(bottom, up, 1), slope(top, foldBins-up, -1)
	const how = "line through the mean period, from 5 % to 95 %"
	if rises > 0 {
		add("goesup", "goes up for", (high-low)/rises, "s", 0, how)
	}
	if falls > 0 {
		add("goesdown", "goes down for", (high-low)/falls, "s", 0, how)
	}
	if steepest := max(rises, falls); steepest > 0 {
		add("slope", "slope", steepest, unit+"/s", 0, how+", of the steeper side")
	}
	return rises > 0 || falls > 0
}

// evenly is how well values go along with their places, -1 to 1.
func evenly(v []float64) float64 {
	return correlate(v, floats.Span(make([]float64, len(v)), 0, float64(len(v)-1)))
}
