package part

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"steptrace/core/circuit"
)

// legs is a transistor's drops by its terminals; Inf: open.
type legs struct{ be, bc, ce, ec float64 }

// readings are those of all six pairs. Drops are from base to the others for an NPN, the
// other way for a PNP; ce and ec are from collector to emitter with the base open.
func readings(l leads, npn bool, x legs, reverse legs) map[string]string {
	out := map[string]string{}
	put := func(a, b int, v float64) {
		if !npn {
			a, b = b, a
		}
		text := "OL"
		if !math.IsInf(v, 1) {
			text = fmt.Sprintf("%.4f", v)
		}
		out[fmt.Sprintf("%d-%d", a, b)] = text
	}
	put(l.base, l.emitter, x.be)
	put(l.emitter, l.base, reverse.be)
	put(l.base, l.collector, x.bc)
	put(l.collector, l.base, reverse.bc)
	put(l.collector, l.emitter, x.ce)
	put(l.emitter, l.collector, x.ec)
	return out
}

var open = math.Inf(1)

// Every order of the legs, both polarities, every kind and fault: what it is, which leg is
// which, and what failed.
func TestEveryTransistor(t *testing.T) {
	none := legs{open, open, open, open}
	orders := []leads{{1, 2, 3}, {1, 3, 2}, {2, 1, 3}, {2, 3, 1}, {3, 1, 2}, {3, 2, 1}}
	for _, l := range orders {
		for _, npn := range []bool{true, false} {
			polarity := map[bool]string{true: "NPN", false: "PNP"}[npn]
			named := fmt.Sprintf("base %d, collector %d, emitter %d", l.base, l.collector, l.emitter)
			for _, x := range []struct {
				name      string
				on, back  legs
				judgement Judgement
				says      []string
			}{
				{"silicon", legs{0.665, 0.652, open, open}, none, Good, []string{polarity, "silicon", named}},
				{"germanium", legs{0.21, 0.19, open, open}, none, Good, []string{polarity, "germanium", named}},
				{"Darlington", legs{1.21, 0.63, open, open}, none, Good, []string{polarity, "Darlington", named}},
				{"with its diode", legs{0.665, 0.652, open, 0.51}, none, Good, []string{polarity, named}},
				{"alike drops", legs{0.655, 0.655, open, open}, none, Unsure, []string{polarity, fmt.Sprintf("base %d", l.base),
					"cannot be told apart"}},
				{"shorted collector to " +
					"emitter", legs{0.665, 0.652, 0.001, 0.001}, none, Bad, []string{"shorted", pair(l.collector, l.emitter)}},
				{"shorted base to emitter", legs{0.002, 0.652, open, 0.652}, legs{be: 0.002, bc: open}, Bad, []string{"shorted",
					pair(l.base, l.emitter)}},
				{"shorted base to collector", legs{0.665, 0.001, 0.665, open}, legs{be: open, bc: 0.001}, Bad, []string{"shorted",
					pair(l.base, l.collector)}},
				{"emitter open", legs{open, 0.652, open, open}, none, Bad, []string{"one junction is open"}},
				{"collector open", legs{0.665, open, open, open}, none, Bad, []string{"one junction is open"}},
				{"all open", none, none, Bad, []string{"nothing conducts"}},
				{"leaky collector to emitter", legs{0.665, 0.652, 0.9, 0.95}, none, Bad, []string{"leaks from collector to emitter"}},
				{"a resistor built in", legs{1.2, 0.655, open, open}, legs{be: 1.19, bc: open}, Unsure, []string{"a resistance stands",
					pair(l.base, l.emitter)}},
				{"leaky base to emitter", legs{0.665, 0.652, open, open}, legs{be: 1.1, bc: open}, Bad, []string{"leaks", pair(l.base,
					l.emitter)}},
			} {
				back := x.back
				v, err := Judge("transistor", readings(l, npn, x.on, back))
				if err != nil {
					t.Fatal(err)
				}
				for _, s := range x.says {
					if v.Judgement != x.judgement || !strings.Contains(v.What, s) {
						t.Errorf("%s %s, %s: %s, %q does not say %q", polarity, x.name, named, v.Judgement, v.What, s)
					}
				}
			}
		}
	}
}

func pair(a, b int) string { return fmt.Sprintf("between legs %d and %d", min(a, b), max(a, b)) }

