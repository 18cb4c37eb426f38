package circuit

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"

	"steptrace/core/quantity"
)

// The values of a part beside its main one are told in words, as a data sheet or a meter has
// them: "gain 120", "drop 0.65 V at 1 mA", "zener 5.6 V". Some words are a field of the part
// by their own; a law is one that a field follows from.

// law is a word that a field, or two, follow from.
type law struct {
	name string
	read func(text string, v []float64) error
}

func flag(name string, field int, x float64) law {
	return law{name, func(text string, v []float64) error {
		if text != "" {
			return fmt.Errorf("it is said without a figure, not %q", text)
		}
		v[field] = x
		return nil
	}}
}

func saturation(volts, amps, n float64) float64 { return amps * math.Exp(-volts/(n*thermal)) }

func bounded(is float64) error {
	if !(is >= 1e-20 && is <= 1) {
		return fmt.Errorf("no junction drops so much at that current")
	}
	return nil
}

// dropAmps is the current of a junction's drop where none is said: that of a meter's test.
const dropAmps = 1e-3

// pairOf reads "0.65 V at 1 mA", and without a current, at the usual one.
func pairOf(text string, usual float64) (volts, amps float64, err error) {
	left, right, ok := strings.Cut(text, " at ")
	v, err := quantity.ParseAs(left, quantity.Volt)
	if err != nil {
		return 0, 0, err
	}
	i := quantity.Value{SI: usual, Unit: quantity.Ampere}
	if ok {
		i, err = quantity.ParseAs(right, quantity.Ampere)
	}
	if err == nil && !(v.SI > 0 && v.SI < 1e3 && i.SI > 0 && i.SI < 1e4) {
		err = fmt.Errorf("%s cannot be: write for example 0.65 V at 1 mA", text)
	}
	return v.SI, i.SI, err
}

// currentAt reads "1 A at 4 V".
func currentAt(text string) (amps, volts float64, err error) {
	left, right, ok := strings.Cut(text, " at ")
	if !ok {
		return 0, 0, fmt.Errorf("say at which volts of the gate: 1 A at 4 V")
	}
	i, err := quantity.ParseAs(left, quantity.Ampere)
	if err != nil {
		return 0, 0, err
	}
	v, err := quantity.ParseAs(right, quantity.Volt)
	if err == nil && !(i.SI > 0 && i.SI < 1e6) {
		err = fmt.Errorf("%s cannot be", left)
	}
	return i.SI, v.SI, err
}

// words are those of a kind, in its order.
func (s *definition) words() []string {
	var out []string
	for _, l := range s.laws {
		out = append(out, l.name)
	}
	for _, f := range s.fields {
		if f.name != "" && f.name != byLaw {
			out = append(out, f.name)
		}
	}
	if s.types != nil {
		out = append(out, typeWord)
	}
	return out
}

// word is a name as the kind has it, whatever its case.
func (s *definition) word(name string) (string, bool) {
	for _, w := range s.words() {
		if strings.EqualFold(w, name) {
			return w, true
		}
	}
	return name, false
}

// said reads one of a part's other values, as it was typed: a word and its text. What starts
// with a number is the field of its unit; a word that the kind does not know stays, for Read
// to name.
func (s *definition) said(text string) (name, value string) {
	if name, value, ok := strings.Cut(text, "="); ok { // of tables written before
		return strings.TrimSpace(name), strings.TrimSpace(value)
	}
	text = strings.TrimSpace(text)
	longest := ""
	for _, w := range s.words() {
		if len(w) > len(longest) && len(text) >= len(w) && strings.EqualFold(text[:len(w)], w) && !letterAt(text, len(w)) {
			longest = w
		}
	}
	if longest != "" {
		return longest, strings.TrimSpace(text[len(longest):])
	}
	if v, err := quantity.Parse(text, quantity.None); err == nil && v.Unit != quantity.None {
		for _, f := range s.fields {
			if f.name != "" && f.name != byLaw && f.unit == v.Unit {
				return f.name, text
			}
		}
	}
	name, value, _ = strings.Cut(text, " ")
	return name, strings.TrimSpace(value)
}

