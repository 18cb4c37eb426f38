package closing

import (
	"fmt"
	"math"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Verdict is what is said of a closing measurement.
type Verdict string

// Nothing can be said; it is right; it is below or above what is allowed; a person says that it is bad.
const (
	Unjudged Verdict = ""
	Right    Verdict = "right"
	TooLow   Verdict = "low"
	TooHigh  Verdict = "high"
	Bad      Verdict = "bad"
)

// Words implements exchange.Enumerated.
func (Verdict) Words() []string {
	return exchange.WordsOf([]Verdict{Unjudged, Right, TooLow, TooHigh, Bad})
}

// Off tells whether it is not as it should be.
func (v Verdict) Off() bool { return v == TooLow || v == TooHigh || v == Bad }

// Figure is what was read: in the unit that the measurement is judged in (SI), and how that came to be in words. Where
// nothing but a word was said, SI is zero and Unit none.
type Figure struct {
	SI      float64
	Unit    quantity.Unit
	Value   string
	Says    string
	Verdict Verdict
}

// How a person judges, as it is typed.
const (
	good = "good"
	bad  = "bad"
)

// Read reads what is typed at a closing measurement: values as its kind asks for them, a word, or both ("0.1 Ω good").
// Errors can be mended by a person.
func Read(c *sheet.PlanClosing, text string) (Figure, error) {
	word, note, rest := judged(text)
	if rest == "" {
		switch {
		case word == "":
			return Figure{}, mend.Errorf("type %s", Hint(c))
		case word == good && c.Limited():
			return Figure{}, mend.Errorf("this has a limit: type what is read, %s", Hint(c))
		}
		f := Figure{Value: word, Says: word, Verdict: Right}
		if word == bad {
			f.Verdict = Bad
		}
		if note != "" {
			f.Says += ": " + note
		}
		return f, nil
	}
	if c.Kind == sheet.ClosingWorks {
		return Figure{}, mend.Errorf("say good, or bad and what is wrong: bad: crackles at the left")
	}
	f, err := figure(c, rest)
	if err != nil {
		return Figure{}, err
	}
	switch {
	case word == bad:
		f.Verdict = Bad
	case f.SI < c.Low:
		f.Verdict = TooLow
	case f.SI > c.High:
		f.Verdict = TooHigh
	case c.Limited() || word == good:
		f.Verdict = Right
	}
	if note != "" {
		f.Says += "; " + note
	}
	return f, nil
}

// judged parts a person's judgement from what else is typed: at the beginning, with what is wrong behind it, or at the end.
func judged(text string) (word, note, rest string) {
	text = strings.TrimSpace(text)
	head, tail, _ := strings.Cut(text, ":")
	for _, w := range []string{good, bad} {
		low := strings.ToLower(text)
		switch {
		case strings.EqualFold(strings.TrimSpace(head), w):
			return w, strings.TrimSpace(tail), ""
		case strings.HasPrefix(low, w+" "):
			return w, strings.TrimSpace(text[len(w):]), ""
		case strings.HasSuffix(low, " "+w):
			return w, "", strings.TrimRight(text[:len(text)-len(w)], " ,;")
		}
	}
	return "", "", text
}

// figure works out what the values say.
//
// Long: a case for each kind.
func figure(c *sheet.PlanClosing, text string) (Figure, error) {
	switch c.Kind {
	case sheet.ClosingPower:
		return power(c, text)
	case sheet.ClosingResponse:
		return response(c, text)
	case sheet.ClosingSeparation:
		return separation(c, text)
	case sheet.ClosingHum:
		return hum(c, text)
	}
	v, err := quantity.Parse(text, c.Unit)
	switch {
	case err != nil:
		return Figure{}, err
	case c.Kind == sheet.ClosingDistortion && v.Unit == quantity.Decibel:
		v = quantity.Value{SI: quantity.Times(-math.Abs(v.SI)), Unit: quantity.Ratio}
	case c.Unit != quantity.None && v.Unit != c.Unit:
		return Figure{}, mend.Errorf("%s is %s; type %s", text, v.Unit.Name(), Hint(c))
	}
	return Figure{SI: v.SI, Unit: v.Unit, Value: v.Short(3), Says: v.Short(3)}, nil
}

// rms is a voltage of a sine as its effective value.
func rms(v quantity.Value) (float64, error) {
	u, err := quantity.Sine.Convert(v.SI, v.Form, quantity.RMS)
	if err != nil {
		err = mend.Errorf("%s is no signal: type what the meter shows on AC, or peak to peak", v.Short(3))
	}
	return u, err
}

// power is U²/R of the voltage across the load, or as it is told.
func power(c *sheet.PlanClosing, text string) (Figure, error) {
	v, err := quantity.Parse(text, quantity.Volt)
	if err != nil {
		return Figure{}, err
	}
	f := Figure{Unit: quantity.Watt}
	switch {
	case v.Unit == quantity.Watt:
		f.SI = v.SI
	case v.Unit != quantity.Volt:
		return f, mend.Errorf("%s is %s: type the volts across the load, or watts", text, v.Unit.Name())
	case c.Ohms == 0:
		return f, mend.Errorf("the load is not known, so that volts make no watts: type watts, or write the load with the model")
	default:
		u, err := rms(v)
		if err != nil {
			return f, err
		}
		f.SI = u * u / c.Ohms
	}
	f.Value = quantity.Rounded(f.SI, quantity.Watt)
	f.Says = f.Value
	if v.Unit == quantity.Volt {
		f.Says = fmt.Sprintf("%s across %s: %s", v.Short(4), quantity.Rounded(c.Ohms, quantity.Ohm), f.Value)
	}
	return f, nil
}

// response is how far the level goes from that at the reference frequency (dB): what lies farthest off counts.
func response(c *sheet.PlanClosing, text string) (Figure, error) {
	levels, err := values(text, len(c.Hz), quantity.Volt)
	if err != nil {
		return Figure{}, err
	}
	ref := c.Reference
	f := Figure{Unit: quantity.Decibel}
	var parts []string
	for i, v := range levels {
		db := v.SI - levels[ref].SI
		switch {
		case v.Unit != levels[ref].Unit || v.Form != levels[ref].Form:
			return f, mend.Errorf("read all of them in the same way: in volts, or in dB")
		case v.Unit == quantity.Decibel:
		case !(v.SI > 0) || v.Unit != quantity.Volt:
			return f, mend.Errorf("a level is above zero volts, or in dB")
		default:
			db = quantity.DB(v.SI, levels[ref].SI)
		}
		if math.Abs(db) > math.Abs(f.SI) {
			f.SI = db
		}
		if i != ref {
			parts = append(parts, quantity.SignedDB(db)+" at "+quantity.Rounded(c.Hz[i], quantity.Hertz))
		}
	}
	f.Value = quantity.SignedDB(f.SI)
	f.Says = strings.Join(parts, ", ") + " against " + quantity.Rounded(c.Hz[ref], quantity.Hertz)
	return f, nil
}

// separation is by how much less is found in the other channel (dB).
func separation(c *sheet.PlanClosing, text string) (Figure, error) {
	f := Figure{Unit: quantity.Decibel}
	if v, err := quantity.Parse(text, quantity.None); err == nil && v.Unit == quantity.Decibel {
		f.SI = math.Abs(v.SI)
		f.Value = quantity.Rounded(f.SI, quantity.Decibel)
		f.Says = f.Value
		return f, nil
	}
	const two = 2
	levels, err := values(text, two, quantity.Volt)
	if err != nil {
		return f, err
	}
	here, there := levels[0], levels[1]
	if here.Unit != quantity.Volt || there.Unit != quantity.Volt || here.Form != there.Form || !(here.SI > 0) || !(there.SI > 0) {
		return f, mend.Errorf("type the volts that %s and %s show, both in the same way; or dB", c.At, c.Other)
	}
	f.SI = quantity.DB(here.SI, there.SI)
	f.Value = quantity.Rounded(f.SI, quantity.Decibel)
	f.Says = fmt.Sprintf("%s against %s: %s", here.Short(3), there.Short(3), f.Value)
	return f, nil
}

// hum is the noise that is left, in volts or by how many dB it is below the signal, as the limit is told.
func hum(c *sheet.PlanClosing, text string) (Figure, error) {
	v, err := quantity.Parse(text, quantity.Volt)
	if err != nil {
		return Figure{}, err
	}
	switch {
	case v.Unit == quantity.Decibel && c.Exit > 0:
		v = quantity.Value{SI: c.Exit * quantity.Times(-math.Abs(v.SI)), Unit: quantity.Volt, Form: quantity.RMS}
	case v.Unit != quantity.Volt:
		return Figure{}, mend.Errorf("%s is %s: type the volts that are left", text, v.Unit.Name())
	}
	u, err := rms(v)
	if err != nil {
		return Figure{}, err
	}
	f := Figure{SI: math.Abs(u), Unit: quantity.Volt}
	f.Value = quantity.Rounded(f.SI, quantity.Volt)
	f.Says = f.Value
	const least = 1e-9 // V: what shows nothing is below what can be read
	below := quantity.DB(c.Exit, max(f.SI, least))
	if c.Exit > 0 {
		f.Says = fmt.Sprintf(
			"%s: %s below %s",
			f.Value,
			quantity.Rounded(below, quantity.Decibel),
			quantity.Rounded(c.Exit, quantity.Volt),
		)
	}
	if c.Unit == quantity.Decibel {
		if c.Exit == 0 {
			return f, mend.Errorf("what the signal is there is not known, so that no dB can be told: write its level with the model")
		}
		f.SI, f.Unit, f.Value = below, quantity.Decibel, quantity.Rounded(below, quantity.Decibel)
	}
	return f, nil
}

// values reads several values that are typed in a row: with ; between, or with blanks, and the unit with each or with the
// last alone.
func values(text string, n int, unit quantity.Unit) ([]quantity.Value, error) {
	parts := strings.Split(text, ";")
	if len(parts) == 1 {
		parts = blanks(text)
	}
	if len(parts) != n {
		return nil, mend.Errorf("type %d values, with ; between: 2.7 V; 2.8 V", n)
	}
	const number = "0123456789.,+-−"
	last := strings.TrimSpace(parts[n-1])
	suffix := strings.TrimLeft(last, number)
	out := make([]quantity.Value, n)
	for i, part := range parts {
		part = strings.TrimSpace(part)
		if strings.Trim(part, number) == "" {
			part += suffix
		}
		v, err := quantity.Parse(part, unit)
		if err != nil {
			return nil, err
		}
		out[i] = v
	}
	return out, nil
}

// blanks parts values that have blanks between, whose units may have too.
func blanks(text string) []string {
	var out []string
	for _, field := range strings.Fields(text) {
		if !strings.ContainsAny(field, "0123456789") && len(out) > 0 {
			out[len(out)-1] += " " + field
			continue
		}
		out = append(out, field)
	}
	return out
}

// exampleOf is an example of what is typed at a closing measurement.
func exampleOf(c *sheet.PlanClosing) string {
	switch c.Kind {
	case sheet.ClosingPower:
		if c.Ohms == 0 {
			return "20 W"
		}
		return "12.6 V"
	case sheet.ClosingResponse:
		return strings.Repeat("1.9 ", len(c.Hz)) + "V"
	case sheet.ClosingSeparation:
		return "1.9 V; 8 mV"
	case sheet.ClosingDistortion:
		return "0.2 %"
	case sheet.ClosingHum:
		return "0.6 mV"
	case sheet.ClosingEarth:
		return "0.1 Ω good"
	case sheet.ClosingInsulation:
		return "50 MΩ good"
	case sheet.ClosingOffset:
		return "4 mV"
	case sheet.ClosingIdle:
		return "17 W"
	}
	return good
}

// Hint is what is typed at a closing measurement, with an example.
func Hint(c *sheet.PlanClosing) string {
	what := ""
	switch c.Kind {
	case sheet.ClosingPower:
		what = "the volts across the load: "
		if c.Ohms == 0 {
			what = "watts: "
		}
	case sheet.ClosingResponse:
		texts := make([]string, len(c.Hz))
		for i, hz := range c.Hz {
			texts[i] = quantity.Rounded(hz, quantity.Hertz)
		}
		what = fmt.Sprintf("the levels at %s: ", strings.Join(texts, ", "))
	case sheet.ClosingSeparation:
		what = "what both show: "
	case sheet.ClosingHum:
		what = "the volts that are left: "
	case sheet.ClosingWorks:
		return "good, or bad: crackles"
	case sheet.ClosingOther, "":
		return "a value, good, or bad and what is wrong"
	}
	return what + exampleOf(c)
}
