package trace

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/sheet/sheettest"
	"steptrace/internal/trial"
)

// shop is an amplifier with two inputs and a supply with a fuse: in, aux -> pre -> mid -> power -> out.
func shop() *sheet.Sheet {
	s := &sheet.Sheet{Model: "shop", Points: []sheet.Point{
		{
			Name:   "in",
			Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "100 mV"}},
		}, {Name: "aux", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "100 mV"}}},
		{
			Name: "sel",
		}, {Name: "mid", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}, {Quantity: sheet.DC, Value: "6 V"}}},
		{Name: "out"}},
		Rails: []sheet.Rail{{Name: "+12 V", Value: "12 V", Fuse: "F1", Ohms: "500"}}}
	s.Stages = []sheet.Stage{
		{Name: "switch in", Kind: "switch", From: "in", To: "sel", Gain: "0 dB", Modes: []string{"A"}},
		{Name: "switch aux", Kind: "switch", From: "aux", To: "sel", Gain: "0 dB", Modes: []string{"B"}},
		{
			Name:  "pre",
			Kind:  "amplifier",
			From:  "sel",
			To:    "mid",
			Gain:  "20 dB",
			Rails: []string{"+12 V"},
		},
		{Name: "power", Kind: "amplifier", From: "mid", To: "out", Gain: "10 dB", Rails: []string{"+12 V"}},
	}
	return s
}

// repaired goes on in the next round.
func (l *logbook) repaired(blocks ...string) Findings {
	l.c.Round++
	l.c.Repairs = append(l.c.Repairs, Renewed{l.c.Round, blocks})
	return l.c.Find(l.readings)
}

func standings(f Findings) string {
	var out []string
	for _, g := range f.Verify {
		out = append(out, g.Point+" "+string(g.Proof))
	}
	return strings.Join(out, ", ")
}

func marked(entry, mode string) func(r *reading.Reading) {
	return func(r *reading.Reading) { r.Injected, r.Mode = &reading.Injection{At: entry}, mode }
}

// A set came in dead with a blown fuse and a short. After the repair ohms come before
// power, then the complaint itself at the exit, then what else was wrong, then what worked;
// and all that is shown, it is called repaired. What was read before stays beside it.
func TestAfterARepairTheBenchVerifies(t *testing.T) {
	l := &logbook{t: t, c: open(t, shop())}
	l.at("out", "none", marked("in", "A"))
	l.at("out", "ok", marked("aux", "B"))
	l.at("F1", "none")
	l.at("+12 V", "3 ohm")
	l.at("mid", "12 mV", func(r *reading.Reading) { r.Mode = "A" })
	l.take(reading.Aim{Point: "mid", Quantity: sheet.DC}, "0.4 V")
	l.c.Power = reading.PowerOn
	f := l.repaired("pre")
	if f.State != Verifying || standings(f) != "+12 V missing, F1 missing, out missing, mid missing, mid missing, out missing" {
		t.Fatalf("%s: %s; %s", f.State, f.Headline, standings(f))
	}
	if s := sentence(f.Next); !strings.HasPrefix(s, "Switch off, unplug and discharge; then read +12 V in ohms") ||
		f.Next.Quantity != sheet.Resistance {
		t.Errorf("first: %s", s)
	}
	if b := l.c.BeforePower(l.readings); len(b) != 2 || !strings.Contains(b[0], "No short on rail +12 V behind the fuse F1") {
		t.Errorf("before power: %q", b)
	}
	l.c.Power = reading.PowerOff
	if s := sentence(l.c.Find(l.readings).Next); !strings.HasPrefix(s, "Before power goes on, read +12 V in ohms") {
		t.Errorf("off: %s", s)
	}
	l.at("+12 V", "800 ohm")
	f = l.at("F1", "0.1 ohm")
	if len(l.c.BeforePower(l.readings)) != 0 || f.Next.Point != "out" || f.Next.Injected == nil || f.Next.Injected.At != "in" {
		t.Fatalf("before power %q, then %s", l.c.BeforePower(l.readings), sentence(f.Next))
	}
	l.c.Power = reading.PowerOn
	f = l.at("out", "3.1 V", marked("in", "A"))
	// The good exit shows the signal before it as well; the bias and the other input are left.
	if standings(f) != "+12 V shown, F1 shown, out shown, mid shown, mid missing, out missing" || f.Next.Quantity != sheet.DC ||
		f.Next.Point != "mid" {
		t.Errorf("%s; next %s", standings(f), sentence(f.Next))
	}
	f = l.take(reading.Aim{Point: "mid", Quantity: sheet.DC}, "5.9 V")
	if f.State != Verifying || f.Next.Point != "out" || f.Next.Injected.At != "aux" ||
		!strings.Contains(fmt.Sprint(f.Next.Facts), "it worked before the repair") {
		t.Errorf("%s %s, next %s", f.State, standings(f), sentence(f.Next))
	}
	f = l.at("out", "ok", marked("aux", "B"))
	if f.State != Repaired || !strings.Contains(f.Headline, "what worked still works") || f.Next != nil {
		t.Errorf("%s: %s; %s", f.State, f.Headline, standings(f))
	}
	if r := f.Readings[4]; !r.Earlier || r.Round != 0 || r.Verdict != reading.Low && r.Verdict != reading.Absent {
		t.Errorf("what was read before: %+v", r)
	}
	dc := f.Readings[9]
	if dc.Earlier || dc.Was != "400 mV" || dc.Round != 1 {
		t.Errorf("beside what was: %q in round %d", dc.Was, dc.Round)
	}
}