// Verdicts of the other checks, with what each must say; figures by hand from the formulas
// beside them.
func TestChecks(t *testing.T) {
	for name, x := range map[string]struct {
		kind, given string
		judgement   Judgement
		says        string
	}{
		"low gain": {"transistor", "1-2 0.66|1-3 0.67|2-1 OL|3-1 OL|2-3 OL|3-2 OL|gain 40|least 110", Bad, "its gain is 40, less " +
			"than 110"},
		"leaky gain":   {"transistor", "1-2 0.66|1-3 0.67|2-1 OL|3-1 OL|2-3 OL|3-2 OL|gain 140|leakage 2 mA", Bad, "it leaks 2 mA"},
		"good MOS":     {"fet", "kind n mos|gs OL|sg OL|ds OL|sd 0.52|threshold 3.1 V|lowest 2|highest 4", Good, "nothing is wrong"},
		"pierced gate": {"fet", "kind n mos|gs 0.01|sg 0.01", Bad, "its gate conducts"},
		"shorted MOS":  {"fet", "kind p mos|gs OL|sg OL|ds 0.003|sd 0.003", Bad, "shorted from drain to source"},
		"threshold":    {"fet", "kind n mos|gs OL|sg OL|threshold 5.2 V|highest 4 V", Bad, "threshold of 5.2 V is above 4 V"},
		"open JFET":    {"fet", "kind n junction|gs 0.7|sg OL|ds OL|sd OL", Bad, "channel is open"},
		"diode":        {"diode", "kind silicon|forward 0.61|back OL", Good, "conducts one way"},
		"leaky diode":  {"diode", "kind silicon|forward 0.61|back 1.2", Bad, "leaks"},
		"LED":          {"diode", "kind led|forward OL|back OL", Unsure, "nothing conducts"},
		"zener":        {"diode", "kind zener|forward 0.7|back OL|zener 13.4 V|nominal 12 V", Bad, "holds 13.4 V, not 12 V"},
		"bridge":       {"bridge", "a+ 0.55|b+ 0.55|-a 0.001|-b 0.55", Bad, "− to ~1 is shorted"},
		"worn":         {"capacitor", "kind aluminium|value 47 µF|volts 63|measured 31 µF", Bad, "lost 34 %"},
		"ESR": {"capacitor", "kind aluminium|value 100 µF|volts 25 V|esr 3.2|hz 100 kHz", Bad, "ESR of 3.2 Ω is above " +
			"899 mΩ"}, // 0.4·0.16/(2π·120·100µ) + 0.05
		"leaks": {"capacitor", "kind aluminium|value 10 µF|volts 50 V|measured 10 µF|leakage 60 " +
			"µA|at 50 V", Bad, "leaks 60 µA at 50 V; a good one stays below 5 µA"},
		"low meter": {"capacitor", "kind film|value 100 nF|volts 400 V|measured 100 nF|leakage 0.1 " +
			"nA|at 9 V", Good, "nothing is wrong"},
		"only value":    {"capacitor", "kind film|value 100 nF|measured 100 nF", Good, "nothing is wrong"},
		"parallel":      {"resistor", "value 10k|measured 5k|parallel 10k", Good, "10 kΩ by itself"},
		"drifted":       {"resistor", "value 10k|measured 6k|parallel 10k", Bad, "15 kΩ, 50 % more"},
		"up in circuit": {"resistor", "value 10k|measured 12k|where in circuit", Bad, "drifted up"},
		"low inside":    {"resistor", "value 10k|measured 7k|where in circuit", Unsure, "what is parallel may"},
		"turns":         {"winding", "ohms 4|should 6.2", Bad, "turns are shorted"},
		"ratio":         {"winding", "ohms 4|should 4|in 10 V|out 1.1 V|ratio 0.15", Bad, "ratio is 0.11, not 0.15"},
		"rings":         {"winding", "ohms 4|rings 2", Bad, "rings 2 times"},
		"speaker":       {"speaker", "nominal 8|ohms 6.3|sounds freely|plays clean", Good, "6.3 Ω"},
		"open speaker":  {"speaker", "nominal 8|ohms OL", Bad, "open"},
		"fuse":          {"fuse", "ohms OL|looks silvered", Bad, "blown"},
		"NTC": {"thermistor", "kind ntc|r25 10k|b 3950|temperature " +
			"50|ohms 3.6k", Good, "3.59 kΩ is due"}, // 10k·exp(3950·(1/323.15 − 1/298.15))
		"warm PTC":     {"thermistor", "kind ptc|r25 18|temperature 25|ohms 90", Bad, "more than"},
		"dead crystal": {"crystal", "nominal 4 MHz|hz 0 Hz", Bad, "dead"},
		"crystal":      {"crystal", "nominal 4 MHz|hz 4.0004 MHz|ppm 50", Bad, "100 ppm"},
		"dead spot":    {"sweep", "kind control|value 50k|readings 0.5 12k 25k OL 50k", Bad, "loses its track at 75 %"},
		"goes back":    {"sweep", "kind control|readings 0.5 12k 8k 38k 50k", Bad, "goes back at 50 %"},
		"switch":       {"sweep", "kind switch|readings 0.05 0.04 4.2 0.05", Bad, "position 3 has 4.2"},
		"network":      {"network", "inside 1-2 10k; 2-3 4k7; 3-4 10k|readings 1-2 10k; 1-3 14.7k; 3-4 OL", Bad, "3-4 open"},
		"chip that gives nothing": {
			"chip", "upper 12|lower -12|due 24|input as it should|control moves as it should|output nothing|freed nothing", Bad,
			"supply good, input good, control as it should, output nothing"},
		"chip held down": {
			"chip", "upper 9|input as it should|control has none|output too little|freed as it should", Good,
			"what is behind it pulls it down",
		},
		"chip without supply": {"chip", "upper 0.2|due 12|output nothing", Unsure, "no supply"},
		"chip of low supply":  {"chip", "upper 9|due 12|output too little", Unsure, "its supply is low"},
		"chip not steered": {
			"chip", "upper 9|input as it should|control does not move|output nothing|freed nothing", Unsure,
			"does not move",
		},
		"chip without signal": {
			"chip", "upper 9|input nothing|control has none|output nothing", Unsure,
			"what comes in is not right",
		},
		"chip half read": {"chip", "upper 9|output nothing", Unsure, "not condemned yet"},
		"op-amp against its inputs": {
			"chip", "kind op-amp|upper 15|lower -15|plus 0.2|minus 0.02|out -13.4|freed stuck", Bad,
			"though plus (200 mV) is above minus",
		},
		"op-amp that obeys": {
			"chip", "kind op-amp|upper 15|lower -15|plus -0.4|minus 0.02|out -13.4", Good,
			"it does what its inputs tell it",
		},
		"op-amp that follows": {"chip", "kind op-amp|upper 15|lower -15|plus 0.004|minus 0|out 1.2", Good, "its loop works"},
		"comparator down":     {"chip", "kind comparator|upper 12|plus 6|minus 3|out 0.1", Unsure, "nothing pulls its output up"},
		"comparator up":       {"chip", "kind comparator|upper 12|plus 2|minus 3|out 11", Bad, "though plus (2 V) is below minus"},
		"regulator dead": {
			"chip", "kind regulator|upper 14|out 0.1|should 8|alone 0", Bad,
			"alone it gives 0 V instead of 8 V",
		},
		"regulator loaded":     {"chip", "kind regulator|upper 14|out 3|should 8|alone 8.1", Good, "pulls it down"},
		"regulator below":      {"chip", "kind regulator|upper -19|out -12.1|should -12", Good, "it holds 12.1 V"},
		"regulator through":    {"chip", "kind regulator|upper 14|out 13.8|should 8", Bad, "it lets 13.8 V through"},
		"regulator hungry":     {"chip", "kind regulator|upper 9|out 6.9|should 8", Unsure, "too little for it"},
		"regulator off ground": {"chip", "kind regulator|upper 14|lower 0.6|out 8.6|should 8", Unsure, "ground leg has 600 mV"},
		"joint":                {"continuity", "across joint|ohms 0.1|looks whole", Good, "conducts: 100 mΩ"},
		"cracked track":        {"continuity", "across track|ohms OL", Bad, "open"},
		"moved track":          {"continuity", "across track|ohms 0.2|moved OL", Bad, "comes and goes"},
		"worn contact":         {"continuity", "across contact|ohms 1.4", Unsure, "much for a contact"},
		"green contact":        {"continuity", "across contact|ohms 0.2|looks green", Unsure, "may conduct for the meter"},
		"tarnished":            {"continuity", "across contact|ohms 40", Bad, "hardly conducts"},
		"good network":         {"network", "inside 1-2 10k; 2-3 4k7|readings 1-2 10.1k; 1-3 14.6k", Good, "what they should"},
		"coil":                 {"relay", "volts 24 V|ohms OL", Bad, "coil: open"},
		"AC coil on DC": {"relay", "volts 230 V|coil ac|ohms 6.2|supply 24 V|feeds dc", Bad, "the wrong relay: its coil is for " +
			"alternating"},
		"other volts": {"relay", "volts 48 V|ohms 4.6k|supply 24 V", Bad, "the wrong relay: its coil is for 48 V"},
		"no supply":   {"relay", "volts 24 V|upper 3 V|lower 3 V", Bad, "supply: 3 V arrive"},
		"driver":      {"relay", "volts 24 V|upper 24 V|lower 23.8 V|drive 0.72 V", Bad, "driver: told to pull"},
		"logic":       {"relay", "volts 24 V|upper 24 V|lower 23.8 V|drive 0.02 V", Bad, "logic: the driver is not told"},
		"stuck coil":  {"relay", "volts 24 V|upper 24 V|lower 0.1 V|clicks no", Bad, "coil: it has 23.9 V across it"},
		"clamp":       {"relay", "volts 24 V|clamp 0.002|clampback 0.002", Bad, "clamp diode: shorted"},
		"clicks":      {"relay", "volts 24 V|clicks yes|made 180", Bad, "contact: 180 Ω"},
		"welded":      {"relay", "open 0.04", Bad, "contact: welded"},
		"jumper":      {"relay", "clicks yes|jumper cures it", Bad, "a wire across it cures"},
		"untouched":   {"relay", "volts 24 V", Unsure, "nothing was read"},
		// 270 Ω beside 1.5 Ω: good 1.4917 Ω, open 1.5 Ω, and a hand meter has tenths.
		"meter's end":  {"resistor", "value 270|measured 1.5|parallel 1.5", Unsure, "cannot be judged in circuit"},
		"nearer still": {"resistor", "value 270|measured 1.494|parallel 1.5", Unsure, "cannot be judged in circuit"},
		"hidden coil":  {"winding", "ohms 220|should 30|parallel 220", Bad, "open: 220 Ω is what is parallel"},
		"low coil":     {"winding", "ohms 0.3|should 0.2", Unsure, "a meter is sure to"},
		"no farads":    {"capacitor", "kind aluminium|value 22 µF|measured 0 F", Bad, "open, or nearly, or shorted"},
		"shorted":      {"capacitor", "kind aluminium|value 22 µF|measured 0 F|ohms 0.4", Bad, "shorted: 400 mΩ across it"},
		"open":         {"capacitor", "kind aluminium|value 22 µF|measured 0 F|ohms >20M", Bad, "it is open, or nearly: 0 F"},
		"mains coil": {"relay", "volts 115 V|coil ac|ohms 1.6k|supply 5 V|feeds ac", Bad, "the wrong relay: its coil is for 115 V, " +
			"the set feeds it 5 V"},
		"too much AC": {"relay", "volts 24 V|coil ac|ohms 70|supply 32 V|feeds ac", Bad, "the wrong relay: its coil is for 24 V"},
		"right coil":  {"relay", "volts 24 V|coil dc|ohms 1.1k|supply 24.5 V|feeds dc", Good, "fits"},
		"only ohms":   {"relay", "ohms 1.1k", Unsure, "whether it is one for this place is not known"},
		"sealed":      {"relay", "volts 24 V|upper 24 V|lower 0.1 V|clicks cannot be told", Good, "the coil gets 23.9 V"},
	} {
		v, err := Judge(x.kind, fields(x.given))
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		said := v.What + "\n" + strings.Join(v.Why, "\n")
		if v.Judgement != x.judgement || !strings.Contains(said, x.says) {
			t.Errorf("%s: %s, %q does not say %q", name, v.Judgement, said, x.says)
		}
		if v.Judgement == Good && len(v.Limits)+len(v.Sure)+len(v.Why) == 0 {
			t.Errorf("%s: good, without a reason or a limit", name)
		}
	}
	v, _ := Judge("capacitor", fields("kind film|value 100 nF|volts 400 V|measured 100 nF|leakage 0.1 nA|at 9 V"))
	if len(v.Limits) == 0 || !strings.Contains(v.Limits[0], "read at 9 V of 400 V") {
		t.Errorf("the meter's low voltage: %v", v.Limits)
	}
	if fits := Fits(680); len(fits) != 3 || fits[0] != 9 ||
		fits[2] != 24 { // V²/R from 0.1 to 3 W: 9 (0.12), 12, 24, 48 V (3.39 is too much)
		t.Errorf("680 Ω fits %v", fits)
	}
}

