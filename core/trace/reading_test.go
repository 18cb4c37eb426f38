package trace

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

func TestExpectationFollowsWhatIsFedIn(t *testing.T) {
	c := open(t, chain(3, "20 dB"))
	c.Injected = &Injection{At: "p0", Level: 0.01 * quantity.Times(-10), Hz: 1000}
	take := func(point, text string) Judged {
		r, err := c.Take(Aim{Point: point}, text)
		if err != nil {
			t.Fatal(err)
		}
		return c.Judge(r)
	}
	// 10 dB less in, 10 dB less expected: 1 V becomes 316 mV.
	if j := take("p2", "316 mV"); j.Verdict != Within || j.Expected != "316 mV" || math.Abs(*j.OffDB) > 0.01 {
		t.Errorf("%+v", j)
	}
	if j := take("p2", "1 V"); j.Verdict != High || j.Off != "+10 dB" {
		t.Errorf("%s %s", j.Verdict, j.Off)
	}
	if j := take("p2", "50.1 mV"); j.Verdict != Low || j.Off != "−16 dB" {
		t.Errorf("%s %s", j.Verdict, j.Off)
	}
	if j := take("p2", "1 mV"); j.Verdict != Absent {
		t.Errorf("50 dB down is %s", j.Verdict)
	}
	if j := take("p2", "0"); j.Verdict != Absent || j.OffDB != nil {
		t.Errorf("nothing is %s", j.Verdict)
	}
	// 2.83 Vpp of a sine is 1 Vrms.
	if j := take("p2", "0.894 Vpp"); j.Verdict != Within || j.Expected != "894 mVpp" {
		t.Errorf("peak to peak: %s, expected %s", j.Verdict, j.Expected)
	}
	c.Injected = &Injection{At: "p0", Level: 0.01, Hz: 10000}
	if j := take("p2", "1 V"); j.Verdict != Unjudged || !strings.Contains(j.Note, "hold for 1 kHz fed in, not 10 kHz") {
		t.Errorf("another frequency: %+v", j)
	}
	c.Injected = &Injection{At: "p2", Level: 0.5}
	if j := take("p3", "5 V"); j.Verdict != Within {
		t.Errorf("fed in further down: %+v", j)
	}
	if j := take("p1", "5 V"); j.Verdict != Unjudged || !strings.Contains(j.Note, "does not come past") {
		t.Errorf("before the injection: %+v", j)
	}
}

// Loading against the divider by hand: 10 kΩ into 1 MΩ is 0.99; with 110 pF at
// the frequency where its reactance is 10 kΩ, 1/√2 (times the 0.99 nearly).
func TestInstrumentLoadsThePoint(t *testing.T) {
	in := InstrumentFor("scope1")
	if got := in.Loading(1e6, 0); math.Abs(got-0.5) > 1e-12 {
		t.Errorf("1 MΩ on 1 MΩ: %g", got)
	}
	hz := 1 / (2 * math.Pi * 1e4 * in.InputF)
	if got := in.Loading(1e4, hz); math.Abs(got-1/math.Hypot(1.01, 1)) > 1e-12 {
		t.Errorf("10 kΩ with its own reactance across: %g", got)
	}
	s := chain(1, "0 dB")
	s.Points[1].Source = "1M"
	c := open(t, s)
	c.Instrument = "scope1"
	r, err := c.Take(Aim{Point: "p1"}, "4.1 mV")
	if err != nil {
		t.Fatal(err)
	}
	// 10 mV behind 1 MΩ into 1 MΩ and 110 pF at 1 kHz: 10/|2+j0.691| = 4.73 mV.
	if j := c.Judge(r); j.Verdict != Within || j.Expected != "4.73 mV" || !strings.Contains(j.Note, "loads this point") {
		t.Errorf("%+v", j)
	}
	s.Points[0].Expect[1].Value = "19 kHz"
	c = open(t, s)
	r.Instrument = "meter"
	if j := c.Judge(r); j.Verdict != Unjudged || !strings.Contains(j.Note, "use a scope") {
		t.Errorf("hand meter at 19 kHz: %+v", j)
	}
}

func TestAveragingMeterOnASquareWave(t *testing.T) {
	s := chain(1, "0 dB")
	s.Points[1].Expect = []sheet.Expectation{{Quantity: sheet.AC, Value: "1 Vrms", Shape: "square"}}
	s.Stages[0].Gain = ""
	c := open(t, s)
	c.Instrument = "meter"
	r, _ := c.Take(Aim{Point: "p1"}, "1.11")
	if j := c.Judge(r); j.Verdict != Within || j.Expected != "1.11 V" {
		t.Errorf("an averaging meter shows 1.11 V for a 1 V square wave: %+v", j)
	}
}

