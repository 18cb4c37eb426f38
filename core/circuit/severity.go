package circuit

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/floats"
)

// A fault of any severity is weighed by some of its grades; between them the severity that meets the readings best is
// looked for where that may matter.

const (
	// refined is how much less likely (as a logarithm) than the best a fault is whose severity is looked for closely;
	// early so while it costs little. refineSteps is how often at most; bent is by how many spreads a path may pass
	// beside what lies between its grades, and atGrade how near (of the way) to one another is not looked for.
	refined, refinedEarly = 15, 150
	refineSteps           = 6
	bent, atGrade         = 0.5, 0.02
	// mostHalved is how often the piece of the path beside a grade is halved that is further off (in spreads, squared, for each
	// reading) than farOffGrade.
	mostHalved, farOffGrade = 3, 9.0
	// told is how much less likely (as a logarithm) than the best what has drifted is whose value is told, and
	// valueNear how closely: closer than any reading tells.
	told, valueNear = 4, 0.001
)

// severity is the one that meets the readings best.
func (x *Ranked) severity() float64 {
	from := x.grades[x.best.from].x
	if x.best.from+1 >= len(x.grades) {
		return from
	}
	return from * math.Pow(x.grades[x.best.from+1].x/from, x.best.along)
}

// refine looks for the severity that meets the readings of the passes so far, until the path through the grades
// passes by what it predicts.
func (r *ranking) refine(x *Ranked, upTo int) {
	halved := 0
	for range refineSteps {
		if len(x.grades) < 2 || x.best.span < bent*bent {
			return
		}
		g := &grade{x: x.severity()}
		if !x.best.inside() { // at a grade: where that is far off, the path may turn beside it
			if halved == mostHalved || upTo > 1 || x.best.square < farOffGrade*float64(len(x.weighing.of)) {
				return
			}
			halved++
			k := min(x.best.from, len(x.grades)-2)
			x.best.from = k
			g.x = math.Sqrt(x.grades[k].x * x.grades[k+1].x)
		}
		if !r.predictUpTo(x, g, upTo) {
			return
		}
		w := x.weighing
		beside := floats.SubTo(make([]float64, len(w.of)), w.at, g.predictions(w.of))
		x.grades = slices.Insert(x.grades, x.best.from+1, g)
		r.meet(x, upTo)
		if w.square(beside) < bent*bent {
			return
		}
	}
}

// closely finds the value of what has drifted, which is told: as what is predicted is nearly straight between two
// values near it, by a few steps of Gauss and Newton along the line through the last two.
func (r *ranking) closely(x *Ranked, upTo int) {
	w := x.weighing
	at := x.best.nearest()
	near, other := x.grades[at], x.grades[max(at-1, 0)]
	if at == 0 || x.best.along > 0 && x.best.from == at {
		other = x.grades[min(at+1, len(x.grades)-1)]
	}
	low, high := math.Log(x.grades[max(at-1, 0)].x), math.Log(x.grades[min(at+1, len(x.grades)-1)].x)
	a, b := w.whitened(r.missed(near, w.of)), w.whitened(r.missed(other, w.of))
	for range refineSteps {
		step := floats.SubTo(make([]float64, len(a)), a, b)
		along, whole := floats.Dot(a, step), floats.Dot(step, step)
		if whole < 1e-18 { // nothing changes any more
			break
		}
		from := math.Log(near.x)
		to := from + along/whole*(math.Log(other.x)-from)
		g := &grade{x: math.Exp(max(min(low, high), min(max(low, high), to)))}
		if !r.predictUpTo(x, g, upTo-1) { // what has to be followed in time tells no value
			return
		}
		near, other, a, b = g, near, w.whitened(r.missed(g, w.of)), a
		if math.Abs(math.Log(near.x/other.x)) < valueNear {
			break
		}
	}
	if floats.Dot(a, a) > x.best.square+1 || !r.predict(x, near, upTo) {
		return
	}
	k := 0
	for k < len(x.grades) && (x.grades[k].x < near.x) == (x.grades[0].x < x.grades[len(x.grades)-1].x) {
		k++
	}
	x.grades = slices.Insert(x.grades, k, near)
	r.meet(x, upTo)
	x.best.from, x.best.along = k, 0 // the straight line between grades is not so close
}
