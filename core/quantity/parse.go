package quantity

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"
)

// longest is the most text that is looked at; no value anyone types is longer.
const longest = 64

// ParseError says what in a text could not be read and what would be.
type ParseError struct {
	Text    string // as typed
	At      int    // the character that stopped the reading, from 1
	Problem string // what is wrong there
	Help    string // what would be understood
}

// Error gives one sentence for a person.
func (e *ParseError) Error() string {
	return fmt.Sprintf("%q, character %d: %s. %s", e.Text, e.At, e.Problem, e.Help)
}

// Mendable implements mend.Error.
func (e *ParseError) Mendable() {}

const help = "Understood are for example 31m, 4k7, 0R22, 300 mVpp, 1.2 Vrms, -10 dBV, 15.6 kHz, 5 %."

// Parse reads one value. A text without a unit takes the fallback unit.
// Units: SI. Errors are *ParseError. Letters as the decimal mark (4k7, R47)
// follow IEC 60062; dBu refers to 0.7746 V, the voltage of 1 mW in 600 Ω.
func Parse(text string, fallback Unit) (Value, error) {
	p := parser{text: text, runes: tidy(text)}
	v, err := p.value(fallback)
	if err != nil {
		return Value{}, err
	}
	return v, nil
}

// ParseAs reads one value that must be of the given unit.
func ParseAs(text string, unit Unit) (Value, error) {
	v, err := Parse(text, unit)
	if err != nil {
		return Value{}, err
	}
	if v.Unit == unit {
		return v, nil
	}
	e := &ParseError{Text: text, At: 1, Problem: fmt.Sprintf("this is %s, not %s", v.Unit.Name(), unit.Name()), Help: help}
	if v.Unit == Watt && unit == Volt && strings.Contains(strings.ToLower(text), "db") {
		e.Problem = "dBm is a power; its voltage depends on the impedance"
		e.Help = "Write the impedance after a stroke, for example -20dBm/50 or 0 dBm/600."
	}
	return Value{}, e
}

// Name gives the quantity a unit measures, in words.
func (u Unit) Name() string {
	names := map[Unit]string{
		None: "a plain number", Volt: "a voltage", Ampere: "a current", Ohm: "a resistance", Farad: "a capacitance",
		Henry: "an inductance", Hertz: "a frequency", Second: "a time", Watt: "a power", Celsius: "a temperature",
		Ratio: "a percentage", Decibel: "a level in dB",
	}
	if n, ok := names[u]; ok {
		return n
	}
	return "a value in " + string(u)
}

// tidy maps look-alike characters one to one, so that positions stay true.
func tidy(text string) []rune {
	runes := []rune(text)
	for i, r := range runes {
		switch r {
		case '−', '–':
			runes[i] = '-'
		case 'μ':
			runes[i] = 'µ'
		case '\u2126':
			runes[i] = 'Ω'
		case '×':
			runes[i] = 'x'
		default:
			if unicode.IsSpace(r) || r == '\u202f' || r == '\u00a0' {
				runes[i] = ' '
			}
		}
	}
	return runes
}

type parser struct {
	text  string
	runes []rune
	pos   int
}

func (p *parser) fail(at int, problem string) *ParseError {
	return &ParseError{Text: clip(p.text), At: at + 1, Problem: problem, Help: help}
}

func clip(text string) string {
	if r := []rune(text); len(r) > longest {
		return string(r[:longest]) + "…"
	}
	return text
}

func (p *parser) peek() rune {
	if p.pos < len(p.runes) {
		return p.runes[p.pos]
	}
	return 0
}

func (p *parser) spaces() {
	for p.peek() == ' ' {
		p.pos++
	}
}

func isDigit(r rune) bool { return r >= '0' && r <= '9' }

// exponentOf gives the power of ten of a multiplier letter.
func exponentOf(r rune) (int, bool) {
	switch r {
	case 'p':
		return -12, true
	case 'n':
		return -9, true
	case 'u', 'µ':
		return -6, true
	case 'm':
		return -3, true
	case 'k', 'K':
		return 3, true
	case 'M':
		return 6, true
	case 'G':
		return 9, true
	}
	return 0, false
}

