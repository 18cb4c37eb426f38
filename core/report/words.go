package report

import (
	"strings"

	"steptrace/core/circuit"
	"steptrace/core/sheet"
)

// thing is what a kind of part is, and what it is there for, as one tells somebody who knows nothing of electronics.
type thing struct{ name, does string }

var kinds = map[circuit.Kind]thing{
	circuit.Resistor:        {"a resistor", "which holds current back"},
	circuit.Capacitor:       {"a capacitor", "which stores charge and lets only what changes through"},
	circuit.Inductor:        {"a coil", "which lets steady current through and holds fast changes back"},
	circuit.Windings:        {"a transformer", "which passes energy on by magnetism"},
	circuit.Diode:           {"a diode", "which lets current through one way only"},
	circuit.Zener:           {"a diode", "which holds a voltage steady"},
	circuit.NPN:             {"a transistor", "by which a small current steers a large one"},
	circuit.PNP:             {"a transistor", "by which a small current steers a large one"},
	circuit.NMOS:            {"a transistor", "by which a voltage steers a large current"},
	circuit.PMOS:            {"a transistor", "by which a voltage steers a large current"},
	circuit.NJFET:           {"a transistor", "by which a small voltage steers a current"},
	circuit.PJFET:           {"a transistor", "by which a small voltage steers a current"},
	circuit.Pot:             {"a control", "by which a level is set"},
	circuit.Relay:           {"a relay", "a switch that is worked by a magnet"},
	circuit.ChangeoverRelay: {"a relay", "a switch that is worked by a magnet"},
	circuit.Contact:         {"a contact", "which closes the way for a signal"},
	circuit.Changeover:      {"a switch", "which chooses between two ways"},
	circuit.Crystal:         {"a crystal", "which keeps time"},
	circuit.Optocoupler:     {"a coupler", "which passes a signal on by light"},
	circuit.Regulator:       {"a regulator", "which holds a voltage steady"},
	circuit.Thermistor:      {"a heat sensor", "which feels how warm it gets"},
	circuit.Joint:           {"a soldered joint", "which holds a part to the board"},
}

// letters are what the letters of a part's name stand for, where its kind is not known.
var letters = []struct {
	with string
	thing
}{
	{"IC", thing{"a chip", "in which many parts are made together"}}, {"U", thing{"a chip", "in which many parts are made together"}},
	{"VR", kinds[circuit.Pot]}, {"RV", kinds[circuit.Pot]}, {"RY", kinds[circuit.Relay]}, {"RL", kinds[circuit.Relay]},
	{"K", kinds[circuit.Relay]}, {"ZD", kinds[circuit.Zener]}, {"TR", kinds[circuit.NPN]}, {"LS", thing{"a loudspeaker", ""}},
	{"LED", thing{"a small lamp", ""}}, {"Q", kinds[circuit.NPN]}, {"V", thing{"a valve", "which amplifies, and wears as it glows"}},
	{"R", kinds[circuit.Resistor]}, {"C", kinds[circuit.Capacitor]}, {"L", kinds[circuit.Inductor]}, {"D", kinds[circuit.Diode]},
	{"F", thing{"a fuse", "which gives way so that nothing worse does"}}, {"S", thing{"a switch", ""}},
	{"J", thing{"a connector", ""}}, {"P", thing{"a connector", ""}}, {"X", thing{"a crystal", "which keeps time"}},
}

// chips are the other kinds of the circuits': things in one case.
var chip = thing{"a chip", "in which many parts are made together"}

// thingOf is what a part is: by its kind, or by the letters before its number.
func thingOf(name string, kind circuit.Kind) thing {
	if t, ok := kinds[kind]; ok {
		return t
	}
	if kind != "" {
		return chip
	}
	head := strings.ToUpper(strings.TrimRight(name, "0123456789abcdefghijklmnopqrstuvwxyz"))
	for _, l := range letters {
		if head == l.with {
			return l.thing
		}
	}
	return thing{"a part", ""}
}

// troubles are what has happened to a part, by the word that its failure is told with, the first that fits.
var troubles = []struct{ word, says string }{
	{"shorted", "had become a plain connection, so that current went where it must not"},
	{"leaky", "let current seep through that it has to hold back"},
	{"resistive", "hardly conducted any more"},
	{"high resistance", "hardly conducted any more"},
	{"without light", "had gone out"},
	{"open", "was broken inside, so that nothing came through any more"},
	{"esr", "had dried out and did its work only in part"},
	{"capacit", "had dried out and did its work only in part"},
	{"dried", "had dried out and did its work only in part"},
	{"stuck", "no longer answered to what came in"},
	{"dead", "no longer answered to what came in"},
	{"mute", "stayed silent whatever it was told"},
	{"closed", "stayed closed whatever it was told"},
	{"gain", "had become weak"},
	{"tired", "had become weak"},
	{"weak", "had become weak"},
	{"volts", "gave the wrong voltage"},
	{"drift", "had changed its value with the years"},
	{"high", "had changed its value with the years"},
	{"low", "had changed its value with the years"},
	{"value", "had not the value that it should have"},
	{"noisy", "made noise of its own"},
	{"burnt", "was burnt"},
	{"crack", "was cracked"},
	{"dry", "had come loose with the years"},
	{"dirty", "was dirty, so that it made no sure contact"},
	{"worn", "was worn"},
}

// troubleOf tells what a failure is in plain words; an unknown one is said to be faulty, with what was noted.
func troubleOf(what string) string {
	low := strings.ToLower(what)
	for _, t := range troubles {
		if strings.Contains(low, t.word) {
			return t.says
		}
	}
	if what == "" {
		return "had failed"
	}
	return "had failed (" + what + ")"
}

// means are what closing measurements are, by their kind.
var means = map[string]string{
	sheet.ClosingOffset:     "steady voltage on the loudspeaker, which should be next to none",
	sheet.ClosingIdle:       "what it takes from the mains while nothing plays",
	sheet.ClosingHum:        "what is left to hear when nothing plays; in dB, the more the quieter",
	sheet.ClosingPower:      "the loudest it plays cleanly",
	sheet.ClosingDistortion: "what it adds to the music of its own; the less the better",
	sheet.ClosingResponse:   "how evenly low and high tones come through, in dB; near nought is right",
	sheet.ClosingSeparation: "how well left and right are kept apart, in dB; the more the better",
	sheet.ClosingEarth:      "that the safety wire reaches all metal you can touch; near nought is right",
	sheet.ClosingInsulation: "that nothing of the mains reaches what you can touch; the more the better",
}

// MeansOf is what a closing measurement of a kind is, in plain words; empty where only its name tells.
func MeansOf(kind string) string { return means[kind] }
