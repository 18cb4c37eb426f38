package part

import (
	"fmt"
	"math"

	"steptrace/core/quantity"
)

var resistorKind = Check{Name: "resistor", Title: "Resistor", Caution: isolated,
	Fields: []Field{
		resistance("value", "Marked", "4k7", true),
		{Name: "tolerance", Title: "±", Hint: "5 %", unit: quantity.Ratio},
		resistance("measured", "Measured", "", true),
		resistance(
			"parallel",
			"Parallel to it",
			"in circuit: what else connects its ends",
			false,
		),
		choice("where", "Where", "out of circuit", "in circuit"),
		choice("looks", "It looks", "well", "burnt"),
	},
	judge: func(g *given) Verdict {
		marked, measured, share := g.numbers["value"], g.numbers["measured"], g.or("tolerance", 0.05)
		if marked <= 0 {
			g.wrong = &BadField{"Marked", "a resistor has more than 0 Ω"}
		}
		inside := g.texts["where"] == "in circuit"
		out := verdict(Good, "%s within its %.3g %%", inOhms(measured), 100*share)
		itself := measured
		p, beside := g.number("parallel")
		if !beside && inside && g.place.Parallel > 0 {
			p, beside = g.place.Parallel, true
		}
		if beside && !math.IsInf(p, 1) {
			inside = true
			due := marked * p / (marked + p)
			out.because("with %s parallel a good one reads %s", inOhms(p), inOhms(due))
			if off := unsure(measured, p); p-due < 2*off && measured > due-2*off && measured < p+2*off {
				out.worse(Unsure, "it cannot be judged in circuit: %s parallel to it reads so by itself", inOhms(p))
				out.because("good it would read %s, open %s, and a meter is sure to %s here", inOhms(due), inOhms(p), inOhms(off))
				out.surer("lift a leg, and read it again")
				g.wrongValue(&out, marked, quantity.Ohm, otherValue)
				return out
			}
			if measured >= p {
				itself = math.Inf(1)
			} else {
				itself = measured * p / (p - measured)
			}
			if measured < p {
				out.What = fmt.Sprintf("%s by itself, within its %.3g %%", inOhms(itself), 100*share)
			}
		}
		switch {
		case math.Abs(itself-marked) < meterOhms && !math.IsInf(itself, 1) && marked < 20*meterOhms:
			out.limit("a meter is sure to some %s: so low a value is read with four leads, or beside its twin", inOhms(meterOhms))
		case math.IsInf(itself, 1) || itself > 100*marked:
			out.worse(Bad, "open")
		case itself > marked*(1+share):
			out.worse(Bad, "drifted up: %s, %.3g %% more than %s", inOhms(itself), 100*(itself/marked-1), inOhms(marked))
			if inside && itself == measured {
				out.because("what is parallel can only make it read less")
			}
		case itself < marked*(1-share) && inside && itself == measured:
			out.worse(Unsure, "%s of %s: what is parallel may do that", inOhms(measured), inOhms(marked))
			out.surer("say what is parallel, or lift a leg")
		case itself < marked*(1-share):
			out.worse(Bad, "%s, %.3g %% less than %s", inOhms(itself), 100*(1-itself/marked), inOhms(marked))
		case inside && itself == measured:
			out.limit("in circuit it may have drifted up by as much as what is parallel hides")
		}
		if g.texts["looks"] == "burnt" {
			out.worse(Unsure, "it is burnt: ask why before it is renewed")
		}
		g.wrongValue(&out, marked, quantity.Ohm, otherValue)
		return out
	}}

