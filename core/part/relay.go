package part

import (
	"fmt"
	"math"
	"strings"

	"steptrace/core/quantity"
)

// relayKind finds which of a relay's circle fails: its supply, its driver or the logic before
// that, its clamp diode, its coil, its contact.
var relayKind = Check{
	Name:  "relay",
	Title: "Relay",
	Caution: "Coil, diode and contact: power off, mains plug out, reservoirs shown empty. Supply and drive are read live: one hand, " +
		"insulated clip; contacts may carry mains. Follow local rules.",
	Fields: []Field{
		{
			Name:  "volts",
			Title: "Coil for",
			Hint:  "24 V, as marked",
			unit:  quantity.Volt,
		}, choice("coil", "Coil for current that is", "dc", "ac"),
		resistance(
			"rated",
			"Coil by its data",
			"resistance",
			false,
		), {Name: "watts", Title: "or its power", Hint: "0.5 W", unit: quantity.Watt},
		resistance("ohms", "Coil measured", "one end free", false),
		{
			Name:  "supply",
			Title: "Supply is",
			Hint:  "what the set feeds it",
			unit:  quantity.Volt,
		}, choice("feeds", "Supply gives", "dc", "ac"),
		{
			Name:  "upper",
			Title: "At the coil's supply end",
			Hint:  "live, while it should pull",
			unit:  quantity.Volt,
		}, {Name: "lower", Title: "At the driver's end", Hint: "live, while it should pull", unit: quantity.Volt},
		{Name: "drive", Title: "At the driver's base or gate", Hint: "live, while it should pull", unit: quantity.Volt},
		diodeTest(
			"clamp",
			"Clamp diode forward",
			"relay's coil lifted",
			false,
		), diodeTest("clampback", "Clamp diode backward", "", false),
		choice(
			"clicks",
			"Does it click",
			"yes",
			"no",
			"cannot be told",
		), resistance("made", "Contact, pulled", "", false), resistance("open", "Contact, at rest", "", false),
		choice("jumper", "Contact bridged by a wire", "cures it", "changes nothing")},
	judge: relay,
}

const (
	// mostFed is how many times its volts a coil bears for long, a DC one and one for AC.
	mostFed, mostFedAC = 1.5, 1.2
	pullShare          = 0.75 // of its volts, a relay pulls at (IEC 61810-1: at 80 % at the latest, warm)
	drivenTo           = 0.2  // of the supply is left at a driver that is on, at most
	onBase             = 0.55 // V: a bipolar driver has at its base when it is told to pull
	madeOhms           = 0.1  // of a contact that is clean (IEC 61810-7 takes 100 mΩ)
	poorOhms           = 1.0
	weldOhms           = 10.0
	// A DC coil of a small relay turns this much into heat; an AC coil's resistance is only a
	// part of what holds its current back.
	leastWatts, mostWatts = 0.1, 3.0
	acShareLow, acShare   = 0.15, 0.7
)

// nominals are the volts that coils are wound for.
var nominals = []float64{3, 5, 6, 9, 12, 24, 48, 60, 110}

// Fits lists the nominal voltages that a DC coil of so many ohms can be for, by the power it
// then has.
func Fits(ohms float64) (volts []float64) {
	for _, v := range nominals {
		if w := v * v / ohms; w >= leastWatts && w <= mostWatts {
			volts = append(volts, v)
		}
	}
	return volts
}

func relay(g *given) Verdict {
	out := verdict(Good, "nothing is wrong with it by these readings")
	read := false
	g.coil(&out, &read)
	g.driven(&out, &read)
	g.clamp(&out, &read)
	g.contact(&out, &read)
	if !read {
		out.worse(Unsure, "nothing was read yet")
		out.surer("its coil first, one end free: that needs no power")
	}
	return out
}