// value reads sign, number, multiplier, unit and form.
//
// Long: a text is read from left to right.
func (p *parser) value(fallback Unit) (Value, *ParseError) {
	if len(p.runes) > longest {
		return Value{}, p.fail(longest, "too long for a value")
	}
	p.spaces()
	if p.pos == len(p.runes) {
		return Value{}, p.fail(p.pos, "nothing to read")
	}
	sign := ""
	if r := p.peek(); r == '-' || r == '+' {
		if r == '-' {
			sign = "-"
		}
		p.pos++
		p.spaces()
	}
	start := p.pos
	digits, mark, err := p.number()
	if err != nil {
		return Value{}, err
	}
	p.spaces()
	s, err := p.suffix(mark)
	if err != nil {
		return Value{}, err
	}
	x, convErr := strconv.ParseFloat(sign+digits, 64)
	if convErr != nil || math.IsInf(x, 0) {
		return Value{}, p.fail(start, "outside what can be reckoned with")
	}
	if s.level != nil {
		v, ok := s.level(x)
		if !ok {
			return Value{}, p.fail(start, "outside what can be reckoned with")
		}
		return v, nil
	}
	unit := s.unit
	if unit == None {
		unit = fallback
	}
	if s.form != Unstated && unit != Volt && unit != Ampere && unit != None {
		return Value{}, p.fail(len(p.runes)-1, fmt.Sprintf("%s has no %s figure", unit.Name(), s.form))
	}
	// The multiplier goes into the decimal text, not into the number, so that
	// the result is rounded once and reads back the same.
	shift := s.exp
	if unit == Ratio {
		shift -= 2
	}
	if x, convErr = strconv.ParseFloat(sign+shifted(digits, shift), 64); convErr != nil || math.IsInf(x, 0) {
		return Value{}, p.fail(start, "outside what can be reckoned with")
	}
	if x == 0 {
		x = 0 // no negative zero
	}
	return Value{SI: x, Unit: unit, Form: s.form}, nil
}

// shifted adds exp to the decimal exponent of a number text.
func shifted(digits string, exp int) string {
	mantissa, e, found := strings.Cut(digits, "e")
	if found {
		n, _ := strconv.Atoi(e)
		exp += n
	}
	return mantissa + "e" + strconv.Itoa(exp)
}

// mark is a letter that stood in the place of the decimal point.
type mark struct {
	exp  int
	unit Unit
	at   int
	set  bool
}

// number reads digits with a point, a comma or a letter as the decimal mark.
func (p *parser) number() (string, mark, *ParseError) {
	var whole, part strings.Builder
	start := p.pos
	run := func(b *strings.Builder) int {
		n := 0
		for isDigit(p.peek()) {
			b.WriteRune(p.peek())
			p.pos++
			n++
		}
		return n
	}
	run(&whole)
	var m mark
	separator := p.peek()
	switch {
	case separator == '.' || separator == ',':
		at := p.pos
		p.pos++
		n := run(&part)
		if next := p.peek(); next == '.' || next == ',' {
			return "", m, p.fail(p.pos, "a second decimal mark")
		}
		if separator == ',' && n == 3 && whole.Len() > 0 && whole.Len() <= 3 && whole.String() != "0" {
			e := p.fail(at, "a comma before three digits can be a decimal comma or a thousands mark")
			e.Help = fmt.Sprintf("Write %s.%s or %s%s.", &whole, &part, &whole, &part)
			return "", m, e
		}
	case p.pos+1 < len(p.runes) && isDigit(p.runes[p.pos+1]):
		// 4k7, 0R22, 3V3, and R47 with nothing before the letter.
		if mk, ok := decimalLetter(separator); ok {
			m = mk
			m.at = p.pos
			p.pos++
			run(&part)
		}
	}
	if whole.Len()+part.Len() == 0 {
		return "", m, p.fail(start, "a number is expected here")
	}
	text := "0" + whole.String()
	if part.Len() > 0 {
		text += "." + part.String()
	}
	if r := p.peek(); (r == 'e' || r == 'E') && !m.set {
		exp, ok := p.exponent()
		if ok {
			text += "e" + exp
		}
	}
	return text, m, nil
}

// exponent reads e-9 if that is what follows; otherwise it moves nothing.
func (p *parser) exponent() (string, bool) {
	at := p.pos + 1
	text := ""
	if at < len(p.runes) && (p.runes[at] == '-' || p.runes[at] == '+') {
		text = string(p.runes[at])
		at++
	}
	first := at
	for at < len(p.runes) && isDigit(p.runes[at]) && at-first < 4 {
		text += string(p.runes[at])
		at++
	}
	if at == first {
		return "", false
	}
	p.pos = at
	return text, true
}

func decimalLetter(r rune) (mark, bool) {
	switch r {
	case 'R', 'r':
		return mark{unit: Ohm, set: true}, true
	case 'V', 'v':
		return mark{unit: Volt, set: true}, true
	}
	if exp, ok := exponentOf(r); ok {
		return mark{exp: exp, set: true}, true
	}
	return mark{}, false
}

// suffix is what follows a number. A level, where set, turns the number of
// decibels into a value.
type suffix struct {
	exp   int
	unit  Unit
	form  Form
	level func(db float64) (Value, bool)
}

