package part

import (
	"fmt"
	"math"
	"strings"

	"steptrace/core/quantity"
)

// Place is what the circuit has where a part stands: a check of it is held against that, and
// not only against what is marked on the part. Figures that are not known are 0.
type Place struct {
	Kind     string  // as the circuit has it: resistor, npn, n-mosfet
	Value    float64 // Ω, F, V of a Zener, Hz, by the kind; of a relay its coil's Ω
	Pulls    float64 // V at which its relay pulls
	Parallel float64 // Ω of what else connects its ends, set off
}

// CheckAt judges a part as Check does, and tells whether it belongs in its place.
func CheckAt(kind string, texts map[string]string, place Place) (Verdict, error) {
	return check(kind, texts, place)
}

const (
	// meterOhms and meterShare are what a hand meter's ohms are sure to: a digit of a tenth
	// with the leads' own resistance subtracted, and a per cent of the reading.
	meterOhms, meterShare = 0.1, 0.01
	// besideShare is how well what is parallel in a circuit is known: by the parts' tolerance.
	besideShare = 0.05
	// otherValue is from which ratio on a marked value is another than the one that belongs
	// there: beyond any tolerance, short of the next value of the row of ten per cent.
	otherValue = 1.12
	// moreFarads is how much larger an electrolytic capacitor may be that was renewed.
	moreFarads = 2.3
)

// unsure is how far (Ω) a reading of ohms in circuit may be off, with what is parallel.
func unsure(ohms, parallel float64) float64 {
	if math.IsInf(ohms, 1) {
		return 0
	}
	return meterOhms + meterShare*ohms + besideShare*parallel
}

// wrongValue says where another value is marked, or read, than belongs there.
func (g *given) wrongValue(out *Verdict, marked float64, unit quantity.Unit, more float64) {
	belongs := g.place.Value
	if belongs <= 0 || marked <= 0 || marked < belongs*more*1.0000001 && marked > belongs/otherValue {
		return
	}
	write := func(x float64) string {
		if unit == quantity.Farad {
			return quantity.Capacitance(x)
		}
		return quantity.Rounded(x, unit)
	}
	out.other("wrong value fitted: %s where %s belongs", write(marked), write(belongs))
}

// wrongKind says where another kind of part is fitted than belongs there.
func (g *given) wrongKind(out *Verdict, is, belongs string) {
	if belongs != "" && is != belongs {
		out.other("wrong part fitted: %s where %s belongs", is, belongs)
	}
}

// other makes a verdict bad since another part is fitted than belongs there.
func (v *Verdict) other(format string, args ...any) {
	what := fmt.Sprintf(format, args...)
	if v.Judgement == Bad {
		what += "; and " + v.What
	}
	v.Judgement, v.What, v.Wrong = Bad, what, true
	v.because("%s", fmt.Sprintf(format, args...))
}

// article puts "a" or "an" before a word.
func article(word string) string {
	if strings.ContainsAny(strings.ToLower(word[:1]), "aeionlmfhrsx") && len(word) > 1 && word == strings.ToUpper(word) ||
		strings.ContainsAny(word[:1], "aeiou") {
		return "an " + word
	}
	return "a " + word
}
