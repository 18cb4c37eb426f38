package replace

import (
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/substitute"
)

// Duty is what a part has to do and bear, by words and figures as they are typed: "reservoir, 38 V, 2 A, at 60 °C".
type Duty struct {
	Use     substitute.Use `json:"use"`
	Volts   float64        `json:"volts"`
	Amps    float64        `json:"amps"`
	Watts   float64        `json:"watts"`
	Celsius float64        `json:"celsius"`
	Gain    float64        `json:"gain"`
	Hz      float64        `json:"hz"`
	Ohms    float64        `json:"ohms"`
	Sink    bool           `json:"sink"`
	Pair    bool           `json:"pair"`
	Switch  bool           `json:"switch"`
	Turns   bool           `json:"turns"`
	Exact   bool           `json:"exact"`
	Signal  bool           `json:"signal"`
	Across  float64        `json:"across"` // mm
	High    float64        `json:"high"`   // mm
	Years   float64        `json:"years"`  // that it has done it
	Under   bool           `json:"under"`  // a shield
}

// flags are the words of a duty that need no figure.
func (d *Duty) flags() map[string]*bool {
	return map[string]*bool{
		"sink": &d.Sink, "on a sink": &d.Sink, "heat sink": &d.Sink, "pair": &d.Pair, "in a pair": &d.Pair, "switches": &d.Switch,
		"turns": &d.Turns, "exact": &d.Exact, "high frequency": &d.Signal, "under a shield": &d.Under,
	}
}

// DutyWords are what can be said, for a person to read.
const DutyWords = "what it does (reservoir, supply line, coupling, bypass, timing, tuning, switching ripple, across mains, " +
	"mains to ground, " +
	"crossover), volts, amps, watts, at 60 °C, gain 40, 1 MHz, 10 kΩ, on a sink, in a pair, switches, turns, exact, " +
	"8 mm across, 12 mm high, 30 years, under a shield"

// DutyOf reads a duty as it is typed, its words between commas. The error can be mended by a person.
//
// Long: the words that there are.
func DutyOf(typed string) (Duty, error) {
	var d Duty
	flags := d.flags()
	for _, item := range strings.FieldsFunc(typed, func(r rune) bool { return r == ';' || r == ',' }) {
		said := strings.ToLower(strings.Join(strings.Fields(item), " "))
		if said == "" {
			continue
		}
		if flag, ok := flags[said]; ok {
			*flag = true
			continue
		}
		if use := substitute.Use(said); slices.Contains(substitute.Uses, use) {
			d.Use = use
			continue
		}
		unit, to := quantity.None, (*float64)(nil)
		figure := said
		switch {
		case strings.HasPrefix(said, "gain "):
			figure, to = said[len("gain "):], &d.Gain
		case strings.HasPrefix(said, "at "):
			figure, unit, to = strings.TrimSpace(item)[len("at "):], quantity.Celsius, &d.Celsius
		case strings.HasSuffix(said, " mm across"):
			figure, to = strings.TrimSuffix(said, " mm across"), &d.Across
		case strings.HasSuffix(said, " years"):
			figure, to = strings.TrimSuffix(said, " years"), &d.Years
		case strings.HasSuffix(said, " mm high"):
			figure, to = strings.TrimSuffix(said, " mm high"), &d.High
		default:
			v, err := quantity.Parse(strings.TrimSpace(item), quantity.Volt)
			if err == nil {
				unit, figure = v.Unit, strings.TrimSpace(item)
				to = map[quantity.Unit]*float64{quantity.Volt: &d.Volts, quantity.Ampere: &d.Amps, quantity.Watt: &d.Watts,
					quantity.Celsius: &d.Celsius, quantity.Hertz: &d.Hz, quantity.Ohm: &d.Ohms}[unit]
			}
		}
		if to == nil {
			return d, mend.Errorf("%q is nothing that is said of what a part has to do. Use %s", strings.TrimSpace(item), DutyWords)
		}
		v, err := quantity.ParseAs(figure, unit)
		switch {
		case err != nil:
			return d, err
		case v.SI <= 0 || v.SI > 1e12:
			return d, mend.Errorf("%s cannot be", strings.TrimSpace(item))
		}
		*to = v.SI
	}
	return d, nil
}

// place, post and stand are a duty as the rules of a sort of part take it.
func (d *Duty) place() substitute.Place {
	return substitute.Place{Volts: d.Volts, Amps: d.Amps, Watts: d.Watts, Celsius: d.Celsius, Gain: d.Gain, Hz: d.Hz, Sink: d.Sink,
		Pair: d.Pair, Switch: d.Switch}
}

func (d *Duty) post() substitute.Post {
	return substitute.Post{Use: d.Use, Volts: d.Volts, Celsius: d.Celsius, Amps: d.Amps, Ohms: d.Ohms, Turns: d.Turns, Across: d.Across,
		High: d.High}
}

func (d *Duty) stand() substitute.Stand {
	return substitute.Stand{Watts: d.Watts, Volts: d.Volts, Exact: d.Exact, Signal: d.Signal}
}
