package training

import (
	"slices"

	"steptrace/core/reading"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// What is unsafe is stopped before it is done, with what would have happened. These are the usual dangers; local codes and licensed
// practice stand above them.

// electrical are the cautions that have to be heeded before a probe goes into a set that is on, with what happens to who does not.
var electrical = map[string]string{
	"mains": "Your hand, or a tip that slips, would have met the mains: a shock that can kill, and a flash that takes the track with it.",
	"hot chassis": "The ground lead would have put the mains to earth through itself: a flash, and the chassis live under your hands. " +
		"Such a set is read behind an isolating transformer only.",
	"reservoir": "A charged capacitor would have gone off through whatever touched it: a burn, a welded tip, a start that knocks " +
		"the hand into worse.",
	"high voltage": "Some hundred volts would have met the hand or the meter. The probe is placed with the set off.",
	"pulses":       "The pulse would have gone through the probe: it kills probes, and who holds them.",
}

// Fed tells whether a limited current is fed into a rail's copper, with the set off.
func Fed(c trace.Case) bool {
	if c.Injected == nil || c.Injected.Level <= 0 {
		return false
	}
	_, place := c.Plan.PlaceIndex(c.Injected.At)
	_, rail := c.Plan.RailIndex(c.Injected.At)
	return place || rail
}

// Dark tells whether a set as it stands gives nothing to be read: it is off, and neither ohms are read nor is a current fed in.
func Dark(c trace.Case, power *safety.Power, aim reading.Aim) bool {
	return aim.Quantity != sheet.Resistance && power.State != safety.Live && !Fed(c)
}

// Unsafe says what would have happened had a reading been taken as the set stands; empty where nothing would.
func Unsafe(c trace.Case, power *safety.Power, aim reading.Aim) (what, would string) {
	live := power.Reading().Live()
	if Fed(c) || aim.Quantity == sheet.Resistance {
		if what, would = whileOff(power, Fed(c)); what != "" || !live {
			return what, would
		}
	}
	if !live {
		return "", ""
	}
	point, isPoint := c.Plan.PointIndex(aim.Point)
	if isPoint && c.Injected != nil && c.Injected.Touch {
		if touched, ok := c.Plan.PointIndex(c.Injected.At); ok {
			if why := reading.Untouchable(c.Plan, touched); why != "" {
				return "a finger on " + c.Injected.At, "You would have had it through your hand: " + why + "."
			}
		}
	}
	if isPoint {
		if why := c.Refused(point, c.Route.Mode); why != "" {
			return "this instrument at " + aim.Point, "The instrument would not have survived it: " + why + "."
		}
	}
	b := bookkeeping{plan: c.Plan}
	if isPoint && b.outside(point) && aim.Quantity != sheet.Provocation {
		return "", "" // from outside nothing inside is reached
	}
	for _, caution := range safety.Cautions(c.Plan) {
		happens, is := electrical[caution.Key]
		if is && !slices.ContainsFunc(power.Ticked, func(t safety.Tick) bool { return t.Key == caution.Key }) {
			return "inside the live set, before “" + caution.Title + "” was seen to", happens
		}
	}
	return "", ""
}

// whileOff says what would have happened had ohms been read, or a current been fed into a rail, as the set stands: both are for one
// that is off and empty.
func whileOff(power *safety.Power, fed bool) (what, would string) {
	switch {
	case power.Reading().Live() && fed:
		return "a current fed into a live rail", "The bench supply and the set's own would have met on the copper: the weaker of " +
			"them gone, and with the set's what hangs on it."
	case power.Reading().Live():
		return "ohms in a live set", "The meter's ohms range would have met the set's volts: its fuse gone at best, the meter at worst, " +
			"and the reading worth nothing."
	case power.State != safety.Discharged && len(power.Reservoirs) > 0:
		return "a meter across it before the capacitors were empty", "What is left in the reservoirs would have gone through it. " +
			"Switched off is not discharged: measure what is left."
	}
	return "", ""
}