// What is not right after the repair is traced on: what was shown good before and was not
// touched weighs a tenth, what was renewed a quarter, of what nothing is known of.
func TestTracingGoesOnAfterARepair(t *testing.T) {
	l := &logbook{t: t, c: open(t, sheettest.Chain(4, "0 dB"))}
	l.at("p1", "10 mV")
	l.at("p2", "none")
	f := l.repaired("s1")
	if f.Next == nil || f.Next.Point != "p4" {
		t.Fatalf("the exit is not first: %s", sentence(f.Next))
	}
	f = l.at("p4", "none")
	if f.State != Tracing {
		t.Fatalf("%s %s", f.State, f.Headline)
	}
	want := []float64{0.1, 0.25, 1, 1} // s0 was shown good, s1 renewed
	sum := 0.1 + 0.25 + 1 + 1
	for i, s := range f.Stages {
		if math.Abs(s.Weight-want[i]/sum) > 0.01 {
			t.Errorf("%s weighs %.3f, not %.3f", s.Name, s.Weight, want[i]/sum)
		}
	}
	if says := fmt.Sprint(f.Stages[0].Speaks); !strings.Contains(says, "shown good before the repair") {
		t.Error(says)
	}
	if says := fmt.Sprint(f.Stages[1].Speaks); !strings.Contains(says, "renewed in a repair") {
		t.Error(says)
	}
	// The second fault is found and repaired; then nothing is left.
	l.at("p2", "10 mV")
	if f = l.at("p3", "none"); f.Stage != "s2" {
		t.Errorf("%s: %s", f.State, f.Headline)
	}
	l.repaired("s2")
	if f = l.at("p4", "9.8 mV"); f.State != Repaired {
		t.Errorf("%s: %s; %s", f.State, f.Headline, standings(f))
	}
}

// What moved a fault that came and went has to move nothing any more; a bias that stays
// wrong is told, though the signal passes; what was not read at all is the complaint.
func TestWhatElseHasToBeShown(t *testing.T) {
	l := &logbook{t: t, c: open(t, shop())}
	l.c.Route, _ = l.c.Plan.Route("A|in|out")
	l.at("out", "cuts out")
	l.take(reading.Aim{Point: "power", Quantity: sheet.Provocation}, "tap comes")
	l.repaired("power")
	f := l.at("out", "ok")
	if f.State != Verifying || f.Next.Quantity != sheet.Provocation || f.Next.Point != "power" ||
		!strings.HasPrefix(sentence(f.Next), "Tap power again: nothing may change") {
		t.Fatalf("%s %s: %s", f.State, standings(f), sentence(f.Next))
	}
	if f = l.take(reading.Aim{Point: "power", Quantity: sheet.Provocation}, "cool nothing"); f.State != Verifying {
		t.Errorf("something else was done: %s", standings(f))
	}
	if f = l.take(reading.Aim{Point: "power", Quantity: sheet.Provocation}, "tap nothing"); f.State != Repaired {
		t.Errorf("%s: %s", f.State, standings(f))
	}

	l = &logbook{t: t, c: open(t, shop())}
	l.take(reading.Aim{Point: "mid", Quantity: sheet.DC}, "9 V")
	l.repaired("pre")
	f = l.take(reading.Aim{Point: "mid", Quantity: sheet.DC}, "8.8 V")
	if f.State != Verifying || !strings.HasPrefix(f.Headline, "Not right yet: mid reads 8.8 V") || f.Next == nil ||
		f.Next.Purpose != "again" {
		t.Errorf("%s: %s %v", f.State, f.Headline, f.Next)
	}
	if f = l.take(reading.Aim{Point: "mid", Quantity: sheet.DC}, "8.8 V"); f.Next != nil ||
		!strings.Contains(fmt.Sprint(f.Reasons), "look inside pre and power") {
		t.Errorf("read twice: %v %v", f.Next, f.Reasons)
	}

	l = &logbook{t: t, c: open(t, shop())}
	if f = l.repaired(); f.State != Verifying || f.Next.Point != "out" || !strings.Contains(f.Verify[0].Text, "What comes out at out") {
		t.Errorf("nothing was read before: %s %s", f.State, standings(f))
	}
	l.c.Waivers = []Waiver{{Stage: "", Key: f.Verify[0].Key, Reason: "goes back untried"}}
	if f = l.c.Find(l.readings); f.State != Repaired || f.Verify[0].Proof != Waived {
		t.Errorf("waived: %s %s", f.State, standings(f))
	}
}

