package circuit

import (
	"math"
	"strings"
	"testing"
)

// What the words of a part say is what a meter would show of it.
func TestWordsOfParts(t *testing.T) {
	stands := func(also, kind string, feed string) float64 {
		t.Helper()
		nodes := map[string]string{"diode": "x; ground", "npn": "x; x; ground", "pnp": "ground; ground; x", "n-mosfet": "d; x; ground",
			"n-jfet": "d; x; ground"}[kind]
		c := &Circuit{Parts: []Part{PartOf("X1", kind, nodes, "", also, "")}}
		for _, row := range strings.Split(feed, "|") {
			cells := strings.Split(row, ",")
			c.Parts = append(c.Parts, PartOf(cells[0], cells[1], cells[2], cells[3], "", ""))
		}
		n, problems := c.Read()
		if len(problems) > 0 {
			t.Fatalf("%s %q: %v", kind, also, problems)
		}
		r, err := n.Rest()
		if err != nil {
			t.Fatal(err)
		}
		if kind == "n-mosfet" || kind == "n-jfet" {
			return r.Parts[0].Amps
		}
		return r.Volts["x"]
	}
	feed := func(amps string) string { return "I1,current,ground; x," + amps }
	for _, x := range []struct {
		also, kind, feed string
		want, within     float64
	}{
		{"drop 0.65 V at 1 mA", "diode", feed("1 mA"), 0.65, 1e-6},
		{"Drop 0,65V at 1mA", "diode", feed("1 mA"), 0.65, 1e-6},
		{"drop 0.62 V", "diode", feed("1 mA"), 0.62, 1e-6},
		{"drop 0.54 V at 1 mA and 0.80 V at 1 A", "diode", feed("1 mA"), 0.54, 1e-6},
		{"drop 0.54 V at 1 mA and 0.80 V at 1 A", "diode", feed("1 A"), 0.80, 1e-6},
		{"drop 0.65 V at 1 mA", "diode", feed("10 mA"), 0.65 + 0.025865*math.Ln10, 1e-6},
		{"zener 5.6 V", "diode", "I1,current,x; ground,5 mA", -5.6, 1e-6},
		{"zener 5.6 V at 20 mA; drop 0.7 V at 1 mA", "diode", "I1,current,x; ground,20 mA", -5.6, 1e-6},
		{"drop 0.6 V at 1 mA; gain 1e6", "npn", feed("1 mA"), 0.6, 1e-4},
		{"drop 0.6 V at 1 mA; gain 1e6", "pnp", feed("1 mA"), 0.6, 1e-4},
		{"threshold 2 V; current 1 A at 4 V; Early voltage 1e9 V", "n-mosfet", "V1,voltage,x; ground,4|V2,voltage,d; ground,20", 1, 1e-6},
		{"pinch-off 2.5 V; IDSS 6 mA; Early voltage 1e9 V", "n-jfet", "V1,voltage,x; ground,-1.25|V2,voltage,d; ground,20", 1.5e-3, 1e-6},
		// As it was written before.
		{"is=1e-12", "diode", feed("1 mA"), 0.025865 * math.Log(1e9), 1e-5},
		{"is=1e-12; bv=5", "diode", "I1,current,x; ground,20 mA", -5 - 0.025865*math.Log(2e10), 1e-4},
		{"is=1e-9; n=1.5", "diode", feed("20 mA"), 1.5 * 0.025865 * math.Log(2e7), 1e-4},
		{"k=0.5; vt=2; lambda=0", "n-mosfet", "V1,voltage,x; ground,4|V2,voltage,d; ground,20", 1, 1e-6},
	} {
		if got := stands(x.also, x.kind, x.feed); math.Abs(got-x.want) > x.within {
			t.Errorf("%s %q: %.6g, want %.6g", x.kind, x.also, got, x.want)
		}
	}
	for _, x := range []struct{ kind, typed, written string }{
		{"npn", "bf=250; vaf=80", "gain 250; Early voltage 80"},
		{"npn", "early VOLTAGE 80 V;GAIN 120", "gain 120; Early voltage 80 V"},
		{"resistor", "0.5 W", "rated 0.5 W"},
		{"alternating", "60 Hz", "at 60 Hz"},
		{"opamp", "gbw=3M; gain=2e5", "gain 2e5; unity gain 3M"},
		{"contact", "closed=0", "open"},
		{"contact", "Open", "open"},
		{"relay", "pull=16; rests=1; henry=0.3", "closed at rest; pulls at 16; inductance 0.3"},
		{"relay", "pulls at 16 V; closed at rest", "closed at rest; pulls at 16 V"},
		{"capacitor", "esr=0.3; leak=1M", "ESR 0.3; leakage 1M"},
		{"resistor", "beta 3", "beta 3"}, // kept, for the reading to name
	} {
		p := PartOf("X", x.kind, "", "", x.typed, "")
		if p.AlsoText() != x.written {
			t.Errorf("%s %q is written %q", x.kind, x.typed, p.AlsoText())
		}
	}
	for _, x := range []struct{ kind, also, says string }{
		{"resistor", "beta 3", `a resistor has no "beta": it may have rated`},
		{"diode", "drop 5 V at 1 mA", "drop: no junction drops so much"},
		{"diode", "drop 0.6 A at 1 mA", "drop: "},
		{"n-mosfet", "threshold 3 V; current 1 A at 2 V", "does not conduct yet: its threshold is 3 V"},
		{"n-mosfet", "current 1 A", "at which volts of the gate"},
		{"contact", "open wide", `without a figure, not "wide"`},
		{"relay", "", `say "pulls at", with its figure`},
	} {
		p := PartOf("X", x.kind, "a; b; ground", "1k", x.also, "")
		p.Nodes = append(p.Nodes, "d", "e")[:len(sortOf(p.Kind).terminals)]
		_, problems := (&Circuit{Parts: []Part{p}}).Read()
		said := ""
		for _, y := range problems {
			said += y.Message + "\n"
		}
		if !strings.Contains(said, x.says) {
			t.Errorf("%s %q: %q", x.kind, x.also, said)
		}
	}
	if p := PartOf("R1", "resistor", "a; gnd", "1k", "", ""); p.NodesText() != "a; ground" {
		t.Errorf("ground is written %q", p.NodesText())
	}
}
