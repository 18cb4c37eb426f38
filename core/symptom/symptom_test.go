package symptom_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"steptrace/core/mend"
	"steptrace/core/pattern"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/symptom"
	"steptrace/core/trace"
)

func TestTheTableIsWhole(t *testing.T) {
	seen := map[string]bool{}
	count := map[symptom.Sense]int{}
	for _, s := range symptom.All {
		if seen[s.Key] || s.Name == "" || !slices.Contains(symptom.Senses, s.Sense) {
			t.Errorf("%+v", s)
		}
		seen[s.Key] = true
		count[s.Sense]++
	}
	if count[symptom.Seen] < 20 || count[symptom.Heard] < 12 || count[symptom.Lit] < 3 {
		t.Error(count)
	}
	for sense, n := range count {
		if n > 26 {
			t.Errorf("%d of %s, and the alphabet ends", n, sense)
		}
	}
}

// What the trade says first of a symptom in such a set, written down without the table: one of these blocks
// is the likeliest of all.
func TestTheUsualBlockComesFirst(t *testing.T) {
	for _, x := range []struct{ pattern, key, first string }{
		{"transistor colour television", "line flat", "field output stage, field oscillator, +26 V"},
		{"transistor colour television", "dark", "line output stage, line oscillator and driver, EHT, B+, screen, heaters"},
		{"transistor colour television", "tearing", "line oscillator and driver, sync separator"},
		{"transistor colour television", "several", "line oscillator and driver"},
		{"transistor colour television", "no red", "red video output, red gun"},
		{"transistor colour television", "no colour", "video and colour decoder"},
		{"transistor colour television", "snow", "tuner, IF amplifier and detector, AGC"},
		{"transistor colour television", "two bars", "B+, +12 V, +200 V, +26 V"},
		{"transistor colour television", "small", "field output stage, +26 V, line output stage"},
		{"tube television", "line flat", "field oscillator and output tube"},
		{"tube television", "snow", "tuner, IF amplifier and detector, AGC"},
		{"tube television", "lit", "video output tube, IF amplifier and detector, tuner, input switch, aerial"},
		{"projection television", "register", "convergence generator and amplifiers"},
		{"flat television", "bands", "panel and its bonds, panel cable and connectors, timing board"},
		{"flat television", "dark", "backlight driver, LED strips"},
		{"flat television", "frozen", "main processor and its memory, main clock oscillator"},
		{"set-top box", "blocks", "tuner, demodulator"},
		{"stereo amplifier", "click", "left relay contact, right relay contact"},
		{"table radio, AM", "hum high", "rails"},
		{"tube radio", "crackle control", "volume"},
		{"power amplifier", "protection", "output"},
	} {
		i := slices.IndexFunc(pattern.All(), func(p *pattern.Pattern) bool { return p.Name == x.pattern })
		if i < 0 {
			t.Fatalf("no pattern %s", x.pattern)
		}
		s, err := pattern.All()[i].Sheet(nil)
		if err != nil {
			t.Fatal(err)
		}
		plan, _ := s.Plan()
		c := trace.Case{Bench: reading.Bench{Plan: plan, Route: reading.FirstRoute(plan)}, Noticed: []symptom.Noticed{{Key: x.key}}}
		c.Route = c.Likeliest(nil)
		f := c.Find(nil)
		best, of := "", 0.0
		for _, st := range f.Stages {
			if st.Weight > of {
				best, of = st.Name, st.Weight
			}
		}
		for i, l := range slices.Concat(f.Rails, f.Controls) {
			if l.Weight > of {
				best, of = l.Name, l.Weight
				if i < len(f.Rails) && x.first == "rails" {
					best = "rails"
				}
			}
		}
		if best == "" || !strings.Contains(x.first, best) && !strings.Contains(best, x.first) {
			t.Errorf("%s, %s: %s (%.2f), want one of %s", x.pattern, x.key, best, of, x.first)
		}
	}
}

