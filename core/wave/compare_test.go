package wave

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// spoil makes a waveform with a defect, as its name says, at a severity from 0
// (just worth seeing) to 1 (gross). It knows nothing of how defects are recognised.
func spoil(rng *rand.Rand, kind DefectKind, severity float64, n int, rate, hz, amplitude float64) Channel {
	phase := 2 * math.Pi * rng.Float64()
	offset := 0.3 * amplitude * (rng.Float64() - 0.5)
	ring := hz * (7.3 + 5*rng.Float64()) // of the oscillation; no multiple of the tone
	if kind == WrongFrequency {
		hz *= []float64{1.03, 0.9, 1.5, 0.5, 2}[rng.IntN(5)] * (1 + 0.2*severity*rng.Float64())
	}
	pop := 0.0
	gone := false
	return generated(n, rate, func(t float64) float64 {
		s := math.Sin(2*math.Pi*hz*t + phase)
		v := s
		switch kind {
		case LowLevel:
			v *= math.Pow(10, -(3+25*severity)/20)
		case HighLevel:
			v *= math.Pow(10, (3+15*severity)/20)
		case AbsentSignal:
			v *= 0.001
		case ClippedTop:
			v = min(v, 0.93-0.6*severity)
		case ClippedBottom:
			v = max(v, -0.93+0.6*severity)
		case ClippedBoth:
			v = max(min(v, 0.93-0.6*severity), -0.93+0.6*severity)
		case Crossover:
			dead := 0.06 + 0.25*severity
			v = math.Copysign(max(math.Abs(v)-dead, 0), v)
		case HumMains:
			v += (0.05 + 0.5*severity) * math.Sin(2*math.Pi*50*t+1)
		case HumDouble:
			v += (0.05 + 0.5*severity) * (math.Sin(2*math.Pi*100*t+1) + 0.3*math.Sin(2*math.Pi*200*t))
		case Oscillation:
			v += (0.05 + 0.3*severity) * math.Sin(2*math.Pi*ring*t)
		case Noise:
			v += (0.05 + 0.3*severity) * rng.NormFloat64()
		case Crackle:
			if rng.Float64() < 0.0015 {
				pop = (0.5 + 2*severity) * (2*rng.Float64() - 1)
			}
			v += pop
			pop *= 0.6
		case CuttingOut:
			if rng.Float64() < 3/float64(n) || gone && rng.Float64() < 12/float64(n) {
				gone = !gone
			}
			if math.Mod(t*rate/float64(n)*4+0.3, 1) < 0.05+0.3*severity {
				v *= 0.02
			}
		}
		return offset + amplitude*v + 0.001*amplitude*rng.NormFloat64()
	})
}

// Every defect at every severity, rate, level, offset and trigger: named in at
// least 98 of a hundred; a healthy pair called healthy in 99.
func TestDefectsAreNamed(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(50, 8))
	kinds := []DefectKind{"", LowLevel, HighLevel, AbsentSignal, WrongFrequency, ClippedTop, ClippedBottom, ClippedBoth, Crossover, HumMains, HumDouble, Oscillation, Crackle, Noise, CuttingOut}
	const seeds = 60
	right, all := 0, 0
	for _, kind := range kinds {
		named := 0
		others := map[DefectKind]int{}
		for range seeds {
			// At least a third of a second, so that the mains has some periods.
			hz := 300 + 2700*rng.Float64()
			rate := hz * (20 + 40*rng.Float64())
			n := int(rate * (0.35 + 0.3*rng.Float64()))
			amplitude := math.Pow(10, 3*rng.Float64()-2)
			got := spoil(rng, kind, rng.Float64(), n, rate, hz, amplitude)
			refRate := hz * (25 + 80*rng.Float64())
			ref := spoil(rng, "", 0, 4000+rng.IntN(20000), refRate, hz, amplitude)
			c, ok := Compare(&got, &ref, rate, refRate, 50)
			if !ok {
				t.Fatal("the reference is no tone")
			}
			first := DefectKind("")
			if len(c.Defects) > 0 {
				first = c.Defects[0].Kind
			}
			if first == kind {
				named++
			} else {
				others[first]++
			}
			if slices.ContainsFunc(c.Defects, func(d Defect) bool { return d.Evidence == "" || d.Causes == "" }) {
				t.Fatalf("%+v", c.Defects)
			}
		}
		all += seeds
		right += named
		t.Logf("%-24s %3d of %d %v", kind, named, seeds, others)
		if kind == "" && named < seeds*99/100 {
			t.Error("healthy waveforms are said to have defects")
		}
	}
	if right < all*98/100 {
		t.Errorf("%d of %d named", right, all)
	}
}
