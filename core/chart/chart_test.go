package chart

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"
)

// A generator of charts that shares nothing with the reader: devices with voltages that physics allows,
// printed in the ways of manuals, then spoiled as scanners spoil them.

type printed struct {
	part, leg, condition string
	volts                float64
	wrong                bool // what is printed contradicts physics
}

type device struct {
	name string
	legs []string
	volt []map[string]float64 // one for each condition
}

func transistorOf(rng *rand.Rand, n, conditions int) device {
	d := device{name: fmt.Sprintf("Q%d", n), legs: []string{"E", "B", "C"}}
	for range conditions {
		e := 0.4 + 8*rng.Float64()
		b := e + 0.58 + 0.12*rng.Float64()
		c := b + 0.8 + 12*rng.Float64()
		if rng.IntN(3) == 0 { // PNP on a positive supply
			e, b, c = 20-e, 20-b, 20-c
		}
		d.volt = append(d.volt, map[string]float64{"E": e, "B": b, "C": c})
	}
	return d
}

func fetOf(rng *rand.Rand, n, conditions int) device {
	d := device{name: fmt.Sprintf("Q%d", n), legs: []string{"S", "G", "D"}}
	for range conditions {
		d.volt = append(d.volt, map[string]float64{"S": 1 + rng.Float64(), "G": rng.Float64() / 10, "D": 5 + 5*rng.Float64()})
	}
	return d
}

func chipOf(rng *rand.Rand, n, pins int) device {
	d := device{name: fmt.Sprintf("IC%d", n), volt: []map[string]float64{{}}}
	for p := 1; p <= pins; p++ {
		leg := strconv.Itoa(p)
		d.legs = append(d.legs, leg)
		d.volt[0][leg] = 12 * rng.Float64()
	}
	return d
}

// figure prints a voltage to two decimals, perhaps with a comma or a unit, perhaps spoiled. It gives what
// is printed, and what a reader should understand.
func figure(rng *rand.Rand, v float64, comma, unit bool, spoil bool) (text string, meant float64) {
	text = strconv.FormatFloat(v, 'f', 2, 64)
	meant, _ = strconv.ParseFloat(text, 64)
	if spoil && strings.Contains(text, "0") && rng.IntN(2) == 0 {
		text = strings.Replace(text, "0", "O", 1)
	} else if spoil && strings.Contains(text, "1") {
		text = strings.Replace(text, "1", "l", 1)
	}
	if comma {
		text = strings.Replace(text, ".", ",", 1)
	}
	if unit {
		text += " V"
	}
	return text, meant
}

// lostPoint prints a value without its decimal point where that cannot be: by the textbook a silicon
// junction that conducts has 0.5 to 0.9 V, and breaks down below some 8 V the other way.
func lostPoint(d device, condition int, leg string) (text string, value float64, contradicts bool) {
	v := d.volt[condition]
	text = strings.Replace(strconv.FormatFloat(v[leg], 'f', 2, 64), ".", "", 1)
	value, _ = strconv.ParseFloat(text, 64)
	x := map[string]float64{"E": v["E"], "B": v["B"], "C": v["C"]}
	x[leg] = value
	sign := 1.0
	if x["C"] < x["E"] {
		sign = -1
	}
	drop := sign * (x["B"] - x["E"])
	return text, value, drop > 1.5 || drop < -8 || drop > 0.15 && sign*(x["B"]-x["C"]) > 1
}

// TestVoltageChartsAreRead: 60 charts in six forms, some 1,500 cells; 98 of a hundred right, and every slip
// that contradicts physics doubted.
func TestVoltageChartsAreRead(t *testing.T) {
	rng := rand.New(rand.NewPCG(40, 4))
	cells, right, slips, doubted, suggested, lost := 0, 0, 0, 0, 0, 0
	for n := range 60 {
		text, truth := make60(rng, n)
		got := Read(text)
		for _, want := range truth {
			cells++
			found := false
			for i := range got.Cells {
				c := &got.Cells[i]
				if c.Part != want.part || c.Leg != strings.ToLower(want.leg) || c.Condition != want.condition {
					continue
				}
				found = math.Abs(c.si-want.volts) < 1e-9
				if want.wrong {
					lost++
					ok := false
					for k := range got.Cells { // the contradiction is told at one of the part's legs
						ok = ok || got.Cells[k].Part == want.part && got.Cells[k].Condition == want.condition && got.Cells[k].Doubt != ""
					}
					if ok {
						doubted++
					} else {
						t.Errorf("a lost point is not doubted: %s %s in\n%s", c.Part, c.Leg, text)
					}
					if c.Likely != "" {
						suggested++
					}
				}
				break
			}
			if found {
				right++
			} else {
				t.Logf("chart %d, form %d: %+v was not read so\n%s\n%+v", n, n%6, want, text, got.Missed)
			}
		}
		slips += strings.Count(text, "O") + strings.Count(text, "l")
	}
	t.Logf(
		"%d of %d cells right; %d lost points, %d doubted, %d at the very cell with what was meant",
		right,
		cells,
		lost,
		doubted,
		suggested,
	)
	if cells < 600 || float64(right) < 0.98*float64(cells) || lost < 20 {
		t.Errorf("%d of %d cells, %d lost points", right, cells, lost)
	}
}

