package trace

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

// pocketTransmitter is a set whose tone ends up in the deviation of a carrier: levels are of
// the tone up to the modulator and of the carrier behind it.
func pocketTransmitter() *sheet.Sheet {
	at := func(name, level, hz string, more ...sheet.Expectation) sheet.Point {
		return sheet.Point{
			Name:   name,
			Source: "50",
			Expect: append([]sheet.Expectation{{Quantity: sheet.AC, Value: level}, {Quantity: sheet.Frequency, Value: hz}}, more...),
		}
	}
	return &sheet.Sheet{Model: "pocket transmitter",
		Points: []sheet.Point{
			at("MIC", "4 mV", "800 Hz"),
			at("K1", "160 mV", "800 Hz"),
			at("K2", "120 mV", "800 Hz"),
			at("K3", "300 mV", "17.5 MHz"),
			at("K4", "1.2 V", "35 MHz"),
			at(
				"ANT",
				"1.6 V",
				"35 MHz",
				sheet.Expectation{Quantity: sheet.Deviation, Value: "3 kHz", Tolerance: "10 %"},
				sheet.Expectation{Quantity: sheet.Power, Value: "50 mW"},
			),
		},
		Stages: []sheet.Stage{
			{Name: "tone amplifier", Kind: "amplifier", From: "MIC", To: "K1", Gain: "32 dB"},
			{Name: "limiter", Kind: "amplifier", From: "K1", To: "K2"},
			{
				Name: "modulator",
				Kind: "mixer",
				From: "K2",
				To:   "K3",
			},
			{Name: "doubler", Kind: "amplifier", From: "K3", To: "K4"},
			{Name: "driver", Kind: "amplifier", From: "K4", To: "ANT"},
		}}
}

// A carrier that is there with its modulation absent: the good levels of the carrier clear
// nothing of what makes the tone, its own levels do; every fault before the carrier is found
// without a contradiction on the way.
func TestModulationAbsentBesideAGoodCarrier(t *testing.T) {
	for fault, name := range []string{"tone amplifier", "limiter"} {
		b := bench{c: open(t, pocketTransmitter()), fault: -1}
		take := func(point string, q sheet.Quantity, text string) Findings {
			r, err := b.c.Take(reading.Aim{Point: point, Quantity: q}, text)
			if err != nil {
				t.Fatal(err)
			}
			b.n++
			r.ID, r.Taken = fmt.Sprint(b.n), time.Unix(int64(b.n), 0)
			b.log = append(b.log, r)
			return b.c.Find(b.log)
		}
		take("ANT", sheet.AC, "1.58 V")
		f := take("ANT", sheet.Deviation, "90 Hz")
		left := func(f Findings) (out []string) {
			for _, s := range f.Stages {
				if s.Standing == Suspect || s.Standing == Faulty {
					out = append(out, s.Name)
				}
			}
			return out
		}
		if f.State != Tracing || !slices.Contains(left(f), name) {
			t.Fatalf("%s: %s %s, left %v", name, f.State, f.Headline, left(f))
		}
		f = take("K3", "", "295 mV") // a good carrier says nothing of the tone
		if !slices.Contains(left(f), name) || f.State == Conflict {
			t.Fatalf("%s: after a good carrier %s, left %v", name, f.Headline, left(f))
		}
		for range 8 {
			if f.State != Tracing {
				break
			}
			at := slices.IndexFunc(f.Points, func(p PointFinding) bool { return p.Name == f.Next.Point })
			switch {
			case f.Next.Quantity == sheet.Deviation:
				f = take(f.Next.Point, sheet.Deviation, "90 Hz")
			case at > fault && at <= 2:
				f = take(f.Next.Point, "", "none")
			default:
				f = take(f.Next.Point, "", f.Points[at].Expected)
			}
		}
		if f.State != Named || f.Stage != name {
			t.Errorf("%s: %s %s, left %v", name, f.State, f.Headline, left(f))
		}
	}
}

