package sheet

import (
	"slices"
	"strings"

	"steptrace/core/quantity"
)

// What can be stated of a point and read there, and in which unit.

// unitOf gives the unit and default tolerance of a quantity.
func unitOf(q Quantity) (quantity.Unit, quantity.Tolerance, bool) {
	switch q {
	case AC:
		return quantity.Volt, levelTolerance, true
	case DC:
		return quantity.Volt, biasTolerance, true
	case Frequency:
		return quantity.Hertz, frequencyTolerance, true
	case Resistance:
		return quantity.Ohm, resistanceTolerance, true
	case Current:
		return quantity.Ampere, adjustedTolerance, true
	case Power:
		return quantity.Watt, adjustedTolerance, true
	case Deviation:
		return quantity.Hertz, adjustedTolerance, true
	case Distortion:
		return quantity.Ratio, distortionTolerance, true
	case Temperature:
		return quantity.Celsius, warmTolerance, true
	}
	return quantity.None, quantity.Tolerance{}, false
}

// Quantities are those that a sheet may state, in the order offered.
var Quantities = []Quantity{AC, DC, Frequency, Resistance, Current, Power, Deviation, Distortion, Temperature}

// Unit is the unit of a quantity; of what is read along a track volts.
func (q Quantity) Unit() quantity.Unit {
	if unit, _, ok := unitOf(q); ok {
		return unit
	}
	return quantity.Volt
}

// Known tells whether a sheet may state the quantity.
func (q Quantity) Known() bool { return slices.Contains(Quantities, q) }

// Aspect is what a reading of the signal speaks of: AC stands for the level.
func (q Quantity) Aspect() Quantity {
	switch q {
	case Frequency, Deviation, Distortion:
		return q
	}
	return AC
}

// OfSignal tells whether a quantity is one of the signal's, so that it speaks of the way up to
// where it is read.
func (q Quantity) OfSignal() bool { return q == AC || q == Power || q.Aspect() != AC }

// QuantityList names the quantities in a sentence.
func QuantityList() string {
	var names []string
	for _, q := range Quantities {
		names = append(names, string(q))
	}
	last := len(names) - 1
	return strings.Join(names[:last], ", ") + " or " + names[last]
}

func quantityName(q Quantity) string {
	switch q {
	case AC:
		return "a signal level"
	case DC:
		return "a DC voltage"
	}
	return "a " + string(q)
}
