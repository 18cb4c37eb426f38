package part

import (
	"math"

	"steptrace/core/quantity"
)

// What two of a pair may be apart, as shares: of their currents, and of their gains where each has its own drive or where they
// share one. Figures of the trade; between the two the place decides.
const (
	apartGood, apartMost           = 0.10, 0.25
	gainApartShared, gainMostShare = 0.20, 0.50
	gatesApart                     = 0.05 // of the volts of two gates, where nothing shares and their slope is not known
)

// thermal is kT/q (V) at 25 °C, where two lie on the bench; a circuit is computed warmer (package circuit).
const thermal = 0.02569

// unlike is how far the currents of two junctions are apart at the same drive, as a share of their mean: from
// ΔV = kT/q · ln(I1/I2) + R·(I1 − I2), with the current in each and the resistor that each has of its own (textbook: emitter
// resistors that share a current). By halving, since it only rises.
func unlike(volts, amps, ohms float64) float64 {
	low, high := 0.0, 1-1e-12 // half the difference, as a share of the mean
	for range 60 {
		x := (low + high) / 2
		if thermal*math.Log((1+x)/(1-x))+2*amps*ohms*x < volts {
			low = x
		} else {
			high = x
		}
	}
	return 2 * low
}

var pairKind = Check{
	Name:  "pair",
	Title: "Pair, matched",
	Caution: isolated + " Both as warm as each other and read alike, at the same current: a junction loses 2 mV a degree, and a finger " +
		"on one of them is worth ten degrees.",
	Fields: []Field{
		{Name: "kind", Title: "Kind", Choices: []string{"bipolar", "fet", "diode"}, Needed: true},
		{
			Name:    "use",
			Title:   "They work as",
			Choices: []string{"differential input", "in parallel", "push-pull"},
			Needed:  true,
		},
		{Name: "amps", Title: "Current in each", Hint: "5 mA", unit: quantity.Ampere},
		{Name: "volts1", Title: "Volts of the one", Hint: "base, gate, or drop", unit: quantity.Volt, signed: true},
		{Name: "volts2", Title: "Volts of the other", Hint: "at the same current", unit: quantity.Volt, signed: true},
		{Name: "ohms", Title: "Resistor of each", Hint: "emitter, source: 0.22", unit: quantity.Ohm},
		{Name: "gain1", Title: "Gain of the one", Hint: "bipolar: at that current", unit: quantity.None},
		{Name: "gain2", Title: "Gain of the other", unit: quantity.None},
	},
	judge: judgePair,
}

func judgePair(g *given) Verdict {
	out := verdict(Good, "a pair")
	bothVolts, bothGains := g.both("volts1", "volts2"), g.both("gain1", "gain2")
	use, kind := g.texts["use"], g.texts["kind"]
	if !bothVolts && !bothGains && g.wrong == nil {
		g.wrong = &BadField{"Volts or gains", "read one of them on both parts, at the same current"}
	}
	if bothVolts {
		judgeVolts(g, &out, use, kind)
	}
	if bothGains {
		judgeGains(g, &out, use)
	} else if kind == "bipolar" {
		out.limit("their gains were not read: what drives them is loaded by the one with the lower")
	}
	return out
}

// judgeVolts compares the volts at the same current: what they make of a common drive.
func judgeVolts(g *given, out *Verdict, use, kind string) {
	one, other := math.Abs(g.numbers["volts1"]), math.Abs(g.numbers["volts2"])
	apart, ohms, amps := math.Abs(one-other), g.numbers["ohms"], g.numbers["amps"]
	if use == "push-pull" {
		out.because("%s apart: the bias is set for both together, so that does not matter much here", inVolts(apart))
		return
	}
	var share float64
	switch {
	case ohms > 0 && amps <= 0:
		g.wrong = &BadField{"Current in each", "how much the resistors make up for depends on it"}
		return
	case kind != "fet":
		share = unlike(apart, amps, ohms)
	case ohms > 0: // a gate's volts change little with its current: the resistors take the difference
		share = apart / (ohms * amps)
	default:
		out.limit(
			"how far apart their currents are by %s depends on their slope: read it, or put a resistor into each source",
			inVolts(apart),
		)
		if apart > gatesApart*one {
			out.worse(Unsure, "%s apart: more than a twentieth of the %s", inVolts(apart), inVolts(one))
		}
		return
	}
	says := quantity.Rounded(100*share, quantity.None) + " %"
	if share < 0.01 {
		says = "less than 1 %"
	}
	out.because("%s apart at the same current: at the same drive their currents are %s apart", inVolts(apart), says)
	switch {
	case share > apartMost:
		out.worse(Bad, "no pair: their currents would be %s apart, and %g %% is the most", says, 100*apartMost)
	case share > apartGood:
		out.worse(Unsure, "their currents would be %s apart: %g %% is good, %g %% the most", says, 100*apartGood, 100*apartMost)
		out.surer("read them again side by side, as warm as each other; the place decides what it bears")
	}
	if use == "differential input" {
		out.because("as an offset at the input that is %s", inVolts(apart))
	}
}

// judgeGains compares the gains at the same current.
func judgeGains(g *given, out *Verdict, use string) {
	one, other := g.numbers["gain1"], g.numbers["gain2"]
	if !(one > 0) || !(other > 0) {
		g.wrong = &BadField{"Gain", "a gain is more than 0"}
		return
	}
	good, most := apartGood, apartMost
	if use == "in parallel" {
		good, most = gainApartShared, gainMostShare
	}
	apart := math.Abs(one-other) / ((one + other) / 2)
	out.because("gains of %.3g and %.3g: %.2g %% apart", one, other, 100*apart)
	switch {
	case apart > most:
		out.worse(Bad, "no pair: their gains are %.2g %% apart, and %g %% is the most here", 100*apart, 100*most)
	case apart > good:
		out.worse(Unsure, "their gains are %.2g %% apart: %g %% is good here, %g %% the most", 100*apart, 100*good, 100*most)
	}
}

// both tells whether two readings that belong together are there; one without the other is said.
func (g *given) both(one, other string) bool {
	_, a := g.numbers[one]
	_, b := g.numbers[other]
	if a != b {
		g.wrong = &BadField{"One and the other", "both are needed, read alike"}
	}
	return a && b
}
