package circuit

import (
	"math"

	"steptrace/core/quantity"
)

// Kind is a sort of part.
type Kind string

// The kinds. Voltage, Current, Alternating and Signal are sources: an alternating one is a
// winding of a mains transformer, and the small signal of one volt at a signal goes through
// the circuit. A contact is a switch's, a joint one that is soldered or plugged.
const (
	Resistor    Kind = "resistor"
	Capacitor   Kind = "capacitor"
	Inductor    Kind = "inductor"
	Diode       Kind = "diode"
	NPN         Kind = "npn"
	PNP         Kind = "pnp"
	NJFET       Kind = "n-jfet"
	PJFET       Kind = "p-jfet"
	NMOS        Kind = "n-mosfet"
	PMOS        Kind = "p-mosfet"
	OpAmp       Kind = "opamp"
	Voltage     Kind = "voltage"
	Current     Kind = "current"
	Alternating Kind = "alternating"
	Signal      Kind = "signal"
	Contact     Kind = "contact"
	Joint       Kind = "joint"
	Relay       Kind = "relay"
	Pot         Kind = "pot"
	Windings    Kind = "transformer"
	Crystal     Kind = "crystal"
)

// Where the values of a kind stand in element.v; its main one is the first.
const (
	main            = 0
	esr, leak       = 1, 2    // capacitor
	ohms            = 1       // inductor
	dIs, dN, dBv    = 0, 1, 2 // diode
	qIs, bf, br     = 0, 1, 2 // bipolar
	vaf             = 3
	idss, vp, fEarl = 0, 1, 2 // junction FET: at no gate voltage, pinch-off, Early voltage
	mosK, vt        = 0, 1    // MOS FET
	gain, gbw, rout = 0, 1, 2 // op-amp
	rin, short      = 3, 4    // and what of its supplies it does not reach
	off             = 1       // a source's resistance with the power off
	mainsHz         = 1       // alternating
	closed          = 1       // contact
	pull, coilH     = 1, 2    // relay: volts it pulls in at, henries of its coil
	made, rests     = 3, 4    // ohms of its contact; whether that is closed at rest
	at              = 1       // pot
	ratio, coupling = 1, 2    // windings
	windOhms        = 3       // of the first winding
	motional, seriR = 1, 2    // crystal: motional capacitance and resistance,
	holder          = 3       // and its holder's capacitance
)

// field is a value of a part: its name in Also (empty: Value; byLaw: it follows from another
// word), its unit, what is usual where it is left out (NaN: it has to be there), and its bounds.
type field struct {
	name        string
	unit        quantity.Unit
	usual       float64
	least, most float64
}

// byLaw is the name of a field that is told by a law's.
const byLaw = "\x00"

// sort is what is known of a kind: its terminals, its values in order, words that some of them
// follow from, how often it fails beside others, and how far from its values a good one may be (one standard deviation): what
// the trade sells at 5 %, 10 % and 30 % lies within two of them, and a silicon junction's
// voltage within 40 mV.
type sort struct {
	terminals []string
	fields    []field
	laws      []law
	rate      float64
	spread    []spread
}

// spread is how far a value of a good part lies from what is written, as a share.
type spread struct {
	field int
	share float64
}

var needed = math.NaN()

const (
	least, most = 1e-15, 1e15
	// Usual small-signal silicon.
	usualIs, usualBeta, usualVaf = 1e-14, 200.0, 100.0
)

// Rates of failing beside a resistor's: the order of the base rates of MIL-HDBK-217F for
// parts as sets have them (electrolytics, contacts and what runs hot first).
var (
	bipolar = sort{[]string{"collector", "base", "emitter"}, []field{
		{byLaw, quantity.Ampere, usualIs, 1e-20, 1}, {"gain", quantity.None, usualBeta, 0.01, 1e6}, {"reverse gain", quantity.None, 2, 0.01, 1e6}, {"Early voltage", quantity.Volt, usualVaf, 1, 1e9}, watts}, []law{baseDrop}, 3, []spread{{bf, 0.15}, {qIs, 0.8}}}
	jfet = sort{[]string{"drain", "gate", "source"}, []field{
		{"IDSS", quantity.Ampere, 5e-3, 1e-9, 100}, {"pinch-off", quantity.Volt, 2, 1e-3, 100}, early, watts}, nil, 3, []spread{{idss, 0.15}, {vp, 0.08}}}
	mosfet = sort{[]string{"drain", "gate", "source"}, []field{
		{byLaw, quantity.Ampere, 0.1, 1e-9, 1e4}, {"threshold", quantity.Volt, 2, -50, 50}, early, watts}, []law{gateCurrent}, 3, []spread{{mosK, 0.15}, {vt, 0.05}}}
	early    = field{"Early voltage", quantity.Volt, usualVaf, 1, 1e9}
	watts    = field{"rated", quantity.Watt, math.Inf(1), 1e-6, math.Inf(1)} // what it may turn into heat
	offField = field{"off", quantity.Ohm, 1e3, 1e-3, most}
)

