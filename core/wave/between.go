package wave

import "math"

// lobes is how many samples on either side a value between samples is made of: enough that a
// sine of three samples a period is within a per cent.
const lobes = 8

// Between draws what samples mean: the band-limited course through them from one sample to
// before another, at the middles of so many equal parts (Whittaker and Shannon, the sum
// windowed after Lanczos). A sample stands in the middle of its own interval. Beyond the ends
// the last sample stands for what is not known. From must be below to, both within the waveform.
func (o *Overview) Between(from, to, parts int) []float64 {
	out := make([]float64, parts)
	n := float64(to - from)
	last := len(o.samples) - 1
	for p := range out {
		t := float64(from) + (float64(p)+0.5)/float64(parts)*n - 0.5
		near := int(math.Floor(t))
		sum, weights := 0.0, 0.0
		for k := near - lobes + 1; k <= near+lobes; k++ {
			w := sinc(t-float64(k)) * sinc((t-float64(k))/lobes)
			sum += w * o.samples[min(max(k, 0), last)]
			weights += w
		}
		out[p] = sum / weights // a constant stays one
	}
	return out
}

func sinc(x float64) float64 {
	if math.Abs(x) < 1e-9 {
		return 1
	}
	return math.Sin(math.Pi*x) / (math.Pi * x)
}
