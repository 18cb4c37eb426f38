package sum

import (
	"fmt"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/part"
	"steptrace/core/quantity"
)

// reads parts what is marked on a part from what a meter showed of it.
const reads = " reads "

// electrolytic is the value from which a capacitor of which nothing else is said is an electrolytic (F).
const electrolytic = 1e-6

// checked judges a resistor or a capacitor: "100k reads 132k", in circuit "100k reads 61k || 180k"; "47u 63v reads 31u 4 ohm",
// the ohms its series resistance.
func checked(text string) (Answer, error) {
	before, after, _ := strings.Cut(text, reads)
	after, parallel, beside := strings.Cut(after, "||")
	marked, err := words(before)
	if err != nil {
		return Answer{}, err
	}
	shown, err := words(after)
	if err != nil {
		return Answer{}, err
	}
	kind, given := "resistor", map[string]string{}
	ohms := shown[quantity.Ohm]
	if value := marked[quantity.Farad]; value != "" {
		v, _ := quantity.ParseAs(value, quantity.Farad) // was read
		kind, given["kind"] = "capacitor", "film"
		if v.SI >= electrolytic {
			given["kind"] = "aluminium"
		}
		given["value"], given["volts"], given["tolerance"] = value, marked[quantity.Volt], marked[quantity.Ratio]
		given["measured"], given["esr"] = shown[quantity.Farad], ohms
		if shown[quantity.Farad] == "" {
			return Answer{}, mend.Errorf("what does its capacitance read? For example 47u reads 31u")
		}
	} else {
		given["value"], given["tolerance"], given["measured"] = marked[quantity.Ohm], marked[quantity.Ratio], ohms
		if beside {
			given["parallel"], given["where"] = strings.TrimSpace(parallel), "in circuit"
		}
	}
	v, err := part.Judge(kind, given)
	if err != nil {
		return Answer{}, err
	}
	a := Answer{Asked: kind + " marked " + strings.TrimSpace(before), Says: fmt.Sprintf("%s: %s", v.Judgement, v.What), Lines: []Line{}}
	for _, why := range v.Why {
		a.Lines = append(a.Lines, Line{"", why})
	}
	for _, l := range v.Limits {
		a.Lines = append(a.Lines, Line{"but", l})
	}
	for _, s := range v.Sure {
		a.Lines = append(a.Lines, Line{"to be sure", s})
	}
	return a, nil
}

// words reads a value of each unit, as typed; "open" and "OL" are ohms.
func words(text string) (map[quantity.Unit]string, error) {
	out := map[quantity.Unit]string{}
	for _, w := range strings.Fields(text) {
		w = strings.TrimSuffix(w, ",")
		unit := quantity.Ohm
		if !quantity.IsOpen(w) {
			if bare.MatchString(w) {
				w += "F"
			}
			v, err := quantity.Parse(w, quantity.Ohm)
			if err != nil {
				return nil, err
			}
			unit = v.Unit
		}
		if out[unit] != "" {
			return nil, mend.Errorf("%s and %s: only one of them can be meant", out[unit], w)
		}
		out[unit] = w
	}
	return out, nil
}
