package substitute

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"steptrace/core/part"
	"steptrace/core/quantity"
)

// CutOff is the frequency of a resistance and a capacitance, hertz: 1/2πRC.
func CutOff(ohms, farads float64) float64 { return 1 / (2 * math.Pi * ohms * farads) }

// Reactance is that of a capacitance at a frequency, ohms: 1/2πfC.
func Reactance(hz, farads float64) float64 { return 1 / (2 * math.Pi * hz * farads) }

// Life is how long an electrolytic lives at a temperature, hours, from its rated hours at its rated temperature: each ten
// degrees less doubles them (Arrhenius' law at the activation energy of electrolyte, as makers' sheets round it).
func Life(hours, rated, celsius float64) float64 { return hours * math.Exp2((rated-celsius)/10) }

// Ripple is the ripple on a reservoir, volts peak to peak: what a load takes out of it between two peaks, I/fC.
func Ripple(amps, hz, farads float64) float64 { return amps / (hz * farads) }

// Junction is the temperature in a part, °C: air about it and its heat through a thermal resistance (K/W).
func Junction(celsius, watts, kelvins float64) float64 { return celsius + watts*kelvins }

// SinkFor is the thermal resistance that a heat sink may have, K/W, for a part of a heat, between air and its junction's most,
// with what lies between junction and sink taken off. Not above zero: none is large enough.
func SinkFor(watts, air, most, inside float64) float64 { return (most-air)/watts - inside }

// SharingOhms is the most that a resistor across each of two electrolytics in series may have, so that neither gets more
// than its rating: (2·rated − total)/ΔI, where one leaks as much as IEC 60384-4 allows (part.LeakLimit), and the other not at
// all. 0 where nothing is left to share.
func SharingOhms(farads, rated, total float64) float64 {
	left := 2*rated - total
	if left <= 0 {
		return 0
	}
	return left / part.LeakLimit("aluminium", farads, rated)
}

// ParallelOhms is the resistance of two in parallel.
func ParallelOhms(a, b float64) float64 { return a * b / (a + b) }

// Dropper is the series resistor that brings a supply down to what a load takes, ohms, and its heat, watts (Ohm and Joule).
func Dropper(from, to, amps float64) (ohms, watts float64) {
	return (from - to) / amps, (from - to) * amps
}

// SeleniumDropper is the resistor that goes in series with a silicon rectifier in place of a selenium one, ohms and watts:
// selenium drops about 1 V a plate, of which one bears about 25 V rms; silicon drops 1 V in all.
func SeleniumDropper(voltsRMS, amps float64) (ohms, watts float64) {
	const plate, each, silicon = 25.0, 1.0, 1.0
	plates := math.Ceil(voltsRMS / plate)
	drop := plates*each - silicon
	if drop <= 0 {
		return 0, 0
	}
	return drop / amps, drop * amps
}

// Made is a value made of one or two that are sold.
type Made struct {
	Of       []float64 `json:"of"`
	Parallel bool      `json:"parallel"` // two in parallel; else in series
	Value    float64   `json:"value"`
	Error    float64   `json:"error"` // as a share of what was wanted
}

// Shown writes a value of a part as the trade does: a capacitance in µF and smaller, everything else to three figures.
func Shown(x float64, unit quantity.Unit) string {
	if unit == quantity.Farad {
		return quantity.Capacitance(x)
	}
	return quantity.Rounded(x, unit)
}

// Says writes of what a value is made: "4.3 kΩ + 150 Ω", "10 nF || 12 nF".
func (m *Made) Says(unit quantity.Unit) string {
	var parts []string
	for _, x := range m.Of {
		parts = append(parts, Shown(x, unit))
	}
	return strings.Join(parts, map[bool]string{true: " || ", false: " + "}[m.Parallel])
}

// Combine lists how to make a value of one or two of a series, the nearest first: in series and in parallel; of capacitors
// the other way round. Each of equal nearness the simplest first. At most so many. Wanted has to be above zero and finite.
func Combine(wanted float64, of quantity.Series, capacitors bool, most int) []Made {
	if !(wanted > 0) || math.IsInf(wanted, 0) {
		return []Made{}
	}
	var out []Made
	keep := func(value float64, parallel bool, of ...float64) {
		out = append(out, Made{of, parallel, value, value/wanted - 1})
	}
	one := of.Nearest(wanted)
	keep(one, false, one)
	// Two that add: one of them is at least half of what is wanted. Two whose parallel is wanted: one at most twice.
	for _, a := range values(of, wanted/2, wanted) {
		if rest := wanted - a; rest > wanted*1e-4 {
			b := of.Nearest(rest)
			keep(a+b, capacitors, a, b)
		}
	}
	for _, a := range values(of, wanted*1.0001, 2*wanted) {
		b := of.Nearest(1 / (1/wanted - 1/a))
		keep(a*b/(a+b), !capacitors, a, b)
	}
	slices.SortStableFunc(out, func(a, b Made) int {
		return cmp.Or(cmp.Compare(math.Round(1e6*math.Abs(a.Error)), math.Round(1e6*math.Abs(b.Error))), cmp.Compare(len(a.Of), len(b.Of)))
	})
	return out[:min(len(out), most)]
}

// values are those of a series from one to another.
func values(of quantity.Series, from, to float64) []float64 {
	var out []float64
	for exp := math.Floor(math.Log10(from)); exp <= math.Floor(math.Log10(to)); exp++ {
		for _, d := range of.Decade() {
			if x := d * math.Pow(10, exp); x >= from*(1-1e-9) && x <= to*(1+1e-9) {
				out = append(out, of.Nearest(x))
			}
		}
	}
	return out
}
