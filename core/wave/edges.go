package wave

import (
	"math"
	"slices"

	"steptrace/core/quantity"
)

// edged is a period of two states taken apart: its edges, and what it does at rest.
type edged struct {
	rise  float64 // 10 % to 90 %, a share of the period
	tilt  float64 // fall of its rests towards the middle, a share of the step
	ring  float64 // peak of what swings about them, a share of the step
	turns float64 // of the swinging, in one rest; 0 where nothing swings
}

const (
	// What is more than the reference has of it and seen on a trace a hand high:
	// shares of the period, of the step, of the step.
	someRise, someTilt, someRing = 0.02, 0.06, 0.05
	restingFrom                  = 0.25 // of a rest: later is where it has settled
)

// takeApart measures a period whose reference is at rest where the mask says.
func takeApart(period []float64, high, low []int) edged {
	ends := func(rest []int) float64 { // where it has settled
		late := rest[int(float64(len(rest))*restingFrom):]
		return median(pick(period, late))
	}
	top, bottom := ends(high), ends(low)
	step := top - bottom
	if step == 0 {
		return edged{}
	}
	var e edged
	for i, rest := range [][]int{high, low} {
		outward := math.Copysign(1, step)
		if i == 1 {
			outward = -outward
		}
		v := pick(period, rest)
		whole, _ := line(v, 0)
		e.tilt = max(e.tilt, -outward*whole/math.Abs(step))
		over, turns := swing(v, outward)
		if over/math.Abs(step) > e.ring {
			e.ring, e.turns = over/math.Abs(step), turns
		}
	}
	e.rise = riseOf(period, bottom, top)
	return e
}

func pick(period []float64, at []int) []float64 {
	out := make([]float64, len(at))
	for i, k := range at {
		out[i] = period[k]
	}
	return out
}

// line fits a straight line to values from one on, and gives how much it rises from
// the first of them to the last, and its value at each of all.
func line(v []float64, from int) (rise float64, at func(i int) float64) {
	slope, _ := trend(v[from:])
	n := float64(len(v) - from)
	mean := sumUp(v[from:]).mean
	return slope * (n - 1), func(i int) float64 { return mean + slope*(float64(i-from)-(n-1)/2) }
}

// swing is how far values behind an edge go beyond where they settle, outward, and
// then back to the other side; zero where they do not come back: a droop and an edge
// that arrives slowly do not. Turns are those of a period of it in all values.
func swing(v []float64, outward float64) (over, turns float64) {
	_, settled := line(v, int(float64(len(v))*restingFrom))
	off := func(i int) float64 { return outward * (v[i] - settled(i)) }
	peak := 0
	for i := range v[:len(v)*6/10] {
		if off(i) > off(peak) {
			peak = i
		}
	}
	trough := peak
	for i := peak; i < len(v); i++ {
		if off(i) < off(trough) {
			trough = i
		}
	}
	over = off(peak)
	const back = 0.15 // of the way out
	if trough == peak || -off(trough) < back*over {
		return 0, 0
	}
	return over, float64(len(v)) / (2 * float64(trough-peak))
}

// riseOf is the time from 10 % to 90 % of the slower edge, a share of the period.
func riseOf(period []float64, bottom, top float64) float64 {
	share := func(k int) float64 { return (period[(k+2*foldBins)%foldBins] - bottom) / (top - bottom) }
	// Of what rings past its middle again, the steepest crossing up and down is the edge.
	steepest := [2]float64{}
	place := [2]int{-1, -1}
	for k := range foldBins {
		a, b := share(k), share(k+1)
		if (a-0.5)*(b-0.5) > 0 || a == b {
			continue
		}
		way := 0
		if b < a {
			way = 1
		}
		// Over some bins: noise makes any two steep.
		if rise := math.Abs(share(k+3) - share(k-2)); rise > steepest[way] {
			steepest[way], place[way] = rise, k
		}
	}
	slowest := 0.0
	for _, k := range place {
		if k < 0 {
			continue
		}
		a, b := share(k), share(k+1)
		up := math.Copysign(1, b-a)
		reach := func(direction int, to float64) float64 {
			for d := 0; d < foldBins/2; d++ {
				p, q := share(k+direction*d), share(k+direction*(d+1))
				if direction < 0 {
					p, q = share(k+1-d), share(k-d)
				}
				if (p-to)*(q-to) <= 0 && p != q {
					return float64(d) + (to-p)/(q-p)
				}
			}
			return foldBins / 2
		}
		first, last := 0.1, 0.9
		if up < 0 {
			first, last = 0.9, 0.1
		}
		slowest = max(slowest, reach(-1, first)+reach(1, last)-1)
	}
	return slowest / foldBins
}

