package circuit

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/floats"
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
	factor mat.Cholesky
	lower  mat.TriDense
	lost   float64   // logarithm of the density at its top
	spared []float64 // of the inverse, its diagonal
	at     []float64 // what is predicted where the readings are met best
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
	if !w.factor.Factorize(c) {
		return nil, false
	}
	w.factor.LTo(&w.lower)
	w.lost = -w.factor.LogDet()/2 - float64(n)/2*math.Log(2*math.Pi)
	var inverse mat.SymDense
	if w.factor.InverseTo(&inverse) != nil {
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

// square is how long a vector over the looks is in its spreads, squared.
func (w *weighing) square(v []float64) float64 {
	u := w.whitened(v)
	return floats.Dot(u, u)
}

// predictions are what a grade predicts of some looks, on the scale on which they are weighed.
func (g *grade) predictions(of []int) []float64 {
	out := make([]float64, len(of))
	for k, i := range of {
		out[k] = g.by[i].at
	}
	return out
}

// missed is how far what was read is off what a grade predicts.
func (r *ranking) missed(g *grade, of []int) []float64 {
	out := g.predictions(of)
	for k, i := range of {
		out[k] = r.looks[i].at - out[k]
	}
	return out
}

// alone is how far off one reading by itself is, roughly: in the spreads that it has where all is in order.
func (r *ranking) alone(g *grade, look int) float64 {
	return (r.looks[look].at - g.by[look].at) / math.Hypot(r.usual[look], g.by[look].noise)
}

// stretch is the piece of a path on which the readings are met best: from a grade to the next, so far along.
type stretch struct {
	from   int
	along  float64
	square float64 // how far off, in spreads, squared
	span   float64 // the whole piece, in spreads
}

// meet tells how likely one is by the readings up to a pass, and of which severity. It is minus infinity where nothing
// is predicted.
func (r *ranking) meet(x *Ranked, pass int) {
	of := r.together(pass)
	if len(of) == 0 {
		r.meetWords(x, pass)
		return
	}
	near, nearest := 0, math.Inf(1)
	for k, g := range x.grades {
		sum := 0.0
		for _, i := range of {
			z := r.alone(g, i)
			sum += z * z
		}
		if sum < nearest {
			near, nearest = k, sum
		}
	}
	w, ok := r.about(x.grades[near], of)
	if !ok {
		x.log, x.best = math.Inf(-1), stretch{}
		return
	}
	x.weighing = w
	off, along := make([][]float64, len(x.grades)), make([]float64, len(x.grades))
	for k, g := range x.grades {
		off[k] = w.whitened(r.missed(g, of))
		if along[k] = math.Log(max(g.x, least)); len(x.Faults) > 0 && x.Faults[0].drifts {
			along[k] = -math.Exp(-math.Abs(along[k]) / usualDrift)
		}
	}
	var pieces float64
	pieces, x.best = pathOf(along, off)
	next := x.grades[min(x.best.from+1, len(x.grades)-1)]
	w.at = mixed(x.grades[x.best.from].predictions(of), next.predictions(of), x.best.along)
	x.told = logOrMisread(r, w, pieces, x.best.square)
	x.log = x.prior + x.told + r.words(x, pass, x.best.nearest())
}

// logOrMisread is the logarithm of how likely the readings are: all of them, by the mean over a path, or all but one
// that was misread.
func logOrMisread(r *ranking, w *weighing, path, square float64) float64 {
	n := len(w.of)
	off := mat.NewVecDense(n, nil)
	for k, i := range w.of {
		off.SetVec(k, r.looks[i].at-w.at[k])
	}
	var z mat.VecDense
	if w.factor.SolveVecTo(&z, off) != nil {
		return math.Inf(-1)
	}
	logs := []float64{math.Log(1-misread) + w.lost + path}
	wide := path + square/2 // how much of the path meets them so
	for k, i := range w.of {
		without := square - z.AtVec(k)*z.AtVec(k)/w.spared[k]
		density := w.lost - math.Log(w.spared[k])/2 + math.Log(2*math.Pi)/2 - without/2 // of the others
		logs = append(logs, math.Log(misread/float64(n))+density+wide-math.Log(r.looks[i].width()))
	}
	return floats.LogSumExp(logs)
}

// meetWords does so where all that was found so far are words: the mean over the grades.
func (r *ranking) meetWords(x *Ranked, pass int) {
	x.weighing, x.best = &weighing{}, stretch{}
	logs := make([]float64, len(x.grades))
	for k := range logs {
		logs[k] = r.words(x, pass, k)
	}
	x.best.from = floats.MaxIdx(logs)
	x.log = x.prior + floats.LogSumExp(logs) - math.Log(float64(len(logs)))
}

// nearest is the grade that is nearest.
func (s stretch) nearest() int { return s.from + int(s.along+0.5) }

// inside tells whether they are met between two grades.
func (s stretch) inside() bool { return s.along > atGrade && s.along < 1-atGrade }

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

// mixed is so much of the way from one vector to another.
func mixed(a, b []float64, share float64) []float64 {
	out := slices.Clone(a)
	floats.Scale(1-share, out)
	floats.AddScaled(out, share, b)
	return out
}

// pathOf is the logarithm of the mean of exp(−d²/2) over a path of whitened distances, and where that is best. At is
// how much of all severities comes before each grade, in any measure.
func pathOf(at []float64, off [][]float64) (log float64, best stretch) {
	best.square = floats.Dot(off[0], off[0])
	if len(off) == 1 {
		return -best.square / 2, best
	}
	best.square = math.Inf(1)
	whole := math.Abs(at[len(at)-1] - at[0])
	var logs []float64
	for k := range len(off) - 1 {
		step := floats.SubTo(make([]float64, len(off[k])), off[k], off[k+1])
		a, b, c := floats.Dot(step, step), floats.Dot(off[k], step), floats.Dot(off[k], off[k])
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
	return floats.LogSumExp(logs), best
}
