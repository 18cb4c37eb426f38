package substitute

import (
	"cmp"
	"math"
	"regexp"
	"strconv"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
)

// What cannot be had is made of several: two in parallel, two in series. What they come to as one follows from how they share:
// in series the current, and so the charge, is that of all; in parallel the volts are (Kirchhoff).

// mostSeveral is of how many one is made at most.
const mostSeveral = 4

var ofAlike = regexp.MustCompile(`(?i)^(\d) ?[x×] ?(.+?),? in (series|parallel)$`)

// piecesOf takes several apart: "2 x 470u 250v electrolytic in series", "4k7 + 330", "20k || 20k",
// "10n parallel to 4.7n". Ok is false where only one is
// spoken of.
func piecesOf(text string) (pieces []string, parallel, ok bool) {
	text = strings.TrimSpace(text)
	if m := ofAlike.FindStringSubmatch(text); m != nil {
		n, _ := strconv.Atoi(m[1]) // a digit
		for range n {
			pieces = append(pieces, m[2])
		}
		return pieces, strings.EqualFold(m[3], "parallel"), n > 1
	}
	if parts := strings.Split(strings.ReplaceAll(text, " parallel to ", "||"), "||"); len(parts) > 1 {
		return parts, true, true
	}
	parts := strings.Split(text, " + ")
	return parts, false, len(parts) > 1
}

// Pieces are the single ones that a text speaks of: itself, where it is one.
func Pieces(text string) []string {
	pieces, _, ok := piecesOf(text)
	if !ok {
		return []string{text}
	}
	for i := range pieces {
		pieces[i] = strings.TrimSpace(pieces[i])
	}
	return pieces
}

func tooMany(n int) error {
	if n > mostSeveral {
		return mend.Errorf("one is made of %d at most", mostSeveral)
	}
	return nil
}

// ResistorsOf reads several resistors as the one that they come to. The error can be mended by a person.
func ResistorsOf(text string) (Resistor, error) {
	pieces, parallel, _ := piecesOf(text)
	all := make([]Resistor, len(pieces))
	err := tooMany(len(pieces))
	sum := 0.0
	for i, p := range pieces {
		if err == nil {
			all[i], err = ResistorOf(p)
		}
		if parallel {
			sum += 1 / all[i].Ohms
		} else {
			sum += all[i].Ohms
		}
	}
	if err != nil || !(sum > 0) || math.IsInf(sum, 0) {
		return Resistor{}, cmp.Or(err, mend.Errorf("%q: each has its ohms", text))
	}
	out := Resistor{Ohms: sum, Flame: true, Fusible: true}
	if parallel {
		out.Ohms = 1 / sum
	}
	watts, volts := math.Inf(1), math.Inf(1)
	for _, r := range all {
		share := r.Ohms / out.Ohms // of the heat in series, of the whole where they are parallel
		if parallel {
			watts, volts = min(watts, r.Watts*share), min(volts, r.Volts)
		} else {
			watts, volts = min(watts, r.Watts/share), min(volts, r.Volts/share)
		}
		out.Tolerance = max(out.Tolerance, r.Tolerance)
		out.Flame, out.Fusible, out.Wound = out.Flame && r.Flame, out.Fusible && r.Fusible, out.Wound || r.Wound
	}
	out.Watts, out.Volts = watts, volts
	out.Needs = how(len(all), parallel) + ", off the board where there is one hole for each end"
	return out, nil
}

// CapacitorsOf reads several capacitors as the one that they come to. The error can be mended by a person.
//
// Source: in series they share the volts by what they leak; resistors across each see to it (SharingOhms, IEC 60384-4).
//
// Long: rating by rating.
func CapacitorsOf(text string) (Capacitor, error) {
	pieces, parallel, _ := piecesOf(text)
	all := make([]Capacitor, len(pieces))
	err := tooMany(len(pieces))
	sum := 0.0
	for i, p := range pieces {
		if err == nil {
			all[i], _, err = CapacitorOf(p)
		}
		if parallel {
			sum += all[i].Farads
		} else {
			sum += 1 / all[i].Farads
		}
	}
	if err != nil || !(sum > 0) || math.IsInf(sum, 0) {
		return Capacitor{}, cmp.Or(err, mend.Errorf("%q: each has its farads", text))
	}
	out := Capacitor{Farads: sum, Dielectric: all[0].Dielectric, LowOhms: true, Needs: how(len(all), parallel)}
	if !parallel {
		out.Farads = 1 / sum
	}
	volts, amps, celsius, hours, ohms := math.Inf(1), math.Inf(1), math.Inf(1), math.Inf(1), 0.0
	for _, c := range all {
		if parallel { // the current parts as the farads do
			volts, amps = min(volts, c.Volts), min(amps, c.Amps*out.Farads/c.Farads)
			ohms += 1 / c.Ohms
		} else { // the volts as their inverse
			volts, amps = min(volts, c.Volts*c.Farads/out.Farads), min(amps, c.Amps)
			ohms += c.Ohms
		}
		celsius, hours = min(celsius, c.Celsius), min(hours, c.Hours)
		out.Tolerance, out.LowOhms = max(out.Tolerance, c.Tolerance), out.LowOhms && c.LowOhms
		switch {
		case c.Class != "":
			return Capacitor{}, mend.Errorf("across the mains and to ground one capacitor of its class goes in, never several")
		case c.Dielectric != out.Dielectric:
			return Capacitor{}, mend.Errorf("%q: of one kind, since each bears what the others do", text)
		}
	}
	out.Volts, out.Amps, out.Celsius, out.Hours = volts, amps, celsius, hours
	if out.Ohms = ohms; parallel {
		out.Ohms = 1 / ohms
	}
	if math.IsInf(out.Ohms, 0) {
		out.Ohms = 0
	}
	if !parallel && out.Dielectric == Electrolytic {
		across := "a resistor across each, so that they share the volts"
		if ohms := SharingOhms(all[0].Farads, all[0].Volts, 2*all[0].Volts*sharedLeast); ohms > 0 {
			across += ": " + quantity.Rounded(quantity.E12.Nearest(ohms), quantity.Ohm) + " or less"
		}
		out.Needs += "\n" + across + "\nplus of the lower to minus of the upper; the upper one's can is live"
		out.Volts *= sharedLeast
	}
	return out, nil
}

// sharedLeast is the share of their rating that electrolytics in series are used to: the rest is what they share unevenly.
const sharedLeast = 0.9

func how(n int, parallel bool) string {
	return strconv.Itoa(n) + map[bool]string{true: " in parallel", false: " in series"}[parallel]
}