func TestTakeUnderstandsWhatIsTyped(t *testing.T) {
	s := chain(2, "20 dB")
	s.Points[1].Drawing = "14"
	s.Points[1].Expect = []sheet.Expectation{{Quantity: sheet.AC, Value: "300 mVpp"}, {Quantity: sheet.DC, Value: "-4.2 V"}}
	s.Stages[0].Gain = ""
	s.Rails = []sheet.Rail{{Name: "+12 V", Value: "12 V", Ripple: "50 mVpp", RippleFrequency: "100 Hz", Ohms: "80", Fuse: "F1"}}
	s.Tracks = []sheet.Track{{Rail: "+12 V", Place: "C1 +"}}
	c := open(t, s)
	cases := []struct {
		point, text string
		aim         sheet.Quantity
		want        sheet.Quantity
		si          float64
		form        quantity.Form
		verdict     Verdict
	}{
		{"p1", "310m", "", sheet.AC, 0.31, quantity.PeakPeak, Within},
		{"14", "110 mVrms", "", sheet.AC, 0.11, quantity.RMS, Within},
		{"p1", "-4,1", sheet.DC, sheet.DC, -4.1, quantity.DC, Within},
		{"p1", "-3 V dc", "", sheet.DC, -3, quantity.DC, Low},
		{"p1", "0 V dc", "", sheet.DC, 0, quantity.DC, Absent},
		{"p1", "1.2 kHz", "", sheet.Frequency, 1200, "", Unjudged},
		{"p0", "1.2 kHz", "", sheet.Frequency, 1200, "", OffFrequency},
		{"p1", "4k7 ohm", "", sheet.Resistance, 4700, "", Unjudged},
		{"p1", "hum", sheet.DC, sheet.AC, 0, "", Hum},
		{"p1", "cuts out", "", sheet.AC, 0, "", Intermittent},
		{"+12 V", "11.9", "", sheet.DC, 11.9, quantity.DC, Within},
		{"+12 V", "9.1", "", sheet.DC, 9.1, quantity.DC, Low},
		{"+12 V", "none", "", sheet.DC, 0, "", Absent},
		{"+12 V", "48 mVpp", "", sheet.AC, 0.048, quantity.PeakPeak, Within},
		{"+12 V", "120m", sheet.AC, sheet.AC, 0.12, quantity.PeakPeak, Hum},
		{"+12 V", "50 Hz", "", sheet.Frequency, 50, "", OffFrequency},
		{"+12 V", "3 ohm", "", sheet.Resistance, 3, "", Low},
		{"+12 V", "70 ohm", "", sheet.Resistance, 70, "", Within},
		{"F1", "0.2", "", sheet.Resistance, 0.2, "", Within},
		{"F1", "2M", "", sheet.Resistance, 2e6, "", Absent},
		{"F1", "none", "", sheet.Resistance, 0, "", Absent},
	}
	for _, x := range cases {
		r, err := c.Take(Aim{Point: x.point, Quantity: x.aim}, x.text)
		if err != nil || r.Quantity != x.want || r.SI != x.si || r.Form != x.form {
			t.Errorf("%q at %s: %+v, %v", x.text, x.point, r, err)
			continue
		}
		if r.Word == "" && r.Text != x.text {
			t.Errorf("the text was not kept: %q", r.Text)
		}
		if j := c.Judge(r); j.Verdict != x.verdict {
			t.Errorf("%q at %s: %s, want %s", x.text, x.point, j.Verdict, x.verdict)
		}
	}
	for _, x := range []struct{ point, text, says string }{
		{"p1", "-3 V", "no sign"}, {"p1", "12 dB", "needs its reference"}, {"p1", "5 nF", "not read at a point"},
		{"p9", "1 V", "neither a point, a rail nor a " +
			"control"}, {"p1", "31q", "character 3"}, {"F1", "3 V", "a fuse is read in ohms"}, {"+12 V @ C1 +", "3.1m",
			"where the current is fed"}, {"p1", "-3 Hz", "never below zero"},
	} {
		if _, err := c.Take(Aim{Point: x.point}, x.text); err == nil || !strings.Contains(err.Error(), x.says) {
			t.Errorf("%q at %s: %v, want %q", x.text, x.point, err, x.says)
		}
	}
	var unknown *UnknownPoint
	if _, err := c.Take(Aim{Point: "nowhere"}, "1"); !errors.As(err, &unknown) {
		t.Errorf("unknown point: %v", err)
	}
}

