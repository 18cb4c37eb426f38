package wave

import (
	"fmt"
	"math"

	"steptrace/core/quantity"
)

// Mask is what good captures of one place have in common: the mean of their periods laid over each other, and how far they
// lie from it. Judged by it, a capture may differ by what good ones differ by, and no more.
type Mask struct {
	Reference
	Count int

	period  []float64 // the mean of all, without its own mean, foldBins long
	within  []float64 // how far a good one may lie from it, either way
	levelDB float64   // how far its level may be off
	rest    float64   // the most that does not repeat in one of them, rms, as a share of what does
}

// LeastMask is how many captures a mask is made of at least.
const LeastMask = 3

const (
	// maskSpreads is how many standard deviations good captures may lie off, for very many; few say less of how far others
	// lie: a prediction interval, times what a deviation by so few is too small by.
	maskSpreads = 3.0
	// maskFloor is what a trace's own width is, a share of the height; maskPeriods as many as are made of the mean.
	maskFloor, maskPeriods = 0.015, 16
	maskLevelDB            = 0.5
	// outsideShare is how much of a period has to lie outside, to be called so.
	outsideShare = 0.02
)

// MaskOf makes a mask of at least three good captures that repeat at one frequency. Errors are for a person.
func MaskOf(good []*Reference, site Site) (*Mask, error) {
	if len(good) < LeastMask {
		return nil, fmt.Errorf("a mask is made of at least %d good captures of one place: there are %d", LeastMask, len(good))
	}
	var all []folded
	for i, r := range good {
		l := sumUp(r.Samples)
		seen := look(r.Samples, l, r.Rate, site)
		f, ok := r.folded(seen)
		switch {
		case !ok || seen.kind == Steady || seen.kind == Once || seen.kind == Swept:
			return nil, fmt.Errorf("good capture %d does not repeat: a mask is made of such that do", i+1)
		case i > 0 && math.Abs(f.hz/all[0].hz-1) > 2*sameHz:
			return nil, fmt.Errorf("good capture %d has %s where the first has %s: a mask is made of like ones", i+1,
				quantity.Rounded(f.hz, quantity.Hertz), quantity.Rounded(all[0].hz, quantity.Hertz))
		}
		all = append(all, f)
	}
	n := float64(len(all))
	m := &Mask{Count: len(all), period: make([]float64, foldBins), within: make([]float64, foldBins)}
	moved := make([][]float64, len(all))
	var levels []float64
	for i := range all {
		f := &all[i]
		shift, _ := f.against(&all[0])
		moved[i] = make([]float64, foldBins)
		for k := range moved[i] {
			moved[i][k] = between(f.period, float64(k)+shift) - f.mean
			m.period[k] += moved[i][k] / n
		}
		levels = append(levels, decibels(f.ac))
		m.rest = max(m.rest, f.restRMS/f.ac)
	}
	low, high := extremes(m.period)
	wide := maskSpreads * math.Sqrt(1+1/n) * (1 + 1/(n-1))
	for k := range m.within {
		sum := 0.0
		for i := range moved {
			d := moved[i][k] - m.period[k]
			sum += d * d
		}
		m.within[k] = wide*math.Sqrt(sum/(n-1)) + maskFloor*(high-low)
	}
	m.levelDB = maskLevelDB + wide*sumUp(levels).ac*math.Sqrt(n/(n-1))
	m.Reference = Reference{
		Channel: Channel{Name: good[0].Name, Unit: good[0].Unit, Samples: make([]float64, foldBins*maskPeriods)},
		Rate:    foldBins * all[0].hz,
	}
	for i := range m.Samples {
		m.Samples[i] = m.period[i%foldBins]
	}
	m.Reference.mask = m
	return m, nil
}

// excess is what of a period lies outside a mask: the share of it, and its worst place in the period itself, with by how much
// it is off there (above zero: over it).
type excess struct {
	share, worst float64
	at           int
}

func (m *Mask) excess(f *folded, shift float64) excess {
	var e excess
	for k, due := range m.period {
		d := between(f.period, float64(k)+shift) - f.mean - due
		if over := math.Abs(d) - m.within[k]; over > 0 {
			e.share += 1.0 / foldBins
			if over > math.Abs(e.worst) {
				e.worst, e.at = math.Copysign(over, d), (k+int(shift)+2*foldBins)%foldBins
			}
		}
	}
	return e
}

// outside names where a period lies outside its mask.
func (c *comparing) outside(f *folded, e excess) {
	side := "above"
	if e.worst < 0 {
		side = "below"
	}
	c.found(OutsideMask, someShare, "%.0f %% of the period lies outside what %d good captures show, by up to %s %s it, where the "+
		"signal is %s", 100*e.share, c.ref.mask.Count, written(math.Abs(e.worst), c.got.Unit), side, f.standing(e.at))
}
