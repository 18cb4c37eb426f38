package soak

import (
	"math"
	"testing"
)

// One round of a moving signal against what it is made of: its effective value, its periods where the frequency is known in
// closed form, silence in its rest, and no step where it comes round.
func TestRoundIsTheSignal(t *testing.T) {
	const rate = 48000.0
	mean := func(x []float64) (rms float64) {
		for _, v := range x {
			rms += v * v / float64(len(x))
		}
		return math.Sqrt(rms)
	}
	periods := func(x []float64) (n int) {
		for i := 1; i < len(x); i++ {
			if x[i-1] < 0 && x[i] >= 0 {
				n++
			}
		}
		return n
	}
	still, err := Moving{Level: 1, From: 440.3, To: 440.3}.Round(rate)
	if err != nil || len(still) != rate || math.Abs(mean(still)-math.Sqrt2/2) > 1e-4 || math.Abs(float64(periods(still))-440) > 1 {
		t.Errorf("%v: %d samples, %g, %d periods", err, len(still), mean(still), periods(still))
	}
	// Up an octave and a half and down again: of f = a·r^s over s in 0 to 1 the mean is a·(r−1)/ln r.
	const low, ratio, seconds = 100.0, 2.8284271247461903, 12.0
	sweep, err := Moving{Level: 1, From: low, To: low * ratio, Sweep: seconds}.Round(rate)
	want := low * (ratio - 1) / math.Log(ratio) * seconds
	if err != nil || math.Abs(float64(periods(sweep))-want) > 2 || math.Abs(mean(sweep)-math.Sqrt2/2) > 1e-3 {
		t.Errorf("%v: %d periods, want %.1f; %g", err, periods(sweep), want, mean(sweep))
	}
	// Near its middle it is at the upper frequency, at a quarter of the time at the geometric mean.
	for share, hz := range map[float64]float64{0.5: low * ratio, 0.25: low * math.Sqrt(ratio), 0.75: low * math.Sqrt(ratio)} {
		at, half := int(share*seconds*rate), int(rate/8)
		if got := float64(periods(sweep[at-half:at+half])) * 4; math.Abs(got/hz-1) > 0.06 {
			t.Errorf("at %g of it %g Hz, want %g", share, got, hz)
		}
	}
	step := math.Abs(sweep[0] - sweep[len(sweep)-1])
	if most := 2 * math.Pi * low / rate * 1.1; step > most {
		t.Errorf("a step of %g where it comes round, %g is its own slope", step, most)
	}
	burst, err := Moving{Level: 1, From: 1000, To: 1000, Sweep: 2, Rest: 3}.Round(rate)
	if err != nil || len(burst) != 5*rate || mean(burst[2*rate:]) != 0 || math.Abs(mean(burst[:2*rate])-math.Sqrt2/2) > 3e-3 {
		t.Errorf("%v: %d samples, %g and %g", err, len(burst), mean(burst[:2*rate]), mean(burst[2*rate:]))
	}
	for _, m := range []Moving{{}, {Level: 1, From: 30e3, To: 30e3}, {Level: 1, From: 40, To: 90, Sweep: 200, Rest: 150}} {
		if x, err := m.Round(rate); err == nil {
			t.Errorf("%+v: %d samples", m, len(x))
		}
	}
}
