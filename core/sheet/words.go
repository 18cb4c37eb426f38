package sheet

import "strings"

// People write the words of a manual and of their trade. Where one is another word for one of
// the sheet's, it is taken for that when a table is read.

var kindWords = map[string]string{
	"amp": "amplifier", "preamp": "amplifier", "preamplifier": "amplifier", "buffer": "amplifier", "driver": "amplifier",
	"power amp": "amplifier", "output stage": "amplifier", "if amplifier": "amplifier", "rf amplifier": "amplifier",
	"follower": "amplifier",
	"osc":      "oscillator", "vco": "oscillator", "local oscillator": "oscillator", "generator": "oscillator",
	"det": "detector", "demodulator": "detector", "discriminator": "detector", "demod": "detector",
	"modulator": "mixer", "multiplier": "mixer", "converter": "mixer",
	"eq": "equaliser", "equalizer": "equaliser", "tone": "equaliser", "tone control": "equaliser",
	"pot": "control", "potentiometer": "control", "volume": "control", "fader": "control", "level": "control", "balance": "control",
	"sw": "switch", "selector": "switch", "relay": "relay contact", "contact": "switch",
	"plug": "connector", "socket": "connector", "jack": "connector", "lead": "cable", "solder joint": "joint", "track": "wire",
	"trafo": "transformer", "xfmr": "transformer", "coil": "transformer",
	"loudspeaker": "speaker", "ls": "speaker", "antenna": "aerial", "pickup": "head", "cartridge": "head", "tape head": "head",
	"bandpass": "filter", "low pass": "filter", "high pass": "filter", "crystal filter": "filter", "ceramic filter": "filter",
	"loop": "feedback", "negative feedback": "feedback",
}

var quantityWords = map[string]Quantity{
	"v ac": AC, "vac": AC, "level": AC, "signal": AC, "volts ac": AC, "ac volts": AC, "rf": AC,
	"v dc": DC, "vdc": DC, "bias": DC, "volts": DC, "dc volts": DC, "voltage": DC,
	"freq": Frequency, "hz": Frequency, "f": Frequency, "ohm": Resistance, "ohms": Resistance, "r": Resistance,
	"amps": Current, "a": Current, "ma": Current, "idle current": Current, "watts": Power, "w": Power, "output power": Power,
	"dev": Deviation, "fm deviation": Deviation, "thd": Distortion, "dist": Distortion, "temp": Temperature, "heat": Temperature,
}

var hazardWords = map[string]string{
	"line voltage": "mains", "live chassis": "hot chassis", "hot": "hot parts", "heat": "hot parts", "heatsink": "hot parts",
	"heat sink": "hot parts", "capacitors": "reservoir", "capacitor": "reservoir", "charged capacitors": "reservoir",
	"hv": "pulses", "high voltage": "pulses", "eht": "picture tube", "crt": "picture tube", "tube": "picture tube", "rf": "rf power",
	"sharp": "sharp edges", "leaking": "leaking fluid", "electrolyte": "leaking fluid", "batteries": "battery",
	"accumulator": "battery",
	"lead":        "lead and fumes", "fumes": "lead and fumes",
}

var controlWords = map[string]string{
	"muting":    "mute",
	"enabling":  "enable",
	"switch on": "enable",
	"agc":       "gain",
	"volume":    "gain",
	"tuning":    "tune",
	"band":      "select",
	"selecting": "select",
	"earth":     "ground",
	"gnd":       "ground",
	"chassis":   "ground",
}

// usual takes another word for one of the sheet's; what is none stays.
func usual[T ~string](words map[string]T, text string) T {
	text = strings.ToLower(strings.Join(strings.Fields(text), " "))
	if w, ok := words[text]; ok {
		return w
	}
	return T(text)
}
