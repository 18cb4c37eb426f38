package wave_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"steptrace/core/wave"
	"steptrace/internal/trial"
)

// A mask of several good captures, which differ by their tolerances, passes other good ones, and not one that differs by
// more than they do at one place only.
func TestAMaskKnowsHowFarGoodOnesDiffer(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(156, 1))
	site := wave.Site{Mains: 50}
	right, all := map[string]int{}, map[string]int{}
	for range trial.Runs(24) {
		hz, a := math.Pow(10, 2+2*rng.Float64()), math.Pow(10, -1+2*rng.Float64())
		shape, phase := 0.15+0.3*rng.Float64(), rng.Float64()
		at := func(bump float64) source { // with a dent at one place of the period
			gain, more := 1+0.04*rng.NormFloat64(), shape*(1+0.05*rng.NormFloat64())
			return source{"good", hz * (1 + 0.001*rng.NormFloat64()), func(t float64) float64 {
				d := part(hz*t-0.3) - 0.5
				return a * gain * (sine(hz*t) + more*sine(2*hz*t+phase) + 0.2*sine(3*hz*t) - bump*math.Exp(-d*d/0.002))
			}, nil, 10 * hz}
		}
		good := func(bump float64) *wave.Reference {
			ch, rate := newScope(rng).take(at(bump))
			return &wave.Reference{Channel: ch, Rate: rate}
		}
		var some []*wave.Reference
		for range 3 + rng.IntN(6) {
			some = append(some, good(0))
		}
		m, err := wave.MaskOf(some, site)
		if err != nil {
			t.Fatal(err)
		}
		for name, bump := range map[string]float64{"good": 0, "dented": 0.6} {
			x := good(bump)
			c, ok := wave.Compare(&x.Channel, x.Rate, &m.Reference, site)
			all[name]++
			if ok && (len(c.Defects) == 0) == (bump == 0) {
				right[name]++
			} else if testing.Verbose() {
				t.Logf("%s: %s, %d captures", name, kindsOf(c), len(some))
			}
		}
	}
	tell(t, "masks", right, all, 0.95)
}

// What no mask can be made of is said.
func TestAMaskNeedsLikeCaptures(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(156, 2))
	site := wave.Site{Mains: 50}
	take := func(x source) *wave.Reference {
		ch, rate := newScope(rng).take(x)
		return &wave.Reference{Channel: ch, Rate: rate}
	}
	tone := func(hz float64) *wave.Reference {
		return take(source{"tone", hz, func(t float64) float64 { return sine(hz * t) }, nil, 0})
	}
	noise := take(source{"noise", 100, func(float64) float64 { return rng.NormFloat64() }, nil, 0})
	for name, some := range map[string][]*wave.Reference{
		"two":                  {tone(100), tone(100)},
		"another frequency":    {tone(100), tone(100), tone(120)},
		"what does not repeat": {tone(100), noise, tone(100)},
	} {
		if _, err := wave.MaskOf(some, site); err == nil {
			t.Errorf("%s made a mask", name)
		}
	}
}
