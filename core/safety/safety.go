// Package safety knows what in a set can hurt, what to do about it before the
// set is opened or switched on, how charged capacitors are emptied, and whether
// a set that is being worked on is live, off or discharged.
//
// It states what is usual in the trade. Local codes and licensed practice stand
// above it, and every list it gives says so.
package safety

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Deferral ends every list of cautions.
const Deferral = "This list comes from the service sheet and knows no more than it does. Local codes and licensed practice come first; " +
	"where they ask for more, do more, and leave what you are not licensed for."

// Caution is one danger of a set and what to do about it before the work that
// meets it. Sign is the code of the warning sign in ISO 7010, and Obey that of
// a mandatory sign, where there is one.
type Caution struct {
	Key   string   `json:"key"`
	Sign  string   `json:"sign"`
	Obey  string   `json:"obey"`
	Title string   `json:"title"`
	Where []string `json:"where"`
	Do    string   `json:"do"`
	// Before says which work it comes before: "open" or "live".
	Before string `json:"before"`
}

// rule is what is usual for a kind of danger.
type rule struct{ kind, sign, obey, title, before, do string }

// Signs are those of ISO 7010: W001 general, W005 non-ionizing radiation, W012
// electricity, W016 toxic, W017 hot surface, W022 sharp element, W023
// corrosive; M004 wear eye protection, M009 wear gloves, M021 disconnect before
// work.
var rules = []rule{
	{
		"mains",
		"W012",
		"M021",
		"Mains",
		"open",
		"Pull the plug, not only the switch, before the cover comes off. Work with one hand when it has to run open; cover the mains " +
			"terminals.",
	},
	{
		"hot chassis",
		"W012",
		"",
		"Live chassis",
		"live",
		"Run it from an isolating transformer only. Clip no grounded lead to the chassis: read with a differential or isolated instrument.",
	},
	{
		"reservoir",
		"W012",
		"",
		"Charged capacitors",
		"open",
		"Switch off, wait, discharge through a resistor, never with a screwdriver, and measure what is left. A meter that shows nothing " +
			"proves nothing before it has shown something.",
	},
	{
		"high voltage",
		"W012",
		"",
		"High voltage",
		"live",
		"One hand, insulated tips, leads rated for it. Place the probe with the set off, then switch on and read.",
	},
	{
		"pulses",
		"W012",
		"",
		"High-voltage pulses",
		"live",
		"No meter or probe there that is not rated for the pulse: its peak counts, not what a meter would show. Keep off the leads of " +
			"the tube and the line output.",
	},
	{
		"picture tube",
		"W001",
		"M004",
		"Picture tube",
		"open",
		"Eye protection on. Do not lift it by the neck nor knock it. Discharge the anode to its own coating through a resistor, twice.",
	},
	{
		"rf power",
		"W005",
		"",
		"Radio-frequency power",
		"live",
		"Load the output with a dummy before keying. RF burns through insulation: keep clear of the output while it is on.",
	},
	{
		"sharp edges",
		"W022",
		"M009",
		"Sharp edges",
		"open",
		"Heat sinks and sheet metal cut. Lift by the frame, gloves on for what is stuck.",
	},
	{
		"hot parts",
		"W017",
		"",
		"Hot parts",
		"open",
		"Resistors, heat sinks and valves burn for minutes after switch-off. Let it cool before reaching in.",
	},
	{
		"leaking fluid",
		"W023",
		"M009",
		"Leaking fluid",
		"open",
		"Fluid from capacitors, batteries or cooling corrodes and conducts. Gloves on; clean it off before power goes on.",
	},
	{
		"battery",
		"W001",
		"",
		"Battery",
		"open",
		"Take it out or unplug it before the cover comes off. Never short it: it drives tens of amperes, and a lithium cell that is " +
			"pierced or overheated burns.",
	},
	{
		"lead and fumes",
		"W016",
		"",
		"Lead and fumes",
		"open",
		"Old solder has lead in it. Draw the fumes off, do not eat at the bench, wash your hands.",
	},
}

// touchVolts is where a voltage to ground begins to count as high: the limit of
// energy source class 1 for DC in IEC 62368-1.
const touchVolts = 60.0

// granted are the dangers of every set that the mains feeds.
var granted = []string{"mains", "reservoir", "hot parts"}

// Cautions lists the dangers of one set, in the order they are met: what comes
// before opening first. Lead and fumes are in every set that is soldered; mains, charged
// capacitors and hot parts in every set of which the sheet does not say that a battery runs
// it.
func Cautions(p *sheet.Plan) []Caution {
	where := map[string][]string{"lead and fumes": {}}
	add := func(kind, text string) {
		if _, ok := where[kind]; !ok {
			where[kind] = []string{}
		}
		if text != "" && !slices.Contains(where[kind], text) {
			where[kind] = append(where[kind], text)
		}
	}
	for _, h := range p.Sheet.Hazards {
		add(h.Kind, strings.Trim(strings.TrimSpace(h.Where+": "+h.Note), ": "))
	}
	for i := range p.Reservoirs {
		c := &p.Reservoirs[i]
		add("reservoir", fmt.Sprintf("%s, %s at %s", c.Name, quantity.Capacitance(c.Farads), quantity.Rounded(c.Volts, quantity.Volt)))
	}
	for i := range p.Points {
		pt := &p.Points[i]
		switch {
		case pt.Peak != "" && pt.PeakVolts > touchVolts:
			add("pulses", fmt.Sprintf("%s, up to %s", pt.Name, quantity.Rounded(pt.PeakVolts, quantity.Volt)))
		case pt.PeakVolts > touchVolts:
			add("high voltage", fmt.Sprintf("%s, up to %s", pt.Name, quantity.Rounded(pt.PeakVolts, quantity.Volt)))
		}
	}
	for i := range p.Rails {
		if r := &p.Rails[i]; math.Abs(r.Volts) > touchVolts {
			add("high voltage", "rail "+r.Name)
		}
	}
	if _, battery := where["battery"]; !battery {
		for _, kind := range granted {
			add(kind, "")
		}
	}
	out := []Caution{}
	for _, before := range []string{"open", "live"} {
		for _, r := range rules {
			if places, ok := where[r.kind]; ok && r.before == before {
				out = append(out, Caution{Key: r.kind, Sign: r.sign, Obey: r.obey, Title: r.title, Where: places, Do: r.do, Before: before})
			}
		}
	}
	return out
}

