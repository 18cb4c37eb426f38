package trace

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// chain is a sheet of n stages of equal gain and equal access: points p0..pn.
func chain(n int, gain string) *sheet.Sheet {
	s := &sheet.Sheet{Model: "chain", Points: []sheet.Point{{Name: "p0", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}, {Quantity: sheet.Frequency, Value: "1 kHz"}}}}}
	for i := range n {
		s.Points = append(s.Points, sheet.Point{Name: fmt.Sprintf("p%d", i+1)})
		s.Stages = append(s.Stages, sheet.Stage{Name: fmt.Sprintf("s%d", i), From: fmt.Sprintf("p%d", i), To: fmt.Sprintf("p%d", i+1), Gain: gain})
	}
	return s
}

func open(t testing.TB, s *sheet.Sheet) Case {
	t.Helper()
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	return Case{Plan: plan, Route: &plan.Routes[0]}
}

// bench answers probes like a set in which one stage loses so many dB.
type bench struct {
	c     Case
	fault int // stage, by position
	loss  float64
	n     int
	log   []Reading
}

func (b *bench) read(t testing.TB, point string) Findings {
	t.Helper()
	at := slices.IndexFunc(b.c.Route.Points, func(i int) bool { return b.c.Plan.Points[i].Name == point })
	dbv := b.c.Route.Levels[at].DBV
	if at > b.fault {
		dbv -= b.loss
	}
	return b.add(t, point, quantity.Value{SI: quantity.Times(dbv), Unit: quantity.Volt, Form: quantity.RMS}.Short(3))
}

func (b *bench) add(t testing.TB, point, text string) Findings {
	t.Helper()
	r, err := b.c.Take(Aim{Point: point}, text)
	if err != nil {
		t.Fatalf("%s at %s: %v", text, point, err)
	}
	b.n++
	r.ID, r.Taken = fmt.Sprint(b.n), time.Unix(int64(b.n), 0)
	b.log = append(b.log, r)
	return b.c.Find(b.log)
}

func TestAccessMinutesMoveTheProbe(t *testing.T) {
	s := chain(8, "0 dB")
	s.Points[4].Minutes = "30"
	f := open(t, s).Find(nil)
	if f.Next.Point == "p4" || (f.Next.Point != "p3" && f.Next.Point != "p5") {
		t.Errorf("p4 takes half an hour to reach, yet the proposal is %s", f.Next.Point)
	}
}

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
		{"p1", "-3 V", "no sign"}, {"p1", "12 dB", "needs its reference"}, {"p1", "5 %", "not read at a point"},
		{"p9", "1 V", "neither a point, a rail nor a control"}, {"p1", "31q", "character 3"}, {"F1", "3 V", "a fuse is read in ohms"}, {"+12 V @ C1 +", "3.1m", "where the current is fed"}, {"p1", "-3 Hz", "never below zero"},
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

func TestReadingsNarrowTheSuspects(t *testing.T) {
	c := open(t, chain(6, "6 dB"))
	standing := func(f Findings) string {
		var out []string
		for _, s := range f.Stages {
			out = append(out, string(s.Standing)[:1])
		}
		return strings.Join(out, "")
	}
	b := bench{c: c, fault: 3, loss: 20}
	if f := c.Find(nil); standing(f) != "ssssss" || f.Next == nil {
		t.Errorf("at the start: %s", standing(f))
	}
	if f := b.read(t, "p2"); standing(f) != "ccssss" {
		t.Errorf("good at p2: %s", standing(f))
	}
	f := b.read(t, "p5")
	if standing(f) != "ccsssa" {
		t.Errorf("bad at p5: %s", standing(f))
	}
	if w := f.Stages[3].Weight; math.Abs(w-1.0/3) > 0.02 { // nearly: what comes right behind a point might have loaded it
		t.Errorf("weight %g", w)
	}
	// Fed in at p4 and good at the exit: what follows is cleared, s2 and s3 stay.
	b.c.Injected = &Injection{At: "p4"}
	if f = b.add(t, "p6", "ok"); standing(f) != "ccsscc" {
		t.Errorf("injected at p4, good at the exit: %s, %s", standing(f), f.Headline)
	}
	b.c.Injected = nil
	f = b.read(t, "p3")
	f = b.read(t, "p4")
	if f.State != Named || f.Stage != "s3" || standing(f) != "cccfcc" {
		t.Errorf("%s %q %s", f.State, f.Stage, standing(f))
	}
	if g := f.Stages[3].MeasuredDB; g == nil || math.Abs(*g+14) > 0.05 {
		t.Errorf("a stage of +6 dB that loses 20 measures %v, want −14", g)
	}
	if text := strings.Join(f.Reasons, " "); !strings.Contains(text, "p3 reads") || !strings.Contains(text, "p4 reads") || !strings.Contains(text, "−14 dB") {
		t.Errorf("reasons: %s", text)
	}
}

