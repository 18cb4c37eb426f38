package wave

import (
	"math"
	"testing"
)

// Between its samples a sine is the sine, down to three samples a period; every sample lies on
// the line; a constant stays one.
func TestBetweenSamples(t *testing.T) {
	t.Parallel()
	for _, perPeriod := range []float64{3.1, 4.7, 9, 25.3} {
		at := func(i float64) float64 { return 0.3 + 2*math.Sin(2*math.Pi*i/perPeriod+0.7) }
		ch := Channel{}
		for i := range 120 {
			ch.Samples = append(ch.Samples, at(float64(i)))
		}
		const from, to, parts = 30, 70, 800
		worst := 0.0
		for p, v := range ch.Overview().Between(from, to, parts) {
			worst = max(worst, math.Abs(v-at(from+(float64(p)+0.5)/parts*(to-from)-0.5)))
		}
		if worst > 0.02*2 {
			t.Errorf("%g samples a period: %.3g V off", perPeriod, worst)
		}
	}
	flat := Channel{Samples: []float64{4, 4, 4, 4, 4}}
	for _, v := range flat.Overview().Between(0, 5, 50) {
		if math.Abs(v-4) > 1e-12 {
			t.Fatalf("a constant is %g", v)
		}
	}
	odd := Channel{Samples: []float64{1, -2, 5, 0, 3, 3}}
	line := odd.Overview().Between(0, 6, 6*9) // the fifth of nine parts is the middle of each sample's interval
	for i, v := range odd.Samples {
		if math.Abs(line[9*i+4]-v) > 1e-9 {
			t.Errorf("sample %d is %g, drawn %g", i, v, line[9*i+4])
		}
	}
}
