package substitute

import (
	"cmp"
	"math"

	"steptrace/core/quantity"
)

// The voltages and watts that parts are sold for, as catalogues have them.
var (
	soldVolts = []float64{6.3, 10, 16, 25, 35, 50, 63, 100, 160, 200, 250, 350, 400, 450, 630, 1000}
	soldWatts = []float64{0.125, 0.25, 0.5, 1, 2, 3, 5, 10, 20, 50}
)

// sold is the next above of a row; beyond it a whole number.
func sold(row []float64, x float64) float64 {
	for _, v := range row {
		if v >= x*(1-1e-9) {
			return v
		}
	}
	return math.Ceil(x)
}

const (
	// filmUpTo is the largest electrolytic, farads, in whose holes a film capacitor finds room (the trade: 4.7 µF).
	filmUpTo = 4.8e-6
	// driesFrom is from how many farads a capacitor of unknown kind was an electrolytic.
	driesFrom = 10e-6
	// longLife is the temperature class, °C, that costs little more than that of 85 °C, and lives four times as long.
	longLife = 105.0
	// mainsVolts is what capacitors of the classes X2 and Y2 are commonly rated for, volts rms (IEC 60384-14).
	mainsVolts = 275.0
)

// Sought is what to look for when a capacitor is ordered, the best first: volts that are sold, with the usual margin over what
// it works at, of a kind that suits what it does. AsItWas: no better kind of today.
func (c Capacitor) Sought(at Post, asItWas bool) []Capacitor {
	c.Volts = sold(soldVolts, max(c.Volts, at.Volts*voltsMargin))
	c.Across, c.High = 0, 0
	if c.Dielectric == "" || c.Dielectric == Paper {
		c.Dielectric = Film
		if c.Farads > driesFrom {
			c.Dielectric = Electrolytic
		}
	}
	if at.Use == Mains || at.Use == Earth {
		c.Class = cmp.Or(c.Class, map[Use]string{Mains: "X2", Earth: "Y2"}[at.Use])
		c.Dielectric, c.Volts = Film, max(c.Volts, mainsVolts)
	}
	if !c.Dielectric.polar() {
		return []Capacitor{c}
	}
	var out []Capacitor
	small := c.Farads <= filmUpTo && (at.Use == Coupling || at.Use == Line || at.Use == Timing)
	if !asItWas && small {
		out = append(out, Capacitor{Farads: c.Farads, Volts: c.Volts, Tolerance: c.Tolerance, Dielectric: Film, Class: c.Class,
			Pitch: c.Pitch, Surface: c.Surface})
	}
	c.Celsius = max(c.Celsius, longLife)
	c.LowOhms = c.LowOhms || at.Use == Switching
	if c.Dielectric == Electrolytic && at.Turns {
		c.Dielectric = Bipolar
	}
	return append(out, c)
}

// Sought is what to look for when a resistor is ordered: watts that are sold, with the usual margin over its heat.
func (r Resistor) Sought(at Stand) Resistor {
	r.Watts = sold(soldWatts, max(r.Watts, at.Watts*cool))
	if r.Tolerance == 0 {
		r.Tolerance = usualShare
		if at.Exact {
			r.Tolerance = exactShare
		}
	}
	return r
}

// Says writes a fuse so that FuseOf reads it: "1.6 A slow 250 V".
func (f *Fuse) Says() string {
	return spoken(quantity.Rounded(f.Amps, quantity.Ampere), f.Speed, told(f.Volts, quantity.Volt), f.Size)
}
