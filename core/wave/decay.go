package wave

import (
	"math"
	"math/cmplx"

	"gonum.org/v1/gonum/mat"
)

// A waveform that happens once, going to where it stays, is charged or discharged
// (an exponential) or swings out (a damped sine).

const (
	decayLength = 4096
	decayFits   = 0.995 // share of what varies that the curve must explain
)

// decayFigures gives the time constant, or the ring frequency and Q, of a waveform
// that goes to its last value once.
func decayFigures(x []float64, rate float64, unit string, add adder) {
	// Any later stretch of such a curve is one too: it is taken from where it is last
	// nearly as far from its end as it ever is.
	const nearly = 0.9
	last := x[len(x)*9/10:]
	end := median(last)
	start, over, far := 0, 0, 0.0
	for _, v := range x {
		far = max(far, math.Abs(v-end))
	}
	const gone = 0.03 // of it: what comes later tells nothing
	for i, v := range x {
		if d := math.Abs(v - end); d >= nearly*far {
			start = i
		} else if d >= gone*far {
			over = i
		}
	}
	const still = 0.2 // of the way gone: it must come to rest
	if sumUp(last).ac > still*far {
		return
	}
	part := x[start:min(max(start+(over-start)*3/2, start+24), len(x))]
	step := 1
	if len(part) > decayLength { // means of some samples lie on the same curve
		step = len(part) / decayLength
		small := make([]float64, len(part)/step)
		for i := range small {
			small[i] = sumUp(part[i*step : (i+1)*step]).mean
		}
		part = small
	}
	if len(part) < 24 {
		return
	}
	seconds := float64(step) / rate
	if tau, fits := fitDecay(part, 0); fits > decayFits && tau < float64(len(part)) {
		parts, _ := decayParts(part, 0, tau)
		add("tau", "time constant", tau*seconds, "s", 0, "exponential by least squares")
		add("final", "goes to", parts[0], unit, 0, "where that exponential ends")
		add("step", "goes by", -parts[1], unit, 0, "the exponential's height")
		return
	}
	ring(part, end, far, seconds, add)
}

// ringFigures gives the frequency and the Q of samples that ring about where they come to rest.
func ringFigures(x []float64, rate float64, add adder) {
	x = x[:min(len(x), decayLength)]
	end, far := median(x[len(x)/2:]), 0.0
	for _, v := range x {
		far = max(far, math.Abs(v-end))
	}
	ring(x, end, far, 1/rate, add)
}

// ring fits a damped sine to points so many seconds apart, which go as far from their end.
func ring(part []float64, end, far, seconds float64, add adder) {
	const gone = 0.03
	// Half turns of a ring are equally long.
	turns := risings(part, end, 2*gone*far)
	if len(turns) < 2 {
		return
	}
	omega := 2 * math.Pi * float64(len(turns)-1) / (turns[len(turns)-1] - turns[0])
	best, tau, fits := omega, 0.0, 0.0
	for _, by := range []float64{0.94, 0.97, 1, 1.03, 1.06} { // a short ring has a broad line
		if t, f := fitDecay(part, omega*by); f > fits {
			best, tau, fits = omega*by, t, f
		}
	}
	for step := 0.015 * best; step > 1e-6*best; step /= 2 {
		for _, w := range []float64{best - step, best + step} {
			if t, f := fitDecay(part, w); f > fits {
				best, tau, fits = w, t, f
			}
		}
	}
	if fits > 0.97 && tau > 0 {
		add("ring", "rings at", best/(2*math.Pi)/seconds, "Hz", 0, "damped sine by least squares")
		add("q", "Q", best*tau/2, "", 0, "π·f·τ, τ the time constant of the ring")
		add("tau", "time constant", tau*seconds, "s", 0, "of the ring's decay")
	}
}

// fitDecay fits offset + (a·cos ωn + b·sin ωn)·exp(−n/τ) (b only where ω is given) by
// least squares, looking for τ by golden section on its logarithm; it gives τ in
// samples and the share of the variance that the curve explains.
func fitDecay(x []float64, omega float64) (tau, share float64) {
	n := float64(len(x))
	of := func(logTau float64) float64 { _, share := decayParts(x, omega, math.Exp(logTau)); return share }
	lo, hi := math.Log(1.0), math.Log(4*n)
	best, at := -1.0, lo
	const steps = 24
	for i := range steps + 1 {
		p := lo + (hi-lo)*float64(i)/steps
		if s := of(p); s > best {
			best, at = s, p
		}
	}
	p, _ := leastBetween(func(logTau float64) float64 { return -of(logTau) }, at-(hi-lo)/steps, at+(hi-lo)/steps, 1e-7)
	return math.Exp(p), of(p)
}

// decayParts fits the curve's parts (offset, a, b) by the normal equations, and gives
// the share of the variance that they explain.
func decayParts(x []float64, omega, tau float64) (parts [3]float64, share float64) {
	size := 2
	if omega > 0 {
		size = 3
	}
	var normal [3][3]float64
	var right [3]float64
	sum, squares := 0.0, 0.0
	turn, now := cmplx.Rect(math.Exp(-1/tau), omega), complex(1, 0)
	for i, v := range x {
		if i%512 == 0 { // so that rounding does not add up
			now = cmplx.Rect(math.Exp(-float64(i)/tau), omega*float64(i))
		}
		basis := [3]float64{1, real(now), imag(now)}
		for p := range size {
			for q := range size {
				normal[p][q] += basis[p] * basis[q]
			}
			right[p] += basis[p] * v
		}
		sum += v
		squares += v * v
		now *= turn
	}
	m, b := mat.NewSymDense(size, nil), mat.NewVecDense(size, right[:size])
	for p := range size {
		for q := p; q < size; q++ {
			m.SetSym(p, q, normal[p][q])
		}
	}
	var factor mat.Cholesky
	var found mat.VecDense
	if !factor.Factorize(m) || factor.SolveVecTo(&found, b) != nil {
		return parts, 0
	}
	explained := 0.0
	for p := range size {
		parts[p] = found.AtVec(p)
		explained += parts[p] * right[p]
	}
	about := sum * sum / float64(len(x))
	if squares <= about {
		return parts, 0
	}
	return parts, (explained - about) / (squares - about)
}
