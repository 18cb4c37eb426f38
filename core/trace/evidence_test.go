package trace

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
)

// log takes readings one after the other: "point", "text", under the case as it
// stands then.
type logbook struct {
	t        *testing.T
	c        Case
	readings []reading.Reading
}

func (l *logbook) take(aim reading.Aim, text string, change ...func(r *reading.Reading)) Findings {
	l.t.Helper()
	r, err := l.c.Take(aim, text)
	if err != nil {
		l.t.Fatalf("%s at %s: %v", text, aim.Point, err)
	}
	for _, f := range change {
		f(&r)
	}
	l.readings = append(l.readings, r)
	return l.c.Find(l.readings)
}

func (l *logbook) at(point, text string, change ...func(r *reading.Reading)) Findings {
	l.t.Helper()
	return l.take(reading.Aim{Point: point}, text, change...)
}

func worked(r *reading.Reading) { r.Worked = true }

func lifted(names ...string) func(r *reading.Reading) {
	return func(r *reading.Reading) { r.Without = names }
}

// muted is a row of three stages; the second needs a mute line that a logic
// line makes, made from a rail.
func muted() *sheet.Sheet {
	s := sheettest.Chain(3, "0 dB")
	s.Rails = []sheet.Rail{{Name: "+5 V", Value: "5 V"}}
	s.Controls = []sheet.Control{
		{Name: "MUTE", Does: "mute", Value: "4.8 V", Worked: "0 V", By: "MUTE held", From: "LOGIC"},
		{Name: "LOGIC", Does: "enable", Value: "5 V", From: "+5 V"},
	}
	s.Stages[1].Needs = []string{"MUTE"}
	return s
}

// A stage that a mute line holds shut is good: the line is at fault, or what it
// is made from, whichever is bad furthest up.
func TestABadControlIsBlamedAndNotItsStage(t *testing.T) {
	l := logbook{t: t, c: open(t, muted())}
	l.at("p1", "10 mV")
	f := l.at("p2", "none")
	if f.State != Named || f.Stage != "s1" || f.Condemned {
		t.Fatalf("%s %s", f.State, f.Headline)
	}
	f = l.at("MUTE", "0.2 V")
	if f.State != Supply || f.Stage != "" || !strings.Contains(f.Headline, "read LOGIC") {
		t.Errorf("%s %s", f.State, f.Headline)
	}
	l.at("LOGIC", "5 V")
	f = l.at("LOGIC", "5 V") // what decides is read twice
	if !strings.Contains(f.Headline, "Control MUTE reads 200 mV. Read it once more") {
		t.Errorf("%s", f.Headline)
	}
	if f = l.at("MUTE", "0.2 V"); !strings.HasPrefix(f.Headline, "Control MUTE is at fault: s1 has no control") {
		t.Errorf("%s", f.Headline)
	}
}

// A line that stands right but does not move when its key is held is bad too.
func TestAControlThatDoesNotMoveIsBad(t *testing.T) {
	l := logbook{t: t, c: open(t, muted())}
	l.at("MUTE", "4.8 V")
	f := l.at("p1", "10 mV")
	if f.Controls[0].good() {
		t.Error("MUTE is taken for good before it was worked")
	}
	if f = l.at("MUTE", "4.7 V", worked); !f.Controls[0].bad() || f.Controls[0].Moves != "0 V" || f.Controls[0].Moved != "4.7 V" {
		t.Errorf("%+v", f.Controls[0])
	}
	if f = l.at("MUTE", "0.01 V", worked); !f.Controls[0].good() {
		t.Errorf("%+v", f.Controls[0])
	}
	if err := l.c.CheckWorked("+5 V"); err == nil || !strings.Contains(err.Error(), "is no control") {
		t.Errorf("working a rail: %v", err)
	}
	if err := l.c.CheckWorked("LOGIC"); err == nil || !strings.Contains(err.Error(), "does not say what LOGIC becomes") {
		t.Errorf("working a line that does not move: %v", err)
	}
}

