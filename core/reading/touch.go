package reading

import (
	"fmt"
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Touching from the exit backwards needs no instrument: a finger or the tip brings hum in, and
// what is heard at the exit says whether all behind the point still amplifies.

// touchPeak is the highest voltage to ground (V peak) at which a point may be
// touched: the ripple-free DC that IEC 61140 counts as extra-low voltage in dry
// conditions is 60 V, halved for damp hands and for the pulses a sheet leaves out.
const touchPeak = 30.0

// Untouchable says why a point must not be touched with a finger or a bare tip; empty where
// it may.
func Untouchable(p *sheet.Plan, point int) string {
	switch {
	case slices.ContainsFunc(p.Sheet.Hazards, func(h sheet.Hazard) bool { return h.Kind == "hot chassis" }):
		return "nothing is touched in a set whose chassis is connected to the mains: feed a signal in through an isolating transformer " +
			"and a capacitor rated for it"
	case p.Points[point].PeakVolts > touchPeak:
		return fmt.Sprintf(
			"up to %s here: this point must not be touched. Feed a signal in through a capacitor rated for it",
			quantity.Rounded(p.Points[point].PeakVolts, quantity.Volt),
		)
	}
	return ""
}

// touched tells whether the signal of a reading was a touch: what is heard then speaks of the way
// from there, and is no level of the exit.
func (j *Judged) Touched() bool { return j.Reading.Injected != nil && j.Reading.Injected.Touch }

// touchLeft is how much louder (dB) than the usual level at the exit a touch at a position is
// to be heard; ok is false where the sheet gives no gains from there on.
func (b Bench) TouchLeft(r *sheet.Route, from, at int) (db float64, ok bool) {
	level, ok := b.Plan.Drive(r, from, quantity.DB(touchVolts, 1), at)
	return level - r.Levels[at].DBV, ok && r.Levels[at].Known
}

// judgeTouch judges what was heard of a touch. The nearer to the exit it is
// made, the less gain is left: then weak is right.
func (b Bench) judgeTouch(j *Judged) {
	word := j.Reading.Word
	switch word {
	case quantity.NoWord:
		j.Note = "a touch has no known level: say ok, weak or none"
		return
	case quantity.OK, quantity.Hum, quantity.Noisy:
		j.Verdict = Within // the hum is the signal here
		return
	case quantity.Crackle:
		j.Verdict, j.Note = Within, "the contact itself is heard: what is behind it passes"
		return
	case quantity.Weak, quantity.Nothing:
	default:
		j.Verdict = wordVerdicts[word]
		return
	}
	if j.Route == nil {
		return
	}
	left, ok := b.TouchLeft(j.Route, j.From, j.At)
	if !ok {
		if j.Verdict = Absent; word == quantity.Weak {
			j.Verdict, j.Note = Unjudged, "the sheet gives no gains from there on: whether a touch should be louder is not known"
		}
		return
	}
	switch {
	case word == quantity.Weak && left > LoudDB:
		j.Verdict = Low
	case word == quantity.Weak:
		j.Verdict, j.Note = Within, "so near to the exit a touch is no louder"
	case left > FaintDB:
		j.Verdict = Absent
	default:
		j.Note = "so near to the exit a touch may not be heard at all"
	}
}
