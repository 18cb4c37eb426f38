package reading

import (
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Due is the signal that a good set shows at a point: its shape, level (V rms),
// frequency (Hz; 0 where the sheet does not say), how far (dB, below and above) it may
// be off, and the supplies of the stage that gives it.
type Due struct {
	Shape         quantity.Shape
	RMS, Hz       float64
	LowDB, HighDB float64
	Rails         []*sheet.PlanRail
}

// Due works out what the instrument of a reading would show on a good set under the
// reading's conditions; or why it is not known.
func (b Bench) Due(r Reading) (d Due, why string, ok bool) {
	j := Judged{Reading: r}
	point, ok := b.Plan.PointIndex(r.Point)
	if !ok {
		return d, (&UnknownPoint{r.Point}).Error(), false
	}
	b.place(&j, point)
	switch {
	case j.Route == nil:
		return d, "no route passes this point in this mode, with what is fed in", false
	case r.Injected != nil && r.Injected.Touch:
		return d, "a touch has no known level", false
	case b.opensLoop(&j):
		return d, "with the loop open the sheet's levels do not hold", false
	}
	dbv, why, ok := b.expectLevel(&j, InstrumentFor(r.Instrument), b.Plan.Points[point].SourceOhms)
	if !ok {
		return d, why, false
	}
	level := j.Route.Levels[j.At]
	d = Due{Shape: level.Shape, RMS: quantity.Times(dbv), Hz: level.Hz, LowDB: level.Tolerance.Low, HighDB: level.Tolerance.High}
	if j.At > 0 {
		for _, rail := range b.Plan.Stages[j.Route.Stages[j.At-1]].Rails {
			if rail := &b.Plan.Rails[rail]; !rail.Alternates {
				d.Rails = append(d.Rails, rail)
			}
		}
	}
	return d, "", true
}