// coil judges the coil by its resistance, and whether it is one for this place at all.
//
// Long: the rules of the check, in the order in which they count.
func (g *given) coil(out *Verdict, read *bool) {
	r, ok := g.number("ohms")
	if !ok {
		return
	}
	*read = true
	volts, known := g.number("volts")
	rated, stated := g.number("rated")
	if w, ok := g.number("watts"); ok && !stated && known && w > 0 && g.texts["coil"] != "ac" {
		rated, stated = volts*volts/w, true
	}
	switch {
	case math.IsInf(r, 1) || r > 200e3:
		out.worse(Bad, "coil: open")
		return
	case r < 0.5:
		out.worse(Bad, "coil: shorted")
		return
	case stated && r > 1.25*rated:
		out.worse(Bad, "coil: %s is more than its %s: it breaks inside, or is another coil", inOhms(r), inOhms(rated))
	case stated && r < 0.8*rated:
		out.worse(Bad, "coil: %s is less than its %s: turns are shorted, or it is another coil", inOhms(r), inOhms(rated))
	case stated:
		out.because("the coil has %s, %s are rated", inOhms(r), inOhms(rated))
	}
	if fits := Fits(r); len(fits) > 0 {
		var names []string
		for _, v := range fits {
			names = append(names, fmt.Sprintf("%g V (%s)", v, quantity.Rounded(v*v/r, quantity.Watt)))
		}
		out.because("as a DC coil %s fits %s", inOhms(r), strings.Join(names, ", "))
	}
	supply, hasSupply := g.number("supply")
	fed := hasSupply
	if !hasSupply {
		supply, hasSupply = volts, known
	}
	if g.texts["coil"] == "ac" && g.texts["feeds"] == "dc" && hasSupply {
		out.worse(
			Bad,
			"the wrong relay: its coil is for alternating current, and is fed with direct current. At %s it takes %s",
			inVolts(supply),
			quantity.Rounded(supply/r, quantity.Ampere),
		)
	}
	if g.texts["coil"] == "dc" && g.texts["feeds"] == "ac" {
		out.worse(Bad, "the wrong relay: its coil is for direct current: on alternating current it hums and does not hold")
	}
	// An AC coil that gets too much saturates and burns sooner than a DC one.
	most := mostFed
	if g.texts["coil"] == "ac" {
		most = mostFedAC
	}
	if known && fed && (supply < pullShare*volts || supply > most*volts) {
		out.worse(Bad, "the wrong relay: its coil is for %s, the set feeds it %s", inVolts(volts), inVolts(supply))
	}
	if b := g.place.Value; b > 0 && !stated && (r > 1.25*b || r < 0.8*b) {
		out.other("wrong part fitted: a coil of %s where one of %s belongs", inOhms(r), inOhms(b))
	}
	if g.texts["coil"] == "" || !known || !fed || g.texts["feeds"] == "" {
		out.limit(
			"that its coil fits the set shows only with all four: for DC or AC, for how many volts, and what the set feeds it of both",
		)
		if out.Judgement == Good && !stated && g.place.Value == 0 {
			out.worse(Unsure, "its coil has %s; whether it is one for this place is not known yet", inOhms(r))
			out.surer("what the coil is for, DC or AC and volts, and what the set feeds it")
		}
	}
	if hasSupply && g.texts["coil"] != "ac" && g.texts["feeds"] != "ac" {
		if w := supply * supply / r; w > 2*mostWatts {
			out.worse(
				Bad,
				"the wrong relay: on %s its coil would turn %s into heat. It may be one for alternating current, fitted by somebody",
				inVolts(supply),
				quantity.Rounded(w, quantity.Watt),
			)
		} else if w < leastWatts/2 {
			out.worse(Bad, "the wrong relay: on %s its coil gets %s, too little "+
				"to pull", inVolts(supply), quantity.Rounded(w, quantity.Watt))
		}
	}
	if g.texts["coil"] == "ac" && known {
		out.limit(
			"an AC coil's resistance is only a part of what holds its current back: %s to %s of its impedance",
			percent(acShareLow),
			percent(acShare),
		)
	}
}

