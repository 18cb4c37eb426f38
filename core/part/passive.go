package part

import (
	"fmt"
	"math"

	"steptrace/core/quantity"
)

var capacitorKind = Check{
	Name:    "capacitor",
	Title:   "Capacitor",
	Caution: isolated + " Discharge it through a resistor, and measure that it is empty, before a meter touches it.",
	Fields: []Field{{Name: "kind", Title: "Kind", Choices: []string{"aluminium", "tantalum", "film", "ceramic"}, Needed: true},
		{
			Name:   "value",
			Title:  "Marked",
			Hint:   "47 µF",
			Needed: true,
			unit:   quantity.Farad,
		}, {Name: "volts", Title: "Rated", Hint: "63 V", unit: quantity.Volt},
		{
			Name:  "tolerance",
			Title: "±",
			Hint:  "20 %",
			unit:  quantity.Ratio,
		}, {Name: "measured", Title: "Measured", Hint: "capacitance", unit: quantity.Farad},
		{
			Name:  "esr",
			Title: "ESR",
			Hint:  "series resistance",
			unit:  quantity.Ohm,
			open:  true,
		}, {Name: "hz", Title: "ESR or D read at", Hint: "100 kHz", unit: quantity.Hertz},
		{
			Name:  "d",
			Title: "D",
			Hint:  "dissipation factor, tan δ",
			unit:  quantity.None,
			most:  100,
		}, {Name: "leakage", Title: "Leakage", Hint: "after some minutes", unit: quantity.Ampere},
		{
			Name:  "at",
			Title: "Leakage read at",
			Hint:  "volts across it",
			unit:  quantity.Volt,
		}, resistance("ohms", "Ohms across it", "after it has charged; "+
			"OL: open", false), choice("looks", "It looks", "well", "bulged", "leaking"), choice("where", "Where", "out of circuit",
			"in circuit")},
	judge: capacitor,
}

// dissipation is the greatest tan δ at 120 Hz of aluminium electrolytics by rated voltage,
// as the general-purpose series under IEC 60384-4 commonly state it.
var dissipation = []struct{ volts, tan float64 }{
	{6.3, 0.28},
	{10, 0.24},
	{16, 0.20},
	{25, 0.16},
	{35, 0.14},
	{50, 0.12},
	{100, 0.10},
	{250, 0.15},
	{math.Inf(1), 0.20},
}

const (
	lineHz = 120.0
	// highHz is where what the electrolyte's resistance leaves is all: there the ESR of a
	// good one is some third of that at 120 Hz; leads and contacts add leadOhms.
	highHz, highShare, leadOhms = 10e3, 0.4, 0.05
)

// ESRLimit is the most series resistance (Ω) that a good capacitor of its kind, value (F),
// rated voltage (V) and frequency (Hz) has: tan δ/(2πfC), with tan δ by the tables of
// IEC 60384-4 (aluminium), -15 (tantalum: 0.1), -2 (film: 0.01), -8 (ceramic: 0.035).
func ESRLimit(kind string, farads, volts, hz float64) float64 {
	tan := map[string]float64{"tantalum": 0.1, "film": 0.01, "ceramic": 0.035}[kind]
	if kind != "aluminium" && kind != "tantalum" {
		return tan/(2*math.Pi*hz*farads) + leadOhms
	}
	if kind == "aluminium" {
		for _, d := range dissipation {
			if volts <= d.volts {
				tan = d.tan
				break
			}
		}
		if farads > 1000e-6 { // 0.02 more for each further 1000 µF
			tan += 0.02 * math.Ceil((farads-1000e-6)/1000e-6)
		}
	}
	low := tan / (2 * math.Pi * lineHz * farads)
	if hz >= highHz {
		return highShare*low + leadOhms
	}
	return low + leadOhms
}

// LeakLimit is the most a good capacitor leaks, in amperes at its rated voltage:
// 0.01·C·V or 3 µA (aluminium, IEC 60384-4), 0.01·C·V or 0.5 µA (tantalum, -15), and by an
// insulation of 10,000 s or 30 GΩ at most (film, -2) and 500 s or 10 GΩ (ceramic, -9).
func LeakLimit(kind string, farads, volts float64) float64 {
	switch kind {
	case "aluminium":
		return math.Max(0.01*farads*volts, 3e-6)
	case "tantalum":
		return math.Max(0.01*farads*volts, 0.5e-6)
	case "film":
		return volts / math.Min(30e9, 10e3/farads)
	}
	return volts / math.Min(10e9, 500/farads)
}

// usualTolerance is that of a kind, low and high.
var usualTolerance = map[string]float64{"aluminium": 0.2, "tantalum": 0.2, "film": 0.1, "ceramic": 0.2}

