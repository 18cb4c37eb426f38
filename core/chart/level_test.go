package chart

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// lined is a chain of blocks by their names.
func lined(t *testing.T, names ...string) *sheet.Plan {
	t.Helper()
	s := sheet.Sheet{Model: "X", Points: []sheet.Point{{Name: "IN"}}}
	for i, n := range names {
		to := fmt.Sprintf("TP%d", i+1)
		s.Points = append(s.Points, sheet.Point{Name: to})
		s.Stages = append(s.Stages, sheet.Stage{Name: n, From: s.Points[i].Name, To: to})
	}
	plan, _ := s.Plan()
	return plan
}

// Diagrams drawn up by the test: levels of a chain, printed in the ways of manuals. What is read has to be
// within what was printed, at the right place.
func TestLevelDiagrams(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 14))
	blocks := []string{"preamp", "tone control", "volume", "driver", "power stage"}
	plan := lined(t, blocks...)
	right, all := 0, 0
	for n := range 60 {
		volts := []float64{}
		v := 0.002 * math.Exp(rng.Float64())
		for range blocks {
			v *= []float64{18, 0.7, 0.3, 12, 5, 25}[rng.IntN(6)]
			volts = append(volts, v)
		}
		write := func(v float64) string {
			switch n % 5 {
			case 0:
				if v >= 1 {
					return fmt.Sprintf("%.1f V", v)
				}
				return fmt.Sprintf("%.1f mV", v*1000)
			case 1:
				return fmt.Sprintf("%+.1f dB", 20*math.Log10(v/math.Sqrt(0.6))) // 1 mW in 600 Ω
			case 2:
				return fmt.Sprintf("%.1f dBV", 20*math.Log10(v))
			case 3:
				return strings.ReplaceAll(fmt.Sprintf("%.4f V", v), ".", ",")
			}
			return fmt.Sprintf("%.1fdBm", 20*math.Log10(v/math.Sqrt(0.6)))
		}
		var text strings.Builder
		switch n % 3 {
		case 0:
			fmt.Fprintln(&text, strings.Join(blocks, "  →  "))
			for _, v := range volts {
				fmt.Fprint(&text, write(v), "   ")
			}
		case 1:
			for i, v := range volts {
				fmt.Fprintf(&text, "%s ........ %s\n", blocks[i], write(v))
			}
		case 2:
			for i, v := range volts {
				fmt.Fprintf(&text, "%s  %s  ", blocks[i], write(v))
			}
		}
		got := ReadLevels(text.String(), plan, DBu)
		for i, v := range volts {
			all++
			if i >= len(got.Levels) {
				continue
			}
			l := got.Levels[i]
			x, err := quantity.ParseAs(l.Value, quantity.Volt)
			if l.At == fmt.Sprintf("TP%d", i+1) && err == nil && math.Abs(x.SI-v) < 0.02*v+0.00006 {
				right++
			} else {
				t.Logf("%q: %+v, printed %g", text.String(), l, v)
			}
		}
		if len(got.Missed) > 0 {
			t.Errorf("%q: %v", text.String(), got.Missed)
		}
	}
	t.Logf("%d of %d levels", right, all)
	if float64(right) < 0.98*float64(all) {
		t.Error("too few")
	}
}

func TestWhatALevelDiagramDoesNotSay(t *testing.T) {
	plan := lined(t, "left driver", "right driver", "mixer")
	got := ReadLevels("mixer 100 mV\ndriver 1 V\nmixer 2 V\nlimiter, 3 V\nsee page 4\n-20 dB", plan, DBV)
	if got.Levels[0].At != "TP3" || got.Levels[1].At != "" || !strings.Contains(got.Levels[2].Doubt, "already") ||
		got.Levels[3].At != "" {
		t.Errorf("%+v", got.Levels)
	}
	// A lost decimal point: 60 dB and more from one block to the next.
	slip := ReadLevels("left driver 1.2 mV\nmixer 12 V", plan, DBV)
	if !strings.Contains(slip.Levels[1].Doubt, "80 dB") {
		t.Errorf("%+v", slip.Levels)
	}
	// Decibels against the first block: 10 mV and 20 dB above it.
	against := ReadLevels("mixer 10 mV\nleft driver +20 dB", plan, First)
	if v, err := quantity.ParseAs(against.Levels[1].Value, quantity.Volt); err != nil || math.Abs(v.SI-0.1) > 1e-6 || !against.Plain {
		t.Errorf("%+v", against.Levels)
	}
	if bare := ReadLevels("mixer -10 dB", plan, First); !strings.Contains(bare.Levels[0].Doubt, "needs a level in volts") {
		t.Errorf("%+v", bare.Levels)
	}
	if odd := ReadLevels("a b\nc d\n10 mV 20 mV 30 mV", plan, DBV); len(odd.Missed) < 2 {
		t.Errorf("%+v", odd)
	}
}