// How the set stood is part of a reading: what can be read then, and what it means.
func TestPowerIsPartOfAReading(t *testing.T) {
	s := chain(2, "20 dB")
	s.Rails = []sheet.Rail{{Name: "+12 V", Value: "12 V", Up: sheet.WithStart}, {Name: "+5 V", Value: "5 V"}}
	c := open(t, s)
	for _, x := range []struct {
		power       Power
		point, text string
		want        Verdict
		says        string
	}{
		{PowerStandby, "+12 V", "0 V", Within, "only when the set is told to start"},
		{PowerStandby, "+12 V", "none", Within, "only when the set is told to start"},
		{PowerStandby, "+12 V", "11 V", Unjudged, "only when the set is told to start"},
		{PowerStandby, "+5 V", "0 V", Absent, ""},
		{PowerOn, "+12 V", "0 V", Absent, ""},
		{PowerUnsaid, "+12 V", "0 V", Absent, ""},
		{PowerOff, "+5 V", "0 V", Unjudged, "the set was off"},
		{PowerOff, "p1", "0 V", Unjudged, "the set was off"},
		{PowerOff, "p1", "4k7", Unjudged, "gives no resistance"},
	} {
		c.Power = x.power
		r, err := c.Take(Aim{Point: x.point, Quantity: map[bool]sheet.Quantity{true: sheet.Resistance}[x.text == "4k7"]}, x.text)
		if err != nil {
			t.Fatal(err)
		}
		if j := c.Judge(r); j.Verdict != x.want || !strings.Contains(j.Note, x.says) {
			t.Errorf("%q at %s, %s: %s %q", x.text, x.point, x.power, j.Verdict, j.Note)
		}
	}
	c.Power = PowerOff
	if f := c.Find(nil); f.Next == nil || !slices.ContainsFunc(f.Next.Facts, func(x Fact) bool {
		return x.Label == "Set" && strings.HasPrefix(x.Text, "the set is off: switch it on first")
	}) {
		t.Errorf("the next probe of a set that is off: %+v", f.Next)
	}
	for _, live := range []Power{PowerStandby, PowerOn} {
		c.Power = live
		if _, err := c.Take(Aim{Point: "p1"}, "4k7 ohm"); err == nil || !strings.Contains(err.Error(), "this set is live") {
			t.Errorf("ohms while %s: %v", live, err)
		}
	}
}

// Points above the rating of the instrument are not proposed, marked, and the
// one that would do is named.
func TestPointsAboveTheRatingAreRefused(t *testing.T) {
	s := chain(4, "0 dB")
	s.Points[2].Peak = "1.2 kV"
	c := open(t, s)
	f := c.Find(nil)
	if f.Next == nil || f.Next.Point == "p2" {
		t.Fatalf("next is %+v", f.Next)
	}
	all := c.Refusals()
	if f.Points[2].Refused == "" || len(all) != 1 || all[0].Why != f.Points[2].Refused || !strings.Contains(all[0].Why, "1.2 kV") ||
		!strings.Contains(all[0].Why, "take the scope, ×100 probe") {
		t.Errorf("refused: %+v", all)
	}
	// With the others read, only that point parts what is left: said, not proposed.
	readings := []Reading{
		{ID: "1", Point: "p1", Quantity: sheet.AC, Word: quantity.OK},
		{ID: "2", Point: "p3", Quantity: sheet.AC, Word: quantity.Nothing},
	}
	if f = c.Find(readings); f.Next != nil || f.State != Stuck || !strings.Contains(strings.Join(f.Reasons, " "), "p2: up to 1.2 kV") {
		t.Errorf("%s, next %+v: %v", f.State, f.Next, f.Reasons)
	}
	c.Instrument = "scope100"
	if f = c.Find(readings); f.Next == nil || f.Next.Point != "p2" {
		t.Errorf("with the ×100 probe next is %+v", f.Next)
	}
	// Whoever reads there all the same is told, and the reading counts.
	c.Instrument = "scope1"
	r, err := c.Take(Aim{Point: "p2"}, "10m")
	if err != nil {
		t.Fatal(err)
	}
	if j := c.Judge(r); j.Verdict != Within || !strings.Contains(j.Note, "bears 150 V") {
		t.Errorf("%s, %q", j.Verdict, j.Note)
	}
}

// Above its corner a probe's rating falls with the frequency: at ten times the
// corner a tenth is left.
func TestRatingFallsWithFrequency(t *testing.T) {
	for _, in := range Instruments() {
		if in.MaxVolts <= 0 || in.DerateHz <= 0 {
			t.Errorf("%s has no rating", in.Name)
		}
		if got := in.Rating(10 * in.DerateHz); math.Abs(got-in.MaxVolts/10) > 1e-9*in.MaxVolts {
			t.Errorf("%s at ten times its corner: %g V of %g", in.Name, got, in.MaxVolts)
		}
		if in.Rating(0) != in.MaxVolts || in.Rating(in.DerateHz) != in.MaxVolts {
			t.Errorf("%s below its corner: %g V", in.Name, in.Rating(0))
		}
	}
}
