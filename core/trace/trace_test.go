package trace

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/planning"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

func open(t testing.TB, s *sheet.Sheet) Case {
	t.Helper()
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		t.Fatal(problems)
	}
	return Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}
}

// bench answers probes like a set in which one stage loses so many dB.
type bench struct {
	c     Case
	fault int // stage, by position
	loss  float64
	n     int
	log   []reading.Reading
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
	r, err := b.c.Take(reading.Aim{Point: point}, text)
	if err != nil {
		t.Fatalf("%s at %s: %v", text, point, err)
	}
	b.n++
	r.ID, r.Taken = fmt.Sprint(b.n), time.Unix(int64(b.n), 0)
	b.log = append(b.log, r)
	return b.c.Find(b.log)
}

func TestAccessMinutesMoveTheProbe(t *testing.T) {
	s := sheettest.Chain(8, "0 dB")
	s.Points[4].Minutes = "30"
	f := open(t, s).Find(nil)
	if f.Next.Point == "p4" || (f.Next.Point != "p3" && f.Next.Point != "p5") {
		t.Errorf("p4 takes half an hour to reach, yet the proposal is %s", f.Next.Point)
	}
}

func TestReadingsNarrowTheSuspects(t *testing.T) {
	c := open(t, sheettest.Chain(6, "6 dB"))
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
	if w := f.Stages[3].Weight; math.Abs(
		w-0.93/3,
	) > 0.02 { // of three alike, a twentieth that a reading was wrong, and of what comes right behind loading it
		t.Errorf("weight %g", w)
	}
	// Fed in at p4 and good at the exit: what follows is cleared, s2 and s3 stay.
	b.c.Injected = &reading.Injection{At: "p4"}
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
	if text := strings.Join(f.Reasons, " "); !strings.Contains(text, "p3 reads") || !strings.Contains(text, "p4 reads") ||
		!strings.Contains(text, "−14 dB") {
		t.Errorf("reasons: %s", text)
	}
}

func TestWhatDoesNotFitIsAskedForAgain(t *testing.T) {
	c := open(t, sheettest.Chain(6, "0 dB"))
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
func sentence(p *planning.Probe) string {
	text := ""
	for _, s := range p.Sentence {
		text += s.Text
	}
	return text
}

func TestBadEntryCleanRouteAndNoLevels(t *testing.T) {
	c := open(t, sheettest.Chain(3, "0 dB"))
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
	s := sheettest.Chain(3, "")
	f := open(t, s).Find(nil)
	if f.State != Tracing || f.Next.Point != "p3" || f.Next.Injected == nil ||
		!strings.Contains(sentence(f.Next), "Feed a signal in at p") {
		t.Errorf("a sheet without levels: %s %s", f.State, f.Headline)
	}
}

func TestRailsSpeakUp(t *testing.T) {
	s := sheettest.Chain(4, "0 dB")
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
	if len(f.Notices) != 1 || !strings.Contains(f.Notices[0], "s2 cannot be judged before") || f.Rails[0].Verdict != reading.Low {
		t.Errorf("notices: %v, %+v", f.Notices, f.Rails)
	}
	if f.State != Supply || f.Stage != "" || !strings.Contains(f.Headline, "Read it once more") || f.Grounds[0].Point != "+12 V" ||
		f.Grounds[0].Proof != Lacking {
		t.Errorf("%s: %s %s", f.State, f.Headline, proofs(f))
	}
	f = b.add(t, "+12 V", "7.3")
	if f.State != Supply || f.Stage != "" || f.Condemned || !strings.Contains(f.Headline, "Rail +12 V is at fault") ||
		!strings.Contains(proofs(f), "rail +12 V against") {
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
	s := sheettest.Chain(4, "0 dB")
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
	lifted := reading.Reading{ID: "lift", Point: "p2", Quantity: sheet.AC, Word: quantity.Weak, Without: []string{"s2"}}
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
	if f = c.Find(append(slices.Clone(b.log), reading.Reading{ID: "in", Point: "p4", Quantity: sheet.AC, Word: quantity.OK,
		Injected: &reading.Injection{At: "p2"}})); !f.Condemned {
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

// A set that is off is to be switched on before a signal is read.
func TestASetThatIsOffIsSwitchedOnFirst(t *testing.T) {
	c := open(t, sheettest.Chain(2, "20 dB"))
	c.Power = reading.PowerOff
	if f := c.Find(nil); f.Next == nil || !slices.ContainsFunc(f.Next.Facts, func(x planning.Fact) bool {
		return x.Label == "Set" && strings.HasPrefix(x.Text, "the set is off: switch it on first")
	}) {
		t.Errorf("the next probe of a set that is off: %+v", f.Next)
	}
}

func TestNextProbeIsASentence(t *testing.T) {
	s := sheettest.Chain(2, "20 dB")
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
		facts["Set"] != "level at its click" || facts["Waveform"] != "picture after-level" || facts["Mind"] != "mains 20 mm to the left" ||
		!strings.Contains(facts["Why here"], "2 suspects: bad leaves 1, good 1") {
		t.Errorf("%v", facts)
	}
}

// Two equal channels and a shared end: what plays in one clears what they share.
func TestTheOtherRouteClearsWhatIsShared(t *testing.T) {
	s := &sheet.Sheet{Model: "two in one", Points: []sheet.Point{
		{
			Name:   "L",
			Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}},
		}, {Name: "R", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "10 mV"}}},
		{Name: "sum"}, {Name: "out"}},
		Stages: []sheet.Stage{
			{Name: "left", From: "L", To: "sum", Gain: "6 dB"},
			{Name: "right", From: "R", To: "sum", Gain: "6 dB"},
			{Name: "shared", From: "sum", To: "out", Gain: "20 dB"},
		}}
	plan, problems := s.Plan()
	if len(problems) > 0 || len(plan.Routes) != 2 {
		t.Fatal(problems)
	}
	left := Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[0]}}
	right := Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[1], Injected: &reading.Injection{At: "R"}}}
	good, err := right.Take(reading.Aim{Point: "out"}, "ok")
	if err != nil {
		t.Fatal(err)
	}
	f := left.Find([]reading.Reading{good})
	if f.Stages[0].Standing != Suspect || f.Stages[1].Standing != Cleared || f.Next == nil || f.Next.Purpose != "confirm" {
		t.Errorf("%s: %+v", f.Headline, f.Stages)
	}
	if len(f.Reasons) != 2 || !strings.Contains(f.Reasons[1], "fed in at R") {
		t.Errorf("reasons: %v", f.Reasons)
	}
}

// Points above the rating of the instrument are not proposed, marked, and the
// one that would do is named.
func TestPointsAboveTheRatingAreRefused(t *testing.T) {
	s := sheettest.Chain(4, "0 dB")
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
	readings := []reading.Reading{
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
	r, err := c.Take(reading.Aim{Point: "p2"}, "10m")
	if err != nil {
		t.Fatal(err)
	}
	if j := c.Judge(r); j.Verdict != reading.Within || !strings.Contains(j.Note, "bears 150 V") {
		t.Errorf("%s, %q", j.Verdict, j.Note)
	}
}