func TestWhatDoesNotFitIsAskedForAgain(t *testing.T) {
	c := open(t, chain(6, "0 dB"))
	b := bench{c: c, fault: 4, loss: 20}
	b.read(t, "p3")
	b.read(t, "p4")
	f := b.add(t, "p2", "1 mV") // a slip: it is good
	if f.State != Conflict || f.Next == nil || f.Next.Point != "p2" || f.Next.Purpose != "again" {
		t.Fatalf("%s, %+v", f.State, f.Next)
	}
	if f = b.read(t, "p2"); f.State != Tracing || !f.Readings[2].Superseded {
		t.Errorf("read again: %s %s", f.State, f.Headline)
	}
	b.log[3].Struck = true
	b.log[2].Struck = true
	if f = c.Find(b.log); f.State != Tracing || f.Readings[2].Superseded {
		t.Errorf("struck out: %s", f.State)
	}
}

// sentence is a proposal in plain text.
func sentence(p *Probe) string {
	text := ""
	for _, s := range p.Sentence {
		text += s.Text
	}
	return text
}

func TestBadEntryCleanRouteAndNoLevels(t *testing.T) {
	c := open(t, chain(3, "0 dB"))
	b := bench{c: c, fault: 99}
	if f := b.add(t, "p0", "none"); f.State != Source || f.Next.Point != "p0" {
		t.Errorf("nothing at the entry: %s", f.State)
	}
	b.add(t, "p0", "10 mV")
	// The complaint says otherwise, so it is asked for once more.
	if f := b.read(t, "p3"); f.State != Clean || f.Next == nil || f.Next.Purpose != "again" {
		t.Errorf("all good: %s", f.State)
	}
	if f := b.read(t, "p3"); f.State != Clean || f.Next != nil {
		t.Errorf("all good, twice: %s", f.State)
	}
	// Without levels a signal fed in further down and heard at the exit parts them.
	s := chain(3, "")
	f := open(t, s).Find(nil)
	if f.State != Tracing || f.Next.Point != "p3" || f.Next.Injected == nil || !strings.Contains(sentence(f.Next), "Feed a signal in at p") {
		t.Errorf("a sheet without levels: %s %s", f.State, f.Headline)
	}
}

func TestRailsSpeakUp(t *testing.T) {
	s := chain(4, "0 dB")
	s.Rails = []sheet.Rail{{Name: "+12 V", Value: "12 V"}}
	s.Stages[2].Rails = []string{"+12 V"}
	s.Points[3].Expect = []sheet.Expectation{{Quantity: sheet.DC, Value: "6 V"}}
	c := open(t, s)
	b := bench{c: c, fault: 2, loss: 30}
	b.read(t, "p2")
	f := b.read(t, "p3")
	if f.Stage != "s2" || f.Condemned || proofs(f) != "input shown, output shown, rail +12 V missing, load missing, dc p3 missing" {
		t.Errorf("%q: %s", f.Stage, proofs(f))
	}
	f = b.add(t, "+12 V", "7.4")
	if len(f.Notices) != 1 || !strings.Contains(f.Notices[0], "s2 cannot be judged before") || f.Rails[0].Verdict != Low {
		t.Errorf("notices: %v, %+v", f.Notices, f.Rails)
	}
	if f.State != Supply || f.Stage != "" || !strings.Contains(f.Headline, "Read it once more") || f.Grounds[0].Point != "+12 V" || f.Grounds[0].Proof != Lacking {
		t.Errorf("%s: %s %s", f.State, f.Headline, proofs(f))
	}
	f = b.add(t, "+12 V", "7.3")
	if f.State != Supply || f.Stage != "" || f.Condemned || !strings.Contains(f.Headline, "Rail +12 V is at fault") || !strings.Contains(proofs(f), "rail +12 V against") {
		t.Errorf("%s: %s %s", f.State, f.Headline, proofs(f))
	}
}

// proofs lists the grounds with how they stand.
func proofs(f Findings) string {
	var out []string
	for _, g := range f.Grounds {
		out = append(out, g.Key+" "+string(g.Proof))
	}
	return strings.Join(out, ", ")
}