var sorts = map[Kind]sort{
	Resistor:  {[]string{"one end", "the other"}, []field{{"", quantity.Ohm, needed, 1e-6, most}, watts}, nil, 1, []spread{{main, 0.025}}},
	Capacitor: {[]string{"plus", "minus"}, []field{{"", quantity.Farad, needed, least, 1e3}, {"ESR", quantity.Ohm, 0, 0, most}, {"leakage", quantity.Ohm, math.Inf(1), 1e-3, math.Inf(1)}}, nil, 4, []spread{{main, 0.05}}},
	Inductor:  {[]string{"one end", "the other"}, []field{{"", quantity.Henry, needed, least, 1e4}, {"resistance", quantity.Ohm, 1e-3, 1e-9, most}}, nil, 0.6, []spread{{main, 0.05}}},
	Diode: {[]string{"anode", "cathode"}, []field{
		{byLaw, quantity.Ampere, usualIs, 1e-20, 1}, {byLaw, quantity.None, 1, 0.5, 10}, {byLaw, quantity.Volt, math.Inf(1), 0.5, math.Inf(1)}, watts}, []law{junctionDrop, zenerVolts}, 2, []spread{{dIs, 0.8}, {dBv, 0.02}}},
	NPN: bipolar, PNP: bipolar, NJFET: jfet, PJFET: jfet, NMOS: mosfet, PMOS: mosfet,
	OpAmp: {[]string{"plus", "minus", "output", "upper supply", "lower supply"}, []field{
		{"gain", quantity.None, 1e5, 1, 1e9}, {"unity gain", quantity.Hertz, 1e6, 1, 1e12}, {"output", quantity.Ohm, 75, 1e-3, 1e6}, {"input", quantity.Ohm, 1e6, 1, most}, {"headroom", quantity.Volt, 1.5, 0, 100}}, nil, 3, nil},
	Voltage:     {[]string{"plus", "minus"}, []field{{"", quantity.Volt, needed, -1e6, 1e6}, offField}, nil, 0, nil},
	Signal:      {[]string{"plus", "minus"}, []field{{"", quantity.Volt, 0, -1e6, 1e6}, {"off", quantity.Ohm, 1e7, 1e-3, most}}, nil, 0, nil},
	Alternating: {[]string{"one end", "the other"}, []field{{"", quantity.Volt, needed, 1e-3, 1e5}, {"at", quantity.Hertz, 50, 1e-3, 1e9}}, nil, 0, nil},
	Current:     {[]string{"from", "to"}, []field{{"", quantity.Ampere, needed, -1e4, 1e4}}, nil, 0, nil},
	Contact:     {[]string{"one side", "the other"}, []field{{"", quantity.Ohm, 0.05, 1e-6, most}, {byLaw, quantity.None, 1, 0, 1}}, []law{flag("open", closed, 0), flag("closed", closed, 1)}, 6, nil},
	Joint:       {[]string{"one side", "the other"}, []field{{"", quantity.Ohm, 0.01, 1e-6, most}}, nil, 3, nil},
	Relay: {[]string{"coil", "coil's other end", "contact", "contact's other side"}, []field{{"", quantity.Ohm, needed, 0.1, most},
		{"pulls at", quantity.Volt, needed, 0.01, 1e4}, {"inductance", quantity.Henry, 0.1, 1e-6, 1e4}, {"contact", quantity.Ohm, 0.05, 1e-6, most}, {byLaw, quantity.None, 0, 0, 1}}, []law{flag("open at rest", rests, 0), flag("closed at rest", rests, 1)}, 6, []spread{{main, 0.05}}},
	Pot:      {[]string{"one end", "wiper", "the other end"}, []field{{"", quantity.Ohm, needed, 1e-3, most}, {"at", quantity.None, 0.5, 0, 1}}, nil, 5, []spread{{main, 0.1}}},
	Windings: {[]string{"primary start", "primary end", "secondary start", "secondary end"}, []field{{"", quantity.Henry, needed, least, 1e4}, {"ratio", quantity.None, 1, 1e-4, 1e4}, {"coupling", quantity.None, 0.99, 0, 0.99999}, {"resistance", quantity.Ohm, 1, 1e-6, most}}, nil, 1, []spread{{main, 0.05}}},
	Crystal:  {[]string{"one side", "the other"}, []field{{"", quantity.Hertz, needed, 1e3, 1e9}, {"motional", quantity.Farad, 20e-15, 1e-18, 1e-9}, {"series", quantity.Ohm, 30, 1e-3, 1e6}, {"holder", quantity.Farad, 5e-12, 1e-15, 1e-9}}, nil, 2, nil},
}

// transistor tells kinds of three legs whose current goes from the first to the third.
func (k Kind) transistor() bool {
	switch k {
	case NPN, PNP, NJFET, PJFET, NMOS, PMOS:
		return true
	}
	return false
}

func (k Kind) bipolar() bool { return k == NPN || k == PNP }

// gated tells a junction FET, whose gate is a junction.
func (k Kind) gated() bool { return k == NJFET || k == PJFET }

// source tells what feeds the circuit, and is no part that fails.
func (k Kind) source() bool {
	switch k {
	case Voltage, Current, Alternating, Signal:
		return true
	}
	return false
}

func polarity(k Kind) float64 {
	if k == PNP || k == PJFET || k == PMOS {
		return -1
	}
	return 1
}
