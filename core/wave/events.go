package wave

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
)

// pieces gives the rms about a mean of equal pieces of a waveform, so many samples
// each; what is left over at the end is not looked at.
func pieces(x []float64, mean float64, size int) []float64 {
	out := make([]float64, 0, len(x)/size)
	for at := 0; at+size <= len(x); at += size {
		sum := 0.0
		for _, v := range x[at : at+size] {
			sum += (v - mean) * (v - mean)
		}
		out = append(out, math.Sqrt(sum/float64(size)))
	}
	return out
}

func median(x []float64) float64 { return quantile(x, 0.5) }

func quantile(x []float64, share float64) float64 {
	if len(x) == 0 {
		return 0
	}
	sorted := slices.Sorted(slices.Values(x))
	return sorted[min(int(share*float64(len(sorted))), len(sorted)-1)]
}

const (
	mostPieces  = 2000
	leastPieces = 16
	burstShare  = 2.5 // of the usual level: above it is a burst
	eventsTold  = 4
)

// eventFigures gives what comes and goes in a waveform, and how its level drifts: by
// the rms of pieces of two periods at least.
func eventFigures(x []float64, l levels, hz, rate float64, add adder) {
	size := max(int(math.Round(2*rate/max(hz, 1e-30))), len(x)/mostPieces, 8)
	if hz <= 0 || len(x)/size < leastPieces {
		return
	}
	levels := pieces(x, l.mean, size)
	usual := median(levels)
	if usual == 0 {
		return
	}
	tell := func(key, name, how string, is func(i int) bool) (found bool) {
		var times []string
		count := 0
		for i := 0; i < len(levels); {
			if !is(i) {
				i++
				continue
			}
			from := i
			for i < len(levels) && is(i) {
				i++
			}
			if count++; count <= eventsTold {
				times = append(
					times,
					fmt.Sprintf("at %s for %s", written(float64(from*size)/rate, "s"), written(float64((i-from)*size)/rate, "s")),
				)
			}
		}
		if count == 0 {
			return false
		}
		if count > eventsTold {
			times = append(times, "…")
		}
		add(key, name, float64(count), "", 0, how).Text = fmt.Sprintf("%d: %s", count, strings.Join(times, ", "))
		return true
	}
	step := written(float64(size)/rate, "s")
	gone := tell(
		"dropouts",
		"dropouts",
		fmt.Sprintf("below %.0f %% of the usual level, in pieces of %s", 100*outShare, step),
		func(i int) bool { return levels[i] < outShare*usual },
	)
	burst := tell(
		"bursts",
		"bursts",
		fmt.Sprintf("above %g times the usual level, in pieces of %s", burstShare, step),
		func(i int) bool { return levels[i] > burstShare*usual },
	)
	if gone || burst {
		return
	}
	if far := spikes(x, l.mean, size); len(far) > 0 {
		tell(
			"spikes",
			"spikes",
			fmt.Sprintf("beyond %g times the usual peak, in pieces of %s", spikeShare, step),
			func(i int) bool { return slices.Contains(far, i) },
		)
	}
	slope, sure := trend(levels)
	whole := slope * float64(len(levels)-1)
	if db := quantity.DB(max(usual+whole/2, 1e-3*usual), max(usual-whole/2, 1e-3*usual)); math.Abs(slope) > 4*sure && math.Abs(db) > 0.05 {
		add("drift", "level drift", db, "dB", sure/math.Abs(slope)*math.Abs(db), "line through the levels of "+
			"pieces of "+step).Text = quantity.SignedDB(
			db,
		) + " from end to end"
	}
}

// spikeShare is how far beyond the usual peak a spike goes.
const spikeShare = 1.5

// spikes lists the pieces in which a few samples go far beyond the usual peak; nothing
// where many do, which is the signal's own nature.
func spikes(x []float64, mean float64, size int) (far []int) {
	peaks := make([]float64, 0, len(x)/size)
	for at := 0; at+size <= len(x); at += size {
		low, high := extremes(x[at : at+size])
		peaks = append(peaks, max(high-mean, mean-low))
	}
	const many = 20 // of a hundred pieces
	usual := quantile(peaks, 0.9)
	for i, p := range peaks {
		if p > spikeShare*usual {
			far = append(far, i)
		}
	}
	if len(far)*100 > many*len(peaks) {
		return nil
	}
	return far
}

// trend is the slope of a line through values by least squares, a step, and its
// standard deviation.
func trend(y []float64) (slope, sure float64) {
	n := float64(len(y))
	mean := 0.0
	for _, v := range y {
		mean += v / n
	}
	var up, down float64
	for i, v := range y {
		d := float64(i) - (n-1)/2
		up += d * (v - mean)
		down += d * d
	}
	if down == 0 || n < 3 {
		return 0, 0
	}
	slope = up / down
	rest := 0.0
	for i, v := range y {
		d := v - mean - slope*(float64(i)-(n-1)/2)
		rest += d * d
	}
	return slope, math.Sqrt(rest / (n - 2) / down)
}

// humFigures gives the lines of the mains and its multiples that stand out of what
// is left of a waveform when its signal is taken away.
func humFigures(rest []float64, rate, mains float64, unit string, add adder) {
	rest = rest[:min(len(rest), fitLength)]
	n := float64(len(rest))
	if mains <= 0 || n < 64 || n/rate < 3/mains || mains > rate/5 {
		return
	}
	s := lines(rest)
	var some []float64 // of the lines: the middle of them is what a line stands out of
	for k := 1; k < len(s.power); k += max(len(s.power)/1024, 1) {
		some = append(some, s.power[k])
	}
	floor := median(some)
	const outstanding = 50.0 // 17 dB over the middle of all lines; noise alone has 10 dB in a thousand
	bin := func(m int) int { return int(math.Round(mains * float64(m) * float64(s.n) / rate)) }
	stands := func(m int) bool {
		k := bin(m)
		return k >= 2 && k+2 < len(s.power) && s.around(k) >= outstanding*floor
	}
	best := 0
	for m := 1; m <= mostMains; m++ {
		if stands(m) && (best == 0 || s.around(bin(m)) > s.around(bin(best))) {
			best = m
		}
	}
	if best == 0 {
		return
	}
	// The strongest gives the frequency of the mains, all are fitted together at it.
	t, ok := fitTone(rest, 2*math.Pi*mains*float64(best)/rate)
	base := t.omega / float64(best)
	if !ok || math.Abs(base*rate/(2*math.Pi)/mains-1) > 0.02 {
		return
	}
	amplitudes, left, ok := harmonics(rest, base, mostMains)
	if !ok {
		return
	}
	spread := sumUp(left).rms * math.Sqrt(2/n)
	for i, a := range amplitudes {
		if m := i + 1; stands(m) && a > 6*spread {
			rms := a / math.Sqrt2
			add(fmt.Sprintf("hum%d", m), "hum or ripple", rms, unit, spread/math.Sqrt2, "multiples of the mains fitted together to what "+
				"is no signal").Text =
				fmt.Sprintf(
					"%s rms at %s",
					written(rms, unit),
					quantity.Rounded(base*float64(m)*rate/(2*math.Pi), quantity.Hertz),
				)
		}
	}
}