// Each quantity is read, judged and written in its own unit.
func TestQuantitiesOfASignal(t *testing.T) {
	s := pocketTransmitter()
	s.Points = append(
		s.Points,
		sheet.Point{
			Name: "T4",
			Expect: []sheet.Expectation{
				{Quantity: sheet.Current, Value: "24 mA"},
				{Quantity: sheet.Temperature, Value: "55 °C"},
				{Quantity: sheet.Distortion, Value: "0.8 %"},
				{Quantity: sheet.Resistance, Value: "1.2k"},
			},
		},
	)
	s.Points[3].Expect[1].Tolerance = "20 ppm"
	c := open(t, s)
	for _, x := range []struct {
		point    string
		aim      sheet.Quantity
		text     string
		quantity sheet.Quantity
		shown    string
		verdict  reading.Verdict
		off      string
	}{
		{"ANT", sheet.Deviation, "3.2k", sheet.Deviation, "3.2 kHz", reading.Within, "+6.7 %"},
		{"ANT", sheet.Deviation, "2.4 kHz", sheet.Deviation, "2.4 kHz", reading.Low, "−20 %"},
		{"ANT", sheet.Deviation, "none", sheet.Deviation, "none", reading.Absent, ""},
		{"ANT", "", "35 MHz", sheet.Frequency, "35 MHz", reading.Within, "0 %"},
		{"ANT", "", "45 mW", sheet.Power, "45 mW", reading.Within, "−10 %"},
		{"ANT", "", "30 mW", sheet.Power, "30 mW", reading.Low, "−40 %"},
		{"K3", "", "17.50021 MHz", sheet.Frequency, "17.50021 MHz", reading.Within, "+12 ppm"},
		{"K3", "", "17.49941 MHz", sheet.Frequency, "17.49941 MHz", reading.OffFrequency, "−34 ppm"},
		{"T4", "", "25 mA", sheet.Current, "25 mA", reading.Within, "+4.2 %"},
		{"T4", "", "70 mA", sheet.Current, "70 mA", reading.High, "+192 %"},
		{"T4", "", "83 °C", sheet.Temperature, "83 °C", reading.High, "+51 %"},
		{"T4", "", "0.3 %", sheet.Distortion, "0.3 %", reading.Within, "−63 %"},
		{"T4", "", "4 %", sheet.Distortion, "4 %", reading.Distorted, "+400 %"},
		{"T4", sheet.Resistance, "OL", sheet.Resistance, "open", reading.High, ""},
		{"ANT", "", "partly", sheet.AC, "partly", reading.Partly, ""},
		{"ANT", "", "comes and goes", sheet.AC, "cuts out", reading.Intermittent, ""},
	} {
		r, err := c.Take(reading.Aim{Point: x.point, Quantity: x.aim}, x.text)
		if err != nil {
			t.Errorf("%q at %s: %v", x.text, x.point, err)
			continue
		}
		if j := c.Judge(r); r.Quantity != x.quantity || j.Understood != x.shown || j.Verdict != x.verdict || j.Off != x.off {
			t.Errorf("%q at %s: %s %q, %s %q", x.text, x.point, r.Quantity, j.Understood, j.Verdict, j.Off)
		}
	}
	c.Power = reading.PowerOn
	if _, err := c.Take(reading.Aim{Point: "T4", Quantity: sheet.Resistance}, "open"); err == nil ||
		!strings.Contains(err.Error(), "set off") {
		t.Errorf("ohms in a live set: %v", err)
	}
}

// What stands against the rest is asked for again once, then it is believed, and what would
// explain it is said; no reading is asked for without end.
func TestARepeatedReadingIsBelieved(t *testing.T) {
	b := bench{c: open(t, sheettest.Chain(6, "0 dB")), fault: 99}
	b.add(t, "p2", "0.4 mV")
	f := b.add(t, "p5", "10 mV")
	for n := range 12 {
		if f.State != Conflict || f.Next == nil {
			break
		}
		text := map[string]string{"p2": "0.4 mV", "p5": "10 mV"}[f.Next.Point]
		if text == "" {
			text = "10 mV"
		}
		if f = b.add(t, f.Next.Point, text); n == 11 {
			t.Fatalf("%s is asked for still", f.Next.Point)
		}
	}
	for i := range b.log {
		same := 0
		for k := range b.log {
			if b.log[k].Point == b.log[i].Point {
				same++
			}
		}
		if same > 3 {
			t.Errorf("%s was read %d times", b.log[i].Point, same)
		}
	}
	if f.State != Conflict || !strings.Contains(f.Headline+strings.Join(f.Reasons, " "), "twice") {
		t.Errorf("%s: %s %v", f.State, f.Headline, f.Reasons)
	}
}