// twice is a whole set with two faults in a row on one of its routes; the exit of that is dead.
func twice(t *testing.T, rng *rand.Rand, misread float64) (x *session, c Case, faults []string) {
	for {
		s := wholeSet(rng)
		plan, problems := s.Plan()
		if sheet.Blocked(problems) {
			t.Fatal(problems)
		}
		c = Case{Bench: reading.Bench{Plan: plan, Route: &plan.Routes[rng.IntN(len(plan.Routes))]}}
		if size := plan.Blocks(); size < 20 || size > 60 || plan.Points[c.Route.Points[0]].Source {
			continue
		}
		w := plan.Paths(c.Route.Mode, c.Route.Points[0], c.Route.Points[len(c.Route.Points)-1], nil)
		for _, k := range rng.Perm(plan.Blocks()) {
			if w.Every[k] && len(faults) < 2 {
				faults = append(faults, plan.BlockName(k))
			}
		}
		x = &session{t: t, rng: rng, s: s, misread: misread}
		x.log = append(
			x.log,
			reading.Reading{
				ID:       "mark",
				Point:    plan.Points[c.Route.Points[len(c.Route.Points)-1]].Name,
				Quantity: sheet.AC,
				Mode:     c.Route.Mode,
				Word:     quantity.Nothing,
				Injected: &reading.Injection{At: plan.Points[c.Route.Points[0]].Name},
			},
		)
		return x, c, faults
	}
}

// repaired begins the round after a block was repaired.
func (c *Case) repaired(block string) {
	c.Round++
	c.Repairs = append(c.Repairs, Renewed{c.Round, []string{block}})
}

// Whole sets with one fault behind the other: the proposals find the first, after its repair
// the second, and call the set repaired once neither is left, never before.
func TestASecondFaultIsFoundAfterTheFirst(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(7, 12))
	seeds := trial.Runs(300)
	readings := 0
	for n := range seeds {
		x, c, faults := twice(t, rng, 0)
		for i, fault := range append(slices.Clone(faults), "") {
			x.fault = fault
			before := len(x.log)
			got, _ := x.trace(c)
			readings += len(x.log) - before
			if got != fault {
				f := c.Find(x.log)
				t.Fatalf(
					"set %d, round %d: fault %q, found %q: %s %s; %s; next %+v\ngrounds %+v\nlog %+v",
					n,
					i,
					fault,
					got,
					f.State,
					f.Headline,
					standings(f),
					f.Next,
					f.Grounds,
					x.log,
				)
			}
			c.repaired(got)
		}
	}
	t.Logf("%d sets with two faults: all found and shown repaired, %.1f readings each", seeds, float64(readings)/float64(seeds))
}

// The same where one reading in twenty is taken down wrongly: a block may be repaired in vain, and
// the next round goes on. Hardly any set is called repaired with a fault in it.
func TestTwoFaultsWithMisreadings(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(7, 13))
	seeds := trial.Runs(300)
	home, vain, early, readings := 0, 0, 0, 0
	for range seeds {
		x, c, faults := twice(t, rng, misread)
		for range 6 {
			x.fault = ""
			if len(faults) > 0 {
				x.fault = faults[0]
			}
			got, _ := x.trace(c)
			if got == "" {
				break
			}
			if got == x.fault {
				faults = faults[1:]
			} else {
				vain++
			}
			c.repaired(got)
		}
		readings += len(x.log)
		if f := c.Find(x.log); f.State == Repaired && len(faults) == 0 {
			home++
		} else if f.State == Repaired {
			early++
		}
	}
	t.Logf(
		"%d of %d sets with two faults and one reading in twenty wrong shown repaired, %d with a fault left; %d repairs in vain; %.1f "+
			"readings each",
		home,
		seeds,
		early,
		vain,
		float64(readings)/float64(seeds),
	)
	if home < seeds*9/10 || early > seeds/20 {
		t.Errorf("too few, or too many with a fault left")
	}
}
