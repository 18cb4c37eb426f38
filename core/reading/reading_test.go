package reading

import (
	"errors"
	"math"
	"strings"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

func TestExpectationFollowsWhatIsFedIn(t *testing.T) {
	c := open(t, sheettest.Chain(3, "20 dB"))
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
	s := sheettest.Chain(1, "0 dB")
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
	s := sheettest.Chain(1, "0 dB")
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
	s := sheettest.Chain(2, "20 dB")
	s.Points[1].Drawing = "14"
	s.Points[1].Expect = []sheet.Expectation{{Quantity: sheet.AC, Value: "300 mVpp"}, {Quantity: sheet.DC, Value: "-4.2 V"}}
	s.Stages[0].Gain = ""
	s.Rails = []sheet.Rail{
		{Name: "+12 V", Value: "12 V", Ripple: "50 mVpp", RippleFrequency: "100 Hz", Ohms: "80", Fuse: "F1"},
		{Name: "raw", Value: "-30 V"},
		{Name: "heaters", Value: "6.3 Vac"},
	}
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
		{"raw", "1.4", sheet.AC, sheet.AC, 1.4, quantity.PeakPeak, Within}, // a twentieth is usual
		{"raw", "1.6", sheet.AC, sheet.AC, 1.6, quantity.PeakPeak, Hum},
		{"heaters", "6.1", "", sheet.AC, 6.1, quantity.RMS, Within},
		{"heaters", "17.6 Vpp", "", sheet.AC, 17.6, quantity.PeakPeak, Within},
		{"heaters", "4.4 Vac", "", sheet.AC, 4.4, quantity.RMS, Low},
		{"heaters", "6.3 dc", "", sheet.DC, 6.3, quantity.DC, Unjudged},
		{"heaters", "none", sheet.DC, sheet.AC, 0, "", Absent},
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
	s := sheettest.Chain(2, "20 dB")
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
	for _, live := range []Power{PowerStandby, PowerOn} {
		c.Power = live
		if _, err := c.Take(Aim{Point: "p1"}, "4k7 ohm"); err == nil || !strings.Contains(err.Error(), "this set is live") {
			t.Errorf("ohms while %s: %v", live, err)
		}
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

// In what way a reading was taken stands with it where it is not the plain one.
func TestHowAReadingWasTaken(t *testing.T) {
	s := sheettest.Stereo()
	s.Controls = []sheet.Control{{Name: "MUTE", Does: sheet.ControlDoes[0], Value: "4 V", Worked: "0 V", By: "the key held"}}
	c := open(t, s)
	for _, x := range []struct {
		r    Reading
		want string
	}{
		{Reading{Point: "L2", Quantity: sheet.AC}, ""},
		{Reading{Point: "L2", Quantity: sheet.AC, Injected: &Injection{At: "L0"}}, ""},
		{Reading{Point: "R2", Quantity: sheet.AC, Injected: &Injection{At: "R0"}}, ""},
		{Reading{Point: "L2", Quantity: sheet.AC, Injected: &Injection{At: "L1"}}, "fed in at L1"},
		{Reading{Point: "L2", Quantity: sheet.AC, Injected: &Injection{At: "L0", Level: 0.02, Hz: 400}}, "fed in at L0, 20 mV, 400 Hz"},
		{Reading{Point: "MUTE", Quantity: sheet.DC, Worked: true}, "with the key held"},
		{Reading{Point: "L2", Quantity: sheet.AC, Without: []string{"L tone", "L pre"}}, "with L tone and L pre lifted"},
		{Reading{Point: "L2", Quantity: sheet.AC, Instrument: "meter"}, "by the hand meter"},
		{Reading{Point: "L2", Quantity: sheet.DC, Instrument: "meter"}, ""},
	} {
		j := c.Judge(x.r)
		if j.How != x.want {
			t.Errorf("%+v: %q, want %q", x.r, j.How, x.want)
		}
		if x.want != "" && !strings.Contains(j.Told(), "("+x.want+")") {
			t.Errorf("a reason says %q", j.Told())
		}
	}
}

// Everything that the sheet has can be aimed at, what it states there first.
func TestSpots(t *testing.T) {
	s := sheettest.Stereo()
	s.Points = append(s.Points, sheet.Point{Name: "bias pin", Expect: []sheet.Expectation{{Quantity: sheet.Current, Value: "20 mA"}}})
	s.Rails = []sheet.Rail{{Name: "+9 V", Value: "9 V", Fuse: "F1"}}
	s.Tracks = []sheet.Track{{Rail: "+9 V", Place: "C1 +"}}
	kinds := map[string]Spot{}
	for _, x := range Spots(open(t, s).Plan) {
		kinds[x.Name] = x
	}
	if x := kinds["bias pin"]; x.Kind != "point" || x.Quantities[0] != sheet.Current || len(x.Quantities) != len(sheet.Quantities) {
		t.Errorf("%+v", x)
	}
	if x := kinds["L2"]; x.Quantities[0] != sheet.AC {
		t.Errorf("%+v", x)
	}
	for name, kind := range map[string]string{"+9 V": "rail", "F1": "fuse", "+9 V @ C1 +": "place"} {
		if kinds[name].Kind != kind {
			t.Errorf("%s is %+v", name, kinds[name])
		}
	}
}

func TestProvocationsThatCannotBe(t *testing.T) {
	c := open(t, sheettest.Chain(2, "0 dB"))
	for text, says := range map[string]string{"": "say what was done", "tap": "say what was done", "kick comes": "say what was done",
		"tap broke": "say what was done"} {
		if _, err := c.Take(Aim{Point: "s0", Quantity: sheet.Provocation}, text); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%q: %v", text, err)
		}
	}
	if _, err := c.Take(Aim{Point: "elsewhere", Quantity: sheet.Provocation}, "tap comes"); err == nil {
		t.Error("tapping what is not there was taken")
	}
}

// A touch brings in 20 mV. Behind 40 dB of gain that is 2 V where 100 mV is
// usual: weak is a fault. At the last point before the exit it is 14 dB below the
// usual 100 mV: weak is right. Where the usual level is 1 V it is 34 dB below:
// nothing heard is no fault either.
func TestATouchIsHeardTheLessTheNearerToTheExit(t *testing.T) {
	s := sheettest.Chain(3, "20 dB") // 10 mV, 100 mV, 1 V, 10 V
	judge := func(at string, text string) Judged {
		t.Helper()
		c := open(t, s)
		in, err := ReadInjection(at, "touch", "")
		if err != nil {
			t.Fatal(err)
		}
		c.Injected = in
		r, err := c.Take(Aim{Point: "p3"}, text)
		if err != nil {
			t.Fatal(err)
		}
		return c.Judge(r)
	}
	for _, x := range []struct {
		at, text string
		want     Verdict
	}{
		{"p0", "ok", Within}, {"p0", "hum", Within}, {"p0", "weak", Low}, {"p0", "none", Absent},
		{"p1", "weak", Within}, {"p1", "none", Absent}, // 20 mV on 100 mV: −14 dB
		{"p2", "weak", Within}, {"p2", "none", Unjudged}, // 20 mV on 1 V: −34 dB
		{"p0", "distorted", Distorted}, {"p0", "3 V", Unjudged},
	} {
		if j := judge(x.at, x.text); j.Verdict != x.want {
			t.Errorf("%q heard of a touch at %s is %s (%s), want %s", x.text, x.at, j.Verdict, j.Note, x.want)
		}
	}
}

// What three legs say together: each case a textbook fault of a stage with 1.2, 1.85 and 8.4 V, and of
// its mirror in PNP.
func TestLegsSayTogether(t *testing.T) {
	s := sheettest.Chain(2, "20 dB")
	for leg, v := range map[string]string{
		"Q1 e": "1.2 V", "Q1 b": "1.85 V", "Q1 c": "8.4 V",
		"Q2 e": "-1.2 V", "Q2 b": "-1.85 V", "Q2 c": "-8.4 V",
	} {
		s.Points = append(s.Points, sheet.Point{Name: leg, Expect: []sheet.Expectation{{Quantity: sheet.DC, Value: v}}})
	}
	b := open(t, s)
	for _, x := range []struct {
		e, b, c float64
		says    string
	}{
		{1.2, 1.85, 8.4, "stands as it should"},
		{0, 1.8, 12, "that junction of Q"},
		{0, 2.4, 12, "that junction of Q"},
		{4.1, 0.1, 4.1, "is shorted"},
		{4.1, 4.75, 4.2, "driven fully"},
		{0.3, 0.35, 12, "not driven, or shorted between them"},
		{2.4, 3.05, 5.1, "what feeds it"},
	} {
		for part, sign := range map[string]float64{"Q1": 1, "Q2": -1} {
			var log []Reading
			for _, leg := range []struct {
				name string
				v    float64
			}{{"e", x.e}, {"b", x.b}, {"c", x.c}} {
				log = append(
					log,
					Reading{ID: leg.name, Point: part + " " + leg.name, Quantity: sheet.DC, SI: sign * leg.v, Form: quantity.DC},
				)
			}
			if note := b.JudgeAll(log, nil)[2].Note; !strings.Contains(note, x.says) {
				t.Errorf("%s at %g, %g, %g: %q, want %q", part, x.e, x.b, x.c, note, x.says)
			}
			if j := b.JudgeAll(log[:1], nil)[0]; j.Verdict.Bad() != strings.Contains(j.Note, "read b and c of") {
				t.Errorf("%s, one leg %s: %q", part, j.Verdict, j.Note)
			}
		}
	}
}

// A base that is good above an emitter at nothing: no current comes through.
func TestNoCurrentThroughAPart(t *testing.T) {
	s := sheettest.Chain(2, "20 dB")
	for leg, v := range map[string]string{"Q3 e": "0.3 V", "Q3 b": "0.95 V", "Q3 c": "8 V"} {
		s.Points = append(s.Points, sheet.Point{Name: leg, Expect: []sheet.Expectation{{Quantity: sheet.DC, Value: v}}})
	}
	log := []Reading{
		{ID: "1", Point: "Q3 e", Quantity: sheet.DC, SI: 0, Form: quantity.DC},
		{ID: "2", Point: "Q3 b", Quantity: sheet.DC, SI: 0.95, Form: quantity.DC},
		{ID: "3", Point: "Q3 c", Quantity: sheet.DC, SI: 12, Form: quantity.DC},
	}
	if note := open(t, s).JudgeAll(log, nil)[2].Note; !strings.Contains(note, "no current through Q3") {
		t.Error(note)
	}
}

// Volts along a track are read on a rail's copper, and nowhere else: a word for them at a control was
// taken once, and nothing knew what to make of it after a repair.
func TestTrackVoltsAreOfATrack(t *testing.T) {
	s := sheettest.Chain(2, "20 dB")
	s.Rails = []sheet.Rail{{Name: "+9 V", Value: "9 V"}}
	b := open(t, s)
	for _, at := range []string{"p1", "+9 V"} {
		if _, err := b.Take(Aim{Point: at, Quantity: sheet.TrackVolts}, "weak"); err == nil ||
			!strings.Contains(err.Error(), "on the copper") {
			t.Errorf("at %s: %v", at, err)
		}
	}
}

// A set without any way for a signal has nothing to compare a level with, and says so.
func TestASetWithoutAWay(t *testing.T) {
	b := open(t, &sheet.Sheet{Model: "X", Rails: []sheet.Rail{{Name: "+5 V", Value: "5 V"}}})
	if got := b.Feeding(); got != "nothing: this set has no way for a signal" {
		t.Errorf("fed: %s", got)
	}
	if b.byWords(b.Route) {
		t.Error("a route of nothing is judged by words")
	}
}

// open lays a sheet on the bench, its first route to be traced.
func open(t testing.TB, s *sheet.Sheet) Bench {
	t.Helper()
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	return Bench{Plan: plan, Route: FirstRoute(plan)}
}