// suffix reads multiplier, unit and form up to the end of the text.
func (p *parser) suffix(m mark) (suffix, *ParseError) {
	s := suffix{exp: m.exp, unit: m.unit}
	rest := strings.TrimRight(string(p.runes[p.pos:]), " ")
	if rest == "" {
		return s, nil
	}
	if isDigit(p.peek()) {
		e := p.fail(p.pos, "a space inside a number")
		e.Help = "Write the digits together, with a point for the decimals."
		return s, e
	}
	if len(rest) >= 2 && strings.EqualFold(rest[:2], "db") {
		if m.set {
			return s, p.fail(m.at, "a level in dB takes a plain number")
		}
		return p.levelSuffix(rest)
	}
	if unit, form, ok := unitAndForm(rest); ok && !(m.set && m.unit != None && unit != m.unit) {
		s.unit, s.form = unit, form
		return s, nil
	}
	if form, ok := forms[strings.ToLower(strings.TrimSpace(rest))]; ok {
		s.form = form
		return s, nil
	}
	exp, ok := exponentOf(p.peek())
	if strings.HasPrefix(strings.ToLower(rest), "meg") {
		p.pos += 2 // meg, the old way to write mega
		exp, ok = 6, true
	}
	if !ok {
		return s, p.fail(p.pos, fmt.Sprintf("%q is not a unit", rest))
	}
	if m.set {
		return s, p.fail(p.pos, "a second multiplier")
	}
	p.pos++
	s.exp = exp
	rest = strings.TrimSpace(string(p.runes[p.pos:]))
	if rest == "" {
		return s, nil
	}
	if form, ok := forms[strings.ToLower(rest)]; ok {
		s.form = form
		return s, nil
	}
	unit, form, ok := unitAndForm(rest)
	if !ok {
		return s, p.fail(p.pos, fmt.Sprintf("%q is not a unit", rest))
	}
	if unit == Ratio || unit == Celsius {
		return s, p.fail(p.pos-1, fmt.Sprintf("%s takes no multiplier", unit))
	}
	s.unit, s.form = unit, form
	return s, nil
}

var forms = map[string]Form{
	"rms": RMS, "eff": RMS, "ac": RMS,
	"pp": PeakPeak, "p-p": PeakPeak, "pk-pk": PeakPeak, "pkpk": PeakPeak,
	"pk": Peak, "p": Peak, "peak": Peak,
	"avg": Average, "mean": Average,
	"dc": DC,
}

// units lists the spellings of each unit; matching ignores case except where
// case carries meaning (it never does here, the multiplier is gone already).
var units = []struct {
	text string
	unit Unit
}{
	{"volts", Volt}, {"volt", Volt}, {"v", Volt}, {"amps", Ampere}, {"amp", Ampere}, {"a", Ampere},
	{"ohms", Ohm}, {"ohm", Ohm}, {"ω", Ohm}, {"r", Ohm}, {"f", Farad}, {"hz", Hertz}, {"h", Henry},
	{"sec", Second}, {"s", Second}, {"w", Watt}, {"°c", Celsius}, {"c", Celsius}, {"%", Ratio},
}

func unitAndForm(text string) (Unit, Form, bool) {
	text = strings.ToLower(text)
	for _, u := range units {
		rest, ok := strings.CutPrefix(text, u.text)
		if !ok {
			continue
		}
		rest = strings.TrimSpace(rest)
		if rest == "" {
			return u.unit, Unstated, true
		}
		if form, ok := forms[rest]; ok && (u.unit == Volt || u.unit == Ampere) {
			return u.unit, form, true
		}
	}
	return None, Unstated, false
}

// levelSuffix reads dB, dBV, dBu, dBmV, dBµV, dBW, dBm and dBm/50.
func (p *parser) levelSuffix(rest string) (suffix, *ParseError) {
	name, impedance, hasImpedance := strings.Cut(rest[2:], "/")
	name = strings.TrimSpace(name)
	if hasImpedance && name != "m" {
		return suffix{}, p.fail(p.pos, "only dBm takes an impedance")
	}
	switch name {
	case "":
		return suffix{level: func(db float64) (Value, bool) { return Value{SI: db, Unit: Decibel}, true }}, nil
	case "W", "w":
		return suffix{level: func(db float64) (Value, bool) { return power(db, 1) }}, nil
	case "m":
		if !hasImpedance {
			return suffix{level: func(db float64) (Value, bool) { return power(db, 1e-3) }}, nil
		}
		z, err := ParseAs(impedance, Ohm)
		if err != nil || z.SI <= 0 {
			return suffix{}, p.fail(p.pos, fmt.Sprintf("%q is not an impedance", strings.TrimSpace(impedance)))
		}
		return suffix{level: func(db float64) (Value, bool) { return Level(db, math.Sqrt(1e-3*z.SI)) }}, nil
	}
	if ref, ok := references[name]; ok {
		return suffix{level: func(db float64) (Value, bool) { return Level(db, ref) }}, nil
	}
	return suffix{}, p.fail(p.pos, fmt.Sprintf("%q is not a reference for dB", name))
}
