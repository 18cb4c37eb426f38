package circuit

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"steptrace/core/quantity"
)

// usualValues are main values for kinds that need one, and words that some need.
var usualValues = map[Kind][2]string{
	Resistor:    {"1k", ""},
	Capacitor:   {"1 µF", ""},
	Inductor:    {"10 mH", ""},
	Voltage:     {"3 V", ""},
	Current:     {"1 mA", ""},
	Alternating: {"6 V", ""},
	Relay: {
		"400",
		"pulls at 8 V",
	},
	ChangeoverRelay: {
		"400",
		"pulls at 8 V",
	},
	Pot:        {"10k", ""},
	Windings:   {"1 H", ""},
	Crystal:    {"1 MHz", ""},
	Zener:      {"5.6 V", ""},
	Thermistor: {"10k", ""},
	Regulator:  {"5 V", ""},
	Pulses:     {"4 V", "at 2 kHz"},
}

// Every kind of part that is declared can be solved: its equations at rest keep Kirchhoff's law
// among themselves and with the rest, in every failure too; it answers small signals and is
// followed in time; a table has its words, and so have its problems.
func TestEveryKindOfPartIsWhole(t *testing.T) {
	for kind, d := range sorts {
		value := usualValues[kind]
		c := &Circuit{
			Parts: []Part{PartOf("S", "signal", "gen; ground", "", "", ""), PartOf("RS", "resistor", "gen; n0", "1k", "", "")},
		}
		var nodes []string
		for k := range d.terminals {
			node := fmt.Sprintf("n%d", k)
			nodes = append(nodes, node)
			if k > 0 { // each terminal comes from volts of its own, through a resistance
				c.Parts = append(
					c.Parts,
					PartOf(
						fmt.Sprintf("V%d", k),
						"voltage",
						fmt.Sprintf("v%d; ground", k),
						fmt.Sprintf("%g V", 4-2.5*float64(k)),
						"",
						"",
					),
					PartOf(fmt.Sprintf("R%d", k), "resistor", fmt.Sprintf("v%d; %s", k, node), "470", "", ""),
				)
			}
		}
		c.Parts = append(c.Parts, PartOf("X", string(kind), strings.Join(nodes, "; "), value[0], value[1], ""))
		n, problems := c.Read()
		if problems != nil {
			t.Errorf("%s: %v", kind, problems)
			continue
		}
		rest, err := n.Rest()
		if err != nil {
			t.Errorf("%s: %v", kind, err)
			continue
		}
		n.balanced(t, rest)
		for i := range n.elements {
			sum, most := 0.0, 1e-9
			for _, amps := range n.elements[i].is.into(&n.elements[i], rest.x) {
				sum += amps
				most = math.Max(most, 1e-9*math.Abs(amps))
			}
			if math.Abs(sum) > most {
				t.Errorf("%s: %g A vanish in it", kind, sum)
			}
		}
		failures := 0
		for _, f := range n.Faults() {
			if f.Part != "X" {
				continue
			}
			failures++
			broken := n.With(f)
			x, ok := broken.settle(rest.x)
			if !ok {
				t.Errorf("%s %s: it comes to no rest", kind, f.What)
				continue
			}
			broken.balanced(t, broken.state(x))
		}
		if (failures == 0) != d.role.feeds() {
			t.Errorf("%s has %d usual failures", kind, failures)
		}
		if _, err := n.Respond(rest, []float64{50, 1e3, 1e6}); err != nil {
			t.Errorf("%s: small signals: %v", kind, err)
		}
		if _, err := n.Follow(rest, Drive{Shape: quantity.Sine, Peak: 0.1, Hz: 1e3}, 0, 2e-3, 50); err != nil {
			t.Errorf("%s: in time: %v", kind, err)
		}
		if off := n.poweredOff(); off.elements[len(off.elements)-1].is == nil {
			t.Errorf("%s: nothing is left with the power off", kind)
		}
		if x, ok := n.Figures("X"); !ok || x.Kind != kind {
			t.Errorf("%s: %+v", kind, x)
		}
		if !slices.ContainsFunc(Kinds(), func(text string) bool { return strings.HasPrefix(text, string(kind)+": ") }) {
			t.Errorf("%s is not among the kinds that a table may have", kind)
		}
	}
	if CheckOf("no such kind") != "" || CheckOf(NPN) != "transistor" || CheckOf(OpAmp) != "chip" || CheckOf(Optocoupler) != "" {
		t.Error("checks of kinds")
	}
}