// A stage is condemned when its input is shown good, its output bad, its rails
// good and the load ruled out, and not before; a ground may be waived.
func TestCondemnedOnlyOnAllGrounds(t *testing.T) {
	s := chain(4, "0 dB")
	s.Rails = []sheet.Rail{{Name: "+12 V", Value: "12 V"}}
	s.Stages[1].Rails = []string{"+12 V"}
	c := open(t, s)
	b := bench{c: c, fault: 1, loss: 30}
	b.read(t, "p1")
	f := b.read(t, "p2")
	if f.Stage != "s1" || f.Condemned || proofs(f) != "input shown, output shown, rail +12 V missing, load missing" {
		t.Fatalf("%q: %s", f.Stage, proofs(f))
	}
	f = b.add(t, "+12 V", "12.1")
	if f.Condemned || proofs(f) != "input shown, output shown, rail +12 V shown, load missing" {
		t.Errorf("with the rail: %s", proofs(f))
	}
	// A slip of the probe must not condemn it: what decides is read again. The
	// load, which is settled in several ways below, is done without meanwhile.
	c.Waivers = []Waiver{{Stage: "s1", Key: "load", Reason: "later"}}
	for n := 0; ; n++ {
		if f = c.Find(b.log); f.Condemned {
			break
		}
		again := f.Grounds[len(f.Grounds)-1]
		if n == 4 || again.Key != "sure" || again.Proof != Lacking {
			t.Fatalf("%+v", again)
		}
		if again.Point == "+12 V" {
			b.add(t, "+12 V", "12.0")
		} else {
			b.read(t, again.Point)
		}
	}
	if len(b.log) < 4 {
		t.Errorf("condemned on %d readings", len(b.log))
	}
	c.Waivers = nil
	// The load lifted: still bad, so it is not the load.
	lifted := Reading{ID: "lift", Point: "p2", Quantity: sheet.AC, Word: quantity.Weak, Without: []string{"s2"}}
	log := append(slices.Clone(b.log), lifted)
	if f = c.Find(log); !f.Condemned || f.Headline != "s1 is condemned." || !strings.Contains(proofs(f), "load shown") {
		t.Errorf("with the load lifted: %s, %s", f.Headline, proofs(f))
	}
	// Good with the load lifted: the load it is.
	lifted.Word = quantity.OK
	if f = c.Find(append(slices.Clone(b.log), lifted)); f.State != Named || f.Stage != "s2" || f.Condemned {
		t.Errorf("it is the load: %s %q, %s", f.State, f.Stage, f.Headline)
	}
	// A signal fed in behind it and good at the exit rules the load out too.
	if f = c.Find(append(slices.Clone(b.log), Reading{ID: "in", Point: "p4", Quantity: sheet.AC, Word: quantity.OK, Injected: &Injection{At: "p2"}})); !f.Condemned {
		t.Errorf("with what follows shown good: %s", proofs(f))
	}
	// Waived, with the reason kept; a waiver of another stage or of what speaks against it does nothing.
	c.Waivers = []Waiver{{Stage: "s1", Key: "load", Reason: "potted, cannot be lifted"}}
	if f = c.Find(b.log); !f.Condemned || f.Grounds[3].Proof != Waived || f.Grounds[3].Because != "potted, cannot be lifted" {
		t.Errorf("waived: %s", proofs(f))
	}
	c.Waivers[0].Stage = "s2"
	if f = c.Find(b.log); f.Condemned {
		t.Error("condemned by a waiver of another stage")
	}
}

func TestNextProbeIsASentence(t *testing.T) {
	s := chain(2, "20 dB")
	s.Settings = "level at its click"
	s.Points[1].Drawing, s.Points[1].Note, s.Points[1].Hazard = "14", "after level", "mains 20 mm to the left"
	s.Points[1].Expect = []sheet.Expectation{{Quantity: sheet.AC, Value: "100 mV", Picture: "after-level"}}
	f := open(t, s).Find(nil)
	var text strings.Builder
	for _, sp := range f.Next.Sentence {
		text.WriteString(sp.Text)
	}
	if text.String() != "Probe p1 and expect 100 mV at 1 kHz." {
		t.Errorf("%s", text.String())
	}
	facts := map[string]string{}
	for _, x := range f.Next.Facts {
		facts[x.Label] = x.Text
	}
	// 100 mV rms is 283 mVpp: 50 mV a division makes 5.7; two periods of 1 kHz
	// over ten divisions are 0.2 ms each.
	if facts["With"] != "scope, ×10 probe, AC, 50 mV and 200 µs a division" || facts["On the drawing"] != "point 14, after level" ||
		facts["Set"] != "level at its click" || facts["Waveform"] != "picture after-level" || facts["Mind"] != "mains 20 mm to the left" || !strings.Contains(facts["Why here"], "2 suspects 1 to 1") {
		t.Errorf("%v", facts)
	}
}

