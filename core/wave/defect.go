package wave

import "steptrace/core/quantity"

// DefectKind is what is wrong with a waveform.
type DefectKind string

// The defects that are told apart.
const (
	AbsentSignal   DefectKind = "absent"
	LowLevel       DefectKind = "low"
	HighLevel      DefectKind = "high"
	WrongFrequency DefectKind = "wrong frequency"
	ClippedTop     DefectKind = "clipped on top"
	ClippedBottom  DefectKind = "clipped on the bottom"
	ClippedBoth    DefectKind = "clipped on both sides"
	Crossover      DefectKind = "crossover"
	Distortion     DefectKind = "distorted"
	HumMains       DefectKind = "hum at the mains"
	HumDouble      DefectKind = "hum at twice the mains"
	Oscillation    DefectKind = "parasitic oscillation"
	Crackle        DefectKind = "crackle"
	Noise          DefectKind = "noise"
	CuttingOut     DefectKind = "cutting out"
	NoModulation   DefectKind = "no modulation"
	PilotMissing   DefectKind = "pilot missing"
	SlowEdges      DefectKind = "slow edges"
	Ringing        DefectKind = "ringing"
	Tilt           DefectKind = "tilt"
	SyncClipped    DefectKind = "sync clipped"
	SyncMissing    DefectKind = "sync missing"
	Crushed        DefectKind = "picture crushed"
	LowsMissing    DefectKind = "lows missing"
	HighsMissing   DefectKind = "highs missing"
	Uneven         DefectKind = "response uneven"
	OutsideMask    DefectKind = "outside the mask"
	Unlike         DefectKind = "another signal"
)

// Defect is one thing wrong, with what shows it and its usual causes. Word is what
// is logged for it, and Reading that as it is typed at its point, with what the waveform
// shows; a level or a frequency that is off is logged as a figure.
// Weight orders several: the share of the signal that it takes.
type Defect struct {
	Kind     DefectKind    `json:"kind"`
	Evidence string        `json:"evidence"`
	Causes   string        `json:"causes"`
	Word     quantity.Word `json:"word"`
	Reading  string        `json:"reading"`
	Weight   float64       `json:"weight"`
}

// detail is what is logged of a kind beside its word.
func (k DefectKind) detail() quantity.Detail {
	if k == Noise {
		return quantity.Hiss
	}
	return quantity.Detail(k)
}

// at gives a defect the value that goes with it: volts where it clips, hertz where it swings.
func (d *Defect) at(value float64, unit string) {
	u, ok := map[string]quantity.Unit{"V": quantity.Volt, "Hz": quantity.Hertz}[unit]
	if _, known := quantity.Details()[d.Kind.detail()]; ok && known {
		d.Reading = quantity.Seen{Detail: d.Kind.detail(), At: quantity.Value{SI: value, Unit: u}}.String()
	}
}

// biased is what clips one side.
const biased = "the bias gone to one side: a leaky coupling capacitor, a drifted bias resistor, the supply too low"

// known are the usual causes of each defect, the trade's experience, and its word.
var known = map[DefectKind]struct {
	causes string
	word   quantity.Word
}{
	AbsentSignal:   {"an open or dead stage before this point, a missing supply, or the probe beside it", quantity.Nothing},
	LowLevel:       {"a coupling capacitor dried out, a bypass capacitor open, a transistor without gain, a load behind", ""},
	HighLevel:      {"feedback open, a control or divider leg open", ""},
	WrongFrequency: {"the timing resistor or capacitor of the source drifted, a coil or crystal off, another mode", ""},
	ClippedTop:     {biased, quantity.Distorted},
	ClippedBottom:  {biased, quantity.Distorted},
	ClippedBoth:    {"too much signal, or the supply too low for it", quantity.Distorted},
	Crossover:      {"an output pair without its idle current: bias diode or control, one half of the pair dead", quantity.Distorted},
	Distortion:     {"a stage off its bias, a cone or head dirty or worn", quantity.Distorted},
	HumMains:       {"a broken screen or ground, a filament or a half-wave supply without its reservoir", quantity.Hum},
	HumDouble:      {"the reservoir of a full-wave supply dried out, a regulator out of its range", quantity.Hum},
	Oscillation:    {"a decoupling or stopper part open, a lead out of place, a missing load", quantity.Noisy},
	Crackle:        {"a joint, a contact, a control, a capacitor or transistor breaking through", quantity.Crackle},
	Noise:          {"a noisy transistor or resistor early on, or too little signal before the gain", quantity.Noisy},
	CuttingOut:     {"a joint, a contact or a relay; tap, flex and cool what is left", quantity.CutsOut},
	NoModulation:   {"the audio before the modulator missing, the modulator or its supply dead, the wrong carrier tuned", quantity.Nothing},
	PilotMissing:   {"its oscillator or divider dead, the filter that adds it open, a switch to mono", quantity.Distorted},
	SlowEdges: {
		"a resistance in the way (a joint, a contact, a drifted resistor), a load or a cable's capacitance, a stage short of bandwidth",
		quantity.Distorted,
	},
	Ringing: {
		"a damping resistor or snubber open, a termination missing, a compensating capacitor gone, a probe's ground lead too long",
		quantity.Distorted,
	},
	Tilt: {
		"a coupling or bypass capacitor that has lost its value, a leaky clamp, a load too low for its coupling",
		quantity.Distorted,
	},
	SyncClipped: {
		"a stage before off its bias or driven too far, a coupling or clamping capacitor that leaks, a gain control gone wrong",
		quantity.Distorted,
	},
	SyncMissing: {
		"a clamp or blanking stage gone wrong, a stage off its bias, the signal behind the sync separator instead of before it",
		quantity.Distorted,
	},
	Crushed: {
		"a stage driven against its supply or off its bias, too much signal before it, a termination missing",
		quantity.Distorted,
	},
	LowsMissing: {"a coupling or bypass capacitor that has lost its value", quantity.Distorted},
	HighsMissing: {
		"a capacitance or a cable too much, a worn or dirty head, a feedback capacitor too large, a joint in the way",
		quantity.Distorted,
	},
	Uneven: {"a tuned circuit, a trap or a tone control off, a filter part open, a termination missing", quantity.Distorted},
	Unlike: {"another mode or source than the reference's, the probe elsewhere, a fault that leaves nothing of it", ""},
}