// A mixer without its oscillator is good: the trace goes on to the oscillator.
func TestAMissingOscillatorIsFound(t *testing.T) {
	s := sheettest.Chain(2, "0 dB")
	s.Points = append(s.Points, sheet.Point{Name: "LO", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "150 mV"}}})
	s.Stages[1].Needs = []string{"LO"}
	s.Stages = append(s.Stages, sheet.Stage{Name: "oscillator", Kind: "oscillator", To: "LO"})
	l := logbook{t: t, c: open(t, s)}
	l.at("p1", "10 mV")
	f := l.at("p2", "none")
	if f.Condemned || f.State != Named {
		t.Fatalf("%s %s", f.State, f.Headline)
	}
	f = l.at("LO", "none")
	if f.State != Elsewhere || f.GoTo == "" {
		t.Fatalf("%s %s", f.State, f.Headline)
	}
	l.c.Route, _ = l.c.Plan.Route(f.GoTo)
	if f = l.c.Find(l.readings); f.Stage != "oscillator" {
		t.Errorf("%s %s", f.State, f.Headline)
	}
}

// While feedback closes a loop its stages cannot be told apart; opened, with a
// word for what is there, they can.
func TestALoopIsOneBlockUntilItIsOpened(t *testing.T) {
	s := sheettest.Chain(4, "10 dB")
	s.Stages = append(s.Stages, sheet.Stage{Name: "back", Kind: "feedback", From: "p3", To: "p1"})
	l := logbook{t: t, c: open(t, s)}
	l.at("p1", "31.6 mV")
	l.at("p4", "distorted")
	f := l.at("p3", "distorted")
	if f.State != Tracing || f.Next == nil || len(f.Next.Without) != 1 || f.Next.Without[0] != "back" || f.Next.Point != "p2" {
		t.Fatalf("%s %+v", f.Headline, f.Next)
	}
	if f = l.at("p2", "31.6 mV", lifted("back")); f.Readings[len(l.readings)-1].Verdict != reading.Unjudged {
		t.Errorf("a level with the loop open was judged: %+v", f.Readings[len(l.readings)-1])
	}
	if f = l.at("p2", "ok", lifted("back")); f.State != Named || f.Stage != "s2" {
		t.Errorf("%s %s", f.State, f.Headline)
	}
	// Good as soon as the feedback is lifted: it is the feedback.
	l.readings = l.readings[:3]
	if f = l.at("p3", "ok", lifted("back")); f.State != Named || f.Stage != "back" {
		t.Errorf("%s %s", f.State, f.Headline)
	}
}

// What a provocation does to the odds, worked out by hand from the stated
// figures: a contact that comes and goes answers to a tap in 0.6 of cases, one
// that does not seems to in 0.02, another block far away in 0.03.
func TestATapThatMovesTheFaultShiftsTheOdds(t *testing.T) {
	s := sheettest.Chain(5, "0 dB")
	for i := range s.Stages {
		s.Stages[i].Kind = "amplifier"
	}
	s.Stages[0].Kind = "connector"
	l := logbook{t: t, c: open(t, s)}
	odds := func() float64 {
		f := newFinder(l.c, l.readings)
		believed := f.belief(f.evidence)
		return believed[0] / believed[4]
	}
	l.at("p5", "cuts out")
	before := odds()
	l.take(reading.Aim{Point: "s0", Quantity: sheet.Provocation}, "tap comes")
	if len(l.readings) != 2 || l.readings[1].Act != reading.Tap || l.readings[1].Word != reading.Comes {
		t.Fatalf("%+v", l.readings[1])
	}
	// The share of "comes and goes" among the effects, given that the exit cuts out:
	// P(intermittent | effect) is 0.95·0.4 for it, 0.95·0.04 for noisy, and
	// misread·0.2·0.02 on top for every effect.
	given := func(share [effects]float64) (comes float64) {
		slip := 0.05 * 0.2 * 0.02
		total := 0.0
		for e := range effects {
			p := share[e] * slip
			switch e {
			case comesAndGoes:
				comes = share[e] * (0.95*0.4 + slip)
				p = comes
			case noisy:
				p = share[e] * (0.95*0.04 + slip)
			}
			total += p
		}
		return comes / total
	}
	c, a := given(shares["contact"]), given(shares["amplifier"])
	want := (c*0.6 + (1-c)*0.02) / (a*0.03 + (1-a)*0.02)
	got := odds() / before
	if math.Abs(got/want-1) > 1e-6 {
		t.Errorf("the odds shift by %g, by hand %g", got, want)
	}
	// A good reading of a fault that comes and goes clears nothing.
	if f := l.at("p4", "10 mV"); f.Stages[0].Standing != Suspect {
		t.Errorf("%s is %s", f.Stages[0].Name, f.Stages[0].Standing)
	}
}