var windingKind = Check{
	Name:    "winding",
	Title:   "Winding, coil, transformer",
	Caution: isolated + " A transformer tested with a voltage gives others at its other windings: they may be dangerous.",
	Fields: []Field{
		resistance("ohms", "Resistance", "", true),
		resistance("should", "Should be", "by the manual or the twin", false),
		resistance("parallel", "Parallel to it", "in circuit: what else connects its ends", false),
		{Name: "henry", Title: "Inductance", unit: quantity.Henry},
		{
			Name:  "henryshould",
			Title: "Should be",
			Hint:  "inductance, by the manual or the twin",
			unit:  quantity.Henry,
		},
		{Name: "in", Title: "Fed with", Hint: "AC volts on this winding", unit: quantity.Volt},
		{
			Name:  "out",
			Title: "Gives",
			Hint:  "AC volts on the other",
			unit:  quantity.Volt,
		},
		{Name: "ratio", Title: "Ratio should be", Hint: "other to this", unit: quantity.None},
		{
			Name:  "rings",
			Title: "Rings",
			Hint:  "swings until it falls to a tenth",
			unit:  quantity.None,
		},
		resistance("earth", "To the core", "insulation", false),
	},
	judge: func(g *given) Verdict {
		r := g.numbers["ohms"]
		out := verdict(Good, "nothing is wrong with it by these readings")
		should, known := g.number("should")
		if !known && g.place.Value > 0 && g.place.Kind == "inductor" {
			should, known = g.place.Value, true
		}
		p, beside := g.number("parallel")
		if !beside && g.place.Parallel > 0 {
			p, beside = g.place.Parallel, true
		}
		beside = beside && !math.IsInf(p, 1)
		if beside && known {
			due := should * p / (should + p)
			out.because("with %s parallel a good one reads %s", inOhms(p), inOhms(due))
			if off := unsure(r, p); math.Abs(r-p) < 2*off && p-due > 3*off {
				out.worse(Bad, "open: %s is what is parallel to it", inOhms(r))
				return out
			}
			should = due
		}
		off := unsure(r, 0)
		switch {
		case r > 1e6:
			out.worse(Bad, "open")
		case beside && !known && math.Abs(r-p) < 2*unsure(r, p):
			out.worse(Unsure, "it cannot be told from what is parallel to it: %s", inOhms(p))
			out.surer("lift one end: a resistor across a winding reads as the winding")
		case known && math.Abs(r-should) > 0.2*should && math.Abs(r-should) < 2*off:
			out.worse(Unsure, "%s or %s: a meter is sure to %s", inOhms(r), inOhms(should), inOhms(off))
			out.surer("read it with four leads, or beside its twin")
		case known && r > 1.2*should:
			out.worse(Bad, "%s is more than %s: a joint of it, or some strands, are open", inOhms(r), inOhms(should))
		case known && r < 0.8*should:
			out.worse(Bad, "%s is less than %s: turns are shorted, or something is parallel", inOhms(r), inOhms(should))
			out.surer("lift one end: a resistor across a winding reads as the winding")
		case known:
			out.because("%s, %s is due", inOhms(r), inOhms(should))
		}
		if l, ok := g.number("henry"); ok {
			if due, ok := g.number("henryshould"); ok && l < due/2 {
				out.worse(
					Bad,
					"its inductance is %s of %s: turns are shorted",
					quantity.Rounded(l, quantity.Henry),
					quantity.Rounded(due, quantity.Henry),
				)
			}
		}
		if a, ok := g.number("in"); ok && a > 0 {
			if b, ok := g.number("out"); ok {
				ratio := b / a
				if due, ok := g.number("ratio"); ok && math.Abs(ratio/due-1) > 0.1 {
					out.worse(Bad, "its ratio is %.3g, not %.3g: turns are shorted or missing", ratio, due)
				} else {
					out.because("its ratio is %.3g", ratio)
				}
			}
		}
		if n, ok := g.number("rings"); ok && n < 5 {
			out.worse(Bad, "it rings %.3g times: a good one rings five times and more, a shorted turn damps it", n)
		}
		if e, ok := g.number("earth"); ok && e < 2e6 {
			out.worse(Bad, "its insulation to the core is %s: 2 MΩ are the least (IEC 62368-1 asks more of what is touched)", inOhms(e))
		}
		if _, ok := g.number("rings"); !ok && out.Judgement == Good {
			out.limit("a single shorted turn hardly changes its resistance")
			out.surer("let it ring with a capacitor across it, or compare its inductance with the twin's")
		}
		return out
	},
}

