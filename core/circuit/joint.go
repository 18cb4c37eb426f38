package circuit

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"
)

// Readings are weighed together: one tolerance moves several of them, and may be charged once. About what a fault of
// a severity predicts they lie as a normal density whose covariance is what every tolerance moves, times its
// transpose, and on the diagonal what each spreads by itself. One of them may have been taken wrongly; then the others
// have to fit. A fault of any severity is a path through what it predicts, from grade to grade; how likely the
// readings are with it is the mean over the path (straight between grades), by the logarithm of the severity.

// usualDrift is how far values drift (mean of the logarithm): most that do are off by two or three times, few by ten.
const usualDrift = 1.0

// misread is how often one reading of a stage was taken at the wrong place, or with the wrong range.
const misread = 0.01

// grade is a fault of one severity (0: of none), and what it predicts.
type grade struct {
	x    float64
	view *view
	by   []predicted // of each look that its passes have come to
}

// weighing is the density about one grade.
type weighing struct {
	of     []int // the looks that are weighed together
	lower  mat.TriDense
	lost   float64   // logarithm of the density at its top
	spared []float64 // of the inverse, its diagonal
	at     []float64 // where the readings are met best
	off    []float64 // how far they are off it, whitened
}

// together are the looks up to a pass that have a scale.
func (r *ranking) together(pass int) []int {
	var out []int
	for i := range r.looks {
		if l := &r.looks[i]; r.pass(l) <= pass && l.what != Checked && l.what != Shape {
			out = append(out, i)
		}
	}
	return out
}

// about makes the density about a grade; ok is false where it has none.
func (r *ranking) about(g *grade, of []int) (w *weighing, ok bool) {
	n := len(of)
	w = &weighing{of: of}
	if n == 0 {
		return w, true
	}
	for _, i := range of {
		g.view.spread(&r.looks[i], &g.by[i])
	}
	c := mat.NewSymDense(n, nil)
	for i, a := range of {
		for k := i; k < n; k++ {
			p, q := &g.by[a], &g.by[of[k]]
			sum := 0.0
			for m := range min(len(p.moved), len(q.moved)) {
				sum += p.moved[m] * q.moved[m]
			}
			if i == k {
				sum += p.noise * p.noise
			}
			c.SetSym(i, k, sum)
		}
	}
	var factor mat.Cholesky
	if !factor.Factorize(c) {
		return nil, false
	}
	factor.LTo(&w.lower)
	w.lost = -factor.LogDet()/2 - float64(n)/2*math.Log(2*math.Pi)
	var inverse mat.SymDense
	if factor.InverseTo(&inverse) != nil {
		return nil, false
	}
	w.spared = make([]float64, n)
	for i := range w.spared {
		w.spared[i] = inverse.At(i, i)
	}
	return w, true
}

// whitened is a vector over the looks of a density in its spreads.
func (w *weighing) whitened(v []float64) []float64 {
	n := len(w.of)
	out := make([]float64, n)
	for i := range out {
		sum := v[i]
		for k := range i {
			sum -= w.lower.At(i, k) * out[k]
		}
		out[i] = sum / w.lower.At(i, i)
	}
	return out
}

// unwhitened solves with the transpose: from a whitened vector to that times the inverse covariance.
func (w *weighing) unwhitened(u []float64) []float64 {
	n := len(w.of)
	out := slices.Clone(u)
	for i := n - 1; i >= 0; i-- {
		for k := i + 1; k < n; k++ {
			out[i] -= w.lower.At(k, i) * out[k]
		}
		out[i] /= w.lower.At(i, i)
	}
	return out
}

// missed is how far what was read is off what a grade predicts.
func (r *ranking) missed(g *grade, of []int) []float64 {
	out := make([]float64, len(of))
	for k, i := range of {
		out[k] = r.looks[i].at - g.by[i].at
	}
	return out
}

// stretch is the piece of a path on which the readings are met best: from a grade to the next, so far along.
type stretch struct {
	from   int
	along  float64
	square float64 // how far off, in spreads, squared
	span   float64 // the whole piece, in spreads
}

