package wave

import (
	"cmp"
	"math"
	"slices"
)

// pulses is a waveform of two states, measured after IEEE 181: the states are the
// most frequent levels of its lower and its upper half, and edges run from 10 % to
// 90 % between them.
type pulses struct {
	x         []float64
	low, high float64 // the two states
	top       float64 // highest sample
	bottom    float64
}

const (
	bins = 256
	// atState is how near a sample is to a state, as a share of the step, and
	// restShare how many are, for the waveform to have states at all. A sine has
	// 41 % of its samples within a tenth of its ends, a clipped one some 60 %.
	atState, restShare = 0.1, 0.7
	// leastStep is the least share of the whole height that the step has: what swings
	// further beyond its states is no pulse, but rings.
	leastStep = 0.3
	mostEdges = 1000
)

// findPulses tells whether a waveform has two states.
func findPulses(x []float64, l levels) (pulses, bool) {
	counts := make([]int, bins)
	scale := float64(bins) / (l.high - l.low)
	for _, v := range x {
		counts[min(int((v-l.low)*scale), bins-1)]++
	}
	peak := func(a, b int) float64 {
		best := a
		for i := a; i < b; i++ {
			if counts[i] > counts[best] {
				best = i
			}
		}
		// The mean of the samples around the fullest bin.
		sum, n := 0.0, 0
		lo, hi := l.low+float64(best-1)/scale, l.low+float64(best+2)/scale
		for _, v := range x {
			if v >= lo && v < hi {
				sum += v
				n++
			}
		}
		return sum / float64(max(n, 1))
	}
	p := pulses{x: x, low: peak(0, bins/2), high: peak(bins/2, bins), top: l.high, bottom: l.low}
	step := p.high - p.low
	resting := 0
	for _, v := range x {
		if math.Abs(v-p.low) < atState*step || math.Abs(v-p.high) < atState*step {
			resting++
		}
	}
	return p, step > leastStep*(l.high-l.low) && float64(resting) >= restShare*float64(len(x))
}

// edge gives the times (in samples) at which an edge crosses shares of the step,
// going from one state to the other.
type edge struct{ ten, mid, ninety float64 }

// edges lists the rising edges, or the falling ones of a waveform turned over.
func (p *pulses) edges(sign float64) []edge {
	from, to := sign*p.low, sign*p.high
	if sign < 0 {
		from, to = sign*p.high, sign*p.low
	}
	step := to - from
	var out []edge
	at := func(i int, level float64) float64 {
		a, b := sign*p.x[i-1], sign*p.x[i]
		return float64(i-1) + (level-a)/(b-a)
	}
	var e edge
	stage := 0 // crossed so far: none, 10 %, 50 %
	for i := 1; i < len(p.x) && len(out) < mostEdges; i++ {
		a, v := sign*p.x[i-1], sign*p.x[i]
		if v < from+0.1*step {
			stage = 0
			continue
		}
		if a < from+0.1*step {
			e.ten, stage = at(i, from+0.1*step), 1
		}
		if stage == 1 && a < from+0.5*step && v >= from+0.5*step {
			e.mid, stage = at(i, from+0.5*step), 2
		}
		if stage == 2 && v >= from+0.9*step {
			e.ninety, stage = at(i, from+0.9*step), 0
			out = append(out, e)
		}
	}
	return out
}

// figures gives what is measured of pulses, their frequency (Hz; 0 where there is but one), and how many edges there are.
func (p *pulses) figures(rate float64, base string, add adder) (hz float64, count int) {
	const how = "states by histogram, after IEEE 181"
	step := p.high - p.low
	add("low", "low state", p.low, base, 0, how)
	add("high", "high state", p.high, base, 0, how)
	add("overshoot", "overshoot", max(p.top-p.high, 0)/step, "%", 0, "highest sample above the high state, over the step")
	rising, falling := p.edges(1), p.edges(-1)
	mean := func(edges []edge) float64 {
		sum := 0.0
		for _, e := range edges {
			sum += e.ninety - e.ten
		}
		return sum / float64(len(edges)) / rate
	}
	// Between samples an edge is a straight line; one faster than a step is no
	// longer than that.
	const between = "10 % to 90 %, mean of the edges; between samples by a straight line"
	if len(rising) > 0 {
		add("rise", "rise time", mean(rising), "s", 0, between)
	}
	if len(falling) > 0 {
		add("fall", "fall time", mean(falling), "s", 0, between)
	}
	p.ringing(rising, falling, rate, add)
	if n := len(rising); n >= 2 {
		period := (rising[n-1].mid - rising[0].mid) / float64(n-1)
		spread := 0.0
		for i := 1; i < n; i++ {
			d := rising[i].mid - rising[i-1].mid - period
			spread += d * d
		}
		sure := math.Sqrt(spread/float64(n-1)) / float64(n-1) / rate
		hz = rate / period
		add("frequency", "frequency", hz, "Hz", sure*(rate/period)*(rate/period), "mean of the rising edges at half the step")
		add("period", "period", period/rate, "s", sure, "mean of the rising edges at half the step")
		if duty, ok := dutyOf(rising, falling, period); ok {
			add("duty", "duty", duty, "%", 0, "time above half the step, over the period")
		}
	}
	return hz, len(rising) + len(falling)
}

// ringing gives the frequency and the Q of what swings behind the edges: by the longest stretch behind one of them.
func (p *pulses) ringing(rising, falling []edge, rate float64, add adder) {
	const leastOver = 0.06 // of the step
	step := p.high - p.low
	if max(p.top-p.high, p.low-p.bottom) < leastOver*step {
		return
	}
	all := slices.Concat(rising, falling)
	slices.SortFunc(all, func(a, b edge) int { return cmp.Compare(a.mid, b.mid) })
	from, to := 0, 0
	for i, e := range all {
		end := len(p.x)
		if i+1 < len(all) {
			end = int(all[i+1].ten)
		}
		if a := int(math.Ceil(e.ninety)); end-a > to-from {
			from, to = a, end
		}
	}
	if to-from >= leastRing {
		ringFigures(p.x[from:to], rate, add)
	}
}

const leastRing = 32 // samples

// dutyOf is the mean time from each rising edge to the falling one behind it, over
// the period.
func dutyOf(rising, falling []edge, period float64) (float64, bool) {
	sum, n, k := 0.0, 0, 0
	for i, r := range rising {
		for k < len(falling) && falling[k].mid < r.mid {
			k++
		}
		if k == len(falling) || i+1 < len(rising) && falling[k].mid > rising[i+1].mid {
			continue
		}
		sum += falling[k].mid - r.mid
		n++
	}
	if n == 0 {
		return 0, false
	}
	return sum / float64(n) / period, true
}
