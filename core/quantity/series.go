package quantity

import (
	"math"
	"slices"
)

// Series is a row of preferred values; its number is how many stand in a
// decade. Source: IEC 60063.
type Series int

// The rows of IEC 60063 that parts are commonly sold in.
const (
	E12 Series = 12
	E24 Series = 24
	E96 Series = 96
)

// e24 is written out: its values are older than the rule for the finer rows
// and do not follow it.
var e24 = []float64{1, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2, 2.2, 2.4, 2.7, 3, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1}

// Decade lists the values from 1 up to below 10, rising.
func (s Series) Decade() []float64 {
	if 24%int(s) == 0 {
		step := 24 / int(s)
		out := make([]float64, 0, int(s))
		for i := 0; i < 24; i += step {
			out = append(out, e24[i])
		}
		return out
	}
	out := make([]float64, int(s))
	for i := range out {
		out[i] = math.Round(100*math.Pow(10, float64(i)/float64(s))) / 100
	}
	return out
}

// Nearest gives the value of the row with the smallest relative distance from
// x, in the unit of x. x must be above zero and finite; anything else gives 0.
func (s Series) Nearest(x float64) float64 {
	if !usable(x) {
		return 0
	}
	decade := s.Decade()
	exp := math.Floor(math.Log10(x))
	candidates := make([]float64, 0, len(decade)+2)
	// The neighbours may lie one decade off, so the row is extended both ways.
	candidates = append(candidates, decade[len(decade)-1]/10)
	candidates = append(candidates, decade...)
	candidates = append(candidates, 10)
	m := x / math.Pow(10, exp)
	best := slices.MinFunc(candidates, func(a, b float64) int {
		da, db := math.Abs(math.Log(a/m)), math.Abs(math.Log(b/m))
		switch {
		case da < db:
			return -1
		case da > db:
			return 1
		}
		return 0
	})
	// Dividing by a whole power of ten rounds once, where multiplying by 0.001
	// would round twice and turn 4.7 m into 0.0047000000000000002.
	scale := math.Pow(10, math.Abs(exp))
	if exp < 0 {
		return best / scale
	}
	return best * scale
}