// A stage whose rail nobody has read is named with it; read good, it stands alone.
func TestTheRailIsNamedBesideTheStage(t *testing.T) {
	s := sheettest.Chain(3, "0 dB")
	s.Rails = []sheet.Rail{{Name: "+9 V", Value: "9 V"}}
	s.Stages[1].Rails = []string{"+9 V"}
	b := bench{c: open(t, s), fault: 1, loss: 60}
	b.read(t, "p1")
	f := b.read(t, "p2")
	if f.Headline != "The fault is in s1, or its rail +9 V." || f.Rails[0].Weight < 0.2 {
		t.Errorf("%s, %.2f", f.Headline, f.Rails[0].Weight)
	}
	if f = b.add(t, "+9 V", "9.02"); f.Headline != "The fault is in s1." || f.Rails[0].Weight != 0 {
		t.Errorf("%s, %.2f", f.Headline, f.Rails[0].Weight)
	}
}

// Before radio frequency is read in the middle of a chain of contacts, the volts at what
// switches them are; where a probe disturbs, that is said and costs more.
func TestDriversBeforeRadioFrequency(t *testing.T) {
	s := &sheet.Sheet{
		Model: "switch matrix",
		Points: []sheet.Point{
			{Name: "IN", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}, {Quantity: sheet.Frequency, Value: "70 MHz"}}},
		},
	}
	for i := range 6 {
		name := fmt.Sprintf("D%d", i)
		s.Controls = append(s.Controls, sheet.Control{Name: name, Does: sheet.ControlDoes[0], Value: "9 V"})
		s.Points = append(s.Points, sheet.Point{Name: fmt.Sprintf("R%d", i)})
		from := "IN"
		if i > 0 {
			from = fmt.Sprintf("R%d", i-1)
		}
		s.Stages = append(
			s.Stages,
			sheet.Stage{
				Name:  "K" + fmt.Sprint(i),
				Kind:  "relay contact",
				From:  from,
				To:    fmt.Sprintf("R%d", i),
				Gain:  "0 dB",
				Needs: []string{name},
			},
		)
	}
	b := bench{c: open(t, s), fault: 99}
	f := b.add(t, "R5", "none")
	for i := range 6 {
		if f.Next == nil || f.Next.Quantity != sheet.DC || !strings.HasPrefix(f.Next.Point, "D") {
			t.Fatalf("after %d drivers %+v is proposed", i, f.Next)
		}
		f = b.add(t, f.Next.Point, "9.05")
	}
	if f.Next == nil || f.Next.Quantity != sheet.AC || f.Next.Point != "R2" {
		t.Fatalf("with the drivers good %+v is proposed", f.Next)
	}
	mind := slices.IndexFunc(f.Next.Facts, func(x planning.Fact) bool { return x.Label == "Mind" && strings.Contains(x.Text, "12 pF") })
	if mind < 0 || f.Next.Minutes < 4 {
		t.Errorf("%v, %g minutes", f.Next.Facts, f.Next.Minutes)
	}
	// At audio frequency nothing is disturbed, and the middle comes first.
	s.Points[0].Expect[1].Value = "1 kHz"
	quiet := bench{c: open(t, s), fault: 99}
	if f = quiet.add(t, "R5", "none"); f.Next.Point != "R2" || f.Next.Quantity != sheet.AC {
		t.Errorf("at 1 kHz %s is proposed", f.Next.Point)
	}
}

// A twin that the sheet states by its frequency is shown good by that.
func TestTwinByFrequency(t *testing.T) {
	s := sheettest.Stereo()
	for _, i := range []int{2, 6} {
		s.Points[i].Expect = []sheet.Expectation{{Quantity: sheet.Frequency, Value: "440 Hz"}}
	}
	l := logbook{t: t, c: side(t, open(t, s), "L0")}
	l.at("L1", "ok")
	f := l.at("L2", "none")
	ground := func(f Findings) Ground {
		for _, g := range f.Grounds {
			if g.Key == "twin" {
				return g
			}
		}
		return Ground{}
	}
	if g := ground(f); g.Proof != Lacking || g.Quantity != sheet.Frequency {
		t.Fatalf("%s %+v", f.Headline, g)
	}
	l.c = side(t, l.c, "R0")
	l.at("R2", "440.1 Hz")
	l.c = side(t, l.c, "L0")
	if g := ground(l.c.Find(l.readings)); g.Proof != Shown {
		t.Errorf("%+v", g)
	}
}