// make60 makes the n-th chart.
func make60(rng *rand.Rand, n int) (string, []printed) {
	form := n % 6
	comma, unit, spoil := rng.IntN(3) == 0, rng.IntN(4) == 0, rng.IntN(2) == 0
	conditions := 1
	if form == 2 {
		conditions = 2
	}
	var devices []device
	for i := range 4 + rng.IntN(8) {
		if form != 4 && rng.IntN(5) == 0 && form != 2 && form != 1 {
			devices = append(devices, fetOf(rng, 100+i, conditions))
		} else {
			devices = append(devices, transistorOf(rng, 100+i, conditions))
		}
	}
	var truth []printed
	says := func(d device, condition int, called, leg string) string {
		if d.legs[0] == "E" && rng.IntN(25) == 0 {
			if text, value, contradicts := lostPoint(d, condition, leg); contradicts {
				already := false
				for _, p := range truth {
					already = already || p.part == d.name && p.condition == called && p.wrong
				}
				if !already {
					truth = append(truth, printed{d.name, leg, called, value, true})
					return text
				}
			}
		}
		text, meant := figure(rng, d.volt[condition][leg], comma, unit && form == 3, spoil && rng.IntN(6) == 0)
		truth = append(truth, printed{d.name, leg, called, meant, false})
		return text
	}
	var b strings.Builder
	sep := []string{"\t", "   ", " | "}[rng.IntN(3)]
	switch form {
	case 0: // a part a row; other kinds of legs under a heading of their own
		for _, legs := range [][]string{{"E", "B", "C"}, {"S", "G", "D"}} {
			fmt.Fprintln(&b, strings.Join(append([]string{"Tr."}, legs...), sep))
			for _, d := range devices {
				if d.legs[0] == legs[0] {
					row := []string{d.name}
					for _, leg := range legs {
						row = append(row, says(d, 0, "", leg))
					}
					fmt.Fprintln(&b, strings.Join(row, sep))
				}
			}
		}
	case 1: // transposed
		head := []string{"Leg"}
		for _, d := range devices {
			head = append(head, d.name)
		}
		fmt.Fprintln(&b, strings.Join(head, sep))
		for _, leg := range []string{"E", "B", "C"} {
			row := []string{leg}
			for _, d := range devices {
				row = append(row, says(d, 0, "", leg))
			}
			fmt.Fprintln(&b, strings.Join(row, sep))
		}
	case 2: // two conditions side by side
		fmt.Fprintln(&b, strings.Join([]string{"", "no signal", "", "", "1 kHz in"}, "\t"))
		fmt.Fprintln(&b, strings.Join([]string{"", "E", "B", "C", "E", "B", "C"}, "\t"))
		for _, d := range devices {
			row := []string{d.name}
			for condition, called := range []string{"no signal", "1 kHz in"} {
				for _, leg := range d.legs {
					row = append(row, says(d, condition, called, leg))
				}
			}
			fmt.Fprintln(&b, strings.Join(row, "\t"))
		}
	case 3: // a part a line, in words
		for _, d := range devices {
			fmt.Fprintf(&b, "%s:", d.name)
			for _, leg := range d.legs {
				fmt.Fprintf(&b, "  %s=%s", leg, says(d, 0, "", leg))
			}
			fmt.Fprintln(&b)
		}
	case 4: // chips, a pin a row
		for i := range 2 + rng.IntN(2) {
			d := chipOf(rng, i+1, 8)
			fmt.Fprintln(&b, d.name)
			fmt.Fprintln(&b, strings.Join([]string{"Pin", "Name", "Volts"}, sep))
			for _, leg := range d.legs {
				called := []string{"VCC", "IN+", "OUT", "GND"}[rng.IntN(4)]
				fmt.Fprintln(&b, strings.Join([]string{leg, called, says(d, 0, "", leg)}, sep))
			}
		}
	case 5: // collector first, with empty cells
		fmt.Fprintln(&b, strings.Join([]string{"", "C", "B", "E"}, "\t"))
		for _, d := range devices {
			if d.legs[0] != "E" {
				continue
			}
			fmt.Fprintln(&b, strings.Join([]string{d.name, says(d, 0, "", "C"), says(d, 0, "", "B"), says(d, 0, "", "E")}, "\t"))
		}
		fmt.Fprintln(&b, "Q999\t-\t-\t-")
	}
	return b.String(), truth
}