// A bias voltage far off makes the stages that meet there likelier, by the stated
// figures: of two amplifiers in a row, one at the point and one far away.
func TestABiasVoltageShiftsTheOdds(t *testing.T) {
	s := sheettest.Chain(6, "0 dB")
	for i := range s.Stages {
		s.Stages[i].Kind = "amplifier"
	}
	s.Points[2].Expect = []sheet.Expectation{{Quantity: sheet.DC, Value: "6 V"}}
	l := logbook{t: t, c: open(t, s)}
	odds := func(a, b int) float64 {
		f := newFinder(l.c, l.readings)
		believed := f.belief(f.evidence)
		return believed[a] / believed[b]
	}
	f := l.take(reading.Aim{Point: "p2", Quantity: sheet.DC}, "1.2 V")
	// Of an amplifier's faults these shares put its bias off: 0.42·0.75 + 0.2·0.5 +
	// 0.03·0.3 + 0.13·0.75 + 0.08·0.2 + 0.05·0.15 + 0.01·0.1 + 0.08·0.15.
	off := 0.42*0.75 + 0.2*0.5 + 0.03*0.3 + 0.13*0.75 + 0.08*0.2 + 0.05*0.15 + 0.01*0.1 + 0.08*0.15
	if want, got := (0.05+0.95*off)/0.05, odds(1, 5); math.Abs(got/want-1) > 1e-9 {
		t.Errorf("its own stage is %g times as likely, by hand %g", got, want)
	}
	if want, got := (0.05+0.95*0.3*off)/0.05, odds(3, 5); math.Abs(got/want-1) > 1e-9 {
		t.Errorf("the neighbour is %g times as likely, by hand %g", got, want)
	}
	if f.Stages[1].Weight < 2*f.Stages[4].Weight || len(f.Stages[1].Speaks) == 0 ||
		!strings.Contains(f.Stages[1].Speaks[0].Text, "p2 reads 1.2 V, low, −80 %") {
		t.Errorf("%+v", f.Stages[1])
	}
	// A good bias clears nothing.
	l.readings = nil
	if f = l.take(reading.Aim{Point: "p2", Quantity: sheet.DC}, "6 V"); f.Stages[1].Standing != Suspect || odds(1, 5) >= 1 {
		t.Errorf("%s, odds %g", f.Stages[1].Standing, odds(1, 5))
	}
}

// Two entries in one mode: a reading says which of them was fed, and speaks of
// that way also while another route is traced.
func TestAReadingRemembersItsEntry(t *testing.T) {
	fed := []sheet.Expectation{{Quantity: sheet.AC, Value: "100 mV"}}
	s := &sheet.Sheet{
		Model:  "mono",
		Points: []sheet.Point{{Name: "L", Expect: fed}, {Name: "R", Expect: fed}, {Name: "bus"}, {Name: "out"}},
		Stages: []sheet.Stage{
			{Name: "left", From: "L", To: "bus", Gain: "0 dB"},
			{Name: "right", From: "R", To: "bus", Gain: "0 dB"},
			{Name: "sum", From: "bus", To: "out", Gain: "6 dB"},
		},
	}
	l := logbook{t: t, c: side(t, open(t, s), "R")}
	l.at("out", "200 mV")
	if in := l.readings[0].Injected; in == nil || in.At != "R" {
		t.Fatalf("fed in at %+v", in)
	}
	l.c = side(t, l.c, "L")
	f := l.at("out", "2 mV")
	if f.State != Named && f.State != Tracing || f.Stages[0].Standing == Cleared || f.Stages[1].Standing != Cleared {
		t.Errorf("%s: left is %s, sum is %s", f.State, f.Stages[0].Standing, f.Stages[1].Standing)
	}
}

