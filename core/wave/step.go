package wave

import "slices"

const (
	stepLooked = 1 << 13 // samples
	ownNoise   = 1.0     // of a converter: rms, in its steps; a scope's of eight bits has half of one to one
	sameStep   = 1e-6    // of the height: values that differ by less are printed from one
)

// converterStep is the step of the converter that samples came from: the least by which two of them differ. 0 where none
// do.
func converterStep(x []float64) float64 {
	sorted := slices.Sorted(slices.Values(x[:min(len(x), stepLooked)]))
	near := sameStep * (sorted[len(sorted)-1] - sorted[0])
	step := 0.0
	for i := 1; i < len(sorted); i++ {
		if d := sorted[i] - sorted[i-1]; d > near && (step == 0 || d < step) {
			step = d
		}
	}
	return step
}
