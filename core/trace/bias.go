package trace

import (
	"math"
	"slices"

	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// A DC voltage, a resistance, a current or a temperature read at a point speaks of the stages that meet
// there and of what feeds them, and less of their neighbours, to which they may
// be coupled directly. It weighs; it never clears a stage, since many faults
// leave the bias alone.

// biasPieces lists what readings at points say that are not of the signal; of
// each place and quantity the latest counts.
func (f *finder) biasPieces() []piece {
	var out []piece
	for i := range f.judged {
		j := &f.judged[i]
		q := j.Reading.Quantity
		point, ok := f.Plan.PointIndex(j.Reading.Point)
		if !ok || q.OfSignal() || q == sheet.Provocation || j.Reading.Struck || j.Superseded || j.Verdict == reading.Unjudged {
			continue
		}
		own := f.Plan.StagesAt(point)
		row := func(share float64) *[effects]float64 {
			var l [effects]float64
			for e := range effects {
				bad := misread + (1-misread)*share*shifts[e]
				if !j.Verdict.Bad() {
					bad = 1 - bad
				}
				l[e] = math.Log(bad)
			}
			return &l
		}
		here, near, far := row(1), row(coupled), row(0)
		out = append(out, piece{judged: j, times: j.Times, row: func(block int) *[effects]float64 {
			switch line := block - len(f.Plan.Stages); {
			case slices.Contains(own, block):
				return here
			case line >= 0:
				if slices.ContainsFunc(own, func(k int) bool {
					return slices.ContainsFunc(f.Plan.Stages[k].Lines, func(l int) bool { return slices.Contains(f.Plan.Feeds(l), line) })
				}) {
					return here
				}
			case slices.ContainsFunc(own, func(k int) bool { return f.beside(k, block) }):
				return near
			}
			return far
		}})
	}
	return out
}
