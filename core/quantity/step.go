package quantity

import "math"

// StepUp is the smallest of some steps, from 1 to below 10 and rising, times a power of ten, that is not below a value: of 1, 2 and 5 as
// instruments are set, of a series of preferred values as parts are sold. Of what is not above zero it is 0.
func StepUp(x float64, steps ...float64) float64 {
	if !(x > 0) {
		return 0
	}
	base := math.Pow(10, math.Floor(math.Log10(x)))
	for _, step := range steps {
		if step*base >= x*(1-1e-9) {
			return step * base
		}
	}
	return 10 * base
}
