package quantity

import (
	"fmt"
	"math"
	"strings"
)

// Tolerance is how far a value may lie from its nominal, both ways. The
// figures are fractions (Ratio), decibels (Decibel) or in the value's own unit.
type Tolerance struct {
	Low  float64 `json:"low"`  // how far below, not negative
	High float64 `json:"high"` // how far above, not negative
	Unit Unit    `json:"unit"`
}

// letters are the tolerance codes of IEC 60062, as fractions.
var letters = map[string]Tolerance{
	"B": {0.001, 0.001, Ratio}, "C": {0.0025, 0.0025, Ratio}, "D": {0.005, 0.005, Ratio}, "F": {0.01, 0.01, Ratio},
	"G": {0.02, 0.02, Ratio}, "J": {0.05, 0.05, Ratio}, "K": {0.1, 0.1, Ratio}, "M": {0.2, 0.2, Ratio},
	"N": {0.3, 0.3, Ratio}, "Q": {0.1, 0.3, Ratio}, "S": {0.2, 0.5, Ratio}, "Z": {0.2, 0.8, Ratio},
}

// ParseTolerance reads "5 %", "±2 dB", "0.5 V", "-20/+80 %", "50 ppm", or a letter of
// IEC 60062. A number without a unit takes the fallback unit.
func ParseTolerance(text string, fallback Unit) (Tolerance, error) {
	trimmed := strings.TrimSpace(text)
	if t, ok := letters[trimmed]; ok {
		return t, nil
	}
	trimmed = strings.TrimSpace(strings.TrimPrefix(strings.TrimPrefix(trimmed, "±"), "+/-"))
	if millionths, ok := strings.CutSuffix(trimmed, "ppm"); ok {
		v, err := ParseAs(millionths, None)
		x := math.Abs(v.SI) / 1e6
		return Tolerance{x, x, Ratio}, err
	}
	first, second, split := strings.Cut(trimmed, "/")
	if !split {
		v, err := Parse(trimmed, fallback)
		if err != nil {
			return Tolerance{}, err
		}
		x := math.Abs(v.SI)
		return Tolerance{x, x, v.Unit}, nil
	}
	b, err := Parse(second, fallback)
	if err != nil {
		return Tolerance{}, err
	}
	a, err := Parse(first, b.Unit)
	if err != nil {
		return Tolerance{}, err
	}
	if a.Unit != b.Unit || a.SI*b.SI > 0 {
		return Tolerance{}, &ParseError{
			Text:    clip(text),
			At:      1,
			Problem: "the two sides of a tolerance need one unit and opposite signs",
			Help:    "Write for example -20/+80 %.",
		}
	}
	return Tolerance{Low: math.Abs(min(a.SI, b.SI)), High: math.Abs(max(a.SI, b.SI)), Unit: a.Unit}, nil
}

// String writes the tolerance so that ParseTolerance reads it back.
func (t Tolerance) String() string {
	high := Value{SI: t.High, Unit: t.Unit}.String()
	if t.Low == t.High {
		return "±" + high
	}
	return fmt.Sprintf("-%s/+%s", Value{SI: t.Low, Unit: t.Unit}, high)
}

// Holds tells whether x lies within the tolerance of nominal. Both are in the
// same unit; for a tolerance in decibels both must be above zero.
func (t Tolerance) Holds(x, nominal float64) bool {
	low, high := t.Bounds(nominal)
	return x >= low && x <= high
}

// Bounds gives the lowest and highest value allowed around nominal.
func (t Tolerance) Bounds(nominal float64) (low, high float64) {
	switch t.Unit {
	case Decibel:
		return nominal * Times(-t.Low), nominal * Times(t.High)
	case Ratio:
		span := math.Abs(nominal)
		return nominal - span*t.Low, nominal + span*t.High
	}
	return nominal - t.Low, nominal + t.High
}
