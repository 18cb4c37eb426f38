package trace

import (
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// A signal may be right in one aspect and wrong in another: the carrier is there and its
// modulation absent, the level is right and the frequency off. A reading speaks of its own
// aspect; what was heard or seen good speaks of all of them.

// aspectOf is what a reading of the signal speaks of: AC stands for the level.
func aspectOf(q sheet.Quantity) sheet.Quantity {
	switch q {
	case sheet.Frequency, sheet.Deviation, sheet.Distortion:
		return q
	}
	return sheet.AC
}

// ofSignal tells whether a quantity is one of the signal's, so that it speaks of the way up
// to where it is read.
func ofSignal(q sheet.Quantity) bool {
	return q == sheet.AC || q == sheet.Power || aspectOf(q) != sheet.AC
}

// carrierHz is the frequency from which on a level is that of a carrier: what modulates it
// shows in its deviation only.
const carrierHz = 100e3

// carrier tells whether the level at a position of a route says nothing of the modulation.
func (f *finder) carrier(r *sheet.Route, at int) bool {
	_, modulated := f.Plan.Expect(r.Points[at], sheet.Deviation, r.Mode)
	return modulated || r.Levels[at].Hz >= carrierHz
}

// levelTells tells whether a good level at a position of a route speaks of an aspect too.
func (f *finder) levelTells(r *sheet.Route, at int, aspect sheet.Quantity) bool {
	switch aspect {
	case sheet.AC:
		return true
	case sheet.Deviation:
		return !f.carrier(r, at)
	}
	return false
}

// clears tells whether a good reading shows what is on its way good in an aspect.
func (f *finder) clears(j *Judged, aspect sheet.Quantity) bool {
	switch own := aspectOf(j.Reading.Quantity); {
	case own != sheet.AC:
		return own == aspect
	case j.Reading.Word != quantity.NoWord:
		return true
	}
	return f.levelTells(j.route, j.at, aspect)
}

// spoiled lists the aspects besides the level in which evidence shows the signal bad.
func spoiled(evidence []*Judged) []sheet.Quantity {
	var out []sheet.Quantity
	for _, j := range evidence {
		if a := aspectOf(j.Reading.Quantity); a != sheet.AC && j.Verdict.Bad() && j.at > j.from && !slices.Contains(out, a) {
			out = append(out, a)
		}
	}
	return out
}

// ask settles which aspect has to be read further: another than the level only where no
// fault of the level would explain the evidence.
func (f *finder) ask() {
	f.asked = sheet.AC
	if bad := spoiled(f.evidence); len(bad) > 0 && !slices.Contains(f.narrowIn(sheet.AC, f.evidence), true) {
		f.asked = bad[0]
	}
}

// readAt is what is read at a position of a route to tell of the aspect asked for; ok is false
// where nothing is known there to compare it with.
func (f *finder) readAt(r *sheet.Route, at int) (q sheet.Quantity, ok bool) {
	if f.asked != sheet.AC {
		if _, stated := f.Plan.Expect(r.Points[at], f.asked, r.Mode); stated {
			return f.asked, true
		}
		if !f.levelTells(r, at, f.asked) {
			return f.asked, false
		}
	}
	return sheet.AC, f.comparable(r, at)
}

// besideLevel tells whether a fault of a block with an effect would spoil an aspect and leave
// a good level as it is.
func (f *finder) besideLevel(j *Judged, block int, e effect, aspect sheet.Quantity) bool {
	switch aspect {
	case sheet.Frequency:
		return e == offTune
	case sheet.Distortion:
		return e == distorting
	}
	// The modulation: of what comes before the carrier, or is no stage.
	if block >= len(f.Plan.Stages) || f.levelTells(j.route, j.at, aspect) {
		return false
	}
	at, ok := j.route.At(f.Plan.Stages[block].From)
	return !ok || !f.carrier(j.route, at)
}

// speaksOf tells whether a good reading speaks against a block failing with an effect.
func (f *finder) speaksOf(j *Judged, block int, e effect, bad []sheet.Quantity) bool {
	switch own := aspectOf(j.Reading.Quantity); {
	case own == sheet.Frequency:
		return e == offTune
	case own == sheet.Distortion:
		return e == distorting
	case own != sheet.AC:
		return f.besideLevel(j, block, e, own) || e == dead || e == weak
	case j.Reading.Word != quantity.NoWord:
		return true
	}
	return !slices.ContainsFunc(bad, func(a sheet.Quantity) bool { return f.besideLevel(j, block, e, a) })
}
