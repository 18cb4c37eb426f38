package chart

import (
	"regexp"
	"strings"

	"steptrace/core/quantity"
)

// A resistance chart looks like one of voltages, with ohms in it: said above it, or by the multipliers
// that voltages do not have.

var (
	saysOhms = regexp.MustCompile(`(?i)\bohms?\b|\bresistances?\b|[ΩΩ]`)
	inKilo   = regexp.MustCompile(`(?:^|[\s|;,\t])\d+(?:[.,]\d+)?[kKM]\d*(?:$|[\s|;,\t])`)
	resists  = regexp.MustCompile(`^(\d+(?:[.,]\d+)?|\d*[.,]\d+)\s*([kKMR]?)(\d*)$`)
)

// inOhms tells whether a chart is one of resistances.
func inOhms(text string) bool { return saysOhms.MatchString(text) || inKilo.MatchString(text) }

// isOpen tells whether a text is more than a meter shows.
func isOpen(text string) bool {
	return quantity.IsOpen(strings.TrimSpace(text)) && !strings.ContainsAny(text, "0123456789")
}

// ohms reads a resistance: "4.7K", "4k7", "220", "1.2 M", "68 Ω"; slipped where letters stood for digits.
func ohms(text string) (x float64, slipped, ok bool) {
	t := strings.TrimSpace(text)
	for _, u := range []string{"Ω", "Ω", "ohms", "ohm", "Ohm"} {
		t = strings.TrimSpace(strings.TrimSuffix(t, u))
	}
	if !strings.ContainsAny(t, "0123456789") {
		return 0, false, false
	}
	if !resists.MatchString(t) {
		t, slipped = slips.Replace(t), true
	}
	m := resists.FindStringSubmatch(strings.ReplaceAll(t, ",", "."))
	if m == nil || m[2] == "" && m[3] != "" {
		return 0, false, false
	}
	v, err := quantity.ParseAs(m[1]+strings.ReplaceAll(m[2], "K", "k")+m[3], quantity.Ohm)
	if err != nil {
		return 0, false, false
	}
	return v.SI, slipped, true
}
