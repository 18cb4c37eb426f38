package trace

import (
	"slices"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// besideLevel tells whether a fault of a block with an effect would spoil an aspect and leave
// a good level as it is.
func (f *finder) besideLevel(j *reading.Judged, block int, e effect, aspect sheet.Quantity) bool {
	switch aspect {
	case sheet.Frequency:
		return e == offTune
	case sheet.Distortion:
		return e == distorting
	}
	// The modulation: of what comes before the carrier, or is no stage.
	if block >= len(f.Plan.Stages) || f.LevelTells(j.Route, j.At, aspect) {
		return false
	}
	at, ok := j.Route.At(f.Plan.Stages[block].From)
	return !ok || !f.Carrier(j.Route, at)
}

// speaksOf tells whether a good reading speaks against a block failing with an effect.
func (f *finder) speaksOf(j *reading.Judged, block int, e effect, bad []sheet.Quantity) bool {
	switch own := j.Reading.Quantity.Aspect(); {
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

// spoiled lists the aspects besides the level in which evidence shows the signal bad.
func spoiled(evidence []*reading.Judged) []sheet.Quantity {
	var out []sheet.Quantity
	for _, j := range evidence {
		if a := j.Reading.Quantity.Aspect(); a != sheet.AC && j.Verdict.Bad() && j.At > j.From && !slices.Contains(out, a) {
			out = append(out, a)
		}
	}
	return out
}

// ask settles which aspect has to be read further: another than the level only where no
// fault of the level would explain the evidence.
func (f *finder) ask() sheet.Quantity {
	if bad := spoiled(f.evidence); len(bad) > 0 && !slices.Contains(f.narrowIn(sheet.AC, f.evidence), true) {
		return bad[0]
	}
	return sheet.AC
}
