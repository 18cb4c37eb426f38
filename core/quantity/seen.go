package quantity

import "strings"

// Detail is what a waveform shows, where a word of a reading says only that something is wrong: of "distorted", clipped on
// top.
type Detail string

// The details, as they are written.
const (
	NoDetail      Detail = ""
	ClippedTop    Detail = "clipped on top"
	ClippedBottom Detail = "clipped on the bottom"
	ClippedBoth   Detail = "clipped on both sides"
	Crossover     Detail = "crossover"
	HumMains      Detail = "hum at the mains"
	HumDouble     Detail = "hum at twice the mains"
	Oscillation   Detail = "parasitic oscillation"
	Hiss          Detail = "hiss"
	Crackling     Detail = "crackle"
	SlowEdges     Detail = "slow edges"
	Ringing       Detail = "ringing"
	Tilt          Detail = "tilt"
	SyncClipped   Detail = "sync clipped"
	SyncMissing   Detail = "sync missing"
	Crushed       Detail = "picture crushed"
	LowsMissing   Detail = "lows missing"
	HighsMissing  Detail = "highs missing"
	NoModulation  Detail = "no modulation"
)

// details are the word that each is logged as.
var details = map[Detail]Word{
	ClippedTop: Distorted, ClippedBottom: Distorted, ClippedBoth: Distorted, Crossover: Distorted, HumMains: Hum, HumDouble: Hum,
	Oscillation: Noisy, Hiss: Noisy, Crackling: Crackle, SlowEdges: Distorted, Ringing: Distorted, Tilt: Distorted, SyncClipped: Distorted,
	SyncMissing: Distorted, Crushed: Distorted, LowsMissing: Distorted, HighsMissing: Distorted, NoModulation: Nothing,
}

// Details are all of them but none, with the word that each is logged as.
func Details() map[Detail]Word { return details }

// called maps what people type besides to the detail it means.
var called = map[string]Detail{
	"clipped top": ClippedTop, "top clipped": ClippedTop, "clips on top": ClippedTop, "clipped bottom": ClippedBottom,
	"bottom clipped": ClippedBottom, "clips on the bottom": ClippedBottom, "clips": ClippedBoth, "clipped both": ClippedBoth,
	"crossover distortion": Crossover, "mains hum": HumMains, "oscillates": Oscillation, "oscillation": Oscillation,
	"crackles": Crackling, "crackling": Crackling, "scratchy": Crackling, "rings": Ringing, "no sync": SyncMissing, "crushed": Crushed,
	"dull": HighsMissing, "thin": LowsMissing, "not modulated": NoModulation,
}

// Seen is what a waveform showed in words, with a value that goes with it: where it clips, at what frequency it swings.
type Seen struct {
	Detail Detail
	At     Value // SI of 0 without a unit: nothing said
}

// humDouble parts the mains of 50 and 60 Hz from twice that.
const humDouble = 80.0

// SeenIn reads what a text of a reading says of a waveform: "clipped on top at 8.2 V", "hum at 100 Hz". False where it says
// none of that.
func SeenIn(text string) (Seen, bool) {
	key := strings.ToLower(strings.Join(strings.Fields(text), " "))
	if d, ok := detailOf(key); ok {
		return Seen{Detail: d}, true
	}
	fields := strings.Fields(text)
	i := len(fields) - 1
	for i > 0 && !strings.EqualFold(fields[i], "at") {
		i--
	}
	if i <= 0 {
		return Seen{}, false
	}
	words, at := strings.ToLower(strings.Join(fields[:i], " ")), strings.Join(fields[i+1:], " ")
	if hz, err := ParseAs(at, Hertz); words == "hum" && err == nil && hz.SI > 0 {
		d := HumMains
		if hz.SI > humDouble {
			d = HumDouble
		}
		return Seen{d, hz}, true
	}
	d, ok := detailOf(words)
	if !ok {
		return Seen{}, false
	}
	v, err := Parse(at, None)
	if err != nil || v.Unit == None {
		return Seen{}, false
	}
	return Seen{d, v}, true
}

func detailOf(key string) (Detail, bool) {
	if _, ok := details[Detail(key)]; ok {
		return Detail(key), true
	}
	d, ok := called[key]
	return d, ok
}

// Word is the word that it is logged as.
func (s Seen) Word() Word { return details[s.Detail] }

// String writes it as it is read again.
func (s Seen) String() string {
	switch {
	case s.At.Unit == None:
		return string(s.Detail)
	case details[s.Detail] == Hum:
		return "hum at " + s.At.Short(4)
	}
	return string(s.Detail) + " at " + s.At.Short(4)
}
