package circuit

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/device"
	"steptrace/core/quantity"
)

// typeWord is the word by which a part names its type: "type BC547B". Its figures follow from the table of types where
// nothing is said of them.
const typeWord = "type"

// types is what a kind of part takes from its type: of which sort of type and which polarity it may be, and what that says
// in the part's own words. An empty word is its main value.
type types struct {
	sort     []device.Kind
	polarity string
	words    func(t *device.Type) map[string]string
}

// TypeFigures are what a type says of a part of a kind, in the part's own words; nothing where the kind has no types. The error
// says why a part of that kind cannot be of that type.
func TypeFigures(kind Kind, t *device.Type) (map[string]string, error) {
	k := sortOf(kind).types
	if k == nil {
		return nil, nil
	}
	switch {
	case !slices.Contains(k.sort, t.Kind):
		return nil, fmt.Errorf("%s is a %s, and no %s", t.Name, t.Kind, kind)
	case t.Row.Polarity != "" && k.polarity != "" && t.Row.Polarity != k.polarity:
		return nil, fmt.Errorf("%s is %s: the circuit has %s", t.Name, t.Row.Polarity, kind)
	}
	return k.words(t), nil
}

// HasTypes tells whether parts of a kind are of registered types.
func HasTypes(kind Kind) bool { return sortOf(kind).types != nil }

// TypeOf is the type that a part names; empty where it names none.
func (p *Part) TypeOf() string { return p.also()[typeWord] }

// Fill writes what a type says of a part into it, where the part does not say it itself: for a type that only this workshop
// knows, so that the circuit is whole elsewhere too.
func (p *Part) Fill(t *device.Type) error {
	words, err := TypeFigures(p.Kind, t)
	for word, text := range words {
		switch _, said := p.Also[word]; {
		case word == "" && strings.TrimSpace(p.Value) == "":
			p.Value = text
		case word != "" && !said:
			p.Also[word] = text
		}
	}
	return err
}

// typed fills in what a part's type says and the part does not.
func (r *reading) typed(p *Part, also map[string]string, where string) (value string) {
	name, ok := also[typeWord]
	delete(also, typeWord)
	filled := Part{Kind: p.Kind, Value: p.Value, Also: also}
	// Another is the workshop's own, whose figures stand beside it, or one that nobody has entered.
	if t, _, known := device.Shipped().Find(name); ok && known {
		if err := filled.Fill(t); err != nil {
			r.add(where, "%v", err)
		}
	}
	return filled.Value
}

// middle is what is usual of a range: between its ends as their ratio goes; of one end, half as much again, or two thirds.
func middle(r device.Range) float64 {
	switch {
	case r.Least == 0:
		return r.Most / 1.5
	case r.Most == 0:
		return r.Least * 1.5
	}
	return math.Sqrt(r.Least * r.Most)
}

func plainText(x float64) string { return fmt.Sprintf("%.3g", x) }

// rating is the heat that a type bears standing free; of a case that is bolted down its circuit does not tell where to.
func rating(t *device.Type, out map[string]string) {
	if t.Watts > 0 {
		out[watts.name] = quantity.Rounded(t.Watts, quantity.Watt)
	}
}

// The drops of junctions at the current of a meter's test, volts: germanium and Schottky as textbooks round them.
const germaniumDrop, schottkyDrop = "0.2 V at 1 mA", "0.3 V at 1 mA"

func transistorTypes(polarity string) *types {
	return &types{[]device.Kind{device.Transistor}, polarity, func(t *device.Type) map[string]string {
		out := map[string]string{}
		if t.Gain != (device.Range{}) {
			out["gain"] = plainText(middle(t.Gain))
		}
		switch {
		case t.Row.Material == "germanium":
			out["drop"] = germaniumDrop
		case t.Darlington():
			out["drop"] = "1.2 V at 1 mA"
		}
		if t.Hz > 0 {
			out["transition"] = quantity.Rounded(t.Hz, quantity.Hertz)
		}
		capacitance(t, out)
		rating(t, out)
		return out
	}}
}

// capacitance is that of the junction that feeds back, from collector to base or from drain to gate; of a diode its own.
func capacitance(t *device.Type, out map[string]string) {
	if t.Farads > 0 {
		out["capacitance"] = quantity.Rounded(t.Farads, quantity.Farad)
	}
}

func gateTypes(sort device.Kind, polarity, word string) *types {
	return &types{[]device.Kind{sort}, polarity, func(t *device.Type) map[string]string {
		out := map[string]string{}
		if t.Opens != (device.Range{}) {
			out[word] = plainText(middle(t.Opens)) + " V"
		}
		capacitance(t, out)
		rating(t, out)
		return out
	}}
}

var diodeTypes = &types{[]device.Kind{device.Diode, device.Rectifier}, "", func(t *device.Type) map[string]string {
	out := map[string]string{}
	switch {
	case t.Row.Material == "germanium":
		out["drop"] = germaniumDrop
	case strings.Contains(t.Row.Note, "Schottky"):
		out["drop"] = schottkyDrop
	}
	capacitance(t, out)
	return out
}}

var zenerTypes = &types{[]device.Kind{device.Zener}, "", func(t *device.Type) map[string]string {
	out := map[string]string{"": quantity.Rounded(t.Volts, quantity.Volt)}
	rating(t, out)
	return out
}}

var opAmpTypes = &types{[]device.Kind{device.OpAmp}, "", func(t *device.Type) map[string]string {
	out := map[string]string{}
	if t.Hz > 0 {
		out["unity gain"] = quantity.Rounded(t.Hz, quantity.Hertz)
	}
	if strings.Contains(t.Row.Note, "field-effect input") {
		out["input"] = "1 GΩ"
	}
	return out
}}

var optocouplerTypes = &types{[]device.Kind{device.Optocoupler}, "", func(t *device.Type) map[string]string {
	if t.Gain == (device.Range{}) {
		return nil
	}
	return map[string]string{"transfer": plainText(middle(t.Gain) / 100)}
}}
