package part

import (
	"math"
	"strings"
	"testing"
)

// With nothing that shares, currents are apart by the ratio exp(ΔV/VT): 2·tanh(ΔV/2VT) of their mean. With much that shares,
// by what the resistors leave: ΔV/(R·I).
func TestCurrentsOfAPair(t *testing.T) {
	for _, volts := range []float64{0, 0.0005, 0.0025, 0.01, 0.04} {
		if got, want := unlike(volts, 0.005, 0), 2*math.Tanh(volts/2/thermal); math.Abs(got-want) > 1e-9 {
			t.Errorf("%g V: %g instead of %g", volts, got, want)
		}
	}
	if got, want := unlike(0.02, 1, 10), 0.02/10; math.Abs(got/want-1) > 0.003 {
		t.Errorf("shared by 10 V: %g instead of %g", got, want)
	}
}

func TestPairs(t *testing.T) {
	for _, x := range []struct {
		name, given string
		judgement   Judgement
		says        string
	}{
		// exp(1 mV/25.7 mV): 4 % apart; 20 mV: 74 %.
		{"input", "kind bipolar|use differential input|volts1 0.652|volts2 0.653|gain1 310|gain2 322", Good, "3.89 %"},
		{"unlike input", "kind bipolar|use differential input|volts1 0.652|volts2 0.672|gain1 310|gain2 322", Bad, "74.1 %"},
		{"gains", "kind bipolar|use differential input|gain1 200|gain2 320", Bad, "46 %"},
		{"gains in parallel", "kind bipolar|use in parallel|gain1 60|gain2 78", Unsure, "26 %"},
		// 15 mV over 0.47 Ω at 0.5 A: the resistors leave (with the junctions' own 26 mV) 15/(235 + 25.7) of it.
		{"shared", "kind bipolar|use in parallel|volts1 0.61|volts2 0.625|amps 0.5|ohms 0.47|gain1 60|gain2 62", Good, "5.75 %"},
		{"complementary", "kind bipolar|use push-pull|volts1 0.61|volts2 -0.66|gain1 92|gain2 99", Good, "set for both"},
		{"gates", "kind fet|use in parallel|volts1 3.9|volts2 3.6", Unsure, "a twentieth"},
		// 30 mV over 0.33 Ω at 1 A.
		{"gates, shared", "kind fet|use in parallel|volts1 3.63|volts2 3.6|amps 1|ohms 0.33", Good, "9.09 %"},
	} {
		v, err := Judge("pair", fields(x.given))
		if err != nil {
			t.Fatalf("%s: %v", x.name, err)
		}
		if said := v.What + strings.Join(v.Why, "; "); v.Judgement != x.judgement || !strings.Contains(said, x.says) {
			t.Errorf("%s: %s, %s", x.name, v.Judgement, said)
		}
	}
	for _, given := range []string{
		"kind fet|use in parallel", "kind diode|use in parallel|volts1 0.6", "kind bipolar|use in parallel|gain1 0|gain2 20",
		"kind bipolar|use in parallel|volts1 0.6|volts2 0.61|ohms 0.22",
	} {
		if v, err := Judge("pair", fields(given)); err == nil {
			t.Errorf("%s: judged as %s", given, v.What)
		}
	}
}