// deflection is a picture tube that needs deflection and its high voltage; what makes the pulses makes this too.
func deflection() *sheet.Sheet {
	expect := func(v string) []sheet.Expectation { return []sheet.Expectation{{Quantity: sheet.AC, Value: v}} }
	return &sheet.Sheet{
		Model: "deflection",
		Points: []sheet.Point{{Name: "video", Expect: expect("1 V")}, {Name: "cathode"}, {Name: "light"},
			{Name: "drive", Expect: expect("20 V")}, {Name: "pulses", Expect: expect("60 V")}},
		Rails: []sheet.Rail{{Name: "+110 V", Value: "110 V"}, {Name: "EHT", Value: "24 kV", From: "pulses"},
			{Name: "+180 V", Value: "180 V", From: "pulses"}},
		Stages: []sheet.Stage{
			{Name: "video output", Kind: "amplifier", From: "video", To: "cathode", Gain: "30 dB", Rails: []string{"+180 V"}},
			{Name: "tube", Kind: "other", From: "cathode", To: "light", Gain: "0 dB", Rails: []string{"EHT"}},
			{Name: "line oscillator", Kind: "oscillator", To: "drive", Rails: []string{"+110 V"}},
			{Name: "line output", Kind: "amplifier", From: "drive", To: "pulses", Gain: "10 dB", Rails: []string{"+110 V"}},
		},
	}
}

// A rail that is made from a signal is not at fault where the signal is missing: that is read before the rail is
// blamed, and the trace goes on to what should make it.
func TestARailWithoutItsSignalIsNotBlamed(t *testing.T) {
	l := logbook{t: t, c: open(t, deflection())}
	f := l.at("light", "none")
	f = l.at("+180 V", "0.3 V")
	if f.State != Supply || f.Line != "" || !strings.Contains(f.Headline, "read the signal at pulses, which it is made from") {
		t.Fatalf("%s %s", f.State, f.Headline)
	}
	f = l.at("pulses", "none")
	if f.State != Elsewhere || f.GoTo == "" {
		t.Fatalf("%s %s", f.State, f.Headline)
	}
	l.c.Route, _ = l.c.Plan.Route(f.GoTo)
	if f = l.c.Find(l.readings); len(f.Notices) != 1 ||
		!strings.Contains(f.Notices[0], "as it must while what it is made from is missing") {
		t.Errorf("%q", f.Notices)
	}
	l.at("drive", "20 V")
	f = l.at("+110 V", "110 V")
	if f.Stage != "line output" {
		t.Errorf("%s %s", f.State, f.Headline)
	}
	// With the signal there the rail itself is at fault; one that is made from the same shows the signal too.
	l = logbook{t: t, c: open(t, deflection())}
	l.at("light", "none")
	l.at("+180 V", "0.3 V")
	l.at("pulses", "60 V")
	if f = l.at("+180 V", "0.3 V"); f.Line != "" || !strings.Contains(f.Headline, "Read pulses, which it is made from, once more") {
		t.Errorf("%s %s", f.State, f.Headline)
	}
	if f = l.at("pulses", "60 V"); f.Line != "+180 V" {
		t.Errorf("%s %s", f.State, f.Headline)
	}
	l = logbook{t: t, c: open(t, deflection())}
	l.at("light", "none")
	f = l.at("EHT", "24 kV")
	if i := slices.IndexFunc(f.Map, func(m MapStage) bool { return m.Name == "line output" }); f.Map[i].Standing != Aside {
		t.Errorf("with the high voltage there the line output is %s", f.Map[i].Standing)
	}
}