// A part that stands in a circuit is held against that: another value, polarity, Zener
// voltage or coil than belongs there is told, whatever is marked on it.
func TestPartsAreHeldAgainstTheirPlace(t *testing.T) {
	for name, x := range map[string]struct {
		kind, given string
		place       Place
		judgement   Judgement
		says        string
		wrong       bool
	}{
		"another value": {"resistor", "value 33k|measured 32.9k", Place{Kind: "resistor", Value: 82e3}, Bad, "wrong value fitted: " +
			"33 kΩ where 82 kΩ belongs", true},
		"the right value": {"resistor", "value 82k|measured 82.5k", Place{Kind: "resistor", Value: 82e3}, Good, "within", false},
		"drifted":         {"resistor", "value 82k|measured 99k", Place{Kind: "resistor", Value: 82e3}, Bad, "drifted up", false},
		"wrong and drifted": {"resistor", "value 33k|measured 60k", Place{Kind: "resistor", Value: 82e3}, Bad,
			"33 kΩ where 82 kΩ belongs; and drifted up", true},
		"known beside": {"resistor", "value 10k|measured 5k|where in " +
			"circuit", Place{Kind: "resistor", Value: 10e3, Parallel: 10e3}, Good, "10 kΩ by itself", false},
		"smaller": {"capacitor", "kind film|value 10 nF|measured 10 nF|leakage 1 " +
			"pA|at 50 V", Place{Kind: "capacitor", Value: 100e-9}, Bad, "10 nF where 100 nF belongs", true},
		"renewed larger": {"capacitor", "kind aluminium|value 470 µF|volts 63 V|measured 460 " +
			"µF|esr 0.1", Place{Kind: "capacitor", Value: 220e-6}, Good, "nothing is wrong", false},
		"far larger": {"capacitor", "kind aluminium|value 1000 µF|volts 63 V|measured 990 " +
			"µF|esr 0.1", Place{Kind: "capacitor", Value: 220e-6}, Bad, "wrong value fitted", true},
		"polarity": {"transistor", "1-2 0.66|1-3 0.67|2-1 OL|3-1 OL|2-3 OL|3-2 OL|gain " +
			"200|least 100", Place{Kind: "pnp"}, Bad, "wrong part fitted: an NPN where a PNP belongs", true},
		"Zener": {"diode", "kind zener|forward 0.7|back OL|zener 9.2 " +
			"V|nominal 9.1 V", Place{Kind: "diode", Value: 6.2}, Bad, "a Zener of 9.1 V where 6.2 V belongs", true},
		"no Zener": {"diode", "kind silicon|forward " +
			"0.7|back OL", Place{Kind: "diode", Value: 6.2}, Bad, "a silicon diode where a Zener of 6.2 V", true},
		"channel": {"fet", "kind n mos|gs OL|sg OL", Place{Kind: "p-mosfet"}, Bad, "n mos where p mos belongs", true},
		"coil": {"relay", "ohms 270", Place{Kind: "relay", Value: 1100}, Bad, "a coil of 270 Ω where one of 1.1 kΩ " +
			"belongs", true},
		"crystal": {"crystal", "nominal 4 MHz|hz 4 MHz", Place{Kind: "crystal", Value: 3.5795e6}, Bad,
			"one of 4 MHz where 3.58 MHz belongs", true},
		"winding beside": {"winding", "ohms 120|where x", Place{}, "", "no such field", false},
	} {
		v, err := CheckAt(x.kind, fields(x.given), x.place)
		if err != nil {
			if x.judgement != "" || !strings.Contains(err.Error(), x.says) {
				t.Errorf("%s: %v", name, err)
			}
			continue
		}
		if v.Judgement != x.judgement || v.Wrong != x.wrong || !strings.Contains(v.What, x.says) {
			t.Errorf("%s: %s, wrong %t, %q does not say %q", name, v.Judgement, v.Wrong, v.What, x.says)
		}
	}
	v, err := CheckAt("winding", fields("ohms 47"), Place{Kind: "inductor", Value: 12, Parallel: 47})
	if err != nil || v.Judgement != Bad || !strings.Contains(v.What, "open: 47 Ω is what is parallel") {
		t.Errorf("a winding that is open beside a resistor: %s %q %v", v.Judgement, v.What, err)
	}
}

