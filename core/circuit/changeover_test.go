package circuit

import (
	"context"
	"math"
	"math/cmplx"
	"strings"
	"testing"

	"steptrace/core/quantity"
)

// circuitOf is a circuit of rows "name kind nodes value also".
func circuitOf(t *testing.T, rows ...string) (*Circuit, *Net) {
	t.Helper()
	c := &Circuit{}
	for _, row := range rows {
		cells := append(strings.Split(row, "|"), "", "", "")
		c.Parts = append(c.Parts, PartOf(cells[0], cells[1], cells[2], cells[3], cells[4], cells[5]))
	}
	n, problems := c.Read()
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	return c, n
}

// A changeover contact joins its common to one side; a relay's by the volts at its coil, unless it is stuck. The volts are
// those of a divider.
func TestAChangeoverJoinsOneSide(t *testing.T) {
	for name, x := range map[string]struct {
		rows []string
		want float64 // of common: 10 V through 1k, with 2k at rest and 500 Ω worked
	}{
		"switch at rest": {[]string{"S|changeover|c; r; w"}, 10 * 2.0 / 3},
		"switch worked":  {[]string{"S|changeover|c; r; w||worked"}, 10 * 0.5 / 1.5},
		"relay at rest":  {[]string{"VC|voltage|k; 0|5 V", "S|changeover relay|k; 0; c; r; w|400|pulls at 8 V"}, 10 * 2.0 / 3},
		"relay pulled":   {[]string{"VC|voltage|k; 0|11 V", "S|changeover relay|k; 0; c; r; w|400|pulls at 8 V"}, 10 * 0.5 / 1.5},
	} {
		_, n := circuitOf(
			t,
			append([]string{"V|voltage|+; 0|10 V", "R1|resistor|+; c|1k", "R2|resistor|r; 0|2k", "R3|resistor|w; 0|500"},
				x.rows...)...)
		rest, err := n.Rest()
		if err != nil {
			t.Fatal(name, err)
		}
		if got := rest.Volts["c"]; math.Abs(got-x.want) > 2e-3 {
			t.Errorf("%s: %g V, not %g", name, got, x.want)
		}
		for _, f := range n.Faults() {
			if f.Part != "S" || !strings.Contains(f.What, "stuck") {
				continue
			}
			broken, err := n.With(f).Rest()
			if err != nil {
				t.Fatal(name, f.What, err)
			}
			other := 10*2.0/3 + 10*0.5/1.5 - x.want
			want := map[bool]float64{true: other, false: x.want}[strings.Contains(f.What, "other") ||
				strings.Contains(f.What, "at rest") == strings.Contains(name, "pulled")]
			if got := broken.Volts["c"]; math.Abs(got-want) > 2e-3 {
				t.Errorf("%s, %s: %g V, not %g", name, f.What, got, want)
			}
		}
	}
}

// Signal sources have each their own part of the signal, turned over too; one with a level and a frequency of its own drives the
// circuit beside, and gives none of the signal. Sums by superposition.
func TestEverySourceHasItsOwnDrive(t *testing.T) {
	_, n := circuitOf(t, "S1|signal|a; 0||times -0.5", "S2|signal|b; 0||level 0.2 V; at 5 kHz", "S3|signal|c; 0",
		"R1|resistor|a; out|10k", "R2|resistor|b; out|10k", "R3|resistor|c; out|20k")
	rest, err := n.Rest()
	if err != nil {
		t.Fatal(err)
	}
	response, err := n.Respond(rest, []float64{1000})
	if err != nil {
		t.Fatal(err)
	}
	// Weights 1/10k, 1/10k, 1/20k: two fifths, two fifths, one fifth.
	if got, want := response[0].Gain["out"], math.Abs(-0.5*0.4+0.2); math.Abs(got-want) > 1e-9 {
		t.Errorf("the signal arrives with %g, not %g", got, want)
	}
	if got := response[0].Gain["a"]; math.Abs(got-0.5) > 1e-9 || math.Abs(math.Abs(response[0].Phase["a"])-180) > 1e-6 {
		t.Errorf("S1 gives %g at %g°", got, response[0].Phase["a"])
	}
	const points = 4001
	course, err := n.Follow(rest, Drive{Shape: quantity.Sine, Peak: 0.1, Hz: 1000}, 0.002, 0.01, points)
	if err != nil {
		t.Fatal(err)
	}
	for hz, want := range map[float64]float64{1000: 0.1 * math.Abs(-0.5*0.4+0.2), 5000: math.Sqrt2 * 0.2 * 0.4, 3000: 0} {
		var line complex128
		for i, v := range course.Volts["out"][:points-1] {
			line += cmplx.Rect(2*v/(points-1), -2*math.Pi*hz*float64(i)/course.Rate)
		}
		if got := cmplx.Abs(line); math.Abs(got-want) > 1e-3*0.11 {
			t.Errorf("%g Hz: %g V, not %g", hz, got, want)
		}
	}
}

// A transistor that shorts takes its partner along: both explain the readings where none does alone, and come before any
// other two.
func TestAShortTakesItsPartnerAlong(t *testing.T) {
	rows := []string{"V1|voltage|+; 0|15 V", "V2|voltage|-; 0|-15 V", "RB1|resistor|+; b1|10k", "RB2|resistor|b2; -|10k",
		"D1|diode|b1; m", "D2|diode|m; b2", "RM|resistor|m; 0|100", "Q1|npn|c1; b1; e1", "Q2|pnp|c2; b2; e2", "RC1|resistor|+; c1|47",
		"RC2|resistor|-; c2|47", "RE1|resistor|e1; out|0.47", "RE2|resistor|e2; out|0.47", "RL|resistor|out; 0|8|"}
	c, n := circuitOf(t, rows...)
	var both []Fault
	for _, f := range n.Faults() {
		if (f.Part == "Q1" || f.Part == "Q2") && f.What == "shorted from collector to emitter" {
			both = append(both, f.of(0.5))
		}
	}
	broken := n.With(both...)
	x, ok := broken.settle(nil)
	if !ok {
		t.Fatal("it comes to no rest")
	}
	state := broken.state(x)
	var readings []NodeReading
	for _, node := range []string{"c1", "c2", "e1", "e2", "out", "b1", "b2"} {
		readings = append(
			readings,
			NodeReading{What: DC, Node: node, Value: quantity.Value{SI: state.Volts[node], Unit: quantity.Volt}.Short(5)},
		)
	}
	d, problems := c.Diagnose(context.Background(), readings, Past{})
	if len(problems) > 0 {
		t.Fatal(problems)
	}
	first := d.Ranked[0]
	if len(first.Faults) != 2 || !strings.HasPrefix(first.Faults[0].What, "shorted") ||
		!strings.HasPrefix(first.Faults[1].What, "shorted") ||
		first.Faults[0].Part+first.Faults[1].Part != "Q1Q2" && first.Faults[0].Part+first.Faults[1].Part != "Q2Q1" {
		for _, r := range d.Ranked[:min(4, len(d.Ranked))] {
			t.Logf("%s: %.3g, off %.3g", r.Says, r.Weight, r.Off)
		}
		t.Error("both transistors do not come first")
	}
}
