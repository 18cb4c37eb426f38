package part

import (
	"math"

	"steptrace/core/quantity"
)

// mostAcross is what a good one has at most (Ω), with the meter's own digit on top: a new relay contact
// has 0.1 (IEC 61810-1, its type test), a worn one that still carries a signal a few tenths;
// 10 cm of track 1 mm wide, 35 µm of copper, has 0.05; a joint has nothing that a hand meter
// sees.
var mostAcross = map[string]float64{"joint": 0.1, "track": 0.3, "wire": 0.3, "contact": 0.5, "plug": 0.2}

var continuityKind = Check{
	Name:    "continuity",
	Title:   "Continuity: joint, track, contact",
	Caution: isolated + " Touch the meter's leads together first, and subtract what they show.",
	Fields: []Field{
		choice("across", "Across", "joint", "track", "wire", "contact", "plug"),
		resistance("ohms", "Ohms across it", "0.1, or OL", true),
		resistance(
			"moved",
			"Ohms while it is flexed or worked",
			"OL now and then",
			false,
		),
		choice("looks", "It looks", "whole", "ringed or dull", "cracked", "dark", "green"),
	},
	judge: func(g *given) Verdict {
		across := g.texts["across"]
		most, known := mostAcross[across]
		if !known {
			across, most = "joint", 0.5
		}
		most += meterOhms
		ohms := g.numbers["ohms"]
		out := verdict(Good, "it conducts: %s", inOhms(ohms))
		switch {
		case math.IsInf(ohms, 1):
			out.worse(Bad, "it is open")
		case ohms > 10*most:
			out.worse(Bad, "%s across %s: it hardly conducts", inOhms(ohms), article(across))
		case ohms > most:
			out.worse(
				Unsure,
				"%s is much for %s, which has %s at most",
				inOhms(ohms),
				article(across),
				quantity.Rounded(most, quantity.Ohm),
			)
			out.surer("four wires, or millivolts across it at a known current: a hand meter ends at %s", inOhms(meterOhms))
		}
		if moved, ok := g.number("moved"); ok && moved > 2*ohms+most {
			out.worse(Bad, "%s while it is moved: it comes and goes", inOhms(moved))
		}
		switch g.texts["looks"] {
		case "cracked":
			out.worse(Bad, "it is cracked, whatever the meter shows")
		case "ringed or dull", "dark", "green":
			out.worse(
				Unsure,
				"it looks %s: it may conduct for the meter and not for a signal, or not when it is warm",
				g.texts["looks"],
			)
		}
		if out.Judgement == Good {
			out.limit("A meter's small current finds a way where the set's does not, or not when it is warm: flex it, and read again.")
		}
		if p := g.place.Parallel; p > 0 && p < 10*most {
			out.worse(Unsure, "what else connects its ends has %s: it cannot be judged in circuit", quantity.Rounded(p, quantity.Ohm))
			out.surer("lift one end")
		}
		return out
	},
}
