package reading

import (
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// now gives the position of what is fed in now on the route, and its level in
// dB against 1 V rms (nil: the sheet's own).
func (b Bench) FedNow() (from int, dbv *float64) {
	if b.Injected == nil {
		return 0, nil
	}
	k, ok := b.Plan.PointIndex(b.Injected.At)
	if !ok {
		return 0, nil
	}
	from, ok = b.Route.At(k)
	if !ok {
		return 0, nil
	}
	if b.Injected.Level > 0 {
		dbv = exchange.Finite(quantity.DB(b.Injected.Level, 1))
	}
	return from, dbv
}

// expectNow is the level expected at a position under what is fed in now;
// driven is false before the place where it is fed in.
func (b Bench) ExpectNow(at int) (dbv *float64, driven bool) {
	from, level := b.FedNow()
	l := b.Route.Levels[at]
	if !l.Known {
		return nil, at >= from
	}
	if at >= from && level != nil {
		if x, ok := b.Plan.Drive(b.Route, from, *level, at); ok {
			return exchange.Finite(x), true
		}
	}
	return exchange.Finite(l.DBV), at >= from
}

// Feeding says in words what is fed in, with the sheet's own figures where
// nothing else is set: "1 kHz, 2 mV at J2-4".
func (b Bench) Feeding() string {
	if len(b.Route.Points) == 0 {
		return "nothing: this set has no way for a signal"
	}
	from, dbv := b.FedNow()
	if start := &b.Plan.Points[b.Route.Points[from]]; start.Source {
		return "nothing: it begins by itself"
	}
	if b.Injected != nil && b.Injected.Touch {
		return "a touch at " + b.PointName(from)
	}
	level := b.Route.Levels[from]
	hz := level.Hz
	if b.Injected != nil && b.Injected.Hz > 0 {
		hz = b.Injected.Hz
	}
	var parts []string
	if hz > 0 {
		parts = append(parts, quantity.Frequency(hz))
	}
	switch {
	case dbv != nil:
		parts = append(parts, sheet.LevelText(*dbv, level.Form, level.Shape))
	case level.Known:
		parts = append(parts, level.Nominal())
	}
	return strings.TrimSpace(strings.Join(parts, ", ") + " at " + b.PointName(from))
}

// ReadInjection reads what is fed in, as typed. An empty point means the
// sheet's own signal (nil); empty texts its own level and frequency; the word
// touch for a level a touch.
func ReadInjection(at, level, frequency string) (*Injection, error) {
	if at == "" {
		return nil, nil
	}
	in := &Injection{At: at}
	if strings.EqualFold(strings.TrimSpace(level), "touch") {
		in.Touch = true
		return in, nil
	}
	if strings.TrimSpace(level) != "" {
		v, err := quantity.ParseAs(level, quantity.Volt)
		if err != nil {
			return nil, err
		}
		if in.Level, err = quantity.Sine.Convert(v.SI, v.Form, quantity.RMS); err != nil || in.Level <= 0 {
			return nil, mend.Errorf("the level fed in is an AC voltage above zero, for example 2 mV, 300 mVpp or -20dBm/50")
		}
	}
	if strings.TrimSpace(frequency) != "" {
		v, err := quantity.ParseAs(frequency, quantity.Hertz)
		if err != nil {
			return nil, err
		}
		if in.Hz = v.SI; in.Hz <= 0 {
			return nil, mend.Errorf("the frequency fed in is above zero, for example 1 kHz")
		}
	}
	return in, nil
}

// pointName is the name of a point of the route being traced, by its position.
func (b Bench) PointName(at int) string { return b.Plan.Points[b.Route.Points[at]].Name }