var speakerKind = Check{Name: "speaker", Title: "Loudspeaker", Caution: "Disconnect it from the set. Test tones quietly.",
	Fields: []Field{
		resistance("nominal", "Nominal impedance", "8", true),
		resistance("ohms", "DC resistance", "", true),
		choice("sounds", "Moved by hand", "freely", "scrapes"),
		choice("plays", "Plays", "clean", "rattles", "not at all"),
	},
	judge: func(g *given) Verdict {
		n, r := g.numbers["nominal"], g.numbers["ohms"]
		out := verdict(Good, "%s, as a loudspeaker of %s has", inOhms(r), inOhms(n))
		out.limit("whether it bears its power does not show here")
		switch { // IEC 60268-5: impedance nowhere below 80 % of the rated; the coil has less still
		case r > 50*n:
			out.worse(Bad, "its coil, or a lead to it, is open")
		case r < 0.4*n:
			out.worse(Bad, "%s: turns of its coil are shorted", inOhms(r))
		case r < 0.6*n || r > 1.05*n:
			out.worse(Unsure, "%s is not that of one of %s, which has %s to %s", inOhms(r), inOhms(n), inOhms(0.6*n), inOhms(1.05*n))
			out.surer("read its marking: it may be another, or there is a transformer or a crossover in between")
		}
		if g.texts["sounds"] == "scrapes" {
			out.worse(Bad, "its coil scrapes in the gap")
		}
		switch g.texts["plays"] {
		case "rattles":
			out.worse(Bad, "it rattles: its cone, its surround or a lead is loose")
		case "not at all":
			out.worse(Unsure, "it does not play")
			out.surer("feed it a quiet tone directly: then it is the speaker or its feed")
		case "":
			out.surer("move its cone by hand, and sweep it with a quiet tone")
		}
		return out
	}}

var fuseKind = Check{
	Name:    "fuse",
	Title:   "Fuse",
	Caution: isolated + " Renew it by the same rating and kind alone; a fuse that blew had a reason.",
	Fields: []Field{
		resistance("ohms", "Resistance", "out of its holder", true),
		{Name: "amps", Title: "Rated", Hint: "1 A", unit: quantity.Ampere},
		choice("looks", "It looks", "whole", "parted", "blackened", "silvered"),
	},
	judge: func(g *given) Verdict {
		r := g.numbers["ohms"]
		out := verdict(Good, "it conducts: %s", inOhms(r))
		// The voltage drop at rated current that IEC 60127-2 allows, as resistance cold.
		most := 10.0
		if a, ok := g.number("amps"); ok && a > 0 {
			most = math.Max(1/a, 0.2)
		}
		switch {
		case r > 1e3:
			out.worse(Bad, "it has blown")
		case r > most:
			out.worse(Unsure, "%s is much for it", inOhms(r))
			out.surer("compare it with a new one of its rating; clean its ends")
		}
		switch g.texts["looks"] {
		case "blackened", "silvered":
			out.because("it went at once and with much current: look for a short before another is put in")
		case "parted":
			out.because("it parted quietly: an overload, or age")
		}
		if out.Judgement == Bad {
			out.surer("why it blew: ohms of what it feeds, before power goes on again")
		}
		return out
	},
}