func fields(text string) map[string]string {
	out := map[string]string{}
	for _, x := range strings.Split(text, "|") {
		name, value, _ := strings.Cut(x, " ")
		out[name] = value
	}
	return out
}

// What is typed wrong is named with its field.
func TestBadFields(t *testing.T) {
	for given, says := range map[string]string{
		"transistor|1-2 652|2-1 OL|1-3 OL|3-1 OL|2-3 OL|3-2 OL": "was it read in mV",
		"transistor|1-2 0.6":                                              "it is needed",
		"diode|kind valve|forward 0.6|back OL":                            "none of silicon",
		"diode|kind silicon|forward 5k|back OL":                           "Forward",
		"diode|kind silicon|forward -0.6|back 1":                          "the other way round",
		"resistor|value 10k|measured 3V":                                  "Measured",
		"resistor|value 0|measured 3":                                     "more than 0",
		"capacitor|kind film|value 0|measured 1 nF":                       "more than 0 F",
		"capacitor|kind film|value 1 µF|leakage 1 µA":                     "at how many volts",
		"capacitor|kind film|value 1 µF|volts 63 V|leakage 1 µA|at 100 V": "above what it is rated for",
		"thermistor|kind ntc|r25 10k|temperature 2000|ohms 3k":            "cannot be here",
		"sweep|kind control|readings 5k":                                  "two readings",
		"sweep|kind control|readings 5k x":                                "no resistance",
		"network|inside 1-2 10k; 1-2 5k|readings 1-2 4k":                  "twice",
		"network|inside 12 10k|readings 1-2 4k":                           "two pins",
		"network|inside 1-2 10k|readings 1-7 4k":                          "no node",
		"valve|a 1":                                                       "no check",
		"fuse|ohms 1|colour red":                                          "no such field",
		"resistor|value 10k|measured " + strings.Repeat("9", 500):         "longer than",
		"resistor|value 10k|measured NaN":                                 "Measured",
	} {
		kind, rest, _ := strings.Cut(given, "|")
		_, err := Judge(kind, fields(rest))
		var bad *BadField
		if !errors.As(err, &bad) || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v does not say %q", given, err, says)
		}
	}
}

