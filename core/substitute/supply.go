package substitute

import (
	"fmt"
	"math"

	"steptrace/core/quantity"
)

// A relay whose coil the set cannot feed gets a small supply of its own: a winding, a bridge, a reservoir, a resistor in series
// with the coil, and a clamp.

// OwnSupply is one, worked out. Volts and amperes as they are with the relay pulled.
type OwnSupply struct {
	Winding  float64 `json:"winding"` // V rms, as it is printed on the transformer
	VA       float64 `json:"va"`      // that it has at least
	Farads   float64 `json:"farads"`
	Bears    float64 `json:"bears"` // V, of the reservoir
	Ohms     float64 `json:"ohms"`  // in series with the coil; 0: none
	Watts    float64 `json:"watts"` // that this resistor is rated for
	Ripple   float64 `json:"ripple"`
	Least    float64 `json:"least"` // V at the coil, with the mains at its worst
	Most     float64 `json:"most"`
	Pulls    float64 `json:"pulls"`    // V at which it has pulled at the latest
	BearsMax float64 `json:"bearsMax"` // V that the coil bears for good
}

// What such a supply is worked out by.
const (
	mainsLow, mainsHigh = 0.9, 1.1 // IEC 60038: mains within a tenth
	// bridgeDrop is what two silicon diodes drop, in volts.
	bridgeDrop = 1.6
	// openHigher is how much higher a small transformer is without its load.
	openHigher = 1.25
	// rippleShare is how much of the coil's volts the reservoir may lose between two charges.
	rippleShare = 0.15
	// pullsBy and bearsUpTo are the shares of a DC coil's volts at which it has pulled, warm, and that it bears (IEC 61810-1, its
	// class of operative range 1).
	pullsBy, bearsUpTo = 0.8, 1.1
	// windingAmps is a winding's current for one behind a bridge and a reservoir (the trade's factor for sizing transformers).
	windingAmps = 1.8
)

// soldWindings are the volts that small transformers are sold with.
var soldWindings = []float64{6, 7.5, 9, 12, 15, 18, 24, 30, 36, 48}

// SupplyFor works one out for a DC coil of so many volts and ohms, on mains of so many hertz. The smallest winding whose coil
// pulls at the lowest mains is taken; ok is false where none does.
func SupplyFor(volts, ohms, mainsHz float64) (s OwnSupply, ok bool) {
	if !(volts > 0 && ohms > 0 && mainsHz > 0) {
		return s, false
	}
	amps := volts / ohms
	s.Pulls, s.BearsMax = pullsBy*volts, bearsUpTo*volts
	s.Farads = sold(soldFarads, amps/(2*mainsHz*rippleShare*volts))
	s.Ripple = Ripple(amps, 2*mainsHz, s.Farads)
	for _, winding := range soldWindings {
		mean := func(mains float64) float64 { return math.Sqrt2*winding*mains - bridgeDrop - s.Ripple/2 }
		if mean(1) < volts {
			continue
		}
		s.Ohms = 0
		if wanted := (mean(1) - volts) / amps; wanted > 0.02*ohms {
			s.Ohms = quantity.E12.Nearest(wanted)
		}
		share := ohms / (ohms + s.Ohms)
		s.Least, s.Most = mean(mainsLow)*share, mean(mainsHigh)*share
		if s.Least-s.Ripple/2*share < s.Pulls || s.Most > s.BearsMax*1.05 {
			continue
		}
		through := mean(mainsHigh) / (ohms + s.Ohms)
		s.Winding, s.VA = winding, windingAmps*amps*winding
		s.Bears = sold(soldVolts, math.Sqrt2*winding*mainsHigh*openHigher)
		if s.Ohms > 0 {
			s.Watts = sold(soldWatts, cool*through*through*s.Ohms)
		}
		return s, true
	}
	return s, false
}

// soldFarads are the reservoirs that are sold.
var soldFarads = []float64{10e-6, 22e-6, 47e-6, 100e-6, 220e-6, 470e-6, 1000e-6, 2200e-6, 4700e-6}

// Says is it in words.
func (s *OwnSupply) Says() string {
	resistor := "no resistor"
	if s.Ohms > 0 {
		resistor = fmt.Sprintf(
			"%s %s in series with the coil",
			quantity.Rounded(s.Ohms, quantity.Ohm),
			quantity.Rounded(s.Watts, quantity.Watt),
		)
	}
	return fmt.Sprintf(
		"a small supply of its own: a winding of %s, %.2g VA or more, with its fuse; a bridge of four 1 A diodes; %s %s; %s; a "+
			"clamp diode across the coil. Ripple %s; at the coil %s to %s from the lowest mains to the highest (it pulls by %s)",
		quantity.Rounded(
			s.Winding,
			quantity.Volt,
		),
		math.Max(s.VA, 0.5),
		quantity.Capacitance(s.Farads),
		quantity.Rounded(s.Bears, quantity.Volt),
		resistor,
		quantity.Rounded(s.Ripple, quantity.Volt),
		quantity.Rounded(s.Least, quantity.Volt),
		quantity.Rounded(s.Most, quantity.Volt),
		quantity.Rounded(s.Pulls, quantity.Volt),
	)
}
