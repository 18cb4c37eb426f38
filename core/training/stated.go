package training

import (
	"fmt"
	"math"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/trace"
	"steptrace/core/wave"
)

// Besides levels and volts a good set shows what its sheet states, and one with a fault what is left of it.

// asStated is what is read at a point of a quantity that only a sheet knows of: its power and its deviation by what is left of the signal
// there, its distortion by its waveform, its current and its warmth by the stage. Errors can be mended by a person.
func (b *Bench) asStated(c trace.Case, stand standin.Stand, point string, q sheet.Quantity) (string, error) {
	at, ok := b.Plan.PointIndex(point)
	if !ok {
		return "", mend.Errorf("only volts and ohms are read at %s", point)
	}
	unstated := mend.Errorf(
		"the sheet states no %s at %s, and a set that is practised on is known by its sheet: read its level",
		q,
		point,
	)
	e, stated := b.Plan.Expect(at, q, stand.Mode)
	switch q {
	case sheet.Distortion:
		return b.distortion(stand, point, e)
	case sheet.Current:
		if amps, ok := b.Set.Amps(point, stand); ok {
			return fmt.Sprintf("%.*g A", figures, amps), nil
		}
	case sheet.Temperature:
		if degrees, ok := b.Set.Warmth(point, stand); ok {
			return fmt.Sprintf("%.0f °C", degrees), nil
		}
	case sheet.Power:
		if stated {
			left := b.leftAt(driven(c, stand, e), point)
			return fmt.Sprintf("%.*g W", figures, e.Value.SI*left*left), nil
		}
	case sheet.Deviation:
		if stated {
			return b.deviation(c, stand, point, &e)
		}
	}
	return "", unstated
}

// driven is how the set stands with what the sheet drives it with for something that it states.
func driven(c trace.Case, stand standin.Stand, e sheet.Expected) standin.Stand {
	if e.DriveV > 0 && len(c.Route.Points) > 0 && stand.Fed != nil {
		fed := *stand.Fed
		fed.RMS = e.DriveV
		stand.Fed = &fed
	}
	return stand
}

// leftAt is what is left of the signal at a point, of a good set's.
func (b *Bench) leftAt(stand standin.Stand, point string) float64 {
	return rms(b.Set, point, stand) / rms(b.Good, point, stand)
}

// ownShare is how much of what its sheet allows at the most a good set distorts.
const ownShare = 0.5

// settles is after how many samples what the band's edges do to the beginning of a signal is below all that a meter for distortion shows.
const settles = 2000

// distortion is what a meter shows that takes the fundamental away: what the waveform has, and what a good set has of its own.
func (b *Bench) distortion(stand standin.Stand, point string, e sheet.Expected) (string, error) {
	rate, n := glance(b.Good.Hz(point, stand))
	ch := wave.Channel{Unit: "V", Samples: b.Set.Waveform(point, stand, rate, settles+n, 0)[settles:]}
	f := ch.Measure(rate, wave.Site{Mains: mains})
	x, ok := f.Find("thdn")
	if !ok || ch.RMS() < quantity.Times(-silentDB)*rms(b.Good, point, stand) {
		return "", mend.Errorf("nothing that repeats is there, so that no distortion can be read. Read the level: it says none")
	}
	return fmt.Sprintf("%.2g %%", 100*math.Hypot(x.Value, ownShare*e.Value.SI)), nil
}

// deviation is by how far a carrier is swung: by what is left of what swings it, where there is a carrier at all.
func (b *Bench) deviation(c trace.Case, stand standin.Stand, point string, e *sheet.Expected) (string, error) {
	at, _ := b.Plan.PointIndex(point)
	last, ok := c.Route.At(at)
	if !ok {
		return "", mend.Errorf("%s is not on the way that is traced: choose one that passes it (key w)", point)
	}
	if b.leftAt(stand, point) < quantity.Times(-silentDB) {
		return "", mend.Errorf("no carrier is there, so that no deviation can be read. Read the level: it says none")
	}
	first := last
	for first > 0 && c.Carrier(c.Route, first) {
		first--
	}
	left := 1.0
	if before := b.Plan.Points[c.Route.Points[first]].Name; first < last {
		left = b.leftAt(stand, before)
	}
	return fmt.Sprintf("%.*g Hz", figures, e.Value.SI*left), nil
}

// feltRise is by how much a hand feels that something is warmer (K).
const feltRise = 6.0

// shorted is what is read on a rail's copper, or of what hangs on it, while a limited current is fed in; false where none is.
func (b *Bench) shorted(c trace.Case, name string) (text string, ok bool) {
	if !Fed(c) {
		return "", false
	}
	in := c.Injected
	if _, ok := b.Plan.PlaceIndex(name); ok {
		return fmt.Sprintf("%.4g mV", 1e3*b.Set.Along(name, in.At, in.Level)), true
	}
	if b.Plan.CanBeOut(name) && len(b.Plan.FuseRails(name)) == 0 {
		felt := quantity.Cold
		if b.Set.Fed(name, in.At, in.Level) > roomDegrees+feltRise {
			felt = quantity.Warm
		}
		return string(felt), true
	}
	return "", false
}