// Whatever is typed into a check, there is a verdict in words, or the field is named.
func FuzzCheck(f *testing.F) {
	f.Add("transistor", "1-2 0.6|2-1 OL|1-3 0.6|3-1 OL|2-3 OL|3-2 OL")
	f.Add("capacitor", "kind film|value 1 µF|leakage 1 nA|at 5 V|esr OL|d 0.1|hz 1")
	f.Add("network", "inside 1-2 10k; 2-3 1e-9|readings 1-3 OL; 2-1 0")
	f.Add("sweep", "kind control|readings OL OL 1e300|value 1")
	f.Add("relay", "volts 0|ohms 1e-9|upper 0|lower 0|drive 0|clamp OL|coil ac|feeds dc")
	f.Add("thermistor", "kind ntc|r25 0|temperature -40|ohms 0|b 1e9")
	f.Add("winding", "ohms OL|in 0|out 1|ratio 0|henry 0|henryshould 0")
	f.Fuzz(func(t *testing.T, kind, given string) {
		v, err := Judge(kind, fields(given))
		var bad *BadField
		switch {
		case err != nil && !errors.As(err, &bad):
			t.Errorf("%T", err)
		case err == nil && (v.What == "" || v.Judgement == ""):
			t.Errorf("%s, %q: no verdict", kind, given)
		case err == nil && strings.Contains(v.What+strings.Join(v.Why, ""), "NaN"):
			t.Errorf("%s, %q: %+v", kind, given, v)
		}
	})
}

// A part's name tells its check by the letters it begins with; no two checks claim the same.
func TestLettersTellTheCheck(t *testing.T) {
	by := map[string]string{}
	for _, k := range Kinds() {
		for _, l := range k.Letters {
			if was, twice := by[l]; twice {
				t.Errorf("%s tells %s and %s", l, was, k.Name)
			}
			by[l] = k.Name
		}
	}
	for letters, want := range map[string]string{"Q": "transistor", "C": "capacitor", "R": "resistor", "K": "relay", "T": "winding",
		"F": "fuse", "RV": "sweep", "LS": "speaker", "D": "diode"} {
		if by[letters] != want {
			t.Errorf("%s tells %q, want %s", letters, by[letters], want)
		}
	}
}

// Each kind of circuit part names the check that judges one, and that check is there.
func TestCircuitPartsKnowTheirChecks(t *testing.T) {
	for _, text := range circuit.Kinds() {
		kind, _, _ := strings.Cut(text, ":")
		if check := circuit.CheckOf(circuit.Kind(kind)); check != "" &&
			!slices.ContainsFunc(Kinds(), func(k Check) bool { return k.Name == check }) {
			t.Errorf("a %s is judged by a check %q, which is not there", kind, check)
		}
	}
}
