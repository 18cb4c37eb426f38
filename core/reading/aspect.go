package reading

import (
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// A signal may be right in one aspect and wrong in another: the carrier is there and its
// modulation absent, the level is right and the frequency off. A reading speaks of its own
// aspect; what was heard or seen good speaks of all of them.

// carrierHz is the frequency from which on a level is that of a carrier: what modulates it
// shows in its deviation only.
const carrierHz = 100e3

// carrier tells whether the level at a position of a route says nothing of the modulation.
func (b Bench) Carrier(r *sheet.Route, at int) bool {
	_, modulated := b.Plan.Expect(r.Points[at], sheet.Deviation, r.Mode)
	return modulated || r.Levels[at].Hz >= carrierHz
}

// levelTells tells whether a good level at a position of a route speaks of an aspect too.
func (b Bench) LevelTells(r *sheet.Route, at int, aspect sheet.Quantity) bool {
	switch aspect {
	case sheet.AC:
		return true
	case sheet.Deviation:
		return !b.Carrier(r, at)
	}
	return false
}

// clears tells whether a good reading shows what is on its way good in an aspect.
func (b Bench) Clears(j *Judged, aspect sheet.Quantity) bool {
	switch own := j.Reading.Quantity.Aspect(); {
	case own != sheet.AC:
		return own == aspect
	case j.Reading.Word != quantity.NoWord:
		return true
	}
	return b.LevelTells(j.Route, j.At, aspect)
}

// ReadAt is what is read at a position of a route to tell of the aspect asked for; ok is false
// where nothing is known there to compare it with.
func (b Bench) ReadAt(r *sheet.Route, at int, asked sheet.Quantity, judged []Judged) (q sheet.Quantity, ok bool) {
	if asked != sheet.AC {
		if _, stated := b.Plan.Expect(r.Points[at], asked, r.Mode); stated {
			return asked, true
		}
		if !b.LevelTells(r, at, asked) {
			return asked, false
		}
	}
	return sheet.AC, b.Comparable(r, at, judged)
}

// byWords tells whether every point of a route is judged by eye and ear: nothing is known of any level
// on its way, and what enters it begins by itself or is only known as usual of such sets. (Where a
// generator feeds a set of unknown levels, feeding it in further down tells more.)
func (b Bench) byWords(r *sheet.Route) bool {
	if len(r.Levels) == 0 || !b.Plan.Points[r.Points[0]].Source && r.Levels[0].Source != sheet.Usual {
		return false
	}
	return !slices.ContainsFunc(r.Levels[1:], func(l sheet.Level) bool { return l.Known })
}

// Comparable tells whether something is known to compare a level with.
func (b Bench) Comparable(r *sheet.Route, at int, judged []Judged) bool {
	if r.Levels[at].Known || b.byWords(r) {
		return true
	}
	_, _, ok := b.TwinLevel(r, at, judged)
	return ok
}
