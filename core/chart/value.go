package chart

import (
	"regexp"
	"strings"

	"steptrace/core/quantity"
)

// The values that stand in a chart: voltages, as a scanner may have read them.

// slips are the letters that scanners read for digits.
var slips = strings.NewReplacer("O", "0", "o", "0", "l", "1", "I", "1", "|", "1", "S", "5", "B", "8")

var number = regexp.MustCompile(`^[-+−–]?\d*[.,]?\d+$`)

// isValue tells whether a text is a voltage or a resistance, as it may have been read by a scanner.
func isValue(text string) bool {
	_, _, ok := volts(text)
	if !ok {
		_, _, ok = ohms(text)
	}
	return ok || isOpen(text)
}

// volts reads a voltage: a number, with a unit or without; slipped where letters stood for digits.
func volts(text string) (x float64, slipped, ok bool) {
	t := strings.TrimSpace(text)
	unit := ""
	for _, u := range []string{"mV", "mv", "V", "v"} {
		if rest, had := strings.CutSuffix(t, u); had {
			t, unit = strings.TrimSpace(rest), strings.ToLower(u)
			break
		}
	}
	if !strings.ContainsAny(t, "0123456789OoIl") || strings.Count(t, ".")+strings.Count(t, ",") > 1 {
		return 0, false, false
	}
	if !number.MatchString(t) {
		t, slipped = slips.Replace(t), true
	}
	t = strings.NewReplacer("−", "-", "–", "-", ",", ".").Replace(t)
	if !number.MatchString(t) {
		return 0, false, false
	}
	v, err := quantity.ParseAs(t, quantity.Volt)
	if err != nil {
		return 0, false, false
	}
	if unit == "mv" {
		v.SI /= 1000
	}
	return v.SI, slipped, true
}

// written is a voltage as it is typed.
func written(x float64) string {
	return quantity.Value{SI: x, Unit: quantity.Volt}.Short(4)
}