func letterAt(s string, i int) bool {
	return i < len(s) && unicode.IsLetter(rune(s[i]))
}

// before are the names that other values had in files of before, by what they are called now.
var before = map[string]string{
	"watts": "rated",
	"esr":   "ESR",
	"leak":  "leakage",
	"ohms":  "resistance",
	"bf":    "gain",
	"br":    "reverse gain",
	"vaf":   "Early voltage",
	"idss":  "IDSS",
	"vp":    "pinch-off",
	"vt":    "threshold",
	"gbw":   "unity gain",
	"rout":  "output",
	"rin":   "input",
	"short": "headroom",
	"hz":    "at",
	"pull":  "pulls at",
	"henry": "inductance",
	"made":  "contact",
}

// also are a part's other values by the words of today; those of files written before become
// them. What is not known stays as it is.
func (p *Part) also() map[string]string {
	s := sortOf(p.Kind)
	out := map[string]string{}
	old := map[string]float64{} // what several words of today come from
	for name, text := range p.Also {
		name, text = strings.TrimSpace(name), strings.TrimSpace(text)
		if w, ok := s.word(name); ok {
			if p.Kind == Contact && (text == "0" || text == "1") { // "closed": "0"
				w = map[string]string{"0": "open", "1": "closed"}[text]
				text = ""
			}
			out[w] = text
			continue
		}
		x, err := quantity.ParseAs(text, oldUnit[name])
		switch {
		case err == nil && slices.Contains([]string{"is", "n", "k", "bv", "lambda", "rests"}, name):
			old[name] = x.SI
		default:
			if w, ok := s.word(before[name]); ok {
				name = w
			}
			out[name] = text
		}
	}
	p.convert(out, old)
	return out
}

var oldUnit = map[string]quantity.Unit{"is": quantity.Ampere, "k": quantity.Ampere, "bv": quantity.Volt}

// convert puts what was told by the factors of the equations into today's words.
//
// Long: a case for each name of before.
func (p *Part) convert(out map[string]string, old map[string]float64) {
	keep := func(name string) {
		if _, ok := old[name]; ok {
			out[name] = p.Also[name] // of a kind that never had it
		}
	}
	drop := func(is, n, amps float64) string {
		return fmt.Sprintf("%.5f V at %s", n*thermal*math.Log(amps/is), quantity.Rounded(amps, quantity.Ampere))
	}
	is, hasIs := old["is"]
	n, hasN := old["n"]
	if !hasIs {
		is = usualIs
	}
	switch {
	case p.Kind == Diode && hasN && n > 0 && is > 0:
		out["drop"] = drop(is, n, 1e-3) + " and " + drop(is, n, 1)
	case (p.Kind == Diode || (p.Kind == NPN || p.Kind == PNP)) && hasIs && !hasN && is > 0:
		out["drop"] = drop(is, 1, 1e-3)
	default:
		keep("is")
		keep("n")
	}
	if bv, ok := old["bv"]; ok && p.Kind == Diode && is > 0 { // its exponent set in there
		out["zener"] = fmt.Sprintf("%.6g V", bv+thermal*math.Log(zenerAmps/is))
	} else {
		keep("bv")
	}
	if k, ok := old["k"]; ok && (p.Kind == NMOS || p.Kind == PMOS) {
		at := 2.0
		if x, err := quantity.ParseAs(out["threshold"], quantity.Volt); err == nil {
			at = x.SI
		}
		out["current"] = fmt.Sprintf("%s at %.6g V", quantity.Value{SI: k / 2, Unit: quantity.Ampere}, at+1)
	} else {
		keep("k")
	}
	if x, ok := old["lambda"]; ok && slices.Contains([]Kind{NJFET, PJFET, NMOS, PMOS}, p.Kind) && x >= 0 {
		out["Early voltage"] = fmt.Sprintf("%.6g V", 1/max(x, 1e-9))
	} else {
		keep("lambda")
	}
	if x, ok := old["rests"]; ok && p.Kind == Relay {
		name := "open at rest"
		if x > 0.5 {
			name = "closed at rest"
		}
		out[name] = ""
	} else {
		keep("rests")
	}
}
