package reading

import (
	"fmt"
	"slices"

	"steptrace/core/exchange"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Where the manual is silent the good channel stands in: what its twin reads is
// what a point should read, as long as something else shows that channel good.

// JudgeAmong judges a reading beside those that were taken: a twin's may stand in, the other legs of its
// part say more.
func (b Bench) JudgeAmong(readings []Reading, r Reading) Judged {
	all := append(b.OfRound(readings), r)
	return b.JudgeAll(all, nil)[len(all)-1]
}

// standIn judges a reading that the sheet has no value for by its twin.
func (b Bench) standIn(j *Judged, judged []Judged) {
	r := &j.Reading
	point, ok := b.Plan.PointIndex(r.Point)
	vague := j.Source == sheet.Usual // what a twin reads says more
	if !ok || j.Verdict != Unjudged && !vague || r.Word != quantity.NoWord || len(r.Without) > 0 || b.Plan.Points[point].Twin < 0 ||
		b.stated(point, r.Quantity, j) {
		return
	}
	twin := b.Plan.Points[point].Twin
	name := b.Plan.Points[twin].Name
	t := b.twinReading(twin, r, judged)
	switch {
	case vague && (t == nil || !b.ShownGood(twin, r.Mode, judged)):
		return
	case t == nil:
		j.Note = fmt.Sprintf("the sheet is silent here: read its twin %s too, and it stands in", name)
		return
	case !b.ShownGood(twin, r.Mode, judged):
		j.Note = fmt.Sprintf("its twin %s reads %s, but nothing shows that channel good: read its exit too", name, t.Understood)
		return
	}
	j.Twin = name
	by := fmt.Sprintf("the sheet is silent here: judged by its twin %s", name)
	if vague {
		by = fmt.Sprintf("the sheet has only what is usual: judged by its twin %s", name)
	}
	switch r.Quantity {
	case sheet.AC:
		if t.LevelDBV == nil || j.Route == nil {
			return
		}
		j.Note = by
		rms, err := r.rms(j.Route.Levels[j.At].Shape)
		if err != nil {
			return
		}
		if rms > 0 {
			j.LevelDBV = exchange.Finite(quantity.DB(rms, 1))
		}
		level := j.Route.Levels[j.At]
		level.Tolerance, level.Source = sheet.TwinLevels, sheet.FromGood
		j.judgeAgainst(*t.LevelDBV, level)
	case sheet.DC, sheet.Resistance:
		j.Note = by
		j.compare(t.Reading.SI, r.Quantity.Unit(), sheet.TwinValues, sheet.FromGood)
	}
}

// stated tells whether the sheet has a value for what was read, so that only its
// conditions kept it from being judged.
func (b Bench) stated(point int, q sheet.Quantity, j *Judged) bool {
	if q == sheet.AC {
		return j.Route == nil || firm(j.Route.Levels[j.At])
	}
	e, ok := b.Plan.Expect(point, q, j.Reading.Mode)
	return ok && e.Source != sheet.Usual
}

// firm tells whether the sheet knows a level, and not only what is usual.
func firm(l sheet.Level) bool { return l.Known && l.Source != sheet.Usual }

// twinReading is the latest reading of a twin under the same conditions.
func (b Bench) twinReading(twin int, r *Reading, judged []Judged) *Judged {
	level := func(in *Injection) Injection {
		if in == nil {
			return Injection{}
		}
		return Injection{Level: in.Level, Hz: in.Hz, Touch: in.Touch}
	}
	for i := len(judged) - 1; i >= 0; i-- {
		x := &judged[i].Reading
		at, ok := b.Plan.PointIndex(x.Point)
		if ok && at == twin && !x.Struck && x.Word == quantity.NoWord && x.Quantity == r.Quantity && x.Mode == r.Mode &&
			len(x.Without) == 0 &&
			level(x.Injected) == level(r.Injected) {
			return &judged[i]
		}
	}
	return nil
}

// shownGood tells whether a good reading at a point or behind it shows the
// channel good up to there.
func (b Bench) ShownGood(point int, mode string, judged []Judged) bool {
	return slices.ContainsFunc(judged, func(x Judged) bool {
		if x.Reading.Struck || x.Verdict != Within || x.Twin != "" || x.Route == nil || x.Reading.Mode != mode ||
			len(x.Reading.Without) > 0 ||
			x.Reading.Quantity != sheet.AC {
			return false
		}
		at, ok := x.Route.At(point)
		return ok && x.From <= at && at <= x.At
	})
}

// judgeAgainst judges a level against what is expected of it, in dB against 1 V rms. What is no more
// than usual can show a level far off, and never by how much.
func (j *Judged) judgeAgainst(expected float64, l sheet.Level) {
	j.ExpectedDBV, j.Source = exchange.Finite(expected), l.Source
	l.Form = j.Reading.Form
	j.Expected = l.TextAt(expected)
	if j.LevelDBV == nil {
		j.Verdict = Absent
		return
	}
	off := *j.LevelDBV - expected
	j.OffDB, j.Off = exchange.Finite(off), quantity.SignedDB(off)
	switch {
	case off > l.Tolerance.High:
		j.Verdict = High
	case off < -absentDB:
		j.Verdict = Absent
	case off < -l.Tolerance.Low:
		j.Verdict = Low
	default:
		j.Verdict = Within
	}
	j.vaguely()
}

// vaguely says how far off a usual value is.
func (j *Judged) vaguely() {
	if j.Source != sheet.Usual {
		return
	}
	j.Off = map[Verdict]string{High: "far too high", Low: "far too low"}[j.Verdict]
}

// TwinLevel stands in for a level: what a twin reads at a position of a route, in dB
// against 1 V rms; false where none does.
func (b Bench) TwinLevel(route *sheet.Route, at int, judged []Judged) (dbv float64, name string, ok bool) {
	twin := b.Plan.Points[route.Points[at]].Twin
	if twin < 0 || firm(route.Levels[at]) || !b.ShownGood(twin, route.Mode, judged) {
		return 0, "", false
	}
	t := b.twinReading(twin, &Reading{Quantity: sheet.AC, Mode: route.Mode, Injected: b.Injected}, judged)
	if t == nil || t.LevelDBV == nil {
		return 0, "", false
	}
	return *t.LevelDBV, b.Plan.Points[twin].Name, true
}

// BestRead is what is read at a point: its level where the sheet states that or anything can
// be heard, else the frequency that it states.
func (b Bench) BestRead(point int) sheet.Quantity {
	_, level := b.Plan.Expect(point, sheet.AC, b.Route.Mode)
	if _, hz := b.Plan.Expect(point, sheet.Frequency, b.Route.Mode); hz && !level {
		return sheet.Frequency
	}
	return sheet.AC
}