// Long: the rules of the check, in the order in which they count.
func capacitor(g *given) Verdict {
	kind, c := g.texts["kind"], g.numbers["value"]
	out := verdict(Good, "nothing is wrong with it by these readings")
	switch g.texts["looks"] {
	case "bulged":
		out.worse(Bad, "it is bulged: gas has formed in it")
	case "leaking":
		out.worse(Bad, "it leaks its fluid: renew it, and clean what the fluid reached, which conducts and corrodes")
	}
	if c <= 0 {
		g.wrong = &BadField{"Marked", "a capacitor has more than 0 F"}
		return out
	}
	volts, rated := g.number("volts")
	readings := 0
	ohms, hasOhms := g.number("ohms")
	if hasOhms {
		readings++
		g.across(&out, ohms)
	}
	if m, ok := g.number("measured"); ok {
		readings++
		share := g.or("tolerance", usualTolerance[kind])
		switch off := m/c - 1; {
		case m < c/20 && hasOhms && ohms < shortOhms:
			out.because("a meter of capacitance shows %s of one that is shorted", quantity.Capacitance(m))
		case m < c/20 && !hasOhms:
			out.worse(Bad, "it is open, or nearly, or shorted: %s of %s", quantity.Capacitance(m), quantity.Capacitance(c))
			out.surer("ohms across it tell open from shorted")
		case m < c/20:
			out.worse(Bad, "it is open, or nearly: %s of %s", quantity.Capacitance(m), quantity.Capacitance(c))
		case off < -share:
			out.worse(Bad, "it has lost %.0f %% of its value, ±%.0f %% are allowed", -100*off, 100*share)
		case off > 2*share || off > share && kind != "aluminium":
			out.worse(Unsure, "it reads %.0f %% more than marked", 100*off)
			out.limit("one that leaks reads as more than it has")
			out.surer("its leakage at working voltage")
		default:
			out.because("its value is %.1f %% from what is marked, ±%.0f %% are allowed", 100*off, 100*share)
		}
		if g.texts["where"] == "in circuit" {
			out.limit("in circuit its value is read with all that is parallel")
		}
	}
	if esr, ok := g.number("esr"); ok {
		readings++
		hz, known := g.number("hz")
		if !known {
			hz = 100e3
			out.limit("the ESR is taken as read at 100 kHz")
		}
		limit := ESRLimit(kind, c, g.or("volts", 16), hz)
		if esr > limit {
			out.worse(
				Bad,
				"its ESR of %s is above %s, the most of a good one at %s",
				inOhms(esr),
				inOhms(limit),
				quantity.Rounded(hz, quantity.Hertz),
			)
		} else {
			out.because("its ESR of %s stays below %s", inOhms(esr), inOhms(limit))
		}
		if esr < 0.02 && g.texts["where"] == "in circuit" {
			out.limit("a short beside it, or in it, reads as a low ESR")
			out.surer("ohms across it, both ways")
		}
	}
	if d, ok := g.number("d"); ok {
		readings++
		hz := g.or("hz", lineHz)
		limit := (ESRLimit(kind, c, g.or("volts", 16), hz) - leadOhms) * 2 * math.Pi * hz * c
		if d > limit {
			out.worse(Bad, "its D of %.2g is above %.2g", d, limit)
		} else {
			out.because("its D of %.2g stays below %.2g", d, limit)
		}
	}
	leak, leaks := g.number("leakage")
	at := g.or("at", volts)
	switch {
	case leaks && at <= 0:
		g.wrong = &BadField{"Leakage read at", "say at how many volts the leakage was read, or the rated voltage"}
	case leaks && rated && at > volts:
		g.wrong = &BadField{"Leakage read at", fmt.Sprintf("%s is above what it is rated for: do not", inVolts(at))}
	case leaks:
		readings++
		limit := LeakLimit(kind, c, at)
		if leak > limit {
			out.worse(
				Bad,
				"it leaks %s at %s; a good one stays below %s",
				quantity.Rounded(leak, quantity.Ampere),
				inVolts(at),
				quantity.Rounded(limit, quantity.Ampere),
			)
			if kind == "aluminium" {
				out.limit("one that lay unused for long leaks until it has been formed at its voltage, through a resistor")
			}
		} else {
			out.because("it leaks %s at %s, below %s", quantity.Rounded(leak, quantity.Ampere), inVolts(at), quantity.Rounded(limit,
				quantity.Ampere))
		}
		if rated && at < volts/2 {
			out.limit("read at %s of %s: what breaks through at working voltage does not show there", inVolts(at), inVolts(volts))
			out.surer("its leakage at the voltage it works at, through a resistor that limits the current")
		}
	case out.Judgement == Good:
		out.limit("a meter's few volts do not show leakage at working voltage: one that reads right in value can leak hopelessly")
		out.surer("its leakage at working voltage: lift a leg, and read the volts across a resistor in series")
	}
	if _, ok := g.number("esr"); !ok && out.Judgement == Good && (kind == "aluminium" || kind == "tantalum") {
		out.surer("its ESR, which rises before its value falls")
	}
	if readings == 0 && out.Judgement == Good {
		out.worse(Unsure, "nothing was read yet")
	}
	more := otherValue
	if kind == "aluminium" || kind == "tantalum" {
		more = moreFarads
	}
	g.wrongValue(&out, c, quantity.Farad, more)
	return out
}

// shortOhms is what a shorted capacitor reads at most; leakOhms what one that is charged
// and good reads at least.
const shortOhms, leakOhms = 10.0, 100e3

// across judges the ohms across a capacitor that has charged.
func (g *given) across(out *Verdict, ohms float64) {
	inside := g.texts["where"] == "in circuit"
	switch {
	case ohms < shortOhms && !inside:
		out.worse(Bad, "shorted: %s across it", inOhms(ohms))
	case ohms < shortOhms && !(g.place.Parallel > 0 && g.place.Parallel < 10*shortOhms):
		out.worse(Bad, "shorted: %s across it, or what is parallel is", inOhms(ohms))
		out.surer("lift a leg, and read it again")
	case ohms < leakOhms && !inside:
		out.worse(Bad, "it leaks: %s across it once it has charged", inOhms(ohms))
	case ohms < leakOhms:
		out.limit("in circuit %s across it may be what is parallel", inOhms(ohms))
	default:
		out.because("%s across it: not shorted", inOhms(ohms))
	}
}

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
