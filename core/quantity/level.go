package quantity

import (
	"fmt"
	"math"
)

// DBuReference is the voltage of 1 mW in 600 Ω, in volts rms.
var DBuReference = math.Sqrt(0.6)

// references are the voltages (rms) that named levels refer to.
var references = map[string]float64{
	"V": 1, "v": 1, "u": DBuReference, "mV": 1e-3, "µV": 1e-6, "uV": 1e-6,
}

// Level turns decibels against a reference voltage (V rms) into volts rms.
// It reports false where the result is no longer a usable number.
func Level(db, reference float64) (Value, bool) {
	v := reference * math.Pow(10, db/20)
	return Value{SI: v, Unit: Volt, Form: RMS}, usable(v)
}

func power(db, reference float64) (Value, bool) {
	w := reference * math.Pow(10, db/10)
	return Value{SI: w, Unit: Watt}, usable(w)
}

func usable(x float64) bool { return x > 0 && !math.IsInf(x, 0) }

// DB is the level of a against b in decibels, 20·log10(a/b), for two voltages
// or two currents. It is -Inf for a zero a; b must be above zero.
func DB(a, b float64) float64 { return 20 * math.Log10(a/b) }

// Times is the voltage ratio of a level difference in decibels.
func Times(db float64) float64 { return math.Pow(10, db/20) }

// Shape is the form of a periodic waveform.
type Shape string

// The shapes whose figures are related by a fixed factor.
const (
	Sine     Shape = "sine"
	Square   Shape = "square"
	Triangle Shape = "triangle"
)

// perPeak gives rms and rectified mean for a peak of one, for waveforms that
// are symmetrical about zero. Source: the integrals over one period.
func (s Shape) perPeak() (rms, avg float64, err error) {
	switch s {
	case Sine, "":
		return 1 / math.Sqrt2, 2 / math.Pi, nil
	case Square:
		return 1, 1, nil
	case Triangle:
		return 1 / math.Sqrt(3), 0.5, nil
	}
	return 0, 0, fmt.Errorf("peak, rms and average of a %q are not related by a fixed factor: give the figure that was read", string(s))
}

// factor is the size of a form for a peak of one.
func (s Shape) factor(f Form) (float64, error) {
	switch f {
	case Peak:
		return 1, nil
	case PeakPeak:
		return 2, nil
	}
	rms, avg, err := s.perPeak()
	switch {
	case err != nil:
		return 0, err
	case f == RMS || f == Unstated:
		return rms, nil
	case f == Average:
		return avg, nil
	}
	return 0, fmt.Errorf("a DC value has no %s", s)
}

// Convert turns x, stated as one form of a waveform, into another form of it.
// An unstated form counts as rms. x and the result have the same unit.
func (s Shape) Convert(x float64, from, to Form) (float64, error) {
	if from == to {
		return x, nil
	}
	a, err := s.factor(from)
	if err != nil {
		return 0, err
	}
	b, err := s.factor(to)
	if err != nil {
		return 0, err
	}
	return x * b / a, nil
}

// AverageResponse is what a meter that averages the rectified waveform, scaled
// to read sine waves as rms, shows for a true rms value of one.
// Source: form factor of the shape over that of the sine, π/(2·√2).
func (s Shape) AverageResponse() (float64, error) {
	rms, avg, err := s.perPeak()
	if err != nil {
		return 0, err
	}
	return avg / rms * math.Pi / (2 * math.Sqrt2), nil
}

// Equal is one other way to state a value.
type Equal struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// Equals restates v: other forms and levels of an alternating voltage, dB and
// times of a gain, the nearest E-series values of a part.
func (v Value) Equals(shape Shape) []Equal {
	switch v.Unit {
	case Volt:
		if v.Form == DC || v.SI <= 0 {
			return nil
		}
		return v.voltageEquals(shape)
	case Decibel:
		return []Equal{
			{"voltage ratio", "×" + Value{SI: Times(v.SI)}.Short(4)},
			{"power ratio", "×" + Value{SI: math.Pow(10, v.SI/10)}.Short(4)},
		}
	case Hertz:
		if v.SI > 0 {
			return []Equal{{"period", Value{SI: 1 / v.SI, Unit: Second}.Short(4)}}
		}
	case Second:
		if v.SI > 0 {
			return []Equal{{"frequency", Value{SI: 1 / v.SI, Unit: Hertz}.Short(4)}}
		}
	case Ohm, Farad, Henry:
		if v.SI <= 0 {
			return nil
		}
		var out []Equal
		for _, s := range []Series{E12, E24, E96} {
			near := s.Nearest(v.SI)
			out = append(out, Equal{fmt.Sprintf("nearest E%d", int(s)),
				fmt.Sprintf("%s, %s", Value{SI: near, Unit: v.Unit}, SignedPercent(near/v.SI-1))})
		}
		return out
	}
	return nil
}

func (v Value) voltageEquals(shape Shape) []Equal {
	var out []Equal
	for _, f := range []Form{RMS, Peak, PeakPeak, Average} {
		x, err := shape.Convert(v.SI, v.Form, f)
		if err != nil {
			continue
		}
		out = append(out, Equal{string(f), Value{SI: x, Unit: Volt, Form: f}.Short(4)})
		if f == RMS {
			out = append(out,
				Equal{"dBV", signed(DB(x, 1), 2) + " dBV"},
				Equal{"dBu", signed(DB(x, DBuReference), 2) + " dBu"})
		}
	}
	return out
}
