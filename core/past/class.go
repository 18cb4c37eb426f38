package past

import (
	"cmp"
	"steptrace/core/circuit"
	"steptrace/core/part"
)

// ofKind are the classes of the kinds of part in circuits; others are chips.
var ofKind = map[circuit.Kind]Class{
	circuit.Resistor: Small, circuit.Capacitor: Small, circuit.Diode: Small, circuit.Zener: Small, circuit.NPN: Small, circuit.PNP: Small,
	circuit.NJFET: Small, circuit.PJFET: Small, circuit.Crystal: Small, circuit.Thermistor: Small, circuit.Optocoupler: Small,
	circuit.NMOS: Strong, circuit.PMOS: Strong, circuit.Regulator: Strong, circuit.Power: Strong,
	circuit.Relay: Moving, circuit.ChangeoverRelay: Moving, circuit.Contact: Moving, circuit.Changeover: Moving, circuit.Pot: Moving,
	circuit.Inductor: Wound, circuit.Windings: Wound, circuit.Joint: Solder,
}

// ofPart are the classes of parts by their letters, as package part tells them; others are small parts.
var ofPart = map[string]Class{
	"bridge": Strong, "relay": Moving, "winding": Wound, "speaker": Wound, "sweep": Moving, "continuity": Moving, "chip": Chip,
}

// called are the kinds of part that are not called what their check is.
var called = map[string]string{"winding": "coil or transformer", "sweep": "control or switch", "continuity": "plug"}

// sortOf is what sort of part a name is of, as one speaks of it.
func sortOf(name string) string {
	kind := part.KindOf(name)
	return cmp.Or(called[kind], kind, "part")
}

// ClassOf is the class of a part by its kind, where that is known, or else by the letters of its name; a small part where neither
// says it.
func ClassOf(name string, kind circuit.Kind) Class {
	if c, ok := ofKind[kind]; ok {
		return c
	}
	if kind != "" {
		return Chip
	}
	return cmp.Or(ofPart[part.KindOf(name)], Small)
}