// What keeps itself going cannot be parted by reading: the way out is said.
func TestARingOfSupplyAndSignalSaysHowToPartIt(t *testing.T) {
	s := deflection()
	s.Stages[2].Rails = []string{"+180 V"}
	l := logbook{t: t, c: open(t, s)}
	l.at("pulses", "none")
	l.c.Route, _ = l.c.Plan.Route("|line oscillator, by itself|pulses")
	l.at("drive", "none")
	l.at("+110 V", "110 V")
	f := l.at("+180 V", "0.2 V")
	if f.Line != "" || !strings.Contains(f.Headline+strings.Join(f.Reasons, " "), "bench supply") {
		t.Errorf("%s %s %v, grounds %+v", f.State, f.Headline, f.Reasons, f.Grounds)
	}
}

// Right volts do not clear a rail of hum: its ripple is asked for, and decides. A rail behind a filter
// of its own clears nothing of what it is made from.
func TestHumAsksForRipple(t *testing.T) {
	s := sheettest.Chain(3, "0 dB")
	s.Rails = []sheet.Rail{{Name: "+40 V", Value: "40 V"}, {Name: "+30 V", Value: "30 V", From: "+40 V"}}
	s.Stages[1].Rails = []string{"+30 V"}
	s.Stages[2].Rails = []string{"+40 V"}
	l := logbook{t: t, c: open(t, s)}
	rail := func(f Findings, i int) string {
		return fmt.Sprintf("good %t, bad %t, asked %t", f.Rails[i].good(), f.Rails[i].bad(), f.Rails[i].rippleWanted())
	}
	if f := l.at("+40 V", "39.6 V"); rail(f, 0) != "good true, bad false, asked false" {
		t.Errorf("before it hums: %s", rail(f, 0))
	}
	f := l.at("p3", "hum")
	if rail(f, 0) != "good false, bad false, asked true" || f.Rails[0].Weight == 0 {
		t.Errorf("with hum: %s, weight %g", rail(f, 0), f.Rails[0].Weight)
	}
	l.c.Way = planning.Supplies
	l.at("+30 V", "30.1 V")
	f = l.take(reading.Aim{Point: "+30 V", Quantity: sheet.AC}, "20 mVpp")
	if rail(f, 1) != "good true, bad false, asked false" || rail(f, 0) != "good false, bad false, asked true" {
		t.Errorf("+30 V: %s; +40 V: %s", rail(f, 1), rail(f, 0))
	}
	var said strings.Builder
	for _, part := range f.Next.Sentence {
		said.WriteString(part.Text)
	}
	if f.Next.Point != "+40 V" || f.Next.Quantity != sheet.AC ||
		said.String() != "Read the ripple of rail +40 V and expect usually at most 2 Vpp." {
		t.Errorf("%s %s: %s", f.Next.Point, f.Next.Quantity, said.String())
	}
	if g := l.take(reading.Aim{Point: "+40 V", Quantity: sheet.AC}, "1.2 Vpp"); rail(g, 0) != "good true, bad false, asked false" ||
		g.Rails[0].Weight != 0 || g.Next == nil || g.Next.Quantity != sheet.AC {
		t.Errorf("a small ripple: %s, then %+v", rail(g, 0), g.Next)
	}
	l.readings = l.readings[:len(l.readings)-1]
	f = l.take(reading.Aim{Point: "+40 V", Quantity: sheet.AC}, "11 Vpp")
	if f.State != Supply || !strings.Contains(f.Headline, "with a ripple of 11 Vpp") || !strings.Contains(f.Headline, "once more") ||
		f.Grounds[0].Quantity != sheet.AC {
		t.Errorf("%s: %s %+v", f.State, f.Headline, f.Grounds)
	}
	f = l.take(reading.Aim{Point: "+40 V", Quantity: sheet.AC}, "11 Vpp")
	if f.Line != "+40 V" ||
		!strings.HasPrefix(
			f.Notices[0],
			"Rail +40 V reads 39.6 V with a ripple of 11 Vpp where 40 V with a ripple of at most 2 Vpp is due.",
		) {
		t.Errorf("%q: %s %v", f.Line, f.Headline, f.Notices)
	}
}
