package wave

import (
	"cmp"

	"steptrace/core/quantity"
)

// DefectKind is what is wrong with a waveform.
type DefectKind string

// The defects that are told apart.
const (
	AbsentSignal   DefectKind = "absent"
	LowLevel       DefectKind = "low"
	HighLevel      DefectKind = "high"
	WrongFrequency DefectKind = "wrong frequency"
	ClippedTop     DefectKind = DefectKind(quantity.ClippedTop)
	ClippedBottom  DefectKind = DefectKind(quantity.ClippedBottom)
	ClippedBoth    DefectKind = DefectKind(quantity.ClippedBoth)
	Crossover      DefectKind = DefectKind(quantity.Crossover)
	Distortion     DefectKind = "distorted"
	HumMains       DefectKind = DefectKind(quantity.HumMains)
	HumDouble      DefectKind = DefectKind(quantity.HumDouble)
	Oscillation    DefectKind = DefectKind(quantity.Oscillation)
	Crackle        DefectKind = DefectKind(quantity.Crackling)
	Noise          DefectKind = "noise"
	CuttingOut     DefectKind = "cutting out"
	NoModulation   DefectKind = DefectKind(quantity.NoModulation)
	PilotMissing   DefectKind = "pilot missing"
	SlowEdges      DefectKind = DefectKind(quantity.SlowEdges)
	Ringing        DefectKind = DefectKind(quantity.Ringing)
	Tilt           DefectKind = DefectKind(quantity.Tilt)
	SyncClipped    DefectKind = DefectKind(quantity.SyncClipped)
	SyncMissing    DefectKind = DefectKind(quantity.SyncMissing)
	Crushed        DefectKind = DefectKind(quantity.Crushed)
	LowsMissing    DefectKind = DefectKind(quantity.LowsMissing)
	HighsMissing   DefectKind = DefectKind(quantity.HighsMissing)
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

// logged is what is logged of a kind: its detail, where it has one, and its word; no word where a figure is logged.
func (k DefectKind) logged() (quantity.Detail, quantity.Word) {
	d := quantity.Detail(k)
	if k == Noise {
		d = quantity.Hiss
	}
	if w, ok := quantity.Details()[d]; ok {
		return d, w
	}
	return quantity.NoDetail, words[k]
}

// defect is one of a kind, as it is logged without a value.
func (k DefectKind) defect(evidence string, weight float64) Defect {
	detail, word := k.logged()
	return Defect{k, evidence, causes[k], word, cmp.Or(string(detail), string(word)), weight}
}

// at gives a defect the value that goes with it: volts where it clips, hertz where it swings.
func (d *Defect) at(value float64, unit string) {
	u, ok := map[string]quantity.Unit{"V": quantity.Volt, "Hz": quantity.Hertz}[unit]
	if detail, _ := d.Kind.logged(); ok && detail != quantity.NoDetail {
		d.Reading = quantity.Seen{Detail: detail, At: quantity.Value{SI: value, Unit: u}}.String()
	}
}

// biased is what clips one side.
const biased = "the bias gone to one side: a leaky coupling capacitor, a drifted bias resistor, the supply too low"

// causes are the usual ones of each defect, the trade's experience.
var causes = map[DefectKind]string{
	AbsentSignal:   "an open or dead stage before this point, a missing supply, or the probe beside it",
	LowLevel:       "a coupling capacitor dried out, a bypass capacitor open, a transistor without gain, a load behind",
	HighLevel:      "feedback open, a control or divider leg open",
	WrongFrequency: "the timing resistor or capacitor of the source drifted, a coil or crystal off, another mode",
	ClippedTop:     biased,
	ClippedBottom:  biased,
	ClippedBoth:    "too much signal, or the supply too low for it",
	Crossover:      "an output pair without its idle current: bias diode or control, one half of the pair dead",
	Distortion:     "a stage off its bias, a cone or head dirty or worn",
	HumMains:       "a broken screen or ground, a filament or a half-wave supply without its reservoir",
	HumDouble:      "the reservoir of a full-wave supply dried out, a regulator out of its range",
	Oscillation:    "a decoupling or stopper part open, a lead out of place, a missing load",
	Crackle:        "a joint, a contact, a control, a capacitor or transistor breaking through",
	Noise:          "a noisy transistor or resistor early on, or too little signal before the gain",
	CuttingOut:     "a joint, a contact or a relay; tap, flex and cool what is left",
	NoModulation:   "the audio before the modulator missing, the modulator or its supply dead, the wrong carrier tuned",
	PilotMissing:   "its oscillator or divider dead, the filter that adds it open, a switch to mono",
	SlowEdges: "a resistance in the way (a joint, a contact, a drifted resistor), a load or a cable's capacitance, " +
		"a stage short of bandwidth",
	Ringing: "a damping resistor or snubber open, a termination missing, a compensating capacitor gone, " +
		"a probe's ground lead too long",
	Tilt: "a coupling or bypass capacitor that has lost its value, a leaky clamp, a load too low for its coupling",
	SyncClipped: "a stage before off its bias or driven too far, a coupling or clamping capacitor that leaks, " +
		"a gain control gone wrong",
	SyncMissing: "a clamp or blanking stage gone wrong, a stage off its bias, " +
		"the signal behind the sync separator instead of before it",
	Crushed:      "a stage driven against its supply or off its bias, too much signal before it, a termination missing",
	LowsMissing:  "a coupling or bypass capacitor that has lost its value",
	HighsMissing: "a capacitance or a cable too much, a worn or dirty head, a feedback capacitor too large, a joint in the way",
	Uneven:       "a tuned circuit, a trap or a tone control off, a filter part open, a termination missing",
	OutsideMask:  "a part off its value where the signal is off: compare what is there with the circuit",
	Unlike:       "another mode or source than the reference's, the probe elsewhere, a fault that leaves nothing of it",
}

// words are those of the defects that have no detail beside them; where there is one, it tells the word.
var words = map[DefectKind]quantity.Word{
	AbsentSignal: quantity.Nothing,
	Distortion:   quantity.Distorted,
	CuttingOut:   quantity.CutsOut,
	PilotMissing: quantity.Distorted,
	Uneven:       quantity.Distorted,
	OutsideMask:  quantity.Distorted,
}