// The ways in which people type and scanners give what is in print.
func TestWaysToWriteAChart(t *testing.T) {
	const three = "Q101 e 1.2, Q101 b 1.8, Q101 c 8.4"
	for text, want := range map[string]string{
		"TRANSISTOR EMITTER BASE COLLECTOR\nQ101 1.2 1.8 8.4":                three,
		"E B C\nQ 101 1.2 1.8 8.4":                                           three,
		"       E     B     C\nQ101...1.2...1.8...8.4":                       three,
		"Q101-E 1.2V\nQ101-B 1.8V\nQ101-C 8.4V":                              three,
		"Q101 E: 1.2 V\nQ101 B: 1.8 V\nq101 collector 8.4":                   three,
		"Ref,E,B,C\nQ101,1.2,1.8,8.4":                                        three,
		"| Ref | E | B | C |\n|---|---|---|---|\n| Q101 | 1.2 | 1.8 | 8.4 |": three,
		"Q101 (E) 1.2V (B) 1.8V (C) 8400mV":                                  three,
		"\tQ101\tQ102\nE\t1,2\t-\nB\t1,8\t--\nC\t8,4\tn/a":                   three,
		"V1 p 180 g1 0 k 1,5":                                                "V1 a 180, V1 g1 0, V1 k 1.5",
		"Q3 S 0.8 G 0 D −7.2":                                                "Q3 s 0.8, Q3 g 0, Q3 d -7.2",
		"IC5\n1  VCC  12.0\n2  IN+  6,1":                                     "IC5 1 12, IC5 2 6.1",
		"IC5 1 2 3\nV 12.0 6.1 6.0":                                          "IC5 1 12, IC5 2 6.1, IC5 3 6",
		"\tPLAY\t\tREC\n\tE\tB\tE\tB\nQ1\t1.0\t1.6\t1.1\t1.7": "Q1 e (PLAY) 1, Q1 b (PLAY) 1.6, Q1 e (REC) 1.1, Q1 b (REC) " +
			"1.7",
	} {
		got := Read(text)
		var said []string
		for i := range got.Cells {
			c := &got.Cells[i]
			under := ""
			if c.Condition != "" {
				under = " (" + c.Condition + ")"
			}
			said = append(said, fmt.Sprintf("%s%s %g", c.Point(), under, c.si))
		}
		if strings.Join(said, ", ") != want || len(got.Missed) > 0 {
			t.Errorf("%q reads as %s, missed %+v", text, strings.Join(said, ", "), got.Missed)
		}
	}
}

// What is no chart is named with its line, and nothing is made of it.
func TestWhatIsNoChart(t *testing.T) {
	for text, why := range map[string]string{
		"the quick brown fox Q1 jumps":       "neither a heading",
		"\tE\tB\tC\nQ101\t1.2\tabout two\t8": "not a voltage",
		"\tE\tB\tC\nQ101\t1\t2\t3\t4\t5":     "more values than legs",
		strings.Repeat("x", 5000):            "too long",
		"1.2 3.4 5.6":                        "neither a heading",
	} {
		got := Read(text)
		if len(got.Missed) == 0 || !strings.Contains(got.Missed[0].Why, why) {
			t.Errorf("%.40q: %+v", text, got)
		}
	}
	if got := Read(""); len(got.Cells)+len(got.Missed) != 0 {
		t.Errorf("nothing gives %+v", got)
	}
	got := Read("\tE\tB\tC\nQ101\t1.2\t1.8\t8.4\nQ101\t1.2\t1.8\t8.4")
	if len(got.Cells) != 6 || !strings.Contains(got.Cells[5].Doubt, "two values") {
		t.Errorf("a part twice: %+v", got.Cells)
	}
}

// The suggestion is what was meant: a point lost at the base of a stage with 1.2 V at its emitter.
func TestALostPointIsPutBack(t *testing.T) {
	got := Read("\tE\tB\tC\nQ101\t1.2\t18\t8.4\nQ102\t12\t1.85\t8.4\nQ103 e 1.2 b 1.85 c 8.4")
	if c := got.Cells[1]; c.Likely != "1.8 V" || c.Doubt == "" {
		t.Errorf("%+v", c)
	}
	if c := got.Cells[3]; c.Likely != "1.2 V" || c.Doubt == "" {
		t.Errorf("%+v", c)
	}
	for _, c := range got.Cells[6:] {
		if c.Doubt != "" {
			t.Errorf("%+v", c)
		}
	}
}

func FuzzRead(f *testing.F) {
	rng := rand.New(rand.NewPCG(1, 1))
	for n := range 12 {
		text, _ := make60(rng, n)
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		for _, c := range Read(text).Cells {
			if c.Part == "" || c.Leg == "" || math.IsNaN(c.si) || math.IsInf(c.si, 0) {
				t.Errorf("%+v", c)
			}
		}
	})
}
