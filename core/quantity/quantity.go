// Package quantity reads and writes values the way technicians do: 4k7, 0R22,
// 300 mVpp, -10 dBV, 3,3 V, 5 %, and the words that stand for a reading.
//
// A value is kept as an SI number with its unit and, for voltages and
// currents, the form it was stated in (rms, peak, ...). What Value.String
// writes, Parse reads back as the same number to the last bit.
//
//	v, err := quantity.Parse("31m", quantity.Volt) // 0.031 V
package quantity

import (
	"math"
	"strconv"
	"strings"

	"steptrace/core/exchange"
)

// Unit is the SI unit a value is kept in.
type Unit string

// Units that are read and written. Ratio is a plain fraction shown in percent;
// Decibel is a relative level, kept as the number of decibels.
const (
	None    Unit = ""
	Volt    Unit = "V"
	Ampere  Unit = "A"
	Ohm     Unit = "Ω"
	Farad   Unit = "F"
	Henry   Unit = "H"
	Hertz   Unit = "Hz"
	Second  Unit = "s"
	Watt    Unit = "W"
	Celsius Unit = "°C"
	Ratio   Unit = "%"
	Decibel Unit = "dB"
)

// Form says which figure of a waveform a voltage or current is.
type Form string

// Words implements exchange.Enumerated.
func (Form) Words() []string {
	return exchange.WordsOf([]Form{Unstated, DC, RMS, Peak, PeakPeak, Average})
}

// The forms. Unstated means that the text did not say.
const (
	Unstated Form = ""
	DC       Form = "dc"
	RMS      Form = "rms"
	Peak     Form = "pk"
	PeakPeak Form = "pp"
	Average  Form = "avg" // mean of the rectified waveform
)

// Value is a number in its SI unit.
type Value struct {
	SI   float64 `json:"si"`
	Unit Unit    `json:"unit"`
	Form Form    `json:"form,omitempty"`
}

// prefixes are the decimal multipliers in use at a bench, by exponent.
var prefixes = map[int]string{-12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G"}

// String writes v exactly: the shortest decimal that reads back as the same
// number, with an engineering prefix. Example: "19.1 mVrms".
func (v Value) String() string { return v.format(-1) }

// Short writes v rounded to at most digits significant figures, as it is read
// aloud. Example: Short(3) of 0.01912 V is "19.1 mV", of 2 V "2 V".
func (v Value) Short(digits int) string { return v.format(max(digits, 1) - 1) }

// format writes v with the given number of decimals in scientific notation;
// -1 stands for the shortest exact form.
func (v Value) format(decimals int) string {
	if math.IsNaN(v.SI) || math.IsInf(v.SI, 0) {
		return "not a number"
	}
	negative, digits, exp := decimal(v.SI, decimals)
	if v.Unit == Ratio {
		exp += 2
	}
	digits = digits[:1] + strings.TrimRight(digits[1:], "0")
	number, prefix := engineering(digits, exp, v.scales())
	if negative {
		number = "-" + number
	}
	form := string(v.Form)
	if v.Form == DC && v.Unit != None {
		form = " dc"
	}
	return strings.TrimSpace(number + " " + prefix + string(v.Unit) + form)
}

// scales tells whether the unit takes decimal prefixes.
func (v Value) scales() bool {
	return v.Unit != None && v.Unit != Celsius && v.Unit != Ratio && v.Unit != Decibel
}

// decimal splits x into its sign, its significant digits and the decimal
// exponent of the first digit.
func decimal(x float64, decimals int) (negative bool, digits string, exp int) {
	if x == 0 {
		return false, "0", 0
	}
	text := strconv.FormatFloat(math.Abs(x), 'e', decimals, 64)
	mantissa, exponent, _ := strings.Cut(text, "e")
	exp, _ = strconv.Atoi(exponent)
	return x < 0, strings.Replace(mantissa, ".", "", 1), exp
}

// engineering places the decimal point in digits so that the remaining power
// of ten is a prefix (scaled) or none at all.
func engineering(digits string, exp int, scaled bool) (number, prefix string) {
	group := 0
	if scaled {
		group = 3 * int(math.Floor(float64(exp)/3))
		group = min(max(group, -12), 9)
	}
	point := exp - group + 1 // digits before the decimal point
	if point > 12 || point < -6 {
		// Outside every prefix: plain powers of ten stay readable and exact.
		if len(digits) > 1 {
			digits = digits[:1] + "." + digits[1:]
		}
		return digits + "e" + strconv.Itoa(exp), ""
	}
	switch {
	case point <= 0:
		number = "0." + strings.Repeat("0", -point) + digits
	case point >= len(digits):
		number = digits + strings.Repeat("0", point-len(digits))
	default:
		number = digits[:point] + "." + digits[point:]
	}
	return number, prefixes[group]
}

// Counted writes a number that is counted, of so many figures, its thousands apart: "28,000".
func Counted(x float64, figures int) string {
	rounded, _ := strconv.ParseFloat(strconv.FormatFloat(x, 'e', figures-1, 64), 64) // it was written just now
	text := strconv.FormatFloat(rounded, 'f', -1, 64)
	whole := len(text)
	if i := strings.IndexByte(text, '.'); i >= 0 {
		whole = i
	}
	for i := whole - 3; i > 0 && text[i-1] != '-'; i -= 3 {
		text = text[:i] + "," + text[i:]
	}
	return text
}

// Rounded writes a number of a unit to three figures, as it is read aloud: "4.7 kΩ".
func Rounded(x float64, unit Unit) string { return Value{SI: x, Unit: unit}.Short(3) }

// Frequency writes hertz with the digits they have, up to nine: a crystal's 27.125 kHz is not
// 27.1 kHz.
func Frequency(hz float64) string { return Value{SI: hz, Unit: Hertz}.Short(9) }

// Capacitance writes farads as the trade does, to at most three figures: in µF
// up to tens of thousands of them, never in mF.
func Capacitance(farads float64) string {
	if farads < 1e-3 || farads >= 1 {
		return Rounded(farads, Farad)
	}
	digits, _ := strconv.ParseFloat(strconv.FormatFloat(farads*1e6, 'g', 3, 64), 64) // reads back what was written
	return strconv.FormatFloat(digits, 'f', -1, 64) + " µF"
}

// SignedDB writes a level difference as it is read aloud: "+28 dB",
// "−16.2 dB", with at most one decimal and a real minus sign.
func SignedDB(db float64) string {
	return signed(db, 1) + " dB"
}

// fewPercent is the difference, in per cent, below which parts per million say it better.
const fewPercent = 0.1

// SignedPercent writes a relative difference given as a fraction: "−0.8 %", and where it is
// small, "+38 ppm".
func SignedPercent(fraction float64) string {
	x := 100 * fraction
	if math.Abs(x) < fewPercent && math.Abs(x) >= 5e-5 {
		return signed(1e6*fraction, 0) + " ppm"
	}
	decimals := 1
	if math.Abs(x) >= 20 {
		decimals = 0
	}
	return signed(x, decimals) + " %"
}

func signed(x float64, decimals int) string {
	scale := math.Pow(10, float64(decimals))
	x = math.Round(x*scale) / scale
	text := strconv.FormatFloat(math.Abs(x), 'f', -1, 64)
	switch {
	case x > 0:
		return "+" + text
	case x < 0:
		return "−" + text
	}
	return text
}