// A definition that lacks something is refused as the program begins.
func TestHalfADefinitionIsRefused(t *testing.T) {
	whole := *sorts[Resistor]
	for lacks, edit := range map[string]func(d *definition){
		"a name of its own": func(d *definition) { d.kind = Capacitor }, "terminals": func(d *definition) { d.terminals = nil },
		"equations":      func(d *definition) { d.into = nil },
		"usual failures": func(d *definition) { d.faults = nil }, "the check": func(d *definition) { d.check = "" },
		"direct current":      func(d *definition) { d.direct = nil },
		"small signals alike": func(d *definition) { d.small = sorts[Capacitor].small },
		"no such value":       func(d *definition) { d.spread = []spread{{7, 0.1}} },
	} {
		d := whole
		d.kind = "half"
		edit(&d)
		said := ""
		func() {
			defer func() { said = fmt.Sprint(recover()) }()
			define(d)
		}()
		delete(sorts, "half")
		if !strings.Contains(said, lacks) {
			t.Errorf("%s: %s", lacks, said)
		}
	}
}

func solved(t *testing.T, rows ...[5]string) *Rest {
	t.Helper()
	c := &Circuit{}
	for _, r := range rows {
		c.Parts = append(c.Parts, PartOf(r[0], r[1], r[2], r[3], r[4], ""))
	}
	n, problems := c.Read()
	if problems != nil {
		t.Fatal(problems)
	}
	rest, err := n.Rest()
	if err != nil {
		t.Fatal(err)
	}
	return rest
}

// A thermistor by the formula that data sheets print.
func TestThermistor(t *testing.T) {
	for _, x := range []struct {
		also string
		want float64 // volts on it, below 10 kΩ from 10 V
	}{
		{"", 5}, {"at 25 °C", 5}, // as much as the resistor
		{"B 3435; at 85 °C", 10 / (1 + math.Exp(3435*(1/298.15-1/358.15)))},
		{"B 3950; at -10 °C", 10 / (1 + math.Exp(3950*(1/298.15-1/263.15)))},
		{"B -3000; at 60 °C", 10 / (1 + math.Exp(-3000*(1/298.15-1/333.15)))},
	} {
		r := solved(
			t,
			[5]string{"V", "voltage", "+; ground", "10 V"},
			[5]string{"R", "resistor", "+; out", "10k"},
			[5]string{"TH", "thermistor", "out; ground", "10k", x.also},
		)
		if got := r.Volts["out"]; math.Abs(got-x.want) > 1e-6 {
			t.Errorf("%q: %.6f V, want %.6f", x.also, got, x.want)
		}
	}
}

// A Zener diode holds what is printed on it at 5 mA; forwards it is a diode.
func TestZener(t *testing.T) {
	for _, volts := range []float64{3.3, 5.6, 12, 47} {
		feed := volts + 5 // 5 mA through 1 kΩ
		r := solved(
			t,
			[5]string{"V", "voltage", "+; ground", fmt.Sprintf("%g V", feed)},
			[5]string{"R", "resistor", "+; out", "1k"},
			[5]string{"D", "zener", "ground; out", fmt.Sprintf("%g V", volts)},
		)
		if got := r.Volts["out"]; math.Abs(got-volts) > 0.003 {
			t.Errorf("%g V: it holds %.4f V", volts, got)
		}
	}
	r := solved(
		t,
		[5]string{"V", "voltage", "+; ground", "5.65 V"},
		[5]string{"R", "resistor", "+; out", "1k"},
		[5]string{"D", "zener", "out; ground", "9.1 V", "drop 0.65 V at 5 mA"},
	)
	if got := r.Volts["out"]; math.Abs(got-0.65) > 0.003 {
		t.Errorf("forwards: %.4f V", got)
	}
}

// An optocoupler lets its diode's current pass times its transfer ratio, and saturates.
func TestOptocoupler(t *testing.T) {
	stage := func(load, also string) *Rest {
		return solved(
			t,
			[5]string{"VI", "voltage", "in; ground", "6.2 V"},
			[5]string{"RI", "resistor", "in; led", "1k"},
			[5]string{"VO", "voltage", "+; ground", "12 V"},
			[5]string{
				"RL",
				"resistor",
				"+; out",
				load,
			},
			[5]string{"U", "optocoupler", "led; ground; out; emitter", "", also},
			[5]string{"RE", "resistor", "emitter; ground", "1"},
		)
	}
	r := stage("470", "transfer 0.5; drop 1.2 V at 5 mA")
	led := (6.2 - r.Volts["led"]) / 1000
	if math.Abs(led-5e-3) > 2e-5 || math.Abs((12-r.Volts["out"])/470-0.5*led) > 1e-6 {
		t.Errorf("%.4g A of light let %.4g A pass", led, (12-r.Volts["out"])/470)
	}
	if r := stage("10k", "transfer 1.2; drop 1.2 V at 5 mA"); r.Volts["out"] > 0.1 {
		t.Errorf("saturated it keeps %.3f V", r.Volts["out"])
	}
	if r := stage("470", "transfer 0.001"); r.Volts["out"] < 11.9 {
		t.Errorf("without light %.3f V", r.Volts["out"])
	}
}
