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