// edges names what is wrong with a period of two states.
func (c *comparing) edges(f, r *folded) {
	// The reference's rests, in the order of time, from its edges on.
	high, low, ok := r.rests()
	if !ok {
		c.otherShape(f, r)
		return
	}
	// Its own rests are laid where the capture has them.
	moved := make([]float64, foldBins)
	for k := range moved {
		moved[k] = between(f.period, float64(k)+c.laid.shift)
	}
	got, due := takeApart(moved, high, low), takeApart(r.period, high, low)
	seconds := func(share float64) string { return written(share/f.hz, "s") }
	seen := 1.2 * max(f.hz/c.rate, r.hz/c.ref.Rate) // an edge between two samples
	if more := got.rise - due.rise; more > someRise+seen && got.rise > 1.4*due.rise {
		c.found(
			SlowEdges,
			more/someRise*0.01,
			"its edges take %s from 10 %% to 90 %% where the reference's take %s",
			seconds(got.rise),
			seconds(max(due.rise, 1/(c.ref.Rate)*r.hz)),
		)
	}
	if more := got.tilt - due.tilt; more > someTilt {
		rest := float64(len(high)) / foldBins / f.hz
		tau := rest / math.Log(1/(1-min(got.tilt, 0.99)))
		c.found(
			Tilt,
			more/someTilt*0.01,
			"its rests fall by %.0f %% of the step in %s: a time constant of about %s",
			100*got.tilt,
			written(rest, "s"),
			written(tau, "s"),
		)
	}
	if more := got.ring - due.ring; more > someRing {
		hz := got.turns * f.hz * foldBins / float64(min(len(high), len(low)))
		c.found(
			Ringing,
			more/someRing*0.01,
			"after the edges it swings by %.0f %% of the step, at about %s",
			100*got.ring,
			quantity.Rounded(hz, quantity.Hertz),
		).at(hz, "Hz")
	}
	if len(c.Defects) == 0 {
		c.otherShape(f, r)
	}
}

// otherShape names a period that differs without more being known of how.
func (c *comparing) otherShape(f, r *folded) {
	sum := 0.0
	for k, v := range f.period {
		d := v - f.mean - c.laid.gain*(between(r.period, float64(k)-c.laid.shift)-r.mean)
		sum += d * d / foldBins
	}
	const some = 0.15 // the edges alone make a few per cent of a square
	if share := math.Sqrt(sum) / (math.Abs(c.laid.gain) * r.ac); share > some {
		c.found(Distortion, share, "its period differs from the reference's by %.0f %%", 100*share)
	}
}

// rests lists the bins at which the period is in its upper and its lower state,
// each in the order of time from its edge on; false where it has no two states of
// one piece each.
func (f *folded) rests() (high, low []int, ok bool) {
	top, bottom := slices.Max(f.period), slices.Min(f.period)
	mid := (top + bottom) / 2
	start := -1 // the first bin of the upper state
	for k := range foldBins {
		if f.period[k] < mid && f.period[(k+1)%foldBins] >= mid {
			if start >= 0 {
				return nil, nil, false
			}
			start = k + 1
		}
	}
	if start < 0 {
		return nil, nil, false
	}
	for d := range foldBins {
		k := (start + d) % foldBins
		switch v := f.period[k]; {
		case v >= mid && len(low) == 0:
			high = append(high, k)
		case v < mid:
			low = append(low, k)
		default:
			return nil, nil, false
		}
	}
	const margin, least = 2, 12 // bins beside the edges, and for a rest to be looked at
	if len(high) < least+2*margin || len(low) < least+2*margin {
		return nil, nil, false
	}
	high, low = high[margin:len(high)-margin], low[margin:len(low)-margin]
	for _, rest := range [][]int{high, low} { // a triangle has none
		v := pick(f.period, rest)
		if slices.Max(v)-slices.Min(v) > 0.5*(top-bottom) {
			return nil, nil, false
		}
	}
	return high, low, true
}