// A resistance chart is told from one of voltages, and read with the multipliers of ohms.
func TestResistanceCharts(t *testing.T) {
	for text, want := range map[string]string{
		"Ohms to ground, set off\n      E    B     C\nQ101  680  4.7K  2k2\nQ102  0.5  1M    inf"://
		"Q101 e 680 Ω, Q101 b 4.7 kΩ, Q101 c 2.2 kΩ, Q102 e 500 mΩ, Q102 b 1 MΩ",
		"IC3 1 2 3 4\nohms 10k 220 0 47K":          "IC3 1 10 kΩ, IC3 2 220 Ω, IC3 3 0 Ω, IC3 4 47 kΩ",
		"      E    B     C\nQ7    1K5  l2k   33k": "Q7 e 1.5 kΩ, Q7 b 12 kΩ, Q7 c 33 kΩ",
	} {
		var got []string
		c := Read(text)
		for _, x := range c.Cells {
			if x.Quantity != sheet.Resistance {
				t.Errorf("%q: %+v", text, x)
			}
			got = append(got, x.Point()+" "+x.Value)
		}
		if strings.Join(got, ", ") != want {
			t.Errorf("%q: %s, want %s; %v", text, strings.Join(got, ", "), want, c.Missed)
		}
	}
	// A base above its collector means nothing in ohms.
	for _, c := range Read("ohms\n  E B C\nQ1 100 9k 1k").Cells {
		if c.Doubt != "" {
			t.Errorf("%+v", c)
		}
	}
	if c := Read("     E B C\nQ1  1.2 1.8 8.4"); c.Cells[0].Quantity != sheet.DC {
		t.Errorf("%+v", c.Cells)
	}
}

// Two conditions go to two modes; to one they cannot both.
func TestConditionsAreModes(t *testing.T) {
	c := Read("      play          record\n      E  B  C   E  B  C\nQ1  1.0 1.6 8   2.0 2.6 7")
	if len(c.Conditions) != 2 {
		t.Fatalf("%v", c.Conditions)
	}
	if got := Likely([]string{"no signal", "Record, mono"}, []string{"play", "record"}); len(got) != 2 || got[0].Mode != "" ||
		got[1] != (Under{"Record, mono", "record"}) {
		t.Errorf("%+v", got)
	}
	// Two rounds of legs and nothing said above them: the first has no name, and is taken.
	bare := Read("      E  B  C   E  B  C\nQ1  1.0 1.6 8   2.0 2.6 7")
	if got := Likely(bare.Conditions, nil); len(bare.Conditions) != 2 || len(got) != 1 || got[0] != (Under{}) {
		t.Errorf("%q: %+v", bare.Conditions, got)
	}
	if got := Likely([]string{"no signal", "signal"}, nil); len(got) != 1 || got[0].Condition != "no signal" {
		t.Errorf("two that are called like no mode: %+v", got)
	}
	due, err := Due(c.Cells, []Under{{"play", "tape"}, {"record", "record"}})
	if err != nil || len(due) != 6 || due[0].Mode != "tape" || due[5].Mode != "record" || due[5].Value != "7 V" {
		t.Errorf("%+v, %v", due, err)
	}
	if _, err := Due(c.Cells, []Under{{"play", ""}, {"record", ""}}); !mend.Is(err) {
		t.Errorf("both in all modes: %v", err)
	}
	if due, err := Due(c.Cells, []Under{{"record", ""}}); err != nil || len(due) != 3 {
		t.Errorf("%+v, %v", due, err)
	}
}

// A part's cell that spans the rows of its legs, as tables from a scanner have it.
func TestMergedCells(t *testing.T) {
	for _, text := range []string{
		"Part\tLeg\tVolts\nQ101\tE\t1.2\n\tB\t1.8\n\tC\t8.4\nQ102\tE\t0.5\n\tB\t1.1",
		"Q101 | E | 1.2\n     | B | 1.8\n     | C | 8.4\nQ102 | E | 0.5\n     | B | 1.1",
	} {
		c := Read(text)
		var got []string
		for _, x := range c.Cells {
			got = append(got, x.Point()+" "+x.Value)
		}
		if want := "Q101 e 1.2 V, Q101 b 1.8 V, Q101 c 8.4 V, Q102 e 500 mV, Q102 b 1.1 V"; strings.Join(got, ", ") != want ||
			len(c.Missed) > 0 {
			t.Errorf("%q: %v, missed %v", text, got, c.Missed)
		}
	}
	// Nothing stands above it: it is not taken for some part's.
	if c := Read("  B  1.8"); len(c.Cells) > 0 || len(c.Missed) != 1 {
		t.Errorf("%+v", c)
	}
}

// Whatever is pasted for a level diagram, each level has a block and each doubt a reason, and nothing breaks.
func FuzzReadLevels(f *testing.F) {
	for _, seed := range []string{
		"a  b\n-20 dB  3 mV", "preamp → tone\n1 mV -> 3 V", "a 1,5 V b 2 Vpp", "left driver | 1 V\n----\nmixer;2 V",
		"\t\t-3dBm", "x -500 dB",
	} {
		f.Add(seed)
	}
	s := sheet.Sheet{
		Model:  "X",
		Points: []sheet.Point{{Name: "a"}, {Name: "b"}},
		Stages: []sheet.Stage{{Name: "driver", From: "a", To: "b"}},
	}
	plan, _ := s.Plan()
	f.Fuzz(func(t *testing.T, text string) {
		for _, of := range References {
			for _, l := range ReadLevels(text, plan, of).Levels {
				if l.Block == "" || l.Value == "" && l.Doubt == "" {
					t.Errorf("%q: %+v", text, l)
				}
			}
		}
	})
}