func percent(x float64) string { return fmt.Sprintf("%.0f %%", 100*x) }

// driven judges what feeds the coil while it should pull.
func (g *given) driven(out *Verdict, read *bool) {
	upper, hasUpper := g.number("upper")
	lower, hasLower := g.number("lower")
	drive, hasDrive := g.number("drive")
	supply, hasSupply := g.number("supply")
	if !hasSupply {
		supply, hasSupply = g.number("volts")
	}
	*read = *read || hasUpper || hasLower
	if hasUpper && hasSupply && upper < pullShare*supply {
		out.worse(Bad, "supply: %s arrive at the coil, %s are due", inVolts(upper), inVolts(supply))
		return
	}
	if !hasLower {
		return
	}
	full := upper
	if !hasUpper {
		if full = supply; !hasSupply {
			out.surer("the volts at the coil's supply end, at the same time")
			return
		}
	}
	off := lower > drivenTo*full
	switch {
	case off && hasDrive && drive < onBase:
		out.worse(Bad, "logic: the driver is not told to pull: %s at its base", inVolts(drive))
		out.surer("follow the line that commands it: a protection circuit may hold it back, and rightly")
	case off && hasDrive:
		out.worse(Bad, "driver: told to pull (%s at its base), it leaves %s at the coil", inVolts(drive), inVolts(lower))
		out.surer("check the driver transistor out of circuit")
	case off:
		out.worse(Unsure, "driver or logic: %s are left at the driver's end, it is not pulled down", inVolts(lower))
		out.surer("the volts at the driver's base or gate, at the same time")
	case g.texts["clicks"] == "no" && hasUpper:
		out.worse(Bad, "coil: it has %s across it and does not pull", inVolts(full-lower))
	default:
		out.because("the coil gets %s", inVolts(full-lower))
	}
}

// clamp judges the diode across the coil.
func (g *given) clamp(out *Verdict, read *bool) {
	f, ok := g.number("clamp")
	if !ok {
		return
	}
	*read = true
	b := g.or("clampback", math.Inf(1))
	switch {
	case f < shorted || b < shorted:
		out.worse(Bad, "clamp diode: shorted: the driver feeds it, not the coil, and may have failed with it")
	case math.IsInf(f, 1):
		out.worse(Bad, "clamp diode: open: what the coil gives back at switching off reaches the driver")
	case b <= mostDouble:
		out.worse(Unsure, "clamp diode: conducts both ways")
		out.limit("the coil across it reads so: lift one end")
	default:
		out.because("the clamp diode conducts one way")
	}
}

// contact judges the contact. That a relay clicks does not show that it connects.
func (g *given) contact(out *Verdict, read *bool) {
	made, hasMade := g.number("made")
	rest, hasRest := g.number("open")
	*read = *read || hasMade || hasRest || g.texts["jumper"] != ""
	switch {
	case hasRest && rest < weldOhms:
		out.worse(Bad, "contact: welded or stuck: %s at rest", inOhms(rest))
	case hasMade && made > 1e3:
		out.worse(Bad, "contact: pulled, it does not connect")
	case hasMade && made > poorOhms:
		out.worse(Bad, "contact: %s when pulled: burnt or tarnished", inOhms(made))
	case hasMade && made > madeOhms:
		out.worse(Unsure, "contact: %s when pulled is much", inOhms(made))
		out.surer("subtract what the leads have; read it several times, pulled anew: a good one repeats")
	case hasMade:
		out.because("the contact has %s when pulled", inOhms(made))
	}
	if g.texts["jumper"] == "cures it" {
		out.worse(Bad, "contact: a wire across it cures the set")
	} else if g.texts["clicks"] == "yes" && !hasMade && g.texts["jumper"] == "" {
		out.limit("one that clicks may still not connect")
		out.surer("ohms across its contact, pulled; or a wire across it, where what it switches allows that")
	}
}