// The target is under 10 ms for 60 blocks and 200 readings.
func BenchmarkFind(b *testing.B) {
	for _, n := range []int{60, 120, 240, 400} {
		c := open(b, chain(n, "0 dB"))
		w := bench{c: c, fault: n / 2, loss: 20}
		for i := range 200 {
			r, _ := c.Take(Aim{Point: fmt.Sprintf("p%d", i%(n/2+1))}, "10 mV")
			w.log = append(w.log, r)
		}
		b.Run(fmt.Sprintf("%d blocks, 200 readings", n), func(b *testing.B) {
			for b.Loop() {
				if f := c.Find(w.log); f.Headline == "" {
					b.Fatal("nothing found")
				}
			}
		})
		b.Run(fmt.Sprintf("%d blocks, untouched", n), func(b *testing.B) {
			for b.Loop() {
				if f := c.Find(nil); f.Next == nil {
					b.Fatal("nothing proposed")
				}
			}
		})
	}
}

// Whole sets of about 60 blocks with branches, modes, rails, controls and loops.
func BenchmarkFindWholeSet(b *testing.B) {
	rng := rand.New(rand.NewPCG(60, 200))
	var c Case
	for c.Plan == nil || blocks(c.Plan) < 55 {
		c = open(b, wholeSet(rng))
	}
	var log []Reading
	for i := range 200 {
		r := &c.Plan.Routes[i%len(c.Plan.Routes)]
		log = append(log, Reading{ID: fmt.Sprint(i), Point: c.Plan.Points[r.Points[1+i%(len(r.Points)/3)]].Name, Quantity: sheet.AC, Mode: r.Mode, Word: quantity.OK})
	}
	for name, readings := range map[string][]Reading{"200 readings": log, "untouched": nil} {
		b.Run(fmt.Sprintf("%d blocks, %s", blocks(c.Plan), name), func(b *testing.B) {
			for b.Loop() {
				if f := c.Find(readings); f.Headline == "" {
					b.Fatal("nothing found")
				}
			}
		})
	}
}

// Two equal channels and a shared end: what plays in one clears what they share.
func TestTheOtherRouteClearsWhatIsShared(t *testing.T) {
	s := &sheet.Sheet{Model: "two in one", Points: []sheet.Point{
		{Name: "L", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}}}, {Name: "R", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}}},
		{Name: "sum"}, {Name: "out"}},
		Stages: []sheet.Stage{{Name: "left", From: "L", To: "sum", Gain: "6 dB"}, {Name: "right", From: "R", To: "sum", Gain: "6 dB"}, {Name: "shared", From: "sum", To: "out", Gain: "20 dB"}}}
	plan, problems := s.Plan()
	if len(problems) > 0 || len(plan.Routes) != 2 {
		t.Fatal(problems)
	}
	left := Case{Plan: plan, Route: &plan.Routes[0]}
	right := Case{Plan: plan, Route: &plan.Routes[1], Injected: &Injection{At: "R"}}
	good, err := right.Take(Aim{Point: "out"}, "ok")
	if err != nil {
		t.Fatal(err)
	}
	f := left.Find([]Reading{good})
	if f.Stages[0].Standing != Suspect || f.Stages[1].Standing != Cleared || f.Next == nil || f.Next.Purpose != "confirm" {
		t.Errorf("%s: %+v", f.Headline, f.Stages)
	}
	if len(f.Reasons) != 2 || !strings.Contains(f.Reasons[1], "fed in at R") {
		t.Errorf("reasons: %v", f.Reasons)
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
	if f.Points[2].Refused == "" || len(all) != 1 || all[0].Why != f.Points[2].Refused || !strings.Contains(all[0].Why, "1.2 kV") || !strings.Contains(all[0].Why, "take the scope, ×100 probe") {
		t.Errorf("refused: %+v", all)
	}
	// With the others read, only that point parts what is left: said, not proposed.
	readings := []Reading{{ID: "1", Point: "p1", Quantity: sheet.AC, Word: quantity.OK}, {ID: "2", Point: "p3", Quantity: sheet.AC, Word: quantity.Nothing}}
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