// Energy is what a capacitor (F) charged to a voltage (V) holds, in joules: ½CV².
func Energy(farads, volts float64) float64 { return farads * volts * volts / 2 }

// FallSeconds is how long a capacitor (F) takes to fall from one voltage to a
// lower one (V) through a resistance (Ω): t = RC·ln(V₀/V). It is 0 where it is
// below already.
func FallSeconds(farads, from, to, ohms float64) float64 {
	if from <= to {
		return 0
	}
	return ohms * farads * math.Log(from/to)
}

// FallOhms is the resistance (Ω) through which a capacitor (F) falls from one
// voltage to a lower one (V) in so many seconds: R = t/(C·ln(V₀/V)).
func FallOhms(farads, from, to, seconds float64) float64 {
	return seconds / (farads * math.Log(from/to))
}

// ratings are the powers that resistors are sold in, in watts.
var ratings = []float64{0.25, 0.5, 1, 2, 3, 5, 7, 10, 15, 25, 50, 100, 200}

// overload is how many times its rating a wire-wound resistor bears for
// overloadSeconds, as makers commonly specify against the short-time overload
// test of IEC 60115-1. In a longer discharge it has to bear less of an overload
// for longer: the allowance falls as the time grows, down to none.
const (
	overload        = 10.0
	overloadSeconds = 5.0
)

// Discharge is how a reservoir is emptied: the resistor for a chosen time, and
// what it has to bear. Powers in watts, times in seconds, Ohms the preferred
// value taken (IEC 60063, E12, the next below the exact one, so that the time is
// kept). BleederSeconds is 0 where there is no bleeder.
type Discharge struct {
	Joules         float64 `json:"joules"`
	Exact          float64 `json:"exact"`
	Ohms           float64 `json:"ohms"`
	Seconds        float64 `json:"seconds"`
	PeakWatts      float64 `json:"peakWatts"`
	MeanWatts      float64 `json:"meanWatts"`
	RatedWatts     float64 `json:"ratedWatts"` // the smallest rating that bears it; 0: none usual does
	BleederSeconds float64 `json:"bleederSeconds"`
	ThroughSeconds float64 `json:"throughSeconds"` // through the resistor at hand
}

// Plan works out how a capacitor (F) charged to a voltage (V) is brought below
// another (V) in so many seconds, by its bleeder alone (Ω; 0: none), and through
// a resistor at hand (Ω; 0: none). Errors are those a person can mend (mend.Error).
func Plan(farads, volts, below, seconds, bleeder, through float64) (Discharge, error) {
	for _, x := range []float64{farads, volts, below, seconds, bleeder, through} {
		if math.IsNaN(x) || math.IsInf(x, 0) || x < 0 {
			return Discharge{}, mend.Errorf("capacitance, voltages, time and resistances are above zero")
		}
	}
	switch {
	case farads == 0 || volts == 0:
		return Discharge{}, mend.Errorf("the capacitance and the voltage it is charged to are above zero")
	case below == 0:
		return Discharge{}, mend.Errorf("a capacitor never falls to 0 V through a resistor: choose a voltage above zero, for example 10 V")
	case seconds == 0:
		return Discharge{}, mend.Errorf("the time to discharge in is above zero, for example 5 s")
	}
	d := Discharge{
		Joules:         Energy(farads, volts),
		BleederSeconds: FallSeconds(farads, volts, below, bleeder),
		ThroughSeconds: FallSeconds(farads, volts, below, through),
	}
	if volts <= below {
		return d, nil // nothing to do
	}
	d.Exact = FallOhms(farads, volts, below, seconds)
	d.Ohms = nextBelow(d.Exact)
	d.Seconds = FallSeconds(farads, volts, below, d.Ohms)
	d.PeakWatts = volts * volts / d.Ohms
	d.MeanWatts = (d.Joules - Energy(farads, below)) / d.Seconds
	bears := min(overload, max(1, overload*overloadSeconds/d.Seconds))
	need := max(d.MeanWatts, d.PeakWatts/bears)
	if i := slices.IndexFunc(ratings, func(w float64) bool { return w >= need }); i >= 0 {
		d.RatedWatts = ratings[i]
	}
	return d, nil
}

// nextBelow is the largest E12 value that is not above x.
func nextBelow(x float64) float64 {
	v := quantity.E12.Nearest(x)
	for v > x*(1+1e-9) {
		// Half a step of the row down leads to the value before.
		v = quantity.E12.Nearest(v / math.Pow(10, 1.0/12))
	}
	return v
}
