// Package reference makes waveforms to compare with of what a sheet says.
package reference

import (
	"fmt"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/wave"
)

// Due describes what the sheet has due for a reading, as far as it says, and adds what
// is known of the place to its site: the supplies, and by how much the level may be off.
// Why says what keeps the waveform from being made; empty: nothing does.
func Due(b reading.Bench, r reading.Reading, site *wave.Site) (d wave.Description, why string) {
	if _, line := b.Plan.LineIndex(r.Point); line {
		return d, "a supply or a control has no waveform that the sheet describes; compare with a good capture"
	}
	due, why, ok := b.Due(r)
	if !ok {
		return d, why
	}
	for _, rail := range due.Rails {
		site.Rails = append(site.Rails, wave.Rail{Name: rail.Name, Volts: rail.Volts})
	}
	site.LowDB, site.HighDB = due.LowDB, due.HighDB
	d = wave.Description{Shape: due.Shape, Hz: due.Hz}
	pp, err := due.Shape.Convert(due.RMS, quantity.RMS, quantity.PeakPeak)
	switch {
	case err != nil:
		return d, fmt.Sprintf(
			"the sheet calls the signal here %q, which is not generated: compare with a good capture",
			string(due.Shape),
		)
	case due.Hz == 0:
		why = "the sheet gives no frequency here"
	}
	d.PeakPeak = pp
	return d, why
}
