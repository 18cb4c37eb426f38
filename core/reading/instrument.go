package reading

import (
	"fmt"
	"math"
	"slices"

	"steptrace/core/quantity"
)

// Instrument is what a reading is taken with. Figures are those usual for the
// kind; a workshop's own instruments differ little in what matters here.
type Instrument struct {
	Key       string  `json:"key"`
	Name      string  `json:"name"`
	InputOhms float64 `json:"inputOhms"`
	InputF    float64 `json:"inputF"` // farads, across the input
	MaxHz     float64 `json:"maxHz"`  // above this its AC reading is not to be trusted
	Averaging bool    `json:"averaging"`
	Scope     bool    `json:"scope"`
	Factor    float64 `json:"factor"`   // of the probe
	MaxVolts  float64 `json:"maxVolts"` // peak to ground that it bears, DC included
	DerateHz  float64 `json:"derateHz"` // above this it bears less; 0: it does not matter here
}

// instruments are the kinds known; the first is taken where none is named.
var instruments = []Instrument{
	{"scope10", "scope, ×10 probe", 10e6, 12e-12, 60e6, false, true, 10, 400, 2e6},
	{"scope1", "scope, ×1 probe", 1e6, 110e-12, 6e6, false, true, 1, 150, 500e3},
	{"scope100", "scope, ×100 probe", 100e6, 5e-12, 100e6, false, true, 100, 2000, 1e6},
	{"meter", "hand meter", 10e6, 100e-12, 1e3, true, false, 1, 600, 10e3},
	{"meterrms", "true rms meter", 10e6, 100e-12, 20e3, false, false, 1, 1000, 20e3},
}

// Instruments lists the kinds known.
func Instruments() []Instrument { return slices.Clone(instruments) }

// InstrumentFor finds an instrument by key, or the first.
func InstrumentFor(key string) Instrument {
	for _, in := range instruments {
		if in.Key == key {
			return in
		}
	}
	return instruments[0]
}

// Loading is the fraction of the unloaded voltage that is left when the
// instrument hangs on a source of ohms at a frequency of hz: the magnitude of
// the divider Zin/(Zin+Rs), Zin being the input resistance and capacitance in
// parallel.
func (in Instrument) Loading(ohms, hz float64) float64 {
	// Zin/(Zin+Rs) = 1/(1+Rs·Y) with Y = 1/R + jωC.
	return 1 / math.Hypot(1+ohms/in.InputOhms, ohms*2*math.Pi*hz*in.InputF)
}

// Rating is the highest voltage to ground (V peak, DC included) that the
// instrument with its probe bears at a frequency (Hz). Above DerateHz it falls
// in proportion to the frequency, as the current through the probe's
// capacitance has to stay the same.
func (in Instrument) Rating(hz float64) float64 {
	if hz <= in.DerateHz || in.DerateHz == 0 {
		return in.MaxVolts
	}
	return in.MaxVolts * in.DerateHz / hz
}

// shows is what an instrument shows (dB against 1 V rms) of a level at a frequency (Hz)
// behind a source resistance (Ω); or why it cannot.
func (in Instrument) shows(level, hz float64, shape quantity.Shape, sourceOhms float64) (dbv float64, note string, ok bool) {
	dbv = level
	if hz > in.MaxHz {
		return 0, fmt.Sprintf("a %s cannot be trusted at %s: use a scope", in.Name, quantity.Frequency(hz)), false
	}
	load := quantity.DB(in.Loading(sourceOhms, hz), 1)
	dbv += load
	if load < -0.5 {
		note = fmt.Sprintf("the %s loads this point by %s, allowed for", in.Name, quantity.SignedDB(load))
	}
	if in.Averaging {
		if factor, err := shape.AverageResponse(); err == nil {
			dbv += quantity.DB(factor, 1)
		}
	}
	return dbv, note, true
}
