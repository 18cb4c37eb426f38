package trace

import (
	"math"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// A word that comes from a waveform says more than its verdict: where it clips, at what frequency it hums. That makes some
// kinds of block likelier than others among those whose fault shows that verdict at all (hints).

// rowOf is which row of the shares a kind of stage has.
func rowOf(kind string) string {
	if sheet.IsContact(kind) {
		return "contact"
	}
	switch kind {
	case "amplifier", "mixer", "detector":
		return "amplifier"
	case "control":
		return "control"
	case "oscillator", "filter", "equaliser", "aerial":
		return "tuned"
	}
	return "passive"
}

// rowOfBlock is that of any block.
func rowOfBlock(p *sheet.Plan, block int) string {
	switch kind := kindOf(p, block); {
	case block >= len(p.Stages): // a rail, or a control
		return kind
	default:
		return rowOf(kind)
	}
}

// hinted gives how many times likelier a block makes what a reading's waveform shows; nil where it shows nothing of that kind.
func (f *finder) hinted(j *reading.Judged) func(block int) float64 {
	seen, ok := quantity.SeenIn(j.Reading.Text)
	times := hints[seen.Detail]
	if !ok || times == nil || j.Reading.Word != seen.Word() {
		return nil
	}
	supply := f.supplyHint(j, seen)
	return func(block int) float64 {
		row := rowOfBlock(f.Plan, block)
		t := 1.0
		if x, ok := times[row]; ok {
			t = x
		}
		if row == "rail" {
			t *= supply
		}
		return t
	}
}

// supplyHint is how many times likelier a supply is at fault by where a signal clips: against the highest supply that the
// stage before the point has. 1 where nothing is known of either.
func (f *finder) supplyHint(j *reading.Judged, seen quantity.Seen) float64 {
	point, ok := f.Plan.PointIndex(j.Reading.Point)
	if !ok || seen.At.Unit != quantity.Volt || seen.Detail != quantity.ClippedTop && seen.Detail != quantity.ClippedBoth {
		return 1
	}
	highest := 0.0
	for i := range f.Plan.Stages {
		if s := &f.Plan.Stages[i]; s.To == point {
			for _, r := range s.Rails {
				if rail := &f.Plan.Rails[r]; !rail.Alternates {
					highest = max(highest, rail.Volts)
				}
			}
		}
	}
	switch {
	case highest <= 0 || seen.At.SI <= 0:
		return 1
	case seen.At.SI < farBelow*highest:
		return supplyLow
	case seen.At.SI > nearSupply*highest:
		return supplyHas
	}
	return 1
}

// hint weighs a likelihood (a logarithm) by how many times likelier the block makes what is seen: a misreading, whose share is
// given, says nothing of that.
func hint(log, misreading, times float64) float64 {
	whole := math.Exp(log)
	own := max(whole-misreading, 0)
	return math.Log(own*times + whole - own)
}