// weighPath tells how likely the readings up to a pass are with one, as a logarithm; Off and the best severity go
// with it. It is minus infinity where nothing is predicted.
func (r *ranking) weighPath(x *Ranked, pass int) (log float64, best stretch) {
	of := r.together(pass)
	if len(of) == 0 {
		x.weighing = &weighing{}
		logs := make([]float64, len(x.grades))
		for k := range logs {
			logs[k] = r.words(x, pass, k)
			if logs[k] > logs[best.from] {
				best.from = k
			}
		}
		return logSum(logs) - math.Log(float64(len(logs))), best
	}
	near, nearest := 0, math.Inf(1)
	for k, g := range x.grades {
		sum := 0.0
		for _, i := range of {
			z := (r.looks[i].at - g.by[i].at) / math.Hypot(r.usual[i], g.by[i].noise)
			sum += z * z
		}
		if sum < nearest {
			near, nearest = k, sum
		}
	}
	w, ok := r.about(x.grades[near], of)
	if !ok {
		return math.Inf(-1), stretch{}
	}
	off := make([][]float64, len(x.grades))
	for k, g := range x.grades {
		off[k] = w.whitened(r.missed(g, of))
	}
	along := make([]float64, len(x.grades))
	for k, g := range x.grades {
		if along[k] = math.Log(max(g.x, least)); len(x.Faults) > 0 && x.Faults[0].drifts {
			along[k] = -math.Exp(-math.Abs(along[k]) / usualDrift)
		}
	}
	pieces, best := pathOf(along, off)
	x.weighing = w
	w.off = between2(off, best)
	w.at = make([]float64, len(of))
	next := min(best.from+1, len(x.grades)-1)
	for k, i := range of {
		w.at[k] = (1-best.along)*x.grades[best.from].by[i].at + best.along*x.grades[next].by[i].at
	}
	// The whole, and the whole but one.
	n := float64(len(of))
	logs := []float64{math.Log(1-misread) + w.lost + pieces}
	wide := pieces + best.square/2 // how much of the path meets them so
	z := w.unwhitened(w.off)
	for k, i := range of {
		without := best.square - z[k]*z[k]/w.spared[k]
		logs = append(
			logs,
			math.Log(misread/n)+w.lost-math.Log(w.spared[k])/2+math.Log(2*math.Pi)/2-without/2+wide-math.Log(r.looks[i].width()),
		)
	}
	return logSum(logs) + r.words(x, pass, best.nearest()), best
}

// nearest is the grade that is nearest.
func (s stretch) nearest() int { return s.from + int(s.along+0.5) }

// words is how likely what was found in words is with a grade.
func (r *ranking) words(x *Ranked, pass, at int) float64 {
	sum := 0.0
	for i := range r.looks {
		if l := &r.looks[i]; r.pass(l) <= pass && (l.what == Checked || l.what == Shape) {
			sum += l.likely(&x.grades[at].by[i])
		}
	}
	return sum
}

// between2 is a point of a path.
func between2(off [][]float64, at stretch) []float64 {
	out := slices.Clone(off[at.from])
	if at.from+1 < len(off) {
		for i := range out {
			out[i] += at.along * (off[at.from+1][i] - out[i])
		}
	}
	return out
}

// pathOf is the logarithm of the mean of exp(−d²/2) over a path of whitened distances, and where that is best. At is
// how much of all severities comes before each grade, in any measure.
func pathOf(at []float64, off [][]float64) (log float64, best stretch) {
	dot := func(a, b []float64) float64 {
		sum := 0.0
		for i := range a {
			sum += a[i] * b[i]
		}
		return sum
	}
	best.square = dot(off[0], off[0])
	if len(off) == 1 {
		return -best.square / 2, best
	}
	best.square = math.Inf(1)
	whole := math.Abs(at[len(at)-1] - at[0])
	var logs []float64
	for k := range len(off) - 1 {
		step := make([]float64, len(off[k]))
		for i := range step {
			step[i] = off[k][i] - off[k+1][i]
		}
		a, b, c := dot(step, step), dot(off[k], step), dot(off[k], off[k])
		along := 0.0
		if a > 1e-12 {
			along = max(0, min(1, b/a))
		}
		square := max(0, c-2*b*along+a*along*along)
		wide := 1.0
		if slope := math.Abs(a*along - b); slope > 1e-6 { // the best lies at an end
			wide = -math.Expm1(-slope) / slope
		} else if a > 1e-6 {
			root := math.Sqrt(a / 2)
			wide = math.Sqrt(math.Pi/(2*a)) * (math.Erf(root*(1-along)) + math.Erf(root*along))
		}
		share := math.Abs(at[k+1]-at[k]) / whole
		logs = append(logs, -square/2+math.Log(max(wide, 1e-300)*share))
		if square < best.square {
			best = stretch{k, along, square, a}
		}
	}
	return logSum(logs), best
}

func squared(v []float64) float64 {
	sum := 0.0
	for _, x := range v {
		sum += x * x
	}
	return sum
}

func logSum(logs []float64) float64 {
	most := slices.Max(logs)
	if math.IsInf(most, -1) {
		return most
	}
	sum := 0.0
	for _, l := range logs {
		sum += math.Exp(l - most)
	}
	return most + math.Log(sum)
}