// Two blocks, one that a symptom points at: the odds by Bayes' rule, worked out by hand.
func TestOddsByHand(t *testing.T) {
	s := sheet.Sheet{
		Model:  "X",
		Points: []sheet.Point{{Name: "a", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}}, {Name: "b"}, {Name: "c"}},
		Stages: []sheet.Stage{
			{Name: "convergence board", From: "a", To: "b", Kind: "amplifier"},
			{Name: "other", From: "b", To: "c", Kind: "amplifier"},
		},
	}
	plan, _ := s.Plan()
	c := trace.Case{Bench: reading.Bench{Plan: plan, Route: reading.FirstRoute(plan)}}
	weights := func() (float64, float64) {
		f := c.Find(nil)
		return f.Stages[0].Weight, f.Stages[1].Weight
	}
	if a, b := weights(); math.Abs(a/b-1) > 1e-9 {
		t.Fatalf("alike before: %v %v", a, b)
	}
	c.Noticed = []symptom.Noticed{{Key: "register"}} // 0.85 of any fault there, 0.02 of any elsewhere
	if a, b := weights(); math.Abs(a/b-0.85/0.02) > 1e-6 {
		t.Errorf("odds %v, want %v", a/b, 0.85/0.02)
	}
	f := c.Find(nil)
	if len(f.Stages[0].Speaks) == 0 || f.Stages[0].Speaks[0].Text != "colours not in register" || !f.Stages[0].Speaks[0].For {
		t.Errorf("%+v", f.Stages[0].Speaks)
	}
	// It points at nothing here: nothing changes.
	c.Noticed = []symptom.Noticed{{Key: "line flat"}}
	if a, b := weights(); math.Abs(a/b-1) > 1e-9 {
		t.Errorf("of a set without field deflection: %v %v", a, b)
	}
}

// A supply that one stage alone hangs on is meant by what that stage does; one of many much less.
func TestASharedSupplyIsMeantLess(t *testing.T) {
	s := sheet.Sheet{
		Model: "X",
		Points: []sheet.Point{
			{Name: "a", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}},
			{Name: "b"},
			{Name: "c"},
			{Name: "d"},
		},
		Stages: []sheet.Stage{
			{Name: "field output", From: "a", To: "b", Rails: []string{"+26 V", "+12 V"}},
			{Name: "x", From: "b", To: "c", Rails: []string{"+12 V"}},
			{Name: "y", From: "c", To: "d", Rails: []string{"+12 V"}},
		},
		Rails: []sheet.Rail{{Name: "+26 V", Value: "26 V"}, {Name: "+12 V", Value: "12 V"}},
	}
	plan, _ := s.Plan()
	got := map[string]float64{}
	for _, p := range (symptom.Noticed{Key: "line flat"}).PointsAt(plan) {
		got[p.Block] = p.Share
	}
	if got["field output"] != 0.85 || got["+26 V"] != 0.7 || math.Abs(got["+12 V"]-0.7/3) > 1e-12 || got["x"] != 0 {
		t.Error(got)
	}
}

func TestCircumstances(t *testing.T) {
	s := sheet.Sheet{
		Model:  "X",
		Points: []sheet.Point{{Name: "a", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}}, {Name: "b"}, {Name: "c"}},
		Stages: []sheet.Stage{{Name: "P", From: "a", To: "b", Kind: "control"}, {Name: "J", From: "b", To: "c", Kind: "joint"}},
	}
	plan, _ := s.Plan()
	for _, x := range []struct {
		key   string
		when  symptom.When
		first int
	}{{"crackle control", symptom.Turned, 0}, {"crackle", symptom.Knock, 1}} {
		rows := symptom.Noticed{Key: x.key, When: []symptom.When{x.when}}.Likely(plan)
		if a, b := slices.Max(rows[x.first][:]), slices.Max(rows[1-x.first][:]); a <= b {
			t.Errorf("%s: %v and %v", x.when, rows[0], rows[1])
		}
	}
}

func TestWhatIsNotedIsChecked(t *testing.T) {
	for says, n := range map[string]symptom.Noticed{
		"nothing that is noticed": {Key: "smoke signals"},
		"no count":                {Key: "blinks", Count: 100},
		"only lamps":              {Key: "hiss", Count: 3},
		"no circumstance":         {Key: "hiss", When: []symptom.When{"Tuesdays"}},
		"twice":                   {Key: "hiss", When: []symptom.When{symptom.Warm, symptom.Warm}},
	} {
		e := symptom.Entry{ID: "1", Noticed: n}
		if err := e.Check(); !mend.Is(err) || !strings.Contains(err.Error(), says) {
			t.Errorf("%+v: %v", n, err)
		}
	}
	e := symptom.Entry{ID: "1", Noticed: symptom.Noticed{Key: "blinks", Count: 3, When: []symptom.When{symptom.Cold}}}
	if err := e.Check(); err != nil || e.Says() != "a lamp blinks 3 times, while cold" {
		t.Error(err, e.Says())
	}
}