var thermistorKind = Check{Name: "thermistor", Title: "Thermistor", Caution: isolated + " It is hot after the set has run.",
	Fields: []Field{
		{Name: "kind", Title: "Kind", Choices: []string{"ntc", "ptc"}, Needed: true},
		resistance("r25", "At 25 °C", "marked", true),
		{Name: "b", Title: "B", Hint: "of an NTC, 3500 where it is not known", unit: quantity.None},
		{
			Name:   "temperature",
			Title:  "Temperature",
			Hint:   "now, in °C",
			Needed: true,
			unit:   quantity.None,
		},
		resistance("ohms", "Resistance", "", true),
	},
	judge: func(g *given) Verdict {
		t, r, r25 := g.numbers["temperature"], g.numbers["ohms"], g.numbers["r25"]
		if t < -40 || t > 250 {
			g.wrong = &BadField{"Temperature", fmt.Sprintf("%g °C cannot be here", t)}
		}
		due, share := r25, 0.5
		if g.texts["kind"] == "ntc" { // R = R25·exp(B·(1/T − 1/298.15))
			due, share = r25*math.Exp(g.or("b", 3500)*(1/(t+273.15)-1/298.15)), 0.25
		}
		out := verdict(Good, "%s, where %s is due at %g °C", inOhms(r), inOhms(due), t)
		switch {
		case r > 100*due && g.texts["kind"] == "ntc", math.IsInf(r, 1):
			out.worse(Bad, "open")
		case r < due*(1-share):
			out.worse(Bad, "%s is less than %s, which is due at %g °C", inOhms(r), inOhms(due), t)
		case r > due*(1+share):
			out.worse(Bad, "%s is more than %s, which is due at %g °C", inOhms(r), inOhms(due), t)
		}
		out.surer("warm it with your fingers or a hair dryer: an NTC falls, a PTC rises")
		return out
	}}

var crystalKind = Check{
	Name:    "crystal",
	Title:   "Crystal, resonator",
	Caution: "Out of circuit, by a tester or between generator and scope.",
	Fields: []Field{
		{Name: "nominal", Title: "Marked", Hint: "4 MHz", Needed: true, unit: quantity.Hertz},
		{Name: "hz", Title: "Resonates at", Hint: "where the most passes", unit: quantity.Hertz},
		{
			Name:  "ppm",
			Title: "± ppm",
			Hint:  "50; a ceramic one 5000",
			unit:  quantity.None,
		},
		resistance("series", "Series resistance", "at resonance", false),
		resistance("ohms", "DC resistance", "", false),
	},
	judge: func(g *given) Verdict {
		n := g.numbers["nominal"]
		out := verdict(Good, "nothing is wrong with it by these readings")
		if r, ok := g.number("ohms"); ok && r < 1e6 {
			out.worse(Bad, "it conducts direct current (%s): it is damp or shorted", inOhms(r))
		}
		hz, ok := g.number("hz")
		allowed := g.or("ppm", 200)
		switch {
		case ok && hz == 0:
			out.worse(Bad, "it does not resonate: it is dead")
		case ok:
			off := (hz/n - 1) * 1e6
			if math.Abs(off) > allowed {
				out.worse(Bad, "it resonates %.0f ppm from %s", off, quantity.Rounded(n, quantity.Hertz))
				out.limit("its load capacitance pulls it by some hundred ppm: by how much is in its data")
			} else {
				out.because("it resonates %.0f ppm from what is marked", off)
			}
		default:
			out.worse(Unsure, "nothing shows yet whether it resonates")
			out.surer("feed it through 1 kΩ, and find where the most passes")
		}
		most := math.Max(30, 500/math.Sqrt(n/1e5)) // Ω: as makers commonly state it, more for lower frequencies
		if r, ok := g.number("series"); ok && r > most {
			out.worse(Bad, "its series resistance of %s is above %s: it starts badly or not at all", inOhms(r), inOhms(most))
		}
		if b := g.place.Value; b > 0 && math.Abs(n/b-1) > 2e-3 {
			out.other(
				"wrong part fitted: one of %s where %s belongs",
				quantity.Rounded(n, quantity.Hertz),
				quantity.Rounded(b, quantity.Hertz),
			)
		}
		return out
	},
}
