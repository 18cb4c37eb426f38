package trace

import (
	"fmt"
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Where the manual is silent the good channel stands in: what its twin reads is
// what a point should read, as long as something else shows that channel good.

// standIns judges what the sheet does not, by the readings of twins.
func (c Case) standIns(judged []Judged) {
	for i := range judged {
		c.standIn(&judged[i], judged)
	}
}

// JudgeAmong judges a reading beside those that were taken: a twin's may stand in.
func (c Case) JudgeAmong(readings []Reading, r Reading) Judged {
	readings = c.OfRound(readings)
	judged := make([]Judged, 0, len(readings)+1)
	for _, x := range append(slices.Clone(readings), r) {
		judged = append(judged, c.Judge(x))
	}
	j := &judged[len(readings)]
	c.standIn(j, judged)
	return *j
}

// standIn judges a reading that the sheet has no value for by its twin.
func (c Case) standIn(j *Judged, judged []Judged) {
	r := &j.Reading
	point, ok := c.Plan.PointIndex(r.Point)
	if !ok || j.Verdict != Unjudged || r.Word != quantity.NoWord || len(r.Without) > 0 || c.Plan.Points[point].Twin < 0 ||
		c.stated(point, r.Quantity, j) {
		return
	}
	twin := c.Plan.Points[point].Twin
	name := c.Plan.Points[twin].Name
	t := c.twinReading(twin, r, judged)
	switch {
	case t == nil:
		j.Note = fmt.Sprintf("the sheet is silent here: read its twin %s too, and it stands in", name)
		return
	case !c.shownGood(twin, r.Mode, judged):
		j.Note = fmt.Sprintf("its twin %s reads %s, but nothing shows that channel good: read its exit too", name, t.Understood)
		return
	}
	j.Twin = name
	by := fmt.Sprintf("the sheet is silent here: judged by its twin %s", name)
	switch r.Quantity {
	case sheet.AC:
		if t.LevelDBV == nil || j.route == nil {
			return
		}
		j.Note = by
		rms, err := r.rms(j.route.Levels[j.at].Shape)
		if err != nil {
			return
		}
		if rms > 0 {
			j.LevelDBV = number(quantity.DB(rms, 1))
		}
		j.judgeAgainst(*t.LevelDBV, twinLevels, j.route.Levels[j.at].Shape)
	case sheet.DC, sheet.Resistance:
		j.Note = by
		j.compare(t.Reading.SI, r.Quantity.Unit(), twinValues)
	}
}

// stated tells whether the sheet has a value for what was read, so that only its
// conditions kept it from being judged.
func (c Case) stated(point int, q sheet.Quantity, j *Judged) bool {
	if q == sheet.AC {
		return j.route == nil || j.route.Levels[j.at].Known
	}
	_, ok := c.Plan.Expect(point, q, j.Reading.Mode)
	return ok
}

// twinReading is the latest reading of a twin under the same conditions.
func (c Case) twinReading(twin int, r *Reading, judged []Judged) *Judged {
	level := func(in *Injection) Injection {
		if in == nil {
			return Injection{}
		}
		return Injection{Level: in.Level, Hz: in.Hz, Touch: in.Touch}
	}
	for i := len(judged) - 1; i >= 0; i-- {
		x := &judged[i].Reading
		at, ok := c.Plan.PointIndex(x.Point)
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
func (c Case) shownGood(point int, mode string, judged []Judged) bool {
	return slices.ContainsFunc(judged, func(x Judged) bool {
		if x.Reading.Struck || x.Verdict != Within || x.Twin != "" || x.route == nil || x.Reading.Mode != mode ||
			len(x.Reading.Without) > 0 ||
			x.Reading.Quantity != sheet.AC {
			return false
		}
		at, ok := x.route.At(point)
		return ok && x.from <= at && at <= x.at
	})
}

// twinLevel stands in for a level: what a twin reads at a position of a route, in dB
// against 1 V rms; false where none does.
func (f *finder) twinLevel(route *sheet.Route, at int) (dbv float64, name string, ok bool) {
	twin := f.Plan.Points[route.Points[at]].Twin
	if twin < 0 || route.Levels[at].Known || !f.shownGood(twin, route.Mode, f.judged) {
		return 0, "", false
	}
	t := f.twinReading(twin, &Reading{Quantity: sheet.AC, Mode: route.Mode, Injected: f.Injected}, f.judged)
	if t == nil || t.LevelDBV == nil {
		return 0, "", false
	}
	return *t.LevelDBV, f.Plan.Points[twin].Name, true
}

// twinGround: the same place in the other channel is good, so that what is read
// here is not how the set is built.
func (f *finder) twinGround(at int) (Ground, bool) {
	twin := f.Plan.Points[f.Route.Points[at]].Twin
	if twin < 0 {
		return Ground{}, false
	}
	i := slices.IndexFunc(f.Plan.Routes, func(r sheet.Route) bool {
		_, on := r.At(twin)
		return on && r.Mode == f.Route.Mode
	})
	if i < 0 {
		return Ground{}, false
	}
	name := f.Plan.Points[twin].Name
	g := Ground{
		Key:      "twin",
		Text:     fmt.Sprintf("Its twin %s in the other channel is good", name),
		Proof:    Lacking,
		Point:    name,
		Quantity: f.bestRead(twin),
		Route:    f.Plan.Routes[i].Key,
	}
	for _, j := range f.evidence {
		if j.Reading.Point != name || j.Reading.Mode != f.Route.Mode || len(j.Reading.Without) > 0 {
			continue
		}
		if g.Proof, g.Because = Shown, reads(j); j.Verdict.Bad() {
			g.Proof, g.Because = Against, reads(j)+": look for what both channels share"
		}
	}
	if g.Proof == Lacking && f.shownGood(twin, f.Route.Mode, f.judged) {
		g.Proof, g.Because = Shown, "that channel was read good further on"
	}
	return g, true
}

// bestRead is what is read at a point: its level where the sheet states that or anything can
// be heard, else the frequency that it states.
func (f *finder) bestRead(point int) sheet.Quantity {
	_, level := f.Plan.Expect(point, sheet.AC, f.Route.Mode)
	if _, hz := f.Plan.Expect(point, sheet.Frequency, f.Route.Mode); hz && !level {
		return sheet.Frequency
	}
	return sheet.AC
}

// judgeAgainst judges a level against what is expected of it, in dB against 1 V rms.
func (j *Judged) judgeAgainst(expected float64, t quantity.Tolerance, shape quantity.Shape) {
	j.ExpectedDBV = number(expected)
	j.Expected = sheet.LevelText(expected, j.Reading.Form, shape)
	if j.LevelDBV == nil {
		j.Verdict = Absent
		return
	}
	off := *j.LevelDBV - expected
	j.OffDB, j.Off = number(off), quantity.SignedDB(off)
	switch {
	case off > t.High:
		j.Verdict = High
	case off < -absentDB:
		j.Verdict = Absent
	case off < -t.Low:
		j.Verdict = Low
	default:
		j.Verdict = Within
	}
}
